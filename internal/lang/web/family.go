package web

import (
	"crookedshelf/internal/lang"
)

// Family is JavaScript, TypeScript and their JSX forms.
func Family() lang.Family {
	return lang.Family{
		Name:   "JavaScript and TypeScript",
		InText: lang.BehindQuote,
		Omits:  true,
		Facts:  facts, ProjectName: projectName, Requires: requires,
		Reexports: &lang.Reexports{Specifier: Specifier, Line: EntryLine, Gives: EntryGives, Endings: true},
		Reads:     func(p string) bool { _, known := DialectOf(p); return known },
		Scan: func(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
			d, _ := DialectOf(p)
			if declared.WantsOutlines() && declared.Certain && skips(p, declared) {
				if kinds := declared.Asked(p); kinds&^told == 0 {
					return scanAsked(p, content, d, declared, kinds), nil
				}
			}
			return ScanText(p, content, d, declared), nil
		},
		Owner: described,
		Index: func(content []byte) (any, error) { return ambientIn(content), nil },
		Rules: func(t *lang.Tree) lang.Rules { return newResolver(t).Rules() },
	}
}
