package paths

import (
	"net/url"
	"path"
	"strings"

	"crookedshelf/internal/lang"
)

// reading is one way to read a text: the path that it names, and what it is read from.
type reading struct {
	path   string // from the root
	base   string // the folder that the text is relative to
	manner manner
	alias  string // the pattern of the alias that was used
	head   string // what stands before the path in the text: <rootDir>/, !
}

// manner is what a text is read from.
type manner uint8

const (
	fromFile      manner = iota // the file's own folder
	fromParent                  // a folder above the file
	fromWork                    // the folder of the nearest package, in which programs are started
	fromRoot                    // the project's root
	fromPublic                  // the address of a public folder
	fromDocuments               // the folder in which the documents of a project lie
	byAlias
)

// written is a text taken apart: what stands before the path, the path, and what stands behind it.
type written struct {
	head, core, tail string
	back             bool   // folders are parted by backslashes
	pattern          string // the rest of a pattern, from its first segment that is not fixed; with its slash
}

func takeApart(m *lang.Mention) written {
	w := written{core: m.Text}
	switch m.Kind {
	case Asset, StyleAsset, Link, ModuleURL, Text, Include:
		if i := strings.IndexAny(w.core, "?#"); i > 0 {
			w.core, w.tail = w.core[:i], w.core[i:]
		}
		if m.Kind == Link {
			if plain, err := url.PathUnescape(w.core); err == nil {
				w.core = plain
			}
		}
	case SettingGlob, ImportGlob, IgnorePattern, AliasTarget:
		if strings.HasPrefix(w.core, "!") {
			w.head, w.core = "!", w.core[1:]
		}
	}
	if m.Kind.Is(lang.Configures) {
		w.core, w.back = lang.Slashed(w.core)
	}
	head, rest := Head(w.core)
	w.head, w.core = w.head+head, rest
	if patterned(m.Kind) {
		w.core, w.pattern = splitPattern(w.core)
	}
	return w
}

func patterned(k *lang.Kind) bool {
	switch k {
	case SettingGlob, ImportGlob, IgnorePattern, AliasTarget, TextGlob:
		return true
	}
	return false
}

// splitPattern parts a pattern into its fixed folder and the rest. A pattern whose first segment is not fixed has the
// folder it is read from.
func splitPattern(text string) (fixed, rest string) {
	special := strings.IndexAny(text, "*?[{$(")
	if special < 0 {
		return text, ""
	}
	slash := strings.LastIndexByte(text[:special], '/')
	if slash < 0 {
		return ".", text
	}
	if slash == 0 {
		return "/", text
	}
	return text[:slash], text[slash:]
}

// ownFolder is the folder of a file, or the one above it that a path counts from.
func ownFolder(from string, m *lang.Mention) string {
	dir := path.Dir(from)
	for up := 0; up < detail(m).Up; up++ {
		dir = path.Dir(dir)
	}
	return dir
}

// readings gives the ways to read a mention of a file, the first that leads somewhere counts.
func (r *Resolver) readings(from string, m *lang.Mention, w written) []reading {
	dir := ownFolder(from, m)
	core := w.core
	var out []reading
	add := func(base string, manner manner) {
		if p := path.Join(base, core); !lang.Leaves(p) {
			out = append(out, reading{path: p, base: base, manner: manner, head: w.head})
		}
	}
	if w.head != "" && w.head != "!" {
		if FromRoot(w.head) {
			add(".", fromRoot)
		} else {
			add(dir, fromFile)
		}
		return out
	}
	if strings.HasPrefix(core, "/") {
		return r.absolute(from, m, w)
	}
	switch m.Kind {
	case Setting, SettingGlob, SettingWord, Asset, Text, ImportGlob, ImportFolder, StyleAsset:
		if p, alias, ok := r.tree.Expand(from, core); ok {
			out = append(out, reading{path: p, manner: byAlias, alias: alias, head: w.head})
		} else if rest, tilde := strings.CutPrefix(core, "~"); tilde { // bundlers' mark for a name that is no path
			if p, alias, ok := r.tree.Expand(from, rest); ok {
				out = append(out, reading{path: p, manner: byAlias, alias: alias, head: w.head + "~"})
			}
		}
	}
	switch m.Kind {
	case FilePath, FolderRead, ModuleURL, Link, Asset, StyleAsset, ImportGlob, ImportFolder:
		add(dir, fromFile)
	case AliasTarget, Setting, SettingGlob, IgnorePattern:
		if base := r.tree.Base(from, m); base != dir {
			add(base, fromParent)
		} else {
			add(dir, fromFile)
		}
		if m.Likely || m.Must() { // a container is often built from the top
			r.above(from, add)
		}
	case SettingWord, CodeSpan:
		add(dir, fromFile)
		r.above(from, add)
	case Include:
		add(dir, fromFile)
		for up := dir; up != "."; {
			up = path.Dir(up)
			add(up, fromParent)
		}
	case WorkPath, FolderReadWork:
		add(r.work(from), fromWork)
		if lang.IsRelative(core) || m.Likely {
			add(dir, fromFile)
		}
	case Text, TextGlob:
		if lang.IsRelative(core) || m.Kind == TextGlob && m.Evident {
			add(dir, fromFile)
		}
		if !strings.HasPrefix(core, "../") {
			r.above(from, add)
		}
	}
	return out
}

// above adds the folder of the nearest package and the root.
func (r *Resolver) above(from string, add func(string, manner)) {
	work := r.work(from)
	add(work, fromWork)
	if work != "." {
		add(".", fromRoot)
	}
}

// absolute reads a text that begins with a slash: as an address of a public folder, or from the root.
func (r *Resolver) absolute(from string, m *lang.Mention, w written) []reading {
	var out []reading
	core := strings.TrimPrefix(w.core, "/")
	switch m.Kind {
	case Asset, StyleAsset, Text, Link, ModuleURL:
		for _, p := range r.public {
			if rest, ok := strings.CutPrefix("/"+core, p.at); ok && (rest != "" || m.Kind != Text) {
				out = append(out, reading{path: path.Join(p.folder, rest), base: p.folder, manner: fromPublic,
					head: w.head})
			}
		}
		if m.Kind == Text || core == "" || m.Kind != Link && !r.hasPage(r.work(from)) {
			return out
		}
	}
	switch m.Kind {
	case IgnorePattern:
		base := r.tree.Base(from, m)
		out = append(out, reading{path: path.Join(base, core), base: base, manner: fromParent, head: w.head + "/"})
		return out
	case SettingWord, CodeSpan:
		return out
	case Include:
		if root, ok := r.documentation(from); ok {
			return append(out, reading{path: path.Join(root, core), base: root, manner: fromDocuments, head: "/"})
		}
		for up := path.Dir(from); ; up = path.Dir(up) {
			out = append(out, reading{path: path.Join(up, core), base: up, manner: fromParent, head: "/"})
			if up == "." {
				return out
			}
		}
	}
	bases := []string{r.work(from)}
	if bases[0] != "." {
		bases = append(bases, ".")
	}
	for _, b := range bases {
		out = append(out, reading{path: path.Join(b, core), base: b, manner: fromWork, head: w.head + "/"})
	}
	return out
}

// documentation is the folder that paths in reStructuredText with a slash in front begin at: the nearest above with the
// settings of its builder (www.sphinx-doc.org/en/master/usage/restructuredtext/roles.html#role-doc).
func (r *Resolver) documentation(from string) (string, bool) {
	for dir := path.Dir(from); path.Ext(from) == ".rst"; dir = path.Dir(dir) {
		if _, ok := r.tree.Lookup(path.Join(dir, "conf.py")); ok {
			return dir, true
		}
		if dir == "." {
			break
		}
	}
	return "", false
}

// hasPage says whether a folder holds the page that a bundler starts from: then addresses may be paths from that
// folder. Elsewhere an address is what a server makes of it, and only a public folder tells.
func (r *Resolver) hasPage(dir string) bool {
	_, ok := r.tree.Lookup(path.Join(dir, "index.html"))
	return ok
}

// work is the folder in which programs are started: that of the nearest package.
func (r *Resolver) work(from string) string {
	for dir := path.Dir(from); ; dir = path.Dir(dir) {
		if r.packages[dir] || dir == "." {
			return dir
		}
	}
}
