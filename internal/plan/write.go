package plan

import (
	"bytes"
	"cmp"
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

// written is a file that the plan writes, with the shelf and the line of the convention that require it, if that is
// what does.
type written struct {
	shelf   string
	line    int
	entry   bool // it hands on what other files export
	content []byte
}

// write fills the required files that are missing, where the convention says with what. An instance that no file would
// stand on gets none.
func (b *builder) write(d *draft) {
	hidden := d.hidden()
	for _, m := range b.Placement.Missing {
		if m.Required.Write == convention.WriteNothing || b.unwritten[m.Path] != "" || !b.settled(d, m.Instance) {
			continue
		}
		if _, taken := d.after.Tree.Lookup(m.Path); taken || d.after.Tree.IsDir(m.Path) {
			continue
		}
		if reason := hidden(m.Path); reason != "" {
			b.leaveUnwritten(m.Path, reason)
			continue
		}
		w := written{shelf: m.Shelf.Name, line: m.Required.Line}
		switch m.Required.Write {
		case convention.WriteReexports:
			content, ok := b.entry(d, m)
			if !ok {
				b.leaveUnwritten(m.Path, "nothing there exports what it could hand on")
				continue
			}
			w.content, w.entry = content, true
		case convention.WriteTemplate:
			id, there := b.tree.Lookup(m.Required.Template)
			if !there {
				b.leaveUnwritten(m.Path, fmt.Sprintf("there is no file %s to take its text from", m.Required.Template))
				continue
			}
			text, err := b.tree.Content(id)
			if err != nil {
				b.leaveUnwritten(m.Path, err.Error())
				continue
			}
			w.content = filled(text, m)
		}
		d.written[m.Path] = w
	}
}

// leaveUnwritten takes a file out of those that are written. The first reason stands.
func (b *builder) leaveUnwritten(p, reason string) {
	if b.unwritten[p] == "" {
		b.unwritten[p] = reason
		b.warn("%s is not written: %s", p, reason)
	}
}

// settled says whether a file stands in an instance afterwards.
func (b *builder) settled(d *draft, instance string) bool {
	from, to := d.after.Tree.Below(strings.TrimSuffix(instance, "/"))
	return to > from
}

// filled is a template's text with the placeholders of the instance put in. What else stands in angle brackets stays.
func filled(text []byte, m placement.MissingFile) []byte {
	captures, _ := m.Shelf.At.Match(m.Path)
	for name, value := range captures.Values {
		text = bytes.ReplaceAll(text, []byte("<"+name+">"), []byte(value))
		for _, in := range convention.Cases() {
			text = bytes.ReplaceAll(text, []byte("<"+name+"|"+in+">"), []byte(convention.Spell(value, in)))
		}
	}
	return text
}

// handed is a file that an entry hands on.
type handed struct {
	file project.FileID // in the old tree
	path string         // in the new tree
}

// entry makes the text of a re-exporting entry: it hands on the files of the instance that are used from outside, or if
// there are none, those that lie beside it and export something.
func (b *builder) entry(d *draft, m placement.MissingFile) ([]byte, bool) {
	writer := b.reexports(m.Path)
	if writer == nil {
		return nil, false
	}
	var files []handed
	languages := b.Graph.Languages
	used := b.usedFromOutside(d, m.Instance)
	for id := range b.tree.Files {
		p := d.after.Tree.Path(d.newID[id])
		beside := len(used) == 0 && path.Dir(p) == path.Dir(m.Path) && !languages.IsTest(p) && !languages.Shows(p)
		if used[project.FileID(id)] || beside {
			files = append(files, handed{project.FileID(id), p})
		}
	}
	slices.SortFunc(files, func(x, y handed) int { return cmp.Compare(x.path, y.path) })
	var lines []lang.EntryLine
	taken := map[string]bool{}
	for _, f := range files {
		outline := b.Graph.Outline(f.file)
		if outline == nil {
			continue
		}
		line := lang.EntryLine{Specifier: writer.Specifier(path.Dir(m.Path), f.path, b.endings())}
		named, conflict := []string{}, false
		for _, name := range outline.Names() {
			conflict = conflict || taken[name]
			if name == lang.DefaultName {
				stem, _, _ := strings.Cut(path.Base(f.path), ".")
				line.Default = convention.Spell(stem, "camel")
				if strings.ToUpper(stem[:1]) == stem[:1] {
					line.Default = convention.Spell(stem, "pascal")
				}
				if taken[line.Default] || slices.Contains(outline.Names(), line.Default) {
					line.Default = ""
				}
				continue
			}
			if !taken[name] {
				named = append(named, name)
			}
		}
		line.All = len(named) > 0 && !conflict || b.Graph.HandsOn(f.file)
		line.Names = named
		for _, name := range append(named, line.Default) {
			taken[name] = true
		}
		if line.All || len(line.Names) > 0 || line.Default != "" {
			lines = append(lines, line)
		}
	}
	if len(lines) == 0 {
		return nil, false
	}
	var out bytes.Buffer
	for _, line := range lines {
		writer.Line(&out, line)
	}
	return out.Bytes(), out.Len() > 0
}

// usedFromOutside are the files of an instance that files outside import by name.
func (b *builder) usedFromOutside(d *draft, instance string) map[project.FileID]bool {
	used := map[project.FileID]bool{}
	for id := range b.Graph.Files {
		if strings.HasPrefix(d.after.Tree.Path(d.newID[id]), instance) {
			continue
		}
		n := &b.Graph.Files[id]
		for i, t := range n.Targets {
			if t.Kind == lang.ToFile && n.Mentions[i].Kind.Is(lang.Imports) && strings.HasPrefix(d.after.Tree.Path(d.newID[t.File]), instance) {
				used[t.File] = true
			}
		}
	}
	return used
}

// reexports gives what writes and reads a file that re-exports; nil where the file's language can't.
func (b *builder) reexports(entry string) *lang.Reexports {
	if family := b.Graph.Languages.FamilyOf(entry); family != nil {
		return family.Reexports
	}
	return nil
}

// writesEndings says whether most relative imports in the project name the ending, where it may be left out.
func (b *builder) writesEndings() bool {
	names := func(p string) bool {
		writer := b.reexports(p)
		return writer != nil && writer.Endings
	}
	with, without := 0, 0
	for id := range b.Graph.Files {
		n := &b.Graph.Files[id]
		for i, t := range n.Targets {
			m := &n.Mentions[i]
			if t.Kind != lang.ToFile || !m.Kind.Is(lang.Brings) || !lang.IsRelative(m.Text) || !names(b.tree.Path(t.File)) {
				continue
			}
			if names(m.Text) {
				with++
			} else {
				without++
			}
		}
	}
	return with > without
}

// proveWritten makes sure that every reference of a written file leads to a file of its instance.
func (b *builder) proveWritten(d *draft) {
	for p := range d.written {
		id, there := d.after.Tree.Lookup(p)
		if !there {
			continue
		}
		for i, t := range d.after.Files[id].Targets {
			if t.Kind == lang.ToNothing && !d.after.Files[id].Mentions[i].Likely {
				b.leaveUnwritten(p, fmt.Sprintf("its %q would lead nowhere", d.after.Files[id].Mentions[i].Text))
			}
		}
	}
}

// writes lists the written files in the order of their paths.
func (d *draft) writes() []NewFile {
	out := []NewFile{}
	for p, w := range d.written {
		out = append(out, NewFile{Path: p, Content: string(w.content), Shelf: w.shelf, Line: w.line})
	}
	slices.SortFunc(out, func(x, y NewFile) int { return cmp.Compare(x.Path, y.Path) })
	return out
}

// door gives the file through which an import from outside an instance must go instead of to its target: the door of
// the instance, if it is shown to hand on every name that the import brings. Both are IDs of the new tree.
func (b *builder) door(d *draft, ref graph.Reference, to project.FileID) (project.FileID, bool) {
	m := &b.Graph.Files[ref.From].Mentions[ref.Mention]
	if !b.doors || !m.Kind.Is(lang.Imports) {
		return 0, false
	}
	p, ok := placement.Door(b.Convention, d.after.Tree.Path(d.newID[ref.From]), d.after.Tree.Path(d.newID[to]))
	if !ok {
		return 0, false
	}
	door, there := d.after.Tree.Lookup(p)
	if !there {
		return 0, false
	}
	w, isNew := d.written[p]
	bindings := b.Graph.Bindings(ref)
	for _, binding := range bindings {
		if binding.Name == lang.Everything {
			return 0, false
		}
		if isNew && !b.entryGives(w, p, binding.Name, d.after.Tree.Path(d.newID[to])) {
			return 0, false
		}
		if !isNew && !slices.Contains(b.Graph.Gives(d.oldID[door], binding.Name), to) {
			return 0, false
		}
	}
	return door, len(bindings) > 0
}

// entryGives says whether a written entry hands a name of a file on.
func (b *builder) entryGives(w written, entry, name, file string) bool {
	writer := b.reexports(entry)
	return w.entry && writer != nil && writer.Gives(w.content, writer.Specifier(path.Dir(entry), file, b.endings()), name)
}
