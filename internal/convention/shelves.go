package convention

import (
	"slices"
	"strings"
	"time"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/finding"
	"crookedshelf/internal/template"
)

// readShelves reads shelves in their order, those inside another before it.
func (r *reader) readShelves(c *Convention, n ast.Node, parent *Shelf) {
	for _, pair := range r.pairs(n, "shelves") {
		shelf := &Shelf{Name: r.text(pair.Key), Line: position(pair.Key).Line, Parent: parent}
		what := "the shelf " + shelf.Name
		if parent != nil {
			shelf.Name = parent.Name + "." + shelf.Name
		}
		var fields map[string]ast.Node
		switch pair.Value.(type) {
		case *ast.StringNode: // a shelf that is only a place
			fields = map[string]ast.Node{"at": pair.Value}
		default:
			fields = r.fields(pair.Value, what, shelfKeys)
		}
		r.readPlace(shelf, pair, fields["at"])
		if shelf.At == nil {
			continue
		}
		shelf.AtFile = !strings.HasSuffix(shelf.At.Text, "/")
		if inside, ok := fields["inside"]; ok {
			if shelf.AtFile {
				r.fail(position(inside), "end its place with a slash", "%s is a file, and nothing stands inside a file",
					what)
				continue
			}
			r.readInside(c, shelf, fields, inside)
		}
		r.readShelf(c, shelf, fields)
		c.Shelves = append(c.Shelves, shelf)
	}
}

// readInside reads the shelves inside another. Companions are inherited, so they are read first.
func (r *reader) readInside(c *Convention, shelf *Shelf, fields map[string]ast.Node, inside ast.Node) {
	if v, ok := fields["beside"]; ok {
		r.readBeside(shelf, v)
	} else if shelf.Parent == nil {
		shelf.Beside = r.beside
	}
	r.readShelves(c, inside, shelf)
}

// readPlace reads where a shelf stands: below its parent, in the folder of its own name, unless it says otherwise.
func (r *reader) readPlace(shelf *Shelf, pair *ast.MappingValueNode, n ast.Node) {
	switch {
	case n != nil && shelf.Parent == nil:
		shelf.At = r.template(n)
	case n != nil:
		shelf.At = r.templateText(shelf.Parent.At.Text+r.text(n), n)
	case shelf.Parent != nil:
		shelf.At = r.templateText(shelf.Parent.At.Text+r.text(pair.Key)+"/", pair.Key)
	default:
		r.fail(position(pair.Key), "say where it stands: at: src/"+shelf.Name+"/", "the shelf %s has no place",
			shelf.Name)
	}
}

func (r *reader) readShelf(c *Convention, shelf *Shelf, fields map[string]ast.Node) {
	if v, ok := fields["for"]; ok {
		shelf.For = r.text(v)
	}
	shelf.From = r.sources(fields["from"])
	r.readUse(shelf, fields)
	if v, ok := fields["beside"]; ok && shelf.Beside == nil {
		r.readBeside(shelf, v)
	}
	switch {
	case shelf.Beside != nil:
	case shelf.Parent != nil:
		shelf.Beside = shelf.Parent.Beside
	default:
		shelf.Beside = r.beside
	}
	if v, ok := fields["must"]; ok {
		r.readMust(shelf, v)
	}
	if v, ok := fields["door"]; ok {
		shelf.Door, shelf.DoorLine = r.below(v), position(v).Line
		if shelf.AtFile {
			r.fail(position(v), "end its place with a slash", "the shelf %s is a file, and a file has no door",
				shelf.Name)
		}
	}
	if v, ok := fields["names"]; ok {
		r.readNames(shelf, v)
	}
	r.readWhole(shelf, fields["whole"])
	r.readPartners(shelf, fields["partner"])
	if v, ok := fields["listed"]; ok {
		r.readListed(shelf, v)
	}
	if v, ok := fields["closed"]; ok {
		shelf.Closed = r.text(v) == "true"
		_, inside := fields["inside"]
		if len(shelf.From)+len(r.list(fields["takes"])) > 0 || !inside {
			r.fail(position(v), "give the shelves inside what they take",
				"a closed shelf has shelves inside, and takes nothing itself")
		}
	}
	if v, ok := fields["widen"]; ok {
		if shelf.Widen = r.text(v) == "needed"; !shelf.Widen {
			r.fail(position(v), "write widen: needed, or leave it out", "%q is no way to widen", r.text(v))
		}
	}
	if v, ok := fields["package"]; ok {
		r.readPackage(shelf, v)
	}
	if v, ok := fields["laid_out_as"]; ok {
		shelf.laidOutAs = r.text(v)
		if t := r.template(v); t != nil && len(t.Names()) > 0 {
			r.fail(position(v), "write a folder: src/", "%q is no one folder", t.Text)
		}
		if expanded, err := template.ExpandVars(shelf.laidOutAs, r.vars); err == nil {
			shelf.laidOutAs = strings.TrimSuffix(expanded, "/") + "/"
		}
	}
	for _, v := range r.list(fields["also_at"]) {
		r.readAlsoAt(c, shelf, v)
	}
	for _, v := range r.list(fields["takes"]) {
		shelf.Takes = append(shelf.Takes, r.readTake(v))
	}
}

// sources reads where files lie today: paths, and paths with values for placeholders that they do not have themselves,
// as { grain/**: { part: grain } }.
func (r *reader) sources(n ast.Node) (out []*template.Template) {
	for _, v := range r.list(n) {
		if !isMapping(v) {
			if t := r.template(v); t != nil {
				out = append(out, t)
			}
			continue
		}
		for _, pair := range pairsOf(v) {
			t := r.template(pair.Key)
			if t == nil {
				continue
			}
			for _, value := range r.pairs(pair.Value, "an entry of from") {
				r.bind(t, r.text(value.Key), value.Value)
			}
			out = append(out, t)
		}
	}
	return out
}

// bind gives a placeholder a value in all files of a path.
func (r *reader) bind(t *template.Template, name string, n ast.Node) {
	value := r.text(n)
	switch {
	case slices.Contains(t.Names(), name):
		r.fail(position(n), "take one of the two out", "%s has <%s> itself", t.Text, name)
	case value == "" || strings.ContainsAny(value, "/<>*?"):
		r.fail(position(n), "write one name: { grain/**: { part: grain } }", "%q is no value of a placeholder", value)
	default:
		t.Bind(name, value)
	}
}

// readWhole reads which folders are one thing.
func (r *reader) readWhole(shelf *Shelf, n ast.Node) {
	for _, v := range r.list(n) {
		text := r.text(v)
		switch {
		case text == "false":
			shelf.NotWhole = true
		case !strings.HasSuffix(text, "/") || strings.HasPrefix(text, "/"):
			r.fail(position(v), "write the folder below the shelf, with a slash at its end: whole: <part>/",
				"%q is no folder below a shelf", text)
		default:
			if _, err := template.ParseName(text, r.vars); err != nil {
				r.fail(position(v), "write whole: <part>/", "%q is no folder: %s", text, err)
				continue
			}
			shelf.Whole = append(shelf.Whole, text)
		}
	}
}

// readAlsoAt reads a place where files of a shelf are tolerated for a while: an exception for them.
func (r *reader) readAlsoAt(c *Convention, shelf *Shelf, n ast.Node) {
	e := &Exception{Rule: finding.Misplaced, Shelf: shelf.Name, Line: position(n).Line, Because: "the shelf " +
		shelf.Name + " is also there for a while"}
	place := n
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		fields := r.fields(n, "an entry of also_at", alsoAtKeys)
		place = fields["place"]
		if v := fields["until"]; v != nil {
			e.Until = r.day(v)
		}
		if v := fields["because"]; v != nil {
			e.Because = r.text(v)
		}
	}
	if place == nil {
		r.fail(position(n), "write { place: src/old/, until: 2027-03-01 }", "an entry of also_at needs the place")
		return
	}
	if e.File = r.template(place); e.File != nil {
		c.Exceptions = append(c.Exceptions, e)
	}
}

// day reads a date.
func (r *reader) day(n ast.Node) time.Time {
	text := r.text(n)
	day, err := time.Parse(time.DateOnly, text)
	if err != nil {
		r.fail(position(n), "write a day as 2027-03-01", "%q is no date", text)
	}
	return day
}

func (r *reader) lookUpNeeders(c *Convention) {
	for _, p := range r.neededBys {
		if p.need.Shelf = c.Shelf(p.need.name); p.need.Shelf == nil {
			r.noShelf(c, p.node, p.need.name)
		}
	}
}

// layOut gives every instance of a shelf that is laid out as a folder the shelves that are declared below that folder.
func (r *reader) layOut(c *Convention) {
	var out []*Shelf
	below := map[string][]*Shelf{} // by the folder that others are laid out as
	for _, shelf := range c.Shelves {
		if folder := shelf.laidOutAs; folder != "" && below[folder] == nil {
			for _, s := range c.Shelves {
				if strings.HasPrefix(s.At.Expanded, folder) && s.Within == nil {
					below[folder] = append(below[folder], s)
				}
			}
		}
	}
	for _, shelf := range c.Shelves {
		if shelf.laidOutAs != "" {
			out = append(out, r.copies(shelf, below[shelf.laidOutAs])...)
		}
		out = append(out, shelf)
	}
	c.Shelves = out
	c.nameShelves()
}

// copies gives an instance's own shelves: those below the folder that it is laid out as.
func (r *reader) copies(shelf *Shelf, declared []*Shelf) []*Shelf {
	var copied []*Shelf
	twin := map[*Shelf]*Shelf{}
	pools := map[*Pool]*Pool{}
	for _, s := range declared {
		if s == shelf {
			continue
		}
		below := strings.TrimPrefix(s.At.Expanded, shelf.laidOutAs)
		clone := *s
		clone.Name, clone.Parent, clone.Within, clone.Without = shelf.Name+"."+s.Name, shelf, shelf.At, nil
		clone.At = r.rebased(s.At, shelf.At.Text+below)
		clone.From = r.rebasedAll(s.From, shelf)
		s.Without = append(s.Without, shelf.At)
		twin[s] = &clone
		copied = append(copied, &clone)
	}
	if len(copied) == 0 {
		r.fail(at(shelf.At), "", "the shelf %s is laid out as %s, and no shelf is declared below that", shelf.Name,
			shelf.laidOutAs)
	}
	for _, clone := range copied {
		if t := twin[clone.Parent]; t != nil {
			clone.Parent = t
		}
		clone.Takes = slices.Clone(clone.Takes)
		for i := range clone.Takes {
			take := &clone.Takes[i]
			if p := take.Pool; p != nil {
				if pools[p] == nil {
					pools[p] = &Pool{Name: p.Name, In: r.rebasedAll(p.In, shelf), Counts: p.Counts, Line: p.Line}
				}
				take.Pool = pools[p]
			}
			if n := take.NeededBy; n != nil && twin[n.Shelf] != nil {
				need := *n
				need.Shelf = twin[n.Shelf]
				take.NeededBy = &need
			}
		}
		if clone.Uses != nil { // what an instance has a copy of, it may use as its copy too
			uses := *clone.Uses
			for _, s := range copied {
				if slices.Contains(uses.Shelves, strings.TrimPrefix(s.Name, shelf.Name+".")) {
					uses.Shelves = append(uses.Shelves[:len(uses.Shelves):len(uses.Shelves)], s.Name)
				}
			}
			clone.Uses = &uses
		}
	}
	return copied
}

// rebased is a template with another text, at the place of the first in the convention.
func (r *reader) rebased(t *template.Template, text string) *template.Template {
	out, err := template.ParsePath(r.base, text, t.Vars)
	if err != nil {
		r.fail(at(t), "", "%q is no path: %s", text, err)
		return t
	}
	out.Line, out.Column = t.Line, t.Column
	for i := range out.Tokens {
		out.Tokens[i].Where = r.where[out.Tokens[i].Text]
	}
	return out
}

// rebasedAll moves the templates below the folder that a shelf is laid out as below the shelf, and drops the others.
func (r *reader) rebasedAll(ts []*template.Template, shelf *Shelf) []*template.Template {
	var out []*template.Template
	for _, t := range ts {
		if below, ok := strings.CutPrefix(t.Expanded, shelf.laidOutAs); ok {
			out = append(out, r.rebased(t, shelf.At.Text+below))
		}
	}
	return out
}
