package placement

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

const hilltop = `crooked: 1
vars: { app: src }
leave:
  stay: [<app>/*]
  untouched: [<app>/pages/frozen.ts]
  generated: [<app>/api/client/**]
  outside: [<app>/old/**]
shelves:
  screens:
    at: <app>/screens/<screen|kebab>/
    from: [<app>/pages/<screen>Screen.tsx, <app>/<any>/<screen>Screen.css]
  panels:
    at: <app>/panels/<panel|kebab>/
    takes: [{ name: <panel>Panel.tsx }, { name: <panel>Panel.css }]
  hooks:
    at: <app>/hooks/
    from: [<app>/components/**]
    takes: [{ name: use*.ts }]
  theme: { at: <app>/theme.css, from: <app>/components/main.css }
  parts:
    at: <app>/parts/
    from: [<app>/components/**, lib/**/x*.ts]
  styles: <app>/styles/
  packs: { at: extensions/<pack>/ }
`

func read(t *testing.T, text string) *convention.Convention {
	t.Helper()
	c, err := convention.Read("crooked.yaml", []byte(text))
	require.NoError(t, err)
	return c
}

// alone places paths by themselves: of no file anything is known but its path.
func alone(t *testing.T, text string) *placer {
	t.Helper()
	return newWorld(read(t, text), projecttest.Load(t, ""), nil).placers[0]
}

// Each row is one meaning of docs/convention.md, section "Where a file belongs".
func TestPlace(t *testing.T) {
	t.Parallel()
	p := alone(t, hilltop)
	cases := []struct {
		name, file string
		kind       Kind
		home       string
	}{
		{"left alone by stay", "src/main.tsx", Left, "src/main.tsx"},
		{"left alone by untouched", "src/pages/frozen.ts", Left, "src/pages/frozen.ts"},
		{"left alone by generated", "src/api/client/a.ts", Left, "src/api/client/a.ts"},
		{"left alone by outside", "src/old/b.ts", Left, "src/old/b.ts"},
		{"a name with a dot at the root stays", ".eslintrc.js", Left, ".eslintrc.js"},
		{"the convention stays", "crooked.yaml", Left, "crooked.yaml"},
		{"from, with the case of the place", "src/pages/SeeingLogScreen.tsx", Misplaced,
			"src/screens/seeing-log/SeeingLogScreen.tsx"},
		{"from, a capture that the place does not need", "src/pages/SeeingLogScreen.css", Misplaced,
			"src/screens/seeing-log/SeeingLogScreen.css"},
		{"standing waives from", "src/screens/seeing-log/helper.ts", AtHome, ""},
		{"standing deeper", "src/screens/seeing-log/a/b.ts", AtHome, ""},
		{"a value in the wrong case does not stand", "src/screens/SeeingLog/helper.ts", Homeless, ""},
		{"takes, wherever it lies", "deep/down/SkyPanel.tsx", Misplaced, "src/panels/sky/SkyPanel.tsx"},
		{"takes, at home", "src/panels/sky/SkyPanel.tsx", AtHome, ""},
		{"takes, on the shelf and in another instance", "src/panels/moon/SkyPanel.tsx", Misplaced,
			"src/panels/sky/SkyPanel.tsx"},
		{"takes, at home below its instance", "src/panels/sky/a/SkyPanel.css", AtHome, ""},
		{"standing never waives takes", "src/panels/sky/helper.ts", Homeless, ""},
		{"from and takes, both hold", "src/components/forms/useForm.ts", Misplaced, "src/hooks/forms/useForm.ts"},
		{"from and takes, standing and a name that is not taken", "src/hooks/plain.ts", Homeless, ""},
		{"from and takes, takes alone does not do", "elsewhere/useForm.ts", Unspoken, ""},
		{"the earlier shelf wins", "src/components/useClock.ts", Misplaced, "src/hooks/useClock.ts"},
		{"** carries folders", "src/components/forms/checks/names.ts", Misplaced, "src/parts/forms/checks/names.ts"},
		{"** carries none", "src/components/Card.tsx", Misplaced, "src/parts/Card.tsx"},
		{"** in the middle carries", "lib/a/b/xy.ts", Misplaced, "src/parts/a/b/xy.ts"},
		{"a place that names the file", "src/components/main.css", Misplaced, "src/theme.css"},
		{"only a place", "src/styles/a/b.css", AtHome, ""},
		{"a place with a placeholder", "extensions/moon/index.ts", AtHome, ""},
		{"homeless where the convention speaks", "src/utils/dates.ts", Homeless, ""},
		{"unspoken elsewhere", "docs/a.md", Unspoken, ""},
		{"unspoken beside the only shelf below a top folder", "extensions/readme.md", Homeless, ""},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			h := p.place(c.file, project.None)
			want := c.home
			if want == "" {
				want = c.file
			}
			assert.Equal(t, c.kind, h.Kind)
			assert.Equal(t, want, h.Path)
		})
	}
}

func TestDeepestShelfCounts(t *testing.T) {
	t.Parallel()
	p := alone(t, "crooked: 1\nshelves:\n  all: src/\n  deep: src/a/b/\n  mid: src/a/\n")
	for file, shelf := range map[string]string{"src/x": "all", "src/a/x": "mid", "src/a/b/x": "deep",
		"src/a/b/c/x": "deep"} {
		assert.Equal(t, shelf, p.place(file, project.None).Shelf.Name, file)
	}
}

func TestFindings(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- src/components/Card.tsx --\n-- src/utils/x.ts --\n-- src/panels/sky/odd.ts --\n"+
		"-- src/main.tsx --\n-- a/SkyPanel.tsx --\n")
	r, err := Place(read(t, hilltop), tree, nil)
	require.NoError(t, err)
	var got []string
	for _, f := range r.Findings {
		got = append(got, f.Rule+" "+f.Path+" "+f.Home)
		assert.NotEmpty(t, f.Reason)
	}
	assert.Equal(t, []string{
		"misplaced a/SkyPanel.tsx src/panels/sky/SkyPanel.tsx", "misplaced src/components/Card.tsx src/parts/Card.tsx",
		"homeless src/panels/sky/odd.ts ", "homeless src/utils/x.ts ",
	}, got)
	assert.Equal(t, 14, r.Findings[0].Line, "the line of the entry")
}

// A convention may be right in itself and contradict itself on a tree.
func TestContradictions(t *testing.T) {
	t.Parallel()
	cases := []struct{ name, convention, tree, want string }{
		{"a placeholder that takes a new folder for one of its values",
			"crooked: 1\nshelves:\n  pages: { at: pages/<page>/, from: [src/<page>/**] }\n" +
				"  parts: { at: src/<part>/, from: [lib/<part>/**] }\n",
			"-- src/sky/a.ts --\n-- src/moon/b.ts --\n-- lib/dome/c.ts --\n",
			"say what <page> may be: where: { page: [moon, sky] }"},
		{"a place without its slash", "crooked: 1\nshelves:\n  a: { at: src/parts, from: [x/**] }\n",
			"-- src/parts/a.ts --\n", "src/parts is a folder\n    3 |   a: { at: src/parts, from: [x/**] }\n" +
				"      | ^\n        end it with a slash: src/parts/"},
		{"instances without their slash", "crooked: 1\nshelves:\n  a: src/parts/<part>\n",
			"-- src/parts/sky/a.ts --\n", "src/parts/sky is a folder"},
		{"does not settle", "crooked: 1\nshelves:\n  a: { at: z/, from: y/** }\n  b: { at: y/, from: x/*.ts }\n",
			"-- x/f.ts --\n",
			"crooked.yaml:4:1: the convention does not settle: this entry takes x/f.ts to y/f.ts, and then line 3 " +
				"takes it on to z/f.ts"},
		{"homeless on arrival", "crooked: 1\nshelves:\n  a: { at: src/a/, from: b/** }\n" +
			"  c: { at: src/a/c/, takes: [{ name: \"*.css\" }] }\n", "-- b/c/x.ts --\n",
			"and then no shelf takes it there"},
		{"a door that no instance has", "crooked: 1\nshelves:\n  a:\n    at: src/<x>/\n    door: main.ts\n",
			"-- src/a/index.ts --\n-- src/b/index.ts --\n",
			"crooked.yaml:5:1: no instance of a has its door main.ts (the shelf stands at line 4)"},
		{"two names, one instance", "crooked: 1\nshelves: { a: { at: src/<x|plural>/, from: a/<x>.ts } }\n",
			"-- a/log.ts --\n-- a/logs.ts --\n",
			`"log" (of a/log.ts) and "logs" (of a/logs.ts) are different names, and both would be src/logs/`},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			conv := read(t, c.convention)
			_, err := Place(conv, projecttest.Load(t, c.tree), nil)
			var wrong *convention.Error
			require.ErrorAs(t, err, &wrong)
			assert.Contains(t, err.Error(), c.want)
		})
	}
}

// The same name in two spellings is one instance.
func TestOneNameInTwoSpellings(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- src/pages/SeeingLogScreen.tsx --\n-- src/css/seeing-logScreen.css --\n")
	r, err := Place(read(t, hilltop), tree, nil)
	require.NoError(t, err)
	assert.Equal(t, r.Homes[0].Instance, r.Homes[1].Instance)
}

// The root is judged if the convention says what may stand there; a folder that is named and of which no shelf speaks
// is outside.
func TestTop(t *testing.T) {
	t.Parallel()
	p := alone(t, "crooked: 1\ntop: [src/, docs/, \"*.json\", \"*.config.ts\", apps/<app>/]\n"+
		"shelves: { parts: { at: src/parts/, from: lib/parts/** } }\n")
	for file, want := range map[string]Kind{
		"package.json": Unspoken, "vite.config.ts": Unspoken, "odd.ts": Homeless, ".env": Left, "crooked.yaml": Left,
		"docs/a.md": Unspoken, "apps/x/a.ts": Unspoken,
		"stray/a.ts": Homeless, "src/odd.ts": Homeless, "src/parts/a.ts": AtHome, "lib/parts/a.ts": Misplaced,
		"lib/other.ts": Homeless,
	} {
		assert.Equal(t, want, p.place(file, project.None).Kind, file)
	}
	assert.Equal(t, Unspoken, alone(t, "crooked: 1\nshelves: { parts: src/parts/ }\n").place("odd.ts",
		project.None).Kind)
}

// What is excused stays where it is, by the rule that it may break.
func TestExceptions(t *testing.T) {
	t.Parallel()
	p := alone(t, `crooked: 1
exceptions:
  - { file: src/utils/old*.ts, rule: misplaced, because: goes away }
  - { file: src/odd.ts, rule: misplaced, because: of another kind }
  - { file: src/any*.ts, because: all of it }
shelves: { tools: { at: src/tools/, from: src/utils/** }, rest: src/rest/ }
`)
	old := p.place("src/utils/old1.ts", project.None)
	assert.Equal(t, Left, old.Kind)
	assert.Equal(t, Excused, old.Leave)
	assert.Equal(t, "goes away", old.Exception.Because)
	assert.Equal(t, Misplaced, p.place("src/utils/new.ts", project.None).Kind)
	assert.Equal(t, Homeless, p.place("src/odd.ts", project.None).Kind, "the exception is for another rule")
	assert.Equal(t, Left, p.place("src/any1.ts", project.None).Kind)
	assert.Equal(t, AtHome, p.place("src/tools/old1.ts", project.None).Kind)
}

func TestNear(t *testing.T) {
	t.Parallel()
	p := alone(t, hilltop)
	var got []string
	for _, file := range []string{"src/components/useSky.ts", "src/components/Card.tsx", "src/hooks/sky.ts",
		"src/lib/useSky.ts"} {
		for _, n := range p.near(file, project.None, p.place(file, project.None)) {
			got = append(got, file+" "+n.Shelf.Name+": "+n.Reason)
		}
	}
	assert.Equal(t, []string{
		"src/components/useSky.ts parts: it would take the file, and comes later",
		"src/components/useSky.ts theme: it does not lie in <app>/components/main.css",
		"src/components/useSky.ts screens: it does not lie in <app>/pages/<screen>Screen.tsx",
		"src/components/useSky.ts panels: its name does not fit <panel>Panel.tsx",
		"src/components/Card.tsx hooks: its name does not fit use*.ts",
		"src/components/Card.tsx theme: it does not lie in <app>/components/main.css",
		"src/components/Card.tsx screens: it does not lie in <app>/pages/<screen>Screen.tsx",
		"src/hooks/sky.ts hooks: its name does not fit use*.ts",
		"src/hooks/sky.ts screens: it does not lie in <app>/pages/<screen>Screen.tsx",
		"src/hooks/sky.ts panels: its name does not fit <panel>Panel.tsx",
		"src/lib/useSky.ts hooks: it does not lie in <app>/components/**",
		"src/lib/useSky.ts screens: it does not lie in <app>/pages/<screen>Screen.tsx",
		"src/lib/useSky.ts panels: its name does not fit <panel>Panel.tsx",
	}, got)
}

// Companions take their owner's home before any shelf is asked; one without an owner is an ordinary file.
func TestCompanions(t *testing.T) {
	t.Parallel()
	c := read(t, `crooked: 1
leave: { stay: [src/kept/**] }
shelves:
  panels:
    at: src/panels/<panel|kebab>/
    takes: [{ name: <panel>Panel.tsx }]
    beside: { must: [<name>.test.tsx], may: [<name>.module.css, __snapshots__/<name>.test.tsx.snap] }
  tests: { at: src/tests/, takes: [{ name: "*.test.tsx" }] }
  classes:
    at: main/classes/
    from: main/old/**
    beside: { may: [{ file: test/<path>/<name>Test.java, mirrors: main/ }] }
  rest: src/rest/
`)
	tree := projecttest.Load(t, `
-- src/a/SkyPanel.tsx --
-- src/a/SkyPanel.test.tsx --
-- src/a/SkyPanel.module.css --
-- src/a/__snapshots__/SkyPanel.test.tsx.snap --
-- src/a/Other.test.tsx --
-- src/a/MoonPanel.tsx --
-- src/panels/dome/DomePanel.tsx --
-- src/panels/dome/DomePanel.test.tsx --
-- src/panels/dome/Odd.test.tsx --
-- src/kept/SunPanel.tsx --
-- src/kept/SunPanel.test.tsx --
-- main/old/in/Night.java --
-- test/old/in/NightTest.java --
-- test/old/in/DayTest.java --
`)
	placed, err := Place(c, tree, nil)
	require.NoError(t, err)
	got := map[string]string{}
	for id, h := range placed.Homes {
		if h.Kind == Misplaced || h.Owner != project.None {
			got[tree.Files[id].Path] = h.Path
		}
	}
	assert.Equal(t, map[string]string{
		"src/a/SkyPanel.tsx":                         "src/panels/sky/SkyPanel.tsx",
		"src/a/SkyPanel.test.tsx":                    "src/panels/sky/SkyPanel.test.tsx",
		"src/a/SkyPanel.module.css":                  "src/panels/sky/SkyPanel.module.css",
		"src/a/__snapshots__/SkyPanel.test.tsx.snap": "src/panels/sky/__snapshots__/SkyPanel.test.tsx.snap",
		"src/a/Other.test.tsx":                       "src/tests/Other.test.tsx",
		"src/a/MoonPanel.tsx":                        "src/panels/moon/MoonPanel.tsx",
		"src/panels/dome/DomePanel.test.tsx":         "src/panels/dome/DomePanel.test.tsx",
		"src/panels/dome/Odd.test.tsx":               "src/tests/Odd.test.tsx",
		"main/old/in/Night.java":                     "main/classes/in/Night.java",
		"test/old/in/NightTest.java":                 "test/classes/in/NightTest.java",
	}, got)
	var missing []string
	for _, f := range placed.Findings {
		if f.Rule == finding.Missing {
			missing = append(missing, f.Path+" "+f.Reason)
		}
	}
	assert.Equal(t, []string{"src/a/MoonPanel.tsx MoonPanel.test.tsx must be beside it"}, missing)
}
