package rust

import (
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Resolver answers for one tree.
type Resolver struct {
	tree     *lang.Tree
	any      bool // the tree has Rust
	once     sync.Once
	forest   *forest
	exported map[*crate][]thing // the macros that are known at the root of a crate

	usersOnce sync.Once
	users     map[*module][]*module // by the module that they name
}

// New makes what answers for a tree.
func New(tree *lang.Tree) *Resolver {
	return &Resolver{tree: tree,
		any: slices.ContainsFunc(tree.Files, func(f project.File) bool { return isRust(f.Path) })}
}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{
		Kinds: Kinds, Resolver: r, Settles: settles, Settle: r.Settle, Owes: r.Owes, Asks: r.Asks, Second: r.Second,
		AnyFile: true, Links: r.Links, Bindings: bindings, Place: r.Place, Places: r.Places, Packages: r.Packages, Part: r.Part,
	}
}

// modules gives the modules of the tree.
func (r *Resolver) modules() *forest {
	r.once.Do(func() {
		r.forest = grow(r.tree)
		r.exported = map[*crate][]thing{}
		for _, c := range r.forest.crates {
			for _, m := range c.all {
				for i := range m.text.items {
					if one := &m.text.items[i]; one.exported {
						r.exported[c] = append(r.exported[c], thing{item: one, owner: m.in(one.scope)})
					}
				}
			}
		}
	})
	return r.forest
}

// Places are the folders whose files are crates because of where they stand (the Cargo book, "Package Layout").
func (r *Resolver) Places() (out []lang.Place) {
	if !r.any {
		return nil
	}
	seen := map[string]bool{}
	for _, p := range r.modules().packs {
		for _, t := range p.targets {
			one := placeOf(p, t)
			if base := path.Base(t.file); t.byName && base != "lib.rs" && base != "main.rs" && t.kind != aBuild && !seen[one.Folder] {
				seen[one.Folder] = true
				out = append(out, one)
			}
		}
	}
	return out
}

// Place gives the place of a file that is the root of a crate: what is built of it and how it is called tell the crate.
func (r *Resolver) Place(file string) (lang.Place, bool) {
	if !r.any || !isRust(file) {
		return lang.Place{}, false
	}
	for _, p := range r.modules().packs {
		for _, t := range p.targets {
			if t.file == file {
				one := placeOf(p, t)
				one.Named = !t.byName
				if one.Rest = t.kind.String() + " " + t.name; t.kind == aLibrary || t.kind == aBuild { // others know it by its package
					one.Rest = t.kind.String()
				}
				return one, true
			}
		}
	}
	return lang.Place{}, false
}

func placeOf(p *pack, t target) lang.Place {
	rest := t.file
	if p.dir != "." {
		rest = strings.TrimPrefix(t.file, p.dir+"/")
	}
	return lang.Place{Folder: path.Dir(t.file), Rest: rest, By: "Cargo", Why: "is the root of a crate", Alone: true}
}

// moduleOf gives the module that a file is; nil for none. One that is a module of several crates is asked for in the
// first.
func (r *Resolver) moduleOf(id project.FileID) *module {
	if all := r.modules().of[id]; len(all) > 0 {
		return all[0]
	}
	return nil
}

// own is what only Rust knows of a mention.
type own struct {
	path   []string
	scope  int32
	global bool
	use    bool
	glob   bool
	macro  bool
	doc    bool // it stands in the code of an example, which is a crate of its own
	bound  string
	at     int32
	stmt   int32 // of a use, from 1
	where  placeKind
	form   string
}

// ask walks along the path of a mention.
func (r *Resolver) ask(m *module, o *own) walked {
	q := newQuery()
	switch {
	case o.where == inDocLink:
		w := r.walk(m, o.scope, o.path, o.global, o.use, q)
		if root := r.forest.roots[o.path[0]]; len(w.hops) == 0 && root != nil { // a reader finds it by its name
			return r.walkWord(o.path)
		}
		return w
	case o.doc:
		return r.walkOutside(m, o.path, q)
	case o.macro && len(o.path) == 1:
		if t := r.textual(m.holder().in(o.scope), o.scope, o.at, o.path[0]); t != nil {
			f := found{thing: *t, how: byGlob}
			return walked{hops: []found{f}, last: []found{f}}
		}
	}
	w := r.walk(m, o.scope, o.path, o.global, o.use, q)
	if !o.macro {
		return w
	}
	// only a macro is meant: what else has the name hides none
	w.last = macros(w.last)
	for at, in := o.scope, m.holder().in(o.scope); len(w.last) == 0 && len(o.path) == 1; at = m.text.scopes[at].parent {
		if w.last = macros(r.byGlobs(in, at, o.path[0], q)); len(w.last) > 0 {
			w.hops = w.last[:1]
		}
		if m.text.scopes[at].module {
			break
		}
	}
	return w
}

// macros are those of some things that may be macros.
func macros(all []found) []found {
	return slices.DeleteFunc(slices.Clone(all), func(f found) bool {
		return !f.library && (f.item == nil || f.item.kind != isMacro)
	})
}

// walkOutside goes along a path as another crate sees it.
func (r *Resolver) walkOutside(m *module, path []string, q *query) (w walked) {
	p := m.crate.pack
	var now []found
	for i, part := range path {
		if i == 0 {
			if lib := r.forest.libs[p.dir]; part == p.lib && lib != nil {
				now = []found{{thing: thing{mod: lib.root}, how: byCrate}}
			} else {
				now = r.crateNamed(m, part, found{how: byCrate})
			}
		} else {
			now = r.next(now, part, nil, q, &w)
		}
		if len(now) == 0 {
			return walked{}
		}
		if w.hops, w.last = append(w.hops, now[0]), now; now[0].mod == nil {
			return w
		}
	}
	return w
}

// textual gives the macro that a name stands for by the order of the text (the reference, "Textual scope"); nil for none.
func (r *Resolver) textual(m *module, sc, at int32, name string) *thing {
	for m != nil {
		f := m.text
		for {
			if t := r.macroIn(m, sc, at, name); t != nil {
				return t
			}
			if f.scopes[sc].module {
				break
			}
			sc = f.scopes[sc].parent
		}
		at = m.at
		if m.line != nil {
			sc = m.line.scope
		} else if m.scope != 0 {
			sc = f.scopes[m.scope].parent
		}
		m = m.parent
	}
	return nil
}

// macroIn gives the last macro of a name that a scope has before a place.
func (r *Resolver) macroIn(m *module, sc, at int32, name string) (out *thing) {
	last := int32(-1)
	for _, ref := range m.text.decls[nameIn{name, sc}] {
		if ref.of != ofItem {
			continue
		}
		if one := &m.text.items[ref.at]; one.kind == isMacro && one.at < at && one.at > last {
			out, last = &thing{item: one, owner: m}, one.at
		}
	}
	if sc != m.scope {
		return out
	}
	for _, k := range m.giving {
		if k.at >= at || k.at < last {
			continue
		}
		if t := r.macroIn(k, k.scope, 1<<30, name); t != nil {
			out, last = t, k.at
		}
	}
	return out
}

// usesMacros says whether the macros of a module are known behind it.
func (m *module) usesMacros() bool {
	if m.line != nil {
		return m.line.macroUse
	}
	return m.scope != 0 && m.text.scopes[m.scope].macroUse
}

// leadsTo is where things are declared.
func leadsTo(w *walked) lang.Target {
	if len(w.last) == 0 {
		return lang.No(lang.ToNothing)
	}
	for i := range w.last {
		if t := &w.last[i]; t.mod == nil && !t.library {
			out := lang.File(t.file())
			if t.made {
				out.Twin = out.File
			}
			return out
		}
	}
	if t := &w.last[0]; !t.library {
		out := lang.File(t.file())
		if w.rest { // another thing than the module itself: its file stands for what no text declares too
			out.Twin = out.File
		}
		return out
	}
	return lang.No(lang.ToPackage)
}

// Resolve says where a mention leads.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	o := lang.Own[*own](m)
	if o == nil {
		return lang.No(lang.ToOutside)
	}
	switch m.Kind {
	case Included, FilePath:
		return r.resolveFile(from, m.Text, o)
	case Word:
		w := r.walkWord(o.path)
		return leadsTo(&w)
	}
	mod := r.moduleOf(from)
	if mod == nil || int(o.scope) >= len(mod.text.scopes) {
		return lang.No(lang.ToOutside)
	}
	if m.Kind == Mod {
		if k := mod.in(o.scope).kid(o.path[0]); k != nil {
			return lang.File(k.file)
		}
		return lang.No(lang.ToNothing)
	}
	w := r.ask(mod, o)
	if t := leadsTo(&w); t.Kind != lang.ToNothing || m.Kind != Foreign {
		return t
	}
	return lang.No(lang.ToPackage)
}

// resolveFile says which file a path leads to that a macro or an attribute names.
func (r *Resolver) resolveFile(from project.FileID, text string, o *own) lang.Target {
	at := path.Join(r.baseOf(from, o), text)
	if id, there := r.tree.Lookup(at); there {
		return lang.File(id)
	}
	if lang.Leaves(at) || r.tree.IsDir(at) {
		return lang.No(lang.ToOutside)
	}
	return lang.No(lang.ToNothing)
}

// baseOf is the folder from which such a path is read.
func (r *Resolver) baseOf(from project.FileID, o *own) string {
	dir := project.Dir(r.tree.Path(from))
	switch o.form {
	case "manifest":
		for at := dir; ; at = path.Dir(at) {
			if _, is := r.tree.Lookup(path.Join(at, manifestName)); is || at == "." {
				return at
			}
		}
	case "module": // inside of braces
		if m := r.moduleOf(from); m != nil && int(o.scope) < len(m.text.scopes) {
			return m.in(o.scope).dir
		}
	}
	return dir
}

// Asks says whether a file is looked at for names: where the tree has Rust.
func (r *Resolver) Asks(project.FileID, []lang.Mention, []lang.Target) bool { return r.any }

// Links are the roots of the crates that a file is a module of. A root has itself: a module may become one.
func (r *Resolver) Links(from project.FileID) (out []lang.Link) {
	if !r.any || !isRust(r.tree.Path(from)) {
		return nil
	}
	for _, m := range r.modules().of[from] {
		root := m.crate.root.file
		out = append(out, lang.Link{To: root, Why: "is a module of the crate of " + r.tree.Path(root), As: "module"})
	}
	return out
}

// bindings are the names that a use brings.
func bindings(_ []byte, m *lang.Mention) []lang.Binding {
	o := lang.Own[*own](m)
	switch {
	case o == nil || m.Kind != Use && m.Kind != PubUse:
		return nil
	case o.glob:
		return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
	}
	return []lang.Binding{{Name: o.path[len(o.path)-1], Local: o.bound}}
}

// Spell writes the path of a file anew.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	o := lang.Own[*own](q.Mention)
	if o == nil {
		return lang.Spelling{}, false
	}
	if q.Mention.Kind == Word {
		return r.spellWord(q, o)
	}
	base := r.baseOf(q.From, o)
	to := ""
	switch {
	case q.Target.Kind == lang.ToFile:
		to = r.tree.Path(q.Target.File)
	case q.Before.Kind == lang.ToOutside || q.Before.Kind == lang.ToNothing:
		old, ok := q.Old.(*Resolver)
		if !ok {
			return lang.Spelling{}, false
		}
		was := path.Join(old.baseOf(q.OldFrom, o), q.Mention.Text)
		if lang.Leaves(was) {
			return lang.Spelling{Text: q.Mention.Text}, was == path.Join(base, q.Mention.Text) ||
				project.Dir(old.tree.Path(q.OldFrom)) == project.Dir(r.tree.Path(q.From))
		}
		to = was
		if q.Goes != nil {
			to = q.Goes(was)
		}
	default:
		return lang.Spelling{}, false
	}
	text := strings.TrimPrefix(lang.Relative(base, to), "./")
	return lang.Spelling{Text: text}, true
}
