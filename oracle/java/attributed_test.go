package java_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/java"
	"crookedshelf/oracle/tree"
)

// attributed are the libraries in which each name is compared with what the compiler says that it means.
var attributed = []string{"commons-cli", "commons-collections4", "commons-lang3", "guava", "jackson-databind"}

// meanings are the places of names that mean a type of another file, and these files, as the compiler has them.
func meanings(t *testing.T, dir string, files []string) map[string]string {
	t.Helper()
	work := t.TempDir()
	list, out := filepath.Join(work, "list"), filepath.Join(work, "out")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")), 0o644))
	jars, err := filepath.Glob("sources/jars/*.jar")
	require.NoError(t, err)
	said, err := exec.Command("java", "-Xmx4g", "Attributed.java", list, out, strings.Join(jars, ":")).CombinedOutput()
	require.NoError(t, err, string(said))
	text, err := os.ReadFile(out)
	require.NoError(t, err)
	found := map[string]string{}
	for line := range strings.Lines(string(text)) {
		parts := strings.Split(strings.TrimSpace(line), "\t")
		from, err1 := filepath.Rel(dir, parts[0])
		to, err2 := filepath.Rel(dir, parts[2])
		require.NoError(t, err1)
		require.NoError(t, err2)
		found[from+":"+parts[1]] = to
	}
	return found
}

// Each name that means a type of another file is found, with the file that declares it: none is missed. What is found
// beside is counted: it costs an import that is not needed, or a move that is held back.
func TestNamesAgainstTheCompiler(t *testing.T) {
	has(t, "java", "sources/commons-text", "sources/jars")
	for _, library := range append([]string{"made"}, attributed...) {
		if library == "guava" && os.Getenv("JAVA_MIGRATIONS") == "" {
			continue // it takes a minute or more
		}
		t.Run(library, func(t *testing.T) {
			dir := ""
			if library == "made" { // at random, with few names
				dir = layMade(t, 0)
			} else {
				dir = laid(t, library)
			}
			var files []string
			for _, p := range sourcesOf(t, dir) {
				files = append(files, filepath.Join(dir, p))
			}
			want := meanings(t, dir, files)
			require.Greater(t, len(want), 100)
			_, g, err := tree.Graph(dir)
			require.NoError(t, err)
			var missed, other, surplus []string
			found := map[string]bool{}
			for id, n := range g.Files {
				p := g.Tree.Files[id].Path
				for i := range n.Mentions {
					m, to := &n.Mentions[i], n.Targets[i]
					if m.Kind != java.Name && m.Kind != java.Again || to.Kind == lang.ToFile && int(to.File) == id {
						continue
					}
					at := fmt.Sprintf("%s:%d", p, m.Span.Start)
					found[at] = true
					leads := "several"
					if to.Kind == lang.ToFile {
						leads = g.Tree.Path(to.File)
					}
					switch is, known := want[at]; {
					case !known:
						surplus = append(surplus, at+" "+m.Text)
					case is != leads:
						other = append(other, at+" "+m.Text+" "+leads)
					}
				}
			}
			for at, to := range want {
				if !found[at] {
					missed = append(missed, at+" "+to)
				}
			}
			slices.Sort(missed)
			t.Logf("%d names, %d missed, %d lead elsewhere, %d too many", len(want), len(missed), len(other), len(surplus))
			assert.Empty(t, missed[:min(10, len(missed))])
			assert.Empty(t, other[:min(10, len(other))])
			// nobody needs more than one in a thousand
			assert.LessOrEqual(t, len(surplus)*1000, len(want), surplus[:min(10, len(surplus))])
		})
	}
}

// Each rule by which a name is told from a type is needed: without it names are missed, or many too many are found.
func TestRulesAreNeeded(t *testing.T) {
	has(t, "java")
	tree.Needed(t, "../../internal/lang/java", "TestNamesAgainstTheCompiler/made", []tree.Rule{
		{Name: "type parameters and local classes", File: "../names/scopes.go", Text: "s.types[name] > 0 ||", Without: ""},
		{Name: "nested types", File: "index.go", Text: "if inner, has := e.inner[inside{at, name}]; has {", Without: "if inner, has := e.inner[inside{at, name}]; has && false {"},
		{Name: "inherited types", File: "index.go", Text: "return found{all: all, by: byHeritage}", Without: "continue"},
		{Name: "variables", File: "../names/scopes.go", Text: "!sure && s.vars[name] > 0", Without: "false"},
	})
}
