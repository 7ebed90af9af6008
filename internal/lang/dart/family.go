// Package dart is Dart: which files a library is made of, and by which addresses others know it.
//
// lex.go cuts a text into tokens, scan.go finds directives, addresses and declarations. packages.go knows the packages
// of a tree, resolve.go says where an address leads and writes it anew, moves.go says what the language forbids.
package dart

import (
	"bytes"
	"fmt"
	"path"
	"strings"

	"crookedshelf/internal/lang"
)

func isDart(p string) bool { return path.Ext(p) == ".dart" }

// Family is Dart.
func Family() lang.Family {
	return lang.Family{
		Name: "Dart", Reads: isDart, Scan: scan, Declares: true, InText: inText, Fixed: fixed, Owner: owner,
		Rules: func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		Facts: lang.Facts{
			Called: map[string]string{".dart": "Dart"}, Sources: []string{".dart"}, Programs: []string{".dart"},
			Manifest: manifestName, Tests: lang.Marks{Stems: []string{"_test"}}, Shown: map[string]string{"dart": ".dart"},
			Mirror: [2]string{"lib/", "test/"},
		},
		Reexports: &lang.Reexports{Specifier: specifier, Line: entryLine, Gives: gives, Endings: true},
	}
}

// fixed says what the name of a file means to the tools, where that binds it to its place.
func fixed(p string) lang.Fixture {
	if path.Base(p) == "analysis_options.yaml" {
		return lang.Fixture{Why: "says how the files below its folder are looked at"}
	}
	return lang.Fixture{}
}

// made are the ends of names of files that programs write for the file beside them.
var made = []string{".g.dart", ".freezed.dart", ".gr.dart", ".config.dart", ".mocks.dart", ".gen.dart", ".reflectable.dart"}

// owner gives the file for which a program has written another.
func owner(p string, there func(path string) bool) string {
	for _, end := range made {
		if stem, is := strings.CutSuffix(p, end); is && there(stem+".dart") {
			return stem + ".dart"
		}
	}
	return ""
}

// inText says which places of a file lie in strings or comments.
func inText(content []byte) func(at int) bool {
	tokens, err := lex(content, nil)
	if err != nil {
		return lang.BehindQuote(content)
	}
	return lang.InText(len(tokens), func(i int) (start, end int32, text bool) {
		return tokens[i].start, tokens[i].end, tokens[i].kind == tString
	})
}

// specifier writes the address of a file as it is exported from a folder.
func specifier(dir, to string, _ bool) string {
	return strings.TrimPrefix(lang.Relative(dir, to), "./")
}

// entryLine writes the export of a file.
func entryLine(out *bytes.Buffer, line lang.EntryLine) {
	if line.All {
		fmt.Fprintf(out, "export '%s';\n", line.Specifier)
	} else if len(line.Names) > 0 {
		fmt.Fprintf(out, "export '%s' show %s;\n", line.Specifier, strings.Join(line.Names, ", "))
	}
}

// gives says whether a text exports a name from an address.
func gives(content []byte, specifier, name string) bool {
	found, _ := scan(lang.Source{Content: content, Imports: true})
	for i := range found.Mentions {
		m := &found.Mentions[i]
		if m.Kind != Export || m.Text != specifier {
			continue
		}
		names := lang.Own[*own](m).names
		if len(names) == 0 {
			return true
		}
		for _, one := range names {
			if one == name {
				return true
			}
		}
	}
	return false
}
