package ruby

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Owes says what the language forbids of moves, and what they break that no text shows.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !old.any {
		return nil
	}
	old.index()
	r.index()
	o := &owing{Resolver: r, old: old, moves: map[string]string{}, strange: map[string]bool{}}
	for _, m := range moves {
		o.moves[m.From] = m.To
	}
	for _, m := range moves {
		id, there := old.tree.Lookup(m.From)
		now, came := r.tree.Lookup(m.To)
		if !there || !came || !isRuby(m.From) {
			continue
		}
		o.unreadable(id, m)
		if e, then := old.ix.files[id], r.ix.files[now]; e != nil && then != nil {
			o.mislabelled(m, e, then)
			o.doubled(m, e, then)
			o.early(m, id, then)
			o.unlike(m, then)
			o.unknownRoot(m, id, e, then)
		}
	}
	o.folders()
	o.tests()
	o.routes()
	o.relative()
	o.stored()
	moved := slices.ContainsFunc(moves, func(m lang.Moved) bool { return isRuby(m.From) })
	for _, one := range old.unknown {
		if moved {
			o.out = append(o.out, lang.Duty{Path: one.path, At: one.at,
				Why: "where constants are looked for is worked out here when the program runs: what lies there is not known"})
		}
	}
	return o.out
}

// owing works out what moves owe.
type owing struct {
	*Resolver // of the tree after the moves
	old       *Resolver
	moves     map[string]string
	required  map[project.FileID]string // see requiredBy
	strange   map[string]bool           // folders of which no file defines what its path says
	out       []lang.Duty
}

func (o *owing) lost(m lang.Moved, format string, args ...any) {
	o.out = append(o.out, lang.Duty{Path: m.From, Why: fmt.Sprintf(format, args...), Lost: []string{m.From}})
}

// unreadable keeps a file where it is of which it is not known what it says.
func (o *owing) unreadable(id project.FileID, m lang.Moved) {
	if err := o.old.ix.broken[id]; err != nil {
		o.lost(m, "%s can't be read: %v", m.From, err)
	}
}

// mislabelled keeps a file where it is that comes below a root, or stays below one, and does not define what its new path
// says.
func (o *owing) mislabelled(m lang.Moved, e, then *entry) {
	switch {
	case then.wants == "" && e.wants != "" && e.label != nil && path.Ext(m.To) == ".rb":
		o.lost(m, "%s is found by its path, and constants are not looked for in %s", e.wants, path.Dir(m.To))
	case then.wants == "":
	case !isConstant(then.wants):
		o.lost(m, "%s is no name that a constant may have", then.wants)
	case then.label == nil && e.wants == "" && len(e.file.spaces)+len(e.file.values) > 1:
		o.lost(m, "it does not define %s, as which it would be looked for there", then.wants)
	case then.label == nil && e.wants != "" && e.wants != then.wants:
		o.lost(m, "it does not define %s, as its path says, so what it would have to define is not known", e.wants)
	case then.label != nil && last(then.wants) != last(then.looked):
		if then.wants != e.wants {
			o.lost(m, "it defines %s, and by the project's inflections its path is %s: what is looked for in another place is not known",
				last(then.wants), last(then.looked))
		}
	}
}

// doubled keeps a file where it is whose constant another file would define too.
func (o *owing) doubled(m lang.Moved, e, then *entry) {
	if then.label == nil || then.wants == "" || e.wants == then.wants {
		return
	}
	for _, d := range o.ix.consts[then.wants] {
		other := o.ix.files[d.file]
		if other == then || other.wants != then.wants {
			continue
		}
		o.lost(m, "%s defines %s too", other.path, then.wants)
		return
	}
}

// early keeps a file where it is that is required by its path, and would open a module that another file defines: whoever
// requires it first would keep that file from being found.
func (o *owing) early(m lang.Moved, id project.FileID, then *entry) {
	if then.label == nil || then.was == "" {
		return
	}
	holder := ""
	for head := parent(then.wants); head != ""; head = parent(head) {
		if ids := o.declaredBy(head); len(ids) == 1 && ids[0] != then.id && o.ix.files[ids[0]].wants == head {
			holder = head
		}
	}
	if holder == "" {
		return
	}
	if user := o.requiredBy()[id]; user != "" {
		o.lost(m, "%s requires it, and %s would be opened before its own file is found", user, holder)
	}
}

// requiredBy gives, of the files that are required by their paths, the first file that does so.
func (o *owing) requiredBy() map[project.FileID]string {
	if o.required != nil {
		return o.required
	}
	o.required = map[project.FileID]string{}
	for _, id := range o.old.ix.ids {
		user := o.old.ix.files[id]
		if user == nil || len(user.calls) == 0 {
			continue
		}
		content, err := o.old.tree.Content(id)
		if err != nil {
			continue
		}
		for _, c := range user.calls {
			text := unquoted(content[c.at.Start:c.at.End], c.quote)
			to, there := project.None, false
			switch c.method {
			case "autoload":
			case "require_relative":
				t := o.old.relative(user.path, text)
				to, there = t.File, t.Kind == lang.ToFile
			default:
				to, there = o.old.required(user.path, text)
			}
			if there && to != id && o.required[to] == "" {
				o.required[to] = user.path
			}
		}
	}
	return o.required
}

// unknownRoot keeps a file where it is that may be found by its path, where it is not known what a loader is given: nobody
// requires it, and it is named after what it defines.
func (o *owing) unknownRoot(m lang.Moved, id project.FileID, e, then *entry) {
	if e.wants != "" || then.wants != "" || path.Ext(m.From) != ".rb" || !e.namedAfter() || o.requiredBy()[id] != "" {
		return
	}
	for _, one := range o.old.unknown {
		if u := o.old.table.unitOf(m.From); u != nil && u == o.old.table.unitOf(one.path) {
			o.old.tree.Peek(o.fileAt(one.path), func(content []byte, err error) {
				if err == nil {
					o.lost(m, "%s:%d gives a loader folders that are not known, and it may be found by its path there", one.path,
						source.PositionAt(content, one.at).Line)
				}
			})
			return
		}
	}
}

func (o *owing) fileAt(p string) project.FileID {
	id, _ := o.old.tree.Lookup(p)
	return id
}

// namedAfter says whether a file is named after a constant that it defines.
func (e *entry) namedAfter() bool {
	name := strings.ReplaceAll(stem(e.path), "_", "")
	is := func(full string) bool { return full != "" && strings.EqualFold(last(full), name) }
	return slices.ContainsFunc(e.spaces, is) || slices.ContainsFunc(e.values, is)
}

// unlike keeps a file from a folder of which no other file defines what its path says: a loader may pass it over.
func (o *owing) unlike(m lang.Moved, then *entry) {
	if then.wants == "" || path.Dir(m.From) == path.Dir(m.To) {
		return
	}
	dir := path.Dir(m.To)
	strange, known := o.strange[dir]
	if !known {
		others, fits := 0, 0
		from, to := o.old.tree.Below(dir)
		for other := from; other < to; other++ {
			one := o.old.ix.files[other]
			if one == nil || one.wants == "" || path.Dir(one.path) != dir {
				continue
			}
			if others++; one.label != nil {
				fits++
			}
		}
		strange = others > 0 && fits == 0
		o.strange[dir] = strange
	}
	if strange {
		o.lost(m, "no file in %s defines what its path says, so it is not known what is looked for there", dir)
	}
}

// folders follows modules that no file defines, since a folder makes them: one that is gone is called as the one that all of
// its files went to.
func (o *owing) folders() {
	seen := map[string]bool{}
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil {
			continue
		}
		var edits []source.Edit
		for i := range e.uses {
			u := &e.uses[i]
			if e.ownHead(u) {
				continue
			}
			m := o.old.means(e, u.text, int(u.space))
			if m.full == "" || o.stands(m.full) || o.old.target(m.full).Kind.Inside() {
				continue
			}
			goal := o.folderBecomes(m.full)
			if goal == "" {
				if !seen[m.full] {
					seen[m.full] = true
					o.gone(m.full, e, u)
				}
				continue
			}
			content, err := o.old.tree.Content(id)
			if err != nil {
				continue
			}
			text := firstParts(u.text, m.parts)
			to := goal
			if strings.HasPrefix(text, "::") {
				to = "::" + goal
			}
			edits = append(edits, source.Edit{Span: source.Span{Start: u.at.Start, End: u.at.Start + lengthOf(content, u.at, text)}, New: to})
		}
		if len(edits) > 0 {
			o.out = append(o.out, lang.Duty{Path: e.path, Edits: edits, Why: "the module of a folder that is gone"})
		}
	}
}

// stands says whether a module is there, whichever files are loaded: by a folder, by a file that is found by its path, or by
// one that says more of it than what stands in it.
func (o *owing) stands(full string) bool {
	return o.ix.autos[full] || slices.ContainsFunc(o.ix.consts[full], func(d declared) bool {
		e := o.ix.files[d.file]
		return e.wants != "" || d.at < 0 || e.file.spaces[d.at].more || e.file.spaces[d.at].class
	})
}

// gone blocks the moves out of a folder whose module something names.
func (o *owing) gone(full string, e *entry, u *use) {
	var files []string
	for _, id := range o.old.inModule(full) {
		if p := o.old.tree.Path(id); o.moves[p] != "" {
			files = append(files, p)
		}
	}
	if len(files) > 0 {
		slices.Sort(files)
		o.out = append(o.out, lang.Duty{Path: files[0], Lost: files, Why: fmt.Sprintf("%s names %s, which no folder would make any more",
			e.path, u.text)})
	}
}

// folderBecomes is the module to which all files of a folder's module went; empty where they part.
func (o *owing) folderBecomes(full string) (goal string) {
	for _, id := range o.old.inModule(full) {
		now, here := o.tree.Came(id)
		if !here || o.ix.files[now] == nil {
			return ""
		}
		head, keeps := strings.CutSuffix(o.ix.files[now].wants, strings.TrimPrefix(o.old.ix.files[id].wants, full))
		if !keeps || goal != "" && head != goal {
			return ""
		}
		goal = head
	}
	return goal
}

// Place says of a model that the database knows it by its name.
func (r *Resolver) Place(p string) (lang.Place, bool) {
	r.index()
	id, there := r.tree.Lookup(p)
	e := r.ix.files[id]
	if !there || e == nil || e.label == nil || e.label.at < 0 || !r.isBuiltOn(e, e.label.at, records) {
		return lang.Place{}, false
	}
	return lang.Place{Folder: path.Dir(p), Rest: e.wants, By: "the database", Stored: true, Alone: true,
		Why: "is remembered by its name: its table, the types of rows, texts and jobs"}, true
}

// records are classes whose rows a database keeps.
var records = lang.Words(`ApplicationRecord ActiveRecord::Base`)

// isBuiltOn says whether a class is built on one of some, also by way of others.
func (r *Resolver) isBuiltOn(e *entry, space int, bases map[string]bool) bool {
	names := func(e *entry, space int) bool {
		s := &e.file.spaces[space]
		return s.super >= 0 && bases[strings.TrimPrefix(e.uses[s.super].text, "::")]
	}
	if names(e, space) {
		return true
	}
	above, _ := r.built(e.spaces[space])
	return slices.ContainsFunc(above, func(name string) bool {
		return slices.ContainsFunc(r.ix.consts[name], func(d declared) bool {
			return d.at > 0 && names(r.ix.files[d.file], d.at)
		})
	})
}

// testCases are classes of tests that find what they test by their own name.
var testCases = lang.Words(`ActionController::TestCase ActionView::TestCase ActionMailer::TestCase`)

// tests says in a test what it tests, where it finds that by its own name and it gets another one.
func (o *owing) tests() {
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil {
			continue
		}
		for i := 1; i < len(e.spaces); i++ {
			of, is := strings.CutSuffix(e.spaces[i], "Test")
			if !is || !e.file.spaces[i].class || len(o.old.declaredBy(of)) == 0 || e.file.tests {
				continue
			}
			goal := o.becomes(o.old, of)
			if goal == of || goal == "" || !o.old.isBuiltOn(e, i, testCases) || !o.old.isTested(of) {
				continue
			}
			content, err := o.old.tree.Content(id)
			if err != nil {
				continue
			}
			end := text.LineEnd(content, e.file.spaces[i].head)
			if end > 0 && content[end-1] == '\r' {
				end--
			}
			blanks, _ := text.Indent(content, e.file.spaces[i].from)
			o.out = append(o.out, lang.Duty{Path: e.path, Why: "it finds what it tests by its own name",
				Edits: []source.Edit{{Span: source.Span{Start: end, End: end}, New: "\n" + blanks + "  tests " + goal}}})
		}
	}
}

// isTested says whether a constant is a controller, a mailer or a module of helpers: others are not found by such tests.
func (r *Resolver) isTested(full string) bool {
	return slices.ContainsFunc(r.ix.consts[full], func(d declared) bool {
		return d.at > 0 && (!r.ix.files[d.file].file.spaces[d.at].class || strings.HasSuffix(full, "Controller") ||
			strings.HasSuffix(full, "Mailer"))
	})
}

// routes says of controllers that get other names what is not followed, and where no route is known.
func (o *owing) routes() {
	known, any := map[project.FileID]bool{}, false
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil || !isRoutes(e.path) {
			continue
		}
		content, err := o.old.tree.Content(id)
		if err != nil {
			continue
		}
		any = true
		for _, m := range o.old.routesOf(e, content, nil) {
			if to, there := o.old.routed(e, lang.Own[own](&m).route, m.Text); there {
				known[to] = true
			}
		}
	}
	told := false
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil || o.moves[e.path] == "" || e.label == nil || !strings.HasSuffix(e.wants, "Controller") {
			continue
		}
		now, here := o.tree.Came(id)
		if !here || o.ix.files[now] == nil || o.ix.files[now].wants == e.wants {
			continue
		}
		if any && !known[id] {
			o.out = append(o.out, lang.Duty{Path: e.path, Why: "no route is known that leads to it, and it gets another name"})
		}
		if then, is := o.controllerPath(o.ix.files[now].wants); is && !told {
			told = true
			o.out = append(o.out, lang.Duty{Path: e.path, Why: fmt.Sprintf("it is the controller %s then: "+
				"what compares names of controllers, as lists of permissions do, is not followed", then)})
		}
	}
}

// linking are methods that make an address of their arguments.
var linking = lang.Words(`url_for link_to link_to_if link_to_unless link_to_unless_current button_to redirect_to form_tag`)

// relative says of texts in shared code that they name controllers as seen from the one that is shown: where one gets into
// another module, or out of one, they would mean others. What makes addresses is written from the top.
func (o *owing) relative() {
	changes := ""
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		now, here := o.tree.Came(id)
		if e == nil || !here || o.moves[e.path] == "" || o.ix.files[now] == nil {
			continue
		}
		was, is := o.old.controllerPath(e.wants)
		then, still := o.controllerPath(o.ix.files[now].wants)
		if is && still && path.Dir(was) != path.Dir(then) {
			changes = then
			break
		}
	}
	if changes == "" {
		return
	}
	first, at, count := "", 0, 0
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil || !o.old.isShared(e) {
			continue
		}
		content, err := o.old.tree.Content(id)
		if err != nil {
			continue
		}
		var edits []source.Edit
		for i := range e.texts {
			t := &e.texts[i]
			raw := string(content[t.at.Start:t.at.End])
			if t.key != "controller" || t.quote == 0 || raw == "" || raw[0] == '/' {
				continue
			}
			to, there := o.old.controller(raw)
			if !there {
				continue
			}
			if moved := o.moves[o.old.tree.Path(to)] != ""; !linking[t.call] {
				if count++; count == 1 {
					first, at = e.path, t.at.Start
				}
			} else if !moved { // of one that moves the text is written anyway
				edits = append(edits, source.Edit{Span: t.at, New: "/" + raw})
			}
		}
		if len(edits) > 0 {
			o.out = append(o.out, lang.Duty{Path: e.path, Edits: edits, Why: "a controller that is named from the page that is shown"})
		}
	}
	if count > 0 {
		o.out = append(o.out, lang.Duty{Path: first, At: at, Why: fmt.Sprintf("it names a controller as seen from the page that is shown, "+
			"and pages of %s would look for it in their own module: begin it with a slash (%d places in shared code)", changes, count)})
	}
}

// stored says of constants that get other names that migrations name them, which are never written anew.
func (o *owing) stored() {
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil || !isStored(e.path) {
			continue
		}
		for i := range e.uses {
			u := &e.uses[i]
			m := o.old.means(e, u.text, int(u.space))
			if m.full == "" || !o.old.target(m.full).Kind.Inside() || o.becomes(o.old, m.full) == m.full {
				continue
			}
			o.out = append(o.out, lang.Duty{Path: e.path, At: u.at.Start,
				Why: u.text + " gets another name, and migrations are not written anew: one that is run later would not find it"})
			return
		}
	}
}
