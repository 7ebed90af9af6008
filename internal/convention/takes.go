package convention

import (
	"path"
	"slices"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/template"
)

// Pool is a kind of thing, wherever it lies today. The places of all shelves that take from it belong to it too.
type Pool struct {
	Name string
	In   []*template.Template
	// Counts are the users that count for needed_by and usually do not: tests, stories, indexes.
	Counts []string
	Line   int
}

// Users that do not count for needed_by unless a pool says so.
const (
	CountTests   = "tests"
	CountStories = "stories"
	CountIndexes = "indexes"
)

// Take is one entry of takes. All of its conditions hold for a file that satisfies it.
type Take struct {
	Name     *template.Template // of the file's name
	Pool     *Pool              // the file is of the pool
	NeededBy *NeededBy          // who needs the file; only with a pool
	Declares []Declares
	Extends  []*template.Template // what a declaration of the file is built on
	Marked   []*template.Template // what decorates a declaration of the file
	Imports  []string             // shelves or packages; any one
	Line     int
}

// Content says whether the entry asks for more than the file's path.
func (t Take) Content() bool { return t.Outlined() || t.NeededBy != nil || len(t.Imports) > 0 }

// Outlined says whether the entry asks for what the file declares.
func (t Take) Outlined() bool { return len(t.Declares) > 0 || len(t.Extends) > 0 || len(t.Marked) > 0 }

// Outline says in words what the entry asks of a declaration.
func (t Take) Outline() string {
	var out, kinds []string
	for _, d := range t.Declares {
		text := "a " + d.Kind
		if d.Name != nil {
			text += " " + d.Name.Text
		}
		kinds = append(kinds, text)
	}
	if len(kinds) > 0 {
		out = append(out, strings.Join(kinds, " or "))
	} else {
		out = append(out, "anything")
	}
	for _, asked := range []struct {
		how string
		of  []*template.Template
	}{{"that extends", t.Extends}, {"that is marked", t.Marked}} {
		var names []string
		for _, name := range asked.of {
			names = append(names, name.Text)
		}
		if len(names) > 0 {
			out = append(out, asked.how+" "+strings.Join(names, " or "))
		}
	}
	return strings.Join(out, " ")
}

// DeclarationKinds are the kinds of what files declare at their top level.
var DeclarationKinds = []string{"class", "function", "component", "hook", "type", "constant", "route"}

// Declares asks for a declaration of a kind, whose name fits if one is given.
type Declares struct {
	Kind string
	Name *template.Template
}

// Needers says how many instances of a shelf need a file.
type Needers uint8

// The ways of being needed.
const (
	NeededByNone Needers = iota
	NeededByOne
	NeededByMany
)

// NeededBy asks for who needs a file: one instance of the shelf, many, or nobody.
type NeededBy struct {
	How   Needers
	Shelf *Shelf // nil for none
	name  string
	Line  int
}

// String is the condition as it is written.
func (n *NeededBy) String() string { return [...]string{"none", "one of ", "many of "}[n.How] + n.name }

func (r *reader) readPools(n ast.Node) {
	r.pools = map[string]*Pool{}
	for _, pair := range r.pairs(n, "pools") {
		p := &Pool{Name: r.text(pair.Key), Line: position(pair.Key).Line}
		in := pair.Value
		switch in.(type) {
		case *ast.MappingNode, *ast.MappingValueNode:
			fields := r.fields(in, "the pool "+p.Name, poolKeys)
			for _, v := range r.list(fields["counts"]) {
				word := r.text(v)
				if word != CountTests && word != CountStories && word != CountIndexes {
					r.fail(position(v), "write tests, stories or indexes", "%q are no users that could be counted",
						word)
				}
				p.Counts = append(p.Counts, word)
			}
			in = fields["in"]
		}
		p.In = r.templates(in)
		for _, t := range p.In {
			if t.Carriers() > 1 {
				r.fail(at(t), "leave one **",
					"two ** in one path: nothing says which of them is carried to the new place")
			}
		}
		r.pools[p.Name] = p
	}
}

func (r *reader) readTake(n ast.Node) Take {
	entry := r.fields(n, "an entry of takes", takeKeys)
	take := Take{Line: position(n).Line}
	if v, ok := entry["name"]; ok {
		if names := r.names(v); len(names) == 1 {
			take.Name = names[0]
		}
		if take.Name != nil && strings.Contains(take.Name.Text, "/") {
			r.fail(position(v), "use from for where files lie today",
				"name is judged by the file's name alone and can't hold a slash")
		}
	}
	if v, ok := entry["pool"]; ok {
		name := r.text(v)
		if take.Pool = r.pools[name]; take.Pool == nil {
			r.fail(position(v), "pools: { "+name+": [src/components/**] } says what is in it", "there is no pool %q",
				name)
		}
	}
	if v, ok := entry["needed_by"]; ok {
		take.NeededBy = r.neededBy(v)
		if _, pooled := entry["pool"]; !pooled {
			r.fail(position(v),
				"name the pool whose files may need one another: { pool: widgets, needed_by: one of screens }",
				"needed_by asks for a pool")
		}
	}
	for _, v := range r.list(entry["declares"]) {
		take.Declares = append(take.Declares, r.declares(v))
	}
	take.Extends = r.each(entry["extends"], r.textTemplate)
	take.Marked = r.each(entry["marked"], r.textTemplate)
	for _, v := range r.list(entry["imports"]) {
		take.Imports = append(take.Imports, r.text(v))
	}
	if len(entry) == 0 {
		r.fail(position(n), `give it a condition: { name: "*Service.ts" }`, "the entry asks for nothing")
	}
	return take
}

// neededBy reads one of X, many of X, none. The shelf is looked up when all are read.
func (r *reader) neededBy(n ast.Node) *NeededBy {
	text := r.text(n)
	need := &NeededBy{Line: position(n).Line}
	how, name, ok := strings.Cut(text, " of ")
	switch {
	case text == "none":
		return need
	case ok && how == "one":
		need.How = NeededByOne
	case ok && how == "many":
		need.How = NeededByMany
	default:
		r.fail(position(n), "write one of screens, many of screens, or none", "%q does not say who needs the file",
			text)
		return need
	}
	need.name = strings.TrimSpace(name)
	r.neededBys = append(r.neededBys, pendingNeed{need, n})
	return need
}

type pendingNeed struct {
	need *NeededBy
	node ast.Node
}

// declares reads component, or { class: <name>Service }.
func (r *reader) declares(n ast.Node) Declares {
	kind, name := n, ast.Node(nil)
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		pairs := r.pairs(n, "declares")
		if len(pairs) != 1 {
			r.fail(position(n), "write declares: component, or declares: { class: <name>Service }",
				"one kind is expected here")
			return Declares{}
		}
		kind, name = pairs[0].Key, pairs[0].Value
	}
	d := Declares{Kind: r.text(kind)}
	if !slices.Contains(DeclarationKinds, d.Kind) {
		r.fail(position(kind), "the kinds are "+strings.Join(DeclarationKinds, ", "),
			"there is no kind of declaration %q%s", d.Kind, template.Closest(d.Kind, DeclarationKinds))
	}
	if name != nil {
		d.Name = r.textTemplate(name)
	}
	return d
}

// NeedsOutlines says whether the convention asks for what files declare.
func (c *Convention) NeedsOutlines() bool {
	return c.anyShelf(func(s *Shelf) bool { return s.Door != "" || len(s.Must) > 0 }) || c.NeedsGraph()
}

// anyShelf says whether something holds for a shelf of the convention or of one further down.
func (c *Convention) anyShelf(holds func(*Shelf) bool) bool {
	return slices.ContainsFunc(c.All(), func(one *Convention) bool { return slices.ContainsFunc(one.Shelves, holds) })
}

// NeedsGraph says whether homes depend on what files hold and who refers to them.
func (c *Convention) NeedsGraph() bool {
	return slices.ContainsFunc(c.All(), func(one *Convention) bool { return len(one.Thin) > 0 }) ||
		c.anyShelf(func(s *Shelf) bool {
			return s.Names != nil && s.Names.Declares || slices.ContainsFunc(s.Takes, Take.Content)
		})
}

// Required is a file that every instance of a shelf must have. Write says what is written where it is missing.
type Required struct {
	File  string             // below the instance
	path  *template.Template // the same, where it has placeholders of the shelf's place; nil for one that has none
	Write Write
	// Template is the project's file whose text is written, for WriteTemplate.
	Template string
	Line     int
}

// Write is what a missing file is filled with.
type Write uint8

// The ways of writing a required file.
const (
	WriteNothing   Write = iota // it is not written: its absence is reported
	WriteEmpty                  // an empty file
	WriteReexports              // an entry that re-exports what the files beside it export
	WriteTemplate               // the text of a file of the project
)

func (r *reader) readMust(shelf *Shelf, n ast.Node) {
	for _, v := range r.list(n) {
		req := Required{Line: position(v).Line}
		file := v
		switch v.(type) {
		case *ast.MappingNode, *ast.MappingValueNode:
			fields := r.fields(v, "an entry of must", mustKeys)
			if file = fields["file"]; file == nil {
				r.fail(position(v), "write { file: index.ts, write: reexports }", "an entry of must needs the file")
				continue
			}
			if w := fields["write"]; w != nil {
				switch text := r.text(w); text {
				case "empty":
					req.Write = WriteEmpty
				case "reexports":
					req.Write = WriteReexports
				default:
					req.Write, req.Template = WriteTemplate, r.base+text
				}
			}
		}
		if req.File, req.path = r.required(shelf, file); req.File != "" {
			shelf.Must = append(shelf.Must, req)
		}
	}
}

// required reads the path of a file that instances must have, in which the placeholders of the shelf's place may stand.
func (r *reader) required(shelf *Shelf, n ast.Node) (string, *template.Template) {
	text, err := template.ExpandVars(r.text(n), r.vars)
	if err != nil || !strings.Contains(text, "<") {
		return r.below(n), nil
	}
	t, err := template.ParseName(text, nil)
	if err != nil || strings.ContainsAny(text, "*?") || strings.HasSuffix(text, "/") {
		r.fail(position(n), `write the file's path below the instance: "<app>.csproj"`, "%q names no file", text)
		return "", nil
	}
	for _, name := range t.Names() {
		if shelf.At != nil && !slices.Contains(shelf.At.Names(), name) {
			r.fail(position(n), "use a placeholder of the shelf's place", "the place of %s has no <%s>", shelf.Name, name)
			return "", nil
		}
	}
	return text, t
}

// Of gives the path of a required file in an instance whose placeholders have some values.
func (q Required) Of(instance string, values map[string]string) string {
	if q.path != nil {
		return instance + q.path.Fill(values)
	}
	return instance + q.File
}

// below reads a path below an instance.
func (r *reader) below(n ast.Node) string {
	written := r.text(n)
	text, err := template.ExpandVars(written, r.vars)
	if err == nil {
		err = template.StaysInside(text)
	}
	if err != nil || text == "" || strings.HasSuffix(text, "/") || strings.ContainsAny(text, "<>*?") {
		r.fail(position(n), "write the file's path below the instance: index.ts", "%q names no file", written)
		return ""
	}
	return path.Clean(text)
}

// Names says how files and folders of a shelf are named.
type Names struct {
	Files    string               // the case of a file's name up to its first dot; empty for any
	Folders  string               // the case of the folders below the shelf's; empty for any
	Like     []*template.Template // a file's name fits one of these; none for any
	Declares bool                 // a file is named after the class, component, function or type that it declares
	Line     int
}

func (r *reader) readNames(shelf *Shelf, n ast.Node) {
	fields := r.fields(n, "names", namesKeys)
	names := &Names{Line: position(n).Line, Files: r.caseOf(fields["files"]), Folders: r.caseOf(fields["folders"]),
		Like: r.names(fields["like"])}
	if v := fields["declares"]; v != nil {
		if text := r.text(v); text != "same" {
			r.fail(position(v), "write declares: same", "%q does not say how a file is named after what it declares",
				text)
		}
		names.Declares = true
	}
	shelf.Names = names
}

func (r *reader) caseOf(n ast.Node) string {
	if n == nil {
		return ""
	}
	text := r.text(n)
	if template.Filters[text] == nil {
		r.fail(position(n), "the cases are "+strings.Join(template.FilterNames, ", "), "there is no case %q%s", text,
			template.Closest(text, template.FilterNames))
	}
	return text
}

// HasDoors says whether a shelf has a door.
func (c *Convention) HasDoors() bool { return c.anyShelf(func(s *Shelf) bool { return s.Door != "" }) }
