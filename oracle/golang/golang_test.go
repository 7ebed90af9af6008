// Package golang_test holds what is read of Go against the go command, on real modules: which packages each package
// imports, in which folder those of the module itself lie, and which files are embedded.
package golang_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/golang"
	"crookedshelf/internal/project"
	"crookedshelf/oracle/tree"
)

// modules are compared; the go command fetches them.
var modules = []string{"golang.org/x/tools@v0.52.0", "honnef.co/go/tools@v0.8.2", "mvdan.cc/sh/v3@v3.12.0",
	"github.com/yuin/goldmark@v1.7.13"}

// listed is what the go command says of one package.
type listed struct {
	Dir, ImportPath                              string
	Imports, TestImports, XTestImports           []string
	GoFiles, CgoFiles, TestGoFiles, XTestGoFiles []string
	EmbedFiles, TestEmbedFiles, XTestEmbedFiles  []string
}

func TestAgainstTheGoCommand(t *testing.T) {
	if os.Getenv("CI") == "" && exec.Command("go", "mod", "download", "-json", modules[0]).Run() != nil {
		t.Skip("the comparison fetches modules, and there is no network")
	}
	for _, module := range modules {
		t.Run(module, func(t *testing.T) {
			out, err := exec.Command("go", "mod", "download", "-json", module).Output()
			require.NoError(t, err)
			var fetched struct{ Dir string }
			require.NoError(t, json.Unmarshal(out, &fetched))
			dir := filepath.Join(t.TempDir(), "module")
			require.NoError(t, os.CopyFS(dir, os.DirFS(fetched.Dir)))
			compare(t, dir)
		})
	}
}

func compare(t *testing.T, dir string) {
	packages := list(t, dir)
	files, g, err := tree.Graph(dir)
	require.NoError(t, err)
	dirs := map[string]string{}
	for _, p := range packages {
		rel, err := filepath.Rel(dir, p.Dir)
		require.NoError(t, err)
		dirs[p.ImportPath] = filepath.ToSlash(rel)
	}
	imports, embeds := 0, 0
	for _, p := range packages {
		for _, part := range []struct{ names, imports, embedded []string }{
			{slices.Concat(p.GoFiles, p.CgoFiles), p.Imports, p.EmbedFiles},
			{p.TestGoFiles, p.TestImports, p.TestEmbedFiles}, {p.XTestGoFiles, p.XTestImports, p.XTestEmbedFiles},
		} {
			var found, embedded []string
			for _, name := range part.names {
				file := path.Join(dirs[p.ImportPath], name)
				id, ok := files.Lookup(file)
				require.True(t, ok, file)
				n := &g.Files[id]
				for i, target := range n.Targets {
					m := &n.Mentions[i]
					switch m.Kind {
					case golang.PackageImport:
						found = append(found, m.Text)
						imports++
						if want, own := dirs[m.Text]; own {
							require.Equal(t, lang.ToSet, target.Kind, "%s in %s", m.Text, file)
							require.Equal(t, want, target.Folder(), "%s in %s", m.Text, file)
						} else {
							require.Equal(t, lang.ToPackage, target.Kind, "%s in %s", m.Text, file)
						}
					case golang.Embed:
						embeds++
						embedded = append(embedded, embeddedFiles(files, dirs[p.ImportPath], m.Text, target)...)
					}
				}
			}
			require.Equal(t, sorted(part.imports), sorted(found), p.ImportPath)
			require.Subset(t, sorted(embedded), sorted(part.embedded), p.ImportPath)
		}
	}
	require.Greater(t, imports, 100)
	t.Logf("%d packages, %d imports, %d embedded patterns: the go command agrees", len(packages), imports, embeds)
}

// embeddedFiles are the files of a target, from the package's folder.
func embeddedFiles(files *project.Project, dir, pattern string, target lang.Target) []string {
	ids := target.Set()
	switch target.Kind {
	case lang.ToFile:
		ids = []project.FileID{target.File}
	case lang.ToFolder:
		from, to := files.Below(target.Folder())
		for id := from; id < to; id++ {
			ids = append(ids, id)
		}
	}
	var out []string
	for _, id := range ids {
		rel, _ := filepath.Rel(dir, files.Path(id))
		out = append(out, filepath.ToSlash(rel))
	}
	return out
}

func sorted(list []string) []string {
	out := slices.Compact(slices.Sorted(slices.Values(list)))
	if out == nil {
		return []string{}
	}
	return out
}

// list asks the go command for the packages of a module.
func list(t *testing.T, dir string) []listed {
	cmd := exec.Command("go", "list", "-e",
		"-json=Dir,ImportPath,Imports,TestImports,XTestImports,GoFiles,CgoFiles,TestGoFiles,XTestGoFiles,EmbedFiles,TestEmbedFiles,XTestEmbedFiles", "./...")
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "GOFLAGS=-mod=mod", "GOWORK=off")
	var stderr bytes.Buffer
	cmd.Stderr = &stderr
	out, err := cmd.Output()
	require.NoError(t, err, stderr.String())
	var packages []listed
	for d := json.NewDecoder(bytes.NewReader(out)); ; {
		var p listed
		if err := d.Decode(&p); errors.Is(err, io.EOF) {
			return packages
		} else {
			require.NoError(t, err)
		}
		packages = append(packages, p)
	}
}
