package ruby

import (
	"path"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file says where paths lead that code puts together, and writes them anew.

// mostNames is how many constants are followed that stand for one another.
const mostNames = 10

// placeOf is the path from the root of the tree that an expression stands for; false for one that is not known.
func (r *Resolver) placeOf(from string, f *file, x *place, depth int) (string, bool) {
	base := ""
	switch x.base {
	case fromOwn:
		base = path.Dir(from)
	case fromFile:
		base = from
	case fromRoot:
		u := r.appOf(from)
		if u == nil {
			return "", false
		}
		base = u.dir
	case fromName:
		if depth > mostNames {
			return "", false
		}
		found := false
		for i := range f.paths {
			if p := &f.paths[i]; p.name == x.name && !p.open {
				dir, ok := r.placeOf(from, f, &p.place, depth+1)
				if !ok || found && dir != base {
					return "", false // it has several values
				}
				base, found = dir, true
			}
		}
		if !found {
			return "", false
		}
	}
	p := path.Join(base, x.text)
	return p, !lang.Leaves(p)
}

// appOf is the application that a path is of: its root is the one that the framework knows.
func (r *Resolver) appOf(p string) *unit {
	var first *unit
	for _, u := range r.table.units {
		if within(p, u.dir) {
			if u.app {
				return u
			}
			if first == nil {
				first = u
			}
		}
	}
	for _, u := range r.table.units { // of an engine: the application that tests it
		if u.app && first != nil && within(u.dir, first.dir) {
			return u
		}
	}
	return first
}

// resolvePath says where an expression leads.
func (r *Resolver) resolvePath(from project.FileID, e *entry, x *pathExpr) lang.Target {
	p, ok := r.placeOf(e.path, e.file, &x.place, 0)
	if !ok {
		return lang.No(lang.ToOutside)
	}
	switch {
	case x.open:
		dir, head := p, ""
		if !strings.HasSuffix(x.text, "/") && x.text != "" && !r.tree.IsDir(p) {
			dir, head = path.Dir(p), p
		}
		return r.tree.FilesBelow(dir, func(p string) bool { return strings.HasPrefix(p, head) })
	case strings.ContainsAny(p, "*?[{"):
		head := path.Dir(p[:strings.IndexAny(p, "*?[{")] + "x")
		if !doublestar.ValidatePattern(p) {
			return lang.No(lang.ToOutside)
		}
		return r.tree.FilesBelow(head, func(file string) bool { fits, _ := doublestar.Match(p, file); return fits })
	}
	if id, there := r.tree.Lookup(p); there {
		return lang.File(id)
	}
	if x.load != "" {
		if id, there := r.tree.Lookup(p + ".rb"); there {
			return lang.File(id)
		}
	}
	if r.tree.IsDir(p) {
		return lang.Folder(p)
	}
	return lang.No(lang.ToOutside)
}

// pathsOf finds the paths that a file puts together.
func (r *Resolver) pathsOf(from project.FileID, e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.paths {
		x := &e.paths[i]
		if len(x.texts) == 0 && (x.base == fromName || x.base != fromOwn && x.base != fromFile || x.text == "" || x.open) {
			continue
		}
		m := lang.Mention{Form: lang.Plain, Deferred: x.late, Kind: FilePath, Detail: &lang.Detail{Own: own{expr: x}}}
		switch {
		case x.load != "":
			m.Kind = LoadPath
		case x.open:
			m.Kind = OpenPath
		}
		if n := len(x.texts); n > 0 {
			m.Span.Start, m.Span.End = x.texts[0].Start, x.texts[n-1].End
			if n > 1 {
				m.Detail.Join = x.join
			}
			if x.quote == '\'' || x.quote == '"' {
				m.Form, m.Quote = lang.InScript, x.quote
			}
			m.Text = strings.TrimPrefix(strings.TrimPrefix(x.text, x.before.text), "/")
			if x.slash {
				m.Text = "/" + m.Text
			}
		} else {
			m.Span, m.Text = x.at, string(content[x.at.Start:x.at.End])
		}
		if m.Span.End <= m.Span.Start {
			continue
		}
		if !r.resolvePath(from, e, x).Kind.Inside() && x.base == fromName {
			continue
		}
		out = append(out, m)
	}
	return out
}

// spellPath writes the texts at the end of a path anew.
func (r *Resolver) spellPath(q lang.Respelling, old *Resolver) (lang.Spelling, bool) {
	x := lang.Own[own](q.Mention).expr
	e := r.ix.files[q.From]
	if x == nil || e == nil {
		return lang.Spelling{}, false
	}
	if place, known := r.placeOf(e.path, e.file, &x.place, 0); !q.Target.Kind.Inside() && old.tree.Path(q.OldFrom) == e.path &&
		(!known || q.Goes(place) == place) { // what is no part of the tree, and stays where it is
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	goal := ""
	switch t := q.Target; t.Kind {
	case lang.ToFile:
		goal = r.tree.Path(t.File)
	case lang.ToFolder:
		goal = t.Folder()
	default: // what is no part of the tree, or a pattern
		was, ok := old.placeOf(old.tree.Path(q.OldFrom), old.ix.files[q.OldFrom].file, &x.place, 0)
		if !ok { // beyond the tree
			return lang.Spelling{Text: q.Mention.Text}, old.tree.Path(q.OldFrom) == e.path
		}
		dir, rest := was, ""
		if at := strings.IndexAny(was, "*?[{"); at >= 0 {
			dir = path.Dir(was[:at] + "x")
			rest = strings.TrimPrefix(below(was, dir), "/")
		} else if x.open && !old.tree.IsDir(was) {
			dir, rest = path.Dir(was), path.Base(was)
		}
		if goal = q.Goes(dir); t.Kind == lang.ToSet && t.Folder() != "" && q.Before.Folder() == dir {
			goal = t.Folder()
		}
		goal = path.Join(goal, rest)
	}
	if x.load != "" && path.Ext(x.text) != ".rb" {
		goal = strings.TrimSuffix(goal, ".rb")
	}
	if len(x.texts) == 0 {
		return r.spellOwn(q, e, x, goal)
	}
	base, ok := r.placeOf(e.path, e.file, &x.before, 0)
	if x.before.base == fromName { // what it stands for goes where its folder goes
		was, known := old.placeOf(old.tree.Path(q.OldFrom), old.ix.files[q.OldFrom].file, &x.before, 0)
		if base, ok = was, known; known {
			base = q.Goes(was)
		}
	}
	if !ok {
		return lang.Spelling{}, false
	}
	text := strings.TrimPrefix(lang.Relative(base, goal), "./")
	if text == "." {
		text = ""
	}
	raw := q.Mention.Text
	if strings.HasSuffix(raw, "/") && !strings.HasSuffix(text, "/") {
		text += "/"
	}
	if strings.HasPrefix(raw, "./") && !strings.HasPrefix(text, ".") {
		text = "./" + text
	}
	if x.slash && text != "" {
		text = "/" + strings.TrimPrefix(text, "/")
	}
	if text == "" && raw != "" {
		text = "."
		if x.slash {
			text = "/."
		}
	}
	return lang.Spelling{Text: text}, true
}

// spellOwn writes a path anew that no text ends: File.dirname(__dir__).
func (r *Resolver) spellOwn(q lang.Respelling, e *entry, x *pathExpr, goal string) (lang.Spelling, bool) {
	if now, ok := r.placeOf(e.path, e.file, &x.place, 0); ok && now == goal {
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	return lang.Spelling{Text: "File.expand_path('" + lang.Relative(path.Dir(e.path), goal) + "', __dir__)"}, true
}

// stem is the name of a file without its ending.
func stem(p string) string {
	base := path.Base(p)
	return strings.TrimSuffix(base, path.Ext(base))
}
