package script

import (
	"bytes"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file finds the definitions of aliases that stand in calls and functions of settings written as code.

// pathHelper is a function of settings that makes a path of its argument: resolve('src'). Up is how many folders above
// the file the path begins; work: it begins in the folder where the program is started.
type pathHelper struct {
	up   int
	work bool
}

// A helper is declared as a function, or as a constant that holds one: its argument comes last in path.join or
// path.resolve, behind the script's own folder and steps up.
var (
	helperBody = `(?:path\.)?(?:posix\.)?(?:join|resolve)` +
		`\(\s*(__dirname|process\.cwd\(\)|import\.meta\.dirname|rootDir|root)\s*,` +
		`((?:\s*['"][./]*['"]\s*,)*)\s*(\w+)\s*\)`
	helperFunction = regexp.MustCompile(`function\s+(\w+)\s*\(\s*(\w+)[^)]*\)[^{;]*\{\s*return\s+` + helperBody)
	helperConstant = regexp.MustCompile(`(?:const|let|var)\s+(\w+)\s*=\s*(?:function\s*)?` +
		`\(?\s*(\w+)[^)=]*\)?\s*(?::\s*string\s*)?(?:=>)?\s*(?:\{\s*return\s+)?` + helperBody)
)

// pathHelpers finds the helpers of a file.
func pathHelpers(src []byte) map[string]pathHelper {
	if !bytes.Contains(src, []byte("join(")) && !bytes.Contains(src, []byte("resolve(")) {
		return nil
	}
	out := map[string]pathHelper{}
	for _, form := range []*regexp.Regexp{helperFunction, helperConstant} {
		for _, m := range form.FindAllSubmatch(src, -1) {
			if string(m[2]) != string(m[5]) { // the argument is what is put behind
				continue
			}
			h := pathHelper{work: string(m[3]) == "process.cwd()", up: strings.Count(string(m[4]), "..")}
			out[string(m[1])] = h
		}
	}
	return out
}

// helped records the argument of a helper's call.
func (s *scanner) helped(name []byte, end int) {
	h, is := s.helpers[string(name)]
	open := s.skipTrivia(end)
	if !is || s.prev == pFunction || s.prev == pDot || s.at(open) != '(' {
		return
	}
	i := s.skipTrivia(open + 1)
	span, after, ok := s.literal(i)
	if !ok || s.at(s.skipTrivia(after)) != ')' || s.taken(i) {
		return
	}
	m := lang.Mention{Span: span, Text: text.DecodeScript(s.src[span.Start:span.End]), Kind: paths.FilePath,
		Form: lang.InScript, Quote: s.src[i]}
	if h.work {
		m.Kind = paths.WorkPath
	}
	if h.up > 0 {
		m.Detail = &lang.Detail{Own: paths.Detail{Up: h.up}}
	}
	if strings.HasPrefix(m.Text, "/") || m.Text == "" || strings.ContainsAny(m.Text, "*\n") {
		return
	}
	s.mentions = append(s.mentions, m)
}

// setCall is a call by which an alias is added to a chain of settings.
var setCall = regexp.MustCompile(`\.set\(\s*['"]([^'"\n]+)['"]\s*,\s*`)

// SetAliases finds the aliases that are added to a chain: config.resolve.alias.set('@', …).
func SetAliases(src []byte) []AliasDefinition {
	var out []AliasDefinition
	for _, m := range setCall.FindAllSubmatchIndex(src, -1) {
		before := src[max(0, m[0]-2000):m[0]]
		at := bytes.LastIndex(before, []byte(".alias"))
		if at < 0 || bytes.ContainsAny(before[at:], ";") {
			continue
		}
		r := objectReader{scanner: scanner{
			input:    input{src: src, dialect: TypeScript},
			position: position{budget: 4*len(src) + 1<<16},
		}}
		end := r.skip(m[1], ",)")
		out = append(out, AliasDefinition{string(src[m[2]:m[3]]), &manifest.Value{Text: string(src[m[1]:end]),
			Span: source.Span{Start: m[1], End: end}}})
	}
	return out
}

// resolverPlugin is a plugin of a compiler's settings that defines aliases: [name, { alias: { … } }].
func resolverPlugin(root *manifest.Value) []*manifest.Value {
	var out []*manifest.Value
	for _, key := range [][]string{{"plugins"}, {"babel", "plugins"}} {
		plugins := root.At(key...)
		if plugins == nil {
			continue
		}
		for _, item := range plugins.Items {
			if item.Kind != manifest.List || len(item.Items) < 2 {
				continue
			}
			switch item.Items[0].Text {
			case "module-resolver", "babel-plugin-module-resolver":
				if table := item.Items[1].Get("alias"); table != nil {
					out = append(out, table)
				}
			}
		}
	}
	return out
}

// foundBy reads what a list of aliases looks for: a text, or a regular expression such as /^@\//.
func foundBy(v *manifest.Value) string {
	if v == nil || v.Kind == manifest.String {
		return v.String()
	}
	text, ok := strings.CutPrefix(v.Text, "/")
	if end := strings.LastIndexByte(text, '/'); ok && end > 0 {
		if pattern, ok := mapped(text[:end]); ok {
			return pattern
		}
	}
	return ""
}
