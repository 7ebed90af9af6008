package manifest

import (
	"bytes"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Style is the manner in which a format writes keys and values.
type Style struct {
	Format string // JSON, YAML, TOML or Script
	Quote  byte   // around texts
}

// ErrNoObject says that a setting has no place to stand in.
var ErrNoObject = errors.New("there is no object that could hold it")

// Set gives the edit by which the value at a path of keys becomes what is asked for: it is replaced, or added with the
// keys above it in the manner of the file. changed is false where the value is right already.
func Set(src []byte, root *Value, style Style, keys []string, value *Value) (edit source.Edit, changed bool,
	err error) {
	holder := root
	for i, k := range keys {
		next := holder.Get(k)
		if next == nil {
			if holder == nil || holder.Kind != Object {
				return edit, false, fmt.Errorf("%s: %w", strings.Join(keys[:i], "."), ErrNoObject)
			}
			edit, err = style.add(src, root, holder, keys[i:], keys[:i], value)
			return edit, err == nil, err
		}
		holder = next
	}
	if Same(holder, value) {
		return edit, false, nil
	}
	return source.Edit{Span: Whole(holder), New: style.literal(value)}, true, nil
}

// Same compares two values by what they mean.
func Same(a, b *Value) bool {
	if a == nil || b == nil {
		return a == b
	}
	if a.Kind == List && b.Kind == List {
		return slices.EqualFunc(a.Items, b.Items, Same)
	}
	return a.Kind == b.Kind && a.Kind != Object && a.Text == b.Text && (a.Text != "" || a.Kind == String)
}

// Whole is the place of a value with its quotes.
func Whole(v *Value) source.Span {
	if v.Kind == String && v.Quote != 0 {
		return source.Span{Start: v.Span.Start - 1, End: v.Span.End + 1}
	}
	return v.Span
}

// literal writes a value.
func (s Style) literal(v *Value) string {
	switch v.Kind {
	case List:
		items := make([]string, len(v.Items))
		for i, item := range v.Items {
			items[i] = s.literal(item)
		}
		return "[" + strings.Join(items, ", ") + "]"
	case String:
		if s.Format == "YAML" && s.Quote == 0 && plainYAML(v.Text) {
			return v.Text
		}
		if s.Quote == '\'' && !strings.ContainsAny(v.Text, "'\\\n") {
			return "'" + v.Text + "'"
		}
		return strconv.Quote(v.Text)
	}
	return v.Text
}

// plainYAML says whether a text can stand without quotes and stays a text.
func plainYAML(text string) bool {
	v, err := ParseYAML([]byte("a: " + text + "\n"))
	got := v.Get("a")
	return err == nil && got != nil && got.Kind == String && got.Quote == 0 && got.Text == text
}

func (s Style) key(k string) string {
	plain := k != ""
	for i := range len(k) {
		c := k[i]
		plain = plain && (c|0x20 >= 'a' && c|0x20 <= 'z' || c == '_' || c >= '0' && c <= '9' && i > 0 ||
			c == '-' && s.Format != "Script")
	}
	switch {
	case s.Format != "JSON" && plain:
		return k
	case s.Format == "Script" && s.Quote == '\'':
		return "'" + k + "'"
	}
	return strconv.Quote(k)
}

// add writes keys and a value as a new member of holder. above are the keys that lead to holder.
func (s Style) add(src []byte, root, holder *Value, keys, above []string, value *Value) (source.Edit, error) {
	switch {
	case s.Format == "TOML" && !braced(src, holder):
		return s.addTable(src, root, holder, keys, above, value), nil
	case s.Format == "YAML" && !braced(src, holder):
		return s.addLines(src, holder, keys, value), nil
	}
	return s.addBraced(src, holder, keys, value)
}

func braced(src []byte, v *Value) bool { return v.Span.Start < len(src) && src[v.Span.Start] == '{' }

// addBraced adds a member to an object in braces: on a line of its own if the others stand so.
func (s Style) addBraced(src []byte, holder *Value, keys []string, value *Value) (source.Edit, error) {
	if !braced(src, holder) || holder.Span.End > len(src) || src[holder.Span.End-1] != '}' {
		return source.Edit{}, ErrNoObject
	}
	outer, _ := text.Indent(src, holder.Span.Start)
	unit := "  "
	lines := s.Format != "TOML" && (bytes.IndexByte(src[holder.Span.Start:holder.Span.End], '\n') >= 0 ||
		len(holder.Members) == 0)
	inner := outer + unit
	at, lead, trail := holder.Span.Start+1, "", ""
	if n := len(holder.Members); n > 0 {
		if own, alone := text.Indent(src, holder.Members[0].Start); lines && alone {
			inner = own
			if extra, ok := strings.CutPrefix(own, outer); ok && extra != "" {
				unit = extra
			}
		}
		// a string that is never closed runs over the brace
		if at = Whole(holder.Members[n-1].Value).End; at > holder.Span.End-1 {
			return source.Edit{}, ErrNoObject
		}
		lead = ","
		if rest := src[at : holder.Span.End-1]; bytes.HasPrefix(bytes.TrimSpace(rest), []byte(",")) {
			at += bytes.IndexByte(rest, ',') + 1
			lead, trail = "", ","
			if !lines {
				trail = ""
			}
		}
	} else {
		trail = "\n" + outer
		if len(bytes.TrimSpace(src[at:holder.Span.End-1])) > 0 {
			trail = "" // a comment is in it
		}
	}
	text := lead + " " + s.nested(keys, value, "", "", false) + trail
	if lines {
		text = lead + "\n" + inner + s.nested(keys, value, inner, unit, true) + trail
	}
	if len(holder.Members) == 0 && trail != "" && bytes.IndexByte(src[holder.Span.Start:holder.Span.End], '\n') >= 0 {
		text = strings.TrimSuffix(text, trail)
	}
	return source.Edit{Span: source.Span{Start: at, End: at}, New: text}, nil
}

// nested writes keys one in the other down to the value.
func (s Style) nested(keys []string, value *Value, indent, unit string, lines bool) string {
	if s.Format == "TOML" { // braces are on one line there
		if len(keys) == 1 {
			return s.key(keys[0]) + " = " + s.literal(value)
		}
		return s.key(keys[0]) + " = { " + s.nested(keys[1:], value, "", "", false) + " }"
	}
	if len(keys) == 1 {
		return s.key(keys[0]) + ": " + s.literal(value)
	}
	if !lines {
		return s.key(keys[0]) + ": { " + s.nested(keys[1:], value, "", "", false) + " }"
	}
	inner := indent + unit
	comma := ""
	if s.Format == "Script" {
		comma = ","
	}
	return s.key(keys[0]) + ": {\n" + inner + s.nested(keys[1:], value, inner, unit, true) + comma + "\n" + indent + "}"
}

// addLines adds a member to a mapping of YAML behind its last one.
func (s Style) addLines(src []byte, holder *Value, keys []string, value *Value) source.Edit {
	at, indent := len(src), ""
	if n := len(holder.Members); n > 0 {
		indent, _ = text.Indent(src, holder.Members[0].Start)
		if dash := strings.LastIndex(string(src[len(indent)+bytes.LastIndexByte(src[:holder.Members[0].Start],
			'\n')+1:holder.Members[0].Start]), "- "); dash >= 0 {
			indent += strings.Repeat(" ", dash+2)
		}
		end := Whole(holder.Members[n-1].Value).End
		if nested := holder.Span.End; nested > end {
			end = nested
		}
		at = min(end, len(src))
		if at == 0 || src[at-1] != '\n' {
			if next := bytes.IndexByte(src[at:], '\n'); next >= 0 {
				at += next + 1
			} else {
				at = len(src)
			}
		}
	}
	var text strings.Builder
	if at > 0 && src[at-1] != '\n' {
		text.WriteByte('\n')
	}
	for i, k := range keys {
		text.WriteString(indent + strings.Repeat("  ", i) + s.key(k) + ":")
		if i == len(keys)-1 {
			text.WriteString(" " + s.literal(value))
		}
		text.WriteByte('\n')
	}
	return source.Edit{Span: source.Span{Start: at, End: at}, New: text.String()}
}

// addTable adds a key to a table of TOML: behind its last value, or below a new heading at the end.
func (s Style) addTable(src []byte, root, holder *Value, keys, above []string, value *Value) source.Edit {
	last := -1
	for _, m := range holder.Members {
		if m.Value.Kind != Object || braced(src, m.Value) {
			last = max(last, Whole(m.Value).End)
		}
	}
	line := s.key(keys[len(keys)-1]) + " = " + s.literal(value) + "\n"
	if len(keys) == 1 && (last >= 0 || holder == root) {
		at := 0
		if last >= 0 {
			if at = last; at < len(src) {
				if next := bytes.IndexByte(src[at:], '\n'); next >= 0 {
					at += next + 1
				} else {
					at = len(src)
				}
			}
		}
		if at > 0 && src[at-1] != '\n' {
			line = "\n" + line
		}
		return source.Edit{Span: source.Span{Start: at, End: at}, New: line}
	}
	var names []string
	for _, k := range append(slices.Clone(above), keys[:len(keys)-1]...) {
		names = append(names, s.key(k))
	}
	text := "\n[" + strings.Join(names, ".") + "]\n" + line
	if len(src) > 0 && src[len(src)-1] != '\n' {
		text = "\n" + text
	}
	return source.Edit{Span: source.Span{Start: len(src), End: len(src)}, New: text}
}
