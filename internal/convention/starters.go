package convention

import (
	"embed"
	"fmt"
	"path"
	"strings"
)

//go:embed starters
var starterFiles embed.FS

// Starter is a convention to begin with.
type Starter struct {
	Name string `json:"name"`
	For  string `json:"for"` // the comment at its head, as one line
	Text []byte `json:"-"`
	// Python: it is for projects in that language; all others are for scripts.
	Python bool `json:"-"`
}

// starterNames are in the order in which teams grow.
var starterNames = []string{"one-room", "by-feature", "by-module", "layered", "front-door", "beside-management", "full-stack", "workspace", "grouped", "python-package", "python-application"}

// Starters are all starters.
func Starters() []Starter {
	out := make([]Starter, len(starterNames))
	for i, name := range starterNames {
		text, err := starterFiles.ReadFile(path.Join("starters", name+".yaml"))
		if err != nil {
			panic(err) // embedded: a test reads them all
		}
		out[i] = Starter{Name: name, For: headComment(text), Text: text, Python: strings.HasPrefix(name, "python-")}
	}
	return out
}

// FindStarter gives a starter by its name. The error lists what there is.
func FindStarter(name string) (Starter, error) {
	for _, s := range Starters() {
		if s.Name == name {
			return s, nil
		}
	}
	return Starter{}, fmt.Errorf("there is no starter %q%s; the starters are %s", name, nearest(name, starterNames), strings.Join(starterNames, ", "))
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
