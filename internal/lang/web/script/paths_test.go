package script

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// listed gives mentions as kind and text; likely ones with a question mark.
func listed(mentions []lang.Mention) []string {
	var out []string
	for _, m := range mentions {
		mark := ""
		if m.Likely {
			mark = "?"
		}
		out = append(out, m.Kind.String()+mark+" "+m.Text)
	}
	return out
}

func TestPathsInCode(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name, src string
		want      []string
	}{
		{"own folder", "path.join(__dirname, '../a', \"b.js\"); resolve(__dirname, 'c'); __dirname + '/d'; " +
			"`${__dirname}/e.js`; join(x, 'f', __dirname)",
			[]string{"file path ../a/b.js", "file path c", "file path d", "file path e.js"}},
		{"own folder in a module", "const at = dirname(fileURLToPath(import.meta.url)); join(at, 'a'); " +
			"join(import.meta.dirname, 'b'); path.join(path.dirname(fileURLToPath(import.meta.url)), 'c')",
			[]string{"file path a", "file path b", "file path c"}},
		{"unknown pieces", "path.join(__dirname, 'a', x); path.join(__dirname, x, 'b'); __dirname + '/c/' + x; " +
			"`${__dirname}/d/${x}.js`; path.join(__dirname, 'e', `f${x}`)",
			[]string{"folder read a", "folder read c/", "folder read d/", "folder read e"}},
		{"listed folders", "fs.readdirSync(path.join(__dirname, 'a')); readdir(__dirname + '/b'); " +
			"fs.promises.readdir('./c'); fs.readdirSync('d')",
			[]string{"folder read a", "folder read b", "folder read ./c", "folder read? d"}},
		{"the working folder", "path.join(process.cwd(), 'a'); process.cwd() + '/b'; path.resolve('c', 'd'); " +
			"fs.readFileSync('./e.txt'); fs.existsSync(x)",
			[]string{"working path a", "working path b", "working path? c/d", "working path ./e.txt"}},
		{"globs",
			"import.meta.glob('./a/*.js'); import.meta.glob(['./b', '!./c'], { eager: true }); import.meta.env; " +
				"import.meta.globEager(x)",
			[]string{"import glob ./a/*.js", "import glob ./b", "import glob !./c"}},
		{"computed modules", "import(`./a/${b}.js`); require('./c/' + d); import('./e' + f); import(`${g}/h`); " +
			"require.context('./i', true); new URL(`./j/${k}`, import.meta.url); import(`@/l/m-${n}`)",
			[]string{"import folder ./a/", "import folder ./c/", "import folder ./", "import folder ./i",
				"import folder ./j/", "import folder @/l/"}},
		{"addresses", "new URL('./a', import.meta.url); new URL('b', base); new URL('https://x', import.meta.url); " +
			"new Worker('./c.js'); navigator.serviceWorker.register('/d.js'); importScripts('e.js'); new Thing('./f')",
			[]string{"module url ./a", "asset ./c.js", "asset /d.js", "asset e.js", "text? ./f"}},
		{"mocks", "jest.mock('./a', () => ({})); vi.mock(`./b`); jest.requireActual<typeof import('./c')>('./c'); " +
			"jest.fn('./d'); vi.spyOn(x, 'y')",
			[]string{"mock ./a", "mock ./b", "dynamic import ./c", "mock ./c", "text? ./d"}},
		{"texts",
			"x('a/b.js', 'c', 'd e/f', 'http://g/h', '//i/j', '/k/l', `m/n`, `o/${p}`, 'q/*.js', \"r\\\\/s\", '</div>')", []string{"text? a/b.js", "text? /k/l", "text? m/n"}},
		{"a specifier is no text besides", "import 'a/b'; require('c/d'); import('e/f'); export * from 'g/h'",
			[]string{"import a/b", "require c/d", "dynamic import e/f", "export g/h"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			assert.Equal(t, c.want, listed(ScanText("a.ts", []byte(c.src), TypeScript, nil).Mentions))
		})
	}
	mentions := ScanText("a.ts", []byte("path.join(__dirname, '..', 'a')"), TypeScript, nil).Mentions
	require.Len(t, mentions, 1)
	assert.Equal(t, "', '", mentions[0].Detail.Join)
	assert.Equal(t, source.Span{Start: 22, End: 29}, mentions[0].Span)
}

func TestConfiguration(t *testing.T) {
	t.Parallel()
	got := listed(ScanText("a.config.ts", []byte("export default { root: 'app', name: 'app', plugins: ['b/c'], './d': "+
		"1, 'e': 2, files: ['f', '!g/**'], x: `@use \"h/i\";`, y: '^j/k$' }"), TypeScript, nil).Mentions)
	assert.Equal(t, []string{"setting? app", "setting? b/c", "setting? ./d", "setting? f", "setting pattern? !g/**",
		"sass import h/i"}, got)
	assert.True(t, IsConfiguration("a/.eslintrc.js"))
	assert.True(t, IsConfiguration("webpack.prod.js"))
	assert.False(t, IsConfiguration("config/index.js"))
}

func TestReadObject(t *testing.T) {
	t.Parallel()
	cases := []struct{ name, src, want string }{
		{"a default",
			"import x from 'y'\nexport default { a: 'b', 'c': { d: [\"e\", 1, f()] }, g, ...h, i() { return " +
				"{} }, [j]: 'k' }", "a=b c.d.0=e"},
		{"a call", "export default define(/* x */ { a: 'b' } satisfies X)", "a=b"},
		{"a function", "export default defineConfig(({ mode }) => ({ a: 'b' }))", "a=b"},
		{"a function with a body", "export default defineConfig(async () => {\n  const x = 1\n  return { a: 'b' }\n})",
			"a=b"},
		{"a constant", "const config: X = { a: 'b' }\nexport default config", "a=b"},
		{"an older module", "// c\nmodule.exports = { a: 'b', c: /[}'\"]/, d: `e${'}'}`, f: 'g' }", "a=b f=g"},
		{"what is no plain text", "export default { a: 'b' + c, d: 'e'.trim(), f: 'g' }", "f=g"},
		{"nothing", "export const a = { b: 'c' }", ""},
		{"not closed", "export default { a: 'b', c: {", "a=b"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			got := ""
			ReadObject([]byte(c.src)).Walk(func(key []string, v *manifest.Value) {
				if v.Kind == manifest.String {
					if got != "" {
						got += " "
					}
					for i, k := range key {
						if i > 0 {
							got += "."
						}
						got += k
					}
					got += "=" + v.Text
					assert.Equal(t, v.Text, c.src[v.Span.Start:v.Span.End])
				}
			})
			assert.Equal(t, c.want, got)
		})
	}
}

func TestStatedInCode(t *testing.T) {
	t.Parallel()
	c, err := convention.Read("crooked.yaml", []byte(`
crooked: 1
mentions:
  - { call: [render, res.show], like: <view>, file: views/<view>.pug }
  - { like: Hill.<class|dots>, file: app/<class>.js }
  - { in: x.config.js, key: [a.b, "c[*]"], file: <path> }
  - { in: x.config.js, key: d, is: text }
shelves: { a: src/ }
`))
	require.NoError(t, err)
	declared := lang.NewDeclared(c, false, nil)
	assert.Equal(t, []string{"stated a", "stated b", "stated c", "stated Hill.d.E"},
		listed(ScanText("a.js",
			[]byte("render('a'); x.render('b', {}); res.show('c'); y.show('n'); render(z); 'Hill.d.E'; 'Hall.f'"), JSX,
			declared).Mentions))
	assert.Equal(t, []string{"stated g", "stated h", "stated i"},
		listed(ScanText("x.config.js", []byte("export default { a: { b: 'g' }, c: ['h', 'i'], d: 'j/k' }"), JSX,
			declared).Mentions))
}

func FuzzScanText(f *testing.F) {
	for _, src := range []string{"path.join(__dirname, 'a', `b${c}`)", "a('b/c') + `/d/e` / \"f/g",
		"import.meta.glob(['a', '!b'])", "new URL(`a/${b}`, import.meta.url)",
		"export default { a: { b: 'c/d' }, e: [/x/, `y`] }", "jest.mock('a'); process.cwd() + '/b'"} {
		f.Add(src)
	}
	f.Fuzz(func(t *testing.T, src string) {
		for _, path := range []string{"a.tsx", "a.config.ts"} {
			for _, m := range ScanText(path, []byte(src), TypeScript|JSX, nil).Mentions {
				require.LessOrEqual(t, 0, m.Span.Start)
				require.LessOrEqual(t, m.Span.Start, m.Span.End)
				require.LessOrEqual(t, m.Span.End, len(src))
			}
		}
		for _, path := range []string{"a.tsx", "a.ts", "a.js"} {
			stopsEarly(t, path, []byte(src))
		}
	})
}
