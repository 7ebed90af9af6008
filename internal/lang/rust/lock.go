package rust

import (
	"bytes"
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// lockName is the file that says which versions are taken.
const lockName = "Cargo.lock"

// locked is a package of a lock file.
type locked struct {
	name, version string
	needs         []string // as they are written: a name, and what it takes to tell it from others
	span          source.Span
	outside       bool // it has a source
}

// lock writes the lock file: the entries of packages that are parted give way to those of the parts. No other version
// changes, and what nobody asks for any more goes.
func (p *parting) lock(top *sheet) {
	dir := project.Dir(p.tree.Path(top.ID))
	id, there := p.tree.Lookup(path.Join(dir, lockName))
	if !there {
		return
	}
	content, err := p.tree.Content(id)
	if err != nil {
		return
	}
	all, err := readLock(content)
	if err != nil {
		p.out.Remarks = append(p.out.Remarks, lang.Duty{Path: path.Join(dir, lockName), Why: "it can't be read (" + err.Error() +
			"): cargo generate-lockfile --offline writes it anew"})
		return
	}
	byName := map[string]*locked{}
	for i := range all {
		if !all[i].outside {
			byName[all[i].name] = &all[i]
		}
	}
	gone := map[string]bool{}
	fresh := map[string][]string{}
	for _, one := range p.all {
		var old *locked
		if one.was != nil {
			old = byName[one.was.name]
		}
		switch {
		case one.empties() && old != nil && p.sheetOf(one.was.dir) == top:
			gone[one.was.name] = true
		case len(one.files) == 0 || one.from == nil || one.asked == nil && old == nil:
		default:
			fresh[one.name] = p.lockedNeeds(one, byName)
		}
	}
	var edits []source.Edit
	keep := map[string]bool{}
	reach := func(needs []string) {
		for todo := slices.Clone(needs); len(todo) > 0; {
			next := todo[0]
			todo = todo[1:]
			for i := range all {
				if e := &all[i]; e.is(next) && !keep[e.key()] {
					keep[e.key()] = true
					if fresh[e.name] == nil || e.outside {
						todo = append(todo, e.needs...)
					}
				}
			}
		}
	}
	for name := range fresh {
		reach(fresh[name])
	}
	for i := range all {
		if e := &all[i]; !e.outside && fresh[e.name] == nil && !gone[e.name] {
			keep[e.key()] = true
			reach(e.needs)
		}
	}
	newline := text.Newline(content)
	entry := func(name, version string, needs []string) string {
		out := fmt.Sprintf("[[package]]\nname = %q\nversion = %q\n", name, version)
		if len(needs) > 0 {
			out += "dependencies = [\n"
			for _, n := range needs {
				out += fmt.Sprintf(" %q,\n", n)
			}
			out += "]\n"
		}
		return strings.ReplaceAll(out+"\n", "\n", newline)
	}
	var added []string // members that it does not have
	for _, name := range slices.Sorted(maps.Keys(fresh)) {
		if old := byName[name]; old == nil {
			added = append(added, name)
		} else if !slices.Equal(old.needs, fresh[name]) {
			edits = append(edits, source.Edit{Span: old.span, New: entry(name, old.version, fresh[name])})
		}
	}
	for i := range all {
		e := &all[i]
		if gone[e.name] && !e.outside && fresh[e.name] == nil || e.outside && !keep[e.key()] {
			edits = append(edits, source.Edit{Span: e.span})
		}
	}
	for last := len(all) - 1; last >= 0; last-- { // no blank line is left at the end
		at := slices.IndexFunc(edits, func(e source.Edit) bool { return e.Span == all[last].span && e.New == "" })
		if at < 0 {
			if last < len(all)-1 && bytes.HasSuffix(content[:all[last].span.End], []byte(newline+newline)) {
				next := slices.IndexFunc(edits, func(e source.Edit) bool { return e.Span == all[last+1].span })
				edits[next].Span.Start -= len(newline)
			}
			break
		}
	}
	for i, name := range added {
		version := "0.0.0"
		one := p.all[slices.IndexFunc(p.all, func(one *parcel) bool { return one.name == name && !one.empties() })]
		if old := byName[one.from.name]; old != nil {
			version = old.version
		}
		text := entry(name, version, fresh[name])
		at := len(content)
		for k := range all {
			if all[k].name > name {
				at = all[k].span.Start
				break
			}
		}
		if at == len(content) && i == 0 && !bytes.HasSuffix(content, []byte(newline+newline)) {
			text = newline + text
		}
		if at == len(content) {
			text = strings.TrimSuffix(text, newline)
		}
		edits = append(edits, source.Edit{Span: source.Span{Start: at, End: at}, New: text})
	}
	if len(edits) > 0 {
		slices.SortStableFunc(edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
		p.out.Edits[id] = merged(edits)
	}
}

// merged joins edits that touch one another.
func merged(edits []source.Edit) (out []source.Edit) {
	for _, e := range edits {
		if n := len(out); n > 0 && out[n-1].Span.End == e.Span.Start {
			out[n-1].Span.End = e.Span.End
			out[n-1].New += e.New
			continue
		}
		out = append(out, e)
	}
	return out
}

// lockedNeeds are the needs of a package as a lock file writes them.
func (p *parting) lockedNeeds(one *parcel, byName map[string]*locked) []string {
	want := map[string]bool{}
	if one.was != nil {
		if old := byName[one.was.name]; old != nil { // what its manifest keeps
			for _, n := range old.needs {
				want[n] = true
			}
			for name := range one.had {
				if one.needs[name] == nil {
					for _, n := range p.lockName(one.was, name, byName) {
						delete(want, n)
					}
				}
			}
			for k := range one.hadInside {
				if other := p.of[k]; other == nil || one.inside[other] == nil {
					delete(want, k.name)
				}
			}
		}
	}
	for name, n := range one.needs {
		for _, text := range p.lockName(n.of, name, byName) {
			want[text] = true
		}
	}
	for other := range one.inside {
		want[other.name] = true
	}
	return slices.Sorted(maps.Keys(want))
}

// lockName is how the lock file writes the library that a manifest knows by a name: as that of the manifest's package.
func (p *parting) lockName(of *pack, name string, byName map[string]*locked) (out []string) {
	old := byName[of.name]
	if old == nil {
		return nil
	}
	for _, a := range p.original(of.dir).asked(name) {
		real := cmp.Or(textOf(a.Value, "package"), a.Key)
		if a.Value.Get("workspace") != nil && of.ws.v != nil {
			real = cmp.Or(textOf(of.ws.v.At("dependencies", a.Key), "package"), real)
		}
		for _, n := range old.needs {
			if n == real || strings.HasPrefix(n, real+" ") {
				out = append(out, n)
			}
		}
	}
	return out
}

func (e *locked) key() string { return e.name + " " + e.version }

// is says whether a need means the package.
func (e *locked) is(need string) bool {
	name, rest, _ := strings.Cut(need, " ")
	version, _, _ := strings.Cut(rest, " ")
	return name == e.name && (version == "" || version == e.version)
}

// readLock reads a lock file.
func readLock(content []byte) (out []locked, err error) {
	v, err := manifest.ParseTOML(content)
	if err != nil {
		return nil, err
	}
	var spans []source.Span
	for _, t := range manifest.Tables(content) {
		if len(t.Key) == 1 && t.Key[0] == "package" {
			spans = append(spans, t.Span)
		}
	}
	items := v.Get("package").Elements()
	if len(items) != len(spans) {
		return nil, fmt.Errorf("%d entries in %d tables", len(items), len(spans))
	}
	for i, item := range items {
		one := locked{name: textOf(item, "name"), version: textOf(item, "version"), span: spans[i],
			outside: item.Get("source") != nil}
		for _, n := range item.Get("dependencies").Elements() {
			one.needs = append(one.needs, n.Text)
		}
		out = append(out, one)
	}
	return out, nil
}
