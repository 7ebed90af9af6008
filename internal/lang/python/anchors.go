package python

import (
	"bytes"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// anchor reads the expression around __file__, which begins at start: os.path.dirname(os.path.abspath(__file__)) and
// Path(__file__).resolve().parent count up from the file (docs.python.org/3/library/os.path.html, pathlib.html). What
// is put behind it is a path; a name that it is given is remembered. It may begin with a name that was given before,
// for the folder that is up folders above the file.
func (s *scanner) anchor(start, up int) {
	at, before := s.pos, up
	defer func() { s.pos = at }()
	expression := source.Span{Start: start, End: s.pos}
	count := source.Span{} // what says how far up: a row of .parent, or the outermost call of dirname
	for {
		if end, levels, run := s.parents(expression.End); end > expression.End {
			if expression.End = end; levels > 0 {
				up += levels
				count = run
			}
			continue
		}
		call, name, ok := s.callAround(expression)
		if !ok {
			break
		}
		switch name {
		case "dirname":
			up++
			count = call
		case "abspath", "realpath", "normpath", "Path", "PurePath", "fspath", "str", "expanduser":
		default:
			ok = false
		}
		if !ok {
			break
		}
		expression = call
	}
	name := s.givenTo(expression)
	if up == before {
		switch {
		case up > 0:
			s.pathFrom(expression, up)
		case name != "":
			s.anchors = remember(s.anchors, name, 0)
		}
		return
	}
	mark := len(s.mentions)
	s.mentions = append(s.mentions, lang.Mention{
		Span: count, Text: string(s.src[count.Start:count.End]), Kind: AnchorFolder, Form: lang.Plain, Detail: &lang.Detail{Own: Detail{Up: up, Base: before}}, Deferred: true,
	})
	followed := s.pathFrom(expression, up)
	switch {
	case name != "" && !followed:
		s.anchors = remember(s.anchors, name, up)
	case name == "" && !followed:
		s.mentions = s.mentions[:mark] // nothing is read from there by what stands here
	}
}

func remember(names map[string]int, name string, up int) map[string]int {
	if names == nil {
		names = map[string]int{}
	}
	names[name] = up
	return names
}

// parents passes over .resolve(), .parent and .parents[0] behind an expression. levels is how many folders up they
// lead, run where that is said.
func (s *scanner) parents(from int) (end, levels int, run source.Span) {
	s.pos = from
	s.blank(true)
	if s.at(s.pos) != '.' {
		return from, 0, run
	}
	start := s.pos
	for {
		at := s.pos
		s.blank(true)
		if s.at(s.pos) != '.' {
			s.pos = at
			break
		}
		s.pos++
		switch string(s.word()) {
		case "parent":
			levels++
			continue
		case "parents":
			if s.at(s.pos) == '[' {
				if n := bytes.IndexByte(s.src[s.pos:min(len(s.src), s.pos+5)], ']'); n > 0 {
					if k, err := strconv.Atoi(string(s.src[s.pos+1 : s.pos+n])); err == nil && k >= 0 && k < 50 {
						levels += k + 1
						s.pos += n + 1
						continue
					}
				}
			}
		case "resolve", "absolute", "expanduser":
			if levels == 0 && bytes.HasPrefix(s.src[s.pos:], []byte("()")) {
				s.pos += 2
				return s.pos, 0, run
			}
		}
		s.pos = at
		break
	}
	if levels == 0 {
		return from, 0, run
	}
	return s.pos, levels, source.Span{Start: start, End: s.pos}
}

// callAround gives the call whose only argument an expression is.
func (s *scanner) callAround(e source.Span) (call source.Span, name string, ok bool) {
	open := e.Start - 1
	for open >= 0 && space(s.src[open]) {
		open--
	}
	s.pos = e.End
	s.blank(true)
	if open < 0 || s.src[open] != '(' || s.at(s.pos) != ')' {
		return call, "", false
	}
	start := open
	for start > 0 && (nameParts[s.src[start-1]] || s.src[start-1] == '.') {
		start--
	}
	name = string(s.src[start:open])
	return source.Span{Start: start, End: s.pos + 1}, name[strings.LastIndexByte(name, '.')+1:], name != ""
}

func space(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' }

// givenTo is the name that an expression is assigned to; empty if it is not the whole of an assignment's value so far.
func (s *scanner) givenTo(e source.Span) string {
	i := e.Start - 1
	for i >= 0 && (s.src[i] == ' ' || s.src[i] == '\t') {
		i--
	}
	if i < 1 || s.src[i] != '=' || strings.IndexByte("=!<>+-*/%&|^:", s.src[i-1]) >= 0 {
		return ""
	}
	for i--; i >= 0 && (s.src[i] == ' ' || s.src[i] == '\t'); i-- {
	}
	end := i + 1
	for i >= 0 && nameParts[s.src[i]] {
		i--
	}
	name := string(s.src[i+1 : end])
	if i >= 0 && s.src[i] == '.' || name == "" || name == "file" {
		return ""
	}
	line := bytes.LastIndexByte(s.src[:i+1], '\n') + 1
	if len(bytes.TrimLeft(s.src[line:i+1], " \t")) > 0 {
		return "" // an argument's name, or one of several targets
	}
	return name
}

// pathFrom reads the path that is put behind a folder which is up folders above this file: folder / 'a' / 'b',
// folder.joinpath('a'), os.path.join(folder, 'a', 'b').
func (s *scanner) pathFrom(folder source.Span, up int) bool {
	return s.pathBehind(folder, up, s.joined(folder.Start))
}

// pathBehind is pathFrom; arguments says that the pieces of the path may be further arguments of the call.
func (s *scanner) pathBehind(folder source.Span, up int, arguments bool) bool {
	at := s.pos
	defer func() { s.pos = at }()
	s.pos = folder.End
	s.blank(true)
	var pieces []source.Span
	between := byte(',')
	switch {
	case s.at(s.pos) == '/' && s.at(s.pos+1) != '/' && s.at(s.pos+1) != '=':
		between = '/'
	case bytes.HasPrefix(s.src[s.pos:], []byte(".joinpath(")):
		s.pos += len(".joinpath")
	case s.at(s.pos) == ',' && arguments:
	default:
		return false
	}
	for {
		s.pos++
		s.blank(true)
		piece, ok := s.literal()
		if !ok || bytes.HasPrefix(s.src[piece.Start:piece.End], []byte("/")) {
			break
		}
		pieces = append(pieces, piece)
		s.blank(true)
		if s.at(s.pos) != between || between == '/' && s.at(s.pos+1) == '/' {
			break
		}
	}
	if len(pieces) == 0 {
		return false
	}
	first, last := pieces[0], pieces[len(pieces)-1]
	m := lang.Mention{
		Span: source.Span{Start: first.Start, End: last.End}, Kind: AnchorPath, Form: lang.InScript, Quote: s.src[first.Start-1], Detail: &lang.Detail{Own: Detail{Up: up}}, Deferred: true,
	}
	var text []string
	for _, p := range pieces {
		text = append(text, string(s.src[p.Start:p.End]))
	}
	m.Text = strings.Join(text, "/")
	if len(pieces) > 1 {
		m.Detail.Join = string(s.src[first.End:pieces[1].Start])
	}
	s.mentions = append(s.mentions, m)
	s.texts.from = last.End
	return true
}

// joined says whether an expression is the first argument of a call that joins paths.
func (s *scanner) joined(start int) bool {
	i := start - 1
	for i >= 0 && space(s.src[i]) {
		i--
	}
	return i >= 4 && s.src[i] == '(' && bytes.HasSuffix(s.src[:i], []byte("join")) && i > 8 && bytes.HasSuffix(s.src[:i-4], []byte("path."))
}
