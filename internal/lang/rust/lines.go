package rust

import (
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// lines are the edits of one file.
type lines struct {
	edits []source.Edit
	taken map[int]bool // the lines that go, by where they begin
}

func (o *owing) fileLines(p string) *lines {
	if o.edits[p] == nil {
		o.edits[p] = &lines{taken: map[int]bool{}}
	}
	return o.edits[p]
}

// add adds an edit, once.
func (l *lines) add(e source.Edit) {
	if !slices.Contains(l.edits, e) {
		l.edits = append(l.edits, e)
	}
}

// remove takes a line out, and the blank line that would be left beside another.
func (l *lines) remove(src []byte, line *modLine) {
	if l.taken[line.whole.Start] {
		return
	}
	l.taken[line.whole.Start] = true
	from, to := line.whole.Start, line.whole.End
	for from > 0 && (src[from-1] == ' ' || src[from-1] == '\t') {
		from--
	}
	end := to
	for end < len(src) && (src[end] == ' ' || src[end] == '\t' || src[end] == '\r') {
		end++
	}
	if alone := from == 0 || src[from-1] == '\n'; alone && (end == len(src) || src[end] == '\n') {
		to = min(end+1, len(src))
		if (from == 0 || from > 1 && src[from-2] == '\n') && to < len(src) && src[to] == '\n' {
			to++
		}
	} else {
		from = line.whole.Start
	}
	l.add(source.Edit{Span: source.Span{Start: from, End: to}})
}

// empties says whether nothing is left of a file.
func (l *lines) empties(src []byte, f *file) bool {
	if len(l.taken) != len(f.mods) {
		return false
	}
	rest := src[:0:0]
	at := 0
	edits := slices.Clone(l.edits)
	slices.SortFunc(edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
	for _, e := range edits {
		if e.New != "" || e.Span.Start < at {
			return false
		}
		rest = append(rest, src[at:e.Span.Start]...)
		at = e.Span.End
	}
	rest = append(rest, src[at:]...)
	return strings.TrimSpace(string(rest)) == ""
}

// insert writes lines among those of a module.
func (l *lines) insert(src []byte, m *module, added []newLine) {
	f := m.text
	var near []*modLine
	for i := range f.mods {
		if one := &f.mods[i]; f.moduleOf(one.scope) == m.scope && f.scopes[one.scope].module && !one.inMacro {
			near = append(near, one)
		}
	}
	newline := text.Newline(src)
	lastMacro := -1 // what gives macros stands before those that use them
	for i, one := range near {
		if one.macroUse {
			lastMacro = i
		}
	}
	sorted := slices.IsSortedFunc(near[lastMacro+1:], func(a, b *modLine) int { return strings.Compare(a.name, b.name) })
	for _, a := range added {
		at := 0
		indent := ""
		if len(near) > 0 {
			start := near[0].whole.Start
			for start > 0 && (src[start-1] == ' ' || src[start-1] == '\t') {
				start--
				indent = string(src[start]) + indent
			}
		}
		switch {
		case len(near) == 0 && m.scope == 0:
			at = f.first
		case len(near) == 0:
			at = int(f.scopes[m.scope].start)
			indent = "    "
		default:
			at = lineBehind(src, near[len(near)-1].whole.End)
			if sorted {
				for i, one := range near {
					if i > lastMacro && one.name > a.name {
						at = one.whole.Start - len(indent)
						break
					}
				}
			}
		}
		line := strings.ReplaceAll(a.text(indent)+"\n", "\n", newline)
		switch {
		case len(near) == 0 && m.scope != 0:
			line = newline + strings.TrimSuffix(line, newline)
		case at > 0 && src[at-1] != '\n':
			line = newline + strings.TrimSuffix(line, newline)
		}
		l.put(at, line)
	}
	if len(near) == 0 && m.scope == 0 && f.first < len(src) && !blankLine(src, f.first) {
		l.put(f.first, newline)
	}
}

func blankLine(src []byte, at int) bool {
	return strings.TrimSpace(string(src[at:text.LineEnd(src, at)])) == ""
}

func lineBehind(src []byte, at int) int { return min(text.LineEnd(src, at)+1, len(src)) }

// put writes a text at a place; what is taken out there is taken out with it.
func (l *lines) put(at int, text string) {
	for i := range l.edits {
		e := &l.edits[i]
		if e.Span.Start <= at && at <= e.Span.End && (e.Span.Len() > 0 || e.Span.Start == at) {
			if strings.HasSuffix(e.New, text) || strings.Contains(e.New, text) {
				return // another crate has the same line there
			}
			e.New += text
			return
		}
	}
	l.edits = append(l.edits, source.Edit{Span: source.Span{Start: at, End: at}, New: text})
}

// innerAttributes are the attributes that speak of a whole file, up to a place behind them, but for those that only hold
// for one crate: its documentation, its name and what it is, and lints that ask for comments.
func innerAttributes(src []byte, first int) (out []string) {
	tokens, _, err := lex(src[:first], nil, nil, newNames(nil))
	if err != nil {
		return nil
	}
	for i := 0; i+2 < len(tokens); i++ {
		if src[tokens[i].start] != '#' || src[tokens[i+1].start] != '!' || src[tokens[i+2].start] != '[' {
			continue
		}
		end := tokens[i+2].pair
		text := string(src[tokens[i].start:tokens[end].end])
		switch word, _, _ := strings.Cut(strings.TrimLeft(text, "#![ "), "("); strings.TrimSpace(strings.TrimRight(strings.Split(word, "=")[0], " ]")) {
		case "doc", "crate_name", "crate_type":
		case "cfg_attr":
			if withoutStd.MatchString(text) {
				out = append(out, text)
			}
		default:
			if text = undocumented.ReplaceAllString(text, ""); !emptyLint.MatchString(text) {
				out = append(out, text)
			}
		}
		i = int(end)
	}
	return out
}

// withoutStd is an attribute by which a crate does without the standard library under a condition.
var withoutStd = regexp.MustCompile(`\bno_(std|core)\s*\)\s*\]$`)

// externLine is a line that brings a crate, with its attributes.
var externLine = regexp.MustCompile(`(?m)^(?:[ \t]*#\[[^\n]*\][ \t]*\r?\n)*[ \t]*(?:#\[[^\n\]]*\][ \t]*)*(?:pub[^;\n]*)?extern[ \t]+crate[ \t]+(\w+)(?:[ \t]+as[ \t]+(\w+))?[ \t]*;[ \t]*$`)

// extern is a line by which the root of a crate brings another.
type extern struct {
	text, crate string
	macros      bool // it gives the macros of the other to all of its crate
}

// externsOf are the lines by which the root of a crate brings others that a module needs in its new crate too: those of
// which it names something, and those whose macros it may use. macros says that it uses one that nothing else brings.
func externsOf(root []byte, names func(string) bool, macros bool) (out []extern) {
	for _, found := range externLine.FindAllSubmatch(root, -1) {
		text, original, bound := string(found[0]), string(found[1]), string(found[2])
		if bound == "" {
			bound = original
		}
		switch gives := strings.Contains(text, "macro_use"); {
		case original == "self", original == "std", original == "core":
		case gives && macros && !libraries[original]:
			out = append(out, extern{"#[allow(unused_imports)]\n" + text, original, true})
		case libraries[original] && names(bound):
			out = append(out, extern{text, original, false})
		}
	}
	return out
}

// undocumented are the lints that ask for a comment on all that is public: much of a package that was a part of another
// has become public for its sake.
var undocumented = regexp.MustCompile(`(clippy::|rustdoc::)?missing_(docs|docs_in_private_items|errors_doc|panics_doc|safety_doc|crate_level_docs)\s*,?\s*`)

// emptyLint is an attribute of lints that names none.
var emptyLint = regexp.MustCompile(`\(\s*\)\s*\]$`)
