package csharp

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"sort"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file reads pages with code in them (learn.microsoft.com/aspnet/core/mvc/views/razor): which namespaces they bring,
// and which types they name. Their code is not taken apart: each word that is the name of a type which is seen there
// counts, so that a using is there when the type goes somewhere else.

// isPage says whether a file is a page with code.
func isPage(p string) bool {
	ext := path.Ext(p)
	return ext == ".cshtml" || ext == ".razor"
}

// aboveFile is the file whose usings count in all pages of its folder and below.
func aboveFile(p string) string {
	if path.Ext(p) == ".razor" {
		return "_Imports.razor"
	}
	return "_ViewImports.cshtml"
}

var (
	pageUsing = regexp.MustCompile(`(?m)^[ \t\x{FEFF}]*@using[ \t]+([\w.]+)[ \t]*;?[ \t]*\r?$`)
	pageSpace = regexp.MustCompile(`(?m)^[ \t\x{FEFF}]*@namespace[ \t]+([\w.]+)`)
	pageWord  = regexp.MustCompile(`[A-Za-z_]\w*`)
)

// page is what a page says of names.
type page struct {
	usings []source.Span // the names of what its usings bring
	space  string        // that it says it is of
	first  int           // where a using may stand
	words  map[string]int
}

// readPage reads a page.
func readPage(content []byte) *page {
	p := &page{words: map[string]int{}}
	for _, at := range pageUsing.FindAllSubmatchIndex(content, -1) {
		p.usings = append(p.usings, source.Span{Start: at[2], End: at[3]})
		p.first = min(text.LineEnd(content, at[3])+1, len(content))
	}
	if at := pageSpace.FindSubmatchIndex(content); at != nil {
		p.space = string(content[at[2]:at[3]])
	}
	if len(p.usings) == 0 { // behind @page, which must come first
		if trimmed := bytes.TrimLeft(content, "\xEF\xBB\xBF \t\r\n"); bytes.HasPrefix(trimmed, []byte("@page")) {
			p.first = min(text.LineEnd(content, len(content)-len(trimmed))+1, len(content))
		} else if bytes.HasPrefix(content, []byte("\xEF\xBB\xBF")) {
			p.first = 3
		}
	}
	for _, at := range pageWord.FindAllIndex(content, -1) {
		word := string(content[at[0]:at[1]])
		if _, known := p.words[word]; !known && (at[0] == 0 || content[at[0]-1] != '.') {
			p.words[word] = at[0]
		}
	}
	return p
}

// pageOf reads a page of the tree.
func (r *Resolver) pageOf(id project.FileID) *page {
	if known, there := r.pages.Load(id); there {
		return known.(*page)
	}
	content, err := r.tree.Content(id)
	if err != nil {
		return &page{}
	}
	p := readPage(content)
	r.pages.Store(id, p)
	return p
}

// pageUnit is the nearest project above a page.
func (r *Resolver) pageUnit(p string) *unit {
	return nearest(r.table.at, path.Dir(p))
}

// pageSpaces are the namespaces whose types a page sees: those of its usings and of the files above it, that which its
// folder has with all around, and what counts in all of the project.
func (r *Resolver) pageSpaces(id project.FileID, content []byte) map[string]bool {
	out := map[string]bool{"": true}
	p := r.tree.Path(id)
	around := func(space string) {
		for ; space != ""; space = parent(space) {
			out[space] = true
		}
	}
	own := readPage(content)
	for _, at := range own.usings {
		out[string(content[at.Start:at.End])] = true
	}
	u := r.pageUnit(p)
	space := own.space
	for dir := path.Dir(p); ; dir = path.Dir(dir) {
		if above, there := r.tree.Lookup(path.Join(dir, aboveFile(p))); there {
			if text, err := r.tree.Content(above); err == nil {
				one := r.pageOf(above)
				for _, at := range one.usings {
					out[string(text[at.Start:at.End])] = true
				}
				if one.space != "" && space == "" {
					space = one.space
					if rest := strings.TrimPrefix(strings.TrimPrefix(path.Dir(p), dir), "/"); rest != "" && rest != "." {
						space = join(space, legal(strings.ReplaceAll(rest, "/", ".")))
					}
				}
			}
		}
		if dir == "." || u != nil && dir == u.dir {
			break
		}
	}
	if space == "" && u != nil {
		space, _ = u.expected(path.Dir(p))
	}
	around(space)
	for i := range r.globals[u] {
		out[r.globals[u][i].space] = true
	}
	return out
}

// pageTypes are the types that a word of a page may mean.
func (r *Resolver) pageTypes(id project.FileID, word string, spaces map[string]bool) (out []declared) {
	if !r.ix.named[word] {
		return nil
	}
	u := r.pageUnit(r.tree.Path(id))
	for space := range spaces {
		for _, d := range r.ix.types[join(space, word)] {
			other := r.ix.files[d.file]
			if other.types[d.at].owner < 0 && (u == nil || len(other.units) == 0 || slices.ContainsFunc(other.units, func(v *unit) bool {
				return u == v || u.sees[v]
			})) {
				out = append(out, d)
			}
		}
	}
	sort.Slice(out, func(i, k int) bool {
		return out[i].file < out[k].file || out[i].file == out[k].file && out[i].at < out[k].at
	})
	return out
}

// pageMentions finds what a page names.
func (r *Resolver) pageMentions(id project.FileID, content []byte) (out []lang.Mention) {
	own := readPage(content)
	taken := map[int]bool{}
	for _, at := range own.usings {
		name := string(content[at.Start:at.End])
		taken[at.Start] = true
		if r.ix.spaces[name] {
			out = append(out, lang.Mention{Span: at, Text: name, Kind: PageUsing, Form: lang.Plain, Detail: &lang.Detail{Own: pageOwn{}}})
		}
	}
	spaces := r.pageSpaces(id, content)
	for word, at := range own.words {
		if len(r.pageTypes(id, word, spaces)) > 0 && !taken[at] {
			out = append(out, lang.Mention{Span: source.Span{Start: at, End: at + len(word)}, Text: word, Kind: PageName,
				Form: lang.Plain, Deferred: true, Detail: &lang.Detail{Own: pageOwn{}}})
		}
	}
	slices.SortFunc(out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return out
}

// pageOwn is what only pages know of a mention.
type pageOwn struct{}

// resolvePage says where a mention of a page leads.
func (r *Resolver) resolvePage(from project.FileID, m *lang.Mention) lang.Target {
	if m.Kind == PageUsing {
		return r.spaceTarget(from, m.Text)
	}
	content, err := r.tree.Content(from)
	if err != nil {
		return lang.No(lang.ToOutside)
	}
	return r.target(r.pageTypes(from, m.Text, r.pageSpaces(from, content)))
}

// settlePage writes the usings of a page.
func (r *Resolver) settlePage(q lang.Settling, old *Resolver) (edits []lang.Settled, failed []lang.Failed) {
	spaces := r.pageSpaces(q.From, q.Content)
	own := readPage(q.Content)
	gone := map[string]string{} // the namespaces that are gone, and those that they became
	for name := range spaces {
		if !old.ix.spaces[name] || r.ix.spaces[name] {
			continue
		}
		goal, whole := r.spaceGoal(old, q.OldFrom, name)
		if !whole {
			goal = ""
		}
		gone[name] = goal
		delete(spaces, name)
	}
	for _, goal := range gone {
		spaces[goal] = true
	}
	var added []string
	seen := old.pageSpaces(q.OldFrom, q.Content)
	for i := range q.Mentions {
		m := &q.Mentions[i]
		if m.Kind != PageName || !q.Before[i].Kind.Inside() {
			continue
		}
		for _, d := range old.pageTypes(q.OldFrom, m.Text, seen) {
			now, here := r.cameTo(d, old)
			if !here {
				continue
			}
			if space := r.ix.spaceOf(now); space != "" && !spaces[space] {
				spaces[space] = true
				added = append(added, space)
			}
		}
	}
	slices.Sort(added)
	mention := func(start int) []int {
		for i := range q.Mentions {
			if q.Mentions[i].Kind == PageUsing && q.Mentions[i].Span.Start == start {
				return []int{i}
			}
		}
		return nil
	}
	for _, at := range own.usings {
		goal, is := gone[string(q.Content[at.Start:at.End])]
		if !is {
			continue
		}
		if goal == "" && len(added) > 0 {
			goal, added = added[0], added[1:]
		}
		if goal != "" {
			edits = append(edits, lang.Settled{Edit: source.Edit{Span: at, New: goal}, Mentions: mention(at.Start)})
			continue
		}
		start := text.LineStart(q.Content, at.Start)
		line := source.Span{Start: start, End: min(text.LineEnd(q.Content, at.End)+1, len(q.Content))}
		edits = append(edits, lang.Settled{Edit: source.Edit{Span: line}, Mentions: mention(at.Start)})
	}
	lines := ""
	for _, space := range added {
		lines += "@using " + space + text.Newline(q.Content)
	}
	if lines != "" {
		at := source.Span{Start: own.first, End: own.first}
		edits = append(edits, lang.Settled{Edit: source.Edit{Span: at, New: lines}})
	}
	slices.SortStableFunc(edits, func(a, b lang.Settled) int { return a.Edit.Span.Start - b.Edit.Span.Start })
	return edits, nil
}

// lookedInto are the folders in which a server looks for pages by what they are called: those of views by their controllers
// and actions, and pages by their addresses (learn.microsoft.com/aspnet/core/mvc/views/overview, razor-pages).
var lookedInto = []struct{ folder, why string }{
	{"Views", "each file there is found by the names of its controller and its action"},
	{"Pages", "each file there has the address of its path"},
	{"Areas", "each file there is found by the names of its area, its controller and its action"},
}

// Places are the folders of the projects in which pages are found by their place.
func (r *Resolver) Places() []lang.Place {
	r.placesOnce.Do(func() { r.places = r.findPlaces() })
	return r.places
}

func (r *Resolver) findPlaces() (out []lang.Place) {
	r.index()
	for _, u := range r.units {
		for _, one := range lookedInto {
			folder := path.Join(u.dir, one.folder)
			from, to := r.tree.Below(folder)
			for id := from; id < to; id++ {
				if path.Ext(r.tree.Path(id)) == ".cshtml" {
					out = append(out, lang.Place{Folder: folder, By: "the server of " + u.name, Why: one.why})
					break
				}
			}
		}
	}
	return out
}

// Place gives the folder in which a page is found by its place.
func (r *Resolver) Place(p string) (lang.Place, bool) {
	if path.Ext(p) != ".cshtml" {
		return lang.Place{}, false
	}
	for _, place := range r.Places() {
		if rest, inside := strings.CutPrefix(p, place.Folder+"/"); inside {
			place.Rest = rest
			return place, true
		}
	}
	return lang.Place{}, false
}

// pagesAround keeps pages below the files that count for them by their folder, and components whose class is called by
// its folder.
func (o *owing) pagesAround() {
	for from, to := range o.moves {
		if !isPage(from) {
			continue
		}
		id, there := o.old.tree.Lookup(from)
		if !there {
			continue
		}
		was, now := o.old.pageUnit(from), o.pageUnit(to)
		if path.Ext(from) == ".razor" && was != nil && now != nil && o.old.pageOf(id).space == "" && path.Base(from) != "_Imports.razor" {
			before, _ := was.expected(path.Dir(from))
			if after, _ := now.expected(path.Dir(to)); before != after {
				o.lost([]project.FileID{id}, "the class of a component is called by its folder, %s, and what names it is not followed", before)
			}
		}
		for _, name := range []string{"_ViewImports.cshtml", "_ViewStart.cshtml", "_Imports.razor"} {
			if (path.Ext(name) == ".razor") != (path.Ext(from) == ".razor") || path.Base(from) == name {
				continue
			}
			count := above(o.old.tree.Project, from, name, true)
			for i, p := range count {
				if gone := o.moves[p]; gone != "" {
					count[i] = gone
				}
			}
			if then := above(o.tree.Project, to, name, true); !slices.Equal(count, then) {
				o.lost([]project.FileID{id}, "other files called %s would count for it by its folder", name)
			}
		}
	}
}
