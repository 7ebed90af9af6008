package python

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
)

var facts = lang.Facts{
	Manifest: manifestName,
	Called:   map[string]string{".py": "Python"},
	Programs: []string{".py"},
	Records:  lang.Marks{Folders: []string{"migrations", "fixtures"}},
	Runs:     map[string]string{"python": ".py", "pypy": ".py"},
	Marker:   "__init__.py",
	Made:     []string{"PKG-INFO"}, MadeBelow: []string{".egg-info", ".dist-info"},
	Entry: "__init__",
	Shown: map[string]string{"py": ".py", "python": ".py", "python3": ".py", "pycon": ".py"},
}

// fixed says what the names of files mean to the import system, to installers, to test runners and to the habits of web
// applications (docs.python.org/3/reference/import.html; packaging.python.org; docs.pytest.org).
func fixed(p string) lang.Fixture {
	switch path.Base(p) {
	case "__init__.py", "__init__.pyi":
		return lang.Fixture{Why: "makes its folder a package", Follows: true}
	case "__main__.py":
		return lang.Fixture{Why: "is what runs when its package is run", Follows: true}
	case "py.typed":
		return lang.Fixture{Why: "says that its package has types", Follows: true}
	case "conftest.py":
		return lang.Fixture{Why: "holds what the tests below its folder share", Follows: true}
	case "manage.py":
		return lang.Fixture{Why: "is the management script, run from where it stands"}
	case "setup.py":
		return lang.Fixture{Why: "builds the project from where it stands", Builds: true}
	case "hatch_build.py":
		return lang.Fixture{Why: "is run when the project is built", Builds: true}
	}
	return lang.Fixture{}
}

// stubbed gives the module that a stub beside it describes to type checkers (typing.python.org, stub files).
func stubbed(p string, there func(string) bool) string {
	if module, stub := strings.CutSuffix(p, ".pyi"); stub && there(module+".py") {
		return module + ".py"
	}
	return ""
}
