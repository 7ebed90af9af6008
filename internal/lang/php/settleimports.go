package php

import (
	"bytes"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file writes the imports of a block.

// writeImports writes what becomes of the imports of a block, and those that are added.
func (b *blockSettler) writeImports() {
	var lines []imports.Line
	become := map[int]imports.Become{}
	byStatement := map[int][]*written{}
	for i := range b.imports {
		byStatement[b.imports[i].statement] = append(byStatement[b.imports[i].statement], &b.imports[i])
	}
	for _, n := range slices.Sorted(maps.Keys(byStatement)) {
		list := byStatement[n]
		one := list[0]
		_, alone := text.Indent(b.Content, one.stands.Start)
		end := lineBehind(b.Content, one.stands.End)
		simple := one.only && one.group == "" && alone && end > one.stands.End
		line := imports.Line{Key: order(one.space, b.statement(one, one.name, one.alias)), Text: one.stands,
			Line: source.Span{Start: text.LineStart(b.Content, one.stands.Start), End: max(end, one.stands.End)},
			Held: !simple}
		lines = append(lines, line)
		if !simple {
			b.writeList(list)
			continue
		}
		if one.removed {
			become[len(lines)-1] = imports.Become{Removed: true}
		} else if one.goal != one.name || one.calls != one.alias {
			now := b.statement(one, one.goal, one.calls)
			edits := []source.Edit{{Span: one.at, New: b.rooted(one, one.goal)}}
			if one.calls != one.alias || !one.explicit && one.calls != short(one.goal) {
				edits = []source.Edit{{Span: one.stands, New: now}}
			}
			become[len(lines)-1] = imports.Become{Key: order(one.space, now), Text: now, Edits: edits}
		}
	}
	// lists are written by those who know how lists are kept sorted; what shares its line, or stands in a group, is
	// written in its place above
	groups := imports.Groups(lines)
	if len(groups) == 0 {
		b.insertImports(lines)
		return
	}
	for g, group := range groups {
		var added []imports.New
		if g == len(groups)-1 {
			added = b.added
		}
		indent, _ := text.Indent(b.Content, lines[group[0]].Text.Start)
		for _, e := range imports.Write(b.Content, lines, group, become, added, string(indent)) {
			b.Edit(e.Span, e.New)
		}
	}
}

// order is the key by which imports are sorted: classes, then functions, then constants, by their names. In these a \
// counts as the end of a word.
func order(s space, statement string) string {
	name := strings.TrimSuffix(statement[strings.LastIndexByte(strings.TrimSuffix(statement, ";"), ' ')+1:], ";")
	if at := strings.Index(statement, " as "); at >= 0 {
		name = statement[strings.LastIndexByte(statement[:at], ' ')+1 : at]
	}
	return string('0'+byte(s)) + strings.ReplaceAll(strings.TrimPrefix(name, `\`), `\`, " ")
}

// rooted is the name of an import as it is written, with the \ in front that it had.
func (b *blockSettler) rooted(one *written, name string) string {
	if b.Content[one.at.Start] == '\\' {
		return `\` + name
	}
	return name
}

// statement is an import as a statement of its own.
func (b *blockSettler) statement(one *written, name, calls string) string {
	word := "use "
	switch one.space {
	case function:
		word = "use function "
	case constant:
		word = "use const "
	}
	out := word + b.rooted(one, name)
	if calls != short(name) {
		out += " as " + calls
	}
	return out + ";"
}

// writeList writes a statement that imports several names: name by name while they share what stands before the brace,
// else as one statement for each.
func (b *blockSettler) writeList(list []*written) {
	changed, parts := false, false
	for _, w := range list {
		same := w.goal == w.name && w.calls == w.alias && !w.removed
		changed = changed || !same
		_, in := cutFold(w.goal, w.group)
		parts = parts || w.removed || w.group != "" && !in || !w.explicit && w.calls != short(w.goal) || w.calls != w.alias
	}
	if !changed {
		return
	}
	if !parts {
		for _, w := range list {
			b.Edit(w.at, b.rooted(w, w.goal[len(w.group):]))
		}
		return
	}
	indent, _ := text.Indent(b.Content, list[0].stands.Start)
	var out []string
	for _, w := range list {
		if !w.removed {
			out = append(out, b.statement(w, w.goal, w.calls))
		}
	}
	if len(out) == 0 {
		b.Edit(source.Span{Start: text.LineStart(b.Content, list[0].stands.Start),
			End: max(lineBehind(b.Content, list[0].stands.End), list[0].stands.End)}, "")
		return
	}
	b.Edit(list[0].stands, strings.Join(out, "\n"+string(indent)))
}

// insertImports writes imports where the block has no list of them: behind the last one, or below its namespace.
func (b *blockSettler) insertImports(lines []imports.Line) {
	if len(b.added) == 0 {
		return
	}
	imports.Sort(b.added)
	at, indent := b.was.after, ""
	if b.was.braced { // as what stands in the block
		rest := len(b.Content[at:]) - len(bytes.TrimLeft(b.Content[at:], " \t\r\n"))
		before, _ := text.Indent(b.Content, min(at+rest, len(b.Content)))
		indent = string(before)
	}
	var out strings.Builder
	for _, one := range b.added {
		out.WriteString(indent + one.Text + "\n")
	}
	added := out.String()
	if n := len(lines); n > 0 {
		at = lines[n-1].Line.End
	} else {
		if at > 0 && b.Content[at-1] != '\n' {
			added = "\n" + added
		}
		switch {
		case at < len(b.Content) && (b.Content[at] == '\n' || b.Content[at] == '\r'):
			added = "\n" + added
		case b.was.braced:
			added += "\n"
		default:
			added = "\n" + added + "\n"
		}
	}
	b.Edit(source.Span{Start: at, End: at}, added)
}
