package lang

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestEncode(t *testing.T) {
	t.Parallel()
	cases := []struct {
		form  Form
		quote byte
		text  string
		want  string // empty: the place can't hold it
	}{
		{InScript, '\'', "./a", "./a"}, {InScript, '\'', "./it's", `./it\'s`}, {InScript, '"', "./it's", "./it's"},
		{InScript, '"', `./a"b`, `./a\"b`}, {InScript, '`', "./a$b", `./a\$b`}, {InScript, '"', "./a\nb", `./a\nb`},
		{InScript, '"', `./a\b`, `./a\\b`},
		{InStyle, '"', "./a b.png", "./a b.png"}, {InStyle, 0, "./a b(1).png", `./a\ b\(1\).png`},
		{InStyle, '"', `./a"b`, `./a\"b`},
		{InMarkup, '"', `a"b`, "a&quot;b"}, {InMarkup, '\'', "a'b", "a&#39;b"}, {InMarkup, 0, "a/b", "a/b"},
		{InMarkup, 0, "a b", ""},
		{InDocument, 0, "a b(c).md", "a%20b%28c%29.md"}, {InDocument, '<', "a b.md", "a b.md"},
		{InJSON, '"', `a"b`, `a\"b`},
		{InYAML, 0, "src/a", "src/a"}, {InYAML, 0, "a: b", ""}, {InYAML, 0, "@a/b", ""},
		{InYAML, '\'', "it's", "it''s"}, {InYAML, '"', `a"b`, `a\"b`},
		{InTOML, '\'', "a/b", "a/b"}, {InTOML, '\'', "it's", ""}, {InTOML, '"', `a"b`, `a\"b`},
		{Plain, 0, "a/b", "a/b"}, {Plain, 0, "a\nb", ""},
	}
	for _, c := range cases {
		got, ok := Encode(c.text, &Mention{Form: c.form, Quote: c.quote})
		assert.Equal(t, c.want != "", ok, "%q in form %d", c.text, c.form)
		if ok {
			assert.Equal(t, c.want, got, "%q in form %d", c.text, c.form)
		}
	}
	pieces := &Mention{Form: InScript, Quote: '\'', Detail: &Detail{Join: "', '"}}
	got, _ := Encode("../views/it's", pieces)
	assert.Equal(t, `..', 'views', 'it\'s`, got)
	got, _ = Encode("./views", &Mention{Form: InScript, Quote: '\'', Detail: &Detail{Slash: true}})
	assert.Equal(t, "/views", got)
}
