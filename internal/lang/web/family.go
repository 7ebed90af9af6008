// Package web is JavaScript, TypeScript and their JSX forms: script reads them, config their settings, and resolve says
// where imports lead.
package web

import (
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/resolve"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/lang/web/workspace"
)

// Family is JavaScript, TypeScript and their JSX forms.
func Family() lang.Family {
	return lang.Family{
		Name:   "JavaScript and TypeScript",
		InText: lang.BehindQuote,
		Omits:  true, States: true, Declares: true,
		Facts: facts, ProjectName: projectName, Requires: requires,
		Reexports: &lang.Reexports{Specifier: Specifier, Line: EntryLine, Gives: EntryGives, Endings: true},
		Reads:     func(p string) bool { _, known := script.DialectOf(p); return known },
		Scan:      script.File,
		Owner:     described,
		Index:     resolve.IndexOf,
		Rules:     rules,
	}
}

func rules(t *lang.Tree) lang.Rules {
	r := resolve.Rules(t)
	r.Part = workspace.Part(t, r.Resolver.(workspace.Settings))
	return r
}
