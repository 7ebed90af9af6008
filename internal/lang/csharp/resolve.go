package csharp

import (
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Resolver answers for one tree.
type Resolver struct {
	tree    *lang.Tree
	any     bool // the tree has C#
	ix      index
	units   []*unit
	table   table
	globals map[*unit][]bring // the usings that count in all files of a project

	unitSpacesOnce sync.Once
	unitSpaces     map[*unit]map[string]bool
	spaceFiles     sync.Map // the files of namespaces, by spaceOfUnits
	pages          sync.Map // what pages say, by their files
	placesOnce     sync.Once
	places         []lang.Place
	resourcesOnce  sync.Once
	resourceIDs    map[*unit]map[string]project.FileID
	habitsOnce     sync.Once
	habits         map[*unit][2]int // how many files follow their folders, and how many there are
}

// New makes what answers for a tree.
func New(tree *lang.Tree) *Resolver {
	return &Resolver{tree: tree,
		any: slices.ContainsFunc(tree.Files, func(f project.File) bool { return isSource(f.Path) })}
}

// own is what only C# knows of a mention.
type own struct {
	use   *use
	using int // the number of a using
	ext   string
	class declared  // of a method that extends others: who has it, in a tree
	of    *Resolver // that tree's
	level int
	space int // of the file: the number of a namespace
}

// Resolve says where a mention leads.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	r.index()
	e := r.ix.files[from]
	o := lang.Own[own](m)
	switch m.Kind {
	case Using:
		if e == nil || o.using >= len(e.brings) {
			return lang.No(lang.ToOutside)
		}
		return r.brought(from, &e.brings[o.using])
	case Name, Again, DocName, Foreign:
		if e == nil || o.use == nil {
			return lang.No(lang.ToOutside)
		}
		f := r.means(from, e, o.use, nil)
		if m.Kind == Foreign && f.space != "" {
			return r.spaceTarget(from, f.space)
		}
		if f.twice {
			return lang.No(lang.ToNothing)
		}
		return r.target(f.all)
	case Extension:
		if e == nil {
			return lang.No(lang.ToOutside)
		}
		class, here := r.cameTo(o.class, o.of)
		if here && slices.Contains(r.extended(e, o.level, o.ext, nil), class) {
			return lang.File(class.file)
		}
		return lang.No(lang.ToNothing)
	case OwnSpace:
		if e != nil && o.space < len(e.follow) && e.follow[o.space] && e.wants == m.Text {
			return lang.File(from)
		}
		return lang.No(lang.ToNothing)
	case ClassText, ClassWord:
		all, _ := r.nameIn(from, m.Text)
		return r.target(all)
	case SpaceText, SpaceWord, Head:
		return r.spaceTarget(from, m.Text)
	case Resource:
		return r.resolveResource(from, m)
	case PageUsing, PageName:
		return r.resolvePage(from, m)
	}
	return lang.No(lang.ToOutside)
}

// cameTo gives a type of another tree as it is in this one.
func (r *Resolver) cameTo(d declared, of *Resolver) (declared, bool) {
	if of == r {
		return d, true
	}
	id, here := r.tree.Came(d.file)
	if !here {
		return declared{}, false
	}
	if e := r.ix.files[id]; e == nil || d.at >= len(e.types) {
		return declared{}, false
	}
	return declared{id, d.at}, true
}

// target is where types are declared.
func (r *Resolver) target(all []declared) lang.Target {
	var ids []project.FileID
	for _, d := range all {
		ids = append(ids, d.file)
	}
	slices.Sort(ids)
	switch ids = slices.Compact(ids); len(ids) {
	case 0:
		return lang.No(lang.ToPackage)
	case 1:
		return lang.File(ids[0])
	}
	return lang.Set(project.Dir(r.tree.Path(ids[0])), ids)
}

// brought is where what a using brings is declared.
func (r *Resolver) brought(from project.FileID, b *bring) lang.Target {
	switch {
	case len(b.types) > 0:
		return r.target(b.types)
	case b.known:
		return r.spaceTarget(from, b.space)
	}
	return lang.No(lang.ToPackage)
}

// spaceTarget gives the files of a namespace, or of those below it where it has none itself.
func (r *Resolver) spaceTarget(from project.FileID, name string) lang.Target {
	ids := r.filesOf(from, name)
	if len(ids) == 0 {
		return lang.No(lang.ToPackage)
	}
	return lang.Set(project.Dir(r.tree.Path(ids[0])), ids)
}

// filesOf are the files of a namespace that a file sees: the same for all files of the same projects.
func (r *Resolver) filesOf(from project.FileID, name string) []project.FileID {
	e := r.ix.files[from]
	key := spaceOfUnits{name: name, any: e == nil}
	if e != nil {
		key.units = e.sight
	}
	if known, there := r.spaceFiles.Load(key); there {
		return known.([]project.FileID)
	}
	out := r.findFiles(e, name)
	r.spaceFiles.Store(key, out)
	return out
}

// spaceOfUnits is a namespace as the files of some projects see it, or as what is no C# does.
type spaceOfUnits struct {
	units, name string
	any         bool
}

func (r *Resolver) findFiles(e *entry, name string) (out []project.FileID) {
	add := func(ids []project.FileID) {
		for _, id := range ids {
			if e == nil || e.sees(r.ix.files[id]) {
				out = append(out, id)
			}
		}
	}
	if add(r.ix.own[name]); len(out) > 0 {
		return out
	}
	for space, ids := range r.ix.own {
		if strings.HasPrefix(space, name+".") {
			add(ids)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// Asks says whether a file is looked at for names: where the tree has C#.
func (r *Resolver) Asks(project.FileID, []lang.Mention, []lang.Target) bool { return r.any }

// Second finds the names that a file uses and another declares.
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	r.index()
	e := r.ix.files[from]
	switch p := r.tree.Path(from); {
	case e != nil:
	case isSource(p):
		return nil
	case isPage(p):
		return lang.InOrder(append(r.pageMentions(from, content), r.wordsIn(from, content)...))
	default:
		return lang.InOrder(r.wordsIn(from, content))
	}
	var out []lang.Mention
	add := func(at source.Span, text string, kind *lang.Kind, o own) *lang.Mention {
		out = append(out, lang.Mention{Span: at, Text: text, Kind: kind, Form: lang.Plain, Detail: &lang.Detail{Own: o}})
		return &out[len(out)-1]
	}
	for i := range e.file.spaces {
		if s := &e.file.spaces[i]; i > 0 && (e.follow[i] || r.agrees(e)) {
			add(s.at, e.file.spaceName(i), OwnSpace, own{space: i})
		}
	}
	for i := range e.usings {
		if one := &e.usings[i]; e.brings[i].known && one.at.Len() > 0 {
			add(one.at, one.name, Using, own{using: i})
		}
	}
	brought := map[project.FileID]bool{} // files that a name led to already
	for i := range e.uses {
		u := &e.uses[i]
		if u.named {
			continue
		}
		f := r.means(from, e, u, nil)
		if len(f.all) == 0 {
			first := partsOf(u.text, 1)
			if f.space == "" && !u.hidden && !u.doc && !(u.called && u.parts == 1) && (r.ix.named[first] || r.ix.parts[first]) {
				add(source.Span{Start: u.at.Start, End: int(e.ends[u.ends])}, first, Foreign, own{use: u})
			}
			continue
		}
		if !slices.ContainsFunc(f.all, func(d declared) bool { return d.file != from }) {
			continue
		}
		kind := Again
		if u.doc {
			kind = DocName
		} else if other := f.all[0].file; other != from && !brought[other] {
			kind = Name
			brought[other] = true
		}
		at := source.Span{Start: u.at.Start, End: int(e.ends[int(u.ends)+f.parts-1])}
		add(at, partsOf(u.text, f.parts), kind, own{use: u})
	}
	seen := map[declared]map[string]bool{}
	visible := map[int32]map[string]bool{}
	for i := range e.selects {
		s := &e.selects[i]
		if len(r.ix.extend[s.name]) == 0 {
			continue
		}
		if visible[s.space] == nil {
			visible[s.space] = r.visible(e, int(s.space), nil)
		}
		for _, d := range r.extendedIn(e, visible[s.space], s.name) {
			if d.file == from || seen[d][s.name] {
				continue
			}
			if seen[d] == nil {
				seen[d] = map[string]bool{}
			}
			seen[d][s.name] = true
			add(source.Span{Start: s.at, End: s.at + len(s.name)}, s.name, Extension,
				own{ext: s.name, class: d, of: r, level: int(s.space)})
			break // one place can hold one
		}
	}
	out = r.textsIn(from, e, content, out)
	slices.SortStableFunc(out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return lang.InOrder(out)
}

// agrees says whether the namespaces of a file's project follow its folders as a rule.
func (r *Resolver) agrees(e *entry) bool {
	r.habitsOnce.Do(func() {
		r.habits = map[*unit][2]int{}
		for _, other := range r.ix.files {
			if len(other.units) == 0 || other.wants == "" || len(other.spaces) < 2 {
				continue
			}
			h := r.habits[other.units[0]]
			if h[1]++; other.follow[1] {
				h[0]++
			}
			r.habits[other.units[0]] = h
		}
	})
	if len(e.units) == 0 || e.wants == "" {
		return false
	}
	h := r.habits[e.units[0]]
	return h[0]*10 >= h[1]*8
}

// nameIn gives who declares a type that a text names: A.B, A.B+C, A.B`1, with a method or an assembly behind it.
func (r *Resolver) nameIn(from project.FileID, text string) ([]declared, string) {
	name := plainName(text)
	for ; strings.Contains(name, "."); name = parent(name) {
		if all := r.declares(from, name, anyArity); len(all) > 0 {
			return all, name
		}
	}
	return nil, ""
}

// plainName is a name of a type without what a text may have behind it.
func plainName(text string) string {
	if at := strings.IndexAny(text, "`,:;([ "); at >= 0 {
		text = text[:at]
	}
	return strings.ReplaceAll(text, "+", ".")
}

// dotted is the name of the type that a file is called as, with its namespace: texts that no rule reads may hold it.
func (r *Resolver) dotted(p string) string {
	if !isSource(p) {
		return ""
	}
	r.index()
	id, there := r.tree.Lookup(p)
	if !there || r.ix.files[id] == nil {
		return ""
	}
	e := r.ix.files[id]
	stem := strings.TrimSuffix(path.Base(p), path.Ext(p))
	for i := range e.types {
		if d := &e.types[i]; d.owner < 0 && d.name == stem {
			return e.nameOf(i)
		}
	}
	return ""
}

// Spell is for what is written by itself.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	m := q.Mention
	old, ok := q.Old.(*Resolver)
	if !ok || !q.Target.Kind.Inside() {
		return lang.Spelling{Text: m.Text}, ok
	}
	old.index()
	r.index()
	switch m.Kind {
	case Resource:
		return r.spellResource(q)
	case ClassText, ClassWord:
		all, name := old.nameIn(q.OldFrom, m.Text)
		goal := r.goal(all, old, name)
		return lang.Spelling{Text: respelled(m.Text, name, goal)}, goal != name
	case SpaceText, SpaceWord, Head:
		goal, whole := r.spaceGoal(old, q.OldFrom, m.Text)
		return lang.Spelling{Text: goal}, whole
	}
	return lang.Spelling{}, false
}

// respelled writes a name anew in a text: with + where the old one had it, and with what stands behind.
func respelled(text, name, goal string) string {
	head := text[:len(name)]
	if at := strings.IndexByte(head, '+'); at >= 0 {
		inner := strings.Count(head[at:], "+") + strings.Count(head[at:], ".")
		parts := strings.Split(goal, ".")
		cut := max(1, len(parts)-inner)
		goal = strings.Join(parts[:cut], ".") + "+" + strings.Join(parts[cut:], "+")
	}
	return goal + text[len(name):]
}

// goal is the name in full that a type has in the end, given who declared it in the old tree.
func (r *Resolver) goal(all []declared, old *Resolver, name string) string {
	for _, d := range all {
		if now, here := r.cameTo(d, old); here {
			return r.ix.files[now.file].nameOf(now.at)
		}
	}
	return name
}

// spaceGoal gives what becomes of a namespace: false where its files do not keep the rest of their names, or go to
// several.
func (r *Resolver) spaceGoal(old *Resolver, from project.FileID, name string) (goal string, whole bool) {
	ids := old.filesOf(from, name)
	for _, id := range ids {
		now, ok := r.tree.Came(id)
		if !ok || r.ix.files[now] == nil {
			return "", false
		}
		was, is := old.ix.files[id], r.ix.files[now]
		for i := range was.spaces {
			if !within(was.spaces[i], name) {
				continue
			}
			head, same := strings.CutSuffix("."+is.spaces[i], strings.TrimPrefix(was.spaces[i], name))
			if head = strings.TrimPrefix(head, "."); !same || goal != "" && head != goal {
				return "", false
			}
			goal = head
		}
	}
	return goal, goal != ""
}
