package manifest

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file writes XML anew, element by element.

// XML is a file of XML that is written anew in parts, one edit after the other. The first error stands, and nothing is
// changed after it.
type XML struct {
	source.Chain
	Top string // the name of its outermost element
	Err error
}

// Change makes an edit, if there is one, given the text and the outermost element as they are now.
func (x *XML) Change(find func(src []byte, top Member) (source.Edit, bool)) {
	if x.Err != nil {
		return
	}
	root, err := ParseXML(x.Text)
	if err != nil {
		x.Err = err
		return
	}
	for _, m := range root.Named(x.Top) {
		if e, is := find(x.Text, m); is && x.Err == nil {
			x.Err = x.Add(e)
		}
	}
}

// Named gives the elements of a name directly in another, in their order.
func (v *Value) Named(name string) (out []Member) {
	for _, m := range v.Fields() {
		if m.Key == name {
			out = append(out, m)
		}
	}
	return out
}

// ElementSpan is an element with its tags.
func ElementSpan(src []byte, m Member) source.Span {
	end := m.Value.Span.End
	if m.Value.Kind == String {
		if i := bytes.IndexByte(src[end:], '>'); i >= 0 {
			end += i + 1
		}
	}
	return source.Span{Start: m.Start, End: end}
}

// DropElement gives the edit by which an element goes, with its line if it stands alone there, and a comment of the
// same line.
func DropElement(src []byte, m Member) source.Edit {
	at := ElementSpan(src, m)
	start, end := text.LineStart(src, at.Start), text.LineEnd(src, at.End)
	if len(bytes.TrimSpace(src[start:at.Start])) > 0 || len(bytes.TrimSpace(src[at.End:end])) > 0 {
		return source.Edit{Span: at}
	}
	if end < len(src) {
		end++
	}
	return source.Edit{Span: source.Span{Start: start, End: end}}
}

// AddElement gives the edit by which an element gets another as its last. The text may have several lines, which are
// indented by two blanks a level; it is written in the manner of the file.
func AddElement(src []byte, holder Member, element string) source.Edit {
	whole := ElementSpan(src, holder)
	blanks, _ := text.Indent(src, holder.Start)
	unit, newline := Unit(src), text.Newline(src)
	var out strings.Builder
	for line := range strings.Lines(element) {
		level := 1
		for strings.HasPrefix(line, "  ") {
			line, level = line[2:], level+1
		}
		out.WriteString(blanks + strings.Repeat(unit, level) + strings.TrimSuffix(line, "\n") + newline)
	}
	if bytes.HasSuffix(src[:whole.End], []byte("/>")) { // it is empty
		name := holder.Key
		at := whole.End - len("/>")
		for at > 0 && src[at-1] == ' ' {
			at--
		}
		return source.Edit{Span: source.Span{Start: at, End: whole.End}, New: ">" + newline + out.String() + blanks + "</" +
			name + ">"}
	}
	at := bytes.LastIndex(src[:whole.End], []byte("</"))
	if start := text.LineStart(src, at); len(bytes.TrimSpace(src[start:at])) == 0 {
		return source.Edit{Span: source.Span{Start: start, End: start}, New: out.String()}
	}
	return source.Edit{Span: source.Span{Start: at, End: at}, New: newline + out.String() + blanks}
}

// Unit is the indentation of a level in a file of XML: that of the first line that has one.
func Unit(src []byte) string {
	for line := range bytes.Lines(src) {
		rest := bytes.TrimLeft(line, " \t")
		if n := len(line) - len(rest); n > 0 && bytes.HasPrefix(rest, []byte("<")) && !bytes.HasPrefix(rest, []byte("<!--")) {
			return string(line[:n])
		}
	}
	return "  "
}

// Levelled is an element as it is written, with two blanks for each level of indentation and none for the first line's.
func Levelled(src []byte, at source.Span) string {
	blanks := at.Start - text.LineStart(src, at.Start)
	unit := Unit(src)
	var out strings.Builder
	for line := range strings.Lines(strings.ReplaceAll(string(src[at.Start:at.End]), "\r\n", "\n")) {
		if out.Len() > 0 {
			rest := strings.TrimLeft(line, " \t")
			if n := len(line) - len(rest); n > blanks {
				rest = strings.Repeat("  ", (n-blanks)/len(unit)) + rest
			}
			line = rest
		}
		out.WriteString(line)
	}
	return out.String()
}

// LikeXML gives a new file, which is indented by two blanks, the indentation and the line ends of an old one.
func LikeXML(old []byte, content string) []byte {
	unit, newline := Unit(old), text.Newline(old)
	var out strings.Builder
	for line := range strings.Lines(content) {
		for strings.HasPrefix(line, "  ") {
			line = line[2:]
			out.WriteString(unit)
		}
		out.WriteString(strings.TrimSuffix(line, "\n") + newline)
	}
	return []byte(out.String())
}
