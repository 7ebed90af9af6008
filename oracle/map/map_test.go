// Package map_test opens the page of crooked map in a browser and uses it: search, click, switch, keys, themes. It must
// ask for nothing, throw nothing, and show no markup of the project as its own.
package map_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/oracle/tree"
)

func TestPageInABrowser(t *testing.T) {
	modules := tree.NeedModules(t, "apps/npm")
	browser, err := exec.LookPath("chromium")
	if err != nil {
		require.Empty(t, os.Getenv("CI"), "chromium is not installed")
		t.Skip("the page is opened in chromium, which is not installed")
	}
	program := tree.Build(t)
	hilltop := t.TempDir()
	require.NoError(t, os.CopyFS(hilltop, demo.Hilltop()))
	cases := []struct{ name, dir, search, found string }{
		{"the demo", hilltop, "SkyPanel", "3"},
		{"markup in names", small(t, "-- crooked.yaml --\ncrooked: 1\ntitle: '</script><script>alert(1)</script>'\n"+
			"shelves: { '<b>': { for: '<img src=x onerror=alert(2)>', at: src/, from: old/** } }\n"+
			"-- old/<img src=x onerror=alert(3)>.ts --\nimport './b'\n-- old/b.ts --\n"), "onerror", "1"},
		{"two thousand files", large(t, 2000), "part7", "111"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			page := filepath.Join(t.TempDir(), "map.html")
			out, err := tree.Call(program, c.dir, "map", "-o", page)
			require.NoError(t, err, out)
			cmd := exec.Command("node", "page.mjs", page, modules)
			cmd.Env = append(os.Environ(), "CHROMIUM="+browser, "SEARCH="+c.search, "FOUND="+c.found)
			said, err := cmd.CombinedOutput()
			require.NoError(t, err, string(said))
			require.Empty(t, string(said))
		})
	}
}

func small(t *testing.T, archive string) string {
	t.Helper()
	dir := t.TempDir()
	projecttest.Write(t, dir, archive)
	return dir
}

// large is a project of some files in folders of fifty, half of which lie elsewhere.
func large(t *testing.T, files int) string {
	t.Helper()
	var b strings.Builder
	b.WriteString("-- crooked.yaml --\ncrooked: 1\nshelves: { parts: { at: src/parts/, from: old/** } }\n")
	for i := range files {
		folder := []string{"old", "src/parts"}[i%2]
		fmt.Fprintf(&b, "-- %s/g%d/part%d.ts --\nimport '../g%d/part%d'\n", folder, i/50, i, (i+50)%files/50, (i+50)%files)
	}
	return small(t, b.String())
}
