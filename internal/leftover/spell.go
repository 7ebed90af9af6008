package leftover

import (
	"path"
	"strings"

	"crookedshelf/internal/project"
)

// spell writes a text anew, in its own manner, so that it names where the thing is now; empty where that can't be said.
func (p *pass) spell(is *named, text string) string {
	if strings.Contains(text, "\\") || strings.Contains(is.text, "//") || is.lead+len(is.text) > len(text) {
		return ""
	}
	if is.name != "" {
		return text[:is.lead] + is.name + text[is.lead+len(is.text):]
	}
	now := p.now(is.path)
	if now == "" || strings.Contains(now, ", ") {
		return ""
	}
	old := is.path
	if !p.names.folders[old] && path.Ext(path.Base(is.text)) != path.Ext(path.Base(old)) { // the ending is left out
		old, now = withoutEnding(old), withoutEnding(now)
	}
	head, tail := text[:is.lead], text[is.lead+len(is.text):]
	if !is.certain {
		above := strings.TrimSuffix(old, is.text)
		rest, ok := strings.CutPrefix(now, above)
		if !ok {
			return ""
		}
		return head + rest + tail
	}
	base := is.base
	if base != "." {
		if base == p.oldFolder() {
			base = project.Dir(p.path)
		} else {
			base = p.search.Folder(base)
		}
	}
	to, ok := relative(base, now)
	if !ok {
		return ""
	}
	dotted := strings.HasPrefix(is.text, "./") || strings.HasPrefix(is.text, "../")
	switch {
	case dotted && !strings.HasPrefix(to, "../"):
		to = "./" + to
	case !dotted && strings.HasPrefix(to, "../"):
		return "" // a text that goes up may mean something else where it stands
	}
	return head + to + tail
}

// relative is the path from a folder to a place.
func relative(base, place string) (string, bool) {
	if base == "." {
		return place, true
	}
	up := ""
	for base != "." && base != place && !strings.HasPrefix(place, base+"/") {
		base = project.Dir(base)
		up += "../"
	}
	if base == "." {
		return up + place, true
	}
	rest := strings.TrimPrefix(strings.TrimPrefix(place, base), "/")
	return up + rest, rest != ""
}
