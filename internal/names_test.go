package internal_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
)

// speechless are the packages that know no language: they ask for roles of kinds, for facts and for rules.
var speechless = []string{"graph", "leftover", "placement", "plan", "journal", "engine", "report"}

// known gives what only languages may know: their names, their endings, their manifests, and the names of their kinds.
func known() (endings, names, words map[string]bool) {
	endings, names, words = map[string]bool{}, map[string]bool{}, map[string]bool{}
	languages := all.Languages()
	for _, f := range languages.Families {
		for ending, name := range f.Facts.Called {
			endings[ending], words[name] = true, true
		}
		for _, list := range [][]string{f.Facts.Programs, f.Facts.Components, f.Facts.Sources, f.Facts.Unwritten,
			f.Facts.Prose, f.Facts.Aside, f.Facts.Made} {
			for _, ending := range list {
				endings[ending] = true
			}
		}
		for _, name := range []string{f.Facts.Manifest, f.Facts.Marker} {
			if name != "" {
				names[name] = true
			}
		}
		words[f.Name] = true
	}
	return endings, names, words
}

func TestNobodyAboveTheLanguagesKnowsOne(t *testing.T) {
	t.Parallel()
	endings, names, words := known()
	require.True(t, endings[".ts"] && endings[".py"] && names["package.json"] && words["Go"])
	folders, err := os.ReadDir("lang")
	require.NoError(t, err)
	own := map[string]bool{} // names of the languages' folders
	for _, f := range folders {
		if f.IsDir() && f.Name() != "all" {
			own[f.Name()] = true
		}
	}
	for _, layer := range speechless {
		files, err := filepath.Glob(filepath.Join(layer, "*.go"))
		require.NoError(t, err)
		require.NotEmpty(t, files)
		for _, file := range files {
			if strings.HasSuffix(file, "_test.go") {
				continue
			}
			set := token.NewFileSet()
			parsed, err := parser.ParseFile(set, file, nil, 0)
			require.NoError(t, err)
			for _, i := range parsed.Imports {
				below, is := strings.CutPrefix(strings.Trim(i.Path.Value, `"`), "crookedshelf/internal/lang/")
				assert.False(t, is && below != "all", "%s imports %s", set.Position(i.Pos()), i.Path.Value)
			}
			ast.Inspect(parsed, func(n ast.Node) bool {
				switch n := n.(type) {
				case *ast.ImportSpec:
					return false
				case *ast.BasicLit:
					text, err := strconv.Unquote(n.Value)
					if n.Kind != token.STRING || err != nil {
						return true
					}
					assert.False(t, endings[text] || names[text], "%s: %q is known to a language alone",
						set.Position(n.Pos()), text)
					for name := range names {
						assert.NotContains(t, text, name, "%s", set.Position(n.Pos()))
					}
					for _, word := range strings.FieldsFunc(text, func(r rune) bool {
						return !unicode.IsLetter(r) &&
							r != '#'
					}) {
						assert.False(t, unicode.IsUpper([]rune(word)[0]) && words[word], "%s: %q names the language %s",
							set.Position(n.Pos()), text, word)
					}
				case *ast.Ident:
					lower := strings.ToLower(n.Name)
					assert.False(t, slices.ContainsFunc([]string{"python", "golang", "javascript", "typescript"},
						func(l string) bool { return strings.Contains(lower, l) }),
						"%s: %s names a language", set.Position(n.Pos()), n.Name)
				}
				return true
			})
		}
	}
}

// What a family gives is whole: names, endings with their dots, and rules for each of its kinds.
func TestFamiliesAreValid(t *testing.T) {
	t.Parallel()
	require.NoError(t, lang.Validate(all.Languages()))
}
