package manifest

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// AddItem gives the edit by which a list gets one more text at its end, in the manner of the list. A list of YAML has
// brackets, or a dash a line.
func (s Style) AddItem(src []byte, list *Value, item string) source.Edit {
	written := s.literal(&Value{Kind: String, Text: item})
	last := len(list.Items) - 1
	insert := func(at int, text string) source.Edit {
		return source.Edit{Span: source.Span{Start: at, End: at}, New: text}
	}
	switch {
	case last < 0: // there is no empty list without brackets
		return insert(list.Span.Start+1, written)
	case !bracketed(src, list):
		at := itemSpan(src, list, last)
		head := src[at.Start:list.Items[last].Span.Start]
		dash := bytes.LastIndex(head, []byte("- ")) + 2
		lead := string(head[:dash])
		if at.End > 0 && src[at.End-1] != '\n' {
			return insert(at.End, "\n"+lead+written)
		}
		return insert(at.End, lead+written+"\n")
	}
	end := Whole(list.Items[last]).End
	indent, alone := text.Indent(src, Whole(list.Items[last]).Start)
	comma := bytes.HasPrefix(bytes.TrimSpace(src[end:list.Span.End]), []byte(","))
	if comma {
		end += bytes.IndexByte(src[end:], ',') + 1
	}
	switch {
	case alone && comma:
		return insert(end, "\n"+indent+written+",")
	case alone:
		return insert(end, ",\n"+indent+written)
	case comma:
		return insert(end, " "+written+",")
	}
	return insert(end, ", "+written)
}

// DropItem gives the edit by which a list loses an item, with its line if it stands alone on it.
func DropItem(src []byte, list *Value, item int) source.Edit {
	at := itemSpan(src, list, item)
	return source.Edit{Span: at}
}

// itemSpan is the place of an item with all that goes when it goes: its line, or the comma that parts it from the next
// or else from the one before.
func itemSpan(src []byte, list *Value, item int) source.Span {
	at := Whole(list.Items[item])
	if !bracketed(src, list) {
		return source.Span{Start: text.LineStart(src, at.Start), End: min(text.LineEnd(src, at.End)+1, len(src))}
	}
	before := -1
	if item > 0 {
		before = Whole(list.Items[item-1]).End
	}
	return partSpan(src, list.Span.End, at, before)
}

// dropMember gives the edit by which an object in braces loses a member; false where there is none.
func dropMember(src []byte, object *Value, key string) (source.Edit, bool) {
	if object == nil || !braced(src, object) {
		return source.Edit{}, false
	}
	before := -1
	for _, m := range object.Members {
		at := source.Span{Start: m.Start, End: Whole(m.Value).End}
		if m.Key == key {
			return source.Edit{Span: partSpan(src, object.Span.End, at, before)}, true
		}
		before = at.End
	}
	return source.Edit{}, false
}

// partSpan is itemSpan of what stands between brackets or braces that end at a byte. before is where the part before it
// ends; -1 for none.
func partSpan(src []byte, end int, at source.Span, before int) source.Span {
	lineStart, lineEnd := text.LineStart(src, at.Start), min(text.LineEnd(src, at.End)+1, len(src))
	rest := src[at.End:end]
	blanks := len(rest) - len(bytes.TrimLeft(rest, " \t\r\n"))
	hasComma := blanks < len(rest) && rest[blanks] == ','
	_, alone := text.Indent(src, at.Start)
	if hasComma {
		at.End += blanks + 1
	}
	if alone && strings.TrimSpace(string(src[at.End:min(lineEnd, end)])) == "" {
		at.Start, at.End = lineStart, lineEnd
	} else if hasComma {
		at.End += len(src[at.End:end]) - len(bytes.TrimLeft(src[at.End:end], " \t"))
	}
	if !hasComma && before >= 0 { // the comma before it goes
		if comma := bytes.IndexByte(src[before:at.Start], ','); comma >= 0 {
			end := at.End
			if alone { // the bracket keeps its line
				end = len(bytes.TrimRight(src[:at.End], "\n"))
			}
			return source.Span{Start: before, End: end}
		}
	}
	return at
}

// bracketed says whether a list stands in brackets.
func bracketed(src []byte, list *Value) bool {
	return list.Span.Start < len(src) && src[list.Span.Start] == '['
}
