package script

import (
	"io/fs"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/text"
)

// scanCase is one row: the source, and what each mention must be, as kind and text.
type scanCase struct {
	name    string
	dialect Dialect
	src     string
	want    []string
}

const (
	js  = JSX
	ts  = TypeScript
	tsx = TypeScript | JSX
)

var scanCases = []scanCase{
	// the kinds of mention
	{"side effect", js, `import './a'`, []string{"import ./a"}},
	{"default", js, `import a from "./a";`, []string{"import ./a"}},
	{"names over lines", js, "import {\n a, // one\n b as c, /* two */\n} from './a'\r\nimport d from './d'",
		[]string{"import ./a", "import ./d"}},
	{"star", js, `import * as a from './a'; import d, * as e from './e'`, []string{"import ./a", "import ./e"}},
	{"a binding called from", js, `import from from './a'; import {from} from './b'`,
		[]string{"import ./a", "import ./b"}},
	{"a binding called type", ts, `import type from './a'; import type T from './b'; import type { U } from './c'`,
		[]string{"import ./a", "import ./b", "import ./c"}},
	{"a word too many", js, `import import {} from './a'`, []string{"import ./a"}},
	{"string names", js,
		`import { "a-b" as c } from './a'; export { d as "e f" } from './d'; export * as "g" from './g'`,
		[]string{"import ./a", "export ./d", "export ./g"}},
	{"attributes", js,
		`import a from './a.json' with { type: 'json' }; import b from './b.json' assert { type: 'json' }`,
		[]string{"import ./a.json", "import ./b.json"}},
	{"deferred", js, `import defer * as a from './a'; import.defer('./b'); import.source("./c")`,
		[]string{"import ./a", "dynamic import ./b", "dynamic import ./c"}},
	{"export from", ts,
		`export * from './a'; export * as b from './b'; export { c } from './c'; export type { D } from './d'; export type * from './e'`,
		[]string{"export ./a", "export ./b", "export ./c", "export ./d", "export ./e"}},
	{"export alone", js, "export { a }\nimport { b } from './b'\nexport default 'x'", []string{"import ./b"}},
	{"dynamic", js, `const a = import('./a'); import(/* chunk */ "./b" /* end */, {}); import(` + "`./c`" + `)`,
		[]string{"dynamic import ./a", "dynamic import ./b", "dynamic import ./c"}},
	{"dynamic, not a literal", js, "import('./a' + b); import(`./${c}`); import(d)", nil},
	{"import meta", js, `import.meta.url; x.import('./a')`, nil},
	{"type import", ts, `let a: import('./a').A; type B = typeof import("./b")`,
		[]string{"dynamic import ./a", "dynamic import ./b"}},
	{"require", js, `const a = require('./a'), b = require("./b").c; require(` + "`./d$`" + `)`,
		[]string{"require ./a", "require ./b", "require ./d$"}},
	{"require, not it", js, `x.require('./a'); require('./a' + b); function require(a) {}; require; requires('./b')`,
		nil},
	{"require.resolve", js,
		`require.resolve('./a'); require . resolve("./b", {}); require.cache['./c']; require.resolve.paths('./d')`,
		[]string{"require.resolve ./a", "require.resolve ./b"}},
	{"import equals", ts, `import a = require('./a'); export import b = require("./b"); import c = D.E`,
		[]string{"require ./a", "require ./b"}},
	{"declare module", ts,
		"declare module './a' { }\ndeclare module \"*.css\"\nmodule.exports = 1; declare module N.M {}",
		[]string{"declare module ./a", "declare module *.css"}},
	{"declare module is TypeScript", js, `declare; module; './a'; { }`, nil},
	{"references", ts, "// first\n/// <reference path=\"./a.d.ts\" />\n/// <reference types='node' />\n" +
		"/// <reference lib=\"dom\" />\nlet x\n/// <reference path=\"./late\" />",
		[]string{"reference path ./a.d.ts", "reference types node"}},
	{"escapes", js, `import './\x61\u0062\u{63}'; require('.\/d')`, []string{"import ./abc", "require ./d"}},
	{"shebang and byte order mark", js, "\xEF\xBB\xBF#!/usr/bin/env node 'x' `\nimport './a'", []string{"import ./a"}},
	{"not closed", js, "import './a\nimport './b'", []string{"import ./b"}},

	// what must not confuse it
	{"comments", js, "// import './a'\n/* import './b' */ import './c' // '", []string{"import ./c"}},
	{"strings", js, `'import "./a"'; "require('./b')"; '\'import("./c")'`, nil},
	{"templates", js, "`import './a' ${require('./b')} ${`${require('./c')}`} require('./d')`",
		[]string{"require ./b", "require ./c"}},
	{"regular expression", js, `x = /['"` + "`" + `]/g; require('./a'); y = /[/]'/.test(z); require('./b')`,
		[]string{"require ./a", "require ./b"}},
	{"division", js, `a = b / c; d = 'x' / 2; (e) / require('./a') / "f"`, []string{"require ./a"}},
	{"regular expression after if", js, `if (a) /'/.test(b); while (c) /"/.exec(d); require('./a')`,
		[]string{"require ./a"}},
	{"division after a call", js, `if (f(a) / 2 > b / "'".length) require('./a')`, []string{"require ./a"}},
	{"regular expression after a block", js, "{ }\n/'/.test(a); require('./a')", []string{"require ./a"}},
	{"division after an object", js, `a = { b: 1 } / 2 / '/'; require('./a')`, []string{"require ./a"}},
	{"division after a function expression", js, `a = function () { } / 2; b = "/"; require('./a')`,
		[]string{"require ./a"}},
	{"regular expression after a declared function", js, "function a() { }\n/'/.test(b); require('./a')",
		[]string{"require ./a"}},
	{"division after a class expression", js, `a = class { } / 2; b = "/"; require('./a')`, []string{"require ./a"}},
	{"an async function expression", js, `a = async function () { } / 2; b = '/'; require('./a')`,
		[]string{"require ./a"}},
	{"export default function", js, "export default async function () { }\n/'/.test(b); require('./a')",
		[]string{"require ./a"}},
	{"return ends with its line", js, "function f() { return\n{ }\n/'/.test(a) }; require('./a')",
		[]string{"require ./a"}},
	{"postfix operators", js, `a++ / 2; b = '/'; c-- / 2; d = '/'; require('./a')`, []string{"require ./a"}},
	{"assertion of presence", ts, `a! / 2; b = '/'; c()! / 2; d = '/'; require('./a')`, []string{"require ./a"}},
	{"case", js, "switch (a) { case 'b': { }\n/'/.test(c); default: /'/.exec(d) } require('./a')",
		[]string{"require ./a"}},
	{"label", js, "a: { }\n/'/.test(b); require('./a')", []string{"require ./a"}},
	{"conditional", js, `a ? { b: 1 } : { c: 2 } / 2 / '/'; require('./a')`, []string{"require ./a"}},
	{"words as properties", js, `a.return / 2; b = '/'; a?.typeof / 2; c = '/'; require('./a')`,
		[]string{"require ./a"}},
	{"words as keys", js, `a = { return: 1, class: { b: 2 }, function: 3, if(c) { }, import: './d' }; require('./a')`,
		[]string{"require ./a"}},
	{"of", js, `for (const a of /'/.exec(b)) { } of / 2; c = '/'; require('./a')`, []string{"require ./a"}},
	{"as const", ts, "const a = [1] as const\n/ 2 / 3; b = '/'; require('./a')", []string{"require ./a"}},
	{"void result", ts, "class A { b(): void { }\n c = /'/ } require('./a')", []string{"require ./a"}},
	{"numbers", js, `1..toFixed() / 2; .5e+3 / 2; 0xe+1; 1_000n / 2; a = '/'; require('./a')`, []string{"require ./a"}},
	{"line separators", js, "// a\u2028require('./a')\n// b\rrequire('./b')", []string{"require ./a", "require ./b"}},
	{"white space beyond ASCII", js, "import\u00a0a\u3000from\ufeff'./a'", []string{"import ./a"}},
	{"private names", js, `class A { #import = 1; b() { return this.#import / 2 / '/'.length } } require('./a')`,
		[]string{"require ./a"}},

	// elements
	{"text", js, `a = <p>it's {require('./a')} an "apostrophe</p>; require('./b')`,
		[]string{"require ./a", "require ./b"}},
	{"attributes of an element", js, `a = <p b="it's>" c={require('./a')} {...d} e=<i/> f='</p>'/>; require('./b')`,
		[]string{"require ./a", "require ./b"}},
	{"fragments", js, `a = <>don't<b.c d:e-f /></>; require('./a')`, []string{"require ./a"}},
	{"less than", js, `if (a <b && c> d) require('./a')`, []string{"require ./a"}},
	{"shift", js, `a = b << c; d = <p>'</p>; require('./a')`, []string{"require ./a"}},
	{"an element that never ends", js, `a = <b; require('./a')`, []string{"require ./a"}},
	{"arrow with a type parameter", tsx,
		`a = <T,>(b: T) => b; c = <T extends D>(b: T) => b; e = <const T>(b: T) => b; require('./a')`,
		[]string{"require ./a"}},
	{"signature", tsx, "interface A { <T>(b: T): string }\nlet c: <T>(b: T) => void; require('./a')",
		[]string{"require ./a"}},
	{"type arguments of an element", tsx, `a = <B<{ c: '>' }> d="'" />; require('./a')`, []string{"require ./a"}},
	{"assertion in brackets", ts, `a = <any>/'/; b = <B>{ c: 1 }; require('./a')`, []string{"require ./a"}},
}

func found(src string, d Dialect) []string {
	var out []string
	for _, m := range Scan([]byte(src), d) {
		out = append(out, m.Kind.String()+" "+m.Text)
	}
	return out
}

func TestScan(t *testing.T) {
	t.Parallel()
	for _, c := range scanCases {
		t.Run(c.name, func(t *testing.T) {
			assert.Equal(t, c.want, found(c.src, c.dialect))
			assert.Equal(t, c.want, found(strings.ReplaceAll(c.src, "\n", "\r\n"), c.dialect), "with CRLF")
		})
	}
}

func TestSpansCoverTheTextBetweenTheQuotes(t *testing.T) {
	t.Parallel()
	for _, c := range scanCases {
		for _, m := range Scan([]byte(c.src), c.dialect) {
			raw := c.src[m.Span.Start:m.Span.End]
			assert.Equal(t, m.Text, text.DecodeScript([]byte(raw)), c.name)
			assert.Equal(t, c.src[m.Span.Start-1], m.Quote, c.name)
			assert.Equal(t, c.src[m.Span.End], m.Quote, c.name)
		}
	}
}

// Each rule that can be switched off must change what is found somewhere, or nothing tests it.
func TestEveryAblationIsNoticed(t *testing.T) {
	t.Parallel()
	for name, a := range map[string]Ablation{"jsx": NoJSX, "regexp": NoRegularExpressions,
		"template": NoTemplateNesting} {
		differs := 0
		for _, c := range scanCases {
			_, whole := ScanTraced([]byte(c.src), c.dialect, 0)
			_, without := ScanTraced([]byte(c.src), c.dialect, a)
			if !assert.ObjectsAreEqual(whole, without) {
				differs++
			}
		}
		assert.Positive(t, differs, name)
	}
}

func TestHostileInputTakesLinearTime(t *testing.T) {
	t.Parallel()
	// Each of these makes a look-ahead or a retreat run to the end of the file again and again if it is not bounded.
	for _, unit := range []string{"import {a, ", "<T>(", "<b ", "a = <A<", "`${", "({[", "/", "require('a' /**/",
		"<p>{"} {
		src := []byte(strings.Repeat(unit, 400_000/len(unit)))
		for _, d := range []Dialect{js, ts, tsx} {
			Scan(src, d)
		}
	}
}

func TestDialectOf(t *testing.T) {
	t.Parallel()
	for path, want := range map[string]Dialect{
		"a.ts": ts, "a.d.ts": ts, "b/a.mts": ts, "a.cts": ts, "a.tsx": tsx, "a.js": js, "a.jsx": js, "a.mjs": js,
		"a.cjs": js,
	} {
		d, known := DialectOf(path)
		require.True(t, known, path)
		assert.Equal(t, want, d, path)
	}
	for _, path := range []string{"a.css", "ts", ".ts", "a.json", "a.ts/b"} {
		_, known := DialectOf(path)
		assert.False(t, known, path)
	}
}

func FuzzScan(f *testing.F) {
	for _, c := range scanCases {
		f.Add([]byte(c.src), uint8(c.dialect))
	}
	f.Fuzz(func(t *testing.T, src []byte, d uint8) {
		last := 0
		for _, m := range Scan(src, Dialect(d)&tsx) {
			require.LessOrEqual(t, last, m.Span.Start)
			require.LessOrEqual(t, m.Span.Start, m.Span.End)
			require.LessOrEqual(t, m.Span.End, len(src))
			last = m.Span.End
		}
	})
}

// BenchmarkScan reads the demo's own sources, over and over.
func BenchmarkScan(b *testing.B) {
	var text []byte
	err := fs.WalkDir(demo.Hilltop(), ".", func(p string, d fs.DirEntry, err error) error {
		if _, known := DialectOf(p); err == nil && known && !d.IsDir() {
			src, err := fs.ReadFile(demo.Hilltop(), p)
			text = append(append(text, src...), '\n')
			return err
		}
		return err
	})
	require.NoError(b, err)
	b.SetBytes(int64(len(text)))
	for b.Loop() {
		Scan(text, tsx)
	}
}
