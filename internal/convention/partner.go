package convention

import (
	"path"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// Partner is what each file of a shelf has on another shelf: a controller for a model, a folder of views for a
// controller.
type Partner struct {
	Shelf *Shelf
	As    *template.Template // of the partner's name below the other shelf; <name> is the file's name up to its first dot
	name  string
	Line  int
}

// Of gives the path of a file's partner, below the fixed folder of the other shelf: of a file, or of a folder or file
// whose ending is open.
func (p *Partner) Of(file string) string {
	stem, _, _ := strings.Cut(path.Base(file), ".")
	return p.Shelf.At.Head() + strings.TrimSuffix(p.As.Fill(map[string]string{"name": stem}), "/")
}

type pendingPartner struct {
	partner *Partner
	node    ast.Node
}

func (r *reader) readPartners(shelf *Shelf, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of partner", partnerKeys)
		other, as := fields["shelf"], fields["as"]
		if other == nil || as == nil {
			r.fail(position(v), "write partner: { shelf: controllers, as: <name|plural> }",
				"an entry of partner needs the other shelf, and how the partner is called there")
			continue
		}
		p := &Partner{name: r.text(other), As: r.textTemplate(as), Line: position(v).Line}
		if p.As == nil {
			continue
		}
		for _, name := range p.As.Names() {
			if name != "name" {
				r.fail(position(as), "<name> is the name of the file up to its first dot", "nothing binds <%s> here", name)
			}
		}
		shelf.Partners = append(shelf.Partners, p)
		r.partners = append(r.partners, pendingPartner{p, other})
	}
}

func (r *reader) lookUpPartners(c *Convention) {
	for _, p := range r.partners {
		if p.partner.Shelf = c.Shelf(p.partner.name); p.partner.Shelf == nil {
			r.noShelf(c, p.node, p.partner.name)
		}
	}
}
