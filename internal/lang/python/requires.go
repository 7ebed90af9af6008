package python

import (
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
)

// manifestName is the file in which a distribution says what it is and needs.
const manifestName = "pyproject.toml"

// requirement is a dependency as it is written in manifests: a name, perhaps extras, and a range of versions before its
// conditions (packaging.python.org/en/latest/specifications/dependency-specifiers).
var requirement = regexp.MustCompile(`^\s*([A-Za-z0-9][\w.-]*)\s*(?:\[[^\]]*\])?\s*\(?([^;#)]*)`)

// requires reads what a manifest asks for: pyproject.toml by its own tables and by those of poetry, and files called
// requirements.
func requires(name string) func([]byte, *lang.Required) {
	switch {
	case name == manifestName:
		return func(content []byte, out *lang.Required) {
			if root, err := manifest.ParseTOML(content); err == nil {
				requiredBy(out, root)
			}
		}
	case strings.HasPrefix(name, "requirements") && strings.HasSuffix(name, ".txt"):
		return func(content []byte, out *lang.Required) {
			for line := range strings.Lines(string(content)) {
				require(out, line)
			}
		}
	}
	return nil
}

// requiredBy reads the tables of a pyproject.toml.
func requiredBy(out *lang.Required, root *manifest.Value) {
	if version := root.At("project", "requires-python").String(); version != "" {
		out.Languages["python"] = version
	}
	for _, keys := range [][]string{
		{"project", "dependencies"}, {"project", "optional-dependencies"}, {"dependency-groups"},
	} {
		root.At(keys...).Strings(func(v *manifest.Value) { require(out, v.Text) })
	}
	poetry := root.At("tool", "poetry")
	tables := []*manifest.Value{poetry.Get("dependencies"), poetry.Get("dev-dependencies")}
	if groups := poetry.Get("group"); groups != nil {
		for _, m := range groups.Members {
			tables = append(tables, m.Value.Get("dependencies"))
		}
	}
	for _, table := range tables {
		if table == nil {
			continue
		}
		for _, m := range table.Members {
			version := m.Value.String()
			if version == "" {
				version = m.Value.Get("version").String()
			}
			if m.Key == "python" {
				out.Languages["python"] = version
				continue
			}
			out.Packages[normal(m.Key)] = version
		}
	}
}

// require adds one dependency.
func require(out *lang.Required, text string) {
	if m := requirement.FindStringSubmatch(text); m != nil {
		out.Packages[normal(m[1])] = strings.TrimSpace(m[2])
	}
}

// normal is the name of a distribution in its normal form.
func normal(name string) string {
	return strings.ToLower(strings.NewReplacer("_", "-", ".", "-").Replace(name))
}
