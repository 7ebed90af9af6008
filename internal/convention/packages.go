package convention

import (
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// Package says that each instance of a shelf is a package of its own, with a manifest.
type Package struct {
	// Name is what it is called; nil for the name of its folder.
	Name *template.Template
	// Template is the project's file with which a manifest begins that is not there; empty for the values of the old one.
	Template string
	Line     int
}

// Workspace is what the packages of a project have in common.
type Workspace struct {
	Members  []string // patterns of folders, for the list of packages
	Inherit  []string // keys of the old manifest whose values all packages have from the workspace
	Shared   bool     // versions stand once, in the workspace
	Resolver string
	Line     int
}

var packageKeys = []key{
	{name: "name", about: "what it is called; its folder's name if absent", shape: anything},
	{name: "template", about: "a file of the project with which its manifest begins"},
}

var workspaceKeys = []key{
	{name: "members", about: "patterns of folders, for the list of packages", shape: manyTexts},
	{name: "inherit", about: "keys of the old manifest whose values the packages have from the workspace: version, edition, lints",
		shape: manyTexts},
	{name: "dependencies", about: "shared: versions stand once, in the workspace; own: in each manifest"},
	{name: "resolver", about: "the version of the rules by which features are resolved", shape: anything},
}

// readPackage reads a name, or a mapping.
func (r *reader) readPackage(shelf *Shelf, n ast.Node) {
	p := &Package{Line: position(n).Line}
	shelf.Package = p
	name := n
	if isMapping(n) {
		fields := r.fields(n, "package", packageKeys)
		name = fields["name"]
		if v := fields["template"]; v != nil {
			p.Template = r.base + r.text(v)
		}
	}
	if shelf.AtFile {
		r.fail(position(n), "end its place with a slash", "the shelf %s is a file, and a file is no package", shelf.Name)
	}
	if name == nil || r.text(name) == "true" {
		return
	}
	if p.Name = r.textTemplate(name); p.Name == nil || shelf.At == nil {
		return
	}
	for _, one := range p.Name.Names() {
		if !strings.Contains(" "+strings.Join(shelf.At.Names(), " ")+" ", " "+one+" ") {
			r.fail(position(name), "use a placeholder of the shelf's place", "the place of %s has no <%s>", shelf.Name, one)
		}
	}
}

func (r *reader) readWorkspace(c *Convention, n ast.Node) {
	fields := r.fields(n, "workspace", workspaceKeys)
	w := &Workspace{Line: position(n).Line}
	c.Workspace = w
	for _, v := range r.list(fields["members"]) {
		w.Members = append(w.Members, strings.TrimSuffix(r.text(v), "/"))
	}
	for _, v := range r.list(fields["inherit"]) {
		w.Inherit = append(w.Inherit, r.text(v))
	}
	if v := fields["dependencies"]; v != nil {
		switch r.text(v) {
		case "shared":
			w.Shared = true
		case "own":
		default:
			r.fail(position(v), "write shared or own", "%q is no way to keep dependencies", r.text(v))
		}
	}
	if v := fields["resolver"]; v != nil {
		w.Resolver = r.text(v)
	}
	for _, s := range c.Shelves {
		if s.Package != nil {
			return
		}
	}
	r.fail(position(n), "write package: true, or its name, on the shelves whose instances are packages", "no shelf is a package")
}

// HasPackages says whether instances of shelves are packages.
func (c *Convention) HasPackages() bool {
	for _, one := range c.All() {
		for _, s := range one.Shelves {
			if s.Package != nil {
				return true
			}
		}
	}
	return false
}
