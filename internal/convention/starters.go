package convention

import (
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/template"
)

//go:embed starters
var starterFiles embed.FS

// Starter is a convention to begin with.
type Starter struct {
	Name string `json:"name"`
	For  string `json:"for"` // the comment at its head, as one line
	Text []byte `json:"-"`
	// Family is the family of languages of the projects that it is for.
	Family string `json:"-"`
	// Package: it is for one package, which goes as a whole.
	Package bool `json:"-"`
}

const (
	web    = "JavaScript and TypeScript"
	python = "Python"
	php    = "PHP"
	java   = "Java"
	csharp = "C#"
	ruby   = "Ruby"
	rust   = "Rust"
	dart   = "Dart"
)

// starters are in the order in which teams grow.
var starters = []Starter{
	{Name: "one-room", Family: web}, {Name: "by-feature", Family: web}, {Name: "by-module", Family: web},
	{Name: "layered", Family: web},
	{Name: "front-door", Family: web}, {Name: "beside-management", Family: web}, {Name: "full-stack", Family: web},
	{Name: "workspace", Family: web},
	{Name: "grouped", Family: web}, {Name: "python-package", Family: python, Package: true},
	{Name: "python-application", Family: python}, {Name: "php-front-door", Family: php},
	{Name: "php-services", Family: php}, {Name: "java-layered", Family: java}, {Name: "java-by-feature", Family: java},
	{Name: "solution-grouped", Family: csharp}, {Name: "solution-layered", Family: csharp},
	{Name: "ruby-by-kind", Family: ruby}, {Name: "ruby-by-feature", Family: ruby},
	{Name: "rust-library", Family: rust}, {Name: "dart-server", Family: dart},
}

// Starters are all starters.
func Starters() []Starter {
	out := slices.Clone(starters)
	for i := range out {
		text, err := starterFiles.ReadFile(path.Join("starters", out[i].Name+".yaml"))
		if err != nil {
			panic(err) // embedded: a test reads them all
		}
		out[i].For, out[i].Text = headComment(text), text
	}
	return out
}

// FindStarter gives a starter by its name. The error lists what there is.
func FindStarter(name string) (Starter, error) {
	var names []string
	for _, s := range Starters() {
		if s.Name == name {
			return s, nil
		}
		names = append(names, s.Name)
	}
	return Starter{}, fmt.Errorf("there is no starter %q%s; the starters are %s", name, template.Closest(name, names),
		strings.Join(names, ", "))
}

func headComment(text []byte) string {
	var words []string
	for line := range strings.SplitSeq(string(text), "\n") {
		rest, ok := strings.CutPrefix(line, "#")
		if !ok {
			break
		}
		words = append(words, strings.TrimSpace(rest))
	}
	return strings.Join(words, " ")
}
