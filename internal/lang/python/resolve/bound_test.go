package resolve

import (
	"path"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project/projecttest"
)

// Each row is a tree, in which the last import of main.py asks for a name of a package: a module, or what the package
// gives that name to.
func TestNamesThatHideModules(t *testing.T) {
	t.Parallel()
	const base = "-- desk/night.py --\nnight = 1\ndef hidden(): pass\n_own = 1\n-- desk/other.py --\n" +
		"-- desk/sub/__init__.py --\n-- desk/sub/night.py --\n"
	for _, row := range []struct{ name, tree, main, want string }{
		{"nothing of that name", "-- desk/__init__.py --\n", "from desk import night", "desk/night.py"},
		{"a function", "-- desk/__init__.py --\ndef night(): pass\n", "from desk import night", "desk/__init__.py"},
		{"a class", "-- desk/__init__.py --\nclass night: pass\n", "from desk import night", "desk/__init__.py"},
		{"a value", "-- desk/__init__.py --\nnight = 1\n", "from desk import night", "desk/__init__.py"},
		{"what a module of that name holds", "-- desk/__init__.py --\nfrom .night import night\n",
			"from desk import night", "desk/__init__.py"},
		{"the module itself", "-- desk/__init__.py --\nfrom . import night\n", "from desk import night",
			"desk/night.py"},
		{"the module itself, absolute", "-- desk/__init__.py --\nfrom desk import night\nimport desk.other as other\n",
			"from desk import night, other", "desk/night.py desk/other.py"},
		{"another module under its name", "-- desk/__init__.py --\nfrom . import other as night\n",
			"from desk import night", "desk/__init__.py"},
		{"a library under its name", "-- desk/__init__.py --\nimport os as night\n", "from desk import night",
			"desk/__init__.py"},
		{"under another name it hides nothing", "-- desk/__init__.py --\nfrom .night import night as n\n",
			"from desk import night", "desk/night.py"},
		{"what a star brings", "-- desk/__init__.py --\nfrom .night import *\n", "from desk import night",
			"desk/__init__.py"},
		{"a star brings what is listed alone",
			"-- desk/__init__.py --\nfrom .listed import *\n-- desk/listed.py --\n__all__ = ['a']\nnight = 1\n",
			"from desk import night", "desk/night.py"},
		{"and that",
			"-- desk/__init__.py --\nfrom .listed import *\n-- desk/listed.py --\n__all__ = ['night']\nnight = 1\n",
			"from desk import night", "desk/__init__.py"},
		{"a star brings no names of its own",
			"-- desk/__init__.py --\nfrom .private import *\n-- desk/private.py --\n_other = 1\n-- desk/_other.py --\n",
			"from desk import _other", "desk/_other.py"},
		{"a star of a star", "-- desk/__init__.py --\nfrom .far import *\n-- desk/far.py --\nfrom .night import *\n",
			"from desk import night", "desk/__init__.py"},
		{"stars in a circle", "-- desk/__init__.py --\nfrom .far import *\n-- desk/far.py --\nfrom desk import *\n",
			"from desk import night", "desk/night.py"},
		{"a star that brings the module itself",
			"-- desk/__init__.py --\nfrom .far import *\n-- desk/far.py --\nfrom . import night\n",
			"from desk import night", "desk/night.py"},
		{"a star that brings another module of that name",
			"-- desk/__init__.py --\nfrom .far import *\n-- desk/far.py --\nfrom .sub import night\n",
			"from desk import night", "desk/__init__.py"},
		{"one that is imported within a function", "-- desk/__init__.py --\ndef f():\n    from .night import night\n",
			"from desk import night", "desk/night.py"},
		{"one for type checkers", "-- desk/__init__.py --\nif TYPE_CHECKING:\n    from .night import night\n",
			"from desk import night", "desk/night.py"},
		{"one in a block",
			"-- desk/__init__.py --\ntry:\n    from .night import night\nexcept ImportError:\n    pass\n",
			"from desk import night", "desk/__init__.py"},
		{"by its whole name it is the module", "-- desk/__init__.py --\nfrom .night import night\n",
			"import desk.night\nfrom desk.night import hidden", "desk/night.py desk/night.py desk/night.py"},
	} {
		tree := projecttest.Load(t, base+row.tree+"-- main.py --\n"+row.main+"\n")
		id, ok := tree.Lookup("main.py")
		require.True(t, ok)
		r := New(known(tree))
		var got []string
		for _, m := range syntax.Scan([]byte(row.main)) {
			if to := target(tree, r.Resolve(id, &m)); !strings.HasPrefix(row.main, "from") ||
				path.Base(to) != "__init__.py" || m.Kind.String() == "from name" {
				got = append(got, to)
			}
		}
		assert.Equal(t, row.want, strings.Join(got, " "), row.name)
	}
}

// Strings resolve as far as a module goes, and what follows must be found in it.
func TestTextsResolve(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- desk/__init__.py --\nVERSION = 1\n-- desk/night.py --\nclass Night:\n"+
		"    def book(self): pass\n-- desk/lazy.py --\ndef __getattr__(name): pass\n-- desk/data/a.csv --\n"+
		"-- space/deep/thing.py --\nx = 1\n-- a.py --\n")
	r := New(known(tree))
	id, _ := tree.Lookup("a.py")
	for text, want := range map[string]string{
		"desk.night": "desk/night.py", "desk.night.Night": "desk/night.py", "desk.night.Night.book": "desk/night.py",
		"desk.night:Night": "desk/night.py",
		"desk.night.Gone":  "outside", "desk.night.Nigh": "outside", "desk.gone": "outside",
		"desk.VERSION": "desk/__init__.py", "desk.lazy.anything": "desk/lazy.py",
		"desk.data": "outside", "desk.data.a": "outside", "space.deep": "space/deep/",
		"space.deep.thing.x": "space/deep/thing.py", "other.night": "outside", "desk:VERSION": "desk/__init__.py",
	} {
		found, err := syntax.File("b.py", []byte("x = '"+text+"'"), nil)
		require.NoError(t, err)
		require.Len(t, found.Mentions, 1, text)
		assert.Equal(t, want, target(tree, r.Resolve(id, &found.Mentions[0])), text)
	}
}
