package placement_test

import (
	"cmp"
	"fmt"
	"maps"
	"math/rand/v2"
	"path"
	"runtime"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project/projecttest"
)

const pooled = `crooked: 1
leave: { stay: [src/*] }
pools:
  widgets: [src/components/**]
shelves:
  screens:
    at: src/screens/<screen|kebab>/
    from: [src/pages/<screen>Screen.tsx]
    inside:
      parts: { takes: [{ pool: widgets, needed_by: one of screens }] }
  attic: { at: src/attic/, takes: [{ pool: widgets, needed_by: none }] }
  parts: { at: src/parts/, takes: [{ pool: widgets }] }
  services: src/services/
`

// place gives the homes of the files that are not at home, by their paths, and what is told.
func place(t *testing.T, text, tree string) (homes map[string]string, told []string) {
	t.Helper()
	c, err := convention.Read("crooked.yaml", []byte(text))
	require.NoError(t, err)
	files := projecttest.Load(t, tree)
	placed, g, err := engine.Place(c, files)
	require.NoError(t, err)
	homes = map[string]string{}
	for id, h := range placed.Homes {
		switch h.Kind {
		case placement.Misplaced:
			homes[files.Files[id].Path] = h.Path
		case placement.Homeless:
			homes[files.Files[id].Path] = "homeless"
		}
	}
	for _, f := range placed.Findings {
		if f.Rule != "misplaced" && f.Rule != "homeless" {
			told = append(told, strings.TrimSpace(strings.Join([]string{f.Rule, f.Path, f.Home}, " ")))
		}
	}
	for _, f := range placed.FindUses(c, g) {
		told = append(told, strings.TrimSpace(strings.Join([]string{f.Rule, f.Path + ":" + f.At, f.Reason}, " ")))
	}
	return homes, told
}

// Each row is a meaning of docs/convention.md that looks into files.
func TestPlaceByContent(t *testing.T) {
	t.Parallel()
	rows := []struct {
		name, convention, tree string
		homes                  string
	}{
		{"needed by one screen", pooled,
			"-- src/pages/NightScreen.tsx --\nimport { Card } from '../components/Card'\n" +
				"-- src/components/Card.tsx --\nexport const Card = 1\n",
			"src/components/Card.tsx > src/screens/night/parts/Card.tsx; src/pages/NightScreen.tsx > " +
				"src/screens/night/NightScreen.tsx"},
		{"by two", pooled, "-- src/pages/NightScreen.tsx --\nimport '../components/Card'\n" +
			"-- src/pages/DayScreen.tsx --\nimport '../components/Card'\n-- src/components/Card.tsx --\n" +
			"export const Card = 1\n",
			"src/components/Card.tsx > src/parts/Card.tsx; src/pages/DayScreen.tsx > src/screens/day/DayScreen.tsx; " +
				"src/pages/NightScreen.tsx > src/screens/night/NightScreen.tsx"},
		{"by nobody", pooled, "-- src/components/Card.tsx --\nexport const Card = 1\n",
			"src/components/Card.tsx > src/attic/Card.tsx"},
		{"by one screen and a service", pooled, "-- src/screens/night/NightScreen.tsx --\n" +
			"import '../../components/Card'\n-- src/services/a.ts --\nimport '../components/Card'\n" +
			"-- src/components/Card.tsx --\nexport const Card = 1\n",
			"src/components/Card.tsx > src/parts/Card.tsx"},
		{"by a file that stays", pooled,
			"-- src/main.tsx --\nimport './components/Card'\n-- src/components/Card.tsx --\nexport const Card = 1\n",
			"src/components/Card.tsx > src/parts/Card.tsx"},
		{"through the pool", pooled, "-- src/screens/night/a.tsx --\nimport '../../components/Card'\n" +
			"-- src/components/Card.tsx --\nimport './Button'\nexport const Card = 1\n" +
			"-- src/components/Button.tsx --\nexport const Button = 1\n",
			"src/components/Button.tsx > src/screens/night/parts/Button.tsx; src/components/Card.tsx > " +
				"src/screens/night/parts/Card.tsx"},
		{"in a circle of the pool", pooled, "-- src/screens/night/a.tsx --\nimport '../../components/Card'\n" +
			"-- src/components/Card.tsx --\nimport './Button'\nexport const Card = 1\n" +
			"-- src/components/Button.tsx --\nimport './Card'\nexport const Button = 1\n",
			"src/components/Button.tsx > src/screens/night/parts/Button.tsx; src/components/Card.tsx > " +
				"src/screens/night/parts/Card.tsx"},
		{"by one that nobody needs", pooled, "-- src/components/Card.tsx --\nimport './Button'\n" +
			"-- src/components/Button.tsx --\nexport const Button = 1\n",
			"src/components/Button.tsx > src/attic/Button.tsx; src/components/Card.tsx > src/attic/Card.tsx"},
		{"tests do not count", pooled, "-- src/screens/night/a.tsx --\nimport '../../components/Card'\n" +
			"-- src/services/card.test.ts --\nimport '../components/Card'\n-- src/components/Card.tsx --\n" +
			"export const Card = 1\n",
			"src/components/Card.tsx > src/screens/night/parts/Card.tsx"},
		{"unless they do", strings.Replace(pooled, "[src/components/**]", "{ in: src/components/**, counts: tests }",
			1), "-- src/screens/night/a.tsx --\nimport '../../components/Card'\n-- src/services/card.test.ts --\n" +
			"import '../components/Card'\n-- src/components/Card.tsx --\nexport const Card = 1\n",
			"src/components/Card.tsx > src/parts/Card.tsx"},
		{"types count", pooled, "-- src/screens/night/a.tsx --\nimport '../../components/Card'\n" +
			"-- src/services/a.ts --\nimport type { C } from '../components/Card'\n-- src/components/Card.tsx --\n" +
			"export type C = 1\n",
			"src/components/Card.tsx > src/parts/Card.tsx"},
		{"seen through an index", pooled, "-- src/screens/night/a.tsx --\nimport { Card } from '../../components'\n" +
			"-- src/services/a.ts --\nimport { B as X } from '../components'\n-- src/components/index.ts --\n" +
			"export * from './Card'\nexport { default as B } from './Button'\n-- src/components/Card.tsx --\n" +
			"export const Card = 1\n-- src/components/Button.tsx --\nexport default 1\n",
			"src/components/Button.tsx > src/parts/Button.tsx; src/components/Card.tsx > " +
				"src/screens/night/parts/Card.tsx; src/components/index.ts > src/parts/index.ts"},
		{"seen through two indexes and a list", pooled, "-- src/screens/night/a.tsx --\n" +
			"import { Wide } from '../../all'\n-- src/all/index.ts --\nexport * from '../components'\n" +
			"-- src/components/index.ts --\nimport { Card } from './Card'\nexport { Card as Wide }\n" +
			"export * from './Button'\n-- src/components/Card.tsx --\nexport const Card = 1\n" +
			"-- src/components/Button.tsx --\nexport const Button = 1\n",
			"src/all/index.ts > homeless; src/components/Button.tsx > src/attic/Button.tsx; src/components/Card.tsx > " +
				"src/screens/night/parts/Card.tsx; src/components/index.ts > src/screens/night/parts/index.ts"},
		{"an import of everything", pooled, "-- src/screens/night/a.tsx --\nimport * as all from '../../components'\n" +
			"-- src/components/index.ts --\nexport * from './Card'\nexport * from './Button'\n" +
			"-- src/components/Card.tsx --\nexport const Card = 1\n-- src/components/Button.tsx --\n" +
			"export const Button = 1\n",
			"src/components/Button.tsx > src/screens/night/parts/Button.tsx; src/components/Card.tsx > " +
				"src/screens/night/parts/Card.tsx; src/components/index.ts > src/screens/night/parts/index.ts"},
		{"folders are carried", pooled, "-- src/components/form/Row.tsx --\nexport const Row = 1\n" +
			"-- src/screens/night/a.tsx --\nimport '../../components/form/Row'\n",
			"src/components/form/Row.tsx > src/screens/night/parts/form/Row.tsx"},
		{"judged for ever: a second user", pooled, "-- src/screens/night/parts/Card.tsx --\nexport const Card = 1\n" +
			"-- src/screens/night/a.tsx --\nimport './parts/Card'\n-- src/screens/day/b.tsx --\n" +
			"import '../night/parts/Card'\n",
			"src/screens/night/parts/Card.tsx > src/parts/Card.tsx"},
		{"and one that is left", pooled, "-- src/parts/deep/Card.tsx --\nexport const Card = 1\n" +
			"-- src/screens/night/a.tsx --\nimport '../../parts/deep/Card'\n",
			"src/parts/deep/Card.tsx > src/screens/night/parts/deep/Card.tsx"},
		{"at home", pooled, "-- src/screens/seeing-log/parts/Card.tsx --\nexport const Card = 1\n" +
			"-- src/screens/seeing-log/a.tsx --\nimport './parts/Card'\n", ""},
		{"what is not of the pool", pooled, "-- src/services/Card.tsx --\nexport const Card = 1\n" +
			"-- src/screens/night/a.tsx --\nimport '../../services/Card'\n", ""},
		{"declares a component",
			"crooked: 1\nshelves:\n  parts: { at: src/parts/, takes: [{ declares: component }] }\n  rest: src/\n",
			"-- src/a.tsx --\nexport const Sky = () => <p/>\n-- src/b.tsx --\nexport const sky = () => <p/>\n",
			"src/a.tsx > src/parts/a.tsx"},
		{"by the declared name", "crooked: 1\nshelves:\n" +
			"  services: { at: src/<area|kebab>/, takes: [{ declares: [{ class: <area>Service }] }] }\n  rest: src/\n",
			"-- src/a.ts --\nexport class SeeingLogService {}\n-- src/b.ts --\nclass Other {}\n",
			"src/a.ts > src/seeing-log/a.ts"},
		{"name and class agree", "crooked: 1\nshelves:\n" +
			"  services: { at: src/<area>/, takes: [{ name: <area>.ts, declares: { class: <area>Service } }] }\n" +
			"  rest: src/\n",
			"-- src/seeing-log.ts --\nclass SeeingLogService {}\n-- src/b.ts --\nclass OtherService {}\n",
			"src/seeing-log.ts > src/seeing-log/seeing-log.ts"},
		{"extends and marked, of one class", "crooked: 1\nshelves:\n" +
			"  rows: { at: src/rows/, takes: [{ extends: [Row, core.Base*], marked: Entity }] }\n  rest: src/\n",
			"-- src/a.ts --\n@Entity()\nclass A extends lib.Row {}\n-- src/b.ts --\n@Entity() class B {}\n" +
				"class C extends Row {}\n-- src/c.ts --\n@Entity class D extends core.BaseRow {}\n",
			"src/a.ts > src/rows/a.ts; src/c.ts > src/rows/c.ts"},
		{"imports a package",
			"crooked: 1\nshelves:\n  data: { at: src/data/, takes: [{ imports: [\"some-orm*\"] }] }\n  rest: src/\n",
			"-- src/a.ts --\nimport 'some-orm/client'\n-- src/b.ts --\nimport 'other'\n", "src/a.ts > src/data/a.ts"},
		{"imports a shelf", "crooked: 1\nshelves:\n  data: { at: src/data/, takes: [{ name: '*Store.ts' }] }\n" +
			"  tied: { at: src/tied/, takes: [{ imports: data }] }\n  rest: src/\n",
			"-- src/a.ts --\nimport './nightStore'\n-- src/nightStore.ts --\n-- src/b.ts --\nimport './a'\n",
			"src/a.ts > src/tied/a.ts; src/nightStore.ts > src/data/nightStore.ts"},
		{"a route", "crooked: 1\nshelves:\n  routes: { at: src/routes/, takes: [{ declares: route }] }\n  rest: src/\n",
			"-- src/a.js --\nrouter.get('/nights', f)\n", "src/a.js > src/routes/a.js"},
		{"inside before around, the folder is the name", "crooked: 1\nshelves:\n  pages:\n    at: src/pages/<page>/\n" +
			"    from: old/<page>/**\n    inside:\n      hooks: { from: old/<page>/**, takes: [{ name: use*.ts }] }\n" +
			"      bits: { at: parts/, from: old/<page>/bits/** }\n",
			"-- old/night/useSky.ts --\n-- old/night/bits/a.ts --\n-- old/night/b.ts --\n",
			"old/night/b.ts > src/pages/night/b.ts; old/night/bits/a.ts > src/pages/night/parts/a.ts; " +
				"old/night/useSky.ts > src/pages/night/hooks/useSky.ts"},
		{"laid out as", "crooked: 1\nshelves:\n  services: { at: src/services/, takes: [{ name: '*Service.ts' }] }\n" +
			"  parts: { at: src/parts/, from: src/components/** }\n" +
			"  extensions: { at: extensions/<extension>/, laid_out_as: src/ }\n",
			"-- src/aService.ts --\n-- extensions/moon/bService.ts --\n-- extensions/moon/components/x/C.tsx --\n" +
				"-- extensions/moon/services/cService.ts --\n-- extensions/moon/index.ts --\n" +
				"-- src/components/D.tsx --\n",
			"extensions/moon/bService.ts > extensions/moon/services/bService.ts; extensions/moon/components/x/C.tsx > " +
				"extensions/moon/parts/x/C.tsx; src/aService.ts > src/services/aService.ts; src/components/D.tsx > " +
				"src/parts/D.tsx"},
		{"laid out with pools", "crooked: 1\npools: { w: [src/components/**] }\nshelves:\n" +
			"  pages: { at: src/pages/<page>/, inside: { parts: { takes: [{ pool: w, needed_by: one of pages }] } } " +
			"}\n  parts: { at: src/parts/, takes: [{ pool: w }] }\n" +
			"  extensions: { at: extensions/<extension>/, laid_out_as: src/ }\n",
			"-- extensions/moon/components/C.tsx --\nexport const C = 1\n-- extensions/moon/pages/night/a.tsx --\n" +
				"import '../../components/C'\n-- src/components/D.tsx --\n-- src/pages/day/a.tsx --\n" +
				"import '../../components/D'\n",
			"extensions/moon/components/C.tsx > extensions/moon/pages/night/parts/C.tsx; src/components/D.tsx > " +
				"src/pages/day/parts/D.tsx"},
		{"also at, for a while", "crooked: 1\nshelves: { tools: { at: src/tools/, from: [src/utils/**, src/lib/**], " +
			"also_at: [{ place: src/utils/, until: 2027-01-01 }] } }\n", "-- src/utils/a.ts --\n-- src/lib/b.ts --\n",
			"src/lib/b.ts > src/tools/b.ts"},
		{"a companion's needs are its owner's", strings.Replace(pooled, "    inside:",
			"    beside: { may: [<name>.parts.tsx] }\n    inside:", 1),
			"-- src/pages/NightScreen.tsx --\n-- src/pages/NightScreen.parts.tsx --\nimport '../components/Card'\n" +
				"-- src/components/Card.tsx --\nexport const Card = 1\n",
			"src/components/Card.tsx > src/screens/night/parts/Card.tsx; src/pages/NightScreen.parts.tsx > " +
				"src/screens/night/NightScreen.parts.tsx; src/pages/NightScreen.tsx > src/screens/night/NightScreen.tsx"},
	}
	for _, row := range rows {
		t.Run(row.name, func(t *testing.T) {
			homes, _ := place(t, row.convention, row.tree)
			var got []string
			for _, file := range slices.Sorted(maps.Keys(homes)) {
				got = append(got, file+" > "+homes[file])
			}
			assert.Equal(t, row.homes, strings.Join(got, "; "))
		})
	}
}

// What stands right and is still not as the shelf wants it.
func TestRulesOfShelves(t *testing.T) {
	t.Parallel()
	rows := []struct {
		name, convention, tree string
		told                   []string
	}{
		{"an entry file is missing", "crooked: 1\nshelves: { modules: { at: src/<module>/, must: [index.ts, { file: " +
			"doc/README.md, write: empty }] } }\n",
			"-- src/a/x.ts --\n-- src/b/index.ts --\n-- src/b/doc/README.md --\n",
			[]string{"missing src/a/doc/README.md", "missing src/a/index.ts"}},
		{"names in a case",
			"crooked: 1\nshelves: { parts: { at: src/parts/, names: { files: kebab, folders: snake } } }\n",
			"-- src/parts/StarChart.test.tsx --\n-- src/parts/deepSky/ok-file.ts --\n-- src/parts/[id].ts --\n" +
				"-- src/parts/_app.ts --\n-- src/parts/fine.ts --\n",
			[]string{"misspelled src/parts/StarChart.test.tsx src/parts/star-chart.test.tsx",
				"misspelled src/parts/deepSky/ok-file.ts src/parts/deep_sky/ok-file.ts"}},
		{"names like", "crooked: 1\nshelves: { hooks: { at: src/hooks/, names: { like: [use*.ts, index.ts] } } }\n",
			"-- src/hooks/sky.ts --\n-- src/hooks/useSky.ts --\n-- src/hooks/index.ts --\n",
			[]string{"misspelled src/hooks/sky.ts"}},
		{"named after what they declare", "crooked: 1\nshelves: { classes: { at: src/, names: { declares: same } } }\n",
			"-- src/night.ts --\nexport class Night {}\n-- src/Day.ts --\nexport default class Day {}\n" +
				"export class Other {}\n-- src/two.ts --\nexport class A {}\nexport class B {}\n",
			[]string{"misspelled src/night.ts src/Night.ts"}},
		{"after it, in a case",
			"crooked: 1\nshelves: { classes: { at: src/, names: { files: kebab, declares: same } } }\n",
			"-- src/seeing-log.ts --\nexport class SeeingLog {}\n-- src/other.ts --\nexport class SkyChart {}\n",
			[]string{"misspelled src/other.ts src/sky-chart.ts"}},
		{"a back door",
			"crooked: 1\nshelves: { modules: { at: src/<module>/, door: index.ts, inside: { deep: {} } } }\n",
			"-- src/a/index.ts --\nexport * from './x'\n-- src/a/x.ts --\nimport './deep/y'\n-- src/a/deep/y.ts --\n" +
				"-- src/b/z.ts --\nimport '../a'\nimport '../a/x'\nimport '../a/deep/y'\n",
			[]string{"backdoor src/b/z.ts:2:9 from outside, src/a is imported through index.ts alone, and it imports " +
				"src/a/x.ts",
				"backdoor src/b/z.ts:3:9 from outside, src/a is imported through index.ts alone, and it " +
					"imports src/a/deep/y.ts"}},
		{"a loop of three", "crooked: 1\nshelves: { modules: { at: src/<module>/ } }\n",
			"-- src/a/x.ts --\nimport '../b/x'\n-- src/b/x.ts --\nimport '../c/x'\n-- src/c/x.ts --\n\n" +
				"import '../a/x'\n-- src/a/x.test.ts --\nimport '../c/x'\n",
			[]string{"loop src/a/x.ts:1:9 src/a uses src/b (src/a/x.ts:1:9), src/b uses src/c (src/b/x.ts:1:9), src/c " +
				"uses src/a (src/c/x.ts:2:9)"}},
		{"no loop within an instance",
			"crooked: 1\nshelves: { modules: { at: src/<module>/, inside: { parts: {}, hooks: {} } } }\n",
			"-- src/a/parts/x.ts --\nimport '../hooks/y'\n-- src/a/hooks/y.ts --\nimport '../parts/x'\n", nil},
		{"what lies in an instance is of it", "crooked: 1\nshelves:\n" +
			"  modules: { at: src/<module>/, apart: true, uses: [], inside: { parts: {} } }\n  tools: lib/\n",
			"-- src/a/parts/x.ts --\nimport '../../b/y'\nimport '../z'\nimport '../../../lib/t'\n-- src/a/z.ts --\n" +
				"-- src/b/y.ts --\n-- lib/t.ts --\n",
			[]string{"overreach src/a/parts/x.ts:1:9 modules are apart, and it uses src/b/",
				"overreach src/a/parts/x.ts:3:9 modules may not use tools, and it uses lib/t.ts"}},
	}
	for _, row := range rows {
		t.Run(row.name, func(t *testing.T) {
			_, told := place(t, row.convention, row.tree)
			assert.Equal(t, row.told, told)
		})
	}
}

func TestHomesInACircle(t *testing.T) {
	t.Parallel()
	c, err := convention.Read("crooked.yaml", []byte(`crooked: 1
pools: { widgets: [src/widgets/**], hooks: [src/hooks/**] }
shelves:
  screens: { at: src/screens/<screen>/, inside: { parts: { takes: [{ pool: widgets, needed_by: one of screens }] }, use: { takes: [{ pool: hooks, needed_by: one of screens }] } } }
  parts: { at: src/parts/, takes: [{ pool: widgets }] }
  shared: { at: src/shared/, takes: [{ pool: hooks }] }
`))
	require.NoError(t, err)
	_, _, err = engine.Place(c, projecttest.Load(t,
		"-- src/widgets/A.tsx --\nimport '../hooks/useB'\n-- src/hooks/useB.ts --\nimport '../widgets/A'\n"))
	var wrong *convention.Error
	require.ErrorAs(t, err, &wrong)
	assert.Contains(t, err.Error(), "depends on itself: who needs it depends, in a circle, on where it is")

	_, _, err = engine.Place(c, projecttest.Load(t, "-- src/widgets/A.tsx --\nimport '../hooks/useB'\n"+
		"-- src/hooks/useB.ts --\nimport '../widgets/C'\n-- src/widgets/C.tsx --\n-- src/screens/x/a.tsx --\n"+
		"import '../../widgets/A'\n"))
	assert.NoError(t, err, "two pools may use one another, if no file does so with itself")
}

// randomTree is screens, services and widgets that import one another at random.
func randomTree(rng *rand.Rand, widgets int) (tree string, imports map[string][]string) {
	imports = map[string][]string{}
	var files []string
	for i := range widgets {
		files = append(files, fmt.Sprintf("src/components/w%d.ts", i))
	}
	for i := range 1 + rng.IntN(4) {
		files = append(files, fmt.Sprintf("src/screens/s%d/a.ts", i))
	}
	files = append(files, "src/services/b.ts", "src/services/c.test.ts")
	var text strings.Builder
	for _, f := range files {
		text.WriteString("-- " + f + " --\n")
		for range rng.IntN(4) {
			to := files[rng.IntN(widgets)]
			imports[f] = append(imports[f], to)
			rel := strings.Repeat("../", strings.Count(f, "/")) + to
			fmt.Fprintf(&text, "import '%s'\n", strings.TrimSuffix(rel, ".ts"))
		}
		text.WriteString("export const x = 1\n")
	}
	return text.String(), imports
}

// neededBy is the slow and obvious reading: walk from every file that is no widget and see what it reaches through
// widgets.
func neededBy(imports map[string][]string, widget string) string {
	needers := map[string]bool{}
	for from := range imports {
		if strings.Contains(from, "/components/") || strings.Contains(from, ".test.") {
			continue
		}
		seen := map[string]bool{}
		var walk func(string)
		walk = func(f string) {
			if !seen[f] {
				seen[f] = true
				for _, to := range imports[f] {
					walk(to)
				}
			}
		}
		walk(from)
		if seen[widget] {
			needers[path.Dir(from)] = true
		}
	}
	switch {
	case len(needers) == 0:
		return "src/attic/"
	case len(needers) == 1 && !needers["src/services"]:
		for screen := range needers {
			return screen + "/parts/"
		}
	}
	return "src/parts/"
}

func TestNeededByAgreesWithASlowReading(t *testing.T) {
	t.Parallel()
	for seed := range uint64(300) {
		rng := rand.New(rand.NewPCG(seed, 7))
		widgets := 1 + rng.IntN(12)
		tree, imports := randomTree(rng, widgets)
		homes, _ := place(t, pooled, tree)
		for i := range widgets {
			file := fmt.Sprintf("src/components/w%d.ts", i)
			require.Equal(t, neededBy(imports, file)+path.Base(file), homes[file], "seed %d, %s in\n%s", seed, file,
				tree)
		}
	}
}

// Homes do not depend on the order in which files are named, nor on how many cores look. Names are changed so that the
// order is: what is first becomes last.
func TestHomesDoNotDependOnOrder(t *testing.T) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(0))
	for seed := range uint64(60) {
		rng := rand.New(rand.NewPCG(seed, 11))
		widgets := 2 + rng.IntN(9)
		tree, _ := randomTree(rng, widgets)
		runtime.GOMAXPROCS(1)
		one, _ := place(t, pooled, tree)
		runtime.GOMAXPROCS(8)
		many, _ := place(t, pooled, tree)
		require.Equal(t, one, many)
		turn := func(s string) string {
			for i := range widgets {
				s = strings.ReplaceAll(s, fmt.Sprintf("components/w%d", i), fmt.Sprintf("components/v%d", widgets-i))
			}
			return s
		}
		turned, _ := place(t, pooled, turn(tree))
		for file, home := range one {
			name := path.Base(turn(file))
			require.Equal(t, path.Dir(home)+"/"+name, cmp.Or(turned[turn(file)], turn(file)), "seed %d", seed)
		}
	}
}
