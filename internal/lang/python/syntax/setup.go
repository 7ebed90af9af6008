package syntax

import (
	"regexp"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// packageData reads the value of package_data in a setup.py: { 'a.b': ['data/*.csv'] }. Keys name packages, values are
// patterns from their folders; what is no literal is passed over (setuptools' documentation, Data Files Support).
func (s *Scanner) packageData() {
	at := s.Pos
	defer func() { s.Pos = at }()
	s.blank(true)
	if c := s.at(s.Pos); c != '=' && c != ':' {
		return
	}
	s.Pos++
	s.blank(true)
	if s.at(s.Pos) != '{' {
		return
	}
	s.Pos++
	for {
		s.blank(true)
		quote := s.Pos
		key, ok := s.literal()
		if c := s.at(quote); !ok && (c == '\'' || c == '"') && s.at(quote+1) == c { // all packages: the name is empty
			s.Pos, ok = quote+2, true
		}
		if !ok {
			return
		}
		s.blank(true)
		if s.at(s.Pos) != ':' {
			return
		}
		s.Pos++
		name := s.Src[key.Start:key.End]
		if _, dotted := lang.DottedName(name); dotted {
			s.addText(key, max(quote, key.Start-1), false, "")
		}
		if !s.patterns(string(name)) {
			return
		}
		s.blank(true)
		if s.at(s.Pos) != ',' {
			return
		}
		s.Pos++
	}
}

// patterns reads a list of patterns from a package's folder. It reports whether it is read whole.
func (s *Scanner) patterns(from string) bool {
	s.blank(true)
	if c := s.at(s.Pos); c != '[' && c != '(' {
		return false
	}
	s.Pos++
	for {
		s.blank(true)
		if c := s.at(s.Pos); c == ']' || c == ')' {
			s.Pos++
			return true
		}
		quote := s.Pos
		span, ok := s.literal()
		if !ok {
			return false
		}
		if from != "" {
			s.mentions = append(s.mentions, lang.Mention{
				Span: span, Text: string(s.Src[span.Start:span.End]), Kind: PackagePath, Form: lang.InScript,
				Quote:  s.Src[max(quote, span.Start-1)],
				Detail: &lang.Detail{Own: Detail{From: from}}, Deferred: true,
			})
		}
		s.texts.from = s.Pos
		s.blank(true)
		if s.at(s.Pos) == ',' {
			s.Pos++
		}
	}
}

// entryPoint is a line of what a setup.py lists as entry points: observe = a.b:main (the packaging specification, Entry
// points).
var entryPoint = regexp.MustCompile(`(?m)^[ \t]*[\w .-]+?[ \t]*=[ \t]*([A-Za-z_][\w.]*:[A-Za-z_][\w.]*)`)

// entryPoints reports the entry points in a string, and whether there are some.
func (s *Scanner) entryPoints(start, end int) bool {
	found := entryPoint.FindAllSubmatchIndex(s.Src[start:end], -1)
	for _, m := range found {
		s.addText(source.Span{Start: start + m[2], End: start + m[3]}, start-1, false, "")
	}
	return len(found) > 0
}
