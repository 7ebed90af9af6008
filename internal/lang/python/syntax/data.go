package syntax

import (
	"crookedshelf/internal/source"
)

// resource reads the path behind a package: files('a') / 'b' / 'c', resource_filename('a', 'b/c').
func (s *Scanner) resource(from string) {
	at, count := s.Pos, len(s.mentions)
	defer func() { s.Pos = at }()
	s.blank(true)
	first := s.Pos // behind the package's name
	if string(s.called) == "files" {
		if s.at(s.Pos) != ')' {
			return
		}
		first++
	}
	if !s.pathBehind(source.Span{Start: first, End: first}, 0, string(s.called) != "files") {
		return
	}
	m := &s.mentions[count]
	own := DetailOf(m)
	own.From = from
	m.Kind, m.Detail.Own = PackagePath, own
}
