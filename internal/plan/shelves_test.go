package plan_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/plan"
)

const modules = `-- crooked.yaml --
crooked: 1
shelves:
  modules:
    at: src/modules/<module>/
    from: src/<module>/**
    door: index.ts
    must: [{ file: index.ts, write: reexports }]
`

// An entry is written for what is used from outside, and what is used from outside is imported through it.
func TestEntryIsWrittenAndUsed(t *testing.T) {
	t.Parallel()
	text := modules + `-- src/nights/list.ts --
import { helper } from './helper'
export const list = helper
export type Row = 1
-- src/nights/helper.ts --
export const helper = 1
-- src/nights/NightCard.tsx --
export default function NightCard() {}
-- src/desk/page.ts --
import { list, type Row } from '../nights/list'
import Card from '../nights/NightCard'
import * as all from '../nights/list'
export const page = list
`
	made, g := build(t, text)
	files := after(t, text, made, g)
	assert.Equal(t, "export { default as NightCard } from './NightCard'\nexport * from './list'\n",
		files["src/modules/nights/index.ts"])
	assert.Equal(t, "export * from './page'\n", files["src/modules/desk/index.ts"])
	assert.Equal(t, `import { list, type Row } from '../nights'
import Card from '../nights/NightCard'
import * as all from '../nights/list'
export const page = list
`, files["src/modules/desk/page.ts"], "what the door is not shown to hand on stays")
	assert.Equal(t, "import { helper } from './helper'\nexport const list = helper\nexport type Row = 1\n",
		files["src/modules/nights/list.ts"], "inside, no door")
}

// A door that is there is used where it hands on every name under that name, and nothing moves for it.
func TestImportsThroughADoor(t *testing.T) {
	t.Parallel()
	text := `-- crooked.yaml --
crooked: 1
shelves: { modules: { at: src/<module>/, door: index.ts } }
-- src/a/index.ts --
export { one, two as deux } from './x'
export * from './deep'
-- src/a/x.ts --
export const one = 1, two = 2
-- src/a/deep/index.ts --
export { three } from './y'
-- src/a/deep/y.ts --
export const three = 3
export const four = 4
-- src/b/z.ts --
import { one } from '../a/x'
import { two } from '../a/x'
import { one as eins } from "../a/x.js"
import { three } from '../a/deep/y'
import { three as drei, four } from '../a/deep/y'
import '../a/x'
const x = import('../a/x')
`
	made, g := build(t, text)
	assert.Empty(t, made.Moves())
	assert.Equal(t, `import { one } from '../a'
import { two } from '../a/x'
import { one as eins } from "../a/index.js"
import { three } from '../a'
import { three as drei, four } from '../a/deep/y'
import '../a/x'
const x = import('../a/x')
`, after(t, text, made, g)["src/b/z.ts"])
}

// Required files are written empty or from a template of the project's, and only where an instance comes to be.
func TestWrittenFiles(t *testing.T) {
	t.Parallel()
	text := `-- crooked.yaml --
crooked: 1
shelves:
  modules:
    at: src/<module|kebab>/
    from: old/<module>/**
    must: [{ file: .keep, write: empty }, { file: doc/about.md, write: templates/about.md }, { file: notes.md, write: templates/gone.md }, plain.ts]
-- templates/about.md --
# <module|pascal>, <module>, <other>, a < b
-- old/seeing-log/a.ts --
`
	made, g := build(t, text)
	files := after(t, text, made, g)
	assert.Equal(t, "# SeeingLog, seeing-log, <other>, a < b\n", files["src/seeing-log/doc/about.md"])
	keep, there := files["src/seeing-log/.keep"]
	assert.True(t, there)
	assert.Empty(t, keep)
	assert.NotContains(t, files, "src/seeing-log/plain.ts")
	assert.Contains(t, made.Warnings,
		"src/seeing-log/notes.md is not written: there is no file templates/gone.md to take its text from")
}

// A file whose presence would change where a reference leads is not written.
func TestWrittenFileInTheWay(t *testing.T) {
	t.Parallel()
	text := `-- crooked.yaml --
crooked: 1
shelves: { modules: { at: src/<module>/, must: [{ file: index.ts, write: reexports }] } }
-- src/nights/list.ts --
export const list = 1
-- src/nights/index.js --
export const other = 1
-- src/desk/page.ts --
import { other } from '../nights'
export const page = other
`
	made, _ := build(t, text)
	var written []string
	for _, w := range made.Writes {
		written = append(written, w.Path)
	}
	assert.Equal(t, []string{"src/desk/index.ts"}, written)
	// a pattern of code is taken at its word, one of settings is meant for whatever is there
	made, _ = build(t,
		text+"-- src/app.ts --\nimport.meta.glob('./desk/*.ts')\n-- tsconfig.json --\n"+
			"{ \"include\": [\"src/**/*.ts\"] }\n")
	assert.Empty(t, made.Writes)
	assert.Contains(t, made.Warnings,
		"src/desk/index.ts is not written: src/app.ts:1:19, \"./desk/*.ts\", would lead to it as well")
	made, _ = build(t, text+"-- tsconfig.json --\n{ \"include\": [\"src/**/*.ts\"] }\n")
	assert.Len(t, made.Writes, 1)
	assert.Empty(t, made.Leftovers)
	assert.Contains(t, made.Warnings,
		"src/nights/index.ts is not written: src/desk/page.ts:1:24 would lead to it instead of where it leads now")
}

// Names are set right only when that is asked for, and are followed like every move.
func TestRename(t *testing.T) {
	t.Parallel()
	text := `-- crooked.yaml --
crooked: 1
shelves:
  parts:
    at: src/parts/
    from: src/components/**
    names: { files: kebab, folders: kebab }
    beside: { may: [<name>.css, <name>.test.tsx] }
-- src/parts/StarChart.tsx --
import './StarChart.css'
import { Row } from '../components/dataRows/TableRow'
-- src/parts/StarChart.css --
-- src/parts/StarChart.test.tsx --
import './StarChart'
-- src/components/dataRows/TableRow.tsx --
export const Row = 1
`
	plain, _ := build(t, text)
	assert.Len(t, plain.Moves(), 1)
	made, g := build(t, text, func(in *plan.Input) { in.Rename = true })
	assert.Equal(t, map[string]string{
		"crooked.yaml":                      after(t, text, made, g)["crooked.yaml"],
		"src/parts/star-chart.tsx":          "import './star-chart.css'\nimport { Row } from './data-rows/table-row'\n",
		"src/parts/star-chart.css":          "",
		"src/parts/star-chart.test.tsx":     "import './star-chart'\n",
		"src/parts/data-rows/table-row.tsx": "export const Row = 1\n",
	}, after(t, text, made, g))
}

// The name that a file gives itself follows it.
func TestLabelFollows(t *testing.T) {
	t.Parallel()
	text := "-- crooked.yaml --\ncrooked: 1\nshelves: { parts: { at: src/parts/, from: src/components/** } }\n" +
		"-- src/components/sky/chart.ts --\n/** @module components/sky/chart */\n-- src/components/odd.ts --\n" +
		"/** @module elsewhere/odd */\n"
	made, g := build(t, text)
	files := after(t, text, made, g)
	assert.Equal(t, "/** @module parts/sky/chart */\n", files["src/parts/sky/chart.ts"])
	assert.Equal(t, "/** @module elsewhere/odd */\n", files["src/parts/odd.ts"])
}

// What a plan moves is at home afterwards, by a convention that looks at what files hold and at who needs them, and
// nothing else is misplaced that was not blocked: a check after a straighten has nothing left to do.
func TestNothingIsLeftToMove(t *testing.T) {
	t.Parallel()
	const conv = `-- crooked.yaml --
crooked: 1
leave: { stay: [src/*] }
pools: { widgets: [src/components/**] }
shelves:
  screens:
    at: src/screens/<screen|kebab>/
    must: [{ file: index.ts, write: reexports }]
    door: index.ts
    inside: { parts: { takes: [{ pool: widgets, needed_by: one of screens }] } }
  attic: { at: src/attic/, takes: [{ pool: widgets, needed_by: none }] }
  drawn: { at: src/drawn/, takes: [{ pool: widgets, declares: component }], names: { files: kebab } }
  parts: { at: src/parts/, takes: [{ pool: widgets }] }
  services: src/services/
`
	moves, writes := 0, 0
	for seed := range uint64(80) {
		r := rand.New(rand.NewPCG(seed, 3))
		var text strings.Builder
		text.WriteString(conv)
		widgets := 2 + r.IntN(10)
		name := func(i int) string {
			return fmt.Sprintf("src/components/%sWidgetNumber%d.tsx", []string{"", "deep/"}[i%2], i)
		}
		write := func(file string) {
			fmt.Fprintf(&text, "-- %s --\n", file)
			for range r.IntN(4) {
				to := r.IntN(widgets)
				rel := strings.Repeat("../", strings.Count(file, "/")) + strings.TrimSuffix(name(to), ".tsx")
				fmt.Fprintf(&text, "import { w%d } from '%s'\n", to, rel)
			}
		}
		for i := range widgets {
			write(name(i))
			fmt.Fprintf(&text, "export const w%d = %s\n", i, []string{"1", "() => <p/>"}[r.IntN(2)])
		}
		for i := range 1 + r.IntN(3) {
			write(fmt.Sprintf("src/screens/screen-%d/main.tsx", i))
			text.WriteString("export const main = 1\n")
		}
		write("src/services/a.ts")
		made, g := build(t, text.String(), func(in *plan.Input) { in.Rename = true })
		moves, writes = moves+len(made.Moves()), writes+len(made.Writes)
		files := after(t, text.String(), made, g)
		var moved strings.Builder
		for p, content := range files {
			fmt.Fprintf(&moved, "-- %s --\n%s", p, content)
		}
		again, _ := build(t, moved.String(), func(in *plan.Input) { in.Rename = true })
		assert.Empty(t, again.Moves(), "seed %d", seed)
		assert.Empty(t, again.Edits, "seed %d", seed)
		assert.Empty(t, again.Writes, "seed %d", seed)
		assert.Equal(t, len(made.Blocked), len(again.Blocked), "seed %d", seed)
	}
	assert.Greater(t, moves, 300)
	assert.Greater(t, writes, 80)
}
