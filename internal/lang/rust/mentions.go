package rust

import (
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Second finds what a file names.
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	if !isRust(r.tree.Path(from)) {
		return r.wordsIn(from, content)
	}
	mod := r.moduleOf(from)
	f, err := lang.Index[*file](r.tree, from)
	if err != nil {
		return nil
	}
	s := &second{Resolver: r, from: from, mod: mod, f: f}
	for i := range f.texts {
		one := &f.texts[i]
		if one.form == "manifest" || one.text != "" {
			s.add(one.at, one.text, Included, own{form: one.form}).Quote = '"'
		}
	}
	if mod != nil {
		s.lines()
		s.uses()
		s.paths()
		s.names()
		s.attributes()
	}
	slices.SortStableFunc(s.out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return lang.InOrder(s.out)
}

// second gathers what a file names.
type second struct {
	*Resolver
	from project.FileID
	mod  *module
	f    *file
	out  []lang.Mention
}

func (s *second) add(at source.Span, text string, kind *lang.Kind, o own) *lang.Mention {
	s.out = append(s.out, lang.Mention{Span: at, Text: text, Kind: kind, Form: lang.Plain, Detail: &lang.Detail{Own: &o}})
	return &s.out[len(s.out)-1]
}

// lines notes the lines that say which files are modules.
func (s *second) lines() {
	for i := range s.f.mods {
		line := &s.f.mods[i]
		for _, p := range line.paths {
			form := ""
			if s.f.moduleOf(line.scope) != 0 {
				form = "module"
			}
			s.add(p.at, p.text, FilePath, own{form: form, scope: line.scope}).Quote = '"'
		}
		if len(line.paths) == 0 {
			s.add(line.at, line.name, Mod, own{path: []string{line.name}, scope: line.scope})
		}
	}
}

// uses notes what uses bring.
func (s *second) uses() {
	for i := range s.f.uses {
		u := &s.f.uses[i]
		stmt := &s.f.stmts[u.stmt]
		o := own{path: fromCrate(u.path), scope: stmt.scope, global: stmt.global, use: true, glob: u.glob, doc: stmt.inDoc, bound: u.bound,
			stmt: u.stmt + 1}
		w := s.ask(s.mod, &o)
		kind := Use
		switch {
		case stmt.inDoc:
			kind = DocPath
		case stmt.sees.reach != private:
			kind = PubUse
		}
		if t := leadsTo(&w); t.Kind.Inside() || t.Kind == lang.ToPackage && !stmt.inDoc {
			s.add(u.own, strings.Join(u.path, "::"), kind, o)
		}
	}
}

// paths notes the paths that lead through modules.
func (s *second) paths() {
	for i := range s.f.paths {
		p := &s.f.paths[i]
		parts := fromCrate(splitPath(p.text))
		o := own{path: parts, scope: p.scope, global: p.global, macro: p.macro, where: p.where, doc: p.where == inDocCode}
		if p.where == inRule && parts[0] != "crate" {
			continue // it is resolved where the macro is called
		}
		w := s.ask(s.mod, &o)
		if len(w.hops) == 0 {
			continue
		}
		first := w.hops[0]
		switch {
		case first.library && s.forest.names[parts[0]] && !o.doc && p.where != inDocLink:
			s.add(p.at, p.text, Foreign, o)
			continue
		case first.library && first.how != byGlob, first.mod == nil && first.how != byGlob, len(parts) == 1 && first.how == byUse:
			continue // a use brings it, or the scope declares it
		}
		if !w.whole() {
			continue
		}
		kind := Path
		if p.where == inDocLink || p.where == inDocCode {
			kind = DocPath
		}
		switch t := leadsTo(&w); {
		case t.Kind.Inside():
			s.add(p.at, p.text, kind, o)
		case t.Kind == lang.ToPackage && kind == Path:
			s.add(p.at, p.text, Given, o)
		}
	}
}

// names notes the names that uses of all of a module bring, and macros that are known by their places.
func (s *second) names() {
	for i := range s.f.singles {
		one := &s.f.singles[i]
		if one.where == inRule || one.where == inDocCode {
			continue
		}
		o := own{path: []string{one.name}, scope: one.scope, macro: one.macro, at: one.at, where: one.where}
		if !one.macro && !s.globbed(one.scope) {
			continue
		}
		w := s.ask(s.mod, &o)
		other := w.other()
		if other == nil && len(w.last) > 0 && w.last[0].library && w.last[0].how == byGlob && s.meant(one) {
			s.add(source.Span{Start: int(one.at), End: int(one.at) + len(one.name)}, one.name, Given, o)
			continue
		}
		if other == nil || other.how != byGlob { // a module is no value, so a variable is meant
			continue
		}
		if t := leadsTo(&w); t.Kind.Inside() && (t.File != s.from || !one.macro) {
			s.add(source.Span{Start: int(one.at), End: int(one.at) + len(one.name)}, one.name, Name, o)
		}
	}
}

// meant says whether a name is one that is declared elsewhere, and no variable: it is called, or begins with a capital.
func (s *second) meant(one *single) bool {
	return one.macro || one.name[0] >= 'A' && one.name[0] <= 'Z' || slices.ContainsFunc(s.f.selects, func(c single) bool {
		return c.name == one.name+"("
	})
}

// globbed says whether a scope has uses of all that is somewhere.
func (s *second) globbed(sc int32) bool {
	for ; ; sc = s.f.scopes[sc].parent {
		if len(s.f.globs[sc]) > 0 {
			return true
		}
		if s.f.scopes[sc].module {
			return false
		}
	}
}

// pathKeys are the keys of attributes whose strings are paths: of serde, whose derive reads them so.
var pathKeys = map[string]bool{"with": true, "default": true, "serialize_with": true, "deserialize_with": true, "remote": true,
	"crate": true, "skip_serializing_if": true, "getter": true, "from": true, "try_from": true, "into": true}

// attributes notes the paths in strings of attributes.
func (s *second) attributes() {
	for i := range s.f.attrs {
		a := &s.f.attrs[i]
		if !isPath(a.text) || !pathKeys[a.key] && !strings.Contains(a.text, "::") || a.attr == "doc" || a.attr == "deprecated" ||
			a.attr == "cfg" {
			continue
		}
		parts := splitPath(a.text)
		o := own{path: parts, scope: a.scope, where: inAttr, form: "text"}
		w := s.ask(s.mod, &o)
		if t := leadsTo(&w); !t.Kind.Inside() || len(parts) == 1 && w.hops[0].how != byGlob ||
			w.hops[0].mod == nil && w.hops[0].how != byGlob {
			continue
		}
		m := s.add(a.at, a.text, TextPath, o)
		m.Quote, m.Likely = '"', !pathKeys[a.key]
		m.Evident = m.Likely
	}
}

// isPath says whether a text is a path: names with :: between.
func isPath(text string) bool {
	for _, part := range splitPath(text) {
		if part == "" || classes[part[0]] != cLetter {
			return false
		}
		for i := range len(part) {
			if classes[part[i]] < cLetter {
				return false
			}
		}
	}
	return true
}
