package manifest

import (
	"bytes"
	"fmt"
	"unicode/utf8"

	"github.com/tailscale/hujson"

	"crookedshelf/internal/source"
)

// ParseJSON reads JSON, also with comments and trailing commas. An error has its line and column in its text.
func ParseJSON(src []byte) (*Value, error) {
	body := bytes.TrimPrefix(src, []byte("\xEF\xBB\xBF"))
	if at, ok := shallow(body); !ok {
		return nil, fmt.Errorf("%s: nested more than %d deep", source.PositionAt(body, at), maxDepth)
	}
	v, err := hujson.Parse(body)
	if err != nil {
		return nil, fmt.Errorf("not valid JSON: %s", bytes.TrimPrefix([]byte(err.Error()), []byte("hujson: ")))
	}
	return convert(&v, len(src)-len(body)), nil
}

// shallow counts open brackets outside of strings.
func shallow(src []byte) (int, bool) {
	depth, inString := 0, false
	for i := 0; i < len(src); i++ {
		switch c := src[i]; {
		case inString && c == '\\':
			i++
		case c == '"':
			inString = !inString
		case inString && c == '\n':
			inString = false
		case inString:
		case c == '{' || c == '[':
			if depth++; depth > maxDepth {
				return i, false
			}
		case c == '}' || c == ']':
			depth--
		}
	}
	return 0, true
}

// textOf is what a string stands for. Most have no escapes and stand for themselves.
func textOf(t hujson.Literal) string {
	if len(t) >= 2 && t[0] == '"' && bytes.IndexByte(t, '\\') < 0 && utf8.Valid(t) {
		return string(t[1 : len(t)-1])
	}
	return t.String()
}

func convert(v *hujson.Value, offset int) *Value {
	out := &Value{Span: source.Span{Start: offset + v.StartOffset, End: offset + v.EndOffset}}
	switch t := v.Value.(type) {
	case hujson.Literal:
		if t.Kind() == '"' {
			out.Kind = String
			out.Text, out.Quote = textOf(t), '"'
			out.Span = source.Span{Start: offset + v.StartOffset + 1, End: offset + v.EndOffset - 1}
		} else {
			out.Text = string(t)
		}
	case *hujson.Object:
		out.Kind = Object
		for i := range t.Members {
			key, _ := t.Members[i].Name.Value.(hujson.Literal)
			out.Members = append(out.Members, Member{Key: textOf(key), Value: convert(&t.Members[i].Value, offset),
				Start: offset + t.Members[i].Name.StartOffset})
		}
	case *hujson.Array:
		out.Kind = List
		for i := range t.Elements {
			out.Items = append(out.Items, convert(&t.Elements[i], offset))
		}
	}
	return out
}
