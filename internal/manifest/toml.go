package manifest

import (
	"bytes"
	"errors"
	"fmt"
	"strconv"

	"github.com/pelletier/go-toml/v2"
	"github.com/pelletier/go-toml/v2/unstable"

	"crookedshelf/internal/source"
)

// ParseTOML reads TOML. Tables that stand in several places become one object.
func ParseTOML(src []byte) (*Value, error) {
	if at, ok := shallow(src); !ok {
		return nil, fmt.Errorf("%s: nested more than %d deep", source.PositionAt(src, at), maxDepth)
	}
	if at, ok := shortKeys(src); !ok {
		return nil, fmt.Errorf("%s: a key of more than %d parts", source.PositionAt(src, at), maxDepth)
	}
	if bytes.Count(src, []byte{'='}) <= mostJudged {
		if err := judgeTOML(src); err != nil {
			return nil, err
		}
	}
	t := tomlReader{src: src, tables: map[*Value]map[string]*Value{}}
	t.Reset(src)
	root := &Value{Kind: Object, Span: source.Span{End: len(src)}}
	at := root
	for t.NextExpression() {
		switch e := t.Expression(); e.Kind {
		case unstable.Table:
			at = t.descend(root, keys(e.Key()), int(e.Raw.Offset))
		case unstable.ArrayTable:
			path := keys(e.Key())
			list := t.descend(root, path, int(e.Raw.Offset))
			if list.Kind == Object && len(list.Members) == 0 {
				list.Kind = List
			}
			at = &Value{Kind: Object}
			list.Items = append(list.Items, at)
		case unstable.KeyValue:
			t.keyValue(at, e)
		}
	}
	if err := t.Error(); err != nil {
		return nil, fmt.Errorf("not valid TOML: %w", err)
	}
	return root, nil
}

// mostJudged is up to how many keys the library is asked whether none is there twice: it compares each with all others.
const mostJudged = 5000

// judgeTOML says what is wrong with a file as a whole, which the parser of single expressions does not see.
func judgeTOML(src []byte) error {
	var whole map[string]any
	if err := toml.Unmarshal(src, &whole); err != nil {
		var at *toml.DecodeError
		if errors.As(err, &at) {
			line, column := at.Position()
			return fmt.Errorf("not valid TOML: line %d, column %d: %s", line, column, at.Error())
		}
		return fmt.Errorf("not valid TOML: %w", err)
	}
	return nil
}

// shortKeys says whether no dotted key has more parts than tables may be nested, else where one has: each part is a
// table.
func shortKeys(src []byte) (at int, ok bool) {
	parts := 0
	for i := 0; i < len(src); {
		start := i
		switch c := src[i]; {
		case c == '"' || c == '\'':
			for i++; i < len(src) && src[i] != c && src[i] != '\n'; i++ {
			}
			i = min(i+1, len(src))
		case bareKey(c):
			for i < len(src) && bareKey(src[i]) {
				i++
			}
		default:
			parts = 0
			i++
			continue
		}
		next := i
		for next < len(src) && (src[next] == ' ' || src[next] == '\t') {
			next++
		}
		if next == len(src) || src[next] != '.' {
			parts = 0
			continue
		}
		if parts++; parts > maxDepth {
			return start, false
		}
		for next++; next < len(src) && (src[next] == ' ' || src[next] == '\t'); next++ {
		}
		i = next
	}
	return 0, true
}

func bareKey(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '-' || c >= 0x80
}

type tomlReader struct {
	unstable.Parser
	src    []byte
	tables map[*Value]map[string]*Value // the members of tables that were looked into, by their keys
}

func keys(it unstable.Iterator) []string {
	var out []string
	for it.Next() {
		out = append(out, string(it.Node().Data))
	}
	return out
}

// descend gives the object at a path of keys, and makes what is not there. Of a list of tables the last counts.
func (t *tomlReader) descend(v *Value, path []string, start int) *Value {
	for _, k := range path {
		if v.Kind == List && len(v.Items) > 0 {
			v = v.Items[len(v.Items)-1]
		}
		next := t.members(v)[k]
		if next == nil {
			next = &Value{Kind: Object, Span: source.Span{Start: start, End: start}}
			t.add(v, Member{Key: k, Value: next, Start: start})
		}
		v = next
	}
	return v
}

// members are those of a table by their keys.
func (t *tomlReader) members(v *Value) map[string]*Value {
	known := t.tables[v]
	if known == nil {
		known = make(map[string]*Value, len(v.Members))
		for _, m := range v.Members {
			known[m.Key] = m.Value
		}
		t.tables[v] = known
	}
	return known
}

func (t *tomlReader) add(v *Value, m Member) {
	v.Members = append(v.Members, m)
	if known := t.tables[v]; known != nil {
		known[m.Key] = m.Value
	}
}

func (t *tomlReader) keyValue(in *Value, e *unstable.Node) {
	path := keys(e.Key())
	if len(path) == 0 {
		return
	}
	start := int(e.Raw.Offset)
	if it := e.Key(); it.Next() {
		start = int(it.Node().Raw.Offset)
	}
	holder := t.descend(in, path[:len(path)-1], start)
	value := t.value(e.Value())
	// the parser does not tell where these are
	if end := int(e.Raw.Offset + e.Raw.Length); value.Kind == List || value.Kind == Object {
		if value.Kind == List {
			for it := e.Key(); it.Next(); {
				value.Span.Start = int(it.Node().Raw.Offset + it.Node().Raw.Length)
			}
			if bracket := bytes.IndexByte(t.src[value.Span.Start:], '['); bracket >= 0 {
				value.Span.Start += bracket
			}
		}
		value.Span.End = max(end, value.Span.Start)
	}
	t.add(holder, Member{Key: path[len(path)-1], Value: value, Start: start})
}

func (t *tomlReader) value(n *unstable.Node) *Value {
	out := &Value{Span: source.Span{Start: int(n.Raw.Offset), End: int(n.Raw.Offset + n.Raw.Length)}}
	switch n.Kind {
	case unstable.String:
		raw := t.Raw(n.Raw)
		out.Text = string(n.Data)
		if len(raw) >= 6 && (string(raw[:3]) == `"""` || string(raw[:3]) == "'''") {
			out.Kind = Block
			out.Span.Start, out.Span.End = out.Span.Start+3, out.Span.End-3
			out.Text = string(raw[3 : len(raw)-3])
			break
		}
		out.Kind = String
		if len(raw) >= 2 {
			out.Quote = raw[0]
			out.Span.Start, out.Span.End = out.Span.Start+1, out.Span.End-1
		}
	case unstable.Array:
		out.Kind = List
		for it := n.Children(); it.Next(); {
			if it.Node().Kind != unstable.Comment {
				out.Items = append(out.Items, t.value(it.Node()))
			}
		}
	case unstable.InlineTable:
		out.Kind = Object
		for it := n.Children(); it.Next(); {
			if it.Node().Kind == unstable.KeyValue {
				t.keyValue(out, it.Node())
			}
		}
	case unstable.Bool:
		out.Text = strconv.FormatBool(len(n.Data) > 0 && n.Data[0] == 't')
	default:
		out.Text = string(n.Data)
	}
	return out
}
