package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What builds and installs a package finds it where it has gone.
func TestPackagingFollows(t *testing.T) {
	t.Parallel()
	const hill = "-- hill/__init__.py --\n-- hill/nights.py --\n-- hill/data/stars.csv --\n"
	const inside = "-- src/hill/__init__.py --\n-- src/hill/nights.py --\n"
	into, out := "a: { at: src/hill/, from: [hill/**] }", "a: { at: hill/, from: [src/hill/**] }"
	for _, c := range []struct {
		name, shelves, tree, blocked string
		want                         map[string]string
	}{
		{"a list of packages", into, hill + "-- pyproject.toml --\n[project]\nname = \"hill\"\n[tool.setuptools]\n" +
			"packages = [\"hill\"]\n[tool.setuptools.package-data]\nhill = [\"data/*.csv\"]\n", "",
			map[string]string{"pyproject.toml": "[project]\nname = \"hill\"\n[tool.setuptools]\n" +
				"packages = [\"hill\"]\n[tool.setuptools.package-data]\nhill = [\"data/*.csv\"]\n\n" +
				"[tool.setuptools.package-dir]\n\"\" = \"src\"\n"}},
		{"packages that are found", into, hill + "-- pyproject.toml --\n[build-system]\nrequires = [\"setuptools\"]\n" +
			"[tool.setuptools.packages.find]\ninclude = [\"hill*\"]\n", "",
			map[string]string{"pyproject.toml": "[build-system]\nrequires = [\"setuptools\"]\n" +
				"[tool.setuptools.packages.find]\ninclude = [\"hill*\"]\nwhere = [\"src\"]\n"}},
		{"packages that are found, by a table in one line", into, hill + "-- pyproject.toml --\n[project]\n" +
			"name = \"hill\"\n[tool.setuptools.packages]\nfind = {namespaces = false}\n", "",
			map[string]string{"pyproject.toml": "[project]\nname = \"hill\"\n[tool.setuptools.packages]\n" +
				"find = {namespaces = false, where = [\"src\"]}\n"}},
		{"out of the folder that was named", out, inside + "-- tools/x.py --\n-- pyproject.toml --\n[project]\n" +
			"name = \"hill\"\n[tool.setuptools.packages.find]\nwhere = [\"src\"]\n", "",
			map[string]string{"pyproject.toml": "[project]\nname = \"hill\"\n[tool.setuptools.packages.find]\n" +
				"where = [\".\"]\ninclude = [\"hill\", \"hill.*\"]\n"}},
		{"an old manifest", into, hill + "-- setup.cfg --\n[metadata]\nname = hill\n[options]\npackages = find:\n" +
			"[options.packages.find]\nexclude = tests\n-- setup.py --\nfrom setuptools import setup\nsetup()\n" +
			"-- MANIFEST.in --\ngraft hill\nrecursive-include hill/data *.csv\ninclude hill/data/stars.csv\n", "",
			map[string]string{"setup.cfg": "[metadata]\nname = hill\n[options]\npackages = find:\npackage_dir =\n" +
				"    = src\n[options.packages.find]\nexclude = tests\nwhere = src\n",
				"MANIFEST.in": "graft src/hill\nrecursive-include src/hill/data *.csv\n" +
					"include src/hill/data/stars.csv\n"}},
		{"a script", into, hill + "-- setup.py --\nfrom setuptools import setup, find_packages\n" +
			"exec(open('hill/nights.py').read())\nsetup(\n    name='hill',\n" +
			"    packages=find_packages(exclude=['tests']),\n)\n", "",
			map[string]string{"setup.py": "from setuptools import setup, find_packages\n" +
				"exec(open('src/hill/nights.py').read())\nsetup(\n    package_dir={'': 'src'},\n    name='hill',\n" +
				"    packages=find_packages(where='src', exclude=['tests']),\n)\n"}},
		{"a script that says where", out, inside + "-- setup.py --\nimport setuptools\n" +
			"setuptools.setup(name=\"hill\", package_dir={\"\": \"src\"}, packages=setuptools.find_packages(\"src\"))\n", "",
			map[string]string{"setup.py": "import setuptools\nsetuptools.setup(name=\"hill\", package_dir={\"\": " +
				"\".\"}, packages=setuptools.find_packages(\".\"))\n"}},
		{"a script that lists", into, hill + "-- setup.py --\nfrom distutils.core import setup\n" +
			"setup(name='hill', packages=['hill'], package_data={'hill': ['data/*.csv']})\n", "",
			map[string]string{"setup.py": "from distutils.core import setup\n" +
				"setup(package_dir={'': 'src'}, name='hill', packages=['hill'], package_data={'hill': " +
				"['data/*.csv']})\n"}},
		{"a script that works it out", into,
			hill + "-- setup.py --\nfrom setuptools import setup\nsetup(name='hill', packages=mine())\n",
			"setup.py works out in code which packages are built, and that can't be followed", nil},
		{"a script that puts a path together", into, hill + "-- setup.py --\nimport os\n" +
			"from setuptools import setup, find_packages\nNAME = 'hill'\n" +
			"open(os.path.join(here, NAME, '__init__.py'))\nsetup(name=NAME, packages=find_packages())\n",
			"setup.py:3 has \"hill\" in a path that it puts together, which can't be written anew: the project would " +
				"no longer build", nil},
		{"a builder that finds it by its name", into, hill +
			"-- pyproject.toml --\n[build-system]\nbuild-backend = \"flit_core.buildapi\"\n[project]\nname = \"hill\"\n", "", map[string]string{}},
		{"and not elsewhere", "a: { at: code/hill/, from: [hill/**] }", hill +
			"-- pyproject.toml --\n[build-system]\nbuild-backend = \"flit_core.buildapi\"\n[project]\nname = \"hill\"\n",
			"the package is built by its name, hill, and it would be code.hill; if the folder around it is to hold " +
				"packages and is none itself, say roots: { python: { now: ., then: code/ } }", nil},
		{"a builder that is told paths", into, hill + "-- pyproject.toml --\n[build-system]\n" +
			"build-backend = \"hatchling.build\"\n[tool.hatch.build.targets.wheel]\npackages = [\"hill\"]\n", "",
			map[string]string{"pyproject.toml": "[build-system]\nbuild-backend = \"hatchling.build\"\n" +
				"[tool.hatch.build.targets.wheel]\npackages = [\"src/hill\"]\n"}},
		{"a builder that is told packages", into, hill + "-- pyproject.toml --\n[build-system]\n" +
			"build-backend = \"poetry.core.masonry.api\"\n[tool.poetry]\npackages = [{ include = \"hill\" }]\n", "",
			map[string]string{"pyproject.toml": "[build-system]\nbuild-backend = \"poetry.core.masonry.api\"\n" +
				"[tool.poetry]\npackages = [{ include = \"hill\", from = \"src\" }]\n"}},
		{"and out again", out, inside + "-- pyproject.toml --\n[build-system]\n" +
			"build-backend = \"poetry.core.masonry.api\"\n[tool.poetry]\n" +
			"packages = [{ include = \"hill\", from = \"src\" }]\n", "",
			map[string]string{"pyproject.toml": "[build-system]\nbuild-backend = \"poetry.core.masonry.api\"\n" +
				"[tool.poetry]\npackages = [{ include = \"hill\", from = \".\" }]\n"}},
		{"a builder that takes src/ for granted", out, inside +
			"-- pyproject.toml --\n[build-system]\nbuild-backend = \"uv_build\"\n[project]\nname = \"hill\"\n", "",
			map[string]string{"pyproject.toml": "[build-system]\nbuild-backend = \"uv_build\"\n[project]\n" +
				"name = \"hill\"\n\n[tool.uv.build-backend]\nmodule-root = \"\"\n"}},
		{"the folder that a package is installed in", into, hill +
			"-- hill/cli.py --\nimport os\nlocation = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))\n" +
			"-- pyproject.toml --\n[project]\nname = \"hill\"\n", "",
			map[string]string{"src/hill/cli.py": "import os\nlocation = " +
				"os.path.dirname(os.path.dirname(os.path.abspath(__file__)))\n"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			text := "-- crooked.yaml --\ncrooked: 1\nshelves:\n  " + c.shelves + "\n" + c.tree
			made, g := build(t, text)
			reason := ""
			for _, b := range made.Blocked {
				if reason = b.Reason; !strings.Contains(reason, c.blocked) {
					break
				}
			}
			assert.Equal(t, c.blocked, reason)
			files := after(t, text, made, g)
			for p, want := range c.want {
				assert.Equal(t, want, files[p], p)
			}
			assert.Empty(t, made.Writes, "a source folder is no package, and neither becomes one")
		})
	}
}

// Files that are a part of a folder go along where the folder is taken whole; folders without an __init__.py get none.
func TestPackagesTakenWhole(t *testing.T) {
	t.Parallel()
	for _, whole := range []string{"hill/**", "hill/"} {
		text := "-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: core/, from: [" + whole +
			"] }\n-- hill/__init__.py --\n-- hill/__main__.py --\n-- hill/py.typed --\n-- hill/conftest.py --\n" +
			"-- hill/only/__init__.py --\n-- hill/plain/deep/a.py --\n-- hill/manage.py --\n-- hill/x.py --\n" +
			"from hill.only import *\n"
		made, g := build(t, text)
		assert.Empty(t, made.Blocked)
		assert.Empty(t, made.Writes)
		files := after(t, text, made, g)
		for _, p := range []string{"core/__init__.py", "core/__main__.py", "core/py.typed", "core/conftest.py",
			"core/only/__init__.py", "core/plain/deep/a.py", "core/manage.py"} {
			assert.Contains(t, files, p, whole)
		}
	}
	text := "-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: src/hill/, from: hill/ }\n-- hill/__init__.py --\n"
	made, g := build(t, text)
	assert.Contains(t, after(t, text, made, g), "src/hill/__init__.py", "also where nothing else is in it")
}

// A database knows an application by its label: where the folder's name gives it, it can't change beside migrations.
func TestLabelsThatAreStored(t *testing.T) {
	t.Parallel()
	text := "-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: apps/bookings/, from: [nights/**] }\n" +
		"-- manage.py --\n-- nights/__init__.py --\n-- nights/models.py --\n-- nights/migrations/__init__.py --\n" +
		"-- nights/migrations/0001.py --\n-- nights/apps.py --\nclass C(AppConfig):\n    name = 'nights'\n"
	made, _ := build(t, text)
	assert.NotEmpty(t, made.Blocked)
	assert.Contains(t, made.Blocked[len(made.Blocked)-1].Reason,
		"is remembered by the database under the label of its application, by the application nights, and then by the "+
			"application bookings")
	same := strings.Replace(text, "    name = 'nights'\n", "    name = 'nights'\n    label = 'nights'\n", 1)
	made, g := build(t, same)
	assert.Empty(t, made.Blocked)
	after(t, same, made, g)
}
