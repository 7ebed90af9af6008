package manifest

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"html"
	"io"
	"strings"

	"crookedshelf/internal/source"
)

// ParseXML reads XML: an element is an object with its attributes as @name and its elements by name; one that holds
// text alone is a string. Entities are not looked up beyond the five of XML itself.
func ParseXML(src []byte) (*Value, error) {
	d := xml.NewDecoder(bytes.NewReader(src))
	d.Strict = true
	d.CharsetReader = func(_ string, in io.Reader) (io.Reader, error) { return in, nil }
	root := &Value{Kind: Object, Span: source.Span{End: len(src)}}
	stack := []*Value{root}
	for {
		start := int(d.InputOffset())
		token, err := d.RawToken()
		if errors.Is(err, io.EOF) {
			if len(stack) > 1 {
				return nil, fmt.Errorf("not valid XML: an element is not closed at the end")
			}
			return root, nil
		}
		if err != nil {
			var syntax *xml.SyntaxError
			if errors.As(err, &syntax) {
				return nil, fmt.Errorf("not valid XML: line %d: %s", syntax.Line, syntax.Msg)
			}
			return nil, fmt.Errorf("not valid XML: %w", err)
		}
		end := int(d.InputOffset())
		switch t := token.(type) {
		case xml.StartElement:
			if len(stack) > maxDepth {
				return nil, fmt.Errorf("%s: nested more than %d deep", source.PositionAt(src, start), maxDepth)
			}
			v := &Value{Kind: Object, Span: source.Span{Start: start, End: end}}
			attributes(v, src[start:end], start)
			stack[len(stack)-1].Members = append(stack[len(stack)-1].Members,
				Member{Key: xmlName(t.Name), Value: v, Start: start})
			stack = append(stack, v)
		case xml.EndElement:
			if len(stack) == 1 {
				return nil, fmt.Errorf("not valid XML: %s closes nothing", t.Name.Local)
			}
			top := stack[len(stack)-1]
			if len(top.Members) == 0 && top.Text != "" {
				top.Kind = String
			} else {
				top.Span.End = end
			}
			stack = stack[:len(stack)-1]
		case xml.CharData:
			text := string(src[start:end])
			trimmed := strings.TrimSpace(text)
			if top := stack[len(stack)-1]; trimmed != "" && top.Text == "" &&
				!bytes.HasPrefix(src[start:end], []byte("<![CDATA[")) {
				at := start + strings.Index(text, trimmed)
				top.Text = strings.TrimSpace(string(t))
				top.Span = source.Span{Start: at, End: at + len(trimmed)}
			}
		}
	}
}

func xmlName(n xml.Name) string {
	if n.Space != "" {
		return n.Space + ":" + n.Local
	}
	return n.Local
}

// attributes reads the attributes of the tag whose text is raw.
func attributes(v *Value, raw []byte, offset int) {
	for i := 0; i < len(raw); {
		eq := bytes.IndexByte(raw[i:], '=')
		if eq < 0 {
			return
		}
		eq += i
		name := raw[i:eq]
		if at := bytes.LastIndexAny(bytes.TrimRight(name, " \t\r\n"), " \t\r\n"); at >= 0 {
			name = name[at+1:]
		}
		open := eq + 1
		for open < len(raw) && (raw[open] == ' ' || raw[open] == '\t' || raw[open] == '\n' || raw[open] == '\r') {
			open++
		}
		if open >= len(raw) || raw[open] != '"' && raw[open] != '\'' {
			return
		}
		end := bytes.IndexByte(raw[open+1:], raw[open])
		if end < 0 {
			return
		}
		end += open + 1
		text := string(raw[open+1 : end])
		v.Members = append(v.Members, Member{Key: "@" + strings.TrimSpace(string(name)), Start: offset + i,
			Value: &Value{
				Kind: String, Text: html.UnescapeString(text), Quote: raw[open],
				Span: source.Span{Start: offset + open + 1, End: offset + end},
			}})
		i = end + 1
	}
}
