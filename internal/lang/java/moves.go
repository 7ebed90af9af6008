package java

import (
	"fmt"
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Owes says what the language forbids of moves, and what they break that no text shows.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !old.any {
		return nil
	}
	o := &owing{Resolver: r, old: old, moves: map[string]string{}, above: map[declared]ancestry{}}
	for _, m := range moves {
		o.moves[m.From] = m.To
	}
	old.index()
	r.index()
	o.unreadable()
	o.parted()
	o.joined()
	o.sealed()
	o.containers()
	o.services()
	o.modules()
	o.parents()
	o.kotlin()
	o.levels()
	o.remarks()
	return o.out
}

// owing works out what moves owe.
type owing struct {
	*Resolver // of the tree after the moves
	old       *Resolver
	moves     map[string]string
	above     map[declared]ancestry // the types that one is built on, once they are known
	// the files that start an application, by their packages before and in the end
	startsBefore, startsThen map[string]project.FileID
	out                      []lang.Duty
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

// unreadable keeps what is of a package of which a file can't be read: what that uses is not known.
func (o *owing) unreadable() {
	for _, id := range o.old.ix.ids {
		err := o.old.ix.broken[id]
		if err == nil {
			continue
		}
		dir := project.Dir(o.old.tree.Path(id))
		from, to := o.old.tree.Below(dir)
		var near []project.FileID
		for other := from; other < to; other++ {
			if p := o.old.tree.Path(other); project.Dir(p) == dir && isJava(p) {
				near = append(near, other)
			}
		}
		o.lost(near, "%s can't be read, so it is not known what it uses of its package: %v", o.old.tree.Path(id), err)
	}
}

// remarks says what is not followed, once for each thing, where a type gets another name.
func (o *owing) remarks() {
	renamed := map[project.FileID]bool{}
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil || o.moves[e.path] == "" {
			continue
		}
		if o.then(id) != e.pkg {
			renamed[id] = true
		}
		for i := range e.types {
			if all := o.old.ix.types[e.nameOf(i)]; e.types[i].owner < 0 && len(all) > 1 {
				other := slices.IndexFunc(all, func(d declared) bool { return d.file != id })
				if other >= 0 && o.old.rootOf(o.old.ix.files[all[other].file]) == o.old.rootOf(e) {
					o.out = append(o.out, lang.Duty{Path: e.path, At: e.types[i].at.Start, Why: fmt.Sprintf(
						"%s declares %s too, and which of them is meant is not known", o.old.ix.files[all[other].file].path,
						e.nameOf(i))})
				}
			}
		}
	}
	first, count := project.None, 0
	var at int
	for _, id := range o.old.ix.ids {
		if e := o.old.ix.files[id]; e != nil && renamed[id] {
			for _, u := range e.uses {
				if !u.doc && last(u.text) == "Serializable" {
					if count++; count == 1 {
						first, at = id, u.at.Start
					}
					break
				}
			}
		}
	}
	if count > 0 {
		why := "what was stored of it holds the name of the class, which changes"
		if count > 1 {
			why += fmt.Sprintf(" (and %d more)", count-1)
		}
		o.out = append(o.out, lang.Duty{Path: o.old.tree.Path(first), At: at, Why: why})
	}
}
