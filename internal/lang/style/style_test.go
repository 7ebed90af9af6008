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
	{"import url", `@import url(a.css); @import URL("b.css") layer(x);`,
		[]string{"style import a.css", "style import b.css"}},
	{"only the first string of an import", `@import "a.css" supports(content: "b.css");`,
		[]string{"style import a.css"}},
	{"url", `a { background: url(i.png), url( 'j.png' ) } b { src: url("k.woff2#x?y") }`,
		[]string{"style asset i.png", "style asset j.png", "style asset k.woff2#x?y"}},
	{"addresses are none",
		`a { b: url(data:image/png;base64,x), url(https://hilltop.example/x), url(//x), url(#id), url() }`, nil},
	{"an address from the root", `a { b: url(/abs/a.png) }`, []string{"style asset /abs/a.png"}},
	{"comments and strings", `/* @import "a.css"; */ a::before { content: "url(b.png)"; } /* not closed url(c.png)`,
		nil},
	{"modules", `.a { composes: b c from "./b.css"; composes: d from global } @value e from './e.css';`,
		[]string{"style import ./b.css", "style import ./e.css"}},
	{"from elsewhere is none", `@keyframes x { from { content: "y" } }`, nil},
	{"a string that ends with its line", "a { content: \"x\n} @import 'b.css';", []string{"style import b.css"}},
	{"escapes are left alone", `a { b: url(a\.png) }`, nil},
	{"not closed", `a { b: url(i.png`, []string{"style asset i.png"}},
	{"sets of images", `a { b: image-set("a.png" 1x, url(b.png) 2x) }`,
		[]string{"style asset a.png", "style asset b.png"}},
	{"pieces are no path", `a { b: url("a" + ".png"); c: url(a b.png) }`, nil},
}

var dialectCases = []struct {
	name    string
	dialect Dialect
	src     string
	want    []string
}{
	{"modules", SCSS,
		`@use "a" as b; @use 'sass:math'; @forward "c" show d; @include meta.load-css("e"); @include f("g");`,
		[]string{"sass import a", "sass import c", "sass import e"}},
	{"imports", SCSS, "@import 'a', \"b\";\n@import 'c.css', 'd' screen, url(e.css), 'http://f';",
		[]string{"sass import a", "sass import b", "style import c.css", "style import d", "style import e.css"}},
	{"comments and interpolation", SCSS, "// @use 'a';\n/* @use 'b'; */ c { d: url('#{$e}/f.png'), url(#{$g}), " +
		"url($h), url(i.png) } // url(j.png)\n@use 'k';", []string{"style asset i.png", "sass import k"}},
	{"an interpolated block", SCSS, `.a-#{$b} { c: d } #{e} { f: url(g.png) }`, []string{"style asset g.png"}},
	{"lines", Sass, "@import a, b/c\n@use \"d\"\ne\n  f: url(g.png)\n// h\n   @use \"i\"\n@use 'j' as k",
		[]string{"sass import a", "sass import b/c", "sass import d", "style asset g.png", "sass import j"}},
	{"options", Less, "@import (reference, optional) 'a'; @import url('b.less'); @import (css) url(c.css); @plugin " +
		"\"d\"; @e: ~\"f\"; // @import 'g';\n.h() { i: data-uri('j.png'); k: url(\"@{l}/m.png\") }",
		[]string{"less import a", "less import b.less", "less import c.css", "style asset d", "style asset j.png"}},
	{"utility classes", CSS, "@import 'a'; @source '../b'; @source '../c/**/*.{js,ts}'; @config \"../d.js\"; @plugin " +
		"'e'; @plugin './f'; @reference './g.css';", []string{"style import a", "style asset ../b",
		"import glob ../c/**/*.{js,ts}", "style asset ../d.js", "style asset ./f", "style asset ./g.css"}},
	{"variables", SCSS, "$a: '../a/'; $b: 'b'; .c { d: './e' } $f: '.' + $g; $h: '..';", []string{"style asset ../a/"}},
	{"what a loader writes", CSS, ":import(\"./a.css\") { b: c }", []string{"style import ./a.css"}},
}

func TestDialects(t *testing.T) {
	t.Parallel()
	for _, c := range dialectCases {
		t.Run(c.name, func(t *testing.T) {
			var got []string
			for _, m := range Scan([]byte(c.src), c.dialect) {
				assert.Equal(t, m.Text, c.src[m.Span.Start:m.Span.End])
				got = append(got, m.Kind.String()+" "+m.Text)
			}
			assert.Equal(t, c.want, got)
		})
	}
}

func TestScan(t *testing.T) {
	t.Parallel()
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
	for _, c := range dialectCases {
		f.Add([]byte(c.src))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		for _, d := range []Dialect{CSS, SCSS, Sass, Less} {
			last := 0
			for _, m := range Scan(src, d) {
				require.LessOrEqual(t, last, m.Span.Start)
				require.LessOrEqual(t, m.Span.Start, m.Span.End)
				require.LessOrEqual(t, m.Span.End, len(src))
				last = m.Span.End
			}
		}
	})
}
