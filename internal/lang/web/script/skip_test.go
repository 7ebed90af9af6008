package script

import (
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// stopsEarly reads a file for what is asked, which may stop early, and whole, and wants the same mentions of both.
func stopsEarly(t testing.TB, path string, src []byte) {
	t.Helper()
	d, _ := DialectOf(path)
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	certain := func(mentions []lang.Mention) (out []lang.Mention) {
		for _, m := range mentions {
			if !m.Likely {
				out = append(out, m)
			}
		}
		return out
	}
	declared.Outlines = true // nothing is passed over
	whole := ScanWhole(path, src, d, declared).Mentions
	declared.Outlines = false
	require.Equal(t, whole, ScanText(path, src, d, declared).Mentions, "%s: %.500s", path, src)
	declared.Certain = true
	require.Equal(t, certain(whole), certain(ScanText(path, src, d, declared).Mentions), "%s: %.500s", path, src)

	declared.Certain = false
	declared.Outlines = true
	outline := ScanWhole(path, src, d, declared).Outline
	require.Equal(t, outline, ScanText(path, src, d, declared).Outline, "%s: %.500s", path, src)
	for _, asks := range asking {
		quick := scanAsked(path, src, d, asks.declared, asks.kinds)
		require.Equal(t, certain(whole), certain(quick.Mentions), "%s: %.500s", path, src)
		require.Equal(t, asks.kinds, quick.Early.Known)
		require.True(t, quick.Early.ReExports || !handsOn(path, src), "%s: %.500s", path, src)
		require.Equal(t, ofKinds(outline.Declarations, asks.kinds), ofKinds(quick.Early.Declarations, asks.kinds),
			"%s, %d: %.500s", path, asks.kinds, src)
	}

	all := lang.NewDeclared(&convention.Convention{}, false, nil)
	all.AskAll()
	all.Certain = true
	found, err := File(lang.Source{Path: path, As: path, Content: src, Declared: all})
	require.NoError(t, err)
	require.Equal(t, certain(whole), certain(found.Mentions), "%s: %.500s", path, src)
	require.Equal(t, outline, found.Outline, "%s: %.500s", path, src)
}

// asking has conventions that ask for declarations of one kind that is told early, or of all of these.
var asking = func() (out []asks) {
	for _, declares := range []string{"class", "type", "component", "hook", "[class, type, component, hook]"} {
		c, err := convention.Read("crooked.yaml", []byte("crooked: 1\nshelves: { a: { at: a/, takes: [{ declares: "+
			declares+" }] } }\n"))
		if err != nil {
			panic(err)
		}
		declared := lang.NewDeclared(c, false, nil)
		declared.Certain = true
		out = append(out, asks{declared, declared.Asked("x.ts")})
	}
	return out
}()

type asks struct {
	declared *lang.Declared
	kinds    lang.DeclarationKinds
}

// ofKinds are the declarations of some kinds, as far as shelves may ask for them.
func ofKinds(declarations []lang.Declaration, kinds lang.DeclarationKinds) (out []lang.Declaration) {
	for _, d := range declarations {
		if d.Kinds &= kinds; d.Kinds != 0 {
			d.Exported, d.Default = false, false
			out = append(out, d)
		}
	}
	return out
}

// Stopping behind the last place that may hold a mention loses none: on every row of the other tests, on the demo, and
// where packages are installed for the comparisons, on their scripts.
func TestStoppingEarlyLosesNothing(t *testing.T) {
	t.Parallel()
	for _, row := range []string{
		"import a from './a'\nconst here = path.dirname(x)\nuse(here + '/b')\nconst url = `${here}/c`",
		"import a from './a'\nconst b = <div>{a < 1 ? <p/> : null}",
		"export default 1\nexport { a } from './b'\nconst x = 1", "export   /* x */ * from 'y'\nz()",
		"/// <reference path=\"./a\" />\nconst a = 1", "#!/usr/bin/env node\nrequire /* x */ ('./a'); 1",
		"v\\u0069.mock('./a')", "vi . mock('./a')", "declare module\n'./a'", "declare module './a' {}\nconst b = 1",
		"const w = new Worker('./w.js')\n/ x / 2", "navigator.serviceWorker.register('/sw.js')",
		"const a = import.meta.glob('./*.ts')", "",
		"/// <reference path=\"./path.d.ts\" />\n/// <reference path=\"./b\" />\n",
		"/* " + strings.Repeat("x ", 1<<13) + "*/\n/// <reference path=\"./a\" />\nconst b = 1",
		"\ufeff#!/x\n// require\u2028/// <reference path=\"./a\" />\r/// <reference types=\"b\" />\nconst b = 1",
		"// jest\n/// <reference path=\"./a\" />", "/* path. /// */ /// <reference path='./a' />", "x",
		"fs.readFileSync('a/b'); const c = 1",
		"jest\n.mock('./a')\nconst b = 2", "process.cwd() + '/a'",
		"const { join } = require('path')\njoin(__dirname, 'x')", "/** @module a/b */\nconst c = 1",
		"const a = 'b/c'\nlater()", "a(`./b/c`); / 'x/y/ ", "const a = '/b'", "a('b/c\"); b(\"d/e')",
		"x = 'it/is' + \"b/\" + `/c`; y = 1 / 2", "'/' + \"a//b\" + '/'", "const s = 'a\\/b'; t = 'c/d:e'", "/",
	} {
		for _, file := range []string{"a.ts", "a.tsx", "a.js"} {
			stopsEarly(t, file, []byte(row))
		}
	}
	for _, row := range scanCases {
		stopsEarly(t, "a.tsx", []byte(row.src))
	}
	for _, row := range outlines {
		stopsEarly(t, row.file, []byte(row.text+"\nlet rest = <p/>\n"))
	}
	files := 0
	compare := func(tree fs.FS) {
		require.NoError(t, fs.WalkDir(tree, ".", func(p string, d fs.DirEntry, err error) error {
			if _, ours := DialectOf(p); err != nil || !ours || d.IsDir() || files > 6000 {
				return nil
			}
			src, err := fs.ReadFile(tree, p)
			if err != nil || len(src) > 1<<20 {
				return nil
			}
			files++
			stopsEarly(t, p, src)
			return nil
		}))
	}
	compare(demo.Hilltop())
	compare(demo.Desk())
	if modules := filepath.Join("..", "..", "..", "oracle", "npm", "node_modules"); exists(modules) {
		for _, pkg := range []string{"ra-core/src", "rxjs/src", "effect/src", "react-dom", "typescript/lib", "postcss",
			"viem", "lodash"} {
			compare(os.DirFS(filepath.Join(modules, filepath.FromSlash(pkg))))
		}
	}
	t.Logf("%d files", files)
}

// handsOn says by the whole outline whether a file only hands on.
func handsOn(path string, src []byte) bool {
	d, _ := DialectOf(path)
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	found := ScanText(path, src, d, declared)
	is := func(kinds ...*lang.Kind) bool {
		return slices.ContainsFunc(found.Mentions, func(m lang.Mention) bool {
			return !m.Likely &&
				(len(kinds) == 0 || slices.Contains(kinds, m.Kind))
		})
	}
	return !found.Outline.Own && (len(found.Outline.Exports) > 0 && is() || is(ExportFrom))
}

// What only hands on is never passed over by the look at its exports.
func TestMayHandOn(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		src   string
		hands bool // it does
		may   bool // it is taken to
	}{
		{"export * from './a'", true, true}, {"export * as a from './a'", true, true},
		{"export { a } from './a'", true, true}, {"export/**/{ a } from './a'", true, true},
		{"export type { A } from './a'", true, true}, {"import a from './a'\nexport { a }", true, true},
		{"import a from './a'\nexport default a", true, true},
		{"import a from './a'\nexport\n default /* it */ a;", true, true},
		{"import a from './a'\nexport { a as default }", true, true}, {"import a from './a'\nexport /* x */ default a",
			true, true},
		{"import classA from './a'\nexport default classA;", true, true},
		{"import { abstracts } from './a'\nexport default abstracts", true, true},
		{"export default\n/* x */ class {}", false, false},
		{"export const a = 1", false, false}, {"export default function a() {}", false, false},
		{"export default class {}", false, false}, {"export default {}", false, false},
		{"import './a'\nexport function a() {}\nconst reexport = 1", false, false},
		{"const a = await import('./a')\nexport /* x */ { a }", false, true},
		{"import a from './a' with { type: 'json' }\nexport { a }", true, true},
		{"import a = require('./a');\nexport { a }", true, true}, {"export * from './a'; export default b", true, true},
		{"/// <reference path='./a' />\nexport default a", true, true}, {"import './a'\n;/* x */\nexport\n{ a }", true,
			true}, {"import './a'\nb()\nexport * from './c'", false, true},
		{"import { a } from './a'\nb()\nexport { a }", false, false}, {"const a = 1\nexport { a }", false, false},
		{"import './a'", false, false}, {"", false, false},
	} {
		assert.Equal(t, row.hands, handsOn("a.ts", []byte(row.src)), row.src)
		assert.Equal(t, row.may, scanAsked("a.ts", []byte(row.src), TypeScript, asking[0].declared,
			asking[0].kinds).Early.ReExports, row.src)
	}
}

func exists(p string) bool {
	_, err := os.Stat(p)
	return err == nil
}
