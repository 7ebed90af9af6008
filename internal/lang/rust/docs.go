package rust

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// readDocs notes the paths in comments that documents are made of: links, and the code of examples.
func (p *parser) readDocs() {
	for i := 0; i < len(p.docs); {
		// comments that follow one another are one text
		k := i + 1
		for k < len(p.docs) && p.docs[k].next == p.docs[i].next && p.docs[k].inner == p.docs[i].inner {
			k++
		}
		r := docReader{parser: p, scope: p.inner(p.docs[i].start), room: p.examples}
		for _, d := range p.docs[i:k] {
			p.docLines(d, r.line)
		}
		i = k
	}
}

// docLines calls f with the lines of a comment, without what stands before them.
func (p *parser) docLines(d comment, f func(at source.Span)) {
	if p.src[d.start+1] == '/' {
		f(source.Span{Start: int(d.start) + 3, End: int(d.end)})
		return
	}
	for at := int(d.start) + 3; at < int(d.end)-2; {
		end := min(text.LineEnd(p.src, at), int(d.end)-2)
		start := at
		for start < end && classes[p.src[start]] == cSpace {
			start++
		}
		if start < end && p.src[start] == '*' {
			at = start + 1
		}
		f(source.Span{Start: at, End: end})
		at = end + 1
	}
}

// docReader reads the text of a document.
type docReader struct {
	*parser
	scope int32
	fence string // what ends the code that is read; empty outside of code
	rust  bool   // the code is Rust
	lines []source.Span
	room  *exampleRoom
}

// exampleRoom is what reading examples needs and does not keep.
type exampleRoom struct {
	tokens []token
	masked []byte
	around []byte
	file   file
}

// line reads a line.
func (r *docReader) line(at source.Span) {
	start := at.Start
	for start < at.End && classes[r.src[start]] == cSpace {
		start++
	}
	trimmed := r.src[start:at.End]
	if r.fence != "" {
		if bytes.HasPrefix(trimmed, []byte(r.fence)) {
			r.fence = ""
			if r.rust {
				r.example()
			}
			return
		}
		if bytes.HasPrefix(trimmed, []byte("# ")) || bytes.HasPrefix(trimmed, []byte("#\t")) { // not shown, and compiled
			start += 2
		}
		r.lines = append(r.lines, source.Span{Start: start, End: at.End})
		return
	}
	for _, fence := range []string{"```", "~~~"} {
		if bytes.HasPrefix(trimmed, []byte(fence)) {
			r.fence, r.rust, r.lines = fence, isRustFence(string(trimmed[3:])), r.lines[:0]
			return
		}
	}
	r.links(at)
}

// isRustFence says whether what stands behind a fence calls its code Rust, as rustdoc reads it.
func isRustFence(info string) bool {
	for _, word := range strings.FieldsFunc(info, func(c rune) bool { return c == ',' || c == ' ' || c == '\t' }) {
		switch word {
		case "rust", "should_panic", "no_run", "ignore", "compile_fail", "test_harness", "standalone_crate":
		default:
			if !strings.HasPrefix(word, "edition") && !strings.HasPrefix(word, "ignore-") && !strings.HasPrefix(word, "E0") {
				return false
			}
		}
	}
	return true
}

// example reads the code of an example. What it declares is its own; what it brings and names may be the crate's.
func (r *docReader) example() {
	if len(r.lines) == 0 {
		return
	}
	from := r.lines[0].Start
	masked := r.room.masked[:0]
	for _, line := range r.lines {
		for len(masked) < line.Start-from {
			masked = append(masked, ' ')
		}
		masked = append(masked, r.src[line.Start:line.End]...)
	}
	r.room.masked = masked
	if !bytes.Contains(masked, []byte("::")) && !bytes.Contains(masked, []byte("use")) {
		return // nothing in it is a path
	}
	tokens, _, err := lex(masked, r.room.tokens[:0], nil, r.names)
	r.room.tokens = tokens
	if err != nil {
		return
	}
	for i := range tokens {
		tokens[i].start += int32(from)
		tokens[i].end += int32(from)
	}
	room := &r.room.file
	*room = file{scopes: append(room.scopes[:0], scope{parent: -1, module: true}), paths: room.paths[:0], stmts: room.stmts[:0],
		uses: room.uses[:0], items: room.items[:0], members: room.members[:0], attrs: room.attrs[:0]}
	sub := &parser{src: r.src, tok: tokens, f: room, names: r.names, around: r.room.around[:0], where: inDocCode, paths: true}
	sub.block(0, len(tokens), 0, ofCode, "")
	r.room.around = sub.around
	for _, one := range sub.f.paths {
		one.scope, one.where = r.scope, inDocCode
		r.f.paths = append(r.f.paths, one)
	}
	for _, s := range sub.f.stmts {
		leaves := sub.f.uses[s.first : s.first+s.leaves]
		s.scope, s.inDoc, s.first = r.scope, true, int32(len(r.f.uses))
		for _, leaf := range leaves {
			leaf.stmt = int32(len(r.f.stmts))
			r.f.uses = append(r.f.uses, leaf)
		}
		r.f.stmts = append(r.f.stmts, s)
	}
}

// links notes the paths in square brackets, and those in the brackets behind them.
func (r *docReader) links(at source.Span) {
	for i := at.Start; i < at.End; i++ {
		switch r.src[i] {
		case '`':
			n := bytes.IndexByte(r.src[i+1:at.End], '`')
			if n < 0 {
				return
			}
			i += n + 1
		case '[':
			end := closing(r.src[:at.End], i, '[', ']')
			if end < 0 {
				return
			}
			switch next := end + 1; {
			case next < at.End && r.src[next] == '(':
				if close := closing(r.src[:at.End], next, '(', ')'); close > 0 {
					r.link(source.Span{Start: next + 1, End: close})
					i = close
				}
			case next < at.End && r.src[next] == '[':
				if close := closing(r.src[:at.End], next, '[', ']'); close > 0 {
					r.link(source.Span{Start: next + 1, End: close})
					i = close
				}
			case next < at.End && r.src[next] == ':' && len(bytes.TrimSpace(r.src[at.Start:i])) == 0:
				r.link(source.Span{Start: next + 1, End: at.End})
				return
			default:
				r.link(source.Span{Start: i + 1, End: end})
				i = end
			}
		}
	}
}

// closing gives the place of the bracket that closes another; -1 for none.
func closing(src []byte, i int, open, close byte) int {
	depth := 0
	for ; i < len(src); i++ {
		switch src[i] {
		case open:
			depth++
		case close:
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return -1
}

// link notes a text that rustdoc takes for the path of an item.
func (r *docReader) link(at source.Span) {
	trim := func(more string) {
		for at.Start < at.End && (classes[r.src[at.Start]] == cSpace || strings.IndexByte(more, r.src[at.Start]) >= 0) {
			at.Start++
		}
		for at.End > at.Start && (classes[r.src[at.End-1]] == cSpace || strings.IndexByte(more, r.src[at.End-1]) >= 0) {
			at.End--
		}
	}
	trim("`")
	if n := bytes.IndexByte(r.src[at.Start:at.End], '#'); n > 0 {
		at.End = at.Start + n
	}
	if n := bytes.IndexByte(r.src[at.Start:at.End], '@'); n > 0 && bytes.IndexByte(r.src[at.Start:at.Start+n], ':') < 0 {
		at.Start += n + 1
	}
	for _, end := range []string{"()", "!()", "![]", "!{}", "!"} {
		if bytes.HasSuffix(r.src[at.Start:at.End], []byte(end)) {
			at.End -= len(end)
			break
		}
	}
	raw := r.src[at.Start:at.End]
	if global := bytes.HasPrefix(raw, []byte("::")); global {
		return
	}
	parts := strings.Split(string(raw), "::")
	if len(raw) == 0 || !plainPath(raw) {
		return
	}
	for _, part := range parts {
		if part == "" || strings.Contains(part, ":") || classes[part[0]] != cLetter {
			return
		}
	}
	r.f.paths = append(r.f.paths, pathUse{at: at, text: r.names.string(raw), scope: r.scope, where: inDocLink})
}

// docText notes the links in #[doc = "…"].
func (p *parser) docText(one textUse, sc int32) {
	r := docReader{parser: p, scope: sc}
	r.links(one.at)
}
