package lang

import (
	"bytes"
	"slices"

	"crookedshelf/internal/source"
)

// Source is a text to be scanned: a file, or a part of one that another language holds.
type Source struct {
	Path     string // of the file
	As       string // a path whose name says how the text is read: Path, or for a part a name such as x.ts
	Content  []byte
	Declared *Declared // what the convention says; may be nil
	Imports  bool      // only what it imports is wanted
}

// IsPart says whether the text is a part of a file: then all that is wanted of it is wanted at once.
func (s *Source) IsPart() bool { return s.As != s.Path }

// Embedded is a part of a file that another language reads: a script in a page, an example in a document.
type Embedded struct {
	// Lines are the places of the file that hold the text, in order. What stands between them does not belong to it.
	Lines []source.Span
	// As is a name of a file that is read like it. Where a document calls the language by a name, Called is that name.
	As, Called string
	Imports    bool                  // only what it imports is wanted
	Declares   bool                  // the file declares what it declares
	Example    bool                  // it is shown, and not run
	Keep       func(m *Mention) bool // says which mentions count, and may change them; nil for all
}

// Scan finds what is asked for in a file of a family, also in what other languages read of it: all of it in the order
// of the file. Of two mentions that overlap the first counts. as is the path by whose ending it is read.
func (l Languages) Scan(f *Family, path, as string, content []byte, declared *Declared) (Scanned, error) {
	if declared != nil && path == declared.Convention.InTree {
		return Scanned{}, nil // what it says of paths is law, and not text that follows them
	}
	found, err := f.Scan(Source{Path: path, As: as, Content: content, Declared: declared})
	if len(found.Inside) == 0 {
		return found, err
	}
	for i := range found.Inside {
		l.scanPart(&found, &found.Inside[i], path, content, declared)
	}
	found.Mentions = InOrder(found.Mentions)
	return found, err
}

// scanPart adds what is found in a part of a file. A language that nobody reads has nothing.
func (l Languages) scanPart(found *Scanned, part *Embedded, path string, content []byte, declared *Declared) {
	as := part.As
	if as == "" {
		as = "x" + l.shown(part.Called)
	}
	family := l.FamilyOf(as)
	if family == nil || len(part.Lines) == 0 {
		return
	}
	from := part.Lines[0].Start
	inside, _ := family.Scan(Source{Path: path, As: as, Content: gathered(content, part.Lines), Declared: declared,
		Imports: part.Imports})
	for _, m := range inside.Mentions {
		if part.Keep != nil && !part.Keep(&m) {
			continue
		}
		// who reads it imports that: it is no use of the project's own, and no error where it leads nowhere
		if part.Example {
			m.Likely, m.Evident, m.Deferred = true, true, true
		}
		m.Span.Start += from
		m.Span.End += from
		found.Mentions = append(found.Mentions, m)
	}
	if part.Declares && found.Outline != nil && inside.Outline != nil {
		for _, d := range inside.Outline.Declarations {
			d.Offset += from
			found.Outline.Declarations = append(found.Outline.Declarations, d)
		}
	}
}

// shown is the ending of files of a language that documents call by a name; empty for none.
func (l Languages) shown(called string) string {
	for i := range l.Families {
		if ending := l.Families[i].Facts.Shown[called]; ending != "" {
			return ending
		}
	}
	return ""
}

// gathered is the text of some places of a file, each where it stands seen from the first, with blanks between.
func gathered(content []byte, lines []source.Span) []byte {
	if len(lines) == 1 {
		return content[lines[0].Start:lines[0].End]
	}
	from, to := lines[0].Start, lines[len(lines)-1].End
	text := bytes.Repeat([]byte(" "), to-from)
	for _, line := range lines {
		copy(text[line.Start-from:], content[line.Start:line.End])
		if line.End < to {
			text[line.End-from] = '\n'
		}
	}
	return text
}

// InOrder puts mentions in the order of their file, and drops those that overlap one before them.
func InOrder(mentions []Mention) []Mention {
	slices.SortStableFunc(mentions, func(a, b Mention) int { return a.Span.Start - b.Span.Start })
	out, last := mentions[:0], -1
	for _, m := range mentions {
		if m.Span.Start >= last {
			out, last = append(out, m), m.Span.End
		}
	}
	return out
}
