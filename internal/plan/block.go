package plan

import (
	"errors"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/parallel"
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
		case errors.As(node.Err, &scan) && !scan.Harmless:
			b.block(id, "it can't be read: "+scan.Message)
		case node.Err != nil && scan == nil:
			b.block(id, node.Err.Error())
		case node.Family < 0: // data is moved unread, but it must be readable for the record
			if _, err := b.tree.Content(id); err != nil {
				b.block(id, err.Error())
			}
		}
	}
}

// covered says whether the convention states how files at a path are named, so that they may move unread.
func (b *builder) covered(p string) bool {
	return slices.ContainsFunc(b.Convention.Mentions, func(m *convention.Mention) bool {
		if m.File == nil || m.NoPath || strings.HasPrefix(m.File.Text, "<") {
			return false
		}
		_, ok := m.File.Match(p)
		return ok
	})
}

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
				b.block(id, fmt.Sprintf("it would be renamed, and it is loaded by its name (line %d of the convention)", m.Line))
			}
		}
		for _, t := range b.Convention.Stored {
			if _, ok := t.Match(to); ok && !b.AllowStored && !strings.HasSuffix("/"+from, "/"+to[len(t.Head()):]) {
				b.block(id, fmt.Sprintf("what is stored elsewhere remembers it by %s (line %d of the convention); --allow-stored lets it", to[len(t.Head()):], t.Line))
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
			owner := b.Placement.Homes[id].Owner
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
			owner := b.Placement.Homes[id].Owner
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

// blockUnseen takes out moves to where git would no longer see the file. It reports whether there are some.
func (b *builder) blockUnseen(d *draft) bool {
	hidden, before := d.hidden(), len(b.blocked)
	for _, id := range b.moving() {
		if reason := hidden(d.after.Tree.Path(d.newID[id])); reason != "" {
			b.block(id, reason)
		}
	}
	return len(b.blocked) > before
}

// hidden says why git would not see a file at a place, if it would not.
func (d *draft) hidden() func(place string) string {
	ignoring := d.after.Tree.Ignoring()
	return func(place string) string {
		if !project.CleanPath(place) {
			return fmt.Sprintf("%s belongs to git, or to crooked itself", place)
		}
		by, ignored := ignoring(place)
		if !ignored {
			return ""
		}
		if by == "" {
			by = "an ignore file outside of the project"
		}
		return fmt.Sprintf("git would ignore it at %s, by %s: it would be lost from sight", place, by)
	}
}

// blockUnexplained takes out what an import may mean that leads nowhere and by a name that nobody explains: an alias is
// in force that was not found, and its imports would not follow.
func (b *builder) blockUnexplained() {
	var ends map[string][]project.FileID // what moves, by its last segment without endings
	for id := range b.Graph.Files {
		n := &b.Graph.Files[id]
		for i := range n.Mentions {
			m := &n.Mentions[i]
			if n.Targets[i].Kind != lang.ToNothing || m.Likely || !m.Kind.Is(lang.ByName) || lang.IsRelative(m.Text) || strings.HasPrefix(m.Text, "/") {
				continue
			}
			if ends == nil {
				ends = map[string][]project.FileID{}
				for _, moving := range b.moving() {
					p := withoutEndings(b.tree.Path(moving))
					if path.Base(p) == "index" {
						ends[path.Base(path.Dir(p))] = append(ends[path.Base(path.Dir(p))], moving)
					}
					ends[path.Base(p)] = append(ends[path.Base(p)], moving)
				}
			}
			head, rest, deeper := strings.Cut(m.Text, "/")
			if !deeper || rest == "" {
				continue
			}
			whole := withoutEndings(rest)
			if !strings.ContainsAny(head[:1], "@~#$") { // the first segment may be that of a folder
				whole = withoutEndings(m.Text)
			}
			for _, moving := range ends[path.Base(whole)] {
				if p := "/" + withoutEndings(b.tree.Path(moving)); strings.HasSuffix(p, "/"+whole) || strings.HasSuffix(p, "/"+whole+"/index") {
					b.block(moving, fmt.Sprintf("%s:%s imports %q, which may mean it, and no alias, package or file explains that; say in the convention what stands for what: aliases: { %q: … }",
						b.tree.Path(project.FileID(id)), b.Graph.Position(graph.Reference{From: project.FileID(id), Mention: i}), m.Text, head+"/*"))
				}
			}
		}
	}
}

// withoutEndings is a path without what follows the first dot of its last segment.
func withoutEndings(p string) string {
	base := p[strings.LastIndexByte(p, '/')+1:]
	if dot := strings.IndexByte(base, '.'); dot > 0 {
		return p[:len(p)-len(base)+dot]
	}
	return p
}

// blockUnread takes out files of kinds that nothing reads, where a path in them would no longer lead where it leads. It
// reports whether there are some.
func (b *builder) blockUnread(d *draft) bool {
	before := len(b.blocked)
	now := func(old string) string {
		if id, ok := b.tree.Lookup(old); ok {
			return d.after.Tree.Path(d.newID[id])
		}
		return d.moved.folder(old).to
	}
	for _, id := range b.moving() {
		p := b.tree.Path(id)
		if b.Graph.Files[id].Family >= 0 || b.Graph.Languages.Inert(p) || b.covered(b.moves[id]) || slices.ContainsFunc(b.Convention.Data, func(t *convention.Template) bool { _, is := t.Match(path.Base(p)); return is }) {
			continue
		}
		content, err := b.tree.Content(id)
		if err != nil {
			b.block(id, err.Error())
			continue
		}
		unread := leftover.Unread{Content: content, From: p, To: b.moves[id]}
		if text, line, loses := unread.Loses(b.tree, now); loses {
			b.block(id, fmt.Sprintf("files like %s are not read by this version, and %q in line %d leads to something from its folder that it would not lead to from the new one; if it is no path, say data: [%q]", ending(p), text, line, ending(p)))
		}
	}
	return len(b.blocked) > before
}

func ending(p string) string {
	if ext := path.Ext(p); ext != "" {
		return "*" + ext
	}
	return path.Base(p)
}

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
	folds := make([]string, len(b.tree.Files)) // of the path of each file afterwards
	parallel.Do(len(folds), func(i int) {
		p, moves := b.moves[project.FileID(i)]
		if !moves {
			p = b.tree.Path(project.FileID(i))
		}
		folds[i] = project.Fold(p)
	})
	staying := make(map[string]project.FileID, len(folds)-len(ids))
	folders := map[string]bool{} // folded, of what is there afterwards
	for id, folded := range folds {
		if _, moves := b.moves[project.FileID(id)]; !moves {
			staying[folded] = project.FileID(id)
		}
		for dir := project.Dir(folded); dir != "." && !folders[dir]; dir = project.Dir(dir) {
			folders[dir] = true
		}
	}
	wanted := make(map[string][2]project.FileID, len(ids)) // the first two
	for _, id := range ids {
		if first, two := wanted[folds[id]]; !two {
			wanted[folds[id]] = [2]project.FileID{id, project.None}
		} else if first[1] == project.None {
			wanted[folds[id]] = [2]project.FileID{first[0], id}
		}
	}
	for _, id := range ids {
		to, folded := b.moves[id], folds[id]
		if other, taken := staying[folded]; taken {
			b.block(id, b.takenReason(to, b.tree.Path(other)))
			continue
		}
		if others := wanted[folded]; others[1] != project.None {
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
		if folders[folded] {
			b.block(id, fmt.Sprintf("a folder stands at %s", to))
			continue
		}
		for dir := project.Dir(folded); dir != "."; dir = project.Dir(dir) {
			if other, taken := staying[dir]; taken {
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
