package leftover

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// named is what a text names.
type named struct {
	path    string // before
	certain bool
	base    string // the folder from which the text is read; where certain
	text    string // the part of the text that is the path, with slashes, without what leads to its base
	rest    string // what follows the name: /*.ts
	lead    int    // bytes of the text before the path
	name    string // of a name with dots: the new one
}

// longest is how many bytes a path has at the most, on any system.
const longest = 4096

// look judges one text, and notes it if it names what moved. With single it may be of one segment.
func (p *pass) look(span source.Span, single bool) {
	if span.Len() > longest {
		return
	}
	text := string(p.content[span.Start:span.End])
	if i := strings.IndexByte(text, '#'); i > 0 && text[i-1] != '/' {
		text = text[:i]
	}
	if p.address(span.Start, text) {
		return
	}
	var is named
	var ok bool
	if strings.ContainsAny(text, "/\\") || single || path.Ext(text) != "" && p.names.heads[text] {
		is, ok = p.judge(text, single)
	}
	if !ok {
		is, ok = p.judgeDotted(span, text)
	}
	if !ok {
		return
	}
	t := Text{
		File: p.file, Span: source.Span{Start: span.Start, End: span.Start + len(text)}, Text: text,
		Named: is.path, Now: p.now(is.path), Certain: is.certain,
	}
	t.New = p.spell(&is, text)
	p.out = append(p.out, t)
}

// now is where something is now.
func (p *pass) now(old string) string {
	if to, moved := p.names.files[old]; moved {
		return to
	}
	return p.search.Folder(old)
}

// family is the one that reads the file; nil for none.
func (p *pass) family() *lang.Family {
	if p.mentions.Family < 0 {
		return nil
	}
	return &p.search.After.Languages.Families[p.mentions.Family]
}

// isProse says whether the file is written for people: a word in it is a word.
func (p *pass) isProse() bool { return p.search.After.Languages.IsProse(p.path) }

// address says whether a text is a part of a URL that is no path of this project.
func (p *pass) address(start int, text string) bool {
	head := p.content[max(0, start-3):start]
	if !strings.HasSuffix(string(head), ":") || !strings.HasPrefix(text, "//") {
		return false
	}
	for _, kind := range []string{"/blob/", "/tree/", "/raw/"} {
		if strings.Contains(text, kind) {
			return false
		}
	}
	return !strings.Contains(text, "raw.")
}

// judge says what a text with slashes, or of one segment, names.
func (p *pass) judge(text string, single bool) (named, bool) {
	clean := text
	backwards := false // the segments have backslashes between
	if i := strings.IndexByte(clean, '\\'); i >= 0 {
		if backwards = !strings.Contains(clean, "/"); backwards {
			clean = strings.ReplaceAll(strings.ReplaceAll(clean, "\\\\", "\\"), "\\", "/")
		} else {
			// an escape behind a path, or an expression of patterns
			if clean = clean[:i]; !strings.Contains(clean, "/") {
				return named{}, false
			}
		}
	}
	pattern := len(clean)
	if i := strings.IndexAny(clean, "*"); i >= 0 {
		if pattern = strings.LastIndexByte(clean[:i], '/'); pattern < 0 {
			return named{}, false
		}
	}
	rest := clean[pattern:]
	clean = clean[:pattern]
	if trimmed := strings.TrimRight(clean, "/"); trimmed != clean {
		rest, clean = clean[len(trimmed):]+rest, trimmed
	}
	if clean == "" || strings.Trim(clean, "./") == "" || strings.Contains(strings.TrimLeft(clean, "./"), "..") {
		return named{}, false
	}
	if backwards && !strings.Contains(clean, "/") {
		return named{}, false
	}
	relative := strings.HasPrefix(clean, "./") || strings.HasPrefix(clean, "../")
	absolute := strings.HasPrefix(clean, "/")
	body := strings.TrimPrefix(clean, "/")
	if f := p.family(); absolute && path.Ext(body) == "" && (p.isProse() || f != nil && !p.readsWords()) {
		return named{}, false // an address
	}
	if f := p.family(); f != nil && f.InText != nil && !single && !relative && !strings.Contains(clean, "/") &&
		path.Ext(clean) == "" && !strings.Contains(rest, "*") {
		return named{}, false // a word of code with a slash behind it is as often an address
	}
	for dir := project.Dir(p.path); ; dir = project.Dir(dir) {
		if p.stands(path.Join(dir, body)) {
			return named{}, false
		}
		if dir == "." || relative && dir != project.Dir(p.path) {
			break
		}
	}
	own := p.oldFolder()
	for dir := own; ; dir = project.Dir(dir) {
		if old, ok := p.moved(path.Join(dir, body)); ok && (strings.Contains(body, "/") || dir == own || dir == ".") {
			return named{path: old, certain: true, base: dir, text: body, rest: rest, lead: strings.Index(text, body)},
				true
		}
		if dir == "." || relative {
			break
		}
	}
	if backwards {
		return named{}, false
	}
	if found, ok := p.within(own, body, rest); ok {
		found.lead = max(0, strings.Index(text, body))
		return found, true
	}
	return p.ending(text, body, rest)
}

// within says whether a text names something in a folder that is gone, such as a pattern or what is written there by a
// program.
func (p *pass) within(own, body, rest string) (named, bool) {
	if p.endsSomething(body) {
		return named{}, false
	}
	for _, dir := range []string{own, "."} {
		for cut := strings.LastIndexByte(body, '/'); cut > 0; cut = strings.LastIndexByte(body[:cut], '/') {
			if head := body[:cut]; strings.Trim(head, "./") != "" {
				if p.search.isDir(path.Join(project.Dir(p.path), head)) {
					return named{}, false // it names what is beside it today
				}
				if old := path.Join(dir, head); p.names.folders[old] && (strings.Contains(head, "/") ||
					path.Ext(body) != "" && path.Ext(body) != ".git" || strings.Contains(rest, "*")) &&
					!p.search.Before.IsDir(path.Join(dir, body)) {
					return named{path: old, certain: strings.Contains(head, "/"), base: dir, text: head,
						rest: body[cut:] + rest}, true
				}
			}
		}
	}
	return named{}, false
}

// ending says what of that which moved has a path that ends like the text, or that the text ends with.
func (p *pass) ending(text, body, rest string) (named, bool) {
	for strings.HasPrefix(body, "../") || strings.HasPrefix(body, "./") {
		body = body[strings.IndexByte(body, '/')+1:]
	}
	if body != "" && strings.IndexByte("@~#$", body[0]) >= 0 {
		_, body, _ = strings.Cut(body, "/")
	}
	last := strings.LastIndexByte(body, '/')
	if last <= 0 {
		return named{}, false
	}
	above := body[strings.LastIndexByte(body[:last], '/')+1 : last]
	base := body[last+1:]
	for _, stem := range []string{base, withoutEnding(base)} {
		old, short := p.names.tails[above+"/"+stem].find(body)
		// a name in a package: host.example/a/b.Name
		if host, _, _ := strings.Cut(body, "/"); old == "" && stem != base && strings.Contains(host, ".") {
			if old, short = p.names.tails[above+"/"+stem].find(body[:last+1] + stem); !p.names.folders[old] {
				continue
			}
			rest = base[len(stem):] + rest
		}
		if old == "" {
			continue
		}
		if p.endsSomething(short) {
			return named{}, false
		}
		return named{path: old, text: short, rest: rest, lead: max(0, strings.LastIndex(text, short))}, true
	}
	return named{}, false
}

// stands says whether something is at a path today: a file, one whose ending is left out, or a folder.
func (p *pass) stands(place string) bool {
	if _, ok := p.search.After.Tree.Lookup(place); ok || p.search.isDir(place) {
		return true
	}
	return p.startsFile(place)
}

// startsFile says whether a file is called like a path with an ending.
func (p *pass) startsFile(place string) bool {
	files := p.search.After.Tree.Files
	first, _ := slices.BinarySearchFunc(files, place+".",
		func(f project.File, name string) int { return strings.Compare(f.Path, name) })
	return first < len(files) && strings.HasPrefix(files[first].Path, place+".") &&
		!strings.Contains(files[first].Path[len(place):], "/")
}

// endsSomething says whether a path of today ends so: the text may name that.
func (p *pass) endsSomething(tail string) bool {
	key := tail
	if last := strings.LastIndexByte(tail, '/'); last > 0 {
		key = tail[strings.LastIndexByte(tail[:last], '/')+1:]
	}
	return p.search.tailsToday()[withoutEnding(key)].ends(tail)
}

// moved says what moved from a path, whose ending may be left out.
func (p *pass) moved(place string) (string, bool) {
	if _, ok := p.names.files[place]; ok {
		return place, true
	}
	if p.names.folders[place] {
		return place, true
	}
	old, ok := p.names.stems[place]
	return old, ok
}

// oldFolder is the folder in which the file was.
func (p *pass) oldFolder() string {
	if old := p.search.OldID[p.file]; old != project.None {
		return project.Dir(p.search.Before.Path(old))
	}
	return project.Dir(p.path)
}
