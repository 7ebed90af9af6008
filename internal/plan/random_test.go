package plan_test

import (
	"fmt"
	"math/rand/v2"
	"path"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A made project: files that refer to one another in ways that the test knows, because it wrote them.
type made struct {
	files map[string]string
	refs  map[string][]string // from a file, the targets in the order of its references
}

// folders are where files lie at first; a convention moves most of them.
var folders = []string{"src/components", "src/components/deep", "src/utils", "src/pages", "src", "docs", "lib/a",
	"lib/b/c"}

// writers give a line that refers to a path, in the manner of a file's language.
var writers = map[string]func(r *rand.Rand, rel string) string{
	".ts": func(r *rand.Rand, rel string) string {
		if strings.HasSuffix(rel, ".ts") && r.IntN(2) == 0 {
			rel = strings.TrimSuffix(rel, ".ts")
		}
		return []string{
			"import x from '" + rel + "' // '" + rel + "' is no import here", "export * from \"" + rel + "\";",
			"const y = await import(`" + rel + "`)",
			"jest.mock('" + rel + "')", "new URL('" + rel + "', import.meta.url)",
		}[r.IntN(map[bool]int{true: 5, false: 4}[strings.Contains(path.Base(rel), ".")])]
	},
	".css": func(r *rand.Rand, rel string) string {
		return []string{"@import '" + rel + "';", "a { background: url(" + rel + ") }"}[r.IntN(2)]
	},
	".html": func(r *rand.Rand, rel string) string {
		return []string{"<img src=\"" + rel + "\">", "<a href='" + rel + "#x'>b</a>"}[r.IntN(2)]
	},
	".md": func(_ *rand.Rand, rel string) string { return "See [it](" + rel + ") and `[not](" + rel + ")`." },
}

// readers find what the lines of the writers refer to. They know nothing of how the program reads.
var readers = map[string]*regexp.Regexp{
	".ts": regexp.MustCompile("(?m)^(?:import x from|export \\* from|const y = await import\\(|jest\\.mock\\(|new " +
		"URL\\() ?['\"`]([^'\"`]+)['\"`]"),
	".css":  regexp.MustCompile(`(?m)^(?:@import '|a \{ background: url\()([^')]+)`),
	".html": regexp.MustCompile(`(?m)^<(?:img src="|a href=')([^"'#]+)`),
	".md":   regexp.MustCompile(`(?m)^See \[it\]\(([^)]+)\)`),
}

func makeProject(r *rand.Rand, n int) made {
	m := made{files: map[string]string{}, refs: map[string][]string{}}
	endings := []string{".ts", ".ts", ".ts", ".css", ".html", ".md", ".svg"}
	var all []string
	for i := range n {
		p := path.Join(folders[r.IntN(len(folders))], fmt.Sprintf("f%d%s", i, endings[r.IntN(len(endings))]))
		all = append(all, p)
	}
	for _, from := range all {
		var text strings.Builder
		write := writers[path.Ext(from)]
		for range r.IntN(5) {
			to := all[r.IntN(len(all))]
			if write == nil || to == from || path.Ext(from) == ".css" && path.Ext(to) != ".css" &&
				path.Ext(to) != ".svg" {
				continue
			}
			text.WriteString(write(r, relativeTo(path.Dir(from), to)) + "\n")
			m.refs[from] = append(m.refs[from], to)
		}
		m.files[from] = text.String()
	}
	return m
}

// relativeTo is the path from a folder to a file, written with ./ in front.
func relativeTo(dir, to string) string {
	a, b := strings.Split(dir, "/"), strings.Split(to, "/")
	for len(a) > 0 && len(b) > 1 && a[0] == b[0] {
		a, b = a[1:], b[1:]
	}
	if len(a) == 0 {
		return "./" + strings.Join(b, "/")
	}
	return strings.Repeat("../", len(a)) + strings.Join(b, "/")
}

const movingConvention = `-- crooked.yaml --
crooked: 1
leave: { stay: [src/*] }
shelves:
  odd: { at: src/odd/, takes: [{ name: "f*7.*" }] }
  parts: { at: app/parts/, from: src/components/** }
  tools: { at: src/tools/kit/, from: [src/utils/**, lib/a/**] }
  pages: { at: src/screens/all/, from: src/pages/** }
  rest: { at: other/, from: lib/** }
`

// Whatever moves where: every reference leads to the same file as before, by a reading of its own.
func TestRandomProjectsKeepTheirReferences(t *testing.T) {
	t.Parallel()
	for seed := range uint64(60) {
		r := rand.New(rand.NewPCG(seed, 1))
		m := makeProject(r, 40)
		text := movingConvention + archive(m.files)
		made, g := build(t, text)
		require.Empty(t, made.Blocked, "seed %d", seed)
		files := after(t, text, made, g)
		moved := map[string]string{}
		for _, mv := range made.Moves() {
			moved[mv.From] = mv.To
		}
		place := func(p string) string {
			if to, ok := moved[p]; ok {
				return to
			}
			return p
		}
		require.NotEmpty(t, moved)
		for from, targets := range m.refs {
			now := place(from)
			found := readers[path.Ext(from)].FindAllStringSubmatch(files[now], -1)
			require.Len(t, found, len(targets), "seed %d, %s:\n%s", seed, now, files[now])
			for i, match := range found {
				got := path.Join(path.Dir(now), match[1])
				want := place(targets[i])
				if got != want && got+".ts" != want {
					assert.Fail(t, "a reference went astray", "seed %d: %s refers to %s by %q, and should to %s", seed,
						now, got, match[1], want)
				}
			}
		}
		comments := strings.Count(text, "is no import here")
		assert.Equal(t, comments, strings.Count(archive(files), "is no import here"))
		second, _ := build(t, archive(files))
		assert.True(t, second.Empty(), "seed %d: after a straighten nothing is left to do", seed)
	}
}

// The order in which files are named in a tree does not matter, nor which of them is read first.
func TestRandomPlansAreRepeatable(t *testing.T) {
	t.Parallel()
	m := makeProject(rand.New(rand.NewPCG(7, 7)), 60)
	first, _ := build(t, movingConvention+archive(m.files))
	want, err := first.Write()
	require.NoError(t, err)
	for range 5 {
		again, _ := build(t, movingConvention+archive(m.files))
		got, err := again.Write()
		require.NoError(t, err)
		require.Equal(t, string(want), string(got))
	}
	var paths []string
	for _, mv := range first.Moves() {
		paths = append(paths, mv.From)
	}
	slices.Sort(paths)
	assert.Equal(t, len(slices.Compact(paths)), len(first.Moves()), "no file moves twice")
}
