package carry

import (
	"maps"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// relocation says where everything of one tree is in another.
type relocation struct {
	before *graph.Graph
	newID  []project.FileID
	moves  map[project.FileID]string
	fates  map[string]fate // of folders; those that are not in it stay
	// kept says of the IDs up to the last that a file of the old tree has in the new one whether one has it: all others
	// are written.
	kept []bool
	old  func() map[project.FileID]project.FileID // the files of the new tree in the old one
	sets sync.Map                                 // what want gives for sets, to which many mentions may lead: targets by targets
}

// fate is what becomes of a folder: it goes to one place, or it is torn apart.
type fate struct {
	to      string
	torn    bool
	remains bool      // files are still below it afterwards
	places  [2]string // two of the places that its files go to
}

// relocate follows moves: where each folder goes whose files go to one place. A folder whose whole content stays below
// it stays.
func relocate(before *graph.Graph, newID []project.FileID, moves map[project.FileID]string) *relocation {
	// what lies behind the last kept file is written, so the list may end there
	last := project.None
	for _, id := range newID {
		last = max(last, id)
	}
	r := &relocation{before: before, newID: newID, moves: moves, fates: map[string]fate{}, kept: make([]bool, last+1)}
	for _, id := range newID {
		r.kept[id] = true
	}
	r.old = sync.OnceValue(func() map[project.FileID]project.FileID {
		out := make(map[project.FileID]project.FileID, len(newID))
		for old, id := range newID {
			out[id] = project.FileID(old)
		}
		return out
	})
	for id := range moves {
		for dir := project.Dir(before.Tree.Path(id)); dir != "."; dir = project.Dir(dir) {
			if _, known := r.fates[dir]; known { // and so are those above it
				break
			}
			r.fates[dir] = fate{}
		}
	}
	dirs := slices.Collect(maps.Keys(r.fates))
	fates := make([]fate, len(dirs))
	come := sync.OnceValue(func() arrivals { return newArrivals(moves) })
	parallel.Do(len(dirs), func(i int) { fates[i] = fateOf(before.Tree, dirs[i], moves, come) })
	for i, dir := range dirs {
		r.fates[dir] = fates[i]
	}
	return r
}

func fateOf(tree *project.Project, dir string, moves map[project.FileID]string, come func() arrivals) fate {
	from, to := tree.Below(dir)
	var f fate
	// inside: all files stay below the folder. whole: each goes to one place with its path below the folder kept, so that
	// the folder as such has gone there.
	inside, whole := true, true
	for id := from; id < to; id++ {
		old := tree.Path(id)
		now, moved := moves[id]
		if !moved {
			now = old
		}
		rest := old[len(dir)+1:]
		place := "."
		if above, ok := strings.CutSuffix(now, rest); !ok || above != "" && !strings.HasSuffix(above, "/") {
			place, whole = project.Dir(now), false
		} else if above != "" {
			place = above[:len(above)-1]
		}
		switch {
		case id == from:
			f.to, f.places[0] = place, place
		case f.places[0] != place && f.places[1] == "":
			f.places[1] = place
			whole = false
		}
		below := strings.HasPrefix(now, dir+"/")
		inside = inside && below
		f.remains = f.remains || below
	}
	switch {
	case whole:
	case inside: // its files only change places within it, so whoever names the folder still means it
		f.to = dir
	case gathers(tree, f.to, from, to, moves): // all of it, some deeper than before
	case f.places[1] != "" && gathers(tree, f.places[1], from, to, moves):
		f.to = f.places[1]
	default:
		if !f.remains {
			// all of it, to folders of one that holds nothing else
			if common := below(tree, dir, from, to, moves, come); common != "" {
				f.to = common
				return f
			}
		}
		f.torn = true
		if f.places[1] == "" {
			f.places[1] = dir
		}
	}
	return f
}

// below gives the folder below which all files from an ID up to another go, if nothing stays there that is no part of
// them; empty for none.
func below(tree *project.Project, dir string, from, to project.FileID, moves map[project.FileID]string,
	come func() arrivals) string {
	common := ""
	for id := from; id < to; id++ {
		now := project.Dir(moves[id])
		if common == "" {
			common = now
		}
		for common != "." && now != common && !strings.HasPrefix(now, common+"/") {
			common = project.Dir(common)
		}
	}
	if common == "." || common == "" || strings.HasPrefix(dir+"/", common+"/") {
		return ""
	}
	first, end := tree.Below(common)
	for id := first; id < end; id++ {
		if _, moved := moves[id]; !moved || id >= from && id < to {
			return ""
		}
	}
	if !come().onlyOf(common, from, to) {
		return ""
	}
	return common
}

// gathers says whether all files from an ID up to another end below a folder.
func gathers(tree *project.Project, dir string, from, to project.FileID, moves map[project.FileID]string) bool {
	for id := from; id < to; id++ {
		now, moved := moves[id]
		if !moved {
			now = tree.Path(id)
		}
		if !strings.HasPrefix(now, dir+"/") {
			return false
		}
	}
	return dir != "."
}

// after gives what the convention says of the new tree. What is refused still has its home.
func (r *relocation) after(moves map[project.FileID]string) *lang.Declared {
	before := r.before.Declared
	if before == nil {
		return nil
	}
	arrived := sync.OnceValue(func() map[string]bool { // most conventions never ask
		out := make(map[string]bool, len(moves))
		for _, to := range moves {
			out[to] = true
		}
		return out
	})
	after := before.Afterwards(func(path string) bool { return arrived()[path] },
		func(dir string) string { return r.folder(dir).to })
	after.Served = r.served()
	return after
}

// served gives where folders go whose files have addresses by habit, as long as something names them: that serves them,
// and follows.
func (r *relocation) served() []string {
	var out []string
	named := sync.OnceValue(r.namedFolders)
	for dir, f := range r.fates {
		if !f.torn && f.to != dir && r.serves(dir) && named()[dir] {
			out = append(out, f.to)
		}
	}
	slices.Sort(out)
	return out
}

// serves says whether the files of a folder have addresses by habit.
func (r *relocation) serves(dir string) bool {
	return slices.ContainsFunc(r.before.Rules(), func(rules lang.Rules) bool {
		return rules.Serves != nil &&
			rules.Serves(dir)
	})
}

// namedFolders are the folders to which code leads by their paths.
func (r *relocation) namedFolders() map[string]bool {
	out := map[string]bool{}
	for id := range r.before.Files {
		n := &r.before.Files[id]
		for i, t := range n.Targets {
			if n.Mentions[i].Kind.Is(lang.Composed) && (t.Kind == lang.ToFolder || t.Kind == lang.ToSet) {
				out[t.Folder()] = true
			}
		}
	}
	return out
}

// folder gives the fate of a folder.
func (r *relocation) folder(dir string) fate {
	if f, ok := r.fates[dir]; ok {
		return f
	}
	return fate{to: dir}
}

// path is where a file of the new tree is.
func (r *relocation) path(id project.FileID) string {
	old := r.old()[id]
	if to, moved := r.moves[old]; moved {
		return to
	}
	return r.before.Tree.Path(old)
}

// goes gives where something that is no part of the tree will be: where the deepest folder goes that it lies in.
func (r *relocation) goes(place string) string {
	for dir := path.Dir(place); dir != "." && dir != "/"; dir = path.Dir(dir) {
		if f, moves := r.fates[dir]; moves {
			// where files stay behind, what is made or installed there stays with them
			if f.torn || f.remains {
				return place
			}
			return path.Join(f.to, strings.TrimPrefix(place, dir+"/"))
		}
		if r.before.Tree.IsDir(dir) {
			return place
		}
	}
	return place
}

// want gives the target that a mention must lead to. torn is set where its folder is torn apart.
func (r *relocation) want(t lang.Target) (lang.Target, *fate) {
	switch t.Kind {
	case lang.ToFile:
		out := lang.File(r.newID[t.File])
		if t.Twin != project.None {
			out.Twin = r.newID[t.Twin]
		}
		return out, nil
	case lang.ToFolder:
		f := r.folder(t.Folder())
		if f.torn {
			return t, &f
		}
		return lang.Folder(f.to), nil
	case lang.ToSet:
		// a package has hundreds of importers, and all of them lead to one set
		if known, ok := r.sets.Load(t); ok {
			return known.(lang.Target), nil
		}
		set := make([]project.FileID, len(t.Set()))
		for i, id := range t.Set() {
			set[i] = r.newID[id]
		}
		slices.Sort(set)
		f := r.folder(t.Folder())
		if f.torn {
			f.to = r.common(t)
		}
		out := lang.Set(f.to, set)
		r.sets.Store(t, out)
		return out, nil
	}
	return t, nil
}

// same says whether a mention leads where it must. A pattern in settings may find files that are written as well: it is
// meant for whatever is there.
func (r *relocation) same(m *lang.Mention, want, now lang.Target) bool {
	if m.Kind.Is(lang.Pattern) && now.Kind == lang.ToSet {
		now = lang.Set(now.Folder(), slices.DeleteFunc(slices.Clone(now.Set()), r.written))
	}
	if m.Detail != nil && m.Detail.Packaged && want.Kind == lang.ToSet && now.Kind == lang.ToSet {
		left := func(id project.FileID) bool {
			return !strings.HasPrefix(r.path(id), now.Folder()+"/") && now.Folder() != "."
		}
		want = lang.Set(now.Folder(), slices.DeleteFunc(slices.Clone(want.Set()), left))
	}
	if m.Kind.Is(lang.Packed) && want.Kind == lang.ToSet && now.Kind == lang.ToSet { // others may come to the package
		return len(want.Set()) > 0 && !slices.ContainsFunc(want.Set(),
			func(id project.FileID) bool { return !slices.Contains(now.Set(), id) })
	}
	return want.Equal(now)
}

// written says whether a file of the new tree is none of the old.
func (r *relocation) written(id project.FileID) bool { return int(id) >= len(r.kept) || !r.kept[id] }

// common gives the folder that a torn folder's set goes to, if it is one; else the old one.
func (r *relocation) common(t lang.Target) string {
	to := ""
	for _, id := range t.Set() {
		old := r.before.Tree.Path(id)
		now, moved := r.moves[id]
		if !moved {
			now = old
		}
		base, ok := strings.CutSuffix("/"+now, "/"+strings.TrimPrefix(old, t.Folder()+"/"))
		if base = strings.TrimPrefix(base, "/"); !ok || to != "" && to != base {
			return t.Folder()
		}
		to = base
	}
	if to == "" {
		return t.Folder()
	}
	return to
}

// aliasTarget gives the target that the convention states for an alias that a mention defines.
func aliasTarget(tree *project.Project, declared *lang.Declared, from project.FileID, m *lang.Mention) (lang.Target,
	bool) {
	folder, starred, ok := declared.Then(tree.Path(from), m.Alias())
	if !ok {
		return lang.Target{}, false
	}
	if id, is := tree.Lookup(folder); is && !starred {
		return lang.File(id), true
	}
	return lang.Folder(folder), tree.IsDir(folder)
}
