package engine_test

import (
	"fmt"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project/projecttest"
)

// checked gives what a check finds that keeps no texts and reads files as far as it must, and what it finds once a plan
// has read everything.
func checked(t *testing.T, dir string) (early, whole *engine.Check) {
	t.Helper()
	check := func(p *engine.Project) *engine.Check {
		c, err := p.Check(engine.CheckOptions{Today: time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC)})
		require.NoError(t, err)
		return c
	}
	for _, plan := range []bool{false, true} {
		p, err := engine.Open(dir, "")
		require.NoError(t, err)
		if plan {
			_, _, err := p.Plan(engine.PlanOptions{})
			require.NoError(t, err)
			whole = check(p)
		} else {
			early = check(p)
		}
		p.Close()
	}
	return early, whole
}

func TestACheckReadsEnough(t *testing.T) {
	t.Parallel()
	for name, files := range map[string]fs.FS{"hilltop": demo.Hilltop(), "service": demo.Service()} {
		dir := t.TempDir()
		require.NoError(t, os.CopyFS(dir, files))
		early, whole := checked(t, dir)
		assert.NotEmpty(t, whole.Findings, name)
		assert.Equal(t, whole, early, name)
	}
}

const findable = `crooked: 1
title: Made up
pools: { widgets: [src/widgets/**] }
shelves:
  pages:
    at: src/pages/<page>/
    uses: [pages, parts]
    door: index.ts
    must: [{ file: index.ts, write: reexports }]
    inside: { own: { takes: [{ pool: widgets, needed_by: one of pages }] } }
  unused: { at: src/unused/, takes: [{ pool: widgets, needed_by: none }] }
  hooks: { at: src/hooks/, takes: [{ pool: widgets, declares: hook }] }
  parts: { at: src/parts/, takes: [{ pool: widgets, declares: component }, { pool: widgets }], names: { files: pascal, declares: same } }
  tools: { at: src/tools/, uses: [tools] }
`

// madeUp is a project of widgets, pages and tools, with files that hand on what others declare in all the ways there
// are.
func madeUp(random *rand.Rand) string {
	const count = 40
	place := func(i int) string {
		switch i % 4 {
		case 0, 1:
			return fmt.Sprintf("src/widgets/w%d", i)
		case 2:
			return fmt.Sprintf("src/pages/p%d/view%d", i%12, i)
		}
		return fmt.Sprintf("src/tools/t%d", i)
	}
	var out strings.Builder
	fmt.Fprintf(&out, "-- crooked.yaml --\n%s", findable)
	for i := range count {
		ending := []string{".ts", ".tsx", ".js"}[random.IntN(3)]
		fmt.Fprintf(&out, "-- %s%s --\n", place(i), ending)
		var names []string
		for range random.IntN(4) {
			other := random.IntN(count)
			rel, _ := filepath.Rel(filepath.Dir(place(i)), place(other))
			if !strings.HasPrefix(rel, ".") {
				rel = "./" + rel
			}
			name := fmt.Sprintf("n%d_%d", other, len(names))
			switch random.IntN(6) {
			case 0:
				fmt.Fprintf(&out, "export * from '%s'\n", rel)
			case 1:
				fmt.Fprintf(&out, "export { a%d as %s } from '%s'\n", other, name, rel)
			case 2:
				fmt.Fprintf(&out, "const %s = require('%s')\n", name, rel)
			default:
				fmt.Fprintf(&out, "import { a%d as %s } from '%s'\n", other, name, rel)
				names = append(names, name)
			}
		}
		switch random.IntN(7) {
		case 0:
			if len(names) > 0 {
				fmt.Fprintf(&out, "export { %s }\n", strings.Join(names, ", "))
			}
		case 1:
			if len(names) > 0 {
				fmt.Fprintf(&out, "export default %s\n", names[0])
			}
		case 2:
			fmt.Fprintf(&out, "export default function A%d() { return <p>{1}</p> }\n", i)
		case 3:
			fmt.Fprintf(&out, "export function useA%d() {}\nexport const a%d = 1\n", i, i)
		case 4:
			fmt.Fprintf(&out, "export const a%d = () => import('./none%d')\n", i, i)
		default:
			fmt.Fprintf(&out,
				"const text = `export * from './x'` // import\nexport class A%d {}\nexport { A%d as a%d }\n", i, i, i)
		}
	}
	return out.String()
}

func TestACheckReadsEnoughOfMadeUpProjects(t *testing.T) {
	t.Parallel()
	rules := map[string]int{}
	for seed := range uint64(25) {
		dir := t.TempDir()
		projecttest.Write(t, dir, madeUp(rand.New(rand.NewPCG(seed, 1))))
		early, whole := checked(t, dir)
		require.Equal(t, whole, early, "seed %d", seed)
		for _, f := range whole.Findings {
			rules[f.Rule]++
		}
	}
	for _, rule := range []string{"misplaced", "misspelled", "overreach", "backdoor", "dangling"} {
		assert.Positive(t, rules[rule], "%s is met: %v", rule, rules)
	}
}

// A check of some files finds of them what a check of all finds, though it reads no more than it must.
func TestACheckOfSomeFiles(t *testing.T) {
	t.Parallel()
	const convention = `crooked: 1
shelves:
  pages: { at: "src/pages/<page>/", uses: [pages, parts], door: index.ts, must: [{ file: index.ts, write: reexports }] }
  parts: { at: src/parts/, from: ["src/widgets/w*"] }
  tools: { at: "src/tools/<tool>", uses: [tools] }
`
	rules := map[string]int{}
	for seed := range uint64(25) {
		random := rand.New(rand.NewPCG(seed, 2))
		dir := t.TempDir()
		projecttest.Write(t, dir, strings.Replace(madeUp(random), findable, convention, 1))
		check := func(only map[string]bool) *engine.Check {
			p, err := engine.Open(dir, "")
			require.NoError(t, err)
			defer p.Close()
			if only != nil && len(only) == 0 {
				for _, file := range p.Paths() {
					if random.IntN(8) == 0 {
						only[file] = true
					}
				}
			}
			c, err := p.Check(engine.CheckOptions{Today: time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC), Only: only})
			require.NoError(t, err)
			return c
		}
		want := check(nil)
		all := want.Findings
		for range 5 {
			only := map[string]bool{}
			got := check(only)
			want.Findings = slices.DeleteFunc(slices.Clone(all), func(f finding.Finding) bool { return !only[f.Path] })
			require.Equal(t, want, got, "seed %d, %v", seed, only)
			for _, f := range got.Findings {
				rules[f.Rule]++
			}
		}
	}
	for _, rule := range []string{"misplaced", "overreach", "backdoor", "dangling", "loop"} {
		assert.Positive(t, rules[rule], "%s is met: %v", rule, rules)
	}
}
