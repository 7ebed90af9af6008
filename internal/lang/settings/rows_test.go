package settings

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/source"
)

// Each list gets new/b and loses old.
func TestRows(t *testing.T) {
	t.Parallel()
	cases := []struct{ path, key, src, items, want string }{
		{"pom.xml", "project.modules.module",
			"<project>\n  <modules>\n    <module>old</module>\n" +
				"    <module>a</module> <!-- b -->\n    <module>c</module>\n  </modules>\n</project>\n",
			"old a c",
			"<project>\n  <modules>\n" +
				"    <module>a</module> <!-- b -->\n    <module>c</module>\n" +
				"    <module>new/b</module>\n  </modules>\n</project>\n"},
		{"all.slnx", "Solution.Project.@Path",
			"<Solution>\r\n\t<Project Path=\"src\\a.csproj\" />\r\n\t<Project Path=\"old\"></Project>\r\n" +
				"\t<Project Path=\"x\"><Build/></Project>\r\n</Solution>\r\n",
			"src/a.csproj old x",
			"<Solution>\r\n\t<Project Path=\"src\\a.csproj\" />\r\n\t<Project Path=\"new\\b\"></Project>\r\n" +
				"\t<Project Path=\"x\"><Build/></Project>\r\n</Solution>\r\n"},
	}
	for _, c := range cases {
		key := strings.Split(c.key, ".")
		items, err := Items(c.path, []byte(c.src), key)
		require.NoError(t, err, c.src)
		assert.Equal(t, c.items, strings.Join(items, " "))
		edits, err := EditList(c.path, []byte(c.src), key, []string{"new/b"}, []string{"old"})
		require.NoError(t, err, c.src)
		got, err := source.Apply([]byte(c.src), edits)
		require.NoError(t, err)
		assert.Equal(t, c.want, string(got))
	}
	items, err := Items("all.sln", []byte(
		"Project(\"{2150e333-8fdc-42a3-9474-1a3956d46de8}\") = \"src\", \"src\", \"{1}\"\r\nEndProject\r\n"+
			"Project(\"{FAE0}\") = \"A\", \"src\\a\\a.csproj\", \"{2}\"\r\nEndProject\r\n"), []string{"projects"})
	require.NoError(t, err)
	assert.Equal(t, []string{"src/a/a.csproj"}, items, "a heading of the editor is no project")
	for _, c := range []struct{ path, key, src string }{
		{"all.sln", "others", ""}, {"a.xml", "a", "<a/>"}, {"a.xml", "b.c", "<a/>"},
		{"a.xml", "a.b", "<a>"}, {"a.xml", "a.b", "<a></a>"}, {"a.xml", "a.b", "<a><b>old</b></a>"},
		{"a.xml", "a.b", "<a>\n<b><c/></b>\n</a>\n"},
	} {
		_, err := EditList(c.path, []byte(c.src), strings.Split(c.key, "."), []string{"new/b"}, []string{"old"})
		assert.Error(t, err, c.src)
	}
}

// Each file loses the items that stand at the places of some texts.
func TestDroppedRows(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct{ path, src, drop, want string }{
		"elements":                              {"a.xml", "<a><b>\n<c>x/y</c>\n<c>z</c>\n</b></a>", "x/y z", "<a><b>\n</b></a>"},
		"one of two":                            {"a.xml", "<a><b>\n<c>x/y</c>\n<c>z</c>\n</b></a>", "x/y", "<a><b>\n<c>z</c>\n</b></a>"},
		"attributes":                            {"a.xml", "<a>\n<c p=\"x/y\"/>\n<c p=\"z\"><d/></c>\n</a>", "x/y", "<a>\n<c p=\"z\"><d/></c>\n</a>"},
		"an element of two kinds is no list":    {"a.xml", "<a>\n<b>x/y</b>\n<c>z</c>\n</a>", "x/y", ""},
		"what says more than a path is no item": {"a.xml", "<a>\n<c p=\"x/y\" q=\"1\"/>\n</a>", "x/y", ""},
		"what shares its line is left":          {"a.xml", "<a>\n<c>x/y</c><c>z</c>\n</a>", "x/y", ""},
		"what is not read is left":              {"a.xml", "<a>\n<c>x/y</c>\n", "x/y", ""},
		"projects":                              {"a.sln", "Project(\"{K}\") = \"A\", \"x\\y\", \"{1}\"\nEndProject\n\t{1} = 2\n", "x\\y", ""},
	} {
		t.Run(name, func(t *testing.T) {
			var places []source.Span
			for text := range strings.FieldsSeq(c.drop) {
				at := strings.Index(c.src, text)
				places = append(places, source.Span{Start: at, End: at + len(text)})
			}
			edits, ok := DropItems(c.path, []byte(c.src), places)
			require.Equal(t, c.want != "" || name == "projects", ok)
			if ok {
				got, err := source.Apply([]byte(c.src), edits)
				require.NoError(t, err)
				assert.Equal(t, c.want, string(got))
			}
		})
	}
}
