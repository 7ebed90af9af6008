// Package manifest reads settings files into values with their places in the text. It prints nothing: settings are
// edited by span, so that comments, order, quotes and indentation stay as they are.
package manifest

import (
	"bytes"
	"fmt"

	"github.com/tailscale/hujson"

	"crookedshelf/internal/source"
)

// maxDepth bounds nesting: the parser below recurses, and a stack overflow can't be recovered.
const maxDepth = 200

// Kind is the kind of a value.
type Kind uint8

// The kinds of value. Other is a number, a boolean or null.
const (
	Other Kind = iota
	String
	Object
	List
)

// Value is a value of a settings file.
type Value struct {
	Kind    Kind
	Text    string      // of a String, decoded
	Span    source.Span // of a String: its text without the quotes
	Members []Member    // of an Object, in the order of the file
	Items   []*Value    // of a List
}

// Member is a key of an object with its value.
type Member struct {
	Key   string
	Value *Value
}

// Get gives the value of a key; nil if the value is no object or has no such key. Of keys that stand twice the last
// counts, as in JSON.parse.
func (v *Value) Get(key string) *Value {
	if v == nil {
		return nil
	}
	for i := len(v.Members) - 1; i >= 0; i-- {
		if v.Members[i].Key == key {
			return v.Members[i].Value
		}
	}
	return nil
}

// String gives the text of a string value and "" for all else.
func (v *Value) String() string {
	if v == nil || v.Kind != String {
		return ""
	}
	return v.Text
}

// Strings calls f for the value if it is a string, and for every string in it at any depth.
func (v *Value) Strings(f func(*Value)) {
	if v == nil {
		return
	}
	switch v.Kind {
	case String:
		f(v)
	case Object:
		for _, m := range v.Members {
			m.Value.Strings(f)
		}
	case List:
		for _, item := range v.Items {
			item.Strings(f)
		}
	}
}

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

func convert(v *hujson.Value, offset int) *Value {
	out := &Value{}
	switch t := v.Value.(type) {
	case hujson.Literal:
		if t.Kind() == '"' {
			out.Kind = String
			out.Text = t.String()
			out.Span = source.Span{Start: offset + v.StartOffset + 1, End: offset + v.EndOffset - 1}
		}
	case *hujson.Object:
		out.Kind = Object
		for i := range t.Members {
			key, _ := t.Members[i].Name.Value.(hujson.Literal)
			out.Members = append(out.Members, Member{Key: key.String(), Value: convert(&t.Members[i].Value, offset)})
		}
	case *hujson.Array:
		out.Kind = List
		for i := range t.Elements {
			out.Items = append(out.Items, convert(&t.Elements[i], offset))
		}
	}
	return out
}
