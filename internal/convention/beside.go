package convention

import (
	"path"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// Beside says which files are companions of each file on a shelf: they have its home and move with it.
type Beside struct {
	Must, May []Companion
}

// All are the companions that must and those that may be there.
func (b *Beside) All() []Companion {
	if b == nil {
		return nil
	}
	return append(append([]Companion(nil), b.Must...), b.May...)
}

// Companion names a file by its owner's: <name> is the owner's file name up to its last dot.
type Companion struct {
	File *template.Template
	// Mirrors is the folder below which owners lie, with a slash at the end: then File is a path from the root, in
	// which <path> is the owner's folder below that. Empty for a file beside its owner.
	Mirrors string
	base    string // of the convention
	Line    int
}

// Of gives the companion's path for an owner's; false if the owner does not lie where it is mirrored from.
func (c Companion) Of(owner string) (string, bool) {
	dir, base := path.Split(owner)
	values := map[string]string{"name": strings.TrimSuffix(base, path.Ext(base))}
	if c.Mirrors == "" {
		return path.Join(dir, c.File.Fill(values)), true
	}
	below, ok := strings.CutPrefix(dir, c.Mirrors)
	values["path"] = strings.TrimSuffix(below, "/")
	return path.Clean(c.base + c.File.Fill(values)), ok
}

// OwnerOf gives the folder and the name of the file whose companion a file would be by its path; false for none.
func (c Companion) OwnerOf(file string) (dir, name string, ok bool) {
	if c.Mirrors != "" {
		captures, fits := c.File.Match(strings.TrimPrefix(file, c.base))
		return path.Join(c.Mirrors, captures.Values["path"]), captures.Values["name"], fits && strings.HasPrefix(file, c.base)
	}
	below := file
	for range strings.Count(c.File.Text, "/") + 1 { // what stands behind the owner's folder
		below = path.Dir(below)
	}
	rest := strings.TrimPrefix(file, below+"/")
	if below == "." {
		rest = file
	}
	captures, fits := c.File.Match(rest)
	return below, captures.Values["name"], fits
}

func (r *reader) readBeside(shelf *Shelf, n ast.Node) {
	shelf.Beside = r.companionsOf(n)
}

func (r *reader) companionsOf(n ast.Node) *Beside {
	fields := r.fields(n, "beside", besideKeys)
	return &Beside{Must: r.companions(fields["must"]), May: r.companions(fields["may"])}
}

func (r *reader) companions(n ast.Node) []Companion {
	var out []Companion
	for _, v := range r.list(n) {
		c := Companion{Line: position(v).Line, base: r.base}
		file := v
		switch v.(type) {
		case *ast.MappingNode, *ast.MappingValueNode:
			fields := r.fields(v, "a companion", companionKeys)
			if fields["file"] == nil || fields["mirrors"] == nil {
				r.fail(position(v), "write { file: test/<path>/<name>Test.js, mirrors: main/ }",
					"a mirrored companion needs both file and mirrors")
				continue
			}
			file = fields["file"]
			folder := r.nowThen(fields["mirrors"], "mirrors").Then
			if c.Mirrors = folder + "/"; folder == "." {
				c.Mirrors = ""
			}
		}
		before := len(r.problems)
		text, err := template.ExpandVars(r.text(file), r.vars)
		if err == nil {
			err = template.StaysInside(text)
		}
		if len(r.problems) > before {
			continue
		}
		if err != nil {
			r.fail(position(file), "", "%q is no companion: %s", text, err)
			continue
		}
		c.File = r.textTemplate(file)
		if c.File == nil {
			continue
		}
		for _, name := range c.File.Names() {
			if name != "name" && !(name == "path" && c.Mirrors != "") {
				r.fail(position(file), "<name> is the owner's name; <path> its folder, with mirrors",
					"nothing binds <%s> here", name)
			}
		}
		if strings.ContainsAny(c.File.Text, "*?") {
			r.fail(position(file), "name what varies: <name>.test.ts",
				"a companion has one name, and wildcards have many")
		}
		out = append(out, c)
	}
	return out
}
