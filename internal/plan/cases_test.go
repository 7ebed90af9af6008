package plan_test

import (
	"maps"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/internal/project/projecttest"
)

// Each file of testdata/cases is one case: what it is about, a project with its convention, and what a plan makes of
// it.
//
//   - then/PATH is what a file holds afterwards;
//   - blocked are the moves that are not made, with their reasons, one a line;
//   - left are the mentions that are left as they are, though they are likely references to what moves.
//
// All else of the tree is as it was, and after a straighten nothing is left to do. What the cases of a folder begin
// with stands in its base.txtar.
func TestCases(t *testing.T) {
	t.Parallel()
	features, err := filepath.Glob(filepath.Join("testdata", "cases", "*"))
	require.NoError(t, err)
	require.Greater(t, len(features), 5)
	for _, feature := range features {
		cases, err := filepath.Glob(filepath.Join(feature, "*.txtar"))
		require.NoError(t, err)
		for _, file := range cases {
			if filepath.Base(file) == "base.txtar" {
				continue
			}
			t.Run(filepath.Base(feature)+"/"+strings.TrimSuffix(filepath.Base(file), ".txtar"), func(t *testing.T) {
				t.Parallel()
				runCase(t, feature, file)
			})
		}
	}
}

func runCase(t *testing.T, feature, file string) {
	given, want := map[string]string{}, map[string]string{}
	if base, err := txtar.ParseFile(filepath.Join(feature, "base.txtar")); err == nil {
		for _, f := range base.Files {
			given[f.Name] = string(f.Data)
		}
	} else {
		require.ErrorIs(t, err, os.ErrNotExist)
	}
	archived, err := txtar.ParseFile(file)
	require.NoError(t, err)
	require.NotEmpty(t, archived.Comment, "the first line says what the case is about")
	blocked, left := "", ""
	for _, f := range archived.Files {
		p, then := strings.CutPrefix(f.Name, "then/")
		switch {
		case f.Name == "blocked":
			blocked = string(f.Data)
		case f.Name == "left":
			left = string(f.Data)
		case then:
			want[p] = string(f.Data)
		default:
			given[p] = string(f.Data)
		}
	}
	text := archive(given)
	made, g := build(t, text)
	reasons, texts := "", ""
	for _, b := range made.Blocked {
		reasons += b.From + ": " + b.Reason + "\n"
	}
	for _, l := range likely(made) {
		texts += l.Path + ": " + l.Text + "\n"
	}
	assert.Equal(t, blocked, reasons)
	assert.Equal(t, left, texts)
	files := after(t, text, made, g)
	for p, content := range want {
		require.Contains(t, files, p)
		assert.Equal(t, content, files[p], p)
	}
	if blocked == "" {
		second, _ := build(t, archive(files))
		assert.True(t, second.Empty(), "after a straighten nothing is left to do")
	}
	if made.Empty() {
		assert.True(t, maps.Equal(projecttest.Files(text), files))
	}
}
