package manifest

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
)

// ParseINI reads lines of a key, = or :, and a value, below headings in brackets: INI, properties and .env files. A
// line that is none of these is passed over; a value goes up to the end of its line or to a comment that stands behind
// a blank, and on over lines that are indented deeper than its key.
func ParseINI(src []byte) (*Value, error) {
	root := &Value{Kind: Object, Span: source.Span{End: len(src)}}
	section := root
	var last *Value // of the key whose lines may go on
	depth := 0      // how far that is indented
	for at := 0; at < len(src); {
		end := bytes.IndexByte(src[at:], '\n')
		if end < 0 {
			end = len(src) - at
		}
		line := string(src[at : at+end])
		trimmed := strings.TrimSpace(line)
		indent := len(line) - len(strings.TrimLeft(line, " \t"))
		switch {
		case last != nil && indent > depth && trimmed != "" && trimmed[0] != '#' && trimmed[0] != ';':
			goesOn(last, src, at+indent, at+len(strings.TrimRight(line, " \t\r")))
		case trimmed == "" || trimmed[0] == '#' || trimmed[0] == ';':
		case trimmed[0] == '[' && strings.HasSuffix(trimmed, "]"):
			last = nil
			section = &Value{Kind: Object, Span: source.Span{Start: at, End: at + end}}
			root.Members = append(root.Members, Member{Key: trimmed[1 : len(trimmed)-1], Value: section, Start: at})
		default:
			if m, ok := iniLine(line, at); ok {
				section.Members = append(section.Members, m)
				last, depth = m.Value, indent
			}
		}
		at += end + 1
	}
	return root, nil
}

// goesOn adds a line that is indented deeper than its key: the value is a block then.
func goesOn(v *Value, src []byte, start, end int) {
	if v.Quote != 0 {
		return
	}
	if v.Text == "" && v.Kind == String {
		v.Span.Start = start
	}
	v.Kind, v.Span.End = Block, end
	v.Text = string(src[v.Span.Start:end])
}

func iniLine(line string, offset int) (Member, bool) {
	eq := strings.IndexAny(line, "=:")
	if eq < 0 {
		return Member{}, false
	}
	key := strings.TrimPrefix(strings.TrimSpace(line[:eq]), "export ")
	value := strings.TrimRight(line[eq+1:], " \t\r")
	start := eq + 1 + len(value) - len(strings.TrimLeft(value, " \t"))
	value = line[start:max(start, eq+1+len(value))]
	if len(value) > 0 && (value[0] == '"' || value[0] == '\'') {
		if end := strings.IndexByte(value[1:], value[0]); end >= 0 {
			return Member{Key: key, Start: offset, Value: &Value{
				Kind: String, Text: value[1 : end+1], Quote: value[0], Span: source.Span{Start: offset + start + 1,
					End: offset + start + 1 + end},
			}}, true
		}
	}
	if comment := strings.Index(value, " #"); comment >= 0 {
		value = strings.TrimRight(value[:comment], " \t")
	}
	return Member{Key: key, Start: offset, Value: &Value{Kind: String, Text: value,
		Span: source.Span{Start: offset + start, End: offset + start + len(value)}}}, true
}
