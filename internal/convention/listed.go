package convention

import (
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// Listed says that each instance of a shelf stands in a list of a settings file, and that nothing stands there which is
// none.
type Listed struct {
	In  string // the settings file, from the root
	Key []string
	// As is how an instance is written; nil for its path, or that of a file in it, from the settings file's folder.
	As   *template.Template
	Line int
}

func (r *reader) readListed(shelf *Shelf, n ast.Node) {
	fields := r.fields(n, "listed", listedKeys)
	in, key := fields["in"], fields["key"]
	if in == nil || key == nil {
		r.fail(
			position(n),
			"write listed: { in: package.json, key: workspaces }",
			"listed needs the file and the key of the list",
		)
		return
	}
	listed := &Listed{Line: position(n).Line}
	listed.In = r.oneFile(in, "package.json")
	keys, wrong := parseKey(r.text(key))
	if listed.Key = keys; wrong != "" {
		r.fail(position(key), "write workspaces, or a.b", "this is no key: %s", wrong)
	}
	if as := fields["as"]; as != nil {
		if listed.As = r.textTemplate(as); listed.As != nil && shelf.At != nil {
			for _, name := range listed.As.Names() {
				if !strings.Contains(" "+strings.Join(shelf.At.Names(), " ")+" ", " "+name+" ") {
					r.fail(position(as), "use a placeholder of the shelf's place", "the place of %s has no <%s>", shelf.Name, name)
				}
			}
		}
	}
	shelf.Listed = listed
}
