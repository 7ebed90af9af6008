package leftover

import (
	"path"
	"strings"

	"crookedshelf/internal/project"
)

// names is what is looked for.
type names struct {
	// names of folders that something has left: a text of two segments or more has one with a slash behind it
	parents map[string]bool
	// what stands before the last dot but one of a name with dots, and before the ending of a file at the root
	words   map[string]bool
	files   map[string]string // from the old paths of what has moved to the new ones
	stems   map[string]string // from old paths without their endings to old paths
	folders map[string]bool   // old paths of folders that are gone
	tails   tails             // old paths of files and folders
	dotted  map[string]string // from names with dots to old paths
	heads   map[string]bool   // names of one segment at the root, and those of files with their endings
	tops    map[string]bool   // the folders among these
	bases   map[string]bool   // the last segments of old paths, with and without their endings
}

// names gathers the old names of all that has moved. A text of two segments or more has the name of a folder and a
// slash in it, which is what is looked for: a processor finds a slash many times faster than an automaton finds names,
// and few slashes stand behind one. The rest is seen when the whole text is judged.
func (s *Search) names() *names {
	n := &names{
		files: s.Moves, stems: map[string]string{}, folders: map[string]bool{}, tails: tails{},
		dotted: map[string]string{}, heads: map[string]bool{},
		parents: map[string]bool{}, words: map[string]bool{}, tops: map[string]bool{}, bases: map[string]bool{},
	}
	below := func(dir string) { // what names something in a folder has this in it
		if dir != "." {
			n.parents[path.Base(dir)] = true
		}
	}
	for from := range s.Moves {
		stem := withoutEnding(from)
		if other, taken := n.stems[stem]; (!taken || from < other) && s.omits(from) {
			n.stems[stem] = from
		}
		n.bases[path.Base(from)], n.bases[path.Base(stem)] = true, true
		dir := project.Dir(from)
		below(dir)
		if dir == "." {
			n.heads[from] = true
			if path.Ext(from) != "" {
				n.words[from[:strings.IndexByte(from, '.')]] = true
			}
		} else {
			n.tails.add(from, s.omits(from))
		}
		for ; dir != "." && !n.folders[dir] && !s.isDir(dir); dir = project.Dir(dir) {
			n.folders[dir] = true
		}
		if name := s.Dotted(false, from); name != "" && name != s.Dotted(true, s.Moves[from]) {
			if other, taken := n.dotted[name]; !taken || from < other {
				n.dotted[name] = from
			}
			if dot := strings.LastIndexByte(name, '.'); dot >= 0 {
				n.words[name[strings.LastIndexByte(name[:dot], '.')+1:dot]] = true
			}
		}
	}
	for dir := range n.folders {
		n.bases[path.Base(dir)] = true
		above := project.Dir(dir)
		below(above)
		if above == "." {
			n.heads[dir] = true
			below(dir)
			n.tops[dir] = true
			continue
		}
		n.tails.add(dir, true)
	}
	return n
}

// omits says whether the ending of a file is left out by those who name it.
func (s *Search) omits(old string) bool {
	for _, f := range s.After.Languages.Families {
		if f.Reads(old) {
			return f.Omits
		}
	}
	return false
}

// empty says whether nothing is looked for.
func (n *names) empty() bool { return len(n.parents) == 0 && len(n.words) == 0 && len(n.heads) == 0 }

// withoutEnding is a path without what follows the last dot of its last segment; a name that begins with its only dot
// is whole.
func withoutEnding(p string) string {
	base := p[strings.LastIndexByte(p, '/')+1:]
	if dot := strings.LastIndexByte(base, '.'); dot > 0 {
		return p[:len(p)-len(base)+dot]
	}
	return p
}

// tailsToday are the paths of what is there today.
func (s *Search) tailsToday() tails {
	s.today.Do(func() {
		s.tails = tails{}
		seen := map[string]bool{}
		for _, f := range s.After.Tree.Files {
			s.tails.add(f.Path, true)
			for dir := project.Dir(f.Path); dir != "." && !seen[dir]; dir = project.Dir(dir) {
				seen[dir] = true
				s.tails.add(dir, true)
			}
		}
	})
	return s.tails
}

// dottedToday are the names with dots of what is there today.
func (s *Search) dottedToday() map[string]bool {
	s.naming.Do(func() {
		s.dotted = map[string]bool{}
		for _, f := range s.After.Tree.Files {
			if name := s.Dotted(true, f.Path); name != "" {
				s.dotted[name] = true
			}
		}
	})
	return s.dotted
}
