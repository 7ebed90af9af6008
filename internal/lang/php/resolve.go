package php

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
	load     autoload
	warnings []string
	any      bool // the tree has PHP
	ix       index

	includeOnce sync.Once
	includeDirs []string
	runOnce     sync.Once
	runs        map[project.FileID][]string
	serves      map[string]bool // folders of pages

	beforeOnce sync.Once
	beforehand *Resolver // of the tree that this one is laid over
	viewOnce   sync.Once
	views      []string
	templates  []templateRoot
	configs    []string // folders of settings whose keys begin with the name of a file
	saysWhere  bool     // settings say where templates lie

	underOnce sync.Once
	under     autoload // of the tree that this one is laid over
}

// New reads how classes are found in a tree.
func New(tree *lang.Tree) *Resolver {
	r := &Resolver{tree: tree}
	r.any = slices.ContainsFunc(tree.Files, func(f project.File) bool { return isPHP(f.Path) })
	if r.any {
		r.load, r.warnings = readAutoload(tree.Project)
	}
	return r
}

// own is what only PHP knows of a mention.
type own struct {
	space space
	block int
	name  string // of an import: the whole name
	tail  string // of the beginning of names: what they end with
	ahead bool   // __NAMESPACE__ stands before it
}

// Resolve says where a mention leads.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	ix, o := r.index(), lang.Own[own](m)
	if x := lang.Own[pathOwn](m); x.expr != nil {
		return r.resolvePath(from, x.expr, x.far)
	}
	e := ix.files[from]
	switch m.Kind {
	case View, ViewText:
		return r.resolveView(lang.Own[viewOwn](m), m.Text)
	case DocRoot:
		t, _ := r.resolveRoot(from, m.Text)
		return t
	case OnServer:
		t, _ := r.resolveOnServer(from, m.Text)
		return t
	case Address:
		return r.resolveAddress(from, m.Text)
	case Import:
		all, _ := ix.find(from, o.space, meaning{name: o.name})
		if len(all) == 0 && r.ours(o.name) {
			return lang.No(lang.ToNothing)
		}
		return r.target(all)
	case SpaceImport:
		return r.spaceTarget(o.name, "")
	case Name, Again, DocName:
		if e == nil || o.block >= len(e.blocks) {
			return lang.No(lang.ToOutside)
		}
		all, _ := ix.find(from, o.space, e.blockOf(o.block).means(m.Text, o.space))
		return r.target(all)
	case OwnSpace:
		if e != nil && e.label >= 0 && !e.loose && strings.EqualFold(e.spaces[o.block], m.Text) {
			return lang.File(from)
		}
		return lang.No(lang.ToNothing)
	case OwnClass:
		if e != nil && e.label >= 0 && e.class == m.Text {
			return lang.File(from)
		}
		return lang.No(lang.ToNothing)
	case ClassText, ClassWord:
		all, _ := r.named(from, m.Text)
		return r.target(all)
	case SpaceText, SpaceWord:
		name := strings.Trim(unescaped(m.Text), `\`)
		if o.ahead && e != nil && o.block < len(e.blocks) {
			name = strings.Trim(join(e.spaces[o.block], name), `\`)
		}
		return r.spaceTarget(name, o.tail)
	}
	return lang.No(lang.ToOutside)
}

// ours says whether a name begins like those of a root, so that a file below it must declare it.
func (r *Resolver) ours(name string) bool {
	return slices.ContainsFunc(r.load.roots, func(one root) bool {
		return one.prefix != "" && strings.HasPrefix(name, one.prefix) && r.tree.IsDir(one.dir)
	})
}

// spaceTarget gives the files that declare something in a namespace or below it, whose name ends with a text.
func (r *Resolver) spaceTarget(name, tail string) lang.Target {
	ids := r.index().within[strings.ToLower(name)]
	if tail != "" {
		ids = slices.DeleteFunc(slices.Clone(ids), func(id project.FileID) bool {
			e := r.ix.files[id]
			for i := range e.declared {
				if strings.HasSuffix(e.nameOf(i), tail) {
					return false
				}
			}
			return true
		})
	}
	if len(ids) == 0 {
		return lang.No(lang.ToPackage)
	}
	return lang.Set(".", ids)
}

// named gives who declares a name in full that a text holds, and that name: A\B, \A\B, A\\B, with ::m behind it.
func (r *Resolver) named(from project.FileID, text string) ([]declared, string) {
	name := strings.TrimPrefix(unescaped(text), `\`)
	if at := strings.IndexAny(name, ":@"); at >= 0 { // a method
		name = name[:at]
	}
	for s := range spaces {
		if all := r.index().declares(from, s, name); len(all) > 0 {
			return all, name
		}
	}
	return nil, name
}

// Asks says whether a file is looked at for names: where the tree has PHP.
func (r *Resolver) Asks(project.FileID, []lang.Mention, []lang.Target) bool { return r.any }

// Second finds the names that a file uses and another declares.
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	if !isPHP(r.tree.Path(from)) {
		out := append(r.wordsIn(from, content), r.directivesIn(from, content)...)
		if strings.HasSuffix(r.tree.Path(from), templateEnding) {
			out = append(out, r.templatesIn(content)...)
		}
		slices.SortStableFunc(out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
		return lang.InOrder(out)
	}
	e := r.index().files[from]
	if e == nil {
		return nil
	}
	var out []lang.Mention
	out = r.labels(from, e, out)
	brought := map[project.FileID]bool{} // files that an import or a name led to already
	for i := range e.blocks {
		b := e.blockOf(i)
		for k := range b.imports {
			out = append(out, r.importMention(from, &b.imports[k]))
			if t := r.Resolve(from, &out[len(out)-1]); t.Kind == lang.ToFile {
				brought[t.File] = true
			}
		}
	}
	for i := range e.uses {
		u := &e.uses[i]
		all, _ := r.ix.find(from, u.space, e.blockOf(u.block).means(u.text, u.space))
		if len(all) == 0 {
			continue
		}
		m := lang.Mention{Span: u.at, Text: u.text, Kind: Name, Form: lang.Plain, Deferred: u.late,
			Detail: &lang.Detail{Own: own{space: u.space, block: u.block}}}
		switch {
		case u.doc:
			m.Kind = DocName
		case len(all) == 1 && (all[0].file == from || brought[all[0].file]):
			m.Kind = Again
		case len(all) == 1:
			brought[all[0].file] = true
		}
		out = append(out, m)
	}
	out = r.textsIn(from, e, out)
	out = r.pathsOf(from, e, content, out)
	out = r.viewsOf(e, out)
	slices.SortStableFunc(out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return lang.InOrder(out)
}

// labels are the names that a file gives itself, where it is found by its path, or would be if they were right.
func (r *Resolver) labels(from project.FileID, e *entry, out []lang.Mention) []lang.Mention {
	p := r.tree.Path(from)
	at := e.label
	if at < 0 && r.load.rooted(p) && !r.load.lists(p) {
		at = e.only(strings.TrimSuffix(path.Base(p), path.Ext(p))) // it is found by nothing
	}
	if at < 0 {
		return out
	}
	d := &e.declared[at]
	if b := &e.blocks[d.block]; b.at.Len() > 0 {
		out = append(out, lang.Mention{Span: b.at, Text: b.name, Kind: OwnSpace, Form: lang.Plain,
			Detail: &lang.Detail{Own: own{block: d.block}}})
	}
	if e.label >= 0 {
		out = append(out, lang.Mention{Span: d.at, Text: d.name, Kind: OwnClass, Form: lang.Plain})
	}
	return out
}

// only is the one class of a file, if that bears the name of the file; -1 where there is none.
func (e *entry) only(stem string) int {
	at := -1
	for i := range e.declared {
		if d := &e.declared[i]; d.space == class && !d.full {
			if at >= 0 || d.name != stem {
				return -1
			}
			at = i
		}
	}
	return at
}

func (r *Resolver) importMention(from project.FileID, one *item) lang.Mention {
	m := lang.Mention{Span: one.at, Text: one.name, Kind: Import, Form: lang.Plain,
		Detail: &lang.Detail{Own: own{space: one.space, name: one.name}}}
	if len(r.ix.declares(from, one.space, one.name)) == 0 && one.space == class &&
		len(r.ix.within[strings.ToLower(one.name)]) > 0 {
		m.Kind = SpaceImport
	}
	return m
}

// textsIn finds strings that are names of classes, or that such names begin with.
func (r *Resolver) textsIn(from project.FileID, e *entry, out []lang.Mention) []lang.Mention {
	for i := range e.texts {
		t := &e.texts[i]
		if all, _ := r.named(from, t.raw); len(all) == 0 {
			continue
		}
		certain := loads.has([]byte(t.call)) || strings.HasPrefix(t.call, "new reflection") ||
			strings.HasSuffix(t.call, "mock") || t.html && strings.HasSuffix(r.tree.Path(from), viewEndings[0])
		if !certain && !t.alone && !t.within {
			continue
		}
		out = append(out, lang.Mention{Span: t.at, Text: t.raw, Kind: ClassText, Form: lang.Plain, Quote: t.quote,
			Likely: !certain, Evident: !t.within, Deferred: true, Detail: &lang.Detail{Own: own{}}})
	}
	for i := range e.heads {
		h := &e.heads[i]
		m := lang.Mention{Span: h.at, Text: h.raw, Kind: SpaceText, Form: lang.Plain, Quote: h.quote, Deferred: true,
			Detail: &lang.Detail{Own: own{block: h.block, tail: h.suffix, ahead: h.own}}}
		// one that may begin any name of the package says too little to hold all of it back: it is shown
		m.Likely = slices.ContainsFunc(r.load.roots, func(one root) bool {
			return strings.EqualFold(one.prefix, strings.TrimPrefix(unescaped(h.raw), `\`))
		})
		m.Evident = m.Likely
		if r.Resolve(from, &m).Kind.Inside() {
			out = append(out, m)
		}
	}
	return out
}
