package internal_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// layers are the packages from the bottom up: each may import those before it, and nothing of ours else.
var layers = []string{
	"source", "text", "seek", "parallel", "show", "exact", "rootfs", "project", "git", "manifest", "finding",
	"template", "convention", "lang", "lang/early", "lang/imports", "lang/names", "lang/paths", "lang/stated",
	"lang/label", "lang/ecosystems", "lang/style", "lang/web/script", "lang/web/config", "lang/web/resolve", "lang/web/workspace", "lang/web", "lang/golang", "lang/java", "lang/csharp", "lang/ruby", "lang/rust", "lang/dart", "lang/php",
	"lang/python/syntax", "lang/python/resolve", "lang/python/workspace", "lang/python", "lang/markup", "lang/settings", "lang/all", "graph",
	"leftover", "carry",
	"placement", "split", "plan", "journal", "engine", "picture", "report", "cli",
}

// interfaceOnly may be imported by cli and report alone.
var interfaceOnly = []string{"github.com/spf13/cobra", "github.com/fatih/color", "github.com/mattn/go-isatty",
	"os/exec"}

func TestImportsRunOneWay(t *testing.T) {
	t.Parallel()
	rank := map[string]int{}
	for i, l := range layers {
		rank[l] = i
	}
	files := 0
	require.NoError(t, filepath.WalkDir(".", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(p, ".go") || strings.HasSuffix(p, "_test.go") {
			return err
		}
		from := path.Dir(filepath.ToSlash(p))
		if from == "project/projecttest" {
			return nil
		}
		files++
		mine, known := rank[from]
		require.True(t, known, "the package %s stands on no layer", from)
		parsed, err := parser.ParseFile(token.NewFileSet(), p, nil, parser.ImportsOnly)
		require.NoError(t, err)
		require.NotNil(t, parsed)
		for _, imported := range parsed.Imports {
			name := strings.Trim(imported.Path.Value, `"`)
			if below, ours := strings.CutPrefix(name, "crookedshelf/internal/"); ours {
				theirs, known := rank[below]
				assert.True(t, known && theirs < mine, "%s imports %s, which is no layer below it", p, below)
			}
			if from != "cli" && from != "report" {
				assert.NotContains(t, interfaceOnly, name, p)
			}
			if from == "source" {
				assert.NotContains(t, name, ".", "%s may import the standard library only", p)
			}
		}
		return nil
	}))
	assert.Greater(t, files, 30)
}

func TestEveryPackageSaysWhatItIsFor(t *testing.T) {
	t.Parallel()
	for _, l := range layers {
		packages, err := filepath.Glob(filepath.Join(filepath.FromSlash(l), "*.go"))
		require.NoError(t, err)
		documented := false
		for _, file := range packages {
			parsed, err := parser.ParseFile(token.NewFileSet(), file, nil,
				parser.PackageClauseOnly|parser.ParseComments)
			require.NoError(t, err)
			documented = documented || parsed.Doc != nil && strings.HasPrefix(parsed.Doc.Text(), "Package ")
		}
		assert.True(t, documented, l)
	}
}
