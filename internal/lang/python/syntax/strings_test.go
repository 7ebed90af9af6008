package syntax

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// wanted writes the mentions of some kinds as text, with a ? behind what is only likely and the module that it is read
// from.
func wanted(p, src string, declared *lang.Declared, kinds ...*lang.Kind) string {
	found, _ := File(p, []byte(src), declared)
	var out []string
	for i := range found.Mentions {
		m := &found.Mentions[i]
		for _, k := range kinds {
			if m.Kind != k {
				continue
			}
			text := m.Text
			if m.Likely {
				text += "?"
			}
			if m.Detail != nil && DetailOf(m).From != "" {
				text += " of " + DetailOf(m).From
			}
			if got := src[m.Span.Start:m.Span.End]; m.Detail == nil && got != m.Text {
				text += " written " + got
			}
			out = append(out, text)
		}
	}
	return strings.Join(out, "; ")
}

// Which strings are told of, and how sure that is: by the file they stand in, by the call, by their look.
func TestStringsThatNameModules(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, file, src, want string }{
		{"by its look", "a.py", "x = 'a.b'; y = \"a.b.C\"; z = 'a.b:run'", "a.b?; a.b.C?; a.b:run?"},
		{"one name is too little", "a.py", "x = 'a'; f('a')", ""},
		{"what is no name", "a.py",
			"x = 'a..b', '.a.b', 'a.b.', 'a b.c', '1.2', 'a.1', 'a-b.c', 'a.b:c:d', 'http://a.b/c', '/a.b'", ""},
		{"names of files", "a.py", "x = 'a.html', 'b.py', 'c.tar.json', 'a.b.txt'", ""},
		{"prefixes", "a.py", "x = u'a.b', r'a.c', b'a.d', f'a.e', rb'a.f'", "a.b?; a.c?"},
		{"beyond ASCII", "a.py", "x = 'größe.maß'", "größe.maß?"},
		{"a call that loads", "a.py", "patch('a.b'); mock.patch(\"a.C\"); monkeypatch.setattr('a.b.c', 1); " +
			"importlib.util.find_spec('a.b'); include('a.urls')", "a.b; a.C; a.b.c; a.b; a.urls"},
		{"only its first string", "a.py", "patch('a.b', 'c.d'); patch(x, 'e.f')", "a.b; c.d?; e.f?"},
		{"a decorator that loads", "a.py",
			"@patch('a.b')\n@mock.patch.object(x, 'a.c')\n@mock.patch.dict(\"a.d\", {})\ndef f(): pass",
			"a.b; a.c?; a.d"},
		{"modules by calls are told as such", "a.py", "import_module('a.b'); __import__('a')", ""},
		{"settings", "hilltop/settings.py", "X = 'a.b'\nY = {'z': ['a.c.D']}", "a.b; a.c.D"},
		{"a folder of settings", "hilltop/settings/base.py", "X = 'a.b'", "a.b"},
		{"lists of applications", "settings.py",
			"INSTALLED_APPS = ['a', 'b.c']\nOTHER = ['a']\nLOCAL_APPS += ('d',)\nROOT_URLCONF = 'urls'",
			"a; b.c; d; urls"},
		{"an application's own name", "a/apps.py", "class A(AppConfig):\n    name = 'a'\n    label = 'b'", "a"},
		{"the name of the settings", "a.py",
			"os.environ.setdefault('A_SETTINGS_MODULE', 'a')\nos.environ['A_SETTINGS_MODULE'] = 'a.b'\nx = 'a'",
			"a; a.b"},
		{"what a package exports", "a/__init__.py", "__all__ = ['b', \"C\"]\n__all__ += ['d']\nx = ['e']",
			"b of .; C of .; d of ."},
		{"what a module exports are no modules", "a/b.py", "__all__ = ['b', 'C']", ""},
		{"cross-references", "a.py",
			"'''See :class:`a.B`, :func:`~a.b.c()`, :mod:`!a.d`, :ref:`a b`, :meth:`the thing <a.b.D.e>`, `a.f`.'''",
			"a.B?; a.b.c?; a.d?; a.b.D.e?"},
		{"examples", "a.py", "\"\"\"\n    >>> from a.b import C\n    >>> import a.d as e\n    >>> x = 'a.f'\n\"\"\"",
			"a.b?; a.d?"},
		{"type comments", "a.py", "x = f()  # type: Dict[str, a.b.C]\ny = 1 # type: ignore\nz = 1 # types: a.b",
			"a.b.C?"},
		{"annotations in quotes", "a.py", "def f(x: 'a.B', *, y: Optional[\"a.b.C\"] = None) -> 'a.d.E': pass",
			"a.B?; a.b.C?; a.d.E?"},
		{"over several lines", "settings.py", "INSTALLED_APPS = [\n    'a',  # 'b'\n\n    \"c.d\",\n]\nX = 'e'",
			"a; c.d"},
	} {
		assert.Equal(t, row.want, wanted(row.file, row.src, nil, ModuleText), row.name)
	}
}

// A check asks for certain mentions alone: what only looks like a name is not told then.
func TestCertainStringsAlone(t *testing.T) {
	t.Parallel()
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Certain = true
	const src = "'''See :class:`a.B`.'''\nx = 'a.b'  # type: a.C\npatch('a.d')\n"
	assert.Equal(t, "a.d", wanted("a.py", src, declared, ModuleText))
	assert.Equal(t, "a.b; a.d", wanted("settings.py", src, declared, ModuleText))
}

// Paths that code counts up from its own file: each folder with how far up it is, and each path with what it is read
// from.
func TestAnchors(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"the standard library's paths", "A = os.path.dirname(__file__)\n" +
			"B = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))\nC = dirname( realpath( __file__ ) )",
			"os.path.dirname(__file__) up 1; os.path.dirname(os.path.dirname(os.path.abspath(__file__))) up 2; " +
				"dirname( realpath( __file__ ) ) up 1"},
		{"objects", "A = Path(__file__).parent\nB = pathlib.Path(__file__).resolve().parent.parent\n" +
			"C = Path(__file__).parents[2]\nD = Path(__file__).absolute().parents[0].parent",
			".parent up 1; .parent.parent up 2; .parents[2] up 3; .parents[0].parent up 2"},
		{"the file alone is no folder", "x = __file__; y = Path(__file__); z = os.path.abspath(__file__)", ""},
		{"a folder that nothing is read from", "print(os.path.dirname(__file__))", ""},
		{"paths behind", "open(os.path.join(os.path.dirname(__file__), 'a', 'b.csv')); Path(__file__).parent / 'c' / " +
			"\"d\"; Path(__file__).parent.joinpath('e', 'f')",
			"os.path.dirname(__file__) up 1; a/b.csv from 1; .parent up 1; c/d from 1; .parent up 1; e/f from 1"},
		{"names", "A = Path(__file__).parent.parent\nB = A / 'x'\nC = os.path.join(A, 'y', name)\n" +
			"D = os.path.dirname(A)\nE = D / 'z'\nother.A / 'no'",
			".parent.parent up 2; x from 2; y from 2; os.path.dirname(A) up 3; z from 3"},
		{"a name for the file", "here = os.path.abspath(__file__)\nx = os.path.join(os.path.dirname(here), 'a')",
			"os.path.dirname(here) up 1; a from 1"},
		{"what is no path behind it",
			"A = os.path.dirname(__file__)\nA + 'x'; A // 'y'; f(A, 'z'); ','.join(A, 'w'); A / name / 'v'; A / '/abs'",
			"os.path.dirname(__file__) up 1"},
		{"targets that are none", "A = B = os.path.dirname(__file__)\nx.C = os.path.dirname(__file__)\n" +
			"f(d=os.path.dirname(__file__))\nC / 'a'; d / 'b'", ""},
	} {
		found := Scan([]byte(row.src))
		var got []string
		for _, m := range found {
			switch m.Kind {
			case AnchorFolder:
				got = append(got, fmt.Sprintf("%s up %d", m.Text, DetailOf(&m).Up))
			case AnchorPath:
				got = append(got, fmt.Sprintf("%s from %d", m.Text, DetailOf(&m).Up))
			}
		}
		assert.Equal(t, row.want, strings.Join(got, "; "), row.name)
	}
}

func TestPathsOfPackages(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ src, want string }{
		{"files('a') / 'b' / 'c.csv'", "b/c.csv of a"},
		{"resources.files(\"a.b\").joinpath('c')", "c of a.b"},
		{"pkg_resources.resource_filename('a', 'b/c.txt')", "b/c.txt of a"},
		{"files(__package__).joinpath('b')", "b of ."}, {"resource_filename(__name__, 'b/c.txt')", "b/c.txt of ."},
		{"pkgutil.get_data(__name__, 'b/c.txt'), get_data('a', 'c')", "b/c.txt of .; c of a"},
		{"files(__package__ + 'a') / 'b'; f(__package__) / 'b'; print(__name__, 'b')", ""},
		{"PackageLoader('a', \"views\")", "views of a"},
		{"files(a) / 'b'; files('a'); files('a', 'b') / 'c'; resource_filename('a', b)", ""},
	} {
		assert.Equal(t, row.want, wanted("a.py", row.src, nil, PackagePath), row.src)
	}
}

// What is met only when a function is called, or by type checkers, is told apart from what runs when the file is
// loaded.
func TestDeferred(t *testing.T) {
	t.Parallel()
	const src = `import a
def f():
    import b
    if x:
        from c import d
import e
class K:
    import g
    def m(self): import h
    import i
if TYPE_CHECKING:
    import j
elif x:
    import k
try:
    import l
except ImportError:
    import m
async def n():

# nothing

    import o
if typing.TYPE_CHECKING:
	import p
import q
`
	var at, later []string
	for _, m := range Scan([]byte(src)) {
		if m.Kind != ModuleImport {
			continue
		}
		if m.Deferred {
			later = append(later, m.Text)
		} else {
			at = append(at, m.Text)
		}
	}
	assert.Equal(t, "a e g i k l m q", strings.Join(at, " "))
	assert.Equal(t, "b h j o p", strings.Join(later, " "))
}
