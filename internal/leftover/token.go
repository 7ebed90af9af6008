package leftover

import (
	"bytes"
	"path"
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// inName says whether a byte is a part of a segment of a path.
func inName(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '-' || c >= 0x80
}

func inPath(c byte) bool {
	switch c {
	case '/', '\\', '.', '@', '~', '$', '#', '+', '%', '*':
		return true
	}
	return inName(c)
}

// token is the whole word around a part of it: the path with all of its segments. A segment in brackets, [id] or
// (main), is a part of it.
func (p *pass) token(start, end int) source.Span {
	c := p.content
	for start > 0 {
		switch b := c[start-1]; {
		case inPath(b):
			start--
			continue
		case (b == ']' || b == ')') && c[start] == '/':
			if open := bytes.LastIndexByte(c[max(0, start-64):start], opens[b]); open >= 0 {
				if open += max(0, start-64); open > 0 && c[open-1] == '/' {
					start = open
					continue
				}
			}
		}
		break
	}
	for end < len(c) {
		switch b := c[end]; {
		case inPath(b):
			end++
			continue
		case (b == '[' || b == '(') && c[end-1] == '/':
			if shut := bytes.IndexByte(c[end:min(len(c), end+64)], shuts[b]); shut > 0 {
				end += shut + 1
				continue
			}
		}
		break
	}
	for end > start && (c[end-1] == '.' || c[end-1] == '*' && end-2 >= start && c[end-2] == '*' &&
		!bytes.ContainsRune(c[start:end-2], '/')) {
		end--
	}
	return source.Span{Start: start, End: end}
}

var opens, shuts = map[byte]byte{']': '[', ')': '('}, map[byte]byte{'[': ']', '(': ')'}

// piece looks at a string of code that is the name of a folder at the root: the piece of a path that is put together,
// or a name that is used as one.
func (p *pass) piece(span source.Span) {
	line := p.lineBefore(span.Start - 1)
	in, how := false, InCall
	if open := bytes.LastIndexByte(line, '('); open >= 0 && bytes.IndexByte(line[open:], ')') < 0 {
		in = lang.SpeaksOfFiles[lastName(line[:open])]
	} else if name, ok := bytes.CutSuffix(bytes.TrimRight(line, " \t"), []byte("=")); ok {
		in, how = p.putTogether(lastName(bytes.TrimRight(name, " \t"))), ByItsName
	}
	if !in {
		return
	}
	n := len(p.out)
	p.look(span, true)
	for ; n < len(p.out); n++ {
		p.out[n].Piece = how
	}
}

// lineBefore is the line up to a place, or as much of it as a call may take.
func (p *pass) lineBefore(at int) []byte {
	line := p.content[max(0, at-longestArguments):at]
	return line[bytes.LastIndexByte(line, '\n')+1:]
}

// lastName is the name that a text ends with.
func lastName(text []byte) string {
	start := len(text)
	for start > 0 && inName(text[start-1]) && text[start-1] != '-' {
		start--
	}
	return string(text[start:])
}

// putTogether says whether a name is a piece of a path somewhere in the file: an argument of a call that speaks of
// files.
func (p *pass) putTogether(name string) bool {
	if p.together == nil {
		p.together = map[string]bool{}
		for at, c := range p.content {
			if c == '(' && lang.SpeaksOfFiles[lastName(p.content[max(0, at-longestArguments):at])] {
				p.arguments(at + 1)
			}
		}
	}
	return p.together[name]
}

// longestArguments is how many bytes of a call's line are looked at.
const longestArguments = 500

// arguments takes the names in that stand between the brackets of a call, up to the next bracket or the end of the
// line.
func (p *pass) arguments(at int) {
	for end := min(len(p.content), at+longestArguments); at < end; {
		from := at
		for at < end && inName(p.content[at]) && p.content[at] != '-' {
			at++
		}
		if at > from {
			p.together[string(p.content[from:at])] = true
			continue
		}
		if c := p.content[at]; c == '(' || c == ')' || c == '\n' {
			return
		}
		at++
	}
}

// words looks at each word of a file in which a name of one segment may stand for a file or a folder: one with an
// ending or a slash anywhere, a plain one where the line has other paths or a command that takes some.
func (p *pass) words() {
	prose := p.isProse()
	p.next = 0
	for start, line := 0, []byte(nil); start < len(p.content); start += len(line) {
		line = p.content[start:]
		if end := bytes.IndexByte(line, '\n'); end >= 0 {
			line = line[:end+1]
		}
		if len(line) <= longestLine {
			p.wordsOf(start, line, prose)
		}
	}
}

// longestLine is the length in bytes above which a line is no line of words.
const longestLine = 4000

// word is a word of a line.
type word struct {
	span source.Span
	text []byte
}

func (p *pass) wordsOf(start int, line []byte, prose bool) {
	words := p.line[:0]
	for at := 0; at < len(line); {
		if !inPath(line[at]) {
			at++
			continue
		}
		from := at
		for at < len(line) && inPath(line[at]) {
			at++
		}
		words = append(words, word{span: source.Span{Start: start + from, End: start + at}, text: line[from:at]})
	}
	p.line = words
	if !slices.ContainsFunc(words, func(w word) bool { return bytes.IndexByte(w.text, '.') >= 0 || p.isHead(w.text) }) {
		return
	}
	for i := range words {
		w := &words[i]
		plain := bytes.IndexByte(w.text, '.') < 0 && bytes.IndexByte(w.text, '/') < 0
		switch {
		case len(w.text) > 200 || bytes.IndexByte(single(w.text), '/') >= 0 || p.known(w.span.Start) > 0:
		case plain && (prose || !p.isHead(w.text) || !p.isAlone(w.span) || !p.amongPaths(words, i)):
		case !plain && !p.mayName(w.text):
		default:
			p.look(w.span, true)
		}
	}
}

// single is a word without what may stand around a name of one segment.
func single(word []byte) []byte {
	return bytes.TrimSuffix(bytes.TrimPrefix(word, []byte("./")), []byte("/"))
}

// mayName says whether a word of one segment is the name of something that moved, or begins with one that has dots.
func (p *pass) mayName(word []byte) bool {
	name := single(word)
	if i := bytes.IndexAny(name, "*#"); i >= 0 {
		name = name[:i]
	}
	name = name[bytes.LastIndexByte(name, '\\')+1:]
	if p.names.bases[string(name)] {
		return true
	}
	name = bytes.TrimLeft(word, "~!")
	for end := len(name); end > 0 && len(p.names.dotted) > 0; end = bytes.LastIndexByte(name[:end], '.') {
		if _, ok := p.names.dotted[string(name[:end])]; ok {
			return true
		}
	}
	return false
}

// isHead says whether a word may be the name of something that was at the root.
func (p *pass) isHead(word []byte) bool {
	return len(word) <= 200 && bytes.IndexByte(single(word), '/') < 0 && p.names.heads[string(bytes.Trim(word, "./"))]
}

// amongPaths says whether a plain word stands in a list of paths or behind a command that takes some.
func (p *pass) amongPaths(words []word, i int) bool {
	isPath := func(j int) bool {
		return j >= 0 && j < len(words) && j != i && (p.stands(path.Clean(string(words[j].text))) ||
			p.names.heads[string(words[j].text)])
	}
	rest := p.content[words[i].span.End:]
	switch {
	case len(rest) > 0 && rest[0] == ':' || len(rest) > 1 && (rest[1] == ':' || rest[1] == '='):
		// it is the name of a value
		return false
	case isPath(i+1) && !bytes.ContainsAny(words[i+1].text, "/."):
		return true
	case i == 0:
		return false
	}
	for j := range i {
		if lang.TakesPaths[string(words[j].text)] || listsPaths[string(words[j].text)] {
			return true
		}
	}
	return isPath(i - 1)
}

// listsPaths are words of lists of files behind which a path stands.
var listsPaths = map[string]bool{
	"COPY": true, "ADD": true, "WORKDIR": true, "include": true, "graft": true, "prune": true,
	"recursive-include": true, "recursive-exclude": true,
}

// isAlone says whether a word is all of a value, an element of a list or a word of a command, by what stands around it.
func (p *pass) isAlone(span source.Span) bool {
	around := func(at int) bool {
		return at < 0 || at >= len(p.content) || bytes.IndexByte([]byte(" \t\r\n\"'`,[](){}=:;|&<>"),
			p.content[at]) >= 0
	}
	return around(span.Start-1) && around(span.End)
}

// readsWords says whether a name of one segment may stand in a file for a file or a folder: in settings, in lists and
// in what no language reads.
func (p *pass) readsWords() bool {
	f := p.family()
	return f == nil || f.Words != nil && f.Words(p.path) || p.isProse()
}
