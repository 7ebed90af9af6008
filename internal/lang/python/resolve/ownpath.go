package resolve

import (
	"path"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
)

// ownPaths counts anew how far the file's own folders are above it, and writes the paths that are read from there.
func (s *settler) ownPaths() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		switch m.Kind {
		case syntax.AnchorFolder:
			s.recount(i)
		case syntax.AnchorPath:
			if !s.Before[i].Kind.Inside() {
				continue
			}
			to := s.Want[i].Folder()
			if s.Want[i].Kind == lang.ToFile {
				to = s.tree.Path(s.Want[i].File)
			}
			text := strings.TrimPrefix(lang.Relative(s.anchorAfter(syntax.DetailOf(m).Up), to), "./")
			if strings.HasSuffix(m.Text, "/") {
				text += "/"
			}
			if path.Clean(m.Text) == path.Clean(text) {
				continue
			}
			raw, ok := lang.Encode(text, m)
			if !ok {
				s.fail(i)
				continue
			}
			s.edit(m.Span, raw, "", i)
		}
	}
}

// above gives the folder some steps up from a file.
func above(p string, up int) string {
	for range up {
		p = path.Dir(p)
	}
	return p
}

// anchorAfter is the folder that the count stands for after the moves: where the old one goes as a whole, else the old
// one if the file is still below it, else the one as far up as before.
func (s *settler) anchorAfter(up int) string {
	old := above(s.pathBefore, up)
	now, whole := s.Folder(old)
	if !whole {
		now = old
	}
	if now == "." || strings.HasPrefix(s.pathAfter, now+"/") {
		return now
	}
	return above(s.pathAfter, up)
}

// upAfter counts how far that is above the file.
func (s *settler) upAfter(up int) int {
	to, n := s.anchorAfter(up), 0
	for p := s.pathAfter; p != to; p = path.Dir(p) {
		n++
	}
	return n
}

// leavesWithPackage says whether a count leads to the folder that the file's package is installed in, and nothing of
// the project is read from there: then it leads to that folder wherever the package goes as a whole.
func (s *settler) leavesWithPackage(up int) bool {
	old := s.Old.(*Resolver)
	top, now := old.top(s.pathBefore), s.top(s.pathAfter)
	if top == s.pathBefore || path.Dir(top) != above(s.pathBefore, up) || path.Base(top) != path.Base(now) ||
		above(s.pathAfter, up) != path.Dir(now) || path.Dir(top) == path.Dir(now) {
		return false
	}
	for i := range s.Mentions {
		if m := &s.Mentions[i]; m.Kind == syntax.AnchorPath && syntax.DetailOf(m).Up == up {
			return false
		}
	}
	old.dists.Do(func() { old.built = old.distributions() })
	for _, d := range old.built {
		if d.packaged(d.rel(path.Dir(top))) {
			return true
		}
	}
	return false
}

func (s *settler) recount(i int) {
	m := &s.Mentions[i]
	if s.leavesWithPackage(syntax.DetailOf(m).Up) {
		return
	}
	own := syntax.DetailOf(m)
	more := s.upAfter(own.Up) - own.Up - (s.upAfter(own.Base) - own.Base)
	if more == 0 {
		return
	}
	text := m.Text
	switch {
	case strings.HasPrefix(text, "."):
		steps := more
		for _, piece := range strings.Split(strings.TrimSpace(text), ".")[1:] {
			piece = strings.TrimSpace(piece)
			if k, ok := strings.CutPrefix(piece, "parents["); ok {
				n := 0
				for _, c := range strings.TrimSuffix(k, "]") {
					n = n*10 + int(c-'0')
				}
				steps += n
			}
			steps++
		}
		if steps < 0 {
			s.fail(i)
			return
		}
		text = strings.Repeat(".parent", steps)
		if strings.Contains(m.Text, "parents[") && steps > 0 {
			text = ".parents[" + strconv.Itoa(steps-1) + "]"
		}
	case more > 0:
		call := text[:strings.IndexByte(text, '(')+1]
		text = strings.Repeat(call, more) + text + strings.Repeat(")", more)
	default:
		call := text[:strings.IndexByte(text, '(')+1]
		for range -more {
			inner, ok := strings.CutPrefix(text, call)
			if !ok || !strings.HasSuffix(inner, ")") {
				s.fail(i)
				return
			}
			text = strings.TrimSpace(strings.TrimSuffix(inner, ")"))
		}
	}
	s.edit(m.Span, text, "", i)
}
