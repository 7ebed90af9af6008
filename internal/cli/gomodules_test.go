package cli_test

import (
	"strings"
	"testing"
)

// Modules of Go that can't be made are reported, with the place, before anything moves.
func TestBadModulesOfGo(t *testing.T) {
	t.Parallel()
	const (
		module = "-- go.mod --\nmodule hilltop.example/m\n\ngo 1.24\n"
		two    = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, from: [one/**] }\n" +
			"  two: { at: parts/two/, package: true, from: [two/**] }\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", module + "-- one/a.go --\npackage one\n\nimport \"hilltop.example/m/two\"\n\nconst A = two.B\n" +
			"-- one/inner/c.go --\npackage inner\n\nconst C = 1\n-- two/b.go --\npackage two\n\nimport \"hilltop.example/m/one/inner\"\n\nconst B = inner.C\n",
			"packages may not need one another in a circle: parts/one needs parts/two (one/a.go:3: hilltop.example/m/two), parts/two needs parts/one (two/b.go:3: hilltop.example/m/one/inner)"},
		{"two of one name", "hilltop.example/m/parts/two", module + "-- one/a.go --\npackage one\n-- two/b.go --\npackage two\n", "has the name hilltop.example/m/parts/two already"},
		{"no path", "my lib", module + "-- one/a.go --\npackage one\n-- two/b.go --\npackage two\n", "hilltop.example/m/parts/my lib is no path of a module"},
		{"no module", "true", "-- one/a.go --\npackage one\n-- two/b.go --\npackage two\n", "no go.mod says what its files are of"},
		{"a go.mod that says more", "true", module + "\nfuture ./x\n-- one/a.go --\npackage one\n-- two/b.go --\npackage two\n", "go.mod says what this program does not understand: go.mod:5"},
		{"a go.work that does not parse", "true", module + "-- go.work --\nuse (\n-- one/a.go --\npackage one\n-- two/b.go --\npackage two\n", "go.work can't be read"},
		{"what is embedded goes elsewhere", "true", module + "-- main.go --\npackage main\n\nimport _ \"embed\"\n\n//go:embed two\nvar all string\n\nfunc main() {}\n" +
			"-- one/a.go --\npackage one\n-- two/b.go --\npackage two\n", "main.go:5 embeds two/b.go, and a module embeds nothing of another"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	badInputs(t, rows, "plan")
}

// What the parted modules need that is no edit is said.
func TestNotesOnModulesOfGo(t *testing.T) {
	t.Parallel()
	const project = "-- go.mod --\nmodule hilltop.example/m\n\ngo 1.24\n\nrequire other.example/x v1.2.3\n-- go.sum --\nother.example/x v1.2.3 h1:abc=\n" +
		"-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n  one: { at: parts/one/, package: true, from: [one/**] }\n" +
		"-- one/a.go --\npackage one\n\nimport \"other.example/x/y\"\n\nvar A = y.Y\n"
	badInputs(t, []badInput{
		{"sums", project, "note: go.sum:1: all of it is copied to parts/one"},
		{"an empty module", project, "note: go.mod:1: no Go file is left in the module hilltop.example/m"},
		{"a vendor folder", project + "-- vendor/modules.txt --\n# other.example/x v1.2.3\n", "note: vendor/modules.txt:1: it is out of date then: go work vendor writes it anew"},
		{"an image that fetches first", project + "-- Dockerfile --\nFROM golang:1.26\nCOPY go.mod go.sum ./\nRUN go mod download\nCOPY . .\n",
			"note: Dockerfile:3: the go.mod files of the modules and go.work are not there yet when this line reads them"},
		{"a pattern behind cd", project + "-- Makefile --\nall:\n\tcd . && go vet ./...\n", "note: Makefile:2: ./... stops where another module begins, and how a list is written there is not known: say ./parts/one/..."},
		{"a pattern in prose", project + "-- README.md --\nRun `go vet ./...`\n", "note: README.md:1: ./... stops where another module begins: say ./parts/one/..."},
		{"nobody asks for it", project + "-- one/b.go --\npackage one\n\nimport \"third.example/z\"\n\nvar B = z.Z\n", "note: one/b.go:3: it uses third.example/z, which no go.mod asks for"},
	}, "plan")
}
