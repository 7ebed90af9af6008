package golang

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

const tree = `
-- go.mod --
module hilltop.example/desk

require hilltop.example/stars v1.0.0

replace hilltop.example/stars => ./stars
-- main.go --
package main
-- nights/list.go --
package nights
-- nights/list_linux.go --
package nights
-- nights/list_test.go --
package nights
-- nights/row/row.go --
package row
-- stars/go.mod --
module hilltop.example/stars
-- stars/map/map.go --
package maps
-- broken/go.mod --
modul x
-- views/home.html --
-- views/.hidden --
-- views/deep/a.txt --
-- notes.txt --
`

// Each row is a file of the tree, its text, and what its mentions lead to.
func TestMentions(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ file, text, want string }{
		{"main.go", "package main\nimport \"fmt\"\nimport (\n\tn \"hilltop.example/desk/nights\"\n" +
			"\t_ `hilltop.example/desk/nights/row`\n)", "fmt:package; hilltop.example/desk/nights:nights/list.go " +
			"nights/list_linux.go; hilltop.example/desk/nights/row:nights/row/row.go"},
		{"main.go", "package main\nimport \"hilltop.example/stars/map\"\nimport \"hilltop.example/deskother\"",
			"hilltop.example/stars/map:stars/map/map.go; hilltop.example/deskother:package"},
		{"nights/list.go", "package nights\nimport \"hilltop.example/desk\"\nimport \"hilltop.example/desk/gone\"",
			"hilltop.example/desk:main.go; hilltop.example/desk/gone:nothing"},
		{"main.go", "package main\n// import \"fmt\"\nconst s = `import \"os\"`", ""},
		{"main.go", "package main\nimport \"C\"", "C:package"},
		{"main.go", "package main\nimport _ \"embed\"\n\n//go:embed notes.txt views\n" +
			"//go:embed \"views/*.html\" views/*/*.txt gone.txt\nvar s string\n// //go:embed no\n",
			"embed:package; notes.txt:notes.txt; views:views/; views/*.html:views/home.html; " +
				"views/*/*.txt:views/deep/a.txt; gone.txt:nothing"},
		{"main.go", "package main\n//go:embed notes.txt\nvar s string", ""},
		{"nights/list.go", "package nights\nimport _ \"embed\"\n//go:embed ../notes.txt\nvar s string",
			"embed:package; ../notes.txt:notes.txt"},
	} {
		p := projecttest.Load(t, tree)
		id, ok := p.Lookup(row.file)
		require.True(t, ok)
		found, err := Scan(row.file, []byte(row.text), nil)
		require.NoError(t, err)
		r := New(lang.NewTree(p, nil, Family()))
		var got []string
		for i := range found.Mentions {
			m := &found.Mentions[i]
			assert.Equal(t, m.Text, row.text[m.Span.Start:m.Span.End])
			got = append(got, m.Text+":"+shown(p, r.Resolve(id, m)))
		}
		assert.Equal(t, row.want, strings.Join(got, "; "), row.text)
		assert.Equal(t, []string{"broken/go.mod can't be read: where the imports of its module lead is not known"},
			r.Rules().Warnings)
	}
	_, err := Scan("a.go", []byte("not Go"), nil)
	var wrong *lang.ScanError
	assert.ErrorAs(t, err, &wrong)
}

func shown(p *project.Project, target lang.Target) string {
	switch target.Kind {
	case lang.ToFile:
		return p.Path(target.File)
	case lang.ToFolder:
		return target.Folder() + "/"
	case lang.ToSet:
		var out []string
		for _, id := range target.Set() {
			out = append(out, p.Path(id))
		}
		return strings.Join(out, " ")
	case lang.ToPackage:
		return "package"
	case lang.ToNothing:
		return "nothing"
	}
	return "outside"
}

func TestOutline(t *testing.T) {
	t.Parallel()
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	found, err := Scan("a.go", []byte("package a\ntype Night struct { *Base; x.Row; n int }\ntype rows []Night\n"+
		"func List() {}\nfunc (n Night) Name() {}\nconst most, _ = 3, 4\n"), declared)
	require.NoError(t, err)
	var got []string
	for _, d := range found.Outline.Declarations {
		var kinds []string
		for _, k := range convention.DeclarationKinds {
			if d.Kinds.Has(k) {
				kinds = append(kinds, k)
			}
		}
		got = append(got, fmt.Sprint(d.Name, " ", kinds, d.Extends, d.Exported))
	}
	assert.Equal(t, []string{"Night [class type] [Base x.Row] true", "rows [type] [] false", "List [function] [] true",
		"most [constant] [] false"}, got)
}

func TestAFileThatIsTooLargeForItsNames(t *testing.T) {
	t.Parallel()
	_, err := read([]byte("package a\n\nvar text = `" + strings.Repeat("x", most) + "`\n"))
	require.EqualError(t, err, "it is larger than 8 MB")
}

// The paths of packages are found in any text, and what only begins like one is none. A text that is made to be slow is
// read in no time.
func TestPathsInTexts(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ module, text, want string }{
		{"hilltop.example/desk", "go test hilltop.example/desk/nights hilltop.example/desk/nights/...",
			"hilltop.example/desk/nights hilltop.example/desk/nights/..."},
		{"hilltop.example/desk", "-X hilltop.example/desk/nights.Version=1 -X 'hilltop.example/desk/nights.Other=2'",
			"hilltop.example/desk/nights.Version hilltop.example/desk/nights"},
		{"hilltop.example/desk",
			"hilltop.example/desk hilltop.example/desks/nights xhilltop.example/desk/nights hilltop.example/desk/gone",
			""},
		{"hilltop.example/desk", "see hilltop.example/desk/nights. Or hilltop.example/desk/nights/, or " +
			"https://docs.example/hilltop.example/desk/nights",
			"hilltop.example/desk/nights hilltop.example/desk/nights hilltop.example/desk/nights?"},
		{"std", "stdlib std std/nights", "std/nights"},
		{"m", strings.Repeat("m/", 1<<19), ""},
		{"m", strings.Repeat("m.", 1<<19), ""},
	} {
		p := projecttest.Load(t, "-- go.mod --\nmodule "+row.module+
			"\n-- nights/n.go --\npackage nights\n\nvar Version string\n-- Makefile --\n")
		id, _ := p.Lookup("Makefile")
		began := time.Now()
		var got []string
		for _, m := range New(lang.NewTree(p, nil, Family())).Second(id, []byte(row.text)) {
			assert.Equal(t, m.Text, row.text[m.Span.Start:m.Span.End])
			mark := ""
			if m.Likely {
				mark = "?"
			}
			got = append(got, m.Text+mark)
		}
		assert.Equal(t, row.want, strings.Join(got, " "))
		assert.Less(t, time.Since(began), 5*time.Second)
	}
}
