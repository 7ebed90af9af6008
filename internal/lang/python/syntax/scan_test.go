package syntax

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// listed writes mentions as kind text, with the module that a name is from.
func listed(found []lang.Mention) string {
	var out []string
	for _, m := range found {
		text := m.Kind.String() + " " + m.Text
		if m.Detail != nil {
			text += " of " + DetailOf(&m).From
		}
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

var scanCases = []struct{ name, src, want string }{
	{"plain", "import os", "module import os"},
	{"dotted, with aliases", "import a.b.c as d, e . f,g", "module import a.b.c; module import e.f; module import g"},
	{"from", "from a.b import c, d as e", "from a.b; from name c of a.b; from name d of a.b"},
	{"relative", "from . import x\nfrom .a import y\nfrom ...b.c import *\nfrom .. import (z,)",
		"from .; from name x of .; from .a; from name y of .a; from ...b.c; from name * of ...b.c; from ..; from name " +
			"z of .."},
	{"spaced dots", "from . . a import b\nfrom ... import c",
		"from ..a; from name b of ..a; from ...; from name c of ..."},
	{"in parentheses, with comments", "from a import (  # why\n  b as c,\n\n  d # 'x'\n)\nimport e",
		"from a; from name b of a; from name d of a; module import e"},
	{"joined lines", "from a \\\n  import b, \\\n c\nimport \\\n d",
		"from a; from name b of a; from name c of a; module import d"},
	{"in blocks",
		"if x: import a; from b import c\ntry:\n\timport d\nexcept E: pass\nelse: import e\ndef f(): import g",
		"module import a; from b; from name c of b; module import d; module import e; module import g"},
	{"not imports", "raise X from Y\nyield_from = 1\nx = a.import_ \ny = lambda: from_\ndef g():\n  yield from h\n" +
		"  return (yield from i)\n", ""},
	{"strings", "'import a'; \"\"\"\nimport b\n\"\"\"; r'\\\\'; b'''import c'''\nimport d # import e\n'\\\nimport f'",
		"module import d"},
	{"prefixes", "rb'import a\\''; Rb\"\"\"\n\"import b\"\"\"\nu'x'; f'{a}'; BR'\\'\nimport c", "module import c"},
	{"formatted", "f'{a[\"import b\"]} {{import c}} {d!r:>{w}}'\nf\"\"\"{\n  'import e' # x }\n}\"\"\"\n" +
		"f'{x:{y}}' f'{z!s}'\nimport g", "module import g"},
	{"formatted, with the same quotes", "f'{a['b']} {f'{c['d']}'}'\nf\"{x:\"\nimport e\nf'{\n  y\n}'; import f",
		"module import e; module import f"},
	{"a lambda's and a slice's colon", "a = lambda: b; c = d[1:e]; f: int = 1; g = {h: 1}\nimport i",
		"module import i"},
	{"calls", "__import__('a'); importlib.import_module('b.c', x); import_module( 'd' ); __import__('e' + f); " +
		"x.__import__('g'); import_module(f'h'); import_module('.i', p); import_module('no name')",
		"module call a; module call b.c; module call d; module call .i"},
	{"a name that begins like a word", "importer = 1\nfrom_x = 2\nimport_ = 3\nclassy = 4", ""},
	{"names beyond ASCII", "import größe.maß\nfrom año import día",
		"module import größe.maß; from año; from name día of año"},
	{"a mark, form feeds, line ends of all kinds", "\xef\xbb\xbfimport a\r\nimport b\r\x0cimport c\n",
		"module import a; module import b; module import c"},
	{"numbers", "1if x else 2\nx = 0xfor_ or 1e-5\nimport a", "module import a"},
	{"raw, with joined lines", "r'a\\\nimport b'\nfr'\\{c}\\d' f'\\{e}' f'\\N{DASH}{f}'\nimport g", "module import g"},
	{"a call in a formatted string", "x = f\"{import_module('a.b').c} {f'{__import__(\"d\")}'}\"",
		"module call a.b; module call d"},
	{"never closed", "x = 'import a\nimport b\ny = (\nimport c", "module import b"},
	{"decorators", "@a.b(import_)\nclass C(D, metaclass=E): import f", "module import f"},
}

func TestScan(t *testing.T) {
	t.Parallel()
	for _, c := range scanCases {
		found := Scan([]byte(c.src))
		assert.Equal(t, c.want, listed(found), c.name)
		last := 0
		for _, m := range found {
			assert.GreaterOrEqual(t, m.Span.Start, last, c.name)
			assert.LessOrEqual(t, m.Span.End, len(c.src), c.name)
			last = m.Span.End
		}
	}
}

func TestPython2IsTold(t *testing.T) {
	t.Parallel()
	for src, old := range map[string]bool{
		"print 'x'": true, "print x": true, "print >>f, x": true, "exec 'x'": true,
		"try: pass\nexcept A, e: pass": true,
		"print('x')":                   false, "print": false, "print = 1": false, "print (x)": false,
		"except_ = 1": false, "try: pass\nexcept (A, B): pass": false, "try: pass\nexcept A, B: pass": false,
		"exec(x)": false, "x = print if y else z": false,
	} {
		_, err := File("a.py", []byte(src), nil)
		assert.Equal(t, old, err != nil, src)
	}
}

func TestOutline(t *testing.T) {
	t.Parallel()
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	for src, want := range map[string]string{
		"class Night(models.Model, Generic[T], metaclass=M): pass": "Night [class type] [models.Model Generic] []",
		"class A: pass\nclass B[T](C): x = 1":                      "A [class type] [] []; B [class type] [C] []",
		"@app.route('/x')\n@cached\ndef show(): pass":              "show [function route] [] [app.route cached]",
		"async def f(): pass\ndef g():\n  def h(): pass":           "f [function] [] []; g [function] [] []",
		"LIMIT = 3\nrate: int = 4\nx == 5\nif y:\n  z = 1\n_a = 1": "LIMIT [constant] [] []; rate [constant] [] []; " +
			"_a [constant] [] []",
	} {
		found, err := File("a.py", []byte(src), declared)
		assert.NoError(t, err)
		var got []string
		for _, d := range found.Outline.Declarations {
			var kinds []string
			for _, k := range convention.DeclarationKinds {
				if d.Kinds.Has(k) {
					kinds = append(kinds, k)
				}
			}
			got = append(got, fmt.Sprint(d.Name, " ", kinds, " ", d.Extends, " ", d.Marks))
		}
		assert.Equal(t, want, strings.Join(got, "; "), src)
	}
}

func FuzzScan(f *testing.F) {
	for _, c := range scanCases {
		f.Add([]byte(c.src))
	}
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	f.Fuzz(func(t *testing.T, src []byte) {
		found, _ := File("a.py", src, declared)
		last := 0
		for _, m := range found.Mentions {
			if m.Span.Start < last || m.Span.End < m.Span.Start || m.Span.End > len(src) {
				t.Fatalf("span %v in %d bytes", m.Span, len(src))
			}
			last = m.Span.End
		}
		for _, m := range Uses(src) {
			if m.Span.Start < 0 || m.Span.End < m.Span.Start || m.Span.End > len(src) {
				t.Fatalf("use %v in %d bytes", m.Span, len(src))
			}
		}
		stopsEarly(t, "a.py", src)
	})
}

// BenchmarkScan reads lines like those of a service, with their imports at the top and within functions.
func BenchmarkScan(b *testing.B) {
	var text strings.Builder
	for i := range 200 {
		fmt.Fprintf(&text, "import a%d.b\nfrom ..nights.models import Night%d, Slot as S\n\n\nclass View%d(Base):\n"+
			"    \"\"\"Shows a night, and who has it.\"\"\"\n\n", i, i, i)
		for j := range 12 {
			fmt.Fprintf(&text, "    def show_%d(self, request, night_id=None):\n        # the night's own telescope\n"+
				"        found = self.nights.get(f\"night:{night_id!r}\", default={'slots': [1, 2.5]})\n"+
				"        if found is None:\n            from .errors import Gone\n            raise Gone(night_id)\n"+
				"        return render(request, 'nights/show.html', {\"night\": found})\n\n", j)
		}
	}
	src := []byte(text.String())
	b.SetBytes(int64(len(src)))
	for b.Loop() {
		Scan(src)
	}
}

// What a setup.py lists is read as far as it is written out.
func TestSetup(t *testing.T) {
	t.Parallel()
	for src, want := range map[string]string{
		"setup(package_data={'a': ['b/*.csv', 'c.txt'], 'a.d': ('e',)})": "module text a; package path b/*.csv " +
			"of a; package path c.txt of a; module text a.d; package path e of a.d",
		"setup(package_data = { # all\n 'a' : [ # of it\n 'b', ],\n})": "module text a; package path b of a",
		"setup(package_data={'': ['*.txt'], 'a': ['b']})":              "module text a; package path b of a",
		"setup(package_data={'a': ['b'] + more, 'c': ['d']})":          "module text a; package path b of a",
		"setup(package_data={'a': files})":                             "module text a",
		"setup(package_data={**x}, y='a.b')":                           "module text a.b",
		"setup(package_data=x)\npackage_data('a')":                     "",
		"setup(package_data={'a': ['b', f'{c}']})\nimport d": "module text a; package path b of a; " +
			"module import d",
		"setup(package_data={'a'":                                    "",
		"setup(package_data={'a': ['b":                               "module text a",
		"kw['package_data'] = 1\nd = {'package_data': {'a': ['b']}}": "",
		"dict(package_data={'no name': ['b']})":                      "package path b of no name",
		"setup(entry_points={'x': ['run = a.b:main', 'c=d:e.f [g]', 'h = i']})": "module text a.b:main; module text " +
			"d:e.f",
		"entry_points='''\n[x]\nrun = a:main\n  go= b.c:d\n'''": "module text a:main; module text b.c:d",
	} {
		found, err := File("setup.py", []byte(src), nil)
		assert.NoError(t, err)
		assert.Equal(t, want, strings.TrimSuffix(listed(found.Mentions), " of "), src)
	}
	found, err := File("a.py", []byte("setup(package_data={'a': ['b']}, x='run = a:main')"), nil)
	assert.NoError(t, err)
	assert.Empty(t, found.Mentions)
}
