package convention

import (
	"path"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// readGenerated reads folders that a program writes and that have a place. Each is a shelf of its own with the shelf
// that it goes with: the folder keeps its name and stands there whole. The setting that names it is a mention of it, so
// it follows.
func (r *reader) readGenerated(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of generated", generatedKeys)
		files, with := fields["files"], fields["goes_with"]
		if files == nil || with == nil {
			r.fail(position(v), "write { files: src/api/made/**, goes_with: data, named_by: { in: gen.yaml, key: out } }",
				"an entry of generated needs the files, and the shelf with which they go")
			continue
		}
		shelf := c.Shelf(r.text(with))
		if shelf == nil {
			r.noShelf(c, with, r.text(with))
			continue
		}
		from := r.template(files)
		if from == nil {
			continue
		}
		folder := strings.TrimSuffix(strings.TrimSuffix(from.Text, "**"), "/")
		name := path.Base(folder)
		if !strings.HasSuffix(from.Text, "/**") && !strings.HasSuffix(from.Text, "/") || strings.ContainsAny(name, "*?<>") ||
			shelf.AtFile {
			r.fail(position(files), "write a folder with all below it: src/api/made/**", "%q is no one folder", from.Text)
			continue
		}
		made := &Shelf{Name: shelf.Name + "." + name, For: "what a program writes", Line: position(v).Line, Made: true,
			From: []*template.Template{from}}
		if made.At = r.templateText(shelf.At.Text+name+"/", with); made.At == nil {
			continue
		}
		c.Shelves = append([]*Shelf{made}, c.Shelves...)
		r.namedBy(c, fields["named_by"])
	}
	c.nameShelves()
}

// namedBy takes the setting that names a generated folder for a mention of it.
func (r *reader) namedBy(c *Convention, n ast.Node) {
	if n == nil {
		return
	}
	fields := r.fields(n, "named_by", namedByKeys)
	if fields["in"] == nil || fields["key"] == nil {
		r.fail(position(n), "write named_by: { in: gen.yaml, key: out }", "named_by needs the file and the key")
		return
	}
	in := r.template(fields["in"])
	key, wrong := parseKey(r.text(fields["key"]))
	if wrong != "" {
		r.fail(position(fields["key"]), `write a.b, a["b.c"] or a[*]`, "this is no key: %s", wrong)
	}
	file, err := template.ParseText("<path>", nil)
	if in == nil || wrong != "" || err != nil {
		return
	}
	// a path in settings counts from the folder of the file
	dir := path.Dir(strings.TrimSuffix(in.Fill(nil), "/"))
	c.Mentions = append(c.Mentions, &Mention{In: []*template.Template{in}, Keys: []KeyPath{key}, File: file,
		Base: &NowThen{dir, dir}, Line: position(n).Line})
}
