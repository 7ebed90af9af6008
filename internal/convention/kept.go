package convention

import (
	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// Private are files that git must not see, and the file that shows others what they hold.
type Private struct {
	File    *template.Template
	Example string // from the root; empty for none
	Line    int
}

// Discard are files that are not wanted any more.
type Discard struct {
	File    *template.Template
	Because string
	Line    int
}

func (r *reader) readPrivate(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		p := &Private{Line: position(v).Line}
		file := v
		if isMapping(v) {
			fields := r.fields(v, "an entry of private", privateKeys)
			if file = fields["file"]; file == nil {
				r.fail(position(v), "write { file: .env, example: .env.example }", "an entry of private needs the file")
				continue
			}
			if example := fields["example"]; example != nil {
				p.Example = r.oneFile(example, ".env.example")
			}
		}
		if p.File = r.template(file); p.File != nil {
			c.Private = append(c.Private, p)
		}
	}
}

func (r *reader) readDiscard(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of discard", discardKeys)
		if fields["file"] == nil || fields["because"] == nil {
			r.fail(position(v), "write { file: src/old/**, because: nobody uses the old calendar }",
				"an entry of discard needs the files and the reason")
			continue
		}
		for _, t := range r.templates(fields["file"]) {
			c.Discard = append(c.Discard, &Discard{File: t, Because: r.text(fields["because"]), Line: position(v).Line})
		}
	}
}

// Unwanted gives the entry of discard that a file fits; nil for none.
func (c *Convention) Unwanted(file string) *Discard {
	for _, d := range c.Discard {
		if d.File.Fits(file) {
			return d
		}
	}
	return nil
}
