package plan

import (
	"errors"
	"fmt"
	"path"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// blockUnreadable takes out what can't be moved because nothing reads it.
func (b *builder) blockUnreadable() {
	for _, id := range b.moving() {
		f := b.tree.Files[id]
		node := b.Graph.Files[id]
		var scan *lang.ScanError
		switch {
		case f.Link:
			b.block(id, "it is a link, and links are not moved")
		case node.Family < 0 && !b.Inert(f.Path):
			b.block(id, fmt.Sprintf("files like %s are not read by this version, so what it refers to can't be kept right", ending(f.Path)))
		case errors.As(node.Err, &scan):
			b.block(id, "it can't be read: "+scan.Message)
		case node.Err != nil:
			b.block(id, node.Err.Error())
		case node.Family < 0: // data is moved unread, but it must be readable for the record
			if _, err := b.tree.Content(id); err != nil {
				b.block(id, err.Error())
			}
		}
	}
}

func ending(p string) string {
	if ext := path.Ext(p); ext != "" {
		return "*" + ext
	}
	return path.Base(p)
}

// fold is what file systems may take for the same name: Unicode's composed form in folded case.
func fold(p string) string { return cases.Fold().String(norm.NFC.String(p)) }

// blockPlaces takes out moves to a place that is taken or wanted twice, until the rest has a place each. Taking one out
// leaves a file where it was, which may be where another was to go.
func (b *builder) blockPlaces() {
	for {
		before := len(b.blocked)
		b.blockPlacesOnce()
		if len(b.blocked) == before {
			return
		}
	}
}

func (b *builder) blockPlacesOnce() {
	ids := b.moving()
	staying := map[string]project.FileID{}
	folders := map[string]string{} // folded folder -> its spelling, of what is there afterwards
	for id := range b.tree.Files {
		if to, moves := b.moves[project.FileID(id)]; moves {
			addFolders(folders, to)
		} else {
			p := b.tree.Path(project.FileID(id))
			staying[fold(p)] = project.FileID(id)
			addFolders(folders, p)
		}
	}
	wanted := map[string][]project.FileID{}
	for _, id := range ids {
		to := fold(b.moves[id])
		wanted[to] = append(wanted[to], id)
	}
	for _, id := range ids {
		to := b.moves[id]
		folded := fold(to)
		if other, taken := staying[folded]; taken {
			b.block(id, b.takenReason(to, b.tree.Path(other)))
			continue
		}
		if others := wanted[folded]; len(others) > 1 {
			other := others[0]
			if other == id {
				other = others[1]
			}
			reason := fmt.Sprintf("%s would go to the same place", b.tree.Path(other))
			if otherTo := b.Placement.Homes[other].Path; otherTo != to {
				reason = fmt.Sprintf("%s would go to %s, which differs in case or accents alone", b.tree.Path(other), otherTo)
			}
			b.block(id, reason)
			continue
		}
		if _, isFolder := folders[folded]; isFolder {
			b.block(id, fmt.Sprintf("a folder stands at %s", to))
			continue
		}
		for dir := path.Dir(to); dir != "."; dir = path.Dir(dir) {
			if other, taken := staying[fold(dir)]; taken {
				b.block(id, fmt.Sprintf("the file %s stands where its folder would be", b.tree.Path(other)))
				break
			}
		}
	}
}

func (b *builder) takenReason(to, other string) string {
	if to == other {
		return "a file stands there already and stays"
	}
	return fmt.Sprintf("%s stands there already and differs in case or accents alone", other)
}

func addFolders(folders map[string]string, p string) {
	for dir := path.Dir(p); dir != "."; dir = path.Dir(dir) {
		key := fold(dir)
		if _, known := folders[key]; known {
			return
		}
		folders[key] = dir
	}
}
