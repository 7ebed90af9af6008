package script

import (
	"bytes"
	"regexp"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// ReadObject reads the object that a configuration file exports: export default { }, module.exports = { }, also through
// a wrapping call, a function that gives it, or a constant that holds it. What is no object, list or plain text is a
// value of kind Other with its place. It gives nil where there is none.
func ReadObject(src []byte) *manifest.Value {
	r := objectReader{scanner: scanner{
		input:    input{src: src, dialect: TypeScript},
		position: position{budget: 4*len(src) + 1<<16},
	}}
	for _, mark := range []string{"export default", "module.exports =", "module.exports=", "exports.default ="} {
		if at := r.mark(mark); at >= 0 {
			if v, _ := r.value(at+len(mark), 0); v != nil && v.Kind == manifest.Object {
				return v
			}
		}
	}
	return nil
}

type objectReader struct{ scanner }

// mark finds a text outside of comments and strings, at the start of a line.
func (r *objectReader) mark(text string) int {
	for from := 0; ; {
		at := bytes.Index(r.src[from:], []byte(text))
		if at < 0 {
			return -1
		}
		at += from
		if at == 0 || r.src[at-1] == '\n' || r.src[at-1] == ';' || r.src[at-1] == ' ' || r.src[at-1] == '\xBF' {
			return at
		}
		from = at + 1
	}
}

const maxObjectDepth = 60

// value reads the value at i and gives the place after it. Places of parts that are passed over are found by brackets.
func (r *objectReader) value(i, depth int) (*manifest.Value, int) {
	i = r.skipTrivia(i)
	start := i
	if depth > maxObjectDepth || i >= len(r.src) {
		return nil, len(r.src)
	}
	switch c := r.src[i]; {
	case c == '{':
		return r.object(i, depth)
	case c == '[':
		return r.list(i, depth)
	case c == '\'' || c == '"' || c == '`':
		if span, end, ok := r.literal(i); ok {
			if next := r.at(r.skipTrivia(end)); next == ',' || next == '}' || next == ']' || next == ')' ||
				next == ';' || next == 0 || next == '\n' {
				return &manifest.Value{Kind: manifest.String, Text: text.DecodeScript(r.src[span.Start:span.End]),
					Span: span, Quote: c}, end
			}
		}
	case c == '(': // (...) => ({ }), or a value in parentheses
		if end := r.skip(i+1, ")"); bytes.HasPrefix(r.src[r.skipTrivia(min(end+1, len(r.src))):], []byte("=>")) {
			return r.function(r.skipTrivia(end+1)+2, depth)
		}
		v, _ := r.value(i+1, depth+1)
		return v, min(r.skip(i+1, ")")+1, len(r.src))
	case classes[c] == cWord:
		if v, end := r.named(i, depth); v != nil {
			return v, end
		}
	}
	end := r.skip(i, ",}])")
	span := source.Span{Start: start, End: max(start, len(bytes.TrimRight(r.src[:end], " \t\r\n;")))}
	return &manifest.Value{Text: string(r.src[span.Start:span.End]), Span: span}, end
}

// named reads a value that begins with a word: a wrapping call, a function, or a constant.
func (r *objectReader) named(i, depth int) (*manifest.Value, int) {
	end := r.wordEnd(i)
	name := string(r.src[i:end])
	for r.at(end) == '.' {
		end = r.wordEnd(end + 1)
	}
	if name == "async" {
		return r.value(end, depth+1)
	}
	next := r.skipTrivia(end)
	if name == "function" {
		body := r.skip(next, "{")
		if body < len(r.src) {
			return r.function(body, depth)
		}
		return nil, 0
	}
	if r.at(next) == '<' {
		next = r.skipTrivia(r.typeArgumentsEnd(next))
	}
	if r.at(next) == '(' {
		after := min(r.skip(next+1, ")")+1, len(r.src))
		arg := r.skipTrivia(next + 1)
		if c := r.at(arg); c == '{' || c == '(' || classes[c] == cWord {
			if v, _ := r.value(arg, depth+1); v != nil && v.Kind == manifest.Object {
				return v, after
			}
		}
		return nil, 0
	}
	if bytes.HasPrefix(r.src[next:], []byte("=>")) {
		return r.function(next+2, depth)
	}
	if c := r.at(next); c == ';' || c == 0 || c == ')' || c == ',' || c == '}' || depth == 0 {
		for _, head := range []string{"const " + name, "let " + name, "var " + name} {
			at := r.mark(head)
			if at < 0 || word[r.at(at+len(head))] {
				continue
			}
			if eq := bytes.IndexByte(r.src[at:], '='); eq >= 0 {
				v, _ := r.value(at+eq+1, depth+1)
				return v, end
			}
		}
	}
	return nil, 0
}

// What a function gives: an object, or a call that is given one.
var givesObject, givesCall = regexp.MustCompile(`return \{`), regexp.MustCompile(`return \w+\(\s*\{`)

// function reads what a function gives: ({ }), or the first return of its body.
func (r *objectReader) function(i, depth int) (*manifest.Value, int) {
	i = r.skipTrivia(i)
	if r.at(i) != '{' {
		return r.value(i, depth+1)
	}
	end := min(r.skip(i+1, "}")+1, len(r.src))
	for _, gives := range []*regexp.Regexp{givesObject, givesCall} {
		if at := gives.FindIndex(r.src[i:end]); at != nil {
			v, _ := r.value(i+at[0]+len("return "), depth+1)
			return v, end
		}
	}
	return nil, end
}

func (r *objectReader) object(i, depth int) (*manifest.Value, int) {
	v := &manifest.Value{Kind: manifest.Object, Span: source.Span{Start: i, End: len(r.src)}}
	for i = r.skipTrivia(i + 1); i < len(r.src) && r.src[i] != '}'; i = r.skipTrivia(i) {
		start := i
		key, ok := "", false
		switch c := r.src[i]; {
		case c == ',':
			i++
			continue
		case c == '\'' || c == '"':
			if span, end, closed := r.literal(i); closed {
				key, i, ok = text.DecodeScript(r.src[span.Start:span.End]), end, true
			}
		case classes[c] == cWord || classes[c] == cDigit:
			end := r.wordEnd(i)
			key, i, ok = string(r.src[i:end]), end, end > i
		}
		colon := r.skipTrivia(i)
		if ok && r.at(colon) == ':' {
			var value *manifest.Value
			if value, i = r.value(colon+1, depth+1); value != nil {
				v.Members = append(v.Members, manifest.Member{Key: key, Value: value, Start: start})
			}
			i = r.skip(i, ",}")
			continue
		}
		next := r.skip(i, ",}") // a spread, a method, a short form
		if next == i && r.at(i) != ',' && r.at(i) != '}' {
			next = i + 1
		}
		i = next
	}
	v.Span.End = min(i+1, len(r.src))
	return v, v.Span.End
}

func (r *objectReader) list(i, depth int) (*manifest.Value, int) {
	v := &manifest.Value{Kind: manifest.List, Span: source.Span{Start: i, End: len(r.src)}}
	for i = r.skipTrivia(i + 1); i < len(r.src) && r.src[i] != ']'; i = r.skipTrivia(i) {
		if r.src[i] == ',' {
			i++
			continue
		}
		item, end := r.value(i, depth+1)
		if item != nil {
			v.Items = append(v.Items, item)
		}
		if end = r.skip(end, ",]"); end <= i {
			end = i + 1
		}
		i = end
	}
	v.Span.End = min(i+1, len(r.src))
	return v, v.Span.End
}

// skip gives the first place at or after i where one of the stops stands outside of brackets, strings and comments.
func (r *objectReader) skip(i int, stops string) int {
	depth := 0
	before := byte(0)
	for i < len(r.src) {
		c := r.src[i]
		if depth == 0 && strings.IndexByte(stops, c) >= 0 {
			return i
		}
		switch {
		case c == '\'' || c == '"':
			i = r.stringEnd(i)
			before = c
			continue
		case c == '`':
			end := r.templateEnd(i)
			if _, plain, ok := r.literal(i); ok {
				end = plain
			}
			i = max(end, i+1)
			before = c
			continue
		case c == '/' && (r.at(i+1) == '/' || r.at(i+1) == '*'):
			i = r.commentEnd(i)
			continue
		case c == '/' && strings.IndexByte("(,=:[!&|?{};>\x00", before) >= 0:
			if end := r.regexpEnd(i); end > 0 {
				i, before = end, '/'
				continue
			}
		case c == '(' || c == '[' || c == '{':
			depth++
		case c == ')' || c == ']' || c == '}':
			if depth == 0 {
				return i
			}
			depth--
		}
		if classes[c] != cSpace && classes[c] != cNewline {
			before = c
		}
		i++
	}
	return len(r.src)
}
