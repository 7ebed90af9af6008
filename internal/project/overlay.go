package project

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync/atomic"

	"crookedshelf/internal/source"
)

// under is what an overlay is laid over.
type under struct {
	tree  *Project
	ids   []FileID                 // of each file of the overlay in that tree; None for one that is added
	edits map[FileID][]source.Edit // by the ID in the overlay
}

func (u *under) read(buf []byte, id FileID) ([]byte, error) {
	content, err := u.tree.Content(u.ids[id])
	if edits := u.edits[id]; err == nil && edits != nil {
		return source.ApplyInto(buf, content, edits)
	}
	return content, err
}

// IsOverlay says whether the tree is laid over another. What it edits is put together anew whenever it is asked for,
// unless it is kept.
func (p *Project) IsOverlay() bool { return p.under != nil }

// Overlay gives the tree as it would be with moves and edits made and files added; the first two are by the file's
// present ID, new files by their path. The second result gives each file's ID in the new tree. Two files for one path
// are an error, and edits that do not fit.
func (p *Project) Overlay(moves map[FileID]string, edits map[FileID][]source.Edit, added map[string][]byte) (*Project,
	[]FileID, error) {
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
	oldID, newID := make([]FileID, n), make([]FileID, len(p.Files))
	o := &Project{
		Files: make([]File, n), source: p.source, outer: p.outer, own: p.own, contents: make([]content, n),
		since: make([]atomic.Int64, n),
		under: &under{tree: p, ids: oldID, edits: make(map[FileID][]source.Edit, len(edits))},
	}
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
	}
	if err := o.under.edit(edits, newID); err != nil {
		return nil, nil, err
	}
	o.indexFiles()
	return o, newID, nil
}

// Edited gives an overlay with other edits, by the files' IDs in the tree that it is laid over; newID has those in the
// overlay.
func (p *Project) Edited(edits map[FileID][]source.Edit, newID []FileID) (*Project, error) {
	o := &Project{Files: p.Files, index: p.index, dirs: p.dirs, source: p.source, outer: p.outer, own: p.own,
		contents: make([]content, len(p.Files)), since: make([]atomic.Int64, len(p.Files))}
	for id, old := range p.under.ids {
		if old == None {
			o.contents[id].bytes = p.contents[id].bytes
		}
	}
	o.under = &under{tree: p.under.tree, ids: p.under.ids, edits: make(map[FileID][]source.Edit, len(edits))}
	return o, o.under.edit(edits, newID)
}

// edit lays edits over the tree, by the files' IDs in it. Those that do not fit are an error: that of the first file.
func (u *under) edit(edits map[FileID][]source.Edit, newID []FileID) error {
	for _, id := range slices.Sorted(maps.Keys(edits)) {
		if len(edits[id]) == 0 {
			continue
		}
		content, err := u.tree.Content(id)
		if err == nil {
			err = source.Fit(content, edits[id])
		}
		if err != nil {
			return fmt.Errorf("%s can't be edited: %w", u.tree.Path(id), err)
		}
		u.edits[newID[id]] = edits[id]
	}
	return nil
}

// arrival is a file of the new tree, with its ID in the old one; None for one that is added.
type arrival struct {
	File
	old FileID
}

// conflict reports two files for one path.
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

// Origin gives the tree that this one is laid over, and the file's ID in it: None for a file that is new. It is nil for
// a tree that is laid over nothing.
func (p *Project) Origin(id FileID) (under *Project, old FileID) {
	if p.under == nil {
		return nil, None
	}
	return p.under.tree, p.under.ids[id]
}

// Before gives the path that a file had in the project below: the one that it has, if there is none below or it is new.
func (p *Project) Before(id FileID) string {
	if under, old := p.Origin(id); under != nil && old != None {
		return under.Path(old)
	}
	return p.Path(id)
}

// Came gives the ID that a file of the tree that this one is laid over has here; false for one that is not here any
// more.
func (p *Project) Came(old FileID) (id FileID, here bool) {
	p.cameOnce.Do(func() {
		p.came = map[FileID]FileID{}
		for id := range p.Files {
			if _, was := p.Origin(FileID(id)); was != None {
				p.came[was] = FileID(id)
			}
		}
	})
	id, here = p.came[old]
	return id, here
}
