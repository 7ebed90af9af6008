// Package tree is what the comparisons on whole projects share: the toolchain, calling the program, and comparing
// trees.
package tree

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing"

	// a change of the program is a change of the tests that run it, for go's cache of results too
	"github.com/stretchr/testify/require"

	_ "crookedshelf/internal/cli"
	"crookedshelf/internal/git"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// Call runs the program on a project and gives all that it writes.
func Call(program, root string, args ...string) (string, error) {
	out, err := exec.Command(program, append(args, "--root", root)...).CombinedOutput()
	return string(out), err
}

// Graph reads the project at dir as the program does, without a convention: its files and where their mentions lead.
func Graph(dir string) (*project.Project, *graph.Graph, error) {
	disk, err := rootfs.Open(dir)
	if err != nil {
		return nil, nil, err
	}
	defer disk.Close()
	files, err := project.Load(disk, git.Options(git.Find(dir)))
	if err != nil {
		return nil, nil, err
	}
	return files, graph.Build(files, all.Languages(), nil), nil
}

// Hashes gives the SHA-256 of every file below dir, and "folder" for every folder; node_modules and the journal are
// left out.
func Hashes(dir string) (map[string]string, error) {
	out := map[string]string{}
	err := filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(dir, p)
		switch {
		case d.Name() == "node_modules" || d.Name() == ".crooked":
			if d.IsDir() {
				return fs.SkipDir
			}
			return nil
		case d.IsDir():
			out[rel] = "folder"
			return nil
		}
		b, err := os.ReadFile(p)
		out[rel] = fmt.Sprintf("%x", sha256.Sum256(b))
		return err
	})
	return out, err
}

// Differences says which paths differ between two trees; empty for none.
func Differences(a, b map[string]string) string {
	var out []string
	for p, h := range a {
		if b[p] != h {
			out = append(out, p)
		}
	}
	for p := range b {
		if _, ok := a[p]; !ok {
			out = append(out, p)
		}
	}
	slices.Sort(out)
	if len(out) == 0 {
		return ""
	}
	text, _ := json.Marshal(out[:min(10, len(out))])
	return fmt.Sprintf("%d paths, %s", len(out), text)
}

// NeedModules gives the node_modules of a folder below oracle/. Where npm ci was not run there the test is skipped, and
// says what to do; in CI that is a failure.
func NeedModules(t testing.TB, folder string) string {
	t.Helper()
	modules, err := filepath.Abs(filepath.Join("..", filepath.FromSlash(folder), "node_modules"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(modules); err == nil {
		return modules
	}
	message := fmt.Sprintf("the comparison needs its toolchain: cd oracle/%s && npm ci", folder)
	if os.Getenv("CI") != "" {
		t.Fatal(message)
	}
	t.Skip(message)
	return ""
}

// Module lays a module of Go out in a folder of its own. Without a network the test is skipped; in CI that is a
// failure.
func Module(t testing.TB, module string) string {
	t.Helper()
	out, err := exec.Command("go", "mod", "download", "-json", module).Output()
	if err != nil && os.Getenv("CI") == "" {
		t.Skip("the comparison fetches modules, and there is no network")
	}
	require.NoError(t, err)
	var fetched struct{ Dir string }
	require.NoError(t, json.Unmarshal(out, &fetched))
	dir := filepath.Join(t.TempDir(), "module")
	require.NoError(t, os.CopyFS(dir, os.DirFS(fetched.Dir)))
	require.NoError(t, filepath.WalkDir(dir, func(p string, _ os.DirEntry, err error) error {
		if err != nil {
			return err
		}
		info, err := os.Stat(p)
		if err == nil {
			err = os.Chmod(p, info.Mode()|0o200)
		}
		return err
	}))
	return dir
}

// Build builds the program and gives its path.
func Build(t testing.TB) string {
	t.Helper()
	program := filepath.Join(t.TempDir(), "crooked")
	build := exec.Command("go", "build", "-o", program, "crookedshelf/cmd/crooked")
	build.Env = append(os.Environ(), "CGO_ENABLED=0")
	if out, err := build.CombinedOutput(); err != nil {
		t.Fatalf("%s\n%s", err, out)
	}
	return program
}
