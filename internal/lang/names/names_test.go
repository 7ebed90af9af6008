package names_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
)

func TestIndex(t *testing.T) {
	t.Parallel()
	var x names.Index[string]
	assert.Nil(t, x.Space("sky"))
	assert.Nil(t, x.Space("sky").Declare("Night"))
	x.Add("sky", 1, []string{"Night", "Moon", "Night"})
	x.Add("desk", 2, nil)
	x.Add("sky", 3, []string{"Night"})
	assert.Equal(t, []project.FileID{1, 3}, x.Space("sky").Files)
	assert.Equal(t, []project.FileID{1, 3}, x.Space("sky").Declare("Night"))
	assert.Nil(t, x.Space("sky").Declare("Star"))
	assert.Equal(t, []string{"Moon", "Night"}, x.Space("sky").Names())
	assert.Empty(t, x.Space("desk").Names())
	assert.Equal(t, []string{"desk", "sky"}, x.Spaces(strings.Compare))
}

func TestQualified(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ root, place, separator, want string }{
		{".", "sky/night", ".", "sky.night"}, {"src", "src/sky/night", ".", "sky.night"},
		{"src", "src/sky/night", `\`, `sky\night`},
		{"src", "src", ".", ""}, {".", ".", ".", ""}, {"src", "srcs/sky", ".", ""}, {"src", "lib/sky", "::", ""},
	} {
		name, ok := names.Qualified(row.root, row.place, row.separator)
		assert.Equal(t, row.want != "", ok, row.place)
		if ok {
			assert.Equal(t, row.want, name)
		}
	}
	for _, row := range []struct {
		file  string
		n     int
		entry string
		want  string
	}{
		{"src/sky/night.test.ts", 1, "", "night"}, {"src/sky/night.ts", 2, "", "sky/night"},
		{"src/sky/night.ts", 9, "", "src/sky/night"},
		{"src/sky/index.ts", 1, "index", "sky"}, {"src/sky/night.ts", 1, "index", ""},
		{"src/sky/index.ts", 2, "", "sky/index"},
	} {
		own := names.Last(row.file, row.n, row.entry)
		assert.Equal(t, row.want, strings.Join(own, "/"), row.file)
		assert.True(t, names.Fits(strings.Split(row.want, "/"), own, strings.EqualFold) || row.want == "", row.file)
	}
	assert.False(t, names.Fits([]string{"night"}, []string{"sky", "night"}, strings.EqualFold))
}

func TestScopes(t *testing.T) {
	t.Parallel()
	var s names.Scopes
	s.Clear()
	s.Variable("night")
	outer := s.Enter()
	s.Type("Night")
	s.Variable("night")
	assert.True(t, s.Hides("Night", true))
	assert.True(t, s.Hides("night", false))
	assert.False(t, s.Hides("night", true), "where a type must stand, no variable is meant")
	s.Leave(outer)
	assert.False(t, s.Hides("Night", true))
	assert.True(t, s.Hides("night", false))
	s.Clear()
	assert.False(t, s.Hides("night", false))
}
