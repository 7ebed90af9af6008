package settings

import (
	"bytes"
	"errors"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file is about solutions (.sln). A project has an entry of its own there, and lines in other sections that name
// it by its GUID: what is built of it in which configuration, in which heading of the editor it stands, who waits for
// it.

// solutionLine is the line that begins the entry of a project: the GUID of its kind, its name, its path, its own GUID.
var solutionLine = regexp.MustCompile(
	`(?m)^[ \t]*Project\("\{([^}"]*)\}"\)\s*=\s*"([^"]*)"\s*,\s*"([^"]*)"\s*,\s*"\{([^}"]*)\}"`)

// solutionFolder is the kind of a heading in the editor. It has an entry, and is no folder.
const solutionFolder = "2150E333-8FDC-42A3-9474-1A3956D46DE8"

var entryEnd = regexp.MustCompile(`(?m)^[ \t]*EndProject[ \t]*\r?$`)

func isSolution(p string) bool { return path.Ext(p) == ".sln" }

// solutionProject is a project of a solution; whole is its entry up to the end of its last line.
type solutionProject struct {
	row
	name source.Span
	own  source.Span // its GUID
}

func solutionProjects(src []byte) (out []solutionProject) {
	for _, m := range solutionLine.FindAllSubmatchIndex(src, -1) {
		if strings.EqualFold(string(src[m[2]:m[3]]), solutionFolder) {
			continue
		}
		one := solutionProject{row: rowOf(string(src[m[6]:m[7]]), source.Span{Start: m[6], End: m[7]}),
			name: source.Span{Start: m[4], End: m[5]}, own: source.Span{Start: m[8], End: m[9]}}
		one.whole.Start = text.LineStart(src, m[0])
		if end := entryEnd.FindIndex(src[m[1]:]); end != nil {
			one.whole.End = min(m[1]+end[1]+1, len(src))
		}
		out = append(out, one)
	}
	return out
}

var (
	solutionItems = regexp.MustCompile(`(?ms)^[ \t]*ProjectSection\(SolutionItems\)[^\n]*\n(.*?)^[ \t]*EndProjectSection`)
	solutionItem  = regexp.MustCompile(`(?m)^[ \t]*([^=\r\n]*[^=\s])[ \t]*=[ \t]*([^=\r\n]*[^=\s])[ \t]*\r?$`)
)

// solutionFiles are the paths of the files that stand beside the projects of a solution; each stands there twice.
func solutionFiles(src []byte) (out []source.Span) {
	for _, section := range solutionItems.FindAllSubmatchIndex(src, -1) {
		for _, m := range solutionItem.FindAllSubmatchIndex(src[section[2]:section[3]], -1) {
			for k := 2; k < len(m); k += 2 {
				out = append(out, source.Span{Start: section[2] + m[k], End: section[2] + m[k+1]})
			}
		}
	}
	return out
}

func solutionRows(src []byte) (out []row) {
	for _, one := range solutionProjects(src) {
		out = append(out, one.row)
	}
	return out
}

// editSolution adds projects in the manner of the last one that has the same ending, and takes others out with every
// line that names them.
func editSolution(src []byte, rows []row, add, drop []string) (edits []source.Edit, err error) {
	projects := solutionProjects(src)
	var gone []source.Span
	for _, one := range projects {
		if slices.Contains(drop, one.text) {
			if one.whole.End == 0 {
				return nil, fmt.Errorf("the entry of %s has no EndProject", one.text)
			}
			gone = append(gone, one.whole)
		}
	}
	for _, one := range projects {
		if !slices.Contains(drop, one.text) {
			continue
		}
		for line := range linesNaming(src, one.guid(src)) {
			if !slices.ContainsFunc(
				gone,
				func(at source.Span) bool { return at.Start <= line.Start && line.Start < at.End },
			) { // a line may name two that go
				gone = append(gone, line)
			}
		}
	}
	for _, at := range gone {
		edits = append(edits, source.Edit{Span: at})
	}
	for _, item := range add {
		made, err := newProject(src, projects, asIn(src, rows, item), drop)
		if err != nil {
			return nil, err
		}
		edits = append(edits, made...)
	}
	source.SortEdits(edits)
	return edits, nil
}

// newProject gives the edits that add a project. It gets the kind, the configurations and the heading of another one;
// what that one says of itself beside, and who waits for it, is its own.
func newProject(src []byte, projects []solutionProject, place string, drop []string) ([]source.Edit, error) {
	var like solutionProject
	for _, one := range projects {
		if path.Ext(one.text) == path.Ext(place) && one.whole.End > 0 && !slices.Contains(drop, one.text) {
			like = one
		}
	}
	if like.whole.End == 0 {
		return nil, errNoModel
	}
	guid := lang.GUID(place)
	if bytes.Contains(bytes.ToUpper(src), []byte(guid)) {
		return nil, errors.New("it has an entry of the same GUID")
	}
	base := path.Base(strings.ReplaceAll(place, `\`, "/"))
	entry := string(src[like.whole.Start:like.name.Start]) + strings.TrimSuffix(base, path.Ext(base)) +
		string(src[like.name.End:like.span.Start]) + place + string(src[like.span.End:like.own.Start]) + guid +
		string(src[like.own.End:text.LineEnd(src, like.own.End)+1]) + "EndProject" + text.Newline(src)
	edits := []source.Edit{{Span: source.Span{Start: like.whole.End, End: like.whole.End}, New: entry}}
	global := bytes.Index(src, []byte("\nGlobal")) // what follows is of the whole solution
	if global < 0 {
		return edits, nil
	}
	var run source.Span // lines one after another that begin with the other project
	copied := func() {
		if run.End > 0 {
			lines := replaceFold(string(src[run.Start:run.End]), like.guid(src), guid)
			edits = append(edits, source.Edit{Span: source.Span{Start: run.End, End: run.End}, New: lines})
		}
	}
	for line := range linesNaming(src, like.guid(src)) {
		words := bytes.TrimSpace(src[line.Start:line.End])
		first, _, _ := bytes.Cut(words, []byte("}"))
		if line.Start < global || !strings.EqualFold(string(first), "{"+like.guid(src)) {
			continue
		}
		if run.End != line.Start {
			copied()
			run.Start = line.Start
		}
		run.End = line.End
	}
	copied()
	return edits, nil
}

func (p solutionProject) guid(src []byte) string { return string(src[p.own.Start:p.own.End]) }

// linesNaming gives the lines, with their newline, in which a GUID stands in braces.
func linesNaming(src []byte, guid string) func(yield func(source.Span) bool) {
	return func(yield func(source.Span) bool) {
		name := []byte("{" + strings.ToUpper(guid) + "}")
		for line := range text.Lines(src) {
			line.End = min(line.End+1, len(src))
			if bytes.Contains(bytes.ToUpper(src[line.Start:line.End]), name) && !yield(line) {
				return
			}
		}
	}
}

// replaceFold replaces a text in whatever case it stands.
func replaceFold(s, old, by string) string {
	return regexp.MustCompile(`(?i)`+regexp.QuoteMeta(old)).ReplaceAllLiteralString(s, by)
}
