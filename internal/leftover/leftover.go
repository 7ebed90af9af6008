// Package leftover finds the texts of a tree that still name what has moved: paths, parts of paths and names with dots,
// in every file that is text, whether a language reads it or not. It is the net under everything else: what no language
// understood, and names what moved, is listed here.
//
// leftover.go holds the data and the pass over the files, names.go what is looked for, judge.go what one text names,
// spell.go how it would be written now.
package leftover

import (
	"bytes"
	"cmp"
	"slices"
	"sync"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Search says what has moved, and where to look for its old names.
type Search struct {
	Before *project.Project
	After  *graph.Graph // of the tree in which is looked
	// OldID is, for each file of the tree after, its file in the tree before; project.None for one that is new.
	OldID []project.FileID
	Moves map[string]string // from the old path of a file to the new one
	// Made are the files that compilers write in the tree after, and their folders: they are no part of it.
	Made map[string]bool
	// Folder says where the files of a folder of the old tree have gone: one place, or several with commas between.
	Folder func(dir string) string
	// Dotted gives the name with dots that the language of a file knows it by, in the tree before or after; empty for
	// none.
	Dotted func(after bool, path string) string
	// Skip says of a file of the tree after that its texts are of no interest.
	Skip func(id project.FileID) bool

	today, naming sync.Once
	tails         tails           // see tailsToday
	dotted        map[string]bool // see dottedToday
}

// isDir says whether a path is a folder today, of the tree or of what compilers write.
func (s *Search) isDir(place string) bool { return s.Made[place] || s.After.Tree.IsDir(place) }

// Text is a text that still names what moved.
type Text struct {
	File  project.FileID // of the tree after
	Span  source.Span    // in the file after
	Line  int
	Text  string
	Named string // the old path of what it named
	Now   string // where that is now
	// Certain: the text is the path to it, from the file's own folder, from one above or from the root. Others end like
	// it.
	Certain bool
	// New is the text as it would be written now; empty where that can't be said.
	New string
	// Around is the line that it stands in, without the blanks at its ends; of a long one the beginning.
	Around string
	// Piece says of a string of code that is a piece of a path how it is one.
	Piece Piece
}

// Piece says how a string is a piece of a path that is put together.
type Piece uint8

// The ways.
const (
	NoPiece   Piece = iota
	InCall          // it is an argument of a call that speaks of files
	ByItsName       // it is given to a name that is such an argument elsewhere
)

// Lines gives the lines of a file one after the other, in a form by which they are known again.
type Lines struct {
	rest   []byte // behind the line
	line   int    // from 1; 0 before the first
	around string
}

// NewLines begins with the first line of a text.
func NewLines(content []byte) *Lines { return &Lines{rest: content} }

// Around gives a line, which must not stand before the one that was asked for last; empty if there is no such line.
func (l *Lines) Around(line int) string {
	for l.line < line {
		text, rest, _ := bytes.Cut(l.rest, []byte{'\n'})
		l.rest = rest
		if l.line++; l.line == line {
			l.around = around(text)
		}
	}
	return l.around
}

func around(line []byte) string {
	line = bytes.TrimSpace(line)
	return string(line[:min(len(line), mostAround)])
}

// mostAround is how many bytes of a line are kept.
const mostAround = 300

// Left is a text that was left in a file, with the line in which it stood.
type Left struct{ Around, Text string }

// StillThere gives, for each text that was left in a file, where it stands in lines that are the one it stood in; in a
// long line that is its beginning.
func StillThere(content []byte, left []Left) [][]source.Position {
	byLine := map[string][]int{}
	for i, l := range left {
		byLine[l.Around] = append(byLine[l.Around], i)
	}
	var offsets, of []int
	start := 0
	for line := range bytes.Lines(content) {
		long := len(bytes.TrimSpace(line)) > mostAround
		for _, i := range byLine[around(line)] {
			at := bytes.Index(line, []byte(left[i].Text))
			if at < 0 && !long {
				continue
			}
			offsets, of = append(offsets, start+max(0, at)), append(of, i)
		}
		start += len(line)
	}
	out := make([][]source.Position, len(left))
	for n, at := range source.PositionsAt(content, offsets) {
		out[of[n]] = append(out[of[n]], at)
	}
	return out
}

// Result is what was found.
type Result struct {
	Texts []Text
	// Past counts texts in change logs and in what programs write from other files: they are not listed.
	Past int
	// Unsearched are files that are too large to be searched, or can't be read.
	Unsearched []string
}

// Most is the size in bytes above which a file is not searched.
const Most = 64 << 20

// Find looks through all texts of the tree.
func Find(s *Search) Result {
	n := s.names()
	if n.empty() {
		return Result{}
	}
	found := make([]Result, len(s.After.Files))
	parallel.Do(len(found), func(i int) {
		id := project.FileID(i)
		if s.After.Tree.Files[id].Link || s.Skip(id) {
			return
		}
		s.After.Tree.Peek(id, func(content []byte, err error) {
			switch {
			case err != nil, len(content) > Most:
				found[i].Unsearched = []string{s.After.Tree.Path(id)}
			case binary(content):
			default:
				p := &pass{search: s, names: n, file: id, path: s.After.Tree.Path(id), content: content,
					mentions: &s.After.Files[id]}
				found[i] = p.run()
			}
		})
	})
	var out Result
	for _, one := range found {
		out.Texts = append(out.Texts, one.Texts...)
		out.Past += one.Past
		out.Unsearched = append(out.Unsearched, one.Unsearched...)
	}
	slices.SortStableFunc(out.Texts, func(a, b Text) int {
		if a.Certain != b.Certain {
			if a.Certain {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.Named, b.Named)
	})
	return out
}

// binary says whether a content is no text: a byte that is 0 stands in its beginning.
func binary(content []byte) bool {
	return bytes.IndexByte(content[:min(len(content), 8000)], 0) >= 0
}

// pass is the search of one file.
type pass struct {
	search   *Search
	names    *names
	file     project.FileID
	path     string
	content  []byte
	mentions *graph.FileNode
	next     int // the first mention that does not end before the place that is looked at
	out      []Text
	line     []word            // room for the words of one
	texts    func(at int) bool // see Family.InText; nil where nobody has asked
	together map[string]bool   // names that are pieces of paths; nil where nobody has asked
}

func (p *pass) run() Result {
	whole := p.readsWords()
	p.slashes()
	p.dots()
	p.pieces()
	if whole {
		p.words()
	}
	if len(p.out) == 0 {
		return Result{}
	}
	if past(p.search.After.Languages, p.path) {
		return Result{Past: len(p.out)}
	}
	slices.SortFunc(p.out, func(a, b Text) int { return a.Span.Start - b.Span.Start })
	p.out = slices.CompactFunc(p.out, func(a, b Text) bool { return a.Span.Start == b.Span.Start })
	starts := make([]int, len(p.out))
	for i, t := range p.out {
		starts[i] = t.Span.Start
	}
	lines := NewLines(p.content)
	for i, at := range source.PositionsAt(p.content, starts) {
		p.out[i].Line, p.out[i].Around = at.Line, lines.Around(at.Line)
	}
	return Result{Texts: p.out}
}

// known gives the end of the mention that a place lies in, if that leads to something: the proof answers for it. Else
// 0.
func (p *pass) known(at int) int {
	all := p.mentions.Mentions
	for p.next < len(all) && all[p.next].Span.End <= at {
		p.next++
	}
	if p.next == len(all) || all[p.next].Span.Start > at {
		return 0
	}
	switch t := p.mentions.Targets[p.next]; {
	case t.Kind.Inside(), t.Kind == lang.ToPackage:
		return all[p.next].Span.End
	}
	return 0
}

// past says whether a file speaks of the past, or is written anew from other files by a program: nobody mends a path in
// it.
func past(languages lang.Languages, p string) bool { return languages.IsMade(p) || lang.IsHistory(p) }
