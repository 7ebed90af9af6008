package plan

import (
	"bytes"
	"cmp"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// write fills the required files that are missing, where the convention says with what. An instance that no file would
// stand on gets none.
func (b *builder) write() map[string]carry.Written {
	out := map[string]carry.Written{}
	b.missing = map[string]placement.MissingFile{}
	if b.Asked != nil {
		return out
	}
	var stand map[string]bool
	if len(b.Placement.Missing) > 0 {
		stand = b.folders()
	}
	for _, m := range b.Placement.Missing {
		// an instance that nobody comes to would be a folder with nothing in it but what is required
		if m.Required.Write == convention.WriteNothing || b.unwritten[m.Path] ||
			!stand[strings.TrimSuffix(m.Instance, "/")] {
			continue
		}
		var w carry.Written
		switch m.Required.Write {
		case convention.WriteReexports:
			content, ok := b.entry(m)
			if !ok {
				b.leaveUnwritten(m.Path, "nothing there exports what it could re-export")
				continue
			}
			w.Content, w.Entry = content, true
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
			w.Content = filled(text, m)
		}
		out[m.Path], b.missing[m.Path] = w, m
	}
	return out
}

// leaveUnwritten takes a file out of those that are written. The first reason stands.
func (b *builder) leaveUnwritten(p, reason string) {
	if !b.unwritten[p] {
		b.unwritten[p] = true
		b.warn("%s is not written: %s", p, reason)
	}
}

// now is the path of a file after the moves.
func (b *builder) now(id project.FileID) string {
	if to, moves := b.moves[id]; moves {
		return to
	}
	return b.tree.Path(id)
}

// folders are those in which something stands after the moves.
func (b *builder) folders() map[string]bool {
	out := map[string]bool{".": true}
	for id := range b.tree.Files {
		for dir := project.Dir(b.now(project.FileID(id))); !out[dir]; dir = project.Dir(dir) {
			out[dir] = true
		}
	}
	return out
}

// filled is a template's text with the placeholders of the instance put in.
func filled(text []byte, m placement.MissingFile) []byte {
	captures, _ := m.Shelf.At.Match(m.Path)
	return Filled(text, captures.Values)
}

// Filled is a text with values put in for placeholders. What else stands in angle brackets stays.
func Filled(text []byte, values map[string]string) []byte {
	return placeholder.ReplaceAllFunc(text, func(found []byte) []byte {
		name, in, _ := strings.Cut(string(found[1:len(found)-1]), "|")
		value, known := values[name]
		if !known || !template.IsCase(in) {
			return found
		}
		return []byte(template.InCase(value, in))
	})
}

// placeholder is a name in angle brackets, with the cases in which it is written.
var placeholder = regexp.MustCompile(`<[\w.-]+(?:\|[a-z]+)*>`)

// handed is a file that an entry re-exports.
type handed struct {
	file project.FileID // in the old tree
	path string         // in the new tree
}

// entry makes the text of a re-exporting entry: it re-exports the files of the instance that are used from outside, or
// if there are none, those that lie beside it and export something.
func (b *builder) entry(m placement.MissingFile) ([]byte, bool) {
	writer := b.Graph.Languages.Reexports(m.Path)
	if writer == nil {
		return nil, false
	}
	var files []handed
	languages := b.Graph.Languages
	used := b.usedFromOutside(m.Instance)
	for id := range b.tree.Files {
		p := b.now(project.FileID(id))
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
		line := lang.EntryLine{Specifier: writer.Specifier(path.Dir(m.Path), f.path, b.Graph.WritesEndings())}
		named, conflict := []string{}, false
		for _, name := range outline.Names() {
			conflict = conflict || taken[name]
			if name == lang.DefaultName {
				stem, _, _ := strings.Cut(path.Base(f.path), ".")
				line.Default = template.InCase(stem, "camel")
				if strings.ToUpper(stem[:1]) == stem[:1] {
					line.Default = template.InCase(stem, "pascal")
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
func (b *builder) usedFromOutside(instance string) map[project.FileID]bool {
	used := map[project.FileID]bool{}
	for id := range b.Graph.Files {
		if strings.HasPrefix(b.now(project.FileID(id)), instance) {
			continue
		}
		n := &b.Graph.Files[id]
		for i, t := range n.Targets {
			if t.Kind == lang.ToFile && n.Mentions[i].Kind.Is(lang.Imports) &&
				strings.HasPrefix(b.now(t.File), instance) {
				used[t.File] = true
			}
		}
	}
	return used
}

// writes lists the written files in the order of their paths.
func (b *builder) writes(d *carry.Draft) []NewFile {
	out := []NewFile{}
	for p, w := range d.Writes {
		file := NewFile{Path: p, Content: string(w.Content)}
		if m, required := b.missing[p]; required {
			file.Shelf, file.Line = m.Shelf.Name, m.Required.Line
		}
		out = append(out, file)
	}
	slices.SortFunc(out, func(x, y NewFile) int { return cmp.Compare(x.Path, y.Path) })
	return out
}
