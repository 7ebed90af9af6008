package style

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var cases = []struct {
	name, src string
	want      []string
}{
	{"import", `@import "a.css"; @import 'b.css' screen;`, []string{"style import a.css", "style import b.css"}},
	{"import url", `@import url(a.css); @import URL("b.css") layer(x);`, []string{"style import a.css", "style import b.css"}},
	{"only the first string of an import", `@import "a.css" supports(content: "b.css");`, []string{"style import a.css"}},
	{"url", `a { background: url(i.png), url( 'j.png' ) } b { src: url("k.woff2#x?y") }`, []string{"style asset i.png", "style asset j.png", "style asset k.woff2#x?y"}},
	{"addresses are none", `a { b: url(data:image/png;base64,x), url(https://hilltop.example/x), url(//x), url(#id), url() }`, nil},
	{"an address from the root", `a { b: url(/abs/a.png) }`, []string{"style asset /abs/a.png"}},
	{"comments and strings", `/* @import "a.css"; */ a::before { content: "url(b.png)"; } /* not closed url(c.png)`, nil},
	{"modules", `.a { composes: b c from "./b.css"; composes: d from global } @value e from './e.css';`, []string{"style import ./b.css", "style import ./e.css"}},
	{"from elsewhere is none", `@keyframes x { from { content: "y" } }`, nil},
	{"a string that ends with its line", "a { content: \"x\n} @import 'b.css';", []string{"style import b.css"}},
	{"escapes are left alone", `a { b: url(a\.png) }`, nil},
	{"not closed", `a { b: url(i.png`, []string{"style asset i.png"}},
}

func TestScan(t *testing.T) {
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			var got []string
			for _, m := range Scan([]byte(c.src), CSS) {
				assert.Equal(t, m.Text, c.src[m.Span.Start:m.Span.End])
				got = append(got, m.Kind.String()+" "+m.Text)
			}
			assert.Equal(t, c.want, got)
		})
	}
}

func FuzzScan(f *testing.F) {
	for _, c := range cases {
		f.Add([]byte(c.src))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		last := 0
		for _, m := range Scan(src, CSS) {
			require.LessOrEqual(t, last, m.Span.Start)
			require.LessOrEqual(t, m.Span.Start, m.Span.End)
			require.LessOrEqual(t, m.Span.End, len(src))
			last = m.Span.End
		}
	})
}
