package markup

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python"
	"crookedshelf/internal/lang/style"
	"crookedshelf/internal/lang/web"
)

var cases = []struct {
	name, path, text string
	want             []string // kind and text; likely ones with a question mark
}{
	{"attributes", "a.html",
		`<img src="a.png" SRC="b.png"><IMG SRC=c.png><a href='d.html?x#y'><video poster=" e.jpg "><link href=f.css><p title="g/h.png">`,
		[]string{"asset a.png", "asset c.png", "asset d.html?x#y", "asset e.jpg", "asset f.css"}},
	{"other places", "a.html",
		`<a href="#x"><a href="?y"><a href="mailto:a@b"><img src="//x/y.png"><img src="https://x/y.png"><img src="data:image/png;base64,a/b"><img src=""><img src>`, nil},
	{"entities", "a.html", `<img src="a&amp;b.png?c=1&copy=2">`, []string{"asset a&b.png?c=1&copy=2"}},
	{"sets", "a.html", `<img srcset="a.png, b.png 2x,c.png 3x , d,e.png"><source srcset="f.png 1x">`,
		[]string{"asset a.png", "asset b.png", "asset c.png", "asset d,e.png", "asset f.png"}},
	{"what is no tag", "a.html",
		`a < b <!-- <img src="a.png"> --><!doctype html><? <img src="b.png"> ?></img src="c.png"><1 src="d.png"><!--> <img src="e.png">`, []string{"asset e.png"}},
	{"raw text", "a.html",
		`<title><img src="a.png"></title><textarea><img src="b.png"></textarea><svg><title><img src="c.png"></title></svg><style>a{b:url(d.png)}</style><script>"<img src='e.png'>"</script>`,
		[]string{"asset c.png", "style asset d.png"}},
	{"a script in a script", "a.html",
		"<script><!-- <script> </script> <img src='a.png'> --></script><img src=\"c.png\">", []string{"asset c.png"}},
	{"scripts of a page", "a.html",
		`<script type="module">import './a.js'; import '/b.js'; require('c.js')</script><script type="text/template"><img src="d.png"></script><script src="e.js"></script>`,
		[]string{"import ./a.js", "asset /b.js", "asset e.js"}},
	{"an import map", "a.html",
		`<script type="importmap">{"imports": {"x": "./x.js", "y": "https://y"}, "scopes": {"./z/": {"x": "./z.js"}}}</script>`, []string{"asset ./x.js", "asset ./z.js"}},
	{"a style of an element", "a.html", `<p style="background: url('a.png')">`, []string{"style asset a.png"}},
	{"a component", "a.vue", "<script setup lang=\"ts\">import a from './a'</script>\n" +
		"<script>export default { b: require('./b') }</script>\n" +
		"<template><img src=\"./c.png\"><b-c src=\"./d.png\"/><img :src=\"require('./e.png')\"><a href=\"/f\">{{ x < " +
		"'<img src=g>' }}</a></template>\n" +
		"<style lang=\"scss\" scoped>@use './h';</style><i18n>{\"<img src='i.png'>\": 1}</i18n>",
		[]string{"import ./a", "require ./b", "asset ./c.png", "text? ./d.png", "require ./e.png", "text? /f",
			"sass import ./h"}},
	{"a component's own files", "a.vue",
		`<script src="./a.ts"></script><template src="./b.html"></template><style src="./c.css"></style>`,
		[]string{"asset ./a.ts", "asset ./b.html", "asset ./c.css"}},
	{"a component in another language", "a.vue", "<template lang=\"pug\">\nimg(src='a.png')\n<img src=\"b.png\">\n" +
		"</template><script type=\"text/ecmascript-6\">import './c'</script>", []string{"import ./c"}},
	{"a computed path in an attribute", "a.vue",
		"<template><img :src=\"require('@/a/' + b)\"><img v-bind:src=\"c ? require(`../d/${e}.png`) : ''\"></template>",
		[]string{"import folder @/a/", "import folder ../d/"}},
	{"braces", "a.svelte",
		`<script>import a from './a'</script><img src={b} alt="{c}"><img src="./d{e}.png"><img src="./f.png"><style>g{h:url(./i.png)}</style>`, []string{"import ./a", "asset ./f.png", "style asset ./i.png"}},
	{"a script in front", "a.astro", "---\nimport A from './A.astro'\nconst x = 'b/c.png'\n---\n" +
		"<A x={ {y: '}'} } /><img src=\"./d.png\"><script>import './e'</script>",
		[]string{"import ./A.astro", "text? b/c.png", "asset ./d.png", "import ./e"}},
	{"handlebars", "a.hbs",
		"{{> parts/a}}{{>b}}{{~> 'c'}}{{#> d}}{{/d}}{{e 'f'}}<img src=\"{{g}}/h.png\"><img src=\"/i.png\">",
		[]string{"include parts/a", "include b", "include c", "asset /i.png"}},
	{"nunjucks", "a.njk",
		`{% extends "a.njk" %}{%- include 'b.njk' ignore missing %}{% from "c.njk" import d %}{% set x = "e.njk" %}{# include "f.njk" #}<img src="{{ g }}">`, []string{"include a.njk", "include b.njk", "include c.njk"}},
	{"embedded scripts", "a.ejs", "<% if (a < b) { %><%- include('a/b') %><%= c('d/e') %><img src=\"f.png\"><% } %>",
		[]string{"include a/b", "asset f.png"}},
	{"indentation", "a.pug",
		"extends a\n//- include b\ninclude:md c.md\nimg(src='d.png' alt=\"e\")\na(href=f) include g\n",
		[]string{"include a", "include c.md", "asset d.png"}},
	{"links", "a.md",
		"[a](b.md) ![c](d.png 'e') [f](<g h.png>) [i](j(k).md) [l](https://m) [n](#o)\n[p]: q.md \"r\"\n[^s]: t.md\n",
		[]string{"link b.md", "link d.png", "link g h.png", "link j(k).md", "link q.md"}},
	{"code in a document", "a.md", "`[a](b.md)` ``c` [d](e.md)``\n```js\n[f](g.md)\n```\n~~~\n[h](i.md)\n```\n~~~\n" +
		"[j](k.md)\n<img src=\"l.png\">\n", []string{"link k.md", "asset l.png"}},
	{"what code in a document imports", "a.md", "```py title=\"a\"\nfrom a.b import c\n```\n```jsx\n" +
		"import D from '@/d'\nconst e = <p/>\n```\n```sh\nimport 'f'\n```\n~~~ts\nimport type { G } from './g'\n",
		[]string{"from? a.b", "from name? c", "import? @/d", "import? ./g"}},
	{"paths in restructured text", "a.rst", ".. include:: ../b.rst\n.. |c| image:: d/*.png\n   :target: e.html\n\n" +
		".. csv-table:: f\n   :file: g.csv\n\n:doc:`/h` :download:`i\n<j.zip>` `k <l.rst>`_ `m <https://n>`_\n\n" +
		".. _o: p.html\n.. toctree::\n   :maxdepth: 2\n\n   q/r\n   S t <u>\n   https://v\n\nw <x.rst>\n",
		[]string{"link ../b.rst", "import glob d/*.png", "link e.html", "link g.csv", "include /h", "link j.zip",
			"link l.rst", "link p.html", "link q/r", "link u"}},
	{"names in restructured text", "a.rst", ".. automodule:: a.b\n   :members:\n\n:class:`~a.b.C` :func:`d\n" +
		"<e.f>` :ref:`g`\n\n.. autosummary::\n   h.i\n\n.. code-block:: python\n   :linenos:\n\n   from j.k import l\n" +
		"   x = 1\n\n.. code-block:: sh\n\n   import m\n\n>>> import n.o\n",
		[]string{"module text? a.b", "module text? a.b.C", "module text? e.f", "module text? h.i", "from? j.k",
			"from name? l", "module text? n.o"}},
	{"front matter", "a.md", "---\nlayout: ../b/c.njk\ntitle: d/e f\n---\n[g](h.md)\n",
		[]string{"setting? ../b/c.njk", "setting? d/e f", "link h.md"}},
	{"a document with imports", "a.mdx", "import A from './A'\nexport const b = 1\n\n<A src=\"./c.png\" d={e} />\n",
		[]string{"import ./A", "text? ./c.png"}},
}

// scan finds what a file of markup holds, also in the languages that it embeds.
func scan(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
	l := lang.Languages{Families: []lang.Family{Family(), web.Family(), style.Family(), python.Family()}}
	return l.Scan(&l.Families[0], p, p, content, declared)
}

func TestScan(t *testing.T) {
	t.Parallel()
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			found, err := scan(c.path, []byte(c.text), nil)
			require.NoError(t, err)
			var got []string
			last := 0
			for _, m := range found.Mentions {
				require.LessOrEqual(t, last, m.Span.Start)
				last = m.Span.End
				if !strings.Contains(m.Text, "&") {
					require.Equal(t, m.Text, c.text[m.Span.Start:m.Span.End])
				}
				mark := ""
				if m.Likely {
					mark = "?"
				}
				got = append(got, m.Kind.String()+mark+" "+m.Text)
			}
			assert.Equal(t, c.want, got)
		})
	}
}

func TestStatedTagsAndCalls(t *testing.T) {
	t.Parallel()
	c, err := convention.Read("crooked.yaml", []byte(`
crooked: 1
mentions:
  - { call: [page, include], like: <view>, file: views/<view>.njk }
  - { file: parts/<path>.vue, like: <path|pascal>, in_templates: true }
shelves: { a: src/ }
`))
	require.NoError(t, err)
	declared := lang.NewDeclared(c, false, nil)
	texts := func(path, text string) (out []string) {
		found, err := scan(path, []byte(text), declared)
		require.NoError(t, err)
		for _, m := range found.Mentions {
			out = append(out, m.Kind.String()+" "+m.Text)
		}
		return out
	}
	assert.Equal(t, []string{"stated a/b", "stated c"},
		texts("a.njk", `{% page "a/b" %}{% include "c" %}{% other "d" %}`))
	assert.Equal(t, []string{"stated a/b", "stated c"},
		texts("a.html", `<a href="{% page 'a/b' %}?x={% other 'd' %}" src="{{ x }}">{% include "c" %}</a>`),
		"a page with tags is a template")
	assert.Equal(t, []string{"component NightCard", "component night-card", "component night-card"},
		texts("a.vue", "<template><NightCard/><night-card><p></p></night-card></template>"))
}

func FuzzScan(f *testing.F) {
	for _, c := range cases {
		f.Add(c.path, c.text)
	}
	f.Fuzz(func(t *testing.T, path, text string) {
		if _, known := dialectOf(path); !known {
			return
		}
		found, err := scan(path, []byte(text), nil)
		require.NoError(t, err)
		last := 0
		for _, m := range found.Mentions {
			require.LessOrEqual(t, last, m.Span.Start)
			require.LessOrEqual(t, m.Span.Start, m.Span.End)
			require.LessOrEqual(t, m.Span.End, len(text))
			last = m.Span.End
		}
	})
}
