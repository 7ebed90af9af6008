package convention

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRead(t *testing.T) {
	t.Parallel()
	c, err := Read("crooked.yaml", []byte(`crooked: 1
title: Hilltop
vars: { app: src }
leave:
  stay: <app>/main.tsx
  outside: [docs/**]
shelves:
  screens:
    for: one page
    at: <app>/screens/<screen|kebab>/
    from: [<app>/pages/<screen>Screen.tsx]
  services:
    at: <app>/services/
    takes: [{ name: "*Service.ts" }]
  entry: { at: <app>/entry.ts, from: <app>/index.ts }
  styles: <app>/styles/
`))
	require.NoError(t, err)
	assert.Equal(t, "Hilltop", c.Title)
	require.Len(t, c.Shelves, 4)
	assert.Equal(t, "one page", c.Shelves[0].For)
	assert.Equal(t, 10, c.Shelves[0].At.Line)
	assert.Equal(t, "src/screens/", c.Shelves[0].At.Head())
	assert.Equal(t, "*Service.ts", c.Shelves[1].Takes[0].Name.Text)
	assert.True(t, c.Shelves[2].AtFile)
	assert.False(t, c.Shelves[3].AtFile)
	assert.Len(t, c.Leave.Stay, 1)
	assert.Len(t, c.Leave.Outside, 1)
}

// Each row is a convention that is wrong, and what must be told: the place, the message, the way out.
func TestReadErrors(t *testing.T) {
	t.Parallel()
	const head = "crooked: 1\n"
	cases := []struct{ name, text, want string }{
		{"empty", "", "the convention is empty"},
		{"no version", "shelves: { a: src/ }", "the key crooked is missing"},
		{"another version", "crooked: 2\nshelves: { a: src/ }", `1:10: the format's version is "2"`},
		{"no shelves", head, "the key shelves is missing"},
		{"unknown key", head + "shelfs: {}\n", `2:1: the convention has no key "shelfs" (did you mean shelves?)`},
		{"unknown key of a shelf", head + "shelves:\n  a:\n    at: src/\n    form: x\n",
			`5:5: the shelf a has no key "form" (did you mean`},
		{"unknown key of takes", head + "shelves:\n  a:\n    at: src/\n    takes: [{ nam: x }]\n",
			`(did you mean name?)`},
		{"a package that is a file", head + "shelves: { a: { at: src/a.rs, package: x } }\n", "a file is no package"},
		{"a package with a placeholder of none", head + "shelves: { a: { at: src/, package: lib-<x> } }\n", "the place of a has no <x>"},
		{"a workspace of nothing", head + "workspace: { members: [a/*] }\nshelves: { a: { at: src/ } }\n", "no shelf is a package"},
		{"another way to keep dependencies", head + "workspace: { dependencies: mine }\nshelves: { a: { at: src/, package: true } }\n",
			`"mine" is no way to keep dependencies`},
		{"a pool that is not there", head + "shelves: { a: { at: src/, takes: [{ pool: widgets }] } }\n",
			`2:43: there is no pool "widgets"`},
		{"needed by whom", head +
			"pools: { w: [x/**] }\nshelves: { a: { at: src/, takes: [{ pool: w, needed_by: two of a }] } }\n",
			`"two of a" does not say who needs the file`},
		{"needed by no shelf",
			head +
				"pools: { w: [x/**] }\nshelves: { a: { at: src/, takes: [{ pool: w, needed_by: one of parts }] } }\n",
			`there is no shelf "parts"`},
		{"needed without a pool", head + "shelves: { a: { at: src/, takes: [{ needed_by: none }] } }\n",
			"needed_by asks for a pool"},
		{"what counts", head +
			"pools: { w: { in: x/**, counts: [docs] } }\nshelves: { a: { at: src/, takes: [{ pool: w }] } }\n",
			`"docs" are no users that could be counted`},
		{"a kind of declaration", head + "shelves: { a: { at: src/, takes: [{ declares: komponent }] } }\n",
			`there is no kind of declaration "komponent" (did you mean component?)`},
		{"two kinds in one", head + "shelves: { a: { at: src/, takes: [{ declares: { class: A, hook: b } }] } }\n",
			"one kind is expected here"},
		{"an empty entry", head + "shelves: { a: { at: src/, takes: [{}] } }\n", "the entry asks for nothing"},
		{"a pool twice", head + "pools: { w: [x/**] }\nshelves:\n  a: { at: a/, takes: [{ pool: w }] }\n" +
			"  b: { at: b/, takes: [{ pool: w }] }\n",
			"no file can come to b by this entry: the earlier shelf a takes just the same (line 4)"},
		{"a door into a file", head + "shelves: { a: { at: src/a.ts, door: index.ts } }\n",
			"the shelf a is a file, and a file has no door"},
		{"a door elsewhere", head + "shelves: { a: { at: src/, door: ../index.ts } }\n", `"../index.ts" names no file`},
		{"inside a file", head + "shelves: { a: { at: src/a.ts, inside: { b: {} } } }\n",
			"nothing stands inside a file"},
		{"must without a file", head + "shelves: { a: { at: src/, must: [{ write: empty }] } }\n",
			"an entry of must needs the file"},
		{"a case of names", head + "shelves: { a: { at: src/, names: { files: kebap } } }\n",
			`there is no case "kebap" (did you mean kebab?)`},
		{"names after what", head + "shelves: { a: { at: src/, names: { declares: yes please } } }\n",
			"does not say how a file is named after what it declares"},
		{"laid out as nothing", head + "shelves: { a: { at: x/<y>/, laid_out_as: src/ }, b: lib/ }\n",
			"no shelf is declared below that"},
		{"tolerated until no day", head + "shelves: { a: { at: src/, also_at: [{ place: old/, until: soon }] } }\n",
			`"soon" is no date`},
		{"apart and not", head + "shelves:\n  a: { at: a/<x>/, apart: true, uses: [b] }\n  b: { at: b/, uses: [a] }\n",
			"a are apart, and still may use one another through b"},
		{"duplicate shelf", head + "shelves:\n  a: src/a/\n  a: src/b/\n", "a stands here for the second time"},
		{"no place", head + "shelves: { a: { for: x } }\n", "the shelf a has no place"},
		{"leaves the root", head + "shelves: { a: ../a/ }\n",
			"2:15: \"../a/\" is no path: the path leaves the project's root"},
		{"absolute", head + "shelves: { a: /etc/ }\n", "without a leading slash"},
		{"leaves the root by a variable", head + "vars: { app: .. }\nshelves: { a: <app>/a/ }\n",
			"leaves the project's root"},
		{"unbound", head + "shelves:\n  a:\n    at: src/<x>/\n    takes: [{ name: \"*.ts\" }]\n",
			"nothing here binds <x>, which the place of a needs (line 4)"},
		{"a value twice", head + "shelves: { a: { at: src/<x>/, from: [{ lib/<x>/**: { x: y } }] } }\n",
			"lib/<x>/** has <x> itself"},
		{"a value that is a path", head + "shelves: { a: { at: src/<x>/, from: [{ lib/**: { x: y/z } }] } }\n",
			`"y/z" is no value of a placeholder`},
		{"a value of no form", head + "shelves: { a: { at: src/<x>/, from: [{ lib/**: y }] } }\n",
			"an entry of from must be a mapping of keys to values"},
		{"unbound inside an instance, from outside of it", head + "shelves:\n  a:\n    at: src/<x>/\n" +
			"    inside: { b: { from: [lib/**] } }\n", "nothing here binds <x>"},
		{"a variable with a slip", head + "vars: { app: src }\nshelves: { a: <ap>/parts/ }\n",
			"3:15: there is no variable <ap> (did you mean <app>?)"},
		{"a day of no shelf", head + "shelves: { a: x/ }\ncoming_from: { shelves: { b: y/** } }\n",
			`there is no shelf "b"`},
		{"a day without words", head + "shelves: { a: x/ }\ncoming_from: [y/**]\n",
			"write coming_from: { shelves: { parts: src/components/** } }"},
		{"a day of an alias without a future", head + "shelves: { a: x/ }\ncoming_from: { aliases: { \"~/*\": \"*\" } }\n",
			"aliases does not say what ~/* stands for after the move"},
		{"a day of roots without a future", head + "shelves: { a: x/ }\ncoming_from: { roots: { sass: y/ } }\n",
			"roots does not say where names of sass start after the move"},
		{"a day that allows anything", head + "shelves: { a: x/ }\ncoming_from: { allow: all }\n",
			`"all" is nothing that could be allowed`},
		{"a way to widen that is none", head + "shelves: { a: { at: x/, widen: all } }\n",
			`"all" is no way to widen`},
		{"closed without shelves inside", head + "shelves: { a: { at: x/, closed: true } }\n",
			"a closed shelf has shelves inside, and takes nothing itself"},
		{"an order of one", head + "shelves: { a: { at: x/, order: [b] } }\n", "a has one instance alone: there is no order"},
		{"an order in a circle", head + "shelves: { a: { at: x/<y>/, order: [b, c, b] } }\n",
			"b stands here twice: it would come before itself"},
		{"a partner of nothing", head + "shelves: { a: { at: x/, partner: { shelf: b, as: <name> } } }\n", `there is no shelf "b"`},
		{"a partner without a name", head + "shelves: { a: { at: x/, partner: { shelf: a } } }\n",
			"write partner: { shelf: controllers, as: <name|plural> }"},
		{"a partner of no form", head + "shelves: { a: { at: x/, partner: a } }\n",
			"an entry of partner must be a mapping of keys to values"},
		{"a partner with another name", head + "shelves: { a: { at: x/, partner: { shelf: a, as: <x> } } }\n",
			"nothing binds <x> here"},
		{"must with a name of nothing", head + "shelves: { a: { at: x/<y>/, must: [<z>.md] } }\n", "the place of a has no <z>"},
		{"whole without its slash", head + "shelves: { a: { at: x/, whole: <y> } }\n", `"<y>" is no folder below a shelf`},
		{"an instance of a shelf that has one", head + "shelves: { a: { at: x/, uses: [a.b] } }\n", `there is no shelf "a.b"`},
		{"needs of both", head + "shelves: { a: x/ }\nneeds: [{ package: x, language: go }]\n",
			"an entry of needs names a package or a language"},
		{"listed without a key", head + "shelves: { a: { at: x/<y>/, listed: { in: a.json } } }\n",
			"listed needs the file and the key of the list"},
		{"listed as another", head + "shelves: { a: { at: x/<y>/, listed: { in: a.json, key: l, as: <z> } } }\n",
			"the place of a has no <z>"},
		{"listed in many", head + "shelves: { a: { at: x/<y>/, listed: { in: '*.json', key: l } } }\n", "is no one file"},
		{"private without a file", head + "shelves: { a: x/ }\nprivate: [{ example: x }]\n", "an entry of private needs the file"},
		{"discard without a reason", head + "shelves: { a: x/ }\ndiscard: [{ file: x }]\n",
			"an entry of discard needs the files and the reason"},
		{"discard of no form", head + "shelves: { a: x/ }\ndiscard: [x]\n",
			"write discard: [{ file: src/old/**, because: nobody uses it }]"},
		{"generated without a shelf", head + "shelves: { a: x/ }\ngenerated: [{ files: y/** }]\n",
			"an entry of generated needs the files, and the shelf with which they go"},
		{"generated with nothing", head + "shelves: { a: x/ }\ngenerated: [{ files: y/**, goes_with: b }]\n", `there is no shelf "b"`},
		{"generated files", head + "shelves: { a: x/ }\ngenerated: [{ files: y/*.ts, goes_with: a }]\n", "is no one folder"},
		{"generated and named by half", head + "shelves: { a: x/ }\ngenerated: [{ files: y/**, goes_with: a, named_by: { in: z } }]\n",
			"named_by needs the file and the key"},
		{"unbound from", head + "shelves:\n  a:\n    at: src/<x>/\n    from: [lib/<x>.ts, lib/*.js]\n",
			"5:24: nothing here binds <x>"},
		{"one place for two", head + "shelves:\n  a: src/<x>/\n  b: src/<y>/\n",
			"4:6: b stands where a stands (line 3)"},
		{"one from for two", head + "shelves:\n  a: { at: x/, from: src/<b>/** }\n  b: { at: y/, from: src/<c>/** }\n",
			"no file can come to b by this entry: the earlier shelf a takes just the same (line 3)"},
		{"one name for two", head + "shelves:\n  a: { at: x/, takes: [{ name: \"*.ts\" }] }\n" +
			"  b: { at: y/, takes: [{ name: \"*.ts\" }] }\n", "the earlier shelf a takes just the same"},
		{"wildcard in a place", head + "shelves: { a: src/*/ }\n", "the place of a has a wildcard"},
		{"two carriers", head + "shelves: { a: { at: x/, from: src/**/y/** } }\n", "two ** in one path"},
		{"name with a slash", head + "shelves: { a: { at: x/, takes: [{ name: a/b }] } }\n",
			"judged by the file's name alone"},
		{"tab", head + "shelves:\n\ta: src/\n", "3:1: a tab begins the line"},
		{"unquoted star", head + "shelves: { a: { at: x/, takes: [{ name: *Service.ts }] } }\n",
			`needs quotes: "*Service.ts"`},
		{"list for a mapping", head + "shelves: [a, b]\n", "shelves must be a mapping"},
		{"missing value", head + "shelves:\n  a: { at: }\n", "a value is missing"},
		{"a comma in a text", head + "shelves: { a: { for: small, shared parts, at: src/ } }\n",
			"2:29: \"shared parts\" is no key, and has no value\n" +
				"    2 | shelves: { a: { for: small, shared parts, at: src/ } }\n" +
				"      |                             ^\n        a comma parts keys here: put the whole text in quotes"},
		{"open quotes", head + "shelves: { a: { at: \"src/ } }\n", "close the quotes"},
		{"a bracket in a path", head + "shelves: { a: { at: src/[id]/ } }\n", `needs quotes: "src/[id]/"`},
		{"a sign that YAML keeps", head + "shelves: { a: @x/ }\n", "a text that begins with @ or ` needs quotes"},
		{"uneven keys", head + "shelves:\n  a:\n    at: src/\n   takes: []\n", "indent the keys of one mapping alike"},
		{"broken", head + "shelves: { a: src/\n", "this is not valid YAML"},
		{"not UTF-8", head + "title: \xff\n", "2:8: this is not valid UTF-8"},
		{"deep", head + "title: " + strings.Repeat("[", 100), "nested more than 64 deep"},
		{"large", head + strings.Repeat("# x\n", 1<<19), "larger than 1024 KB"},
		{"wildcards in a variable", head + "vars: { app: \"*\" }\nshelves: { a: <app>/ }\n",
			"has placeholders or wildcards"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			_, err := Read("crooked.yaml", []byte(c.text))
			var wrong *Error
			require.ErrorAs(t, err, &wrong)
			assert.Contains(t, err.Error(), c.want)
			for _, p := range wrong.Problems {
				assert.Positive(t, p.Position.Line)
				assert.Positive(t, p.Position.Column)
			}
		})
	}
}

func TestErrorShowsTheLine(t *testing.T) {
	t.Parallel()
	_, err := Read("crooked.yaml", []byte("crooked: 1\nshelves:\n  a: ../x/\n"))
	assert.EqualError(t, err, `crooked.yaml:3:6: "../x/" is no path: the path leaves the project's root
    3 |   a: ../x/
      |      ^`)
}

// Every key of the format has a line that says what it is for, or stands below one that has.
func TestFormatIsDescribed(t *testing.T) {
	t.Parallel()
	seen := map[string]bool{}
	for _, k := range format {
		assert.NotEmpty(t, k.about, k.name)
		assert.False(t, seen[k.name], k.name)
		seen[k.name] = true
	}
	for _, k := range append(append([]key{}, leaveKeys...), shelfKeys...) {
		assert.NotEmpty(t, k.about, k.name)
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("crooked: 1\naliases: { a/*: { now: '*', then: b/* } }\n" +
		"mentions: [{ key: 'a[*].b', file: <path>, each: ',' }]\n" +
		"settings: [{ in: a.json, set: { b: { c: [d, 1] } } }]\nat_once: [[e]]\nshelves: { e: f/ }\n"))
	f.Add([]byte("crooked: 1\nshelves: { a: src/ }\n"))
	f.Add([]byte("crooked: 1\nvars: { app: src }\nshelves:\n" +
		"  a: { at: <app>/<x>/, from: [<app>/<x>.ts], takes: [{ name: \"*.ts\" }] }\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		c, err := Read("crooked.yaml", text)
		if err == nil {
			require.NotEmpty(t, c.Shelves)
		}
	})
}
