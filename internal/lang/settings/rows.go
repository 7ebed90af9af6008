package settings

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file reads lists that a file has as rows: elements of XML that have the same name (key project.modules.module,
// or Solution.Project.@Path for an attribute), and the projects of a solution (key projects).

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
	return path.Ext(p) == ".sln" || format != nil && format.Name == "XML"
}

// solutionProject is a line of a solution that names a project: the GUID of its kind, its name and its path. The kind
// solutionFolder is a heading in the editor, and no folder.
var solutionProject = regexp.MustCompile(`(?m)^[ \t]*Project\("\{([^}"]*)\}"\)\s*=\s*"[^"]*"\s*,\s*"([^"]*)"`)

const solutionFolder = "2150E333-8FDC-42A3-9474-1A3956D46DE8"

// rowsAt gives the rows of a list; an error where the file can have no such list.
func rowsAt(p string, src []byte, key []string) (rows []row, err error) {
	if path.Ext(p) == ".sln" {
		if !slices.Equal(key, []string{"projects"}) {
			return nil, errors.New("a solution has the list projects alone")
		}
		for _, m := range solutionProject.FindAllSubmatchIndex(src, -1) {
			if kind := string(src[m[2]:m[3]]); !strings.EqualFold(kind, solutionFolder) {
				rows = append(rows, rowOf(string(src[m[4]:m[5]]), source.Span{Start: m[4], End: m[5]}))
			}
		}
		return rows, nil
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
		v, end := m.Value, m.Value.Span.End
		if attribute != "" {
			v = m.Value.Get(attribute)
		} else if close := bytes.IndexByte(src[end:], '>'); v.Kind == manifest.String && close >= 0 {
			end += close + 1
		}
		if v == nil || v.Kind != manifest.String {
			continue
		}
		one := rowOf(v.Text, v.Span)
		one.whole = source.Span{Start: m.Start, End: end}
		one.plain = len(m.Value.Members) <= 1
		rows = append(rows, one)
	}
	return rows, nil
}

func rowOf(text string, at source.Span) row {
	return row{text: strings.ReplaceAll(text, `\`, "/"), span: at}
}

// editRows gives the edits by which a list of rows gets some texts, each as a copy of the last row that holds nothing
// else, and loses others with their lines.
func editRows(p string, src []byte, key, add, drop []string) (edits []source.Edit, err error) {
	rows, err := rowsAt(p, src, key)
	if err != nil {
		return nil, err
	}
	if path.Ext(p) == ".sln" {
		return nil, errors.New("an entry of a solution has more than a path: write it with the solution's own command")
	}
	var want []string
	var like row
	windows := false // it parts folders with \
	for _, one := range rows {
		lines, alone := ownLines(src, one.whole)
		windows = windows || bytes.ContainsRune(src[one.span.Start:one.span.End], '\\')
		if alone && one.plain {
			like = one
		}
		if !slices.Contains(drop, one.text) {
			want = append(want, one.text)
			continue
		}
		if !alone {
			return nil, errors.New("it shares its line with something else; write it by hand")
		}
		edits = append(edits, source.Edit{Span: lines})
	}
	if len(add) > 0 && like.whole.End == 0 {
		return nil, errors.New("it has no entry that a new one could be like; write the first by hand")
	}
	lines, _ := ownLines(src, like.whole)
	var made strings.Builder
	for _, item := range add {
		want = append(want, item)
		if windows {
			item = strings.ReplaceAll(item, "/", `\`)
		}
		made.Write(src[lines.Start:like.span.Start])
		if err := xml.EscapeText(&made, []byte(item)); err != nil {
			return nil, err
		}
		made.Write(src[like.span.End:lines.End])
	}
	if made.Len() > 0 {
		edits = append(edits, source.Edit{Span: source.Span{Start: lines.End, End: lines.End}, New: made.String()})
		slices.SortStableFunc(edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
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

// ownLines gives the lines of an entry, with their newline; false where something else stands on them.
func ownLines(src []byte, at source.Span) (lines source.Span, alone bool) {
	end := text.LineEnd(src, at.End)
	_, first := text.Indent(src, at.Start)
	return source.Span{Start: text.LineStart(src, at.Start), End: min(end+1, len(src))},
		first && len(bytes.TrimSpace(src[at.End:end])) == 0 && end < len(src)
}
