package manifest

import (
	"bytes"
	"slices"

	"github.com/pelletier/go-toml/v2/unstable"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Table is a table of a TOML file as it stands in the text.
type Table struct {
	Key []string
	// Span is from its heading, with the comments right above, up to the next one's.
	Span source.Span
}

// Tables are the tables of a TOML file, in its order. What stands before the first heading is none.
func Tables(src []byte) (out []Table) {
	var p unstable.Parser
	p.Reset(src)
	for p.NextExpression() {
		e := p.Expression()
		if e.Kind != unstable.Table && e.Kind != unstable.ArrayTable {
			continue
		}
		it := e.Key()
		if !it.Next() {
			continue
		}
		start := text.LineStart(src, int(it.Node().Raw.Offset))
		for start > 0 {
			above := text.LineStart(src, start-1)
			if !bytes.HasPrefix(bytes.TrimSpace(src[above:start]), []byte("#")) {
				break
			}
			start = above
		}
		if n := len(out); n > 0 {
			out[n-1].Span.End = start
		}
		out = append(out, Table{Key: keys(e.Key()), Span: source.Span{Start: start, End: len(src)}})
	}
	return out
}

// DropTOML gives the edits by which a file loses what stands at a path of keys, with its line or its tables.
func DropTOML(src []byte, root *Value, path ...string) (out []source.Edit) {
	for _, t := range Tables(src) {
		if begins(t.Key, path) {
			out = append(out, source.Edit{Span: t.Span})
		}
	}
	holder := root.At(path[:len(path)-1]...)
	if holder == nil {
		return out
	}
	for _, m := range holder.Members {
		tables := m.Value.Kind == Object && !braced(src, m.Value) || m.Value.Kind == List && m.Value.Span.Len() == 0
		if m.Key != path[len(path)-1] || tables {
			continue
		}
		if braced(src, holder) {
			continue // it is on a line with others
		}
		out = append(out, source.Edit{Span: line(src, m)})
	}
	if holder != root { // serde.version = "1"
		if one := holder.Get(path[len(path)-1]); one != nil && one.Kind == Object && !braced(src, one) {
			for _, m := range one.Members {
				if !slices.ContainsFunc(out, func(e source.Edit) bool { return e.Span.Start <= m.Start && m.Start < e.Span.End }) {
					out = append(out, source.Edit{Span: line(src, m)})
				}
			}
		}
	}
	return out
}

func begins(key, path []string) bool {
	return len(key) >= len(path) && slices.Equal(key[:len(path)], path)
}

// line is the line of a member, with all lines of its value.
func line(src []byte, m Member) source.Span {
	return source.Span{Start: text.LineStart(src, m.Start), End: min(text.LineEnd(src, Whole(m.Value).End)+1, len(src))}
}
