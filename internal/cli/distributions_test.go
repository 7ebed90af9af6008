package cli_test

import (
	"strings"
	"testing"
)

// Distributions of Python that can't be made are reported, with the place, before anything moves.
func TestBadDistributions(t *testing.T) {
	t.Parallel()
	const (
		manifest = "-- pyproject.toml --\n[build-system]\nrequires = [\"hatchling\"]\nbuild-backend = \"hatchling.build\"\n\n[project]\nname = \"hilltop\"\nversion = \"1\"\ndependencies = [\"click\"]\n"
		two      = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, inside: { src: { at: src/one/, from: [{ src/hilltop/one/**: {} }] } } }\n" +
			"  two: { at: parts/two/, package: true, inside: { src: { at: src/two/, from: [{ src/hilltop/two/**: {} }] } } }\n  rest: { at: src/ }\n"
		one = "-- src/hilltop/one/__init__.py --\n-- src/hilltop/one/a.py --\n"
		b   = "-- src/hilltop/two/__init__.py --\n-- src/hilltop/two/b.py --\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", manifest + one + "from ..two import b\n" + b + "\nimport hilltop.one.a\n",
			"packages may not need one another in a circle: parts/one needs parts/two (src/hilltop/one/a.py:1: b), parts/two needs parts/one (src/hilltop/two/b.py:2: hilltop.one.a)"},
		{"two of one name", "Two", manifest + one + b, "has the name two already"},
		{"no name", "'one or two'", manifest + one + b, `"one or two" is no name of a distribution`},
		{"the name of a library", "click", manifest + one + b, "click is the name of a library too, which pyproject.toml asks for"},
		{"no manifest", "true", one + b, "no pyproject.toml with a name says what its files are of"},
		{"settings of tools alone", "true", "-- pyproject.toml --\n[tool.ruff]\nline-length = 100\n" + one + b, "no pyproject.toml with a name says what its files are of"},
		{"a builder that is not known", "true", strings.ReplaceAll(strings.ReplaceAll(manifest, "hatchling.build", "maturin"), "hatchling", "maturin") + one + b,
			"maturin builds hilltop, and it is not known how that is told where packages lie"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	const same = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
		"  one: { at: parts/one/, package: true, inside: { src: { at: src/hilltop/one/, from: [{ src/hilltop/one/**: {} }] } } }\n  rest: { at: src/ }\n"
	rows = append(rows,
		badInput{"packages of one name", manifest + "-- src/hilltop/__init__.py --\n-- src/hilltop/more.py --\n" + one + same,
			"it would have modules of the package hilltop, which hilltop has too, and an installed hilltop hides them (src/hilltop/__init__.py makes it a package): let the folder be called otherwise, hilltop_one for one"},
		badInput{"data that goes without its package", manifest + "-- src/hilltop/__init__.py --\n-- src/hilltop/more.py --\nfrom importlib.resources import files\nROWS = files('hilltop').joinpath('rows.txt')\n" +
			"-- src/hilltop/rows.txt --\n" + one + strings.NewReplacer("at: src/hilltop/one/", "at: src/one/", "[{ src/hilltop/one/**: {} }]", "[{ src/hilltop/one/**: {} }, src/hilltop/rows.txt]").Replace(same),
			"src/hilltop/more.py:2 reads src/hilltop/rows.txt beside its package, and that would be of another distribution: let it go along"},
		badInput{"a template that is not valid", manifest + "-- part.toml --\n[project\n" + one + strings.Replace(same, "package: true", "package: { template: part.toml }", 1),
			"the text that its pyproject.toml begins with is not valid"})
	badInputs(t, rows, "plan")
}

// What a reader should know of distributions that are made stands in the plan.
func TestNotesOnDistributions(t *testing.T) {
	t.Parallel()
	const (
		manifest = "-- pyproject.toml --\n[build-system]\nrequires = [\"setuptools\"]\nbuild-backend = \"setuptools.build_meta\"\n\n[project]\nname = \"hilltop\"\nversion = \"1\"\ndependencies = [\"click\", \"helpers\"]\n"
		rest     = "-- hilltop/one/__init__.py --\nimport click\n-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: night-one, inside: { src: { at: src/night_one/, from: [{ hilltop/one/**: {} }] } } }\n"
	)
	badInputs(t, []badInput{
		{"how they are installed", manifest + rest, "note: pyproject.toml:1: what needs another finds it only if both are installed at once: pip install ./parts/one"},
		{"nothing is left", manifest + rest, "note: pyproject.toml:1: nothing is left that hilltop builds"},
		{"who installs the old one", manifest + rest + "-- Dockerfile --\nFROM python:3.12\nRUN pip install -e .\n", "note: Dockerfile:2: it installs what is left at the root: say ./parts/one beside it"},
		{"a version that is worked out", strings.Replace(manifest, "version = \"1\"", "dynamic = [\"version\"]", 1) + rest,
			"note: pyproject.toml:1: the version of hilltop is worked out when it is built: that of night-one is 0.1.0"},
		{"a name that says nothing", manifest + strings.Replace(rest, "import click", "import oddly", 1),
			"note: hilltop/one/__init__.py:1: it is not known by its name what oddly is of, so night-one asks for all that no import names: click, helpers"},
		{"another name", manifest + rest + "-- parts/one/pyproject.toml --\n[project]\nname = \"other\"\n",
			"note: parts/one/pyproject.toml:1: the distribution is called other, and the convention calls it night-one: the name stays"},
		{"an older file", manifest + "-- hilltop/__init__.py --\n-- setup.py --\nfrom setuptools import setup\nsetup()\n" + strings.Replace(rest, "\"*\"", "\"*\", hilltop/__init__.py", 1),
			"note: setup.py:1: it must not take the new folders for packages of hilltop: let it say which it builds"},
		{"a lock file", manifest + rest + "-- uv.lock --\n", "note: uv.lock:1: it is out of date then: uv lock writes it anew"},
	}, "plan")
}
