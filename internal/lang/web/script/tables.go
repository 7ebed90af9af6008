package script

import (
	"strings"

	"crookedshelf/internal/manifest"
)

// AliasKeys are the places in a bundler's or test runner's settings where aliases are defined.
var AliasKeys = [][]string{
	{"resolve", "alias"}, {"vite", "resolve", "alias"}, {"alias"}, {"kit", "alias"}, {"test", "alias"},
	{"moduleNameMapper"}, {"jest", "moduleNameMapper"},
	{"turbopack", "resolveAlias"}, {"webpack", "resolve", "alias"},
}

// AliasDefinition is the value that defines one alias in settings.
type AliasDefinition struct {
	Pattern string // @ or @/*
	Value   *manifest.Value
}

// AliasDefinitions finds the aliases in the settings that a file holds. An object gives each alias under its name, a
// list has find and replacement; a name mapper's key is a regular expression, of which ^x/(.*)$ is understood.
func AliasDefinitions(root *manifest.Value) []AliasDefinition {
	var out []AliasDefinition
	for _, key := range AliasKeys {
		table := root.At(key...)
		if table == nil {
			continue
		}
		mapper := key[len(key)-1] == "moduleNameMapper"
		for _, m := range table.Members {
			pattern := m.Key
			if mapper {
				var ok bool
				if pattern, ok = mapped(m.Key); !ok {
					continue
				}
			}
			value := m.Value
			if value.Kind == manifest.List && len(value.Items) > 0 {
				value = value.Items[0]
			}
			out = append(out, AliasDefinition{pattern, value})
		}
		for _, item := range table.Items {
			if find, to := foundBy(item.Get("find")), item.Get("replacement"); find != "" && to != nil {
				out = append(out, AliasDefinition{find, to})
			}
		}
	}
	for _, table := range resolverPlugin(root) {
		for _, m := range table.Members {
			pattern, ok := mapped(m.Key)
			if !ok {
				pattern = m.Key
			}
			out = append(out, AliasDefinition{pattern, m.Value})
		}
	}
	return out
}

// mapped reads ^@/(.*)$ as @/*, and ^@$ as @.
func mapped(expression string) (string, bool) {
	inner, ok := strings.CutPrefix(expression, "^")
	if !ok {
		return "", false
	}
	inner = strings.TrimSuffix(inner, "$")
	inner, starred := strings.CutSuffix(inner, "(.*)")
	inner = strings.ReplaceAll(inner, `\/`, "/")
	if strings.ContainsAny(inner, `\.[](){}+*?|^$`) {
		return "", false
	}
	if starred {
		inner += "*"
	}
	return inner, inner != ""
}
