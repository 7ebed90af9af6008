package ruby

import (
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Resolver answers for one tree.
type Resolver struct {
	tree    *lang.Tree
	any     bool // the tree has Ruby
	ix      index
	table   table
	inflect inflections
	frame   framework
	unknown []unknownLoader
	extra   []string // folders that programs add to those of require

	elsewhere sync.Map // files that are required from other libraries, by their texts
	modules   sync.Map // the files whose constants stand in a module, by its name

	helpersOnce sync.Once
	helpersOwn  bool

	underOnce sync.Once
	under     *Resolver // of the tree before all moves
}

// New makes what answers for a tree.
func New(tree *lang.Tree) *Resolver {
	return &Resolver{tree: tree,
		any: slices.ContainsFunc(tree.Files, func(f project.File) bool { return isRuby(f.Path) })}
}

// own is what only Ruby knows of a mention.
type own struct {
	text  string // of a constant: all of it
	space int    // the module that it stands in, or that module alone
	at    int    // of the file's own constant
	expr  *pathExpr
	call  *call
	route route
	view  view
	lazy  *rbText
}

// Resolve says where a mention leads.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	r.index()
	r.framework()
	o := lang.Own[own](m)
	p := r.tree.Path(from)
	e := r.ix.files[from]
	switch m.Kind {
	case Require:
		if id, there := r.required(p, m.Text); there {
			return lang.File(id)
		}
		return lang.No(lang.ToPackage)
	case RequireRelative:
		return r.relative(p, m.Text)
	case Autoload:
		if e == nil || o.call == nil {
			return lang.No(lang.ToOutside)
		}
		return r.autoloaded(e, o.call, m.Text)
	case Name, Again, Foreign:
		if e == nil {
			return lang.No(lang.ToOutside)
		}
		parts, _ := partsOf(o.text)
		if now := r.means(e, o.text, o.space); now.parts == len(parts) {
			return r.target(now.full)
		}
		return lang.No(lang.ToNothing)
	case Opened:
		if e != nil && o.at < len(e.spaces) {
			return r.target(e.spaces[o.at])
		}
	case OwnName:
		if e != nil && e.label != nil && m.Text == e.wants {
			return lang.File(from)
		}
		return lang.No(lang.ToNothing)
	case ClassText, ClassWord:
		return r.target(r.named(e, m.Text, o.space))
	case Head:
		return setOf(r.tree, r.inModule(r.named(e, m.Text, 0)))
	case FilePath, LoadPath, OpenPath:
		if o.expr == nil || e == nil {
			return lang.No(lang.ToOutside)
		}
		return r.resolvePath(from, e, o.expr)
	case Route:
		if e != nil && o.route.text != nil {
			if id, there := r.routed(e, o.route, m.Text); there {
				return lang.File(id)
			}
		}
		return lang.No(lang.ToNothing)
	case Helper:
		return r.target(r.helper(m.Text))
	case View:
		if e != nil && o.view.text != nil {
			return setOf(r.tree, r.viewed(e, o.view, m.Text))
		}
	case LazyText:
		if e != nil && o.lazy != nil {
			return setOf(r.tree, r.translated(r.textKey(e, o.lazy, m.Text)))
		}
	}
	return lang.No(lang.ToOutside)
}

// setOf is the target of some files.
func setOf(tree *lang.Tree, ids []project.FileID) lang.Target {
	switch len(ids) {
	case 0:
		return lang.No(lang.ToNothing)
	case 1:
		return lang.File(ids[0])
	}
	return lang.Set(project.Dir(tree.Path(ids[0])), ids)
}

// named is the constant in full that a text names: from where the text stands, or from the top.
func (r *Resolver) named(e *entry, text string, space int) string {
	parts, _ := partsOf(text)
	m := meaning{}
	if e != nil {
		m = r.means(e, text, space)
	} else if r.exists(parts[0]) {
		m.full, m.parts = parts[0], 1
		for _, part := range parts[1:] {
			if !r.exists(join(m.full, part)) {
				return ""
			}
			m.full = join(m.full, part)
			m.parts++
		}
	}
	if m.parts < len(parts) {
		return ""
	}
	return m.full
}

// target is where a constant is declared.
func (r *Resolver) target(full string) lang.Target {
	if full == "" {
		return lang.No(lang.ToPackage)
	}
	ids := r.declaredBy(full)
	if len(ids) == 0 {
		return lang.No(lang.ToPackage)
	}
	slices.Sort(ids)
	return setOf(r.tree, ids)
}

// relative is the file that a text names from the folder of another.
func (r *Resolver) relative(from, text string) lang.Target {
	p := path.Join(path.Dir(from), text)
	if path.Ext(p) != ".rb" {
		p += ".rb"
	}
	if id, there := r.tree.Lookup(p); there {
		return lang.File(id)
	}
	if lang.Leaves(p) {
		return lang.No(lang.ToOutside)
	}
	return lang.No(lang.ToNothing)
}

// autoloaded is the file that autoload :A, 'a' names, or autoload :A by the names of the modules around.
func (r *Resolver) autoloaded(e *entry, c *call, raw string) lang.Target {
	name, given := autoloadPath(raw)
	if given == "" {
		given = r.inflect.underscore(join(e.spaces[c.space], name))
		switch {
		case c.whole:
			given = c.under
		case c.under != "":
			given = path.Join(path.Dir(given), c.under, path.Base(given))
		}
	}
	if id, there := r.required(e.path, given); there {
		return lang.File(id)
	}
	return lang.No(lang.ToPackage)
}

// quoted puts a text in quotes, in the manner of the file.
func (e *entry) quoted(text string) string {
	single := 0
	for i := range e.texts {
		switch e.texts[i].quote {
		case '\'':
			single++
		case '"':
			single--
		}
	}
	if single >= 0 {
		return "'" + text + "'"
	}
	return `"` + text + `"`
}

// autoloadPath takes A, 'a' apart.
func autoloadPath(raw string) (name, given string) {
	name, rest, more := strings.Cut(raw, ",")
	if !more {
		return name, ""
	}
	rest = strings.TrimSpace(rest)
	return strings.Trim(name, `"' `), strings.Trim(rest, `"'`)
}

// Expects gives the path of a file that must be there for a program to load.
func (r *Resolver) Expects(from project.FileID, m *lang.Mention) []string {
	if m.Kind != RequireRelative {
		return nil
	}
	return []string{path.Join(path.Dir(r.tree.Path(from)), m.Text) + ".rb"}
}

// Asks says whether a file is looked at for names: where the tree has Ruby.
func (r *Resolver) Asks(project.FileID, []lang.Mention, []lang.Target) bool { return r.any }

// Second finds the constants and the paths that a file names.
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	r.index()
	e := r.ix.files[from]
	if e == nil {
		return r.wordsIn(from, content)
	}
	if isStored(e.path) {
		return nil
	}
	var out []lang.Mention
	add := func(at source.Span, text string, kind *lang.Kind, o own) *lang.Mention {
		out = append(out, lang.Mention{Span: at, Text: text, Kind: kind, Form: lang.Plain, Detail: &lang.Detail{Own: o}})
		return &out[len(out)-1]
	}
	if e.label != nil {
		at := source.Span{}
		if e.label.at < 0 {
			at = e.file.values[-1-e.label.at].at
		} else {
			at = e.file.spaces[e.label.at].at
		}
		add(at, e.definedName(), OwnName, own{at: e.label.at})
	} else if e.wants != "" { // another one than its path says
		for i := 1; i < len(e.spaces); i++ {
			if s := &e.file.spaces[i]; s.name != "" && (s.more || s.class) {
				if t := r.target(e.spaces[i]); t.Kind == lang.ToFile && t.File != from { // it adds to another file's
					continue
				}
				add(s.at, e.file.written(i), OwnName, own{at: i})
				break
			}
		}
	}
	r.framework()
	out = r.callsOf(e, content, out)
	out = r.routesOf(e, content, out)
	out = r.viewsOf(e, content, out)
	out = r.pathsOf(from, e, content, out)
	for i := 1; i < len(e.spaces); i++ {
		if e.spaces[i] == "" || e.surrounds(i) {
			continue
		}
		if t := r.target(e.spaces[i]); t.Kind == lang.ToFile && t.File != from && r.ix.files[t.File].wants == e.spaces[i] {
			add(e.file.spaces[i].at, e.file.spaces[i].name, Opened, own{at: i})
		}
	}
	brought := map[project.FileID]bool{}
	for i := range e.uses {
		u := &e.uses[i]
		m := r.means(e, u.text, int(u.space))
		if m.full == "" {
			continue
		}
		t := r.target(m.full)
		if !t.Kind.Inside() || t.Kind == lang.ToFile && t.File == from || e.ownHead(u) {
			continue
		}
		kind := Again
		if t.Kind == lang.ToFile && !brought[t.File] {
			kind = Name
			brought[t.File] = true
		}
		text := firstParts(u.text, m.parts)
		one := add(source.Span{Start: u.at.Start, End: u.at.Start + lengthOf(content, u.at, text)}, text, kind,
			own{text: text, space: int(u.space)})
		one.Deferred = u.late
	}
	out = r.headsOf(e, content, r.textsIn(from, e, content, out))
	slices.SortStableFunc(out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return lang.InOrder(out)
}

// surrounds says whether a module is what a file is found by, or stands around that.
func (e *entry) surrounds(space int) bool {
	if e.label == nil {
		return false
	}
	at := e.label.at
	if at < 0 {
		at = e.file.values[-1-at].space
	}
	for ; at > 0; at = e.file.spaces[at].owner {
		if at == space {
			return true
		}
	}
	return false
}

// ownHead says whether a use is the beginning of the name that a file is found by.
func (e *entry) ownHead(u *use) bool {
	if u.opens > 0 {
		return e.surrounds(int(u.opens))
	}
	return e.label != nil && e.label.at < 0 && e.file.values[-1-e.label.at].at.Start == u.at.Start
}

// definedName is the constant in full by which a file is found, as its text has it.
func (e *entry) definedName() string {
	if e.label.at < 0 {
		return e.file.writtenValue(-1 - e.label.at)
	}
	return e.file.written(e.label.at)
}

// firstParts are the first parts of a name, with the :: that it may begin with.
func firstParts(name string, n int) string {
	at := 0
	if strings.HasPrefix(name, "::") {
		at = 2
	}
	for ; n > 0; n-- {
		next := strings.Index(name[at:], "::")
		if next < 0 {
			return name
		}
		at += next + 2
	}
	return name[:at-2]
}

// lengthOf is how many bytes of a place a name has there: blanks may stand in it.
func lengthOf(content []byte, at source.Span, text string) int {
	i, k := at.Start, 0
	for k < len(text) && i < at.End {
		if content[i] == text[k] {
			k++
		}
		i++
	}
	return i - at.Start
}

// callsOf finds the files that a file requires.
func (r *Resolver) callsOf(e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.calls {
		c := &e.calls[i]
		m := lang.Mention{Span: c.at, Text: unquoted(content[c.at.Start:c.at.End], c.quote), Form: lang.InScript, Quote: c.quote,
			Deferred: c.late, Kind: Require}
		switch {
		case c.method == "autoload":
			m.Kind, m.Deferred = Autoload, true
			m.Detail = &lang.Detail{Own: own{call: c}}
			m.Span.Start, m.Form, m.Quote = c.named, lang.Plain, 0
			if !c.bare {
				m.Span.End++ // with the quote
			}
			m.Text = string(content[m.Span.Start:m.Span.End])
		case c.method == "require_relative", c.method == "import":
			m.Kind = RequireRelative
			if c.method == "import" && path.Ext(c.textIn(content)) != ".rb" {
				m.Kind = paths.Text
				m.Likely, m.Evident = true, true
			}
		}
		out = append(out, m)
	}
	return out
}

func (c *call) textIn(content []byte) string { return string(content[c.at.Start:c.at.End]) }

// Spell writes a mention anew, so that it leads to a place of this resolver's tree.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	m := q.Mention
	old, ok := q.Old.(*Resolver)
	if !ok {
		return lang.Spelling{}, false
	}
	old.index()
	r.index()
	from := r.tree.Path(q.From)
	switch m.Kind {
	case Require, Autoload:
		if q.Target.Kind != lang.ToFile {
			return lang.Spelling{Text: m.Text}, true
		}
		was := m.Text
		if m.Kind == Autoload {
			name, given := autoloadPath(m.Text)
			if c := lang.Own[own](m).call; r.autoloaded(r.ix.files[q.From], c, m.Text).Equal(q.Target) {
				return lang.Spelling{Text: m.Text}, true
			} else if r.autoloaded(r.ix.files[q.From], c, name).Equal(q.Target) {
				return lang.Spelling{Text: name}, true
			}
			was = given
		}
		text, ok := r.requireText(from, was, r.tree.Path(q.Target.File), old.rootOf(old.tree.Path(q.OldFrom), was))
		if !ok {
			return lang.Spelling{}, false
		}
		if m.Kind == Autoload {
			if at := strings.LastIndex(m.Text[:max(0, len(m.Text)-1)], string(m.Text[len(m.Text)-1])); was != "" && at >= 0 {
				return lang.Spelling{Text: m.Text[:at+1] + text + m.Text[len(m.Text)-1:]}, true
			}
			return lang.Spelling{Text: m.Text + ", " + r.ix.files[q.From].quoted(text)}, true
		}
		return lang.Spelling{Text: text}, true
	case RequireRelative:
		if q.Target.Kind != lang.ToFile {
			return lang.Spelling{Text: m.Text}, true
		}
		text := lang.Relative(path.Dir(from), r.tree.Path(q.Target.File))
		if !strings.HasPrefix(m.Text, "./") {
			text = strings.TrimPrefix(text, "./")
		}
		if path.Ext(m.Text) != ".rb" {
			text = strings.TrimSuffix(text, ".rb")
		}
		return lang.Spelling{Text: text}, true
	case ClassText, ClassWord:
		return r.spellText(q, old)
	case Head:
		return r.spellHead(q, old)
	case FilePath, LoadPath, OpenPath:
		return r.spellPath(q, old)
	case Route:
		return r.spellRoute(q)
	case Helper:
		return r.spellHelper(q, old)
	case View:
		return r.spellView(q)
	case LazyText:
		if e := old.ix.files[q.OldFrom]; e != nil {
			old.framework()
			key := old.textKey(e, lang.Own[own](m).lazy, m.Text)
			if now := r.ix.files[q.From]; now != nil && key == r.textKey(now, lang.Own[own](m).lazy, m.Text) {
				key = m.Text
			}
			return lang.Spelling{Text: key}, key != ""
		}
	}
	return lang.Spelling{}, false
}

// rootOf is the folder in which a required file was found; empty for none.
func (r *Resolver) rootOf(from, text string) string {
	id, there := r.required(from, text)
	if !there {
		return ""
	}
	for _, dir := range r.requiresFrom(from) {
		p := path.Join(dir, text)
		if path.Ext(p) != ".rb" {
			p += ".rb"
		}
		if p == r.tree.Path(id) {
			return dir
		}
	}
	return ""
}

// requireText is the text by which a file requires another.
func (r *Resolver) requireText(from, old, to, root string) (string, bool) {
	dirs := r.requiresFrom(from)
	if slices.Contains(dirs, root) {
		dirs = append([]string{root}, dirs...)
	}
	own := r.table.unitOf(from)
	for _, dir := range dirs {
		if !within(to, dir) || own != nil && dir == own.dir && root != own.dir {
			continue
		}
		text := below(to, dir)
		if path.Ext(old) != ".rb" {
			text = strings.TrimSuffix(text, ".rb")
		}
		if id, there := r.required(from, text); there && r.tree.Path(id) == to {
			return text, true
		}
	}
	return "", false
}
