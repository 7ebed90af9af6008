package php

import (
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/project"
)

// This file reads addresses in the pages that PHP sends: href="css/site.css" outside of <?php ?>.

// addressed says which mentions of HTML count between pieces of PHP, and makes addresses of them. What PHP puts a piece
// into is none.
func addressed(m *lang.Mention) bool {
	if strings.ContainsAny(m.Text, "\n\r") || strings.TrimSpace(m.Text) != m.Text {
		return false
	}
	switch m.Kind {
	case paths.Asset, paths.StyleAsset, paths.Link:
		core, _ := withoutQuery(m.Text)
		if core == "" || strings.Contains(core, ":") || strings.HasPrefix(core, "//") {
			return false
		}
		m.Kind, m.Detail = Address, nil
	}
	return true
}

// withoutQuery parts an address from what stands behind the path.
func withoutQuery(text string) (core, query string) {
	if at := strings.IndexAny(text, "?#"); at >= 0 {
		return text[:at], text[at:]
	}
	return text, ""
}

// pages are the folders of the programs that a browser asks for and in which a file may run. The settings of a server
// speak of all, but for those that lie beside the pages (.htaccess).
func (r *Resolver) pages(from project.FileID) []string {
	if dirs := r.runsIn()[from]; len(dirs) > 0 {
		return dirs
	}
	if p := r.tree.Path(from); !isPHP(p) && path.Base(p) != ".htaccess" {
		return slices.DeleteFunc(slices.Sorted(maps.Keys(r.serves)), func(dir string) bool {
			_, first := r.tree.Lookup(path.Join(dir, firstPage))
			return !first
		})
	}
	return []string{path.Dir(r.tree.Path(from))}
}

// resolveAddress says where an address leads: to the same from each page, else nowhere that is known. One that begins
// with a slash counts from the folder of a page, or from one above it.
func (r *Resolver) resolveAddress(from project.FileID, text string) lang.Target {
	core, _ := withoutQuery(text)
	// A frame is sent by many pages, and its addresses must be right for each. Where they lead to different things, what
	// is meant depends on the page, and nothing can be promised.
	found := lang.No(lang.ToOutside)
	for _, dir := range r.pages(from) {
		t := r.served(dir, core)
		if found.Kind.Inside() && t.Kind.Inside() && !t.Equal(found) {
			return lang.No(lang.ToOutside)
		}
		if t.Kind.Inside() {
			found = t
		}
	}
	return found
}

// served gives what an address means on a page of a folder.
func (r *Resolver) served(dir, core string) lang.Target {
	rest, absolute := strings.CutPrefix(core, "/")
	for {
		if p := path.Join(dir, rest); !lang.Leaves(p) && rest != "" {
			if id, there := r.tree.Lookup(p); there {
				return lang.File(id)
			}
			if r.tree.IsDir(p) && p != "." {
				return lang.Folder(p)
			}
		}
		if !absolute || dir == "." {
			return lang.No(lang.ToOutside)
		}
		for dir = path.Dir(dir); dir != "." && !r.serves[dir]; dir = path.Dir(dir) {
		}
		if !r.serves[dir] { // no page lies there, so it is not given out
			return lang.No(lang.ToOutside)
		}
	}
}

// spellAddress writes an address anew. What lies above the folder of the page has no address.
func (r *Resolver) spellAddress(q lang.Respelling) (lang.Spelling, bool) {
	target := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		target = r.tree.Path(q.Target.File)
	}
	core, query := withoutQuery(q.Mention.Text)
	for _, dir := range r.pages(q.From) {
		rest, in := below(dir, target)
		if !in || target == "" {
			continue
		}
		text := rest
		if strings.HasPrefix(core, "/") {
			text = "/" + rest
		} else if strings.HasPrefix(core, "./") {
			text = "./" + rest
		}
		if strings.HasSuffix(core, "/") {
			text += "/"
		}
		if r.resolveAddress(q.From, text).Equal(q.Target) {
			return lang.Spelling{Text: text + query}, true
		}
	}
	return lang.Spelling{}, false
}
