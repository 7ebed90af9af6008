package settings

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
)

// Each row is a file of settings and the names of modules that it may hold, with the packages that paths are read from.
func TestModulesInSettings(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, file, src, want string }{
		{"entry points", "pyproject.toml",
			"[project.scripts]\nobserve = \"desk.cli:main\"\n[project.entry-points.\"x.y\"]\nz = 'desk.plugins'\n",
			"desk.cli; desk.plugins"},
		{"entry points on lines", "setup.cfg",
			"[options.entry_points]\nconsole_scripts =\n    observe = desk.cli:main\n    book = desk.cli:book\n",
			"desk.cli; desk.cli"},
		{"lists of packages", "pyproject.toml",
			"[tool.setuptools]\npackages = [\"desk\", \"desk.core\"]\npy-modules = ['lone']\n",
			"desk; desk.core; lone"},
		{"lists on lines", "setup.cfg", "[options]\npackages =\n    desk\n    desk.core\n", "desk; desk.core"},
		{"coverage", ".coveragerc.ini", "[run]\nsource = desk, desk.core\nomit = desk/tests/*\n", "desk; desk.core"},
		{"linters", "setup.cfg", "[isort]\nknown_first_party = desk,tools\n", "desk; tools"},
		{"test runners", "pytest.ini", "[pytest]\nDJANGO_SETTINGS_MODULE = hilltop.settings\n", "hilltop.settings"},
		{"servers", "Procfile",
			"web: gunicorn hilltop.wsgi:application --workers 2\nnext: uvicorn main:app\nlast: something main:app\n",
			"hilltop.wsgi; main"},
		{"modules that are run", "Makefile", "run:\n\tpython -m desk\n\tpython -m desk.cli now\n" +
			"\tflask --app desk run\n\tcelery -A desk worker\n\tpytest --cov=desk tests\n",
			"desk; desk.cli; desk; desk; desk"},
		{"containers", "Dockerfile",
			"FROM python:3\nENV SETTINGS=hilltop.settings OTHER=a\nCMD [\"python\", \"-m\", \"desk.cli\"]\n",
			"hilltop.settings; desk.cli"},
		{"composed containers", "compose.yaml", "services:\n  web:\n    image: desk:1.2\n" +
			"    command: python -m desk.cli\n    environment:\n      - SETTINGS=hilltop.settings\n",
			"desk.cli; hilltop.settings"},
		{"workflows", ".github/workflows/ci.yml",
			"jobs:\n  a:\n    steps:\n      - run: |\n          python -m desk.cli\n          mypy -p desk.core\n",
			"desk.cli; desk.core"},
		{"logging", "logging.yaml",
			"formatters:\n  plain: { \"()\": desk.logs.Plain }\nloggers:\n  desk: { level: INFO }\n",
			"desk.logs.Plain"},
		{"environments", ".env", "FLASK_APP=desk\nSETTINGS=hilltop.settings\nNAME=desk\n", "desk; hilltop.settings"},
		{"what is a path", "tox.ini", "[testenv]\ncommands = python desk/cli.py -m\n", ""},
		{"what is no name", "a.toml", "a = \"1.2.3\"\nb = \"a..b\"\nc = \"x@y.z\"\n", ""},
		{"data of packages", "pyproject.toml",
			"[tool.setuptools.package-data]\ndesk = [\"data/*.csv\"]\n\"desk.core\" = ['a.txt']\n",
			"desk; data/*.csv of desk; desk.core; a.txt of desk.core"},
		{"data of packages, on lines", "setup.cfg",
			"[options.package_data]\ndesk = data/*.csv, b.txt\ndesk.core =\n    c.txt\n",
			"desk; data/*.csv of desk; b.txt of desk; desk.core; c.txt of desk.core"},
	} {
		found, err := Scan(row.file, []byte(row.src), nil)
		require.NoError(t, err, row.name)
		var got []string
		for _, m := range found.Mentions {
			switch m.Kind {
			case syntax.ModuleSetting, syntax.Program:
				got = append(got, m.Text)
			case syntax.PackagePath:
				got = append(got, m.Text+" of "+lang.Own[syntax.Detail](&m).From)
			default:
				continue
			}
			assert.Equal(t, m.Text, row.src[m.Span.Start:m.Span.End], row.name)
		}
		assert.Equal(t, row.want, strings.Join(got, "; "), row.name)
	}
}
