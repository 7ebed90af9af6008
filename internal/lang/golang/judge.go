package golang

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// judge says what of the moves the language does not allow.
type judge struct {
	*Resolver
	*shift
	moves map[string]string
	out   []lang.Duty
}

// lost blocks the moves of some files of the old tree.
func (j *judge) lost(ids []project.FileID, format string, args ...any) {
	var files []string
	for _, id := range ids {
		if p := j.old.tree.Path(id); j.moves[p] != "" {
			files = append(files, p)
		}
	}
	if len(files) > 0 {
		slices.Sort(files)
		j.out = append(j.out, lang.Duty{Path: files[0], Why: fmt.Sprintf(format, args...), Lost: files})
	}
}

// readable are the files of the old tree in the order of their paths.
func (j *judge) readable() []project.FileID { return slices.Sorted(maps.Keys(j.old.ix.files)) }

// unreadable keeps packages in which a file can't be read: what it uses is not known.
func (j *judge) unreadable() {
	for _, id := range slices.Sorted(maps.Keys(j.old.ix.broken)) {
		dir := path.Dir(j.old.tree.Path(id))
		from, to := j.old.tree.Below(dir)
		var near []project.FileID
		for other := from; other < to; other++ {
			if p := j.old.tree.Path(other); path.Dir(p) == dir && strings.HasSuffix(p, ".go") {
				near = append(near, other)
			}
		}
		j.lost(near, "%s can't be read, so it is not known what it uses of its package: %v", j.old.tree.Path(id),
			j.old.ix.broken[id])
	}
}

// modules looks at files that go to another module, and at those that import what does: their modules must ask for what
// they import then.
func (j *judge) modules() {
	for _, id := range j.readable() {
		from, to := j.old.tree.Path(id), j.tree.Path(j.now[id])
		was, is := j.old.moduleOf(path.Dir(from)), j.moduleOf(path.Dir(to))
		switch {
		case from == to:
		case was != nil && (was.path == "std" || was.path == "cmd"):
			j.lost([]project.FileID{id},
				"it is of the language's own library, whose packages are imported by other paths than those of a module")
		case was == nil || is == nil:
			j.lost([]project.FileID{id}, "it would be of no module: no go.mod lies above it")
		}
		if was != nil && is != nil {
			j.module(id, was, is)
		}
	}
}

// module looks at what a file imports in its module, which was another one before or not.
func (j *judge) module(id project.FileID, was, is *module) {
	f := j.old.ix.files[id]
	for i := range f.imports {
		s := &f.imports[i]
		if _, inside := j.old.folder(path.Dir(j.old.tree.Path(id)), s.path); inside || was.path == is.path {
			continue
		}
		if !j.hasFrom(is, s.path) && j.old.hasFrom(was, s.path) {
			j.lost([]project.FileID{id}, "it would leave the module %s for %s, which does not require %s", was.path,
				is.path, s.path)
		}
	}
	for _, n := range j.needed(id, f) {
		now, ok := j.importPathFrom(j.at[j.now[id]].dir, n.at.dir)
		before, _ := j.old.importPathFrom(path.Dir(j.old.tree.Path(id)), j.before(j.now[n.file]).dir)
		if ok && !j.hasFrom(is, now) && j.old.hasFrom(was, before) {
			j.lost([]project.FileID{id, n.file}, "%s imports %s, and its module %s does not require that",
				j.old.tree.Path(id), now, is.path)
		}
	}
}

// built keeps files from places and names by which they would be built for something else, or not at all.
func (j *judge) built() {
	for _, id := range j.readable() {
		from, to := j.old.tree.Path(id), j.tree.Path(j.now[id])
		switch {
		case from == to:
		case !ignored(from) && ignored(to):
			j.lost([]project.FileID{id}, "there it would not be built: folders called testdata or vendor and names "+
				"that begin with _ or . are passed over")
		case constraint(path.Base(from)) != constraint(path.Base(to)):
			j.lost([]project.FileID{id},
				"by its new name it would be built for something else: endings as _linux and _test say for what")
		}
	}
}

// ignored says whether the go command passes a file over, by its path.
func ignored(p string) bool {
	for part := range strings.SplitSeq(p, "/") {
		if part == "testdata" || part == "vendor" || part[0] == '_' || part[0] == '.' {
			return true
		}
	}
	return false
}

// systems are what the last words of a file's name may say that it is built for (internal/syslist of the language's own
// library).
var systems = lang.Words(
	`aix android darwin dragonfly freebsd hurd illumos ios js linux nacl netbsd openbsd plan9 solaris
	wasip1 windows zos 386 amd64 amd64p32 arm armbe arm64 arm64be loong64 mips mipsle mips64 mips64le
	mips64p32 mips64p32le ppc ppc64 ppc64le riscv riscv64 s390 s390x sparc sparc64 wasm`,
)

// constraint is what the name of a file says that it is built for: _test, and systems.
func constraint(name string) string {
	words := strings.Split(strings.TrimSuffix(name, ".go"), "_")
	out, last := "", len(words)
	if last > 1 && words[last-1] == "test" {
		out, last = "test", last-1
	}
	for i := last - 1; i > 0 && i >= last-2 && systems[words[i]]; i-- {
		out = words[i] + " " + out
	}
	return out
}

// clauses writes the clauses of what arrives.
func (j *judge) clauses() {
	for _, at := range sortedPlaces(j.clashes) {
		j.lost(j.arriving(at),
			"files of the packages %s would be one package in %s; move them one after the other, or rename one",
			strings.Join(j.clashes[at], " and "), at.dir)
	}
	for _, at := range sortedPlaces(j.shift.clauses) {
		name := j.shift.clauses[at]
		if j.clashes[at] != nil {
			continue
		}
		for _, id := range j.packs.Space(at).Files {
			if f, was := j.of(id), j.was[id]; f.clause != name {
				if f.clause == "main" && slices.ContainsFunc(f.declared, func(d declaration) bool { return d.name == "main" }) {
					j.lost([]project.FileID{was}, "it starts a program, and the package %s in %s is none", name, at.dir)
					continue
				}
				edits := []source.Edit{{Span: f.clauseAt, New: name}}
				if f.docAt.Len() > 0 {
					edits = slices.Insert(edits, 0, source.Edit{Span: f.docAt, New: name})
				}
				j.out = append(j.out, lang.Duty{Path: j.old.tree.Path(was), Edits: edits, Why: "package clause"})
			}
		}
	}
}

func sortedPlaces[T any](of map[place]T) []place {
	return slices.SortedFunc(maps.Keys(of), comparePlaces)
}

// arriving are the files of the old tree that come to a package.
func (j *judge) arriving(at place) (out []project.FileID) {
	for _, id := range j.packs.Space(at).Files {
		if j.before(id) != at {
			out = append(out, j.was[id])
		}
	}
	return out
}

// parted looks at packages whose files go to several places.
func (j *judge) parted() {
	for _, at := range j.old.ix.packages.Spaces(comparePlaces) {
		p := j.old.ix.packages.Space(at)
		groups := map[place][]project.FileID{}
		for _, id := range p.Files {
			to := j.at[j.now[id]]
			groups[to] = append(groups[to], id)
		}
		if len(groups) < 2 {
			continue
		}
		for _, id := range p.Files {
			switch f := j.old.ix.files[id]; {
			case f.cgo:
				j.lost(p.Files, "%s holds C, and the files of its package would part", j.old.tree.Path(id))
			case f.linked:
				j.lost(p.Files, "%s has names for the linker, and the files of its package would part",
					j.old.tree.Path(id))
			}
		}
		j.variants(p)
		j.members(p)
		j.unkeyed(p)
	}
}

// variants keeps the declarations of one name together: they are built for several systems.
func (j *judge) variants(p *names.Space) {
	for _, name := range p.Names() {
		ids := p.Declare(name)
		if name == "_" || len(ids) < 2 {
			continue
		}
		if slices.ContainsFunc(ids, func(id project.FileID) bool { return j.at[j.now[id]] != j.at[j.now[ids[0]]] }) {
			j.lost(ids, "%s is declared in %s and in %s, for several systems, and they would part", name,
				j.old.tree.Path(ids[0]), j.old.tree.Path(ids[1]))
		}
	}
}

// members keeps files together of which one selects what the other declares for its package alone. Where a file shows
// on which type a name is selected, and that type has it itself, only that one counts. Else any of the same name does:
// it may come from a type that is embedded, or the type is not known without types.
func (j *judge) members(p *names.Space) {
	type declarer struct {
		id project.FileID
		at place
	}
	declarers := map[member][]declarer{} // one or two of different places, also of the name on any type
	for _, id := range p.Files {
		for m := range j.old.ix.files[id].members {
			for _, key := range []member{m, {name: m.name}} {
				at := j.at[j.now[id]]
				if known := declarers[key]; len(known) == 0 || len(known) == 1 && known[0].at != at {
					declarers[key] = append(known, declarer{id, at})
				}
				if m.of == "" {
					break
				}
			}
		}
	}
	for _, user := range p.Files {
		for _, m := range slices.SortedFunc(maps.Keys(j.old.ix.files[user].selected), compareMembers) {
			if m.of == "" || declarers[m] == nil {
				m.of = ""
			}
			at := slices.IndexFunc(declarers[m], func(d declarer) bool { return d.at != j.at[j.now[user]] })
			if at < 0 {
				continue
			}
			other := declarers[m][at].id
			j.lost([]project.FileID{user, other},
				"%s selects %s, which %s declares for its package alone, and they would part", j.old.tree.Path(user),
				m.name, j.old.tree.Path(other))
		}
	}
}

func compareMembers(a, b member) int {
	return cmp.Or(strings.Compare(a.name, b.name), strings.Compare(a.of, b.of))
}

// unkeyed keeps literals without keys in the package of a struct whose fields are not all exported.
func (j *judge) unkeyed(p *names.Space) {
	for _, user := range p.Files {
		for _, name := range slices.Sorted(maps.Keys(j.old.ix.files[user].unkeyed)) {
			for _, declarer := range p.Declare(name) {
				if j.old.ix.files[declarer].closed[name] && j.at[j.now[user]] != j.at[j.now[declarer]] {
					j.lost([]project.FileID{user, declarer},
						"%s has a literal of %s without keys, whose fields are not all exported, and %s declares it: "+
							"they would part",
						j.old.tree.Path(user), name, j.old.tree.Path(declarer))
				}
			}
		}
	}
}

// starts keeps files in their package that do something when the program starts, unless what is left of the package
// imports them.
func (j *judge) starts(needs map[place]map[place]need) {
	for _, at := range j.old.ix.packages.Spaces(comparePlaces) {
		for _, id := range j.old.ix.packages.Space(at).Files {
			now := j.at[j.now[id]]
			if !j.old.ix.files[id].runs || isTest(j.old.tree.Path(id)) {
				continue
			}
			left := slices.IndexFunc(j.old.ix.packages.Space(at).Files, func(other project.FileID) bool {
				return j.at[j.now[other]] != now && !isTest(j.old.tree.Path(other))
			})
			if left < 0 {
				continue
			}
			rest := j.at[j.now[j.old.ix.packages.Space(at).Files[left]]]
			if _, imported := needs[rest][now]; !imported {
				j.lost([]project.FileID{id, j.old.ix.packages.Space(at).Files[left]},
					"%s does something when a program starts that imports its package, and %s would not import it any "+
						"more",
					j.old.tree.Path(id), j.old.tree.Path(j.old.ix.packages.Space(at).Files[left]))
			}
		}
	}
}

// examples keeps an example in the package of what it shows: go vet, which go test runs, refuses one of a name that its
// package does not declare.
func (j *judge) examples() {
	for _, id := range j.readable() {
		if !isTest(j.old.tree.Path(id)) {
			continue
		}
		from, to := j.old.placeOf(id, j.old.ix.files[id]), j.at[j.now[id]]
		for _, d := range j.old.ix.files[id].declared {
			name := exampled(d.name)
			if name == "" {
				continue
			}
			if shown := showing(&j.old.ix.packages, from, name); len(shown) > 0 && len(showing(&j.packs, to, name)) == 0 {
				j.lost(append([]project.FileID{id}, shown...), "%s in %s is an example of %s, which %s declares, and "+
					"they would part", d.name, j.old.tree.Path(id), name, j.old.tree.Path(shown[0]))
			}
		}
	}
}

// exampled is the name that a function is an example of (package testing, Examples); empty for none. A method's name,
// and a suffix in lower case, stand behind an underscore.
func exampled(function string) string {
	rest, is := strings.CutPrefix(function, "Example")
	name, _, _ := strings.Cut(rest, "_")
	if !is || !exported(name) {
		return ""
	}
	return name
}

// showing are the files that declare a name of which a test shows an example: of its package, or of the one that it
// tests from outside.
func showing(packages *names.Index[place], at place, name string) []project.FileID {
	for _, p := range []*names.Space{packages.Space(at), packages.Space(place{dir: at.dir})} {
		if p != nil && len(p.Declare(name)) > 0 {
			return p.Declare(name)
		}
	}
	return nil
}

// merged looks at packages to which files come: no name may be declared twice, and none may get another meaning.
func (j *judge) merged() {
	for _, at := range sortedPlaces(j.shift.clauses) {
		p := j.packs.Space(at)
		for _, name := range p.Names() {
			ids := p.Declare(name)
			for _, id := range ids[1:] {
				if a, b := j.was[ids[0]], j.was[id]; j.before(ids[0]) != j.before(id) {
					j.lost([]project.FileID{a, b}, "%s and %s both declare %s, and would be of one package",
						j.old.tree.Path(a), j.old.tree.Path(b), name)
				}
			}
		}
		for _, id := range p.Files {
			j.captured(at, p, id)
		}
	}
}

// captured looks for names of a file that would mean something of the package that they did not mean before.
func (j *judge) captured(at place, p *names.Space, id project.FileID) {
	was := j.was[id]
	from := j.before(id)
	mean := func(name string, others []project.FileID) []project.FileID {
		return slices.DeleteFunc(slices.Clone(others), func(other project.FileID) bool {
			return other == id || j.before(other) == from || isTest(j.tree.Path(other)) && !isTest(j.tree.Path(id))
		})
	}
	for _, u := range j.of(id).uses {
		if u.qualifier != "" || u.doubtful {
			continue
		}
		if others := mean(u.name, p.Declare(u.name)); len(others) > 0 &&
			!j.old.target(was, from, u.name).Kind.Inside() {
			j.lost([]project.FileID{was, j.was[others[0]]},
				"%s uses %s, and %s declares another one in the package that they would be of",
				j.old.tree.Path(was), u.name, j.old.tree.Path(j.was[others[0]]))
		}
	}
	for _, s := range j.of(id).imports {
		name := cmp.Or(s.name, j.nameOf(was, s))
		if others := mean(name, p.Declare(name)); len(others) > 0 {
			j.lost([]project.FileID{was, j.was[others[0]]},
				"%s imports %s, and %s declares that name in the package that they would be of",
				j.old.tree.Path(was), name, j.old.tree.Path(j.was[others[0]]))
		}
	}
}

// nameOf is the name of what a file of the old tree imports, as far as it is known.
func (j *judge) nameOf(was project.FileID, s spec) string {
	if dir, ok := j.old.folder(path.Dir(j.old.tree.Path(was)), s.path); ok {
		return j.old.ix.clause(place{dir: dir})
	}
	return importedName(s.path)
}
