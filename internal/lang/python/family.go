// Package python is Python and its notebooks: syntax reads them, and resolve says where their imports lead.
package python

import (
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/resolve"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/lang/python/workspace"
)

// Family is Python.
func Family() lang.Family {
	return lang.Family{
		Name:   "Python",
		InText: syntax.InText, States: true, Declares: true, Requires: requires,
		Reads: func(p string) bool { return strings.HasSuffix(p, ".py") || strings.HasSuffix(p, ".pyi") },
		Scan: func(s lang.Source) (lang.Scanned, error) {
			if s.Imports {
				return lang.Scanned{Mentions: syntax.Scan(s.Content)}, nil
			}
			return syntax.File(s.Path, s.Content, s.Declared)
		},
		Index: func(_ string, content []byte) (any, error) { return syntax.IndexOf(content), nil },
		Rules: rules,
		Fixed: fixed, Owner: stubbed, Facts: facts,
		Reexports: &lang.Reexports{Specifier: Specifier, Line: EntryLine, Gives: EntryGives},
	}
}

func rules(t *lang.Tree) lang.Rules {
	r := resolve.Rules(t)
	r.Part, r.Packages, r.Unnamed = workspace.Part(t), workspace.Packages(t), true
	return r
}

// Notebooks are the family of notebooks: JSON whose cells hold code
// (nbformat.readthedocs.io/en/latest/format_description.html).
func Notebooks() lang.Family {
	return lang.Family{Name: "notebook", Reads: syntax.IsNotebook, Scan: func(s lang.Source) (lang.Scanned,
		error) {
		return syntax.ScanNotebook(s.Content)
	}, Facts: lang.Facts{Prose: []string{".ipynb"}}}
}
