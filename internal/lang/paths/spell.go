package paths

import (
	"net/url"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// Spell implements lang.Resolver: it writes candidates in the manner of the old text and takes the first that this tree
// resolves to the target.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return lang.Spelling{}, false
	}
	if !q.Target.Kind.Inside() {
		return lang.Spelling{Text: r.keepPlace(old, q)}, true
	}
	if !q.Fails && r.leadsTo(q, q.Mention.Text) {
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	_, how := old.find(q.OldFrom, q.Mention)
	w := how.written
	if how.path == "" { // it led nowhere: an alias that is to be defined
		w = takeApart(q.Mention)
	}
	target := strings.TrimSuffix(r.place(q.Target), how.ending)
	for _, c := range r.candidates(q, how.reading, w, target) {
		text := c.Text
		if strings.HasSuffix(w.core, "/") && text != "/" && !strings.HasSuffix(text, "/") {
			text += "/"
		}
		if q.Mention.Kind == Link {
			if strings.Contains(q.Mention.Text, "%") {
				text = (&url.URL{Path: text}).EscapedPath()
			}
			if lang.IsRelative(w.core) || !strings.Contains(text, ":") {
				text = strings.TrimPrefix(text, "./")
				if strings.HasPrefix(w.core, "./") && !strings.HasPrefix(text, ".") {
					text = "./" + text
				}
			}
		}
		c.Text = how.reading.head + join(text, w.pattern) + w.tail
		if w.back {
			c.Text = strings.ReplaceAll(c.Text, "/", `\`)
		}
		if r.leadsTo(q, c.Text) {
			return c, true
		}
	}
	return lang.Spelling{}, false
}

// join puts the rest of a pattern behind its folder.
func join(folder, pattern string) string {
	switch {
	case pattern == "":
		return folder
	case strings.HasPrefix(pattern, "/"):
		return strings.TrimSuffix(folder, "/") + pattern
	case folder == "" || folder == ".":
		return pattern
	}
	return strings.TrimSuffix(folder, "/") + "/" + pattern
}

// place is the path of a target.
func (r *Resolver) place(t lang.Target) string {
	if t.Kind == lang.ToFile {
		return r.tree.Path(t.File)
	}
	return t.Folder()
}

func (r *Resolver) candidates(q lang.Respelling, how reading, w written, target string) []lang.Spelling {
	from := r.tree.Path(q.From)
	dir := ownFolder(from, q.Mention)
	var out []lang.Spelling
	add := func(text, remark string) { out = append(out, lang.Spelling{Text: text, Remark: remark}) }
	rel := func(base string) string {
		text := lang.Relative(base, target)
		if !lang.IsRelative(w.core) || w.core == "." && w.pattern != "" && w.pattern[0] != '/' {
			text = strings.TrimPrefix(text, "./")
		}
		return text
	}
	switch how.manner {
	case fromFile:
		if how.head != "" && strings.HasSuffix(how.head, "/") {
			add(strings.TrimPrefix(lang.Relative(dir, target), "./"), "")
			break
		}
		add(rel(dir), "")
	case fromParent:
		// from where it was read
		if how.base != "" && r.tree.IsDir(how.base) && below(how.base, target) && how.base != dir {
			add(rel(how.base), "")
		}
		if base := r.tree.Base(from, q.Mention); settingKind(q.Mention.Kind) {
			add(rel(base), "")
		}
		for up := dir; ; up = path.Dir(up) {
			if below(up, target) {
				add(strings.TrimPrefix(lang.Relative(up, target), "./"), "")
			}
			if up == "." {
				break
			}
		}
		add(rel(dir), "")
	case fromDocuments:
		if root, ok := r.documentation(from); ok && below(root, target) {
			add(strings.TrimPrefix(lang.Relative(root, target), "./"), "")
		}
	case fromWork, fromRoot:
		bases := []string{r.work(from), "."}
		if how.manner == fromRoot {
			slices.Reverse(bases)
		}
		for _, b := range bases {
			if strings.HasSuffix(how.head, "/") {
				add(strings.TrimPrefix(lang.Relative(b, target), "./"), "")
			} else {
				add(rel(b), "")
			}
		}
	case fromPublic:
		for _, p := range r.public {
			if below(p.folder, target) {
				add(p.at+strings.TrimPrefix(lang.Relative(p.folder, target), "./"), "")
			}
		}
	case byAlias:
		if text, ok := r.tree.Contract(from, target, how.alias); ok {
			add(text, "")
		}
		const remark = "no name leads there any more, so a path is used"
		if settingKind(q.Mention.Kind) {
			add(lang.Relative(r.tree.Base(from, q.Mention), target), remark)
		}
		add(lang.Relative(dir, target), remark)
	}
	return out
}

func settingKind(k *lang.Kind) bool {
	switch k {
	case Setting, SettingGlob, AliasTarget, IgnorePattern, SettingWord:
		return true
	}
	return false
}

func below(dir, p string) bool { return dir == "." || p == dir || strings.HasPrefix(p, dir+"/") }

// keepPlace respells a path that leads to no part of the tree, so that it names the same place from the file's new
// folder, and the new one of what goes with a folder that moves.
func (r *Resolver) keepPlace(old *Resolver, q lang.Respelling) string {
	m := q.Mention
	w := takeApart(m)
	if q.Before.Kind == lang.ToPackage || w.pattern != "" && w.core == "." {
		return m.Text
	}
	if text, ok := r.gone(old, q, w); ok {
		return text
	}
	if m.Likely || !lang.IsRelative(w.core) {
		return m.Text
	}
	switch m.Kind {
	case WorkPath, FolderReadWork, SettingWord, Text:
		return m.Text
	}
	from, to := path.Dir(old.tree.Path(q.OldFrom)), path.Dir(r.tree.Path(q.From))
	place := path.Join(from, w.core)
	if lang.Leaves(place) || from == to {
		return m.Text
	}
	text := lang.Relative(to, place)
	if strings.HasSuffix(w.core, "/") {
		text += "/"
	}
	return w.head + join(text, w.pattern) + w.tail
}

// gone writes the path of what is no part of the tree, or not yet, and lies in a folder that moves: a file that a
// program writes.
func (r *Resolver) gone(old *Resolver, q lang.Respelling, w written) (string, bool) {
	if q.Goes == nil || !strings.Contains(strings.TrimSuffix(w.core, "/"), "/") ||
		q.Mention.Likely && q.Mention.Kind == Text && !q.Mention.Evident {
		return "", false
	}
	for _, read := range old.readings(old.tree.Path(q.OldFrom), q.Mention, w) {
		goes := q.Goes(read.path)
		if goes == read.path {
			continue
		}
		for _, now := range r.readings(r.tree.Path(q.From), q.Mention, w) {
			if now.path == goes {
				return q.Mention.Text, true
			}
		}
		for _, c := range r.candidates(q, read, w, goes) {
			text := c.Text
			if strings.HasSuffix(w.core, "/") && !strings.HasSuffix(text, "/") {
				text += "/"
			}
			return read.head + join(text, w.pattern) + w.tail, true
		}
	}
	return "", false
}

func (r *Resolver) leadsTo(q lang.Respelling, text string) bool {
	m := *q.Mention
	m.Text = text
	if m.Likely && m.Kind == Text && !Segments(text) {
		return false
	}
	return r.Resolve(q.From, &m).Equal(q.Target)
}
