package settings

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file reads and edits lists that a file has as rows: elements of XML that have the same name (key
// project.modules.module, or Solution.Project.@Path for an attribute), and the projects of a solution (key projects).

// row is an entry of such a list.
type row struct {
	text  string      // with / between folders
	span  source.Span // the text
	whole source.Span // the entry
	plain bool        // it holds nothing else: another one can be made after it
}

// hasRows says whether the lists of a file are rows.
func hasRows(p string) bool {
	format := manifest.FormatOf(p)
	return isSolution(p) || format != nil && format.Name == "XML"
}

// rowsAt gives the rows of a list; an error where the file can have no such list.
func rowsAt(p string, src []byte, key []string) (rows []row, err error) {
	if isSolution(p) {
		if !slices.Equal(key, []string{"projects"}) {
			return nil, errors.New("a solution has the list projects alone")
		}
		return solutionRows(src), nil
	}
	root, err := manifest.ParseXML(src)
	if err != nil {
		return nil, err
	}
	names, attribute := key, ""
	if last := len(key) - 1; last > 0 && strings.HasPrefix(key[last], "@") {
		names, attribute = key[:last], key[last]
	}
	above := root.At(names[:len(names)-1]...)
	if above == nil || len(names) < 2 {
		return nil, fmt.Errorf("there are no elements at %s", strings.Join(key, "."))
	}
	for _, m := range above.Members {
		if m.Key != names[len(names)-1] {
			continue
		}
		v := m.Value
		if attribute != "" {
			v = v.Get(attribute)
		}
		if v != nil && v.Kind == manifest.String {
			rows = append(rows, elementRow(src, m, attribute))
		}
	}
	return rows, nil
}

// elementRow gives the row of an element: its text, or one of its attributes.
func elementRow(src []byte, m manifest.Member, attribute string) row {
	v, end := m.Value, m.Value.Span.End
	if attribute != "" {
		v = v.Get(attribute)
	} else if close := bytes.IndexByte(src[end:], '>'); close >= 0 {
		end += close + 1
	}
	one := rowOf(v.Text, v.Span)
	one.whole = source.Span{Start: m.Start, End: end}
	one.plain = len(m.Value.Members) <= 1 || m.Key == "ProjectReference" // what stands in that says again what it is
	return one
}

func rowOf(text string, at source.Span) row {
	return row{text: strings.ReplaceAll(text, `\`, "/"), span: at, plain: true}
}

// editRows gives the edits by which a list of rows gets some texts and loses others. The outcome is read again: if it
// would not be that list, it is refused.
func editRows(p string, src []byte, key, add, drop []string) ([]source.Edit, error) {
	rows, err := rowsAt(p, src, key)
	if err != nil {
		return nil, err
	}
	want := slices.Clone(add)
	for _, one := range rows {
		if !slices.Contains(drop, one.text) {
			want = append(want, one.text)
		}
	}
	edit := editElements
	if isSolution(p) {
		edit = editSolution
	}
	edits, err := edit(src, rows, add, drop)
	if err != nil {
		return nil, err
	}
	after, err := source.Apply(src, edits)
	if err != nil {
		return nil, err
	}
	got, err := Items(p, after, key)
	if slices.Sort(want); err != nil || !slices.Equal(slices.Sorted(slices.Values(got)), want) {
		return nil, errors.New("it can't be put in without touching anything else; write it by hand")
	}
	return edits, nil
}

var errNoModel = errors.New("it has no entry that a new one could be like; write the first by hand")

// editElements adds each text as a copy of the last element that holds nothing else, and takes others out with their
// lines.
func editElements(src []byte, rows []row, add, drop []string) (edits []source.Edit, err error) {
	var like row
	for _, one := range rows {
		lines, alone := ownLines(src, one.whole)
		if alone && one.plain {
			like = one
		}
		if !slices.Contains(drop, one.text) {
			continue
		}
		if !alone {
			return nil, errors.New("it shares its line with something else; write it by hand")
		}
		edits = append(edits, source.Edit{Span: lines})
	}
	if len(add) > 0 && like.whole.End == 0 {
		return nil, errNoModel
	}
	lines, _ := ownLines(src, like.whole)
	var made strings.Builder
	for _, item := range add {
		made.Write(src[lines.Start:like.span.Start])
		if err := xml.EscapeText(&made, []byte(asIn(src, rows, item))); err != nil {
			return nil, err
		}
		made.Write(src[like.span.End:lines.End])
	}
	if made.Len() > 0 {
		edits = append(edits, source.Edit{Span: source.Span{Start: lines.End, End: lines.End}, New: made.String()})
		source.SortEdits(edits)
	}
	return edits, nil
}

// dropRows gives the edits by which a file loses the rows of lists whose texts stand at some places; false where one is
// none. A list of XML is an element that has nothing but elements of one name.
func dropRows(p string, src []byte, places []source.Span) ([]source.Edit, bool) {
	edit, read := editElements, elementRows
	if isSolution(p) {
		edit, read = editSolution, solutionRows
	}
	rows := read(src)
	var drop []string
	for _, at := range places {
		i := slices.IndexFunc(rows, func(one row) bool { return one.plain && one.span == at })
		if i < 0 {
			return nil, false
		}
		drop = append(drop, rows[i].text)
	}
	edits, err := edit(src, rows, nil, drop)
	if err != nil {
		return nil, false
	}
	after, err := source.Apply(src, edits)
	return edits, err == nil && len(read(after)) == len(rows)-len(places)
}

// elementRows gives the rows of all lists of a file of XML.
func elementRows(src []byte) []row {
	root, err := manifest.ParseXML(src)
	if err != nil {
		return nil
	}
	return listRows(src, root)
}

// listRows gives the rows of all lists below an element.
func listRows(src []byte, v *manifest.Value) (out []row) {
	elements := slices.DeleteFunc(
		slices.Clone(v.Members),
		func(m manifest.Member) bool { return strings.HasPrefix(m.Key, "@") },
	)
	isList := len(elements) > 0 &&
		!slices.ContainsFunc(elements, func(m manifest.Member) bool { return m.Key != elements[0].Key })
	for _, m := range elements {
		if isList && m.Value.Kind == manifest.String {
			out = append(out, elementRow(src, m, ""))
		} else if isList && m.Key == "ProjectReference" && m.Value.Get("@Include") != nil {
			out = append(out, elementRow(src, m, "@Include"))
		} else if isList && len(m.Value.Members) == 1 && strings.HasPrefix(m.Value.Members[0].Key, "@") {
			out = append(out, elementRow(src, m, m.Value.Members[0].Key))
		}
		out = append(out, listRows(src, m.Value)...)
	}
	return out
}

// asIn writes a path as the rows of a file do: with \ between folders if one of them has it.
func asIn(src []byte, rows []row, item string) string {
	if slices.ContainsFunc(rows, func(one row) bool {
		return bytes.ContainsRune(src[one.span.Start:one.span.End], '\\')
	}) {
		return strings.ReplaceAll(item, "/", `\`)
	}
	return item
}

// ownLines gives the lines of an entry, with their newline; false where something else stands on them.
func ownLines(src []byte, at source.Span) (lines source.Span, alone bool) {
	end := text.LineEnd(src, at.End)
	_, first := text.Indent(src, at.Start)
	return source.Span{Start: text.LineStart(src, at.Start), End: min(end+1, len(src))},
		first && len(bytes.TrimSpace(src[at.End:end])) == 0 && end < len(src)
}
