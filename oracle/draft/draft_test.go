// Package draft_test drafts conventions of real packages and checks them by their own drafts: hardly a file may be told
// of, since what most files do is the habit.
package draft_test

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// packages are real ones with their sources; left out is what a build made.
var packages = map[string][]string{
	"ra-core":          {"dist"},
	"rxjs":             {"dist"},
	"@reduxjs/toolkit": {"dist"},
	"effect":           {"dist"},
	"viem":             {"_cjs", "_esm", "_types"},
	"ox":               {"_cjs", "_esm", "_types", "dist"},
}

const (
	fewestFiles = 50
	mostTold    = 0.05
)

// bare is an import of a package by its name.
var bare = regexp.MustCompile(`^(import|export|dynamic import|require) "[^."]`)

func TestDrafts(t *testing.T) {
	modules := tree.NeedModules(t, "npm")
	program := tree.Build(t)
	for name, built := range packages {
		t.Run(name, func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), filepath.Base(name))
			require.NoError(t, os.CopyFS(dir, os.DirFS(filepath.Join(modules, filepath.FromSlash(name)))))
			for _, folder := range append(built, "node_modules") {
				require.NoError(t, os.RemoveAll(filepath.Join(dir, folder)))
			}
			draft, err := exec.Command(program, "survey", "--draft", "--root", dir).Output()
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), draft, 0o644))
			out, err := exec.Command(program, "check", "--format", "json", "--root", dir).Output()
			var failed *exec.ExitError
			if err != nil {
				require.ErrorAs(t, err, &failed)
				require.Equal(t, 1, failed.ExitCode(), string(failed.Stderr))
			}
			var check struct {
				Files    int
				Findings []struct{ Rule, Path, Reason string }
			}
			require.NoError(t, json.Unmarshal(out, &check))
			require.GreaterOrEqual(t, check.Files, fewestFiles)
			told, unlisted := map[string]bool{}, 0
			for _, f := range check.Findings {
				// what a package was built with is no longer in its manifest: no layout is at fault
				if bare.MatchString(f.Reason) {
					unlisted++
					continue
				}
				told[f.Path] = true
			}
			require.Less(t, float64(len(told)), mostTold*float64(check.Files))
			t.Logf("%d files, %d told of, %d imports of packages that no manifest lists", check.Files, len(told),
				unlisted)
		})
	}
}
