package project

import "fmt"

// Overlay gives the tree as it would be with moves made, contents replaced and files added; the first two are by the file's
// present ID, new files by their path. The second result gives each file's ID in the new tree. Two files for one path are
// an error.
func (p *Project) Overlay(moves map[FileID]string, contents map[FileID][]byte, added map[string][]byte) (*Project, []FileID, error) {
	o := &Project{Files: make([]File, len(p.Files)), source: p.source}
	copy(o.Files, p.Files)
	origin := make(map[string]FileID, len(p.Files))
	for id := range o.Files {
		if to, ok := moves[FileID(id)]; ok {
			o.Files[id].Path = to
		}
		to := o.Files[id].Path
		if other, taken := origin[to]; taken {
			return nil, nil, fmt.Errorf("%s and %s would both be %s", p.Path(other), p.Path(FileID(id)), to)
		}
		origin[to] = FileID(id)
	}
	for to := range added {
		if other, taken := origin[to]; taken {
			return nil, nil, fmt.Errorf("%s would be where a new file is to be written", p.Path(other))
		}
		origin[to] = None
		o.Files = append(o.Files, File{Path: to})
	}
	o.build()
	o.contents = make([]content, len(o.Files))
	newID := make([]FileID, len(p.Files))
	oldID := make([]FileID, len(o.Files))
	for i := range o.Files {
		old := origin[o.Files[i].Path]
		if old == None {
			o.contents[i] = content{bytes: present(added[o.Files[i].Path])}
			continue
		}
		newID[old], oldID[i] = FileID(i), old
		if b, ok := contents[old]; ok {
			o.contents[i] = content{bytes: present(b)}
		}
	}
	o.origin = func(id FileID) ([]byte, error) { return p.Content(oldID[id]) }
	return o, newID, nil
}

// present makes bytes that are known to be there, also where there are none.
func present(b []byte) []byte {
	if b == nil {
		return []byte{}
	}
	return b
}
