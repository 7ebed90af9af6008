package project

import (
	"fmt"
	"slices"
	"strings"
)

// Overlay gives the tree as it would be with moves made, contents replaced and files added; the first two are by the file's
// present ID, new files by their path. The second result gives each file's ID in the new tree. Two files for one path are
// an error.
func (p *Project) Overlay(moves map[FileID]string, contents map[FileID][]byte, added map[string][]byte) (*Project, []FileID, error) {
	staying, coming := make([]arrival, 0, len(p.Files)), make([]arrival, 0, len(moves)+len(added))
	for id, f := range p.Files {
		if to, ok := moves[FileID(id)]; ok {
			coming = append(coming, arrival{File{Path: to, Link: f.Link}, FileID(id)})
		} else {
			staying = append(staying, arrival{f, FileID(id)})
		}
	}
	for to := range added {
		coming = append(coming, arrival{File{Path: to}, None})
	}
	slices.SortFunc(coming, func(a, b arrival) int { return strings.Compare(a.Path, b.Path) })

	n := len(staying) + len(coming)
	o := &Project{Files: make([]File, n), source: p.source, outer: p.outer, contents: make([]content, n)}
	newID, oldID := make([]FileID, len(p.Files)), make([]FileID, n)
	for i := range n { // both are in order, and are merged
		from := &staying
		if len(staying) == 0 || len(coming) > 0 && coming[0].Path < staying[0].Path {
			from = &coming
		}
		f := (*from)[0]
		*from = (*from)[1:]
		if i > 0 && o.Files[i-1].Path == f.Path {
			return nil, nil, p.conflict(oldID[i-1], f.old, f.Path)
		}
		o.Files[i], oldID[i] = f.File, f.old
		if f.old == None {
			o.contents[i].bytes = present(added[f.Path])
			continue
		}
		newID[f.old] = FileID(i)
		if b, ok := contents[f.old]; ok {
			o.contents[i].bytes = present(b)
		}
	}
	o.indexFiles()
	o.origin = func(id FileID) ([]byte, error) { return p.Content(oldID[id]) }
	return o, newID, nil
}

// arrival is a file of the new tree, with its ID in the old one; None for one that is added.
type arrival struct {
	File
	old FileID
}

// conflict tells of two files for one path.
func (p *Project) conflict(a, b FileID, path string) error {
	a, b = min(a, b), max(a, b)
	if a == None {
		return fmt.Errorf("%s would be where a new file is to be written", p.Path(b))
	}
	return fmt.Errorf("%s and %s would both be %s", p.Path(a), p.Path(b), path)
}

// present makes bytes that are known to be there, also where there are none.
func present(b []byte) []byte {
	if b == nil {
		return []byte{}
	}
	return b
}
