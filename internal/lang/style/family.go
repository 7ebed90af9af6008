package style

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Is says whether a file is a style sheet, by its path.
func Is(path string) bool { _, known := DialectOf(path); return known }

// Family is the style sheets.
func Family() lang.Family {
	return lang.Family{
		Name:   "style sheets",
		InText: lang.BehindQuote,
		Omits:  true,
		Facts: lang.Facts{
			Called:    map[string]string{".css": "CSS", ".scss": "SCSS", ".sass": "Sass", ".less": "Less"},
			Sources:   []string{".css", ".scss", ".less"},
			Unwritten: []string{".css"},
		},
		Reads: Is,
		Scan: func(s lang.Source) (lang.Scanned, error) {
			d, _ := DialectOf(s.As)
			return lang.Scanned{Mentions: Scan(s.Content, d)}, nil
		},
		Rules: Rules,
	}
}

// Resolver finds style sheets: from the style sheet's folder, as browsers and compilers do, then from the load paths,
// then by an alias; a name that is none of these is a package, as bundlers do.
type Resolver struct {
	tree  *lang.Tree
	loads []string // load paths
}

// New makes the resolver of a tree.
func New(tree *lang.Tree) *Resolver {
	r := &Resolver{tree: tree}
	if declared := tree.Declared; declared != nil {
		for _, name := range []string{"css", "sass", "less"} {
			if root, ok := declared.Convention.Roots[name]; ok {
				if declared.After {
					r.loads = append(r.loads, root.Then)
				} else {
					r.loads = append(r.loads, root.Now)
				}
			}
		}
	}
	return r
}

// how says by what a text led to its file.
type how struct {
	load  string // the load path; empty for none
	alias string
	head  string // ~
}

// Resolve implements lang.Resolver.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	t, _ := r.find(from, m)
	return t
}

func (r *Resolver) find(from project.FileID, m *lang.Mention) (lang.Target, how) {
	file := r.tree.Path(from)
	dir := path.Dir(file)
	core, _ := split(m.Text)
	if strings.HasPrefix(core, "/") || strings.HasPrefix(core, "sass:") {
		return lang.No(lang.ToOutside), how{}
	}
	if t, ok := r.load(m.Kind, path.Join(dir, core)); ok {
		return t, how{}
	}
	if !dotted(core) {
		for _, load := range r.loads {
			if t, ok := r.load(m.Kind, path.Join(load, core)); ok {
				return t, how{load: load}
			}
		}
		for _, head := range []string{"", "~"} {
			rest, ok := strings.CutPrefix(core, head)
			if !ok {
				continue
			}
			if p, alias, ok := r.tree.Expand(file, rest); ok {
				if t, ok := r.load(m.Kind, p); ok {
					return t, how{alias: alias, head: head}
				}
			}
		}
		return lang.No(lang.ToPackage), how{}
	}
	if strings.HasPrefix(path.Join(dir, core), "../") {
		return lang.No(lang.ToOutside), how{}
	}
	return lang.No(lang.ToNothing), how{}
}

func dotted(text string) bool { return strings.HasPrefix(text, "./") || strings.HasPrefix(text, "../") }

// load finds the sheet for a path: the file itself, or for the preprocessors with its ending added, as a partial, or as
// a folder's index (Sass documentation, @use, sections Partials and Index Files; Less documentation, File Extensions).
func (r *Resolver) load(kind *lang.Kind, p string) (lang.Target, bool) {
	switch kind {
	case SassImport:
		for _, stem := range []string{p, p + "/index"} {
			for _, ending := range []string{"", ".scss", ".sass", ".css"} {
				if ending == "" && stem != p {
					continue
				}
				for _, name := range []string{path.Base(stem) + ending, "_" + path.Base(stem) + ending} {
					if id, ok := r.tree.Lookup(path.Join(path.Dir(stem), name)); ok {
						return lang.File(id), true
					}
				}
			}
		}
		return lang.Target{}, false
	case LessImport:
		if path.Ext(p) != ".less" && path.Ext(p) != ".css" {
			if id, ok := r.tree.Lookup(p + ".less"); ok {
				return lang.File(id), true
			}
		}
	}
	id, ok := r.tree.Lookup(p)
	return lang.File(id), ok
}

// Spell implements lang.Resolver.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return lang.Spelling{}, false
	}
	core, suffix := split(q.Mention.Text)
	if q.Target.Kind != lang.ToFile {
		return old.keepPlace(r, q, core, suffix), true
	}
	leads := func(text string) bool {
		m := *q.Mention
		m.Text = text
		t := r.Resolve(q.From, &m)
		return t.Kind == lang.ToFile && t.File == q.Target.File
	}
	if leads(q.Mention.Text) {
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	before, how := old.find(q.OldFrom, q.Mention)
	if before.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	target := r.tree.Path(q.Target.File)
	for _, p := range forms(core, old.tree.Path(before.File), target) {
		for _, s := range r.manners(q, how, core, p) {
			s.Text += suffix
			if leads(s.Text) {
				return s, true
			}
		}
	}
	return lang.Spelling{}, false
}

// manners writes a path from the file's folder, a load path or an alias, the old way first.
func (r *Resolver) manners(q lang.Respelling, how how, core, p string) []lang.Spelling {
	from := r.tree.Path(q.From)
	var out []lang.Spelling
	if how.load != "" {
		for _, load := range r.loads {
			if rest, ok := strings.CutPrefix(p, load+"/"); ok || load == "." {
				if load == "." {
					rest = p
				}
				out = append(out, lang.Spelling{Text: rest})
			}
		}
	}
	if how.alias != "" {
		if text, ok := r.tree.Contract(from, p, how.alias); ok {
			out = append(out, lang.Spelling{Text: how.head + text})
		}
	}
	rel := lang.Relative(path.Dir(from), p)
	if !dotted(core) && how.alias == "" {
		out = append(out, lang.Spelling{Text: strings.TrimPrefix(rel, "./")})
	}
	remark := ""
	if how.load != "" || how.alias != "" {
		remark = "no name leads there any more, so a relative path is used"
	}
	return append(out, lang.Spelling{Text: rel, Remark: remark})
}

// forms gives the ways to write a target's end: with what the old text left out of the old one left out, then whole.
func forms(core, old, target string) []string {
	tail := path.Base(core)
	ext := path.Ext(target)
	bare := strings.TrimSuffix(target, ext)
	dir, name := path.Split(bare)
	plain := dir + strings.TrimPrefix(name, "_")
	oldName := strings.TrimSuffix(path.Base(old), path.Ext(old))
	withEnding := path.Ext(tail) == path.Ext(old) && path.Ext(old) != ""
	var out []string
	switch {
	case withEnding && strings.HasPrefix(tail, "_") == strings.HasPrefix(path.Base(old), "_"):
		out = []string{target}
	case withEnding:
		out = []string{plain + ext}
	case tail == oldName:
		out = []string{bare}
	case tail == strings.TrimPrefix(oldName, "_"):
		out = []string{plain}
	case strings.TrimPrefix(name, "_") == "index": // the folder's name stands for its index
		out = []string{strings.TrimSuffix(dir, "/"), plain}
	default:
		out = []string{plain}
	}
	return append(out, bare, target)
}

// keepPlace respells a path that leads to no file of the tree, so that it names the same place from the new folder.
func (r *Resolver) keepPlace(next *Resolver, q lang.Respelling, core, suffix string) lang.Spelling {
	if !dotted(core) {
		return lang.Spelling{Text: q.Mention.Text}
	}
	place := path.Join(path.Dir(r.tree.Path(q.OldFrom)), core)
	if strings.HasPrefix(place, "../") {
		return lang.Spelling{Text: q.Mention.Text}
	}
	return lang.Spelling{Text: lang.Relative(path.Dir(next.tree.Path(q.From)), place) + suffix}
}

// split parts a path from its query or fragment.
func split(text string) (core, suffix string) {
	if i := strings.IndexAny(text, "?#"); i > 0 {
		return text[:i], text[i:]
	}
	return text, ""
}
