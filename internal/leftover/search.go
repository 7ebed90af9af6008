package leftover

import (
	"bytes"

	"crookedshelf/internal/source"
)

// slashes looks at the texts with slashes, or backslashes: where the segment before one is the name of a folder that
// something left, or the text begins at its own folder.
func (p *pass) slashes() {
	p.each('/', func(at int) bool { return p.content[at-1] == '.' || p.names.parents[string(p.segmentBefore(at))] })
	if bytes.IndexByte(p.content, '\\') >= 0 {
		p.each('\\', func(at int) bool { return p.names.parents[string(p.segmentBefore(at))] })
	}
}

// dots looks at the texts with dots in which a name with dots may stand, or the name of a file at the root.
func (p *pass) dots() {
	if len(p.names.words) > 0 {
		p.each('.', func(at int) bool { return p.names.words[string(p.wordBefore(at))] })
	}
}

// each judges the texts around a byte, where what stands before it is looked for.
func (p *pass) each(mark byte, wanted func(at int) bool) {
	p.next = 0
	for at := 1; at < len(p.content); {
		i := bytes.IndexByte(p.content[at:], mark)
		if i < 0 {
			return
		}
		at += i
		if !wanted(at) {
			at++
			continue
		}
		if known := p.known(at); known > at {
			at = known
			continue
		}
		span := p.token(at, at+1)
		at = max(at+1, span.End)
		p.look(span, false)
	}
}

// segmentBefore is the segment of a path that ends at a place.
func (p *pass) segmentBefore(end int) []byte {
	start := end
	for start > 0 && inPath(p.content[start-1]) && p.content[start-1] != '/' && p.content[start-1] != '\\' {
		start--
	}
	if start == end && start > 0 && (p.content[start-1] == ']' || p.content[start-1] == ')') {
		if open := bytes.LastIndexByte(p.content[max(0, start-64):start], opens[p.content[start-1]]); open >= 0 {
			start = max(0, start-64) + open
		}
	}
	return p.content[start:end]
}

// wordBefore is the name, without dots, that ends at a place.
func (p *pass) wordBefore(end int) []byte {
	start := end
	for start > 0 && inName(p.content[start-1]) {
		start--
	}
	return p.content[start:end]
}

// pieces looks at strings that are the name of a folder which was at the root.
func (p *pass) pieces() {
	if f := p.family(); f == nil || f.InText == nil {
		return
	}
	if len(p.names.tops) == 0 {
		return
	}
	p.next = 0
	longest := 0
	for name := range p.names.tops {
		longest = max(longest, len(name))
	}
	for end := 1; end < len(p.content); end++ {
		i := bytes.IndexAny(p.content[end:], "'\"")
		if i < 0 {
			return
		}
		end += i
		start := end
		for start > 0 && end-start <= longest && p.content[start-1] != '\'' && p.content[start-1] != '"' {
			start--
		}
		if start > 0 && p.content[start-1] == p.content[end] && p.names.tops[string(p.content[start:end])] {
			p.piece(source.Span{Start: start, End: end})
		}
	}
}
