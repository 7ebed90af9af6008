package lang

import (
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Sheets are files of settings of a tree that are written anew in parts, and what they were.
type Sheets struct {
	tree *Tree
	then func(id project.FileID) string
	old  map[string]*OldFile
	all  map[string]*Sheet
}

// OldFile is a file of settings as it stands in the old tree.
type OldFile struct {
	ID    project.FileID
	Path  string
	Src   []byte
	Value *manifest.Value // nil where it can't be read
}

// Sheet is a file of settings that is written anew in parts. It may be new.
type Sheet struct {
	*manifest.Sheet
	ID   project.FileID // project.None for a new one
	File string         // where it will be
}

// NewSheets begins with none of a tree. then is where a file will be.
func NewSheets(tree *Tree, then func(id project.FileID) string) *Sheets {
	return &Sheets{tree: tree, then: then, old: map[string]*OldFile{}, all: map[string]*Sheet{}}
}

// Old reads a file of the old tree, once.
func (s *Sheets) Old(file string, style manifest.Style) *OldFile {
	o := s.old[file]
	if o == nil {
		o = &OldFile{ID: project.None, Path: file}
		if id, there := s.tree.Lookup(file); there {
			if content, err := s.tree.Content(id); err == nil {
				if v, err := style.Parse(content); err == nil {
					o.ID, o.Src, o.Value = id, content, v
				}
			}
		}
		s.old[file] = o
	}
	return o
}

// Raw is a value as it is written.
func (o *OldFile) Raw(v *manifest.Value) string {
	at := manifest.Whole(v)
	return string(o.Src[at.Start:at.End])
}

// unit is the indentation of a level in the file.
func (o *OldFile) unit() string {
	if o.Value != nil && len(o.Value.Members) > 0 {
		if own, alone := text.Indent(o.Src, o.Value.Members[0].Start); alone && own != "" {
			return own
		}
	}
	return "  "
}

// Like gives a new text, which is indented by two blanks, the indentation and the line ends of the file.
func (o *OldFile) Like(content []byte) []byte {
	return []byte(strings.ReplaceAll(indented(string(content), "  ", o.unit()), "\n", text.Newline(o.Src)))
}

// Plain is a value as it is written in a file that is indented by two blanks.
func (o *OldFile) Plain(v *manifest.Value) string {
	return indented(strings.ReplaceAll(o.Raw(v), "\r\n", "\n"), o.unit(), "  ")
}

// indented replaces the units at the beginning of lines.
func indented(content, from, to string) string {
	var out strings.Builder
	for line := range strings.Lines(content) {
		for strings.HasPrefix(line, from) {
			line = line[len(from):]
			out.WriteString(to)
		}
		out.WriteString(line)
	}
	return out.String()
}

// Of begins to write a file of the old tree anew, or goes on with that; nil for one that can't be read.
func (s *Sheets) Of(file string, style manifest.Style) *Sheet {
	if one := s.all[file]; one != nil {
		return one
	}
	o := s.Old(file, style)
	if o.Value == nil {
		return nil
	}
	s.all[file] = &Sheet{style.Sheet(o.Src, o.Value), o.ID, s.then(o.ID)}
	return s.all[file]
}

// New begins to write a file that is not there.
func (s *Sheets) New(file string, style manifest.Style) *Sheet {
	if s.all[file] == nil {
		s.all[file] = &Sheet{style.Sheet(nil, &manifest.Value{Kind: manifest.Object}), project.None, file}
	}
	return s.all[file]
}

// Changed says whether anything is written anew.
func (s *Sheets) Changed() bool {
	for _, one := range s.all {
		if len(one.Edits) > 0 || one.ID == project.None {
			return true
		}
	}
	return false
}

// Put hands out what was written. failed is called with the files that can't be, in their order.
func (s *Sheets) Put(out *Parted, failed func(file string, err error)) {
	for _, file := range slices.Sorted(maps.Keys(s.all)) {
		switch one := s.all[file]; {
		case one.Err != nil:
			failed(file, one.Err)
		case one.ID == project.None:
			out.Writes[one.File] = one.Text
		case len(one.Edits) > 0:
			out.Edits[one.ID] = append([]source.Edit{}, one.Edits...)
		}
	}
}
