package markup

import (
	"bytes"
	"html"
	"regexp"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// The tokenizer follows HTML, section 13.2.5, as far as tags, attributes, comments and raw text go. It builds no tree.

// attribute is an attribute with its value's place; quote is 0 where there is none.
type attribute struct {
	name  string // lower case
	value source.Span
	text  string // decoded
	quote byte
	given bool // it has a value
}

// tag is an opening or closing tag.
type tag struct {
	name    string // as it is written
	span    source.Span
	place   source.Span // of the name
	closing bool
	empty   bool // it ends with />
	attrs   []attribute
}

// get gives an attribute; the first of a name counts.
func (t *tag) get(name string) (attribute, bool) {
	for _, a := range t.attrs {
		if a.name == name {
			return a, true
		}
	}
	return attribute{}, false
}

// rawText are the elements whose content is text up to their closing tag.
var rawText = map[string]bool{
	"script": true, "style": true, "textarea": true, "title": true, "iframe": true, "noembed": true, "noframes": true,
	"xmp": true,
}

// tokenizer walks over a text of markup.
type tokenizer struct {
	src      []byte
	pos      int
	dialect  dialect
	depth    int // of open svg and math elements, in which nothing is raw text
	elements int // open elements, for components: blocks stand at 0
	onTag    func(*tag)
	onRaw    func(*tag, source.Span) // the content of an element that is read as text
	onCode   func(source.Span)       // what stands between <% and %>, {% and %}, {{ and }}
	closes   [len(codeMarks)]text.Mark
}

// codeMarks are the marks around template code.
var codeMarks = [...][2]string{{"<%", "%>"}, {"{%", "%}"}, {"{{", "}}"}, {"{#", "#}"}}

func (t *tokenizer) run() {
	for t.pos < len(t.src) {
		next := t.pos + t.nextMark()
		t.pos = next
		if t.pos >= len(t.src) {
			return
		}
		rest := t.src[t.pos:]
		switch {
		case t.code(rest):
		case rest[0] != '<':
			t.pos++
		case bytes.HasPrefix(rest, []byte("<!--")):
			t.comment()
		case bytes.HasPrefix(rest, []byte("<![CDATA[")) && t.depth > 0:
			t.skipPast("]]>")
		case len(rest) > 1 && (rest[1] == '!' || rest[1] == '?'):
			t.skipPast(">")
		case len(rest) > 2 && rest[1] == '/' && letter(rest[2]):
			t.tag(2, true)
		case len(rest) > 1 && rest[1] == '/':
			t.skipPast(">")
		case len(rest) > 1 && letter(rest[1]):
			t.tag(1, false)
		default:
			t.pos++
		}
	}
}

func (t *tokenizer) nextMark() int {
	stops := "<"
	if t.dialect.code() {
		stops = "<{"
	}
	if n := bytes.IndexAny(t.src[t.pos:], stops); n >= 0 {
		return n
	}
	return len(t.src) - t.pos
}

// code passes over a piece of template code.
func (t *tokenizer) code(rest []byte) bool {
	if !t.dialect.code() {
		return false
	}
	for kind, marks := range codeMarks {
		if !bytes.HasPrefix(rest, []byte(marks[0])) {
			continue
		}
		if t.dialect == vue && marks[0] != "{{" || t.dialect == handlebars && marks[0] == "{#" {
			continue
		}
		if !t.closes[kind].Behind(t.src, codeMarks[kind][1], t.pos+2) {
			t.pos += 2
			return true
		}
		end := bytes.Index(rest[2:], []byte(marks[1]))
		if t.onCode != nil && marks[0] != "{#" {
			t.onCode(source.Span{Start: t.pos + 2, End: t.pos + 2 + end})
		}
		t.pos += end + 4
		return true
	}
	return false
}

func (t *tokenizer) skipPast(mark string) {
	if n := bytes.Index(t.src[t.pos:], []byte(mark)); n >= 0 {
		t.pos += n + len(mark)
	} else {
		t.pos = len(t.src)
	}
}

// comment passes over a comment, which <!--> and <!---> end at once, and --!> ends too.
func (t *tokenizer) comment() {
	rest := t.src[t.pos+4:]
	switch {
	case bytes.HasPrefix(rest, []byte(">")):
		t.pos += 5
		return
	case bytes.HasPrefix(rest, []byte("->")):
		t.pos += 6
		return
	}
	end, width := bytes.Index(rest, []byte("-->")), 3
	if other := bytes.Index(rest, []byte("--!>")); other >= 0 && (end < 0 || other < end) {
		end, width = other, 4
	}
	if end < 0 {
		t.pos = len(t.src)
		return
	}
	t.pos += 4 + end + width
}

func letter(c byte) bool { return c|0x20 >= 'a' && c|0x20 <= 'z' }

// tag reads a tag whose name begins skip bytes from here.
func (t *tokenizer) tag(skip int, closing bool) {
	start := t.pos
	i := start + skip
	for i < len(t.src) && !text.Space(t.src[i]) && t.src[i] != '/' && t.src[i] != '>' {
		i++
	}
	found := &tag{name: string(t.src[start+skip : i]), place: source.Span{Start: start + skip, End: i},
		closing: closing}
	i = t.attributes(found, i)
	if i > len(t.src) { // the tag never ends: it is none
		t.pos = len(t.src)
		return
	}
	found.span = source.Span{Start: start, End: i}
	t.pos = i
	t.onTag(found)
	t.enter(found)
}

// enter keeps count of what is open, and reads raw text.
func (t *tokenizer) enter(found *tag) {
	name := strings.ToLower(found.name)
	if name == "svg" || name == "math" {
		switch {
		case found.closing:
			t.depth = max(0, t.depth-1)
		case !found.empty:
			t.depth++
		}
	}
	if found.closing {
		t.elements = max(0, t.elements-1)
		return
	}
	if found.empty && (t.dialect.component() || t.depth > 0) {
		return
	}
	block := t.dialect == vue && t.elements == 0 && name != "template"
	pug := t.dialect == vue && t.elements == 0 && name == "template" && foreign(found)
	if (rawText[name] && t.depth == 0 && !(t.dialect.component() && name == "title")) || block || pug {
		t.raw(found, name)
		return
	}
	if !void[name] {
		t.elements++
	}
}

// foreign says whether a component's template is written in another language than HTML.
func foreign(found *tag) bool {
	lang, ok := found.get("lang")
	return ok && lang.text != "" && lang.text != "html"
}

var void = map[string]bool{
	"area": true, "base": true, "br": true, "col": true, "embed": true, "hr": true, "img": true, "input": true,
	"link": true, "meta": true,
	"source": true, "track": true, "wbr": true,
}

// raw reads text up to the closing tag of name. A script that holds <!-- and <script ends its inner one first.
func (t *tokenizer) raw(opened *tag, name string) {
	start := t.pos
	escaped, inner := false, false
	for i := start; i < len(t.src); i++ {
		rest := t.src[i:]
		if name == "script" && !t.dialect.component() {
			switch {
			case !escaped && bytes.HasPrefix(rest, []byte("<!--")):
				escaped = true
			case escaped && bytes.HasPrefix(rest, []byte("-->")):
				escaped, inner = false, false
			case escaped && !inner && endsName(rest, "<script"):
				inner = true
			case inner && endsName(rest, "</script"):
				inner = false
				continue
			}
		}
		if rest[0] != '<' || inner || !endsName(rest, "</"+name) {
			continue
		}
		t.onRaw(opened, source.Span{Start: start, End: i})
		t.pos = i
		t.skipPast(">")
		return
	}
	t.onRaw(opened, source.Span{Start: start, End: len(t.src)})
	t.pos = len(t.src)
}

// endsName says whether a text begins with a tag's beginning, in any case, and the name ends there.
func endsName(rest []byte, begin string) bool {
	if len(rest) < len(begin) || !strings.EqualFold(string(rest[:len(begin)]), begin) {
		return false
	}
	if len(rest) == len(begin) {
		return false
	}
	c := rest[len(begin)]
	return text.Space(c) || c == '/' || c == '>'
}

// attributes reads what stands in a tag from i on and gives the place behind its >; one past the end if there is none.
func (t *tokenizer) attributes(found *tag, i int) int {
	for i < len(t.src) {
		c := t.src[i]
		switch {
		case text.Space(c):
			i++
		case c == '>':
			return i + 1
		case c == '/':
			found.empty = i+1 < len(t.src) && t.src[i+1] == '>'
			i++
		case t.dialect.code() && (bytes.HasPrefix(t.src[i:], []byte("<%")) ||
			bytes.HasPrefix(t.src[i:], []byte("{{")) || bytes.HasPrefix(t.src[i:], []byte("{%"))):
			here := t.pos
			t.pos = i
			t.code(t.src[i:])
			i, t.pos = t.pos, here
		case c == '{' && t.dialect.braces():
			i = t.bracesEnd(i)
		default:
			i = t.attribute(found, i)
		}
	}
	return len(t.src) + 1
}

func (t *tokenizer) attribute(found *tag, i int) int {
	start := i
	for i++; i < len(t.src) && !text.Space(t.src[i]) && t.src[i] != '/' && t.src[i] != '>' && t.src[i] != '='; i++ {
	}
	a := attribute{name: strings.ToLower(string(t.src[start:i]))}
	after := i
	for after < len(t.src) && text.Space(t.src[after]) {
		after++
	}
	if after >= len(t.src) || t.src[after] != '=' {
		found.attrs = append(found.attrs, a)
		return i
	}
	for after++; after < len(t.src) && text.Space(t.src[after]); after++ {
	}
	if after >= len(t.src) {
		return len(t.src) + 1
	}
	a.given = true
	switch c := t.src[after]; {
	case c == '"' || c == '\'':
		end := bytes.IndexByte(t.src[after+1:], c)
		if end < 0 {
			return len(t.src) + 1
		}
		a.quote, a.value, i = c, source.Span{Start: after + 1, End: after + 1 + end}, after+end+2
	case c == '{' && t.dialect.braces():
		i = t.bracesEnd(after)
		a.given = false
	case c == '>':
		return after
	default:
		for i = after; i < len(t.src) && !text.Space(t.src[i]) && t.src[i] != '>'; i++ {
		}
		a.value = source.Span{Start: after, End: i}
	}
	if a.given {
		a.text = unescape(string(t.src[a.value.Start:a.value.End]))
	}
	found.attrs = append(found.attrs, a)
	return i
}

// bracesEnd gives the place behind the braces that open at i, past strings and templates in them.
func (t *tokenizer) bracesEnd(i int) int {
	depth := 0
	for i < len(t.src) {
		switch c := t.src[i]; c {
		case '{':
			depth++
		case '}':
			if depth--; depth == 0 {
				return i + 1
			}
		case '\'', '"', '`':
			if end := bytes.IndexByte(t.src[i+1:], c); end >= 0 {
				i += end + 1
			}
		}
		i++
	}
	return i
}

var reference = regexp.MustCompile(`&(#[0-9]+|#[xX][0-9a-fA-F]+|[a-zA-Z][a-zA-Z0-9]*);`)

// unescape decodes the character references of an attribute's value; one without a semicolon stays as it is there.
func unescape(text string) string {
	if strings.IndexByte(text, '&') < 0 {
		return text
	}
	return reference.ReplaceAllStringFunc(text, html.UnescapeString)
}
