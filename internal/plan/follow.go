package plan

import (
	"path"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// follow lets files that are a part of their folder go where all other files of the folder go. What was blocked stays.
func (b *builder) follow() {
	// who followed last time follows anew: some of those that they followed may be blocked by now
	for id := range b.leads {
		delete(b.moves, id)
	}
	b.order = nil
	b.leads = map[project.FileID]project.FileID{}
	if len(b.moves) == 0 {
		return
	}
	taken := map[string]bool{}
	for _, to := range b.moves {
		taken[to] = true
	}
	for id, f := range b.tree.Files {
		id := project.FileID(id)
		_, asked := b.moves[id]
		if b.Placement.Homes[id].Leave != placement.Fixed || asked || b.blocked[id] != "" || !b.fixture(id).Follows {
			continue
		}
		lead, to, ok := b.whole(path.Dir(f.Path))
		if to = path.Join(to, path.Base(f.Path)); !ok || taken[to] {
			continue
		}
		if _, there := b.tree.Lookup(to); there { // the folder that it comes to has one of its own
			continue
		}
		b.moves[id], b.wanted[id], b.leads[id] = to, to, lead
		taken[to] = true
	}
}

// fixture says what the name of a file means to the tools of its language.
func (b *builder) fixture(id project.FileID) lang.Fixture {
	return b.Graph.Languages.Fixture(b.tree.Path(id))
}

// whole gives the folder that all files of a folder go to, with the first of them. Files that follow do not count.
func (b *builder) whole(dir string) (lead project.FileID, to string, ok bool) {
	if dir == "." {
		return 0, "", false
	}
	from, end := b.tree.Below(dir)
	for id := from; id < end; id++ {
		old := b.tree.Path(id)
		if _, follows := b.leads[id]; follows || b.fixture(id).Follows {
			continue
		}
		now, moves := b.moves[id]
		place, fits := strings.CutSuffix(now, old[len(dir):])
		if !moves || !fits || ok && place != to || place == "" || place == dir || strings.HasPrefix(place, dir+"/") {
			return 0, "", false
		}
		if !ok {
			lead, to, ok = id, place, true
		}
	}
	return lead, to, ok
}

// askedFor stands for the shelf of what somebody asks to move.
var askedFor = &convention.Shelf{}

// home is where a file belongs; of one that follows others, where those do.
func (b *builder) home(id project.FileID) placement.Home {
	if lead, follows := b.leads[id]; follows {
		id = lead
	}
	if to, asked := b.Asked[id]; asked {
		return placement.Home{Kind: placement.Misplaced, Path: to, Shelf: askedFor, Instance: path.Dir(to) + "/"}
	}
	return b.Placement.Homes[id]
}
