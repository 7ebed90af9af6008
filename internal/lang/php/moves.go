package php

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Owes says what moves break that no text shows: functions that begin to stand for others, classes that a container no
// longer finds, and lists of classes that must be made anew.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !slices.ContainsFunc(moves, func(m lang.Moved) bool { return isPHP(m.From) }) {
		return nil
	}
	o := owing{Resolver: r, old: old, moves: moves}
	o.unreadable()
	o.captures()
	o.picked()
	o.factories()
	o.doubled()
	o.developed()
	o.resources()
	o.tails()
	o.remarks()
	o.lists()
	return o.out
}

// owing works out what moves owe.
type owing struct {
	*Resolver // of the tree after the moves
	old       *Resolver
	moves     []lang.Moved
	children  map[string][]declared // which classes extend one, by its name in lower case
	out       []lang.Duty
}

// unreadable keeps a file where it is of which it is not known what it says.
func (o *owing) unreadable() {
	ix := o.old.index()
	for _, m := range o.moves {
		if id, there := o.old.tree.Lookup(m.From); there && ix.broken[id] != nil {
			o.out = append(o.out, lang.Duty{Path: m.From, Lost: []string{m.From},
				Why: fmt.Sprintf("%s can't be read: %s", m.From, ix.broken[id])})
			continue
		}
		for _, dir := range o.old.load.broken {
			if _, in := below(dir, m.From); in && isPHP(m.From) {
				o.out = append(o.out, lang.Duty{Path: m.From, Lost: []string{m.From}, Why: fmt.Sprintf(
					"%s can't be read, so it is not known how %s is found", path.Join(dir, manifestName), m.From)})
				break
			}
		}
	}
}

// captures finds functions and constants that arrive in a namespace where a file uses the one of the language by that
// name (php.net/manual/en/language.namespaces.fallback.php).
func (o *owing) captures() {
	// of plain names that stand for something of the language, by namespace and name
	users := map[string][]project.FileID{}
	// nobody mentions a function of the language, so no proof would miss it: it has to be looked for
	for id := range o.tree.Files {
		e := o.index().files[project.FileID(id)]
		if e == nil {
			continue
		}
		for i := range e.uses {
			u := &e.uses[i]
			if u.space == class || u.doc || formOf(u.text) != plain || e.spaces[u.block] == "" {
				continue
			}
			name := u.space.String() + u.space.key(join(e.spaces[u.block], u.text))
			if all := users[name]; len(all) == 0 || all[len(all)-1] != project.FileID(id) {
				users[name] = append(all, project.FileID(id))
			}
		}
	}
	arrived := map[string]bool{}
	for _, m := range o.moves {
		arrived[m.To] = true
	}
	for _, m := range o.moves {
		id, there := o.tree.Lookup(m.To)
		e := o.index().files[id]
		if !there || e == nil {
			continue
		}
		for i := range e.declared {
			d := &e.declared[i]
			if d.space == class || d.full || e.nameOf(i) == e.name(d) {
				continue
			}
			for _, user := range users[d.space.String()+d.space.key(e.nameOf(i))] {
				if user == id || arrived[o.tree.Path(user)] { // it is written anew
					continue
				}
				o.out = append(o.out, lang.Duty{Path: m.From, Lost: []string{m.From}, Why: fmt.Sprintf(
					"%s would declare %s %s, and %s means the one of the language by %s", m.To, d.space, e.nameOf(i),
					o.tree.Path(user), d.name)})
			}
		}
	}
}

// picked finds files that are picked by the end of a path when the program runs, and would be found no more: each must
// keep what it is called behind the beginning of the path, wherever that goes.
func (o *owing) picked() {
	to := map[string]string{}
	for _, m := range o.moves {
		to[m.From] = m.To
	}
	ix := o.old.index()
	for _, id := range slices.Sorted(maps.Keys(ix.files)) {
		e := ix.files[id]
		for i := range e.paths {
			x := &e.paths[i]
			if !x.open || x.purpose == forAsking {
				continue
			}
			t := o.old.resolvePath(id, x, false)
			folder, known := o.old.placeOf(id, x)
			if !known || folder == "." || !t.Kind.Inside() { // what may be anything of the project holds nothing back
				continue
			}
			if !strings.HasSuffix(x.text, "/") && x.text != "" {
				folder = path.Dir(folder)
			}
			if lost := o.parted(folder, o.filesOf(t), to); len(lost) > 0 {
				o.out = append(o.out, lang.Duty{Path: o.old.tree.Path(id), Lost: lost, Why: fmt.Sprintf(
					"%s:%d puts a path below %s together when the program runs, and what it can lead to would not go as one",
					o.old.tree.Path(id), o.line(id, x.at.Start), folder)})
			}
		}
	}
}

// line is the line of a place in a file of the old tree, from 1.
func (o *owing) line(id project.FileID, at int) int {
	content, err := o.old.tree.Content(id)
	if err != nil || at > len(content) {
		return 1
	}
	return source.PositionAt(content, at).Line
}

// filesOf are the files of the old tree that a target stands for.
func (o *owing) filesOf(t lang.Target) (out []string) {
	switch t.Kind {
	case lang.ToFile:
		out = append(out, o.old.tree.Path(t.File))
	case lang.ToFolder:
		from, to := o.old.tree.Below(t.Folder())
		for id := from; id < to; id++ {
			out = append(out, o.old.tree.Path(id))
		}
	default:
		for _, id := range t.Set() {
			out = append(out, o.old.tree.Path(id))
		}
	}
	return out
}

// parted gives those of some files that move, unless all keep their paths below one folder, which may be another then.
func (o *owing) parted(folder string, files []string, to map[string]string) (moving []string) {
	now, same := "", true
	for _, p := range files {
		goal, moves := to[p]
		if !moves {
			goal = p
		} else {
			moving = append(moving, p)
		}
		rest, _ := below(folder, p)
		head, keeps := strings.CutSuffix("/"+goal, "/"+rest)
		same = same && keeps && (now == "" || now == head+"/")
		now = head + "/"
	}
	if same {
		return nil
	}
	return moving
}

// factories finds models whose factory is found by their name and place (HasFactory): below a namespace called Models.
func (o *owing) factories() {
	for _, m := range o.moves {
		id, there := o.old.tree.Lookup(m.From)
		e := o.old.index().files[id]
		if !there || e == nil || !slices.ContainsFunc(e.uses, func(u use) bool { return short(u.text) == "HasFactory" }) {
			continue
		}
		_, name, is := strings.Cut("/"+m.From, "/Models/")
		_, then, _ := strings.Cut("/"+m.To, "/Models/")
		factory := path.Join(o.old.packageOf(path.Dir(m.From)), "database/factories",
			strings.TrimSuffix(name, ".php")+"Factory.php")
		if _, has := o.old.tree.Lookup(factory); is && has && name != then {
			o.out = append(o.out, lang.Duty{Path: m.From, Lost: []string{m.From}, Why: fmt.Sprintf(
				"its factory %s is found by the name and the place of %s", factory, path.Base(m.From))})
		}
	}
}

// doubled says of a class that moves that another file declares it too, where no root of the autoloader decides between
// them.
func (o *owing) doubled() {
	ix := o.old.index()
	for _, m := range o.moves {
		id, there := o.old.tree.Lookup(m.From)
		e := ix.files[id]
		if !there || e == nil {
			continue
		}
		for i := range e.declared {
			d := &e.declared[i]
			all := ix.declares(project.None, class, e.nameOf(i))
			if d.space != class || d.alias || len(all) < 2 {
				continue
			}
			other := slices.IndexFunc(all, func(one declared) bool { return one.file != id })
			o.out = append(o.out, lang.Duty{Path: m.From, At: d.at.Start, Why: fmt.Sprintf(
				"%s declares %s too, and which of them is loaded is not known", o.old.tree.Path(all[other].file), e.nameOf(i))})
		}
	}
}

// developed says of a class that moves to a root that is there only while the package is worked on.
func (o *owing) developed() {
	for _, m := range o.moves {
		was, there := o.old.tree.Lookup(m.From)
		e := o.old.index().files[was]
		now, came := o.tree.Lookup(m.To)
		then := o.index().files[now]
		if !there || !came || e == nil || then == nil || e.label < 0 || then.label < 0 {
			continue
		}
		before := o.old.load.rootOf(m.From, e.nameOf(e.label))
		after := o.load.rootOf(m.To, then.nameOf(then.label))
		if before != nil && after != nil && !before.dev && after.dev {
			o.out = append(o.out, lang.Duty{Path: m.From, At: e.declared[e.label].at.Start, Why: fmt.Sprintf(
				"%s would be found by autoload-dev alone, which an installed package does not have", then.nameOf(then.label))})
		}
	}
}

// lists reminds of lists of classes that are made of the files and say where each is.
func (o *owing) lists() {
	for _, m := range o.moves {
		id, there := o.old.tree.Lookup(m.From)
		if e := o.old.index().files[id]; !there || e == nil || len(e.declared) == 0 || !o.old.load.lists(m.From) {
			continue
		}
		if manifest, there := o.old.tree.Lookup(path.Join(o.old.packageOf(path.Dir(m.From)), manifestName)); there {
			o.out = append(o.out, lang.Duty{Path: o.old.tree.Path(manifest),
				Why: "classes are listed by their files: run composer dump-autoload when all has moved"})
		}
		return
	}
}
