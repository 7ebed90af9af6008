package plan

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// blockNames takes out what may not be renamed or readdressed: files that are loaded by a name built at run time, and
// files whose address would change.
func (b *builder) blockNames() {
	for _, id := range b.moving() {
		from, to := b.tree.Path(id), b.moves[id]
		for _, m := range b.Convention.Mentions {
			if !m.ByName || path.Base(from) == path.Base(to) {
				continue
			}
			if _, ok := m.File.Match(to); ok {
				b.block(id, fmt.Sprintf("it would be renamed, and it is loaded by its name (line %d of the convention)",
					m.Line))
			}
		}
		for _, t := range b.Convention.Stored {
			if _, ok := t.Match(to); ok && !b.AllowStored && !strings.HasSuffix("/"+from, "/"+to[len(t.Head()):]) {
				b.block(id,
					fmt.Sprintf("what is stored elsewhere remembers it by %s (line %d of the convention); "+
						"--allow-stored lets it", to[len(t.Head()):], t.Line))
			}
		}
		if b.AllowAddresses {
			continue
		}
		before, had := address(b.Convention.Public, from, false)
		if after, has := address(b.Convention.Public, to, true); had && (!has || before != after) {
			if !has {
				after = "none"
			}
			b.block(id, fmt.Sprintf("its address %s would become %s; --allow-addresses lets it", before, after))
		}
	}
}

// address gives the address of a file: that of the deepest public folder that it lies in. A route has no ending, and an
// index is its folder's route.
func address(public []convention.Public, p string, after bool) (string, bool) {
	best, depth := "", -1
	for _, pub := range public {
		folder := pub.Folder.Now
		if after {
			folder = pub.Folder.Then
		}
		rest, ok := strings.CutPrefix(p, folder+"/")
		if folder == "." {
			rest, ok = p, true
		}
		if !ok || len(folder) <= depth {
			continue
		}
		if pub.Routes {
			rest = strings.TrimSuffix(rest, path.Ext(rest))
			if rest == "index" {
				rest = ""
			}
			rest = strings.TrimSuffix(rest, "/index")
		}
		best, depth = pub.At+rest, len(folder)
	}
	return best, depth >= 0
}

// blockCompanions takes out the companions of a file that is blocked, and the file of which a companion is blocked.
func (b *builder) blockCompanions() {
	for again := true; again; {
		again = false
		for _, id := range b.moving() {
			owner := b.owner(id)
			if owner == project.None {
				continue
			}
			_, blocked := b.blocked[owner]
			if _, moves := b.moves[owner]; !moves && blocked {
				b.block(id, fmt.Sprintf("it goes with %s, which is blocked", b.tree.Path(owner)))
				again = true
			}
		}
		for _, id := range slices.Sorted(maps.Keys(b.blocked)) {
			owner := b.owner(id)
			if owner == project.None {
				continue
			}
			if _, moves := b.moves[owner]; moves {
				b.block(owner, fmt.Sprintf("%s goes with it and is blocked", b.tree.Path(id)))
				again = true
			}
		}
	}
}

// owner is the file that another goes with: by the convention, or since somebody asks for both.
func (b *builder) owner(id project.FileID) project.FileID {
	if with, asked := b.With[id]; asked {
		return with
	}
	return b.Placement.Homes[id].Owner
}

// blockTogether takes out the moves to shelves that move at once with a shelf of which a move is blocked.
func (b *builder) blockTogether() {
	b.blockCompanions()
	for _, group := range b.Convention.AtOnce {
		reason := ""
		for _, id := range slices.Sorted(maps.Keys(b.blocked)) {
			if h := b.Placement.Homes[id]; h.Shelf != nil && slices.Contains(group, h.Shelf.Name) {
				reason = fmt.Sprintf("it moves at once with %s, which is blocked", b.tree.Path(id))
				break
			}
		}
		if reason == "" {
			continue
		}
		for _, id := range b.moving() {
			if slices.Contains(group, b.home(id).Shelf.Name) {
				b.block(id, reason)
			}
		}
	}
}
