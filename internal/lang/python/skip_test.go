package python

import (
	"io/fs"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// certain scans a file for certain mentions alone, which may stop early, and for all.
func certain(path string, src []byte) (quick, whole []lang.Mention, quickErr, wholeErr error) {
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	all, wholeErr := Family().Scan(path, src, declared)
	declared.Certain = true
	some, quickErr := Family().Scan(path, src, declared)
	likely := func(m lang.Mention) bool { return m.Likely }
	return slices.DeleteFunc(slices.Clip(some.Mentions), likely), slices.DeleteFunc(slices.Clip(all.Mentions), likely), quickErr, wholeErr
}

// What a file declares is read when somebody asks, unless the file is read whole; what only hands on is told at once.
func TestOutlinesAreReadLate(t *testing.T) {
	for _, row := range []struct {
		path, src      string
		later, handsOn bool
	}{
		{"a.py", "import b\nclass A: pass\n", true, false}, {"a.py", "x = 1\n", true, false}, {"a.py", "from .b import *\n", true, true},
		{"a.py", "from .b import c\n", true, false}, {"__init__.py", "from .b import c\n", false, false}, {"settings.py", "from .b import *\n", false, false},
	} {
		declared := lang.NewDeclared(&convention.Convention{}, false, nil)
		declared.Certain, declared.Outlines = true, true
		found, err := Family().Scan(row.path, []byte(row.src), declared)
		require.NoError(t, err)
		assert.Equal(t, row.later, found.Later, "%s: %s", row.path, row.src)
		assert.Equal(t, row.handsOn, found.HandsOn, "%s: %s", row.path, row.src)
		assert.Equal(t, !row.later, found.Outline != nil, "%s: %s", row.path, row.src)
	}
}

// Stopping behind the last word that may lead to a mention, or show that a file is Python 2, loses none.
func TestStoppingEarlyLosesNothing(t *testing.T) {
	rows := []string{
		"", "x", "import a\nx = 1", "x = 1\ndef f():\n  from . import b\ny = 'a.b.c'", "x = importlib.import_module('a.b')\ny = 2", "__import__('a')\n",
		"ROOT = os.path.dirname(__file__)\nx = 1\ny = os.path.join(ROOT, 'a')\n", "here = Path(__file__).parent\nx = [here / 'b']", "x = 1\n# import", "'''import a'''\nx = 2",
		"@patch (\n  'a.b.C'\n)\ndef f(): pass\nx = 1", "@patch.dict('a.b', x=1)\ndef f(): pass", "m.setattr(# why\n  'a.b.c', 1)\nx = 1", "path('x', include(r'a.urls'))\nx = 1", "patch(x, ('a.b'))\ny = 1",
		"f(1)('a.b')\npatch()('a.b')\nx = 1", "files('a') / 'b'\nx = 1", "files (__package__) / 'b'\nx = 1", "x = 1\nresource_filename(\n  __name__, 'a/b')\nx = 1", "PackageLoader('a', 'b')\nx", "os.environ.setdefault('NIGHTS_SETTINGS_MODULE', 'a.b')\nx = 1", "pkg.resource_string('a', 'b/c')\nx",
		"print 'x'\n", "import a\nx = 1\nprint >> f, x", "try: pass\nexcept A, e:\n  pass\n", "exec code\nx = 1", "print('x')\nexcept (A, B):\nexec(x)", "app.config.from_object('a.b')\nx = 1", "x = print",
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
			quick, whole, quickErr, wholeErr := certain(file, []byte(row))
			assert.True(t, reflect.DeepEqual(whole, quick) || len(whole)+len(quick) == 0, "%s: %s\n%v\n%v", file, row, whole, quick)
			assert.Equal(t, wholeErr, quickErr, "%s: %s", file, row)
		}
	}
	files := 0
	require.NoError(t, fs.WalkDir(demo.Service(), ".", func(p string, _ fs.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(p, ".py") {
			src, err := fs.ReadFile(demo.Service(), p)
			require.NoError(t, err)
			files++
			quick, whole, quickErr, wholeErr := certain(p, src)
			assert.True(t, reflect.DeepEqual(whole, quick) || len(whole)+len(quick) == 0, p)
			assert.Equal(t, wholeErr, quickErr, p)
		}
		return err
	}))
	assert.Greater(t, files, 20)
}
