// Package projecttest makes trees for tests from one readable text (txtar: golang.org/x/tools/txtar).
package projecttest

import (
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/internal/project"
)

// memory is a Source that holds its files in memory.
type memory struct{ fstest.MapFS }

func (m memory) ReadDir(dir string) ([]fs.DirEntry, error) { return fs.ReadDir(m.MapFS, dir) }
func (m memory) ReadInto(_ []byte, path string, _ int64) ([]byte, error) {
	return fs.ReadFile(m.MapFS, path)
}

// Files gives the files of a txtar text.
func Files(text string) map[string]string {
	out := map[string]string{}
	for _, f := range txtar.Parse([]byte(text)).Files {
		out[f.Name] = string(f.Data)
	}
	return out
}

// Load makes a tree in memory.
func Load(t testing.TB, text string) *project.Project {
	t.Helper()
	m := memory{fstest.MapFS{".": {Mode: fs.ModeDir}}}
	for name, data := range Files(text) {
		m.MapFS[name] = &fstest.MapFile{Data: []byte(data), Mode: 0o644}
	}
	p, err := project.Load(m, project.Options{})
	require.NoError(t, err)
	return p
}

// Move gives the tree after moves, and the new ID of each file.
func Move(t testing.TB, tree *project.Project, moves map[string]string) (after *project.Project,
	newID []project.FileID) {
	t.Helper()
	byID := map[project.FileID]string{}
	for from, to := range moves {
		id, ok := tree.Lookup(from)
		require.True(t, ok, from)
		byID[id] = to
	}
	after, newID, err := tree.Overlay(byID, nil, nil)
	require.NoError(t, err)
	return after, newID
}

// Write lays the files out in a folder.
func Write(t testing.TB, dir, text string) {
	t.Helper()
	for name, data := range Files(text) {
		p := filepath.Join(dir, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(p), 0o755))
		require.NoError(t, os.WriteFile(p, []byte(data), 0o644))
	}
}

// Read gives every file below a folder with its mode and content, and every folder, save what git and the program keep
// for themselves.
func Read(t testing.TB, dir string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(dir, p)
		rel = filepath.ToSlash(rel)
		info, err := d.Info()
		if err != nil {
			return err
		}
		switch {
		case d.Name() == ".git":
			return fs.SkipDir
		case d.IsDir():
			out[rel+"/"] = info.Mode().String()
		case info.Mode()&fs.ModeSymlink != 0:
			target, err := os.Readlink(p)
			out[rel] = "-> " + target
			return err
		default:
			b, err := os.ReadFile(p)
			out[rel] = info.Mode().String() + "\n" + string(b)
			return err
		}
		return nil
	}))
	return out
}

// Paths gives the sorted paths of a tree.
func Paths(files map[string]string) []string { return slices.Sorted(maps.Keys(files)) }
