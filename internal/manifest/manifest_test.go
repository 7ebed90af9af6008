package manifest

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/source"
)

// list writes a value as its keys and texts, each with what its span holds.
func list(t *testing.T, src string, root *Value) string {
	t.Helper()
	var out []string
	root.Walk(func(key []string, v *Value) {
		line := strings.Join(key, ".")
		switch v.Kind {
		case String:
			line += "=" + v.Text
			if raw := src[v.Span.Start:v.Span.End]; raw != v.Text {
				line += "{" + raw + "}"
			}
			if v.Quote != 0 {
				require.Equal(t, v.Quote, src[v.Span.Start-1], key)
				require.Equal(t, v.Quote, src[v.Span.End], key)
			}
		case Block:
			line += "|" + strings.ReplaceAll(src[v.Span.Start:v.Span.End], "\n", "⏎")
		default:
			line += ":" + v.Text
		}
		out = append(out, line)
	})
	return strings.Join(out, " ")
}

func TestFormats(t *testing.T) {
	t.Parallel()
	cases := []struct{ name, path, src, want string }{
		{"JSON", "a.json", "{\"a\": \"b\", \"c\": [1, true, null, \"d\\n\"], \"e\": {}}",
			"a=b c.0:1 c.1:true c.2:null c.3=d\n{d\\n}"},
		{"JSON with comments", "a.json", "\xEF\xBB\xBF// x\n{\"a\": \"b\", /* y */ \"c\": [\"d\",],}", "a=b c.0=d"},
		{"a key that stands twice", "a.json", `{"a": "b", "a": "c"}`, "a=b a=c"},
		{"YAML", "a.yaml", "a: b\nc:\n  - d e # f\n  - 'g''h'\n  - \"i\\tj\"\nk: {l: m, n: [o]}\np: 1\nq: true\nr:\n",
			"a=b c.0=d e c.1=g'h{g''h} c.2=i\tj{i\\tj} k.l=m k.n.0=o p:1 q:true r:"},
		{"YAML with letters", "a.yaml", "ü: ä # ö\nß: \"é\"\nb: [ñ, c]\n", "ü=ä ß=é b.0=ñ b.1=c"},
		{"blocks of YAML", "a.yaml", "a: |\n  b\n    c\n\n  d\ne: >-\n  f\ng:\n  - h: |\n      i\n    j: k\n",
			"a|  b⏎    c⏎⏎  d⏎ e|  f⏎ g.0.h|      i⏎ g.0.j=k"},
		{"anchors and tags", "a.yaml", "a: &x b\nc: *x\nd: !t e\n", "a=b c: d=e"},
		{"several documents", "a.yaml", "a: b\n---\nc: d\n", "a=b c=d"},
		{"a list of YAML", "a.yaml", "- a: b\n  c: d\n- e\n", "0.a=b 0.c=d 1=e"},
		{"TOML", "a.toml", "a = \"b\" # c\nd = 'e\\f'\ng.h = \"i\"\nj = [\"k\", 'l', 1, {m = \"n\"}]\n[o]\np = true\n" +
			"[[q.r]]\ns = \"t\"\n[[q.r]]\ns = \"u\"\nv = '''\nw'''\n",
			`a=b d=e\f g.h=i j.0=k j.1=l j.2:1 j.3.m=n o.p:true q.r.0.s=t q.r.1.s=u q.r.1.v|⏎w`},
		{"XML", "a.xml", "<?xml version='1.0'?><!DOCTYPE a><a b=\"c &amp; d\" e='f'><g>  h\n" +
			"</g><i/><j k = \"l\">m<n>o</n></j><![CDATA[p]]></a>",
			"a.@b=c & d{c &amp; d} a.@e=f a.g=h a.j.@k=l a.j.n=o"},
		{"INI", "a.ini", "a=b\n; c\n[d e]\nf : g # h\ni = \"j k\" l\nm\n", `a=b d e.f=g d e.i=j k`},
		{"INI that goes on", "a.cfg", "[a]\nb =\n    c\n    d = e\nf = g,\n  h\n\n  i\nj = k\n[l]\n\tm = n\n\to = p\n",
			"a.b|c⏎    d = e a.f|g,⏎  h⏎⏎  i a.j=k l.m=n l.o=p"},
		{"an environment", ".env.local", "A=b c\nexport D='e'\nF=\n", "A=b c D=e F="},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			format := FormatOf(c.path)
			require.NotNil(t, format)
			root, err := format.Parse([]byte(c.src))
			require.NoError(t, err)
			assert.Equal(t, c.want, list(t, c.src, root))
		})
	}
	for _, path := range []string{"a.txt", "Makefile", "a.js"} {
		assert.Nil(t, FormatOf(path), path)
	}
}

func TestBrokenFormats(t *testing.T) {
	t.Parallel()
	cases := []struct{ path, src, want string }{
		{"a.json", "{\n \"a\": }", "line 2, column 7"},
		{"a.yaml", "a: b\n c: [\n", "line 2"},
		{"a.toml", "a = 1\nb = \n", "line 2"},
		{"a.xml", "<a>\n<b></a>", "not valid XML"},
		{"a.xml", "</a>", "closes nothing"},
		{"a.json", strings.Repeat("[", 300), "nested more than 200 deep"},
		{"a.yaml", strings.Repeat("[", 300), "nested more than 200 deep"},
		{"a.toml", "a = " + strings.Repeat("[", 300), "nested more than 200 deep"},
		{"a.xml", strings.Repeat("<a>", 300), "nested more than 200 deep"},
	}
	for _, c := range cases {
		_, err := FormatOf(c.path).Parse([]byte(c.src))
		assert.ErrorContains(t, err, c.want, c.src[:min(20, len(c.src))])
	}
	bomb := "a: &a [x, x, x, x]\nb: &b [*a, *a, *a, *a]\nc: &c [*b, *b, *b, *b]\nd: [*c, *c, *c, *c]\n"
	root, err := ParseYAML([]byte(bomb))
	require.NoError(t, err)
	values := 0
	root.Walk(func([]string, *Value) { values++ })
	assert.Less(t, values, 20, "aliases are not followed")
}

func TestSet(t *testing.T) {
	t.Parallel()
	text := func(s string) *Value { return &Value{Kind: String, Text: s} }
	number := func(s string) *Value { return &Value{Kind: Other, Text: s} }
	cases := []struct {
		name, path, src, key string
		value                *Value
		want                 string // empty: nothing changes
	}{
		{"JSON, replaced", "a.json", `{"a": "b", "c": 1}`, "a", text("d\"e"), `{"a": "d\"e", "c": 1}`},
		{"JSON, right already", "a.json", `{"a": "b"}`, "a", text("b"), ""},
		{"JSON, added on a line", "a.json", "{\n\t\"a\": 1\n}\n", "b", text("c"),
			"{\n\t\"a\": 1,\n\t\"b\": \"c\"\n}\n"},
		{"JSON, added behind a comma", "a.json", "{\n  \"a\": 1, // x\n}\n", "b", number("2"),
			"{\n  \"a\": 1,\n  \"b\": 2, // x\n}\n"},
		{"JSON, added beside", "a.json", `{"a": 1}`, "b.c", text("d"), `{"a": 1, "b": { "c": "d" }}`},
		{"JSON, added to an empty object", "a.json", "{}", "a.b", number("true"),
			"{\n  \"a\": {\n    \"b\": true\n  }\n}"},
		{"JSON, a number of another kind", "a.json", `{"a": "1"}`, "a", number("1"), `{"a": 1}`},
		{"YAML, replaced", "a.yaml", "a: 'b' # c\n", "a", text("d"), "a: d # c\n"},
		{"YAML, added below", "a.yaml", "a:\n  b: 1\n\nc: 2\n", "a.d.e", text("f/"),
			"a:\n  b: 1\n  d:\n    e: f/\n\nc: 2\n"},
		{"YAML, a text that looks like a number", "a.yaml", "a: 1\n", "b", text("2"), "a: 1\nb: \"2\"\n"},
		{"YAML, in braces", "a.yaml", "a: {b: 1}\n", "a.c", text("d"), "a: {b: 1, c: d}\n"},
		{"YAML, without a line's end", "a.yaml", "a: 1", "b", number("2"), "a: 1\nb: 2\n"},
		{"TOML, replaced", "a.toml", "a = 'b' # c\n", "a", text("d"), "a = \"d\" # c\n"},
		{"TOML, added at the top", "a.toml", "# x\n[t]\nb = 1\n", "a", text("c"), "a = \"c\"\n# x\n[t]\nb = 1\n"},
		{"TOML, added to a table", "a.toml", "[t]\nb = 1\n\n[u]\nc = 2\n", "t.d", number("3"),
			"[t]\nb = 1\nd = 3\n\n[u]\nc = 2\n"},
		{"TOML, behind a list", "a.toml", "[t]\nb = [\n  1, # [\n]\n\n[u]\n", "t.d", number("3"),
			"[t]\nb = [\n  1, # [\n]\nd = 3\n\n[u]\n"},
		{"TOML, a list replaced", "a.toml", "[t]\n\"b[\" = [1, 2] # c\n", "t.b[", text("d"),
			"[t]\n\"b[\" = \"d\" # c\n"},
		{"TOML, a new table", "a.toml", "a = 1\n", "t.u.b", text("c"), "a = 1\n\n[t.u]\nb = \"c\"\n"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			format := FormatOf(c.path)
			root, err := format.Parse([]byte(c.src))
			require.NoError(t, err)
			style := Style{Format: format.Name, Quote: '"'}
			if format.Name == "YAML" {
				style.Quote = 0
			}
			keys := strings.Split(c.key, ".")
			edit, changed, err := Set([]byte(c.src), root, style, keys, c.value)
			require.NoError(t, err)
			require.Equal(t, c.want != "", changed)
			if !changed {
				return
			}
			got, err := source.Apply([]byte(c.src), []source.Edit{edit})
			require.NoError(t, err)
			assert.Equal(t, c.want, string(got))
			again, err := format.Parse(got)
			require.NoError(t, err)
			assert.True(t, Same(again.At(keys...), c.value), fmt.Sprint(again.At(keys...)))
			_, changed, err = Set(got, again, style, keys, c.value)
			require.NoError(t, err)
			assert.False(t, changed, "what is set is not set again")
		})
	}
	root, _ := ParseJSON([]byte(`{"a": 1}`))
	_, _, err := Set([]byte(`{"a": 1}`), root, Style{Format: "JSON", Quote: '"'}, []string{"a", "b"}, text("c"))
	assert.ErrorIs(t, err, ErrNoObject)
}

// A file of very many keys is read by the parser of single expressions alone: its values are the same, and what is
// wrong is found.
func TestManyKeysOfTOML(t *testing.T) {
	t.Parallel()
	var text strings.Builder
	text.WriteString("[tool.hilltop]\nnight = 'x/y'\n[tool.keys]\n")
	for i := range 8000 {
		fmt.Fprintf(&text, "k%d = 'v%d'\n", i, i)
	}
	text.WriteString("[tool.hilltop.dome]\nopen = true\n")
	root, err := ParseTOML([]byte(text.String()))
	require.NoError(t, err)
	assert.Equal(t, "x/y", root.At("tool", "hilltop", "night").String())
	assert.Equal(t, "v7999", root.At("tool", "keys", "k7999").String())
	assert.Equal(t, "true", root.At("tool", "hilltop", "dome", "open").Text)
	_, err = ParseTOML([]byte(text.String() + "broken = [1,\n"))
	assert.ErrorContains(t, err, "not valid TOML")
}
