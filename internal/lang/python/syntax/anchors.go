package syntax

import (
	"bytes"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// anchor reads the expression around __file__, which begins at start: os.path.dirname(os.path.abspath(__file__)) and
// Path(__file__).resolve().parent count up from the file (docs.python.org/3/library/os.path.html, pathlib.html). What
// is put behind it is a path; a name that it is given is remembered. It may begin with a name that was given before,
// for the folder that is up folders above the file.
func (s *Scanner) anchor(start, up int) {
	at, before := s.Pos, up
	defer func() { s.Pos = at }()
	expression := source.Span{Start: start, End: s.Pos}
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
		Span: count, Text: string(s.Src[count.Start:count.End]), Kind: AnchorFolder, Form: lang.Plain,
		Detail: &lang.Detail{Own: Detail{Up: up, Base: before}}, Deferred: true,
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
func (s *Scanner) parents(from int) (end, levels int, run source.Span) {
	s.Pos = from
	s.blank(true)
	if s.at(s.Pos) != '.' {
		return from, 0, run
	}
	start := s.Pos
	for {
		at := s.Pos
		s.blank(true)
		if s.at(s.Pos) != '.' {
			s.Pos = at
			break
		}
		s.Pos++
		switch string(s.word()) {
		case "parent":
			levels++
			continue
		case "parents":
			if s.at(s.Pos) == '[' {
				if n := bytes.IndexByte(s.Src[s.Pos:min(len(s.Src), s.Pos+5)], ']'); n > 0 {
					if k, err := strconv.Atoi(string(s.Src[s.Pos+1 : s.Pos+n])); err == nil && k >= 0 && k < 50 {
						levels += k + 1
						s.Pos += n + 1
						continue
					}
				}
			}
		case "resolve", "absolute", "expanduser":
			if levels == 0 && bytes.HasPrefix(s.Src[s.Pos:], []byte("()")) {
				s.Pos += 2
				return s.Pos, 0, run
			}
		}
		s.Pos = at
		break
	}
	if levels == 0 {
		return from, 0, run
	}
	return s.Pos, levels, source.Span{Start: start, End: s.Pos}
}

// callAround gives the call whose only argument an expression is.
func (s *Scanner) callAround(e source.Span) (call source.Span, name string, ok bool) {
	open := e.Start - 1
	for open >= 0 && text.Space(s.Src[open]) {
		open--
	}
	s.Pos = e.End
	s.blank(true)
	if open < 0 || s.Src[open] != '(' || s.at(s.Pos) != ')' {
		return call, "", false
	}
	start := open
	for start > 0 && (nameParts[s.Src[start-1]] || s.Src[start-1] == '.') {
		start--
	}
	name = string(s.Src[start:open])
	return source.Span{Start: start, End: s.Pos + 1}, name[strings.LastIndexByte(name, '.')+1:], name != ""
}

// givenTo is the name that an expression is assigned to; empty if it is not the whole of an assignment's value so far.
func (s *Scanner) givenTo(e source.Span) string {
	i := e.Start - 1
	for i >= 0 && (s.Src[i] == ' ' || s.Src[i] == '\t') {
		i--
	}
	if i < 1 || s.Src[i] != '=' || strings.IndexByte("=!<>+-*/%&|^:", s.Src[i-1]) >= 0 {
		return ""
	}
	for i--; i >= 0 && (s.Src[i] == ' ' || s.Src[i] == '\t'); i-- {
	}
	end := i + 1
	for i >= 0 && nameParts[s.Src[i]] {
		i--
	}
	name := string(s.Src[i+1 : end])
	if i >= 0 && s.Src[i] == '.' || name == "" || name == "file" {
		return ""
	}
	line := bytes.LastIndexByte(s.Src[:i+1], '\n') + 1
	if len(bytes.TrimLeft(s.Src[line:i+1], " \t")) > 0 {
		return "" // an argument's name, or one of several targets
	}
	return name
}

// pathFrom reads the path that is put behind a folder which is up folders above this file: folder / 'a' / 'b',
// folder.joinpath('a'), os.path.join(folder, 'a', 'b').
func (s *Scanner) pathFrom(folder source.Span, up int) bool {
	return s.pathBehind(folder, up, s.joined(folder.Start))
}

// pathBehind is pathFrom; arguments says that the pieces of the path may be further arguments of the call.
func (s *Scanner) pathBehind(folder source.Span, up int, arguments bool) bool {
	at := s.Pos
	defer func() { s.Pos = at }()
	s.Pos = folder.End
	s.blank(true)
	var pieces []source.Span
	between := byte(',')
	switch {
	case s.at(s.Pos) == '/' && s.at(s.Pos+1) != '/' && s.at(s.Pos+1) != '=':
		between = '/'
	case bytes.HasPrefix(s.Src[s.Pos:], []byte(".joinpath(")):
		s.Pos += len(".joinpath")
	case s.at(s.Pos) == ',' && arguments:
	default:
		return false
	}
	for {
		s.Pos++
		s.blank(true)
		piece, ok := s.literal()
		if !ok || bytes.HasPrefix(s.Src[piece.Start:piece.End], []byte("/")) {
			break
		}
		pieces = append(pieces, piece)
		s.blank(true)
		if s.at(s.Pos) != between || between == '/' && s.at(s.Pos+1) == '/' {
			break
		}
	}
	if len(pieces) == 0 {
		return false
	}
	first, last := pieces[0], pieces[len(pieces)-1]
	m := lang.Mention{
		Span: source.Span{Start: first.Start, End: last.End}, Kind: AnchorPath, Form: lang.InScript,
		Quote: s.Src[first.Start-1], Detail: &lang.Detail{Own: Detail{Up: up}}, Deferred: true,
	}
	var text []string
	for _, p := range pieces {
		text = append(text, string(s.Src[p.Start:p.End]))
	}
	m.Text = strings.Join(text, "/")
	if len(pieces) > 1 {
		m.Detail.Join = string(s.Src[first.End:pieces[1].Start])
	}
	s.mentions = append(s.mentions, m)
	s.texts.from = last.End
	return true
}

// joined says whether an expression is the first argument of a call that joins paths.
func (s *Scanner) joined(start int) bool {
	i := start - 1
	for i >= 0 && text.Space(s.Src[i]) {
		i--
	}
	return i >= 4 && s.Src[i] == '(' && bytes.HasSuffix(s.Src[:i], []byte("join")) && i > 8 &&
		bytes.HasSuffix(s.Src[:i-4], []byte("path."))
}
