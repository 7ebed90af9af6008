package syntax

import (
	"io/fs"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// stopsEarly reads a file for what is asked, which may pass over much of it, and whole, and wants the same of both.
func stopsEarly(t testing.TB, path string, src []byte) {
	t.Helper()
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	certain := func(mentions []lang.Mention) (out []lang.Mention) {
		for _, m := range mentions {
			if !m.Likely {
				out = append(out, m)
			}
		}
		return out
	}
	scan := func() ([]lang.Mention, error) {
		found, err := File(path, src, declared)
		return append([]lang.Mention(nil), found.Mentions...), err
	}
	declared.Outlines = true
	all, wholeErr := ScanWhole(path, src, declared)
	whole := append([]lang.Mention(nil), all.Mentions...)
	outlined, err := File(path, src, declared)
	require.Equal(t, wholeErr, err, "%s: %.500s", path, src)
	require.Equal(t, whole, append([]lang.Mention(nil), outlined.Mentions...), "%s: %.500s", path, src)
	require.Equal(t, all.Outline, outlined.Outline, "%s: %.500s", path, src)
	declared.Outlines = false
	quick, err := scan()
	require.Equal(t, whole, quick, "%s: %.500s", path, src)
	require.Equal(t, wholeErr, err, "%s: %.500s", path, src)
	declared.Certain = true
	asking := *declared
	asking.AskAll()
	outlined, err = File(path, src, &asking)
	require.Equal(t, wholeErr, err, "%s: %.500s", path, src)
	require.Equal(t, certain(whole), certain(outlined.Mentions), "%s: %.500s", path, src)
	require.Equal(t, all.Outline, outlined.Outline, "%s: %.500s", path, src)
	quick, err = scan()
	require.Equal(t, certain(whole), certain(quick), "%s: %.500s", path, src)
	require.Equal(t, wholeErr, err, "%s: %.500s", path, src)
}

// What a file declares is read when somebody asks, unless the file is read whole; what only hands on is told at once.
func TestOutlinesAreReadLate(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		path, src      string
		later, handsOn bool
	}{
		{"a.py", "import b\nclass A: pass\n", true, false}, {"a.py", "x = 1\n", true, false},
		{"a.py", "from .b import *\n", true, true},
		{"a.py", "from .b import c\n", true, false}, {"__init__.py", "from .b import c\n", false, false},
		{"settings.py", "from .b import *\n", false, false},
	} {
		declared := lang.NewDeclared(&convention.Convention{}, false, nil)
		declared.Certain, declared.Outlines = true, true
		found, err := File(row.path, []byte(row.src), declared)
		require.NoError(t, err)
		assert.Equal(t, row.later, found.Early != nil, "%s: %s", row.path, row.src)
		assert.Equal(t, row.handsOn, found.Early != nil && found.Early.ReExports, "%s: %s", row.path, row.src)
		assert.Equal(t, !row.later, found.Outline != nil, "%s: %s", row.path, row.src)
	}
}

// Stopping behind the last word that may lead to a mention, or show that a file is Python 2, loses none.
func TestStoppingEarlyLosesNothing(t *testing.T) {
	t.Parallel()
	rows := []string{
		"", "x", "import a\nx = 1", "x = 1\ndef f():\n  from . import b\ny = 'a.b.c'",
		"x = importlib.import_module('a.b')\ny = 2", "__import__('a')\n",
		"ROOT = os.path.dirname(__file__)\nx = 1\ny = os.path.join(ROOT, 'a')\n",
		"here = Path(__file__).parent\nx = [here / 'b']", "x = 1\n# import", "'''import a'''\nx = 2",
		"@patch (\n  'a.b.C'\n)\ndef f(): pass\nx = 1", "@patch.dict('a.b', x=1)\ndef f(): pass",
		"m.setattr(# why\n  'a.b.c', 1)\nx = 1", "path('x', include(r'a.urls'))\nx = 1", "patch(x, ('a.b'))\ny = 1",
		"f(1)('a.b')\npatch()('a.b')\nx = 1", "files('a') / 'b'\nx = 1", "files (__package__) / 'b'\nx = 1",
		"x = 1\nresource_filename(\n  __name__, 'a/b')\nx = 1", "PackageLoader('a', 'b')\nx",
		"os.environ.setdefault('NIGHTS_SETTINGS_MODULE', 'a.b')\nx = 1", "pkg.resource_string('a', 'b/c')\nx",
		"print 'x'\n", "import a\nx = 1\nprint >> f, x", "try: pass\nexcept A, e:\n  pass\n", "exec code\nx = 1",
		"print('x')\nexcept (A, B):\nexec(x)", "app.config.from_object('a.b')\nx = 1", "x = print",
		"x = 'a.b'\ny = 1", "x = r\"a.b.c\" 'd.\"", "x = f(u'ä.b'); 'c.d", "x = 'a:b'\ny = {'c': 'd', 'e:f':g}",
		"x = [] # type: a.b.C\ny = 1", "'''\n>>> from a.b\n'''\nx = 1",
		"def f():\n  \"\"\"See :class:`a.b.C` or :mod:`it <a.b>`.\"\"\"\n  x = 1", "x = 'a.b' + \"c.d' + 'e\n.f'",
		"x.y('z')", "'.'", "'a.'; '.b'", ".", "'a.b''c'", "x = 'a.\\\nb'",
		"open('a/b-c.txt')\nx = 1", "f(path=\"a/b\")\nx = 1", "run([sys.executable, 'a/b.py'])\nx = 1 / 2 // 3",
		"open('a b/c'); '/' / \"/\"",
		// what stands at the top level is found behind lines that are passed over, wherever these end
		"def f():\n  x = f'{g('\n')}' # '\n  '''\ny = 1\n'''\nz = 1",
		"if x:\n\ty = (\n1, [\n2])\n\tz = \\\n1\nclass A(B): pass\n",
		"if x:\n y = rf'{a!r:{b}}\\'\nz = '}'\n@c.d\ndef e(): pass", "if x:\r\n  y = 'a\\\r\n  b'\r\nz = 1\r\n",
		"if x:\n  y = 1f'{'\nz = 1",
		"if x:\n  y = )\nz = 1\n  w = (\nv = 1\n)\nu = 1", "if x:\n  \f\n\fy = 1\n  '\\",
		"if x:\n  y = u\"é\" + ä'b\nz = 1",
	}
	for word := range loaders {
		rows = append(rows, "x = 1\ny = "+word+"( 'a.b' )\nz = 2")
	}
	for word := range resources {
		rows = append(rows, "x = 1\ny = "+word+"('a') / 'b'\nz = "+word+"(\n'c', 'd.txt')\n")
	}
	for _, c := range scanCases {
		rows = append(rows, c.src)
	}
	for _, row := range rows {
		for _, file := range []string{"a.py", "settings.py", "__init__.py"} {
			stopsEarly(t, file, []byte(row))
		}
	}
	files := 0
	require.NoError(t, fs.WalkDir(demo.Service(), ".", func(p string, _ fs.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(p, ".py") {
			src, err := fs.ReadFile(demo.Service(), p)
			require.NoError(t, err)
			files++
			stopsEarly(t, p, src)
		}
		return err
	}))
	assert.Greater(t, files, 20)
}
