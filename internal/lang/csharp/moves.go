package csharp

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Owes says what the language and its builder forbid of moves, and what they break that no text shows.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !old.any {
		return nil
	}
	old.index()
	r.index()
	o := &owing{Resolver: r, old: old, moves: map[string]string{}}
	for _, m := range moves {
		o.moves[m.From] = m.To
	}
	o.unreadable()
	o.parts()
	o.untaken()
	o.internals()
	o.captured()
	o.acting()
	o.pagesAround()
	o.copied()
	o.branches()
	o.dependents()
	o.callers()
	return o.out
}

// owing works out what moves owe.
type owing struct {
	*Resolver // of the tree after the moves
	old       *Resolver
	moves     map[string]string
	out       []lang.Duty
}

// lost blocks the moves of some files of the old tree.
func (o *owing) lost(ids []project.FileID, format string, args ...any) {
	var files []string
	for _, id := range ids {
		if p := o.old.tree.Path(id); o.moves[p] != "" {
			files = append(files, p)
		}
	}
	if len(files) > 0 {
		slices.Sort(files)
		files = slices.Compact(files)
		o.out = append(o.out, lang.Duty{Path: files[0], Why: fmt.Sprintf(format, args...), Lost: files})
	}
}

// then gives a file as it is in the end; nil for one that is not there, or is none of C#.
func (o *owing) then(id project.FileID) *entry {
	if now, here := o.tree.Came(id); here {
		return o.ix.files[now]
	}
	return nil
}

// unreadable keeps what a file uses that can't be read: it is not known what that is.
func (o *owing) unreadable() {
	for _, id := range o.old.ix.ids {
		err := o.old.ix.broken[id]
		if err == nil {
			continue
		}
		p := o.old.tree.Path(id)
		var near []project.FileID
		for _, other := range o.old.ix.ids {
			if q := o.old.tree.Path(other); path.Dir(q) == path.Dir(p) {
				near = append(near, other)
			}
		}
		o.lost(near, "%s can't be read, so it is not known what it uses of its namespace: %v", p, err)
	}
}

// parts keeps the parts of a type in one namespace and one project.
func (o *owing) parts() {
	seen := map[declared]bool{}
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil {
			continue
		}
		for i := range e.types {
			d := declared{id, i}
			if !e.types[i].partial || seen[d] {
				continue
			}
			all := o.old.partsOfType(d)
			var ids []project.FileID
			apart := false
			name, units := "", []*unit(nil)
			for k, part := range all {
				seen[part] = true
				ids = append(ids, part.file)
				now := o.then(part.file)
				if now == nil || part.at >= len(now.types) {
					continue
				}
				full := now.nameOf(part.at)
				if k > 0 && name != "" && (full != name || !slices.Equal(units, now.units)) {
					apart = true
				}
				name, units = full, now.units
			}
			if apart {
				o.lost(ids, "the parts of %s must stay in one namespace and one project", e.nameOf(i))
			}
		}
	}
}

// untaken keeps sources that no project would take, and those that another one would take.
func (o *owing) untaken() {
	for _, id := range o.old.ix.ids {
		e, now := o.old.ix.files[id], o.then(id)
		if e == nil || now == nil || o.moves[e.path] == "" || len(e.units) == 0 {
			continue
		}
		for _, u := range e.units {
			if as := u.items.linked[strings.ToLower(e.path)]; as != "" && as != e.path {
				o.lost([]project.FileID{id}, "%s lists it as %s, in other letters, which is not followed", u.path, as)
			}
		}
		if len(now.units) == 0 {
			o.lost([]project.FileID{id}, "no project takes %s, so it would not be compiled", now.path)
		} else if len(now.units) > len(e.units) {
			o.lost([]project.FileID{id}, "%s would be compiled in %s and in %s", now.path, now.units[0].path, now.units[1].path)
		}
	}
}

// internals keeps what only its own assembly sees from being used by another one.
func (o *owing) internals() {
	type across struct {
		id    project.FileID
		names map[string]bool // of its members that are internal
		types map[int]bool
	}
	moved := map[project.FileID]*across{}
	for _, id := range o.old.ix.ids {
		e, now := o.old.ix.files[id], o.then(id)
		if e == nil || now == nil || len(e.units) == 0 || len(now.units) == 0 || e.units[0].was == now.units[0].was {
			continue
		}
		moved[id] = &across{id: id, names: map[string]bool{}, types: map[int]bool{}}
	}
	if len(moved) == 0 {
		return
	}
	for _, id := range o.old.ix.ids {
		e, now := o.old.ix.files[id], o.then(id)
		if e == nil || now == nil {
			continue
		}
		used := map[project.FileID]bool{}
		for i := range e.uses {
			u := &e.uses[i]
			f := o.old.means(id, e, u, nil)
			if len(f.all) == 0 || u.doc {
				continue
			}
			d := f.all[0]
			other, then := o.old.ix.files[d.file], o.then(d.file)
			if then == nil || d.file == id || moved[d.file] == nil && moved[id] == nil || sameUnit(now, then) || befriended(now, then) {
				continue
			}
			used[d.file] = true
			if sees := other.types[d.at].sees; sees == internal || sees == privateProtected {
				o.lost([]project.FileID{d.file, id}, "%s uses %s, which its own assembly alone sees", e.path, other.nameOf(d.at))
			}
		}
		for file := range used {
			other := o.old.ix.files[file]
			hidden := map[string]bool{}
			for k := range other.members {
				if m := &other.members[k]; m.sees == internal || m.sees == privateProtected {
					hidden[m.name] = true
				}
			}
			for k := range e.selects {
				if name := e.selects[k].name; hidden[name] {
					o.lost([]project.FileID{file, id}, "%s uses %s of %s, which its own assembly alone sees", e.path, name, other.path)
					break
				}
			}
		}
	}
}

// befriended says whether the assembly of a file shows the other what is internal.
func befriended(user, declares *entry) bool {
	return slices.ContainsFunc(declares.units, func(u *unit) bool {
		return slices.ContainsFunc(user.units, func(v *unit) bool { return u.friends[v.assembly] })
	})
}

// captured keeps a new namespace from hiding what a name means: a part of it that is called as a type.
func (o *owing) captured() {
	fresh := map[string][]project.FileID{} // the last parts of namespaces that are new, and what makes them
	for _, id := range o.old.ix.ids {
		e, now := o.old.ix.files[id], o.then(id)
		if e == nil || now == nil || o.moves[e.path] == "" {
			continue
		}
		for _, space := range now.spaces {
			for ; space != "" && !o.old.ix.spaces[space]; space = parent(space) {
				fresh[last(space)] = append(fresh[last(space)], id)
			}
		}
	}
	if len(fresh) == 0 {
		return
	}
	for _, id := range o.old.ix.ids {
		e, now := o.old.ix.files[id], o.then(id)
		if e == nil || now == nil || len(e.uses) != len(now.uses) {
			continue
		}
		for i := range e.uses {
			u := &e.uses[i]
			first := partsOf(u.text, 1)
			makers := fresh[first]
			if len(makers) == 0 || u.hidden || u.doc || u.named || u.called && u.parts == 1 {
				continue
			}
			nowID, _ := o.tree.Came(id)
			then := o.means(nowID, now, &now.uses[i], nil)
			if then.space == "" && then.by != byFullName {
				continue
			}
			was := o.old.means(id, e, u, nil)
			if was.space != "" || was.by == byFullName || len(was.all) > 0 { // names of the tree are written in full
				continue
			}
			o.lost(makers, "%s uses %s, which would mean the namespace %s", e.path, first, join(parent(then.space), first))
		}
	}
}

// byFolder are files of the builder that count for what lies below their folder; all: each one above counts, and not the
// nearest alone.
var byFolder = []struct {
	name string
	all  bool
}{
	{"Directory.Build.props", false}, {"Directory.Build.targets", false}, {"Directory.Packages.props", false},
	{"global.json", false}, {"nuget.config", true}, {"NuGet.Config", true}, {".globalconfig", true},
}

// acting keeps projects below the files of the builder that count for them, and away from others.
func (o *owing) acting() {
	for _, u := range o.units {
		if u.was == u.path {
			continue
		}
		id, there := o.old.tree.Lookup(u.was)
		if !there {
			continue
		}
		for _, one := range byFolder {
			was := above(o.old.tree.Project, u.was, one.name, one.all)
			for i, p := range was {
				if to := o.moves[p]; to != "" {
					was[i] = to
				}
			}
			now := above(o.tree.Project, u.path, one.name, one.all)
			for _, p := range now {
				if !slices.Contains(was, p) {
					o.lost([]project.FileID{id}, "%s would count for it, which does not now", p)
				}
			}
			for _, p := range was {
				if !slices.Contains(now, p) {
					o.lost([]project.FileID{id}, "%s counts for it by its folder, and would not any more", p)
				}
			}
		}
	}
}

// above gives the files of a name in the folders above a file, the nearest first.
func above(tree *project.Project, p, name string, all bool) (out []string) {
	for dir := path.Dir(p); ; dir = path.Dir(dir) {
		if _, there := tree.Lookup(path.Join(dir, name)); there {
			out = append(out, path.Join(dir, name))
			if !all {
				return out
			}
		}
		if dir == "." {
			return out
		}
	}
}

// copied says which files are copied beside the program, at their paths: code that reads them there is not followed.
func (o *owing) copied() {
	first, count := "", 0
	for _, u := range o.old.units {
		for from, to := range o.moves {
			before, below := strings.CutPrefix(from, u.dir+"/")
			if u.dir == "." {
				before, below = from, true
			}
			if !below || isSource(from) || !matches(u.items.copied, from) {
				continue
			}
			// of a project that moves as a whole the place stays
			if now, moved := o.moves[u.path]; moved && strings.TrimPrefix(to, path.Dir(now)+"/") == before {
				continue
			}
			if count++; first == "" || from < first {
				first = from
			}
		}
	}
	if count == 0 {
		return
	}
	why := "it is copied beside the program at its path, which changes; code that reads it there is not followed"
	if count > 1 {
		why += fmt.Sprintf(" (and %d more)", count-1)
	}
	o.out = append(o.out, lang.Duty{Path: first, Why: why})
}

// branches says of which parts of files that change nothing is known, since no symbols bring them in.
func (o *owing) branches() {
	first, at, count := "", 0, 0
	for _, id := range o.old.ix.ids {
		e, now := o.old.ix.files[id], o.then(id)
		if e == nil || now == nil || o.moves[e.path] == "" || len(e.unread) == 0 || slices.Equal(e.spaces, now.spaces) {
			continue
		}
		if count++; count == 1 {
			first, at = e.path, max(0, e.unread[0])
		}
	}
	if count == 0 {
		return
	}
	why := "what stands behind this is read under no symbols, so its names are not looked at"
	if count > 1 {
		why += fmt.Sprintf(" (and %d more such files)", count-1)
	}
	o.out = append(o.out, lang.Duty{Path: first, At: at, Why: why})
}

// dependents keep files in the folder of what they are made from, or belong to, by their project.
func (o *owing) dependents() {
	then := func(p string) string {
		if to := o.moves[p]; to != "" {
			return to
		}
		return p
	}
	for _, u := range o.old.units {
		for _, p := range slices.Sorted(maps.Keys(u.items.beside)) {
			on := u.items.beside[p]
			one, there := o.old.tree.Lookup(p)
			other, also := o.old.tree.Lookup(on)
			if there && also && path.Dir(p) == path.Dir(on) && path.Dir(then(p)) != path.Dir(then(on)) {
				o.lost([]project.FileID{one, other}, "%s says that %s belongs to %s, in one folder", u.path, p, path.Base(on))
			}
		}
	}
}

// callers says where code asks for the path of the file that calls it, where such files move.
func (o *owing) callers() {
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil {
			continue
		}
		for i := range e.uses {
			u := &e.uses[i]
			if name := last(u.text); u.doc || name != "CallerFilePath" && name != "CallerFilePathAttribute" {
				continue
			}
			count := 0
			for _, other := range o.old.ix.ids {
				if f := o.old.ix.files[other]; f != nil && o.moves[f.path] != "" && sameUnit(e, f) {
					count++
				}
			}
			if count > 0 {
				o.out = append(o.out, lang.Duty{Path: e.path, At: u.at.Start,
					Why: fmt.Sprintf("it gives the path of the file that calls, and %d files of the project move", count)})
			}
			break
		}
	}
}
