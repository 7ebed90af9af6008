// Package finding says what check can report: the rules as data, and what one finding is.
package finding

import (
	"cmp"
	"slices"
)

// Rule is one thing that a project can be reported for. Reports and docs are made from it.
type Rule struct {
	ID     string `json:"id"`
	Title  string `json:"title"` // one line
	Why    string `json:"why"`
	Before string `json:"before"` // an example
	After  string `json:"after"`  // the same, set right
	Fix    string `json:"fix"`
}

// The ids of the rules.
const (
	Misplaced   = "misplaced"
	Homeless    = "homeless"
	Misspelled  = "misspelled"
	Missing     = "missing"
	Unlisted    = "unlisted"
	Overreach   = "overreach"
	Backdoor    = "backdoor"
	Loop        = "loop"
	Dangling    = "dangling"
	Mislabelled = "mislabelled"
	Leftover    = "leftover"
	Stranded    = "stranded"
	Exposed     = "exposed"
	Thick       = "thick"
	Discarded   = "discarded"
	Unseen      = "unseen"
	Outdated    = "outdated"
	Spare       = "spare"
	Borrowed    = "borrowed"
)

// Level says how grave a finding is.
type Level string

// The levels. A warning does not fail a check.
const (
	Error Level = "error"
	Warn  Level = "warn"
	Off   Level = "off"
)

// Usual is the level of a rule of which the convention says nothing. Time alone never fails a check, nor does what no
// layout causes; and hardly a grown project is without a loop, so it is the convention that makes one an error.
func Usual(rule string) Level {
	switch rule {
	case Outdated, Dangling, Mislabelled, Loop, Leftover, Unseen, Stranded, Spare, Borrowed:
		return Warn
	}
	return Error
}

// Rules are all rules, in the order in which reports list them.
func Rules() []Rule {
	return []Rule{
		{
			ID: Misplaced, Title: "stands elsewhere than the convention wants it",
			Why: "An entry of a shelf takes the file, and the file does not stand on that shelf.",
			Before: "shelves: { panels: { at: src/panels/<panel|kebab>/, takes: [{ name: <panel>Panel.tsx }] } }\n" +
				"src/components/SkyPanel.tsx",
			After: "src/panels/sky/SkyPanel.tsx",
			Fix:   "crooked plan shows the move and what it rewrites; crooked straighten makes it.",
		},
		{
			ID: Homeless, Title: "no shelf takes it",
			Why:    "The file lies where the convention speaks, and no entry of any shelf takes it.",
			Before: "shelves: { parts: src/parts/, styles: src/styles/ }\nsrc/odd.ts",
			After:  "src/parts/odd.ts, or leave: { stay: [src/*] }",
			Fix:    "Move it by hand, give a shelf an entry that takes it, or list it under leave.",
		},
		{
			ID: Misspelled, Title: "is not named as its shelf wants it",
			Why: "The shelf on which the file belongs says how its files and folders are named: in which case, " +
				"like which patterns, or after what they declare.",
			Before: "shelves: { parts: { at: src/parts/, names: { files: kebab } } }\nsrc/parts/StarChart.tsx",
			After:  "src/parts/star-chart.tsx",
			Fix: "crooked plan --rename shows the new name and what it rewrites; crooked straighten --rename gives " +
				"it.",
		},
		{
			ID: Missing, Title: "lacks a companion or a file that must be there",
			Why: "The shelf says that each of its files has this companion beside it, or that each of its " +
				"instances has this file.",
			Before: "shelves: { parts: { at: src/parts/, beside: { must: [<name>.test.tsx] } } }\nsrc/parts/Card.tsx",
			After:  "src/parts/Card.tsx\nsrc/parts/Card.test.tsx",
			Fix:    "Write the file, or bring it there. crooked straighten writes what has a write: under must.",
		},
		{
			ID: Unlisted, Title: "a list of settings that lacks an instance, or has one that is gone",
			Why: "The shelf says that each of its instances stands in this list, as in that of a workspace's packages.",
			Before: "shelves: { libs: { at: libs/<lib>/, listed: { in: package.json, key: workspaces } } }\n" +
				"libs/stars/index.ts\npackage.json: { \"workspaces\": [\"libs/nights\"] }",
			After: "package.json: { \"workspaces\": [\"libs/stars\"] }",
			Fix:   "crooked straighten puts in what is missing, and takes out what is gone.",
		},
		{
			ID: Overreach, Title: "uses what its shelf may not use",
			Why: "The shelf on which the file belongs says which shelves and libraries it may use, or that its " +
				"instances are apart.",
			Before: "shelves: { services: { at: src/services/, uses: [types] } }\n" +
				"src/services/nightService.ts: import { Card } from '../parts/Card'",
			After: "what services needs of Card stands on types, or services has uses: [types, parts]",
			Fix:   "Take the reference out, move what both need to a shelf that both may use, or let the shelf use it.",
		},
		{
			ID: Backdoor, Title: "imports past the door of an instance",
			Why: "The shelf names one file of each instance that alone may be imported from outside, and this " +
				"import leads to another.",
			Before: "shelves: { modules: { at: src/modules/<module>/, door: index.ts } }\n" +
				"src/App.tsx: import { NightList } from './modules/nights/parts/NightList'",
			After: "src/App.tsx: import { NightList } from './modules/nights'",
			Fix: "crooked straighten spells the import through the door where the door re-exports every name that " +
				"it brings; else re-export the name there.",
		},
		{
			ID: Loop, Title: "instances use one another in a circle",
			Why: "One instance uses another that, directly or by way of others, uses it: neither can be read, " +
				"moved or taken out alone.",
			Before: "src/services/nightService.ts: import { Card } from '../parts/Card'\n" +
				"src/parts/Card.tsx: import { nights } from '../services/nightService'",
			After: "Card gets its nights from whoever draws it, and parts use no services",
			Fix:   "Take one of the references out, or move what both need to a third place.",
		},
		{
			ID: Dangling, Title: "refers to what is not there",
			Why: "A reference that the language or format defines leads to no file of the project, and to none " +
				"that git ignores.",
			Before: "Dockerfile: COPY serve ./serve, and the folder is called server",
			After:  "Dockerfile: COPY server ./server",
			Fix:    "Write the missing file, or mend the reference.",
		},
		{
			ID: Mislabelled, Title: "says of itself that it is elsewhere",
			Why:    "The file declares the module, namespace or package that it is, and that does not fit its path.",
			Before: "src/forms/checks.ts: /** @module helpers/checks */",
			After:  "src/forms/checks.ts: /** @module forms/checks */",
			Fix:    "Set the name right. When crooked straighten moves a file whose name fits, the name follows.",
		},
		{
			ID: Leftover, Title: "still names what a straighten moved",
			Why: "When a straighten was done, this text still had the old name of something that it moved, and the " +
				"line is still as it was. It is reported as long as the record of the straighten is kept.",
			Before: "README.md: Pages stand in src/screens, which a straighten moved to src/pages",
			After:  "README.md: Pages stand in src/pages",
			Fix:    "Set the text right by hand, or forget the straighten: crooked undo --forget.",
		},
		{
			ID: Thick, Title: "is an entry file, and does more than load others",
			Why:    "The convention says that this file is thin: it declares nothing itself.",
			Before: "thin: [src/main.ts]\nsrc/main.ts: function start() { ... }",
			After:  "src/main.ts: import { start } from './app/start'; start()",
			Fix:    "Move what it declares into a file of its own.",
		},
		{
			ID: Exposed, Title: "is private, and git does not ignore it",
			Why:    "The convention says that git must not see this file: it holds what is no business of others.",
			Before: "private: [{ file: .env, example: .env.example }]\n.env, which no .gitignore names",
			After:  ".gitignore: .env",
			Fix: "Add it to .gitignore. If it was committed, take it out of git and change the secrets that it holds: " +
				"they are in its history.",
		},
		{
			ID: Discarded, Title: "is not wanted any more",
			Why:    "The convention says that this file is to go, and why.",
			Before: "discard: [{ file: src/calendar/**, because: the new calendar does all }]\nsrc/calendar/month.ts",
			After:  "src/calendar/ is gone",
			Fix: "crooked straighten removes it, once nothing that stays needs it; crooked why says who does. " +
				"crooked undo brings it back.",
		},
		{
			ID: Stranded, Title: "tests a file that stands elsewhere",
			Why: "The test stands where tests of a shelf stand, beside what they test or in a tree that mirrors it. " +
				"Nothing of the name is there, and a file of the name is elsewhere.",
			Before: "shelves: { parts: { at: src/parts/, beside: { may: [<name>.test.ts] } } }\n" +
				"src/parts/sky.test.ts\nsrc/pages/sky.ts",
			After: "src/pages/sky.ts\nsrc/pages/sky.test.ts",
			Fix:   "Bring the test to what it tests, or give it another name.",
		},
		{
			ID: Unseen, Title: "is not read, and a rule asks for what it holds",
			Why: "The shelf has rules on what its files use or declare, and no language that is read has files of " +
				"this kind. They are judged by their names and places; what they use is not known.",
			Before: "shelves: { jobs: { at: jobs/, uses: [parts] } }\njobs/nightly.awk",
			After:  "levels: { unseen: off }, once somebody has looked at them",
			Fix:    "Look at these files by hand. A level of off says that this was done.",
		},
		{
			ID: Spare, Title: "asks for a package that nothing uses",
			Why: "The manifest asks for this package, no code of its own names it, and no settings or scripts do. " +
				"Packages that tools find by their names are not judged.",
			Before: "package.json: { \"dependencies\": { \"star-names\": \"^2.0.0\" } }, and no import names it",
			After:  "package.json: { \"dependencies\": {} }",
			Fix: "Take it out, and see that all still builds. If something uses it that no text shows, an exception " +
				"says so.",
		},
		{
			ID: Borrowed, Title: "uses a package that its manifest does not ask for",
			Why: "The code names a package that is there because another one asks for it. When that one no longer " +
				"does, this code breaks.",
			Before: "packages/desk/src/sky.ts: import { rise } from '@hilltop/sky', which packages/desk/package.json does not list",
			After:  "packages/desk/package.json: { \"dependencies\": { \"@hilltop/sky\": \"*\" } }",
			Fix:    "Ask for it in the package's own manifest.",
		},
		{
			ID: Outdated, Title: "an exception that is over or excuses nothing",
			Why: "The exception's last day is over, or no file that it names breaks the rule any more. It still " +
				"excuses what it excused.",
			Before: "exceptions: [{ file: src/old/**, rule: misplaced, because: goes away with the old scheduler, " +
				"until: 2026-03-01 }]",
			After: "the files in src/old/ are moved, and the exception is gone",
			Fix:   "Set right what it excuses and take it out, or give it a new day.",
		},
	}
}

// Finding is one file that is not as the convention wants it.
type Finding struct {
	Rule  string `json:"rule"`
	Path  string `json:"path"`
	Shelf string `json:"shelf,omitempty"`
	Home  string `json:"home,omitempty"` // where the file belongs
	Line  int    `json:"line,omitempty"` // of the convention: what says so
	// Convention is the file that says so, where it is not the root's.
	Convention string `json:"convention,omitempty"`
	At         string `json:"at,omitempty"` // line and column in the file
	Reason     string `json:"reason"`
	Level      Level  `json:"level"`
}

// Sort orders findings by rule, as Rules has them, and by path.
func Sort(findings []Finding) {
	rank := map[string]int{}
	for i, r := range Rules() {
		rank[r.ID] = i
	}
	slices.SortStableFunc(findings, func(a, b Finding) int {
		if a.Rule != b.Rule {
			return rank[a.Rule] - rank[b.Rule]
		}
		return cmp.Compare(a.Path, b.Path)
	})
}
