package java_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// careless builds the program without what judges who sees a member.
func careless(t *testing.T) string {
	t.Helper()
	source, err := filepath.Abs("../../internal/lang/java/moves.go")
	require.NoError(t, err)
	text, err := os.ReadFile(source)
	require.NoError(t, err)
	without := string(text)
	for _, call := range []string{"\to.parted()\n", "\to.joined()\n", "\to.sealed()\n"} {
		require.Equal(t, 1, strings.Count(without, call))
		without = strings.Replace(without, call, "", 1)
	}
	dir := t.TempDir()
	other, overlay, program := filepath.Join(dir, "moves.go"), filepath.Join(dir, "overlay.json"), filepath.Join(dir, "careless")
	require.NoError(t, os.WriteFile(other, []byte(without), 0o644))
	replaced, err := json.Marshal(map[string]any{"Replace": map[string]string{source: other}})
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(overlay, replaced, 0o644))
	out, err := exec.Command("go", "build", "-overlay", overlay, "-o", program, "crookedshelf/cmd/crooked").CombinedOutput()
	require.NoError(t, err, string(out))
	return program
}

// Of the moves that are held back since something would not be seen any more, most are those that the compiler would refuse:
// each of a sample is made all the same, and compiled.
func TestHeldBack(t *testing.T) {
	has(t, "javac", "sources/commons-text", "sources/jars")
	sample := 4
	if n, err := strconv.Atoi(os.Getenv("HELD_BACK")); err == nil {
		sample = n
	}
	program, other := tree.Build(t), careless(t)
	asked, held, refused := 0, 0, 0
	var taken []string
	random := rand.New(rand.NewPCG(5, 17))
	small := []string{"commons-cli", "commons-codec", "commons-text", "commons-collections4"}
	for round := 0; held < sample && round < sample*20; round++ {
		dir := laid(t, small[round%len(small)])
		files := sourcesOf(t, dir)
		from := files[random.IntN(len(files))]
		if path.Base(from) == "package-info.java" {
			continue
		}
		asked++
		to := path.Join(path.Dir(from), "elsewhere") + "/"
		said, err := tree.Call(program, dir, "move", from, to, "--yes", "--dirty", "--alone")
		if err == nil || !strings.Contains(said, "they would part") {
			continue
		}
		held++
		said, err = tree.Call(other, dir, "move", from, to, "--yes", "--dirty", "--alone")
		if err != nil || compiled(t, dir) != "" {
			refused++
			continue
		}
		taken = append(taken, fmt.Sprint(from, " ", strings.TrimSpace(said)[:min(60, len(strings.TrimSpace(said)))]))
	}
	t.Logf("of %d moves %d were held back, of which the compiler would refuse %d", asked, held, refused)
	for _, one := range taken {
		t.Log(one)
	}
	require.GreaterOrEqual(t, refused*10, held*7)
}
