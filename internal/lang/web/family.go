package web

import (
	"crookedshelf/internal/lang"
)

// Family is JavaScript, TypeScript and their JSX forms.
func Family() lang.Family {
	return lang.Family{
		Name:  "JavaScript and TypeScript",
		Reads: func(p string) bool { _, known := DialectOf(p); return known },
		Scan: func(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
			d, _ := DialectOf(p)
			if declared.WantsOutlines() && declared.Certain && skips(p, declared) {
				return scanAsked(p, content, d, declared), nil
			}
			return ScanText(p, content, d, declared), nil
		},
	}
}
