package picture_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/picture"
)

// project is a map of two shelves, one of which uses the other more than it may.
func project() *engine.Map {
	return &engine.Map{
		Title: "Hill & <dome>",
		Shelves: []engine.MapShelf{
			{Name: "screens", For: "one page", At: "src/screens/<screen>/", Home: 1, Coming: 2},
			{Name: "parts", At: "src/parts/", Home: 3},
		},
		Files: []engine.MapFile{
			{Path: "old/</script><b>.ts", Home: "src/screens/b/b.ts", State: "crooked", Shelf: "screens", Uses: []int{1}},
			{Path: "src/parts/a.ts", Home: "src/parts/a.ts", State: "home", Shelf: "parts", Users: []int{0}},
			{Path: "src/x.ts", Home: "src/x.ts", State: "homeless"},
		},
		Uses:  []engine.MapUse{{From: "parts", To: "screens", Count: 3, Not: 1}, {From: "screens", To: "parts", Count: 40}},
		Rules: []string{"misplaced"},
	}
}

// texts gives all that an SVG says, and fails if it is not well formed.
func texts(t *testing.T, drawn []byte) string {
	t.Helper()
	var out strings.Builder
	d := xml.NewDecoder(bytes.NewReader(drawn))
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) {
			return out.String()
		}
		require.NoError(t, err)
		if text, is := token.(xml.CharData); is {
			out.Write(text)
			out.WriteByte('\n')
		}
	}
}

func TestSVG(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		name string
		m    *engine.Map
		now  bool
		says []string
	}{
		{"then", project(), false, []string{"Hill & <dome>", "screens: 1 stand right, 2 lie elsewhere from old/</ 1",
			"parts uses screens 3 times, of which 1 may not be", "screens uses parts 40 times", "✕ 1", "src/parts/"}},
		{"now", project(), true, []string{"old/</: 0 stand right, 1 go elsewhere to screens 1", "src/parts/", "old/</ uses src/parts/ 1 times"}},
		{"nothing", &engine.Map{Title: "empty"}, false, []string{"No file stands on a shelf."}},
		{"odd texts", &engine.Map{Title: "a\x00\xff\u202e", Shelves: []engine.MapShelf{{Name: strings.Repeat("望", 300), Home: 1}}}, false,
			[]string{strings.Repeat("望", 45) + "…"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			var first, second bytes.Buffer
			require.NoError(t, picture.SVG(&first, c.m, c.now))
			require.NoError(t, picture.SVG(&second, c.m, c.now))
			assert.Equal(t, first.String(), second.String(), "it is the same each time")
			said := texts(t, first.Bytes())
			for _, part := range c.says {
				assert.Contains(t, said, part)
			}
		})
	}
}

// Nothing of the project ends the page's script or is markup, and the page asks for nothing.
func TestPage(t *testing.T) {
	t.Parallel()
	var out bytes.Buffer
	require.NoError(t, picture.Page(&out, project(), true))
	page := out.String()
	assert.Equal(t, 2, strings.Count(page, "</script>"), "its own two scripts")
	assert.Contains(t, page, "<title>Hill &amp; &lt;dome&gt;</title>")
	assert.Contains(t, page, `"now":true`)
	assert.NotRegexp(t, regexp.MustCompile(`(?i)(src|href)=["']?(https?:)?//`), page)
	assert.Contains(t, page, "default-src 'none'")
}

func ExampleSVG() {
	var out bytes.Buffer
	fmt.Println(picture.SVG(&out, &engine.Map{}, false), strings.HasPrefix(out.String(), "<svg "))
	// Output: <nil> true
}
