package style

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Family is plain CSS.
func Family() lang.Family {
	return lang.Family{
		Name:     "CSS",
		Reads:    func(p string) bool { return strings.HasSuffix(p, ".css") },
		Scan:     func(_ string, content []byte) ([]lang.Mention, error) { return Scan(content), nil },
		Resolver: func(tree *project.Project) lang.Resolver { return resolver{tree} },
		Encode:   encode,
	}
}

// resolver takes every mention as a path from the style sheet's folder, as browsers do; a bare name that is no file there
// is a package, as bundlers do.
type resolver struct{ tree *project.Project }

func (r resolver) Warnings() []string { return nil }

func (r resolver) Resolve(from project.FileID, m lang.Mention) lang.Target {
	dir := path.Dir(r.tree.Path(from))
	core, _ := split(m.Text)
	p := path.Join(dir, core)
	if id, ok := r.tree.Lookup(p); ok {
		return lang.File(id)
	}
	switch {
	case strings.HasPrefix(p, "../"):
		return lang.No(lang.ToOutside)
	case strings.HasPrefix(m.Text, "."):
		return lang.No(lang.ToNothing)
	}
	return lang.No(lang.ToPackage)
}

func (r resolver) Spell(request lang.Respelling) (lang.Spelling, bool) {
	core, suffix := split(request.Mention.Text)
	if request.Target == project.None {
		return r.keepPlace(request, core, suffix), true
	}
	text := lang.Relative(path.Dir(r.tree.Path(request.From)), r.tree.Path(request.Target))
	if !strings.HasPrefix(core, "./") && !strings.HasPrefix(core, "../") {
		text = strings.TrimPrefix(text, "./")
	}
	m := request.Mention
	if t := r.Resolve(request.From, m); t.File == request.Target {
		return lang.Spelling{Text: m.Text}, true
	}
	m.Text = text + suffix
	t := r.Resolve(request.From, m)
	return lang.Spelling{Text: m.Text}, t.File == request.Target
}

// keepPlace respells a path that leads to no file of the tree, so that it names the same place from the new folder.
func (r resolver) keepPlace(request lang.Respelling, core, suffix string) lang.Spelling {
	old, ok := request.Old.(resolver)
	if !ok || !strings.HasPrefix(core, ".") {
		return lang.Spelling{Text: request.Mention.Text}
	}
	place := path.Join(path.Dir(old.tree.Path(request.OldFrom)), core)
	if strings.HasPrefix(place, "../") {
		return lang.Spelling{Text: request.Mention.Text}
	}
	return lang.Spelling{Text: lang.Relative(path.Dir(r.tree.Path(request.From)), place) + suffix}
}

// split parts a path from its query or fragment.
func split(text string) (core, suffix string) {
	if i := strings.IndexAny(text, "?#"); i > 0 {
		return text[:i], text[i:]
	}
	return text, ""
}

// encode escapes what may not stand in a string, or in a url without quotes (CSS Syntax, section 4.3.6).
func encode(text string, quote byte) string {
	special := "\\\n\"'() \t"
	if quote != 0 {
		special = "\\\n" + string(quote)
	}
	if !strings.ContainsAny(text, special) {
		return text
	}
	var out strings.Builder
	for _, r := range text {
		switch {
		case r == '\n':
			out.WriteString(`\a `)
		case strings.ContainsRune(special, r):
			out.WriteRune('\\')
			out.WriteRune(r)
		default:
			out.WriteRune(r)
		}
	}
	return out.String()
}
