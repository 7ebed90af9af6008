package rust

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// wordsIn finds paths of modules in a file that is no Rust: a_crate::a::b in documents, settings and scripts. What such a
// file says of the past stays.
func (r *Resolver) wordsIn(from project.FileID, content []byte) (out []lang.Mention) {
	if !bytes.Contains(content, []byte("::")) || lang.IsHistory(r.tree.Path(from)) {
		return nil
	}
	roots := r.modules().roots
	for at := 0; at < len(content); {
		n := bytes.Index(content[at:], []byte("::"))
		if n < 0 {
			return out
		}
		colon := at + n
		start, end := colon, colon
		for start > at && classes[content[start-1]] >= cLetter {
			start--
		}
		for end+2 < len(content) && content[end] == ':' && content[end+1] == ':' && classes[content[end+2]] == cLetter {
			for end += 2; end < len(content) && classes[content[end]] >= cLetter; end++ {
			}
		}
		at = max(end, colon+2)
		if roots[string(content[start:colon])] == nil || end == colon {
			continue
		}
		text := string(content[start:end])
		path := splitPath(text)
		if w := r.walkWord(path); len(w.hops) > 1 {
			out = append(out, lang.Mention{Span: source.Span{Start: start, End: end}, Text: text, Kind: Word, Form: lang.Plain,
				Detail: &lang.Detail{Own: &own{path: path}}})
		}
	}
	return out
}

// walkWord goes along a path that a text has: who sees what does not matter to it.
func (r *Resolver) walkWord(path []string) (w walked) {
	root := r.modules().roots[path[0]]
	if root == nil {
		return w
	}
	now := []found{{thing: thing{mod: root}, how: byCrate}}
	w.hops, w.last = now, now
	for _, part := range path[1:] {
		var next []found
		if m := w.last[0].mod; m != nil {
			next = r.member(m, part, newQuery())
		}
		if len(next) == 0 {
			return w
		}
		w.hops, w.last = append(w.hops, next[0]), next
	}
	return w
}

// spellWord writes the path of a module anew.
func (r *Resolver) spellWord(q lang.Respelling, o *own) (lang.Spelling, bool) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return lang.Spelling{}, false
	}
	w := old.walkWord(o.path)
	bad := -1
	name := o.path[0]
	if now := r.newOf(w.hops[0].mod); now == nil || r.modules().roots[name] != now { // its crate has another name then
		bad = 0
	}
	for i := 1; i < len(w.hops); i++ {
		if h := &w.hops[i]; h.how == byKid && h.mod != nil {
			if now, above := r.newOf(h.mod), r.newOf(w.hops[i-1].mod); now == nil || now.parent != above || now.name != h.mod.name {
				bad = i
			}
		}
	}
	if bad < 0 {
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	now := r.newOf(w.hops[bad].mod)
	if now == nil {
		return lang.Spelling{}, false
	}
	if r.modules().roots[name] != now.crate.root {
		name = now.crate.name
		if now.crate.kind == aLibrary {
			name = now.crate.pack.lib
		}
	}
	return lang.Spelling{Text: now.written(name) + strings.Join(append([]string{""}, o.path[bad+1:]...), "::")}, true
}
