// Package convention reads crooked.yaml: which shelves a project has, where they stand and what belongs on them.
//
// docs/convention.md is the reference for people. The package judges the text alone and never looks at a project; it
// never writes the file.
package convention

import (
	"fmt"
	"strings"

	"crookedshelf/internal/finding"
	"crookedshelf/internal/source"
	"crookedshelf/internal/template"
)

// FileName is the convention's name at the root of a project.
const FileName = "crooked.yaml"

// Convention is what crooked.yaml declares.
type Convention struct {
	Path    string // of the file, as the user knows it
	Source  []byte
	Base    string        // the folder that it governs, with a slash at its end; empty for the root
	Nested  []*Convention // of folders further down, each of which it leaves to them; only at the root
	started []byte        // the texts that it starts from
	Title   string
	// InTree is the path of the file in the project; empty where it lies outside of it. It is nobody else's settings.
	InTree  string
	Day     Day
	Shelves []*Shelf // in the order of the file, those inside another before it
	Leave   Leave

	Aliases  []Alias
	Mentions []*Mention
	Public   []Public
	Data     []*template.Template // names of files that hold no paths
	ReadAs   []ReadAs             // how files are read, the first that fits
	// files whose names are remembered elsewhere: what of a path follows the fixed folder of the template
	Stored   []*template.Template
	Settings []Setting
	Needs    []Need
	Roots    map[string]NowThen // where names start, by language
	AtOnce   [][]string         // groups of shelves that move together or not at all

	Verify     []string             // the project's own checks, as commands of a shell
	Top        []*template.Template // what may stand at the root; nil if nothing is said
	Exceptions []*Exception
	Beside     *Beside // companions of the programs on shelves that say nothing of theirs; nil for none
	Workspace  *Workspace
	Private    []*Private
	Thin       []*template.Template // entry files that declare nothing
	Discard    []*Discard
	Levels     map[string]finding.Level // by rule

	// Fixed says what binds a file to its place, by its name alone, whatever a shelf asks for; empty for nothing. It
	// goes along where a shelf takes the whole folder that it lies in. It is no part of the text. May be nil.
	Fixed func(path string) string
	// Owner gives the file that another is a part of, by their names alone; empty for none. May be nil.
	Owner func(path string, there func(path string) bool) string

	nested  map[string]*Convention // by Base
	byName  map[string]*Shelf
	lookups *lookups // nil where the convention is wrong
}

// Empty is a convention that says nothing.
func Empty() *Convention {
	c := &Convention{}
	c.lookUp()
	return c
}

// All are the convention and those of folders further down.
func (c *Convention) All() []*Convention { return append([]*Convention{c}, c.Nested...) }

// For gives the convention that governs a path: the nearest upward.
func (c *Convention) For(path string) *Convention {
	if len(c.Nested) == 0 {
		return c
	}
	for end := strings.LastIndexByte(path, '/'); end >= 0; end = strings.LastIndexByte(path[:end], '/') {
		if n := c.nested[path[:end+1]]; n != nil {
			return n
		}
	}
	return c
}

// Texts are the sources of the convention, of what it starts from, and of those further down: a plan is made by all of
// them.
func (c *Convention) Texts() []byte {
	var out []byte
	for _, one := range c.All() {
		out = append(append(out, one.Source...), one.started...)
	}
	return out
}

// Adopt puts the convention of a folder further down under this one: its statements on mentions, aliases, addresses and
// settings count for the whole tree, or for what they are scoped to.
func (c *Convention) Adopt(n *Convention) {
	c.Nested = append(c.Nested, n)
	if c.nested == nil {
		c.nested = map[string]*Convention{}
	}
	c.nested[n.Base] = n
	c.Aliases = append(c.Aliases, n.Aliases...)
	c.Mentions = append(c.Mentions, n.Mentions...)
	c.Public = append(c.Public, n.Public...)
	c.Settings = append(c.Settings, n.Settings...)
	c.AtOnce = append(c.AtOnce, n.AtOnce...)
}

// Shelf is a named place with a rule.
type Shelf struct {
	Name  string
	For   string
	At    *template.Template // ends in ** unless AtFile
	From  []*template.Template
	Takes []Take
	Line  int
	// What files of the shelf may use; nil for anything.
	Uses      *Uses
	Apart     *Apart
	Libraries *Libraries
	Beside    *Beside // companions of each file; nil for none
	// AtFile: `at` does not end in a slash and names the file too.
	AtFile bool

	Parent   *Shelf     // the shelf whose inside it is of; nil for none
	Must     []Required // files of every instance
	Door     string     // the file below an instance that alone may be imported from outside; empty for any
	DoorLine int
	Names    *Names     // how files and folders are named; nil for any way
	Made     bool       // a program writes what is on it
	Closed   bool       // what stands on it and no shelf inside takes is homeless
	Widen    bool       // for its files declarations may be seen further than they were
	Order    *Order     // of the instances; nil for none
	Listed   *Listed    // the list in which each instance stands; nil for none
	Package  *Package   // each instance is a package; nil for none
	Partners []*Partner // what each file has on other shelves
	// Whole are folders, below the shelf and below where its files lie today, that are one thing each; NotWhole: nothing
	// but these is.
	Whole    []string
	NotWhole bool
	// Within is the folder of the instances that are laid out by a copy of this shelf's folder: the copy speaks of
	// files in it alone. Without are such folders for the shelf that was copied: it speaks of no file in them.
	Within  *template.Template
	Without []*template.Template

	laidOutAs        string          // the folder whose shelves each instance has
	sources, entries *template.Index // of From, and of the names of Takes
	without          *template.Index // of Without
}

// Leave says which files the convention leaves alone.
type Leave struct {
	Stay      []*template.Template // never moved; edited where they mention what moves
	Untouched []*template.Template // never moved nor edited
	Generated []*template.Template // written by a program: not judged, moved or edited
	AsIs      []*template.Template // may be moved, never edited
	Outside   []*template.Template // this convention does not speak of them; edited where they mention what moves
}

// ReadAs says how files of some names are read.
type ReadAs struct {
	File *template.Template // a path, or a name where it has no slash
	As   string             // an ending without its dot, or one of the two below
	Line int
}

// ByFirstLine is how a script is read that says in its first line which program runs it, and Plain how a file is that
// holds no mention.
const (
	ByFirstLine = "by first line"
	Plain       = "plain"
)

// Reads says how the convention wants a file to be read; empty where it says nothing.
func (c *Convention) Reads(file string) string {
	for _, r := range c.ReadAs {
		subject := file
		if !strings.Contains(r.File.Text, "/") {
			subject = file[strings.LastIndexByte(file, '/')+1:]
		}
		if r.File.Fits(subject) {
			return r.As
		}
	}
	return ""
}

// Problem is one thing that is wrong with a convention.
type Problem struct {
	Position source.Position `json:"position"`
	Message  string          `json:"message"` // what is wrong
	Hint     string          `json:"hint"`    // what would be right; may be empty
}

// Error is all that is wrong with a convention.
type Error struct {
	Path     string
	Source   []byte
	Problems []Problem
}

func (e *Error) Error() string {
	var out strings.Builder
	const most = 20 // nobody reads on before these are mended
	for i, p := range e.Problems {
		if i > 0 {
			out.WriteString("\n\n")
		}
		if i == most {
			fmt.Fprintf(&out, "%s: and %d more", e.Path, len(e.Problems)-most)
			break
		}
		fmt.Fprintf(&out, "%s:%s: %s", e.Path, p.Position, p.Message)
		if line := source.Line(e.Source, p.Position.Line); strings.TrimSpace(line) != "" {
			line = strings.ReplaceAll(line, "\t", " ")
			fmt.Fprintf(&out, "\n%5d | %s\n      | %s^", p.Position.Line, line,
				strings.Repeat(" ", max(p.Position.Column-1, 0)))
		}
		if p.Hint != "" {
			fmt.Fprintf(&out, "\n        %s", p.Hint)
		}
	}
	return out.String()
}
