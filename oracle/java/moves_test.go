package java_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// libraries are those whose files are moved at random, and must compile afterwards.
var libraries = []string{"commons-cli", "commons-codec", "commons-collections4", "commons-text", "commons-lang3",
	"commons-csv", "guava", "jackson-databind"}

// laid lays the sources of a library out as its builder has them.
func laid(t *testing.T, library string) string {
	t.Helper()
	dir := t.TempDir()
	into := filepath.Join(dir, "src/main/java")
	require.NoError(t, os.MkdirAll(filepath.Dir(into), 0o755))
	require.NoError(t, os.CopyFS(into, os.DirFS(filepath.Join("sources", library))))
	require.NoError(t, os.RemoveAll(filepath.Join(into, "META-INF")))
	require.NoError(t, os.RemoveAll(filepath.Join(into, "module-info.java")))
	return dir
}

// compiled compiles what lies below src/main/java, and gives what is wrong with it.
func compiled(t *testing.T, dir string) string {
	t.Helper()
	jars, err := filepath.Glob("sources/jars/*.jar")
	require.NoError(t, err)
	for i := range jars {
		jars[i], err = filepath.Abs(jars[i])
		require.NoError(t, err)
	}
	var files []string
	for _, p := range sourcesOf(t, dir) {
		if path.Base(p) != "package-info.java" {
			files = append(files, p)
		}
	}
	list := filepath.Join(t.TempDir(), "list")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")), 0o644))
	javac := exec.Command("javac", "-nowarn", "-proc:none", "-Xmaxerrs", "30", "-encoding", "ISO-8859-1", "-d", t.TempDir(),
		"-cp", strings.Join(jars, ":"), "@"+list)
	javac.Dir = dir
	out, err := javac.CombinedOutput()
	if err == nil {
		return ""
	}
	return string(out)
}

// sourcesOf are the paths of the files below src/main/java.
func sourcesOf(t *testing.T, dir string) (out []string) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(filepath.Join(dir, "src/main/java"), func(p string, e os.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(p, ".java") {
			rel, _ := filepath.Rel(dir, p)
			out = append(out, rel)
		}
		return err
	}))
	return out
}

var blockedMoves = regexp.MustCompile(`(\d+) moves? blocked`)

// Files of real libraries go to random packages, as far as nothing stands against it, and the library compiles as before.
func TestMovesAtRandom(t *testing.T) {
	has(t, "javac", "sources/commons-text", "sources/jars")
	rounds, of := 1, libraries[:len(libraries)-2] // the last two are large
	if n, err := strconv.Atoi(os.Getenv("RANDOM_MOVES")); err == nil {
		rounds, of = n, libraries
	}
	program := tree.Build(t)
	moved, blocked := 0, 0
	for _, library := range of {
		for round := range rounds {
			t.Run(fmt.Sprintf("%s/%d", library, round), func(t *testing.T) {
				dir := laid(t, library)
				if round == 0 {
					require.Empty(t, compiled(t, dir))
				}
				random := rand.New(rand.NewPCG(uint64(round), 7))
				convention, n := tree.Scattered(random, sourcesOf(t, dir))
				require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(convention), 0o644))
				if err := exec.Command("git", "init", "-q", dir).Run(); err != nil {
					t.Fatal(err)
				}
				before, err := tree.Hashes(dir)
				require.NoError(t, err)
				said, err := tree.Call(program, dir, "plan")
				require.True(t, err == nil || strings.Contains(said, "blocked"), said)
				held := 0
				if found := blockedMoves.FindStringSubmatch(said); found != nil {
					held, _ = strconv.Atoi(found[1])
				}
				moved, blocked = moved+n-held, blocked+held
				if held == n {
					return
				}
				said, err = tree.Call(program, dir, "straighten", "--yes", "--dirty", "--partial")
				require.True(t, err == nil || strings.Contains(said, "Moved"), said)
				if faults := compiled(t, dir); !assert.Empty(t, faults) && os.Getenv("KEEP") != "" {
					require.NoError(t, os.CopyFS(filepath.Join(os.Getenv("KEEP"), fmt.Sprintf("%s-%d", library, round)), os.DirFS(dir)))
				}
				_, err = tree.Call(program, dir, "undo")
				require.NoError(t, err)
				after, err := tree.Hashes(dir)
				require.NoError(t, err)
				assert.Empty(t, tree.Differences(before, after))
			})
		}
	}
	t.Logf("%d files moved, %d were held back", moved, blocked)
}
