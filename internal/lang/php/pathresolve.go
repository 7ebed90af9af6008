package php

import (
	"path"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file says where paths lead. A path counts from the file's own folder, from a constant that some file defines,
// from the folder of the package, or from where the program runs.

// pathOwn is what only PHP knows of a path.
type pathOwn struct {
	expr *pathExpr
	far  bool // a bare text that leads nowhere but from the top of the package, or of the tree
}

// folder gives the folder that a place counts from, and the text behind it; false where that is not known.
func (r *Resolver) folder(from project.FileID, v place, block int, depth int) (dir, text string, ok bool) {
	switch v.base {
	case fromOwn:
		dir = path.Dir(r.tree.Path(from))
		for range v.up {
			if dir == "." {
				return "", "", false
			}
			dir = path.Dir(dir)
		}
		return dir, v.text, true
	case fromPackage:
		return r.packageOf(path.Dir(r.tree.Path(from))), v.text, true
	case fromConst:
		id, value, known := r.constant(from, v.name, block)
		if !known || depth > 8 { // constants that stand for one another
			return "", "", false
		}
		base, more, known := r.folder(id, value.place, value.block, depth+1)
		return base, more + v.text, known
	}
	return "", "", false
}

// packageOf is the nearest folder above with a manifest.
func (r *Resolver) packageOf(dir string) string {
	for ; dir != "."; dir = path.Dir(dir) {
		if _, there := r.tree.Lookup(path.Join(dir, manifestName)); there {
			break
		}
	}
	return dir
}

// constant gives the file that defines a constant, and its value if that is a path.
func (r *Resolver) constant(from project.FileID, name string, block int) (project.FileID, *pathExpr, bool) {
	e := r.index().files[from]
	if e == nil || block >= len(e.blocks) {
		return 0, nil, false
	}
	if owner, member, ofClass := strings.Cut(name, "::"); ofClass {
		return r.member(from, e, owner, member, block)
	}
	all, _ := r.ix.find(from, constant, e.blockOf(block).means(name, constant))
	if len(all) != 1 {
		return 0, nil, false
	}
	in := r.ix.files[all[0].file]
	if d := &in.declared[all[0].at]; d.path > 0 {
		return all[0].file, &in.paths[d.path-1], true
	}
	return 0, nil, false
}

// member gives the value of a constant of a class.
func (r *Resolver) member(from project.FileID, e *entry, owner, name string, block int) (project.FileID, *pathExpr,
	bool) {
	in, at := e, from
	if lower := strings.ToLower(owner); lower != "self" && lower != "static" {
		all, _ := r.ix.find(from, class, e.blockOf(block).means(owner, class))
		if len(all) != 1 {
			return 0, nil, false
		}
		at = all[0].file
		in, owner = r.ix.files[at], r.ix.files[at].declared[all[0].at].name
	} else {
		owner = ""
	}
	for i := range in.members {
		if d := &in.members[i]; d.name == name && (owner == "" || d.class == owner) && d.path > 0 {
			return at, &in.paths[d.path-1], true
		}
	}
	return 0, nil, false
}

// placeOf gives the path from the root that an expression names; false where its base is not known or it leaves the tree.
func (r *Resolver) placeOf(from project.FileID, x *pathExpr) (p string, ok bool) {
	dir, text, ok := r.folder(from, x.place, x.block, 0)
	if !ok {
		return "", false
	}
	p = path.Join(dir, text)
	if text != "" && text[0] != '/' { // a name that goes on
		p = path.Clean(dir + text)
	}
	return p, !lang.Leaves(p)
}

// resolvePath says where an expression leads.
func (r *Resolver) resolvePath(from project.FileID, x *pathExpr, far bool) lang.Target {
	if x.base == fromNothing {
		return r.fromWork(from, x, far)
	}
	p, ok := r.placeOf(from, x)
	if !ok {
		return lang.No(lang.ToOutside)
	}
	return r.at(p, x)
}

// at says what lies at a path, or begins with it.
func (r *Resolver) at(p string, x *pathExpr) lang.Target {
	switch {
	case x.open && (strings.HasSuffix(x.text, "/") || x.text == "") && x.tail == "":
		if r.tree.IsDir(p) {
			return lang.Folder(p)
		}
		return lang.No(lang.ToOutside)
	case x.open:
		return r.begun(p, strings.HasSuffix(x.text, "/") || x.text == "", x.tail)
	case x.purpose == forSet && strings.ContainsAny(p, "*?[{"):
		return r.pattern(p)
	}
	if id, there := r.tree.Lookup(p); there {
		return lang.File(id)
	}
	if r.tree.IsDir(p) {
		return lang.Folder(p)
	}
	return lang.No(lang.ToOutside)
}

// begun gives the files whose paths begin with a text and end with another.
func (r *Resolver) begun(p string, whole bool, tail string) lang.Target {
	dir, head := p, ""
	if !whole {
		dir, head = path.Dir(p), p
	}
	if !r.tree.IsDir(dir) {
		return lang.No(lang.ToOutside)
	}
	return r.tree.FilesBelow(dir, func(p string) bool { return strings.HasPrefix(p, head) && strings.HasSuffix(p, tail) })
}

// pattern gives the files that a pattern of glob matches: * stays in its folder.
func (r *Resolver) pattern(p string) lang.Target {
	head := path.Dir(p[:strings.IndexAny(p, "*?[{")] + "x")
	if !r.tree.IsDir(head) || !doublestar.ValidatePattern(p) {
		return lang.No(lang.ToOutside)
	}
	return r.tree.FilesBelow(head, func(file string) bool { fits, _ := doublestar.Match(p, file); return fits })
}

// fromWork says where a bare text leads (php.net/manual/en/function.include.php): ./x and ../x from the folder in which
// the program runs; x from the folders of the include path, then from there, then from the folder of the file. far: a
// program may be run from the top of the package, or of the tree, too.
func (r *Resolver) fromWork(from project.FileID, x *pathExpr, far bool) lang.Target {
	if strings.HasPrefix(x.text, "/") || strings.ContainsAny(x.text, "*?:") || x.open && !strings.Contains(x.text, "/") {
		return lang.No(lang.ToOutside)
	}
	own := path.Dir(r.tree.Path(from))
	bare := !lang.IsRelative(x.text)
	if bare && x.purpose == forInclude {
		for _, dir := range r.includePath() {
			if t := r.at(path.Join(dir, x.text), x); t.Kind.Inside() {
				return t
			}
		}
	}
	var found []lang.Target
	try := func(dir string) {
		p := path.Join(dir, x.text)
		if lang.Leaves(p) {
			return
		}
		if t := r.at(p, x); t.Kind.Inside() && !slices.ContainsFunc(found, t.Equal) {
			found = append(found, t)
		}
	}
	// A dot in the include path, which has one unless a program takes it out, is the folder in which the program runs; so
	// that comes before the file's own folder.
	for _, dir := range r.runsIn()[from] {
		try(dir)
	}
	if bare && x.purpose == forInclude || len(found) == 0 {
		try(own)
	}
	if len(found) == 0 && far {
		try(r.packageOf(own)) // a program is often run from the top
		if len(found) == 0 {
			try(".")
		}
	}
	switch len(found) {
	case 0:
		return lang.No(lang.ToOutside)
	case 1:
		return found[0]
	}
	var set []project.FileID // it is one of them
	for _, t := range found {
		if t.Kind == lang.ToFile {
			set = append(set, t.File)
		}
	}
	slices.Sort(set)
	return lang.Set(".", set)
}

// includePath are the folders that a program puts into the include path.
func (r *Resolver) includePath() []string {
	r.includeOnce.Do(func() {
		ix := r.index()
		for id := range r.tree.Files {
			e := ix.files[project.FileID(id)]
			if e == nil {
				continue
			}
			for _, n := range e.includes {
				if n < 0 {
					continue
				}
				if dir, ok := r.placeOf(project.FileID(id), &e.paths[n]); ok && r.tree.IsDir(dir) &&
					!slices.Contains(r.includeDirs, dir) {
					r.includeDirs = append(r.includeDirs, dir)
				}
			}
		}
	})
	return r.includeDirs
}

// runsIn gives, for each file, the folders of the programs that it may run in: its own if it is one, and those of all
// that include it.
func (r *Resolver) runsIn() map[project.FileID][]string {
	r.runOnce.Do(func() {
		ix := r.index()
		includes := map[project.FileID][]*pathExpr{}
		var ids []project.FileID
		for id := range r.tree.Files {
			e := ix.files[project.FileID(id)]
			if e == nil {
				continue
			}
			for i := range e.paths {
				if x := &e.paths[i]; x.purpose == forInclude {
					includes[project.FileID(id)] = append(includes[project.FileID(id)], x)
				}
			}
			ids = append(ids, project.FileID(id))
		}
		r.runs, r.serves = map[project.FileID][]string{}, map[string]bool{}
		included := map[project.FileID]bool{}
		var open []project.FileID
		for _, id := range ids {
			for _, x := range includes[id] {
				if x.base != fromNothing {
					for _, to := range r.includedBy(id, x) {
						included[to] = true
					}
				} else {
					for _, to := range r.includedBefore(id, x) {
						included[to] = true
					}
				}
			}
		}
		for _, id := range ids {
			if !included[id] {
				dir := path.Dir(r.tree.Path(id))
				r.runs[id] = []string{dir}
				r.serves[dir] = r.serves[dir] || len(ix.files[id].html) > 0 || path.Base(r.tree.Path(id)) == "index.php"
				open = append(open, id)
			}
		}
		// each file gives the folders of its programs to what it includes, until nobody learns of a new one
		for len(open) > 0 {
			id := open[0]
			open = open[1:]
			for _, x := range includes[id] {
				for _, to := range r.includedBy(id, x) {
					for _, dir := range r.runs[id] {
						if len(r.runs[to]) < mostStarts && !slices.Contains(r.runs[to], dir) {
							r.runs[to] = append(r.runs[to], dir)
							open = append(open, to)
						}
					}
				}
			}
		}
	})
	return r.runs
}

// mostStarts is how many folders of programs are looked at for one file.
const mostStarts = 20

// includedBy gives the files that an include of a file may load, as far as is known yet.
func (r *Resolver) includedBy(id project.FileID, x *pathExpr) (out []project.FileID) {
	if x.base != fromNothing {
		switch t := r.resolvePath(id, x, false); t.Kind {
		case lang.ToFile:
			return []project.FileID{t.File}
		case lang.ToSet: // any of them
			return t.Set()
		}
		return r.includedBefore(id, x)
	}
	for _, dir := range append(slices.Clone(r.runs[id]), path.Dir(r.tree.Path(id))) {
		if p := path.Join(dir, x.text); !lang.Leaves(p) {
			if to, there := r.tree.Lookup(p); there && !slices.Contains(out, to) {
				out = append(out, to)
			}
		}
	}
	if len(out) == 0 {
		return r.includedBefore(id, x)
	}
	return out
}

// includedBefore gives what an include led to in the tree that this one is laid over: while its text is not written
// anew yet, it will lead there.
func (r *Resolver) includedBefore(id project.FileID, x *pathExpr) []project.FileID {
	under, old := r.tree.Origin(id)
	if under == nil || old == project.None {
		return nil
	}
	r.beforeOnce.Do(func() { r.beforehand = New(lang.NewTree(under, nil, Family())) })
	t := r.beforehand.resolvePath(old, x, true)
	ids := t.Set()
	if t.Kind == lang.ToFile {
		ids = []project.FileID{t.File}
	}
	var out []project.FileID
	for _, id := range ids {
		if now, there := r.tree.Came(id); there {
			out = append(out, now)
		}
	}
	return out
}

// pathsOf gives the mentions of a file that are paths.
func (r *Resolver) pathsOf(from project.FileID, e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.paths {
		x := &e.paths[i]
		m := lang.Mention{Span: x.at, Text: string(content[x.at.Start:x.at.End]), Form: lang.Plain, Deferred: x.late,
			Kind: FilePath, Detail: &lang.Detail{Own: pathOwn{expr: x}}}
		switch x.purpose {
		case forInclude:
			m.Kind = Include
		case forName:
			m.Kind = OwnFolder
		case forAsking:
			if x.open { // whatever is there
				continue
			}
		}
		if x.open {
			m.Kind = OpenPath
		}
		if x.base == fromNothing && x.purpose != forInclude {
			m.Likely, m.Evident = true, true
		}
		switch {
		case x.base == fromOwn && x.term == "" && x.up == 0 && x.text == "" && !x.open:
			m.Text = "."
		case x.base == fromConst && x.at.Len() == 0:
			m.Text = x.name
		}
		switch t := r.resolvePath(from, x, false); {
		case t.Kind.Inside():
		case x.base == fromNothing && r.resolvePath(from, x, true).Kind.Inside():
			m.Detail = &lang.Detail{Own: pathOwn{x, true}}
		case x.base != fromOwn || x.term != "": // what it counts from goes where it must
			continue
		case m.Kind == OwnFolder: // nothing is there that could go to several places
			m.Kind = FilePath
		}
		out = append(out, m)
	}
	return out
}

// Expects gives the path of a file that must be there for an include to work.
func (r *Resolver) Expects(from project.FileID, m *lang.Mention) []string {
	own := lang.Own[pathOwn](m)
	if m.Kind != Include || own.expr == nil || own.expr.base == fromNothing || own.expr.open {
		return nil
	}
	p, ok := r.placeOf(from, own.expr)
	if !ok {
		return nil
	}
	return []string{p}
}
