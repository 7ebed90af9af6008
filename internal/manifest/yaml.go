package manifest

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"go.yaml.in/yaml/v3"

	"crookedshelf/internal/source"
)

// ParseYAML reads YAML. Of several documents the keys are read as those of one. Anchors are read where they are
// defined, and an alias is no value of its own, so nothing explodes.
func ParseYAML(src []byte) (*Value, error) {
	if at, ok := shallow(src); !ok {
		return nil, fmt.Errorf("%s: nested more than %d deep", source.PositionAt(src, at), maxDepth)
	}
	y := yamlReader{src: src, lines: lineStarts(src)}
	out := &Value{Kind: Object, Span: source.Span{End: len(src)}}
	d := yaml.NewDecoder(bytes.NewReader(src))
	for first := true; ; first = false {
		var doc yaml.Node
		err := d.Decode(&doc)
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("not valid YAML: %s", strings.TrimPrefix(err.Error(), "yaml: "))
		}
		if len(doc.Content) == 0 {
			continue
		}
		v := y.value(doc.Content[0], 0)
		if first {
			out = v
		} else if v.Kind == out.Kind {
			out.Members, out.Items = append(out.Members, v.Members...), append(out.Items, v.Items...)
		}
	}
}

type yamlReader struct {
	src   []byte
	lines []int
	last  struct{ line, column, at int } // the place that was asked for last: the next one mostly stands behind it
}

func lineStarts(src []byte) []int {
	out := []int{0}
	for i, c := range src {
		if c == '\n' {
			out = append(out, i+1)
		}
	}
	return out
}

// offset gives the byte at a line and column, which count runes from 1.
func (y *yamlReader) offset(line, column int) int {
	if line < 1 || line > len(y.lines) {
		return len(y.src)
	}
	at, from := y.lines[line-1], 1
	if line == 1 {
		at += len(y.src) - len(bytes.TrimPrefix(y.src, []byte("\xEF\xBB\xBF")))
	}
	if y.last.line == line && y.last.column <= column {
		at, from = y.last.at, y.last.column
	}
	for ; from < column && at < len(y.src); from++ {
		_, size := utf8.DecodeRune(y.src[at:])
		at += size
	}
	y.last.line, y.last.column, y.last.at = line, from, at
	return at
}

func (y *yamlReader) value(n *yaml.Node, depth int) *Value {
	at := y.offset(n.Line, n.Column)
	out := &Value{Span: source.Span{Start: at, End: at}}
	if depth > maxDepth {
		return out
	}
	defer y.close(n, out)
	switch n.Kind {
	case yaml.MappingNode:
		out.Kind = Object
		for i := 0; i+1 < len(n.Content); i += 2 {
			key := n.Content[i]
			m := Member{Key: key.Value, Start: y.offset(key.Line, key.Column)}
			m.Value = y.value(n.Content[i+1], depth+1)
			out.Members = append(out.Members, m)
			out.Span.End = max(out.Span.End, m.Value.Span.End)
		}
	case yaml.SequenceNode:
		out.Kind = List
		for _, item := range n.Content {
			v := y.value(item, depth+1)
			out.Items = append(out.Items, v)
			out.Span.End = max(out.Span.End, v.Span.End)
		}
	case yaml.ScalarNode:
		y.scalar(n, at, out)
	}
	return out
}

// close takes the bracket that ends a mapping or sequence in flow style into its span.
func (y *yamlReader) close(n *yaml.Node, v *Value) {
	if n.Style&yaml.FlowStyle == 0 || n.Kind == yaml.ScalarNode {
		return
	}
	end := v.Span.End
	for _, m := range v.Members {
		end = max(end, Whole(m.Value).End)
	}
	for _, item := range v.Items {
		end = max(end, Whole(item).End)
	}
	if at := bytes.IndexAny(y.src[end:], "]}"); at >= 0 {
		v.Span.End = end + at + 1
	}
}

// scalar finds the text of a scalar behind its tag and anchor.
func (y *yamlReader) scalar(n *yaml.Node, at int, out *Value) {
	for at < len(y.src) && (y.src[at] == '!' || y.src[at] == '&') {
		for at < len(y.src) && y.src[at] > ' ' {
			at++
		}
		for at < len(y.src) && (y.src[at] == ' ' || y.src[at] == '\t') {
			at++
		}
	}
	out.Span = source.Span{Start: at, End: at}
	switch {
	case n.Style&(yaml.LiteralStyle|yaml.FoldedStyle) != 0:
		out.Kind = Block
		out.Span = y.block(at)
		out.Text = string(y.src[out.Span.Start:out.Span.End])
	case n.Style&(yaml.SingleQuotedStyle|yaml.DoubleQuotedStyle) != 0:
		end := quotedEnd(y.src, at)
		if end < 0 || bytes.IndexByte(y.src[at:end], '\n') >= 0 {
			return
		}
		out.Kind, out.Text, out.Quote = String, n.Value, y.src[at]
		out.Span = source.Span{Start: at + 1, End: end}
	case bytes.HasPrefix(y.src[at:], []byte(n.Value)):
		out.Span.End = at + len(n.Value)
		out.Text = n.Value
		switch n.Tag {
		case "!!int", "!!float", "!!bool", "!!null", "!!timestamp":
		default:
			out.Kind = String
		}
	}
}

// quotedEnd gives the place of the quote that ends the scalar at i; -1 if there is none.
func quotedEnd(src []byte, i int) int {
	if i >= len(src) {
		return -1
	}
	quote := src[i]
	for i++; i < len(src); i++ {
		switch {
		case src[i] == '\\' && quote == '"':
			i++
		case src[i] == quote && quote == '\'' && i+1 < len(src) && src[i+1] == quote:
			i++
		case src[i] == quote:
			return i
		}
	}
	return -1
}

// block gives the lines of a block scalar whose indicator stands at i: those that are blank or indented deeper than the
// line of the indicator.
func (y *yamlReader) block(i int) source.Span {
	start := bytes.LastIndexByte(y.src[:min(i, len(y.src))], '\n') + 1
	indent := blanks(y.src[start:])
	// the keys of a list's item stand behind its dash
	for at := start + indent; at+1 < i && y.src[at] == '-' && y.src[at+1] == ' '; {
		step := 1 + blanks(y.src[at+1:])
		if !bytes.Contains(y.src[at:i], []byte(":")) {
			break
		}
		indent += step
		at += step
	}
	from := bytes.IndexByte(y.src[i:], '\n')
	if from < 0 {
		return source.Span{Start: len(y.src), End: len(y.src)}
	}
	span := source.Span{Start: i + from + 1, End: i + from + 1}
	for at := span.Start; at < len(y.src); {
		end := bytes.IndexByte(y.src[at:], '\n')
		if end < 0 {
			end = len(y.src) - at - 1
		}
		line := y.src[at : at+end+1]
		if len(bytes.TrimSpace(line)) > 0 && blanks(line) <= indent {
			break
		}
		at += end + 1
		span.End = at
	}
	return span
}

func blanks(line []byte) int { return len(line) - len(bytes.TrimLeft(line, " ")) }
