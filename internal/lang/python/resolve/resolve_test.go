package resolve

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

const service = `
-- manage.py --
-- booking/__init__.py --
-- booking/settings.py --
-- booking/nights/__init__.py --
-- booking/nights/models.py --
-- booking/nights/views.py --
-- booking/nights/views.pyi --
-- booking/space/deep/thing.py --
-- tools/run.py --
-- tools/helper.py --
-- both.py --
-- both/__init__.py --
-- service/manage.py --
-- service/desk/__init__.py --
-- service/desk/urls.py --
`

// Each row is a file, its text, and what each of its imports leads to.
func TestResolve(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, file, text, want string }{
		{"absolute", "manage.py", "import booking.settings\nimport booking", "booking/settings.py booking/__init__.py"},
		{"from, a module and what it holds", "manage.py", "from booking import nights, settings, other",
			"booking/__init__.py booking/nights/__init__.py booking/settings.py booking/__init__.py"},
		{"a stub beside it", "manage.py", "import booking.nights.views",
			"booking/nights/views.py+booking/nights/views.pyi"},
		{"relative", "booking/nights/views.py",
			"from . import models\nfrom .models import Night\nfrom .. import settings\nfrom ..space.deep import thing",
			"booking/nights/__init__.py booking/nights/models.py booking/nights/models.py booking/nights/models.py " +
				"booking/__init__.py booking/settings.py booking/space/deep/ booking/space/deep/thing.py"},
		{"a package without a file", "manage.py", "import booking.space.deep.thing\nimport booking.space",
			"booking/space/deep/thing.py booking/space/"},
		{"a package before a module", "manage.py", "import both", "both/__init__.py"},
		{"of others", "manage.py", "import os.path\nfrom framework.db import models", "package package package"},
		{"missing in a package of ours", "manage.py", "import booking.gone\nfrom .gone import x",
			"nothing nothing nothing"},
		{"beyond the root", "manage.py", "from ... import x", "nothing nothing"},
		{"beside a script", "tools/run.py", "import helper\nimport booking", "tools/helper.py booking/__init__.py"},
		{"from the folder of another management script", "service/desk/urls.py",
			"import desk.urls\nfrom desk import urls",
			"service/desk/urls.py service/desk/__init__.py service/desk/urls.py"},
		{"by a call", "manage.py", "__import__('booking.nights.models'); import_module('.x')",
			"booking/nights/models.py outside"},
	} {
		tree := projecttest.Load(t, service)
		id, ok := tree.Lookup(row.file)
		require.True(t, ok)
		r := New(known(tree))
		var got []string
		for _, m := range syntax.Scan([]byte(row.text)) {
			got = append(got, target(tree, r.Resolve(id, &m)))
		}
		assert.Equal(t, row.want, strings.Join(got, " "), row.name)
	}
}

func target(tree *project.Project, t lang.Target) string {
	switch t.Kind {
	case lang.ToFile:
		if t.Twin != project.None {
			return tree.Path(t.File) + "+" + tree.Path(t.Twin)
		}
		return tree.Path(t.File)
	case lang.ToFolder:
		return t.Folder() + "/"
	case lang.ToPackage:
		return "package"
	case lang.ToNothing:
		return "nothing"
	}
	return "outside"
}

// Roots are found by what projects say, and in the convention.
func TestRoots(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ tree, convention, want string }{
		{"-- a.py --", "", "."},
		{"-- src/pkg/__init__.py --", "", "src ."},
		{"-- src/__init__.py --", "", "."},
		{"-- back/manage.py --", "", "back ."},
		{"-- pkg/__init__.py --\n-- pkg/setup.py --\n-- pkg/copy.py --\n-- pkg/manage.py --", "", "."},
		{"-- lib/pyproject.toml --\n[tool.setuptools.packages.find]\nwhere = [\"python\"]\n" +
			"-- lib/python/x/__init__.py --", "", "lib/python lib ."},
		{"-- setup.cfg --\n[options.packages.find]\nwhere = code\n-- code/x/__init__.py --", "", "code ."},
		{"-- pyproject.toml --\n[tool.pytest.ini_options]\npythonpath = [\"app\", \"../out\"]\n-- app/x.py --", "",
			"app ."},
		{"-- app/x.py --", "roots: { python: { now: app/, then: . } }\n", "app ."},
	} {
		c, err := convention.Read("crooked.yaml", []byte("crooked: 1\nshelves: { a: a/ }\n"+row.convention))
		require.NoError(t, err)
		assert.Equal(t, row.want, strings.Join(findRoots(projecttest.Load(t, row.tree+"\n"),
			lang.NewDeclared(c, false, nil)), " "), row.tree)
	}
}

func TestAmbiguousModulesAreTold(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t,
		"-- manage.py --\n-- nights/__init__.py --\n-- back/manage.py --\n-- back/nights/__init__.py --\n")
	assert.Equal(t,
		[]string{"the module nights is in back and in the root: an import of it from elsewhere leads to the first"},
		Rules(known(tree)).Warnings)
}

// Of two roots that hold a module of a name, a file means the one that it lies in; a package with a file counts before
// a folder without.
func TestNearestRoot(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- setup.py --\n-- src/hill/__init__.py --\n-- hill/readme.py --\n"+
		"-- tests/__init__.py --\n-- tests/test_a.py --\n-- docs/one/setup.py --\n-- docs/one/tests/__init__.py --\n"+
		"-- docs/one/tests/test_b.py --\n"+
		"-- docs/two/setup.py --\n-- docs/two/tests/__init__.py --\n-- docs/two/tests/test_c.py --\n")
	r := New(known(tree))
	for _, c := range []struct{ from, module, want string }{
		{"tests/test_a.py", "tests", "tests/__init__.py"},
		{"docs/one/tests/test_b.py", "tests", "docs/one/tests/__init__.py"},
		{"docs/two/tests/test_c.py", "tests.test_c", "docs/two/tests/test_c.py"},
		{"tests/test_a.py", "hill", "src/hill/__init__.py"},
	} {
		from, _ := tree.Lookup(c.from)
		to := r.Resolve(from, &lang.Mention{Text: c.module, Kind: syntax.ModuleImport})
		require.Equal(t, lang.ToFile, to.Kind, c.from)
		assert.Equal(t, c.want, tree.Path(to.File), c.from)
		text, ok := r.absolute(c.from, to)
		assert.True(t, ok)
		assert.Equal(t, c.module, text)
	}
}

// known is a tree whose files are read for what they give values to.
func known(p *project.Project) *lang.Tree {
	return lang.NewTree(p, nil, lang.Family{
		Reads: func(p string) bool { return strings.HasSuffix(p, ".py") },
		Index: func(_ string, content []byte) (any, error) { return syntax.IndexOf(content), nil },
	})
}
