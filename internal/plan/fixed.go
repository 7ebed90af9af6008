package plan

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// follow lets files that are a part of their folder go where all other files of the folder go. What was blocked stays.
func (b *builder) follow() {
	for id := range b.leads {
		delete(b.moves, id)
	}
	b.order, b.come = nil, nil
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
		if _, there := b.tree.Lookup(to); there {
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

// home is where a file belongs; of one that follows others, where those do.
func (b *builder) home(id project.FileID) placement.Home {
	if lead, follows := b.leads[id]; follows {
		id = lead
	}
	return b.Placement.Homes[id]
}

// packageFiles adds the files without which the language would not find what has moved.
func (b *builder) packageFiles(d *draft) {
	for _, rules := range d.after.Rules() {
		if rules.PackageFiles == nil {
			continue
		}
		for _, p := range rules.PackageFiles(b.Graph.Counterpart(&rules), d.moves()) {
			if _, required := d.written[p]; !required && b.unwritten[p] == "" {
				d.written[p] = written{}
			}
		}
	}
}

// blockFixed takes out what would leave a place that a tool fixes, or would be another thing in it. Where settings move
// the place along, it is the same in the new tree. It reports whether there are some.
func (b *builder) blockFixed(d *draft) bool {
	count := len(b.blocked)
	for _, id := range b.moving() {
		from, to := b.tree.Path(id), b.moves[id]
		for _, rules := range b.Graph.Rules() {
			if rules.Place == nil {
				continue
			}
			was, fixed := rules.Place(from)
			if !fixed || was.Public && (b.AllowAddresses || b.speaksOfAddress(from)) {
				continue
			}
			is, still := d.after.Counterpart(&rules).Place(to)
			switch {
			case still && is.By == was.By && is.Why == was.Why && is.Rest == was.Rest:
			case was.Stored && (b.AllowStored || b.storedByConvention(from, to)):
			case was.Stored:
				b.blockBelow(path.Dir(was.Folder), storedReason(was, is, still)) // the application as a whole: a part of it would be another one
			case b.AllowAddresses && still && is.By == was.By && is.Why == was.Why || b.speaksOfAddress(from):
			default:
				b.block(id, fixedReason(was, still && is.By == was.By && is.Why == was.Why))
			}
		}
	}
	return len(b.blocked) > count
}

// speaksOfAddress says whether the convention says which addresses the files of a folder have.
func (b *builder) speaksOfAddress(p string) bool {
	_, has := address(b.Convention.Public, p, false)
	return has
}

// storedByConvention says whether the convention speaks of a file as stored, and judges it by that.
func (b *builder) storedByConvention(from, to string) bool {
	return slices.ContainsFunc(b.Convention.Stored, func(t *convention.Template) bool {
		_, then := t.Match(to)
		_, now := t.Match(from)
		return then || now
	})
}

func storedReason(was, is lang.Place, still bool) string {
	now := "by nothing any more"
	if still {
		now = "by " + is.By
	}
	return fmt.Sprintf("each file of its kind in %s %s, by %s, and then %s: what is stored would be lost from sight; --allow-stored lets it", was.Folder, was.Why, was.By, now)
}

func fixedReason(p lang.Place, within bool) string {
	by := p.By
	if p.Package != "" {
		by += fmt.Sprintf(" (the package %s is listed)", p.Package)
	}
	reason := fmt.Sprintf("each file of its kind in %s %s, by %s", p.Folder, p.Why, by)
	switch {
	case within:
		return reason + ", and it would be another one; --allow-addresses lets it"
	case p.Setting != "":
		return reason + "; the setting " + p.Setting + " would have to move with it"
	}
	return reason + ", and no setting moves that"
}

// owed makes the edits by which those who build the project find what has moved. It reports whether moves are blocked
// for want of one.
func (b *builder) owed(d *draft) bool {
	before := len(b.blocked)
	for _, rules := range d.after.Rules() {
		if rules.Owes == nil {
			continue
		}
		for _, duty := range rules.Owes(b.Graph.Counterpart(&rules), d.moves()) {
			id, _ := b.tree.Lookup(duty.Path)
			why := duty.Why
			if leave := b.Placement.Homes[id].Leave; len(duty.Edits) > 0 && leave == placement.Untouched {
				why = fmt.Sprintf("%s would have to say %s and is left alone", duty.Path, duty.Why)
			} else {
				for _, edit := range duty.Edits {
					d.edits[id] = append(d.edits[id], change{edit: edit, mention: -1, kind: duty.Why, target: lang.No(lang.ToNothing)})
				}
			}
			for _, lost := range duty.Lost {
				if file, ok := b.tree.Lookup(lost); ok {
					b.block(file, why)
				}
			}
			sortChanges(d.edits[id])
		}
	}
	return len(b.blocked) > before
}

func (b *builder) moved() []lang.Moved {
	var out []lang.Moved
	for _, id := range b.moving() {
		out = append(out, lang.Moved{From: b.tree.Path(id), To: b.moves[id]})
	}
	return out
}

// removed lists the files that only marked a folder out of which everything has gone.
func (b *builder) removed(d *draft) []Fingerprint {
	out := []Fingerprint{}
	if d.after == nil || len(b.moves) == 0 {
		return out
	}
	var used [][]graph.Reference
	for id, f := range b.tree.Files {
		id := project.FileID(id)
		_, moves := b.moves[id]
		if moves || !b.fixture(id).Marks || b.Placement.Homes[id].Leave != placement.Fixed || !b.emptied(d, path.Dir(f.Path)) {
			continue
		}
		content, err := b.tree.Content(id)
		if err != nil || !blank(content) {
			continue
		}
		if used == nil {
			used = d.after.References()
		}
		if len(used[d.newID[id]]) == 0 {
			out = append(out, Fingerprint{Path: f.Path})
		}
	}
	return out
}

// emptied says whether files have left a folder and nothing but marks is below it.
func (b *builder) emptied(d *draft, dir string) bool {
	from, to := b.tree.Below(dir)
	left := false
	for id := from; id < to; id++ {
		_, moves := b.moves[id]
		left = left || moves
	}
	if !left || dir == "." {
		return false
	}
	from, to = d.after.Tree.Below(dir)
	for id := from; id < to; id++ {
		if d.isWritten(d.after.Tree.Path(id)) || !b.fixture(d.oldID[id]).Marks {
			return false
		}
	}
	return true
}

// blank says whether a text holds nothing but comments.
func blank(content []byte) bool {
	for line := range bytes.Lines(content) {
		if line = bytes.TrimSpace(line); len(line) > 0 && line[0] != '#' {
			return false
		}
	}
	return true
}
