package rust

import (
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// leaf is what becomes of one name of a use declaration.
type leaf struct {
	use  *use
	path []string
	as   bool // it gets a name of its own, since its own is another one then
	// where the name stands for a module and something else, and these part: the module
	second []string
}

// leadsOn says whether paths begin with a name in the file, below a scope.
func (s *settler) leadsOn(name string, sc int32) bool {
	f := s.was.text
	for i := range f.paths {
		if p := &f.paths[i]; strings.HasPrefix(p.text, name+"::") && f.moduleOf(p.scope) == f.moduleOf(sc) {
			return true
		}
	}
	for i := range f.uses {
		if u := &f.uses[i]; len(u.path) > 1 && u.path[0] == name {
			return true
		}
	}
	return false
}

// statement writes a use declaration.
func (s *settler) statement(stmt *useStmt, at int32) {
	var leaves []leaf
	changed := false
	for i := stmt.first; i < stmt.first+stmt.leaves; i++ {
		u := &s.was.text.uses[i]
		o := own{path: fromCrate(u.path), scope: stmt.scope, global: stmt.global, use: true, glob: u.glob, doc: stmt.inDoc, bound: u.bound}
		w := s.old.ask(s.was, &o)
		one := leaf{use: u, path: u.path}
		if w.whole() && !w.hops[0].library {
			path, differs, why := s.follows(&o, &w, u.self || u.glob)
			if !u.self && !u.glob && w.other() != nil && w.hops[len(w.hops)-1].mod != nil && (stmt.sees.reach != private || s.leadsOn(u.bound, stmt.scope)) {
				second, parts, _ := s.follows(&o, &w, true)
				if parts && !slices.Equal(second, path) {
					one.second, changed = second, true
				}
			}
			if why.why == "" && u.glob && !stmt.inDoc {
				why = s.lostLibraries(&w, s.was.in(stmt.scope))
			}
			if why.why != "" {
				s.fail(u.own.Start, why)
				return
			}
			if differs {
				if u.path[0] == "$crate" {
					path = append([]string{"$crate"}, path[1:]...)
				}
				one.path, changed = path, true
				one.as = !u.glob && u.bound != "" && u.bound == u.path[len(u.path)-1] && path[len(path)-1] != u.bound
			}
		}
		leaves = append(leaves, one)
	}
	if !changed {
		return
	}
	e := &useEdit{content: s.Content, stmt: stmt, leaves: leaves}
	if edits, ok := e.write(); ok {
		for _, edit := range edits {
			s.Edit(edit.Span, edit.New)
		}
		return
	}
	s.Fail(leaves[0].use.own.Start, "the declaration can't be written anew")
}

// lostLibraries says whether a use of all that a module has brought names of libraries that it would not bring any more:
// the module has them by a use of its own that is not seen from the new place. Which names these are, no text says.
func (s *settler) lostLibraries(w *walked, from *module) fault {
	then := s.newOf(from)
	if then == nil {
		return fault{}
	}
	seen := map[*module]bool{}
	var lost func(m *module, out bool) *module
	lost = func(m *module, out bool) *module {
		now := s.newOf(m)
		if seen[m] || now == nil {
			return nil
		}
		seen[m] = true
		for _, at := range m.text.globs[m.scope] {
			u := &m.text.uses[at]
			v := m.text.stmts[u.stmt].sees
			if before := s.old.reachOf(v, m); before != nil && !from.within(before) {
				continue
			}
			reach := s.reachThen(v, m, now)
			gone := out || reach != nil && !then.within(reach) && !s.wider(m, now, u.stmt, then)
			for _, t := range s.old.leads(m, u, newQuery()) {
				if t.library && gone {
					return m
				}
				if t.mod != nil {
					if other := lost(t.mod, gone); other != nil {
						return other
					}
				}
			}
		}
		return nil
	}
	for i := range w.last {
		if t := w.last[i].mod; t != nil {
			if m := lost(t, false); m != nil {
				return fault{fmt.Sprintf("it brings names of a library from %s, which that module would not show it any more",
					s.old.tree.Path(m.file)), s.movedOf([]*module{from, m})}
			}
		}
	}
	return fault{}
}

// wider says whether a use declaration has been written so that what it brings is seen from a module.
func (s *settler) wider(was, now *module, stmt int32, then *module) bool {
	if !was.text.alike(now.text) || now.text.stmts[stmt].sees.reach == was.text.stmts[stmt].sees.reach {
		return false
	}
	reach := s.reachOf(now.text.stmts[stmt].sees, now)
	return reach == nil || then.within(reach)
}

// useNode is a part of the tree of a use declaration.
type useNode struct {
	at    source.Span // of all of it
	parts []string    // the names before its brackets, or all of them
	head  source.Span // of these
	kids  []*useNode  // in brackets
	group bool
	leaf  int
}

// useEdit writes a use declaration anew.
type useEdit struct {
	content []byte
	stmt    *useStmt
	leaves  []leaf
	next    int // while the tree is read: the next leaf
	edits   []source.Edit
	gone    []*useNode
}

// write gives the edits of the declaration: in its parts where those suffice, else of all of it.
func (e *useEdit) write() ([]source.Edit, bool) {
	text := e.content[e.stmt.tree : e.stmt.end-1]
	if e.stmt.inDoc {
		text = withoutMarks(text)
	}
	names := newNames(nil)
	tokens, _, err := lex(text, nil, nil, names)
	if err != nil || len(tokens) == 0 {
		return nil, false
	}
	for i := range tokens {
		tokens[i].start += int32(e.stmt.tree)
		tokens[i].end += int32(e.stmt.tree)
	}
	p := &parser{src: e.content, tok: tokens, f: &file{}, names: names}
	first := 0
	if tokens[0].kind == tPath {
		first = 1
	}
	root := e.tree(p, first, len(tokens))
	if root == nil || e.next != len(e.leaves) {
		return nil, false
	}
	seconds := slices.ContainsFunc(e.leaves, func(l leaf) bool { return l.second != nil })
	if kept := e.keep(root, nil); kept && len(e.gone) == 0 && !seconds {
		return e.edits, true
	} else if kept {
		root = nil
	}
	return e.whole(root)
}

// withoutMarks is the code of an example without what makes its lines a comment.
func withoutMarks(code []byte) []byte {
	out := slices.Clone(code)
	for at := text.LineEnd(out, 0); at < len(out); at = text.LineEnd(out, at) {
		for at++; at < len(out) && (out[at] == ' ' || out[at] == '\t'); at++ {
		}
		for at < len(out) && (out[at] == '/' || out[at] == '!' || out[at] == '*') {
			out[at] = ' '
			at++
		}
	}
	return out
}

// tree reads a part of the tree.
func (e *useEdit) tree(p *parser, i, end int) *useNode {
	n := &useNode{at: source.Span{Start: int(p.tok[i].start), End: int(p.tok[end-1].end)}, leaf: -1}
	n.head.Start = n.at.Start
	n.head.End = n.head.Start
	for i < end {
		switch t := &p.tok[i]; {
		case t.kind == tOpen:
			n.group = true
			good := true
			p.each(i+1, int(t.pair), func(from, to int) {
				if from < to {
					kid := e.tree(p, from, to)
					good = good && kid != nil
					n.kids = append(n.kids, kid)
				}
			})
			if !good {
				return nil
			}
			return n
		case t.kind == tSign && t.first == '*':
			n.leaf = e.next
			e.next++
			return n
		case t.kind == tSign && t.first == '$':
			n.parts = append(n.parts, "$crate")
			i++
			n.head.End = int(p.tok[i].end)
		case t.kind == tName:
			raw := string(e.content[t.start:t.end])
			if raw == "as" {
				n.leaf = e.next
				e.next++
				return n
			}
			n.parts = append(n.parts, strings.TrimPrefix(raw, "r#"))
			n.head.End = int(t.end)
		}
		i++
	}
	n.leaf = e.next
	e.next++
	return n
}

// each leaf of a node, by its index.
func (n *useNode) each(f func(i int)) {
	if n.group {
		for _, k := range n.kids {
			k.each(f)
		}
		return
	}
	f(n.leaf)
}

// prefix gives the names that all leaves of a node have in place of those up to its brackets; false where they part.
func (e *useEdit) prefix(n *useNode, before int) (out []string, same bool) {
	upTo := before + len(n.parts)
	same = true
	first := true
	n.each(func(i int) {
		l := &e.leaves[i]
		rest := l.use.path[min(upTo, len(l.use.path)):]
		if !n.group {
			rest = nil
		}
		cut := len(l.path) - len(rest)
		if cut < 0 || !slices.Equal(l.path[cut:], rest) || n.group && l.as && len(rest) == 0 {
			same = false
			return
		}
		if head := l.path[:cut]; first {
			out, first = head, false
		} else if !slices.Equal(out, head) {
			same = false
		}
	})
	return out, same
}

// keep writes a node in its place, behind names that are there; false where it must go.
func (e *useEdit) keep(n *useNode, now []string) bool {
	before := 0
	n.each(func(i int) { before = e.before(n, i) })
	if head, same := e.prefix(n, before); same && len(head) >= len(now) && slices.Equal(head[:len(now)], now) {
		parts := head[len(now):]
		switch self := len(n.parts) == 1 && n.parts[0] == "self" && len(now) > 0; {
		case self && len(parts) == 0:
			return true
		case self || len(parts) == 0 && len(n.parts) > 0:
		default:
			text := written(parts)
			if !n.group && e.leaves[n.leaf].as {
				text += " as " + word(e.leaves[n.leaf].use.bound)
			}
			if text != written(n.parts) {
				e.edits = append(e.edits, source.Edit{Span: n.head, New: text})
			}
			return true
		}
	}
	if !n.group {
		return false
	}
	pre := append(slices.Clone(now), n.parts...)
	mark, gone := len(e.edits), len(e.gone)
	kept := 0
	var taken []int
	for i, k := range n.kids {
		if e.keep(k, pre) {
			kept++
		} else {
			taken = append(taken, i)
		}
	}
	if kept == 0 {
		e.edits, e.gone = e.edits[:mark], e.gone[:gone]
		return false
	}
	items := make([]imports.Item, len(n.kids))
	for i, k := range n.kids {
		items[i] = imports.Item{Start: k.at.Start, End: k.at.End}
	}
	for _, i := range taken {
		e.gone = append(e.gone, n.kids[i])
		span := imports.Without(e.content, items, i, func(k int) bool { return !slices.Contains(taken, k) }, "//")
		e.edits = append(e.edits, source.Edit{Span: span})
	}
	return true
}

// before is how many names stand before a node in the path of a leaf of it.
func (e *useEdit) before(n *useNode, i int) int {
	rest := len(n.parts)
	var count func(n *useNode) int
	count = func(n *useNode) int {
		for _, k := range n.kids {
			found := false
			k.each(func(at int) { found = found || at == i })
			if found {
				return len(k.parts) + count(k)
			}
		}
		return 0
	}
	rest += count(n)
	path := e.leaves[i].use.path
	if e.leaves[i].use.self {
		rest-- // self is no part of the path
	}
	return max(0, len(path)-rest)
}

// whole gives one edit of all of the declaration: what stays, and a declaration for each place where other names are.
func (e *useEdit) whole(root *useNode) ([]source.Edit, bool) {
	head := string(e.content[e.stmt.from:e.stmt.tree]) // pub use
	attrs := ""
	if before := strings.TrimSpace(string(e.content[e.stmt.whole.Start:e.stmt.from])); strings.HasPrefix(before, "#") {
		attrs = before + "\n"
	}
	gone := e.gone
	var lines []string
	if root != nil {
		gone, e.edits = []*useNode{root}, nil
	} else {
		slices.SortFunc(e.edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
		for i := range e.edits {
			if i > 0 && e.edits[i].Span.Start < e.edits[i-1].Span.End { // two that stood beside one another
				e.edits[i].Span.Start = e.edits[i-1].Span.End
				e.edits[i].Span.End = max(e.edits[i].Span.End, e.edits[i].Span.Start)
			}
		}
		text := e.content[e.stmt.from:e.stmt.end]
		shifted := make([]source.Edit, len(e.edits))
		for i, one := range e.edits {
			shifted[i] = source.Edit{Span: source.Span{Start: one.Span.Start - e.stmt.from, End: one.Span.End - e.stmt.from},
				New: one.New}
		}
		kept, err := source.Apply(text, shifted)
		if err != nil {
			return nil, false
		}
		lines = append(lines, alone(string(kept)))
	}
	places := map[string][]string{} // the names that are had from a module
	var order []string
	for _, n := range gone {
		n.each(func(i int) {
			l := &e.leaves[i]
			name, parent := "*", l.path
			if !l.use.glob {
				name, parent = word(l.path[len(l.path)-1]), l.path[:len(l.path)-1]
				if l.use.bound == "" {
					name += " as _"
				} else if l.use.bound != l.path[len(l.path)-1] {
					name += " as " + word(l.use.bound)
				}
			}
			key := written(parent)
			if _, known := places[key]; !known {
				order = append(order, key)
			}
			places[key] = append(places[key], name)
		})
	}
	remarks := ""
	for _, n := range gone {
		if n != root {
			remarks += e.remark(n)
		}
	}
	for _, key := range order {
		names := places[key]
		text := strings.Join(names, ", ")
		if len(names) > 1 {
			text = "{" + text + "}"
		}
		if key != "" {
			text = key + "::" + text
		}
		lines = append(lines, head+text+";")
	}
	for _, l := range e.leaves {
		if l.second != nil {
			line := head + written(l.second)
			if l.second[len(l.second)-1] != l.use.bound {
				line += " as " + word(l.use.bound)
			}
			lines = append(lines, line+";")
		}
	}
	indent := string(e.content[text.LineStart(e.content, e.stmt.from):e.stmt.from])
	if strings.Trim(indent, " \t/!*#") != "" { // it does not stand alone on its line
		indent = ""
	}
	if remarks != "" {
		lines[len(lines)-1] += remarks
	}
	out := strings.Join(lines, "\n"+indent+strings.ReplaceAll(attrs, "\n", "\n"+indent))
	return []source.Edit{{Span: source.Span{Start: e.stmt.from, End: e.stmt.end}, New: out}}, true
}

// remark is the comment behind a part of the tree, on its line.
func (e *useEdit) remark(n *useNode) string {
	rest := strings.TrimLeft(string(e.content[n.at.End:text.LineEnd(e.content, n.at.End)]), " \t,")
	if strings.HasPrefix(rest, "//") {
		return " " + strings.TrimRight(rest, "\r")
	}
	return ""
}

// alone writes use a::{b}; as use a::b;
func alone(text string) string {
	open, close := strings.IndexByte(text, '{'), strings.LastIndexByte(text, '}')
	if open < 0 || close < open || strings.TrimSpace(text[close+1:]) != ";" {
		return text
	}
	inside := strings.TrimRight(strings.TrimSpace(text[open+1:close]), ",")
	if strings.ContainsAny(inside, ",{}/\n") || strings.TrimSpace(inside) == "self" || inside == "" || strings.HasPrefix(inside, "self ") {
		return text
	}
	return text[:open] + inside + ";"
}
