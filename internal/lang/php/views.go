package php

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file reads names of views and templates: with dots and without an ending (view('nights.show')), and with slashes
// and an ending (render('nights/show.html.twig')). Both count from folders that a framework's settings name.

// viewName is a string that may be the name of a view.
type viewName struct {
	at    source.Span // inside the quotes, or of what stands behind <x-
	text  string
	quote byte
	tag   bool // an element: <x-sky.chart>
	// config: it is a key of settings, config('app.name'), whose first part is the name of a file
	config bool
	loose  bool // it is no argument of a call that draws a view, and may be anything
}

// viewCalls are calls of which an argument is the name of a view, without what they are called on.
var viewCalls = words(`view ->view ->make ->first ->exists ->markdown ->text ->each ->composer ->creator ->renderWhen
	->include ->extend ->render`)

// isDotted says whether a text looks like the name of a view: names with a dot or a slash between; ns::a.b too.
func isDotted(text []byte) bool {
	open := true // a name must begin
	for i, c := range text {
		switch {
		case continues(c) && c < 0x80 || c == '-':
			open = false
		case open:
			return false
		case c == '.' || c == '/':
			open = true
		case c == ':' && i+1 < len(text) && text[i+1] == ':':
		case c == ':' && text[i-1] == ':':
			open = true
		default:
			return false
		}
	}
	return !open
}

// view notes a string that may be the name of a view or of a template.
func (p *parser) view(raw []byte, at source.Span, quote byte) {
	if bytes.HasSuffix(raw, []byte(templateEnding)) {
		p.f.views = append(p.f.views, viewName{at: at, text: string(raw), quote: quote})
		return
	}
	l := p.list()
	if n := len(p.brackets); n > 1 && l.closes == ']' && l.list == anyList { // one of several: first(['a.b', 'c.d'])
		l = &p.brackets[n-2]
	}
	if l != nil && l.items == 0 && l.closes == ')' && p.callOf(l) == "config" && isDotted(raw) {
		p.f.views = append(p.f.views, viewName{at: at, text: string(raw), quote: quote, config: true})
		return
	}
	named := l != nil && l.items < 2 && viewCalls.has([]byte(p.callOf(l)))
	if (named || bytes.IndexByte(raw, '.') > 0) && len(raw) < longestName && isDotted(raw) {
		p.f.views = append(p.f.views, viewName{at: at, text: string(raw), quote: quote, loose: !named})
	}
}

// templateEnding is how the names of templates end that are written with slashes.
const templateEnding = ".twig"

// directive is a word of a view that other views are named behind; a second @ makes it text.
var directive = regexp.MustCompile(`(?:^|[^@\w])@(?:extends|include\w*|component\w*|each|livewire)\s*\(`)

// element is an element that another view draws.
var element = regexp.MustCompile(`</?x-([\w.:-]+)`)

// keyed is a key of settings, or the name of a view, in the code of a view: {{ config('sky.zone') }}.
var keyed = regexp.MustCompile(`(?:\{\{|\{!!|@)[^\n{}]*?\b(config|view)\(\s*['"]([\w.-]+)['"]`)

// quotedText is a string in the arguments of a directive.
var quotedText = regexp.MustCompile(`'([^'\\\n]+)'|"([^"\\$\n]+)"`)

// apart are parts of a view that are comments, or shown as they are.
var apart = regexp.MustCompile(`(?s)\{\{--.*?--\}\}|@verbatim.*?@endverbatim`)

// blade notes the views that a view names in what is no PHP.
func (p *parser) blade(at source.Span) {
	text := p.src[at.Start:at.End]
	if !bytes.ContainsAny(text, "@<{") {
		return
	}
	if apart.Match(text) {
		text = slices.Clone(text)
		for _, part := range apart.FindAllIndex(text, -1) {
			for i := part[0]; i < part[1]; i++ {
				text[i] = ' '
			}
		}
	}
	for _, m := range directive.FindAllIndex(text, -1) {
		end := m[1]
		for depth := 1; end < len(text) && depth > 0 && end-m[1] < longestArguments; end++ {
			switch text[end] {
			case '(':
				depth++
			case ')':
				depth--
			}
		}
		for _, q := range quotedText.FindAllSubmatchIndex(text[m[1]:end], -1) {
			start, stop := q[2], q[3]
			quote := byte('\'')
			if start < 0 {
				start, stop, quote = q[4], q[5], '"'
			}
			name := source.Span{Start: at.Start + m[1] + start, End: at.Start + m[1] + stop}
			if isDotted(p.src[name.Start:name.End]) {
				p.f.views = append(p.f.views, viewName{at: name, text: string(p.src[name.Start:name.End]), quote: quote})
			}
		}
	}
	for _, m := range keyed.FindAllSubmatchIndex(text, -1) {
		name := source.Span{Start: at.Start + m[4], End: at.Start + m[5]}
		p.f.views = append(p.f.views, viewName{at: name, text: string(text[m[4]:m[5]]), quote: p.src[name.Start-1],
			config: text[m[2]] == 'c'})
	}
	for _, m := range element.FindAllSubmatchIndex(text, -1) {
		name := source.Span{Start: at.Start + m[2], End: at.Start + m[3]}
		p.f.views = append(p.f.views, viewName{at: name, text: string(text[m[2]:m[3]]), tag: true})
	}
}

// longestArguments is how many bytes of the arguments of a directive are read.
const longestArguments = 2000

// viewEndings are those of views, in the order in which they are looked for.
var viewEndings = []string{".blade.php", ".php", ".css", ".html"}

// viewRoots are the folders that names of views count from: what config/view.php names, else resources/views beside a
// manifest.
func (r *Resolver) viewRoots() []string {
	r.viewOnce.Do(func() {
		for id, f := range r.tree.Files {
			dir := path.Dir(f.Path)
			if path.Base(f.Path) == manifestName && r.tree.IsDir(path.Join(dir, "config")) {
				r.configs = append(r.configs, path.Join(dir, "config"))
			}
			switch {
			case path.Base(f.Path) == manifestName && r.tree.IsDir(path.Join(dir, "resources/views")):
				r.views = append(r.views, path.Join(dir, "resources/views"))
			case strings.HasSuffix("/"+f.Path, "/config/view.php"):
				e := r.index().files[project.FileID(id)]
				if e == nil {
					continue
				}
				for i := range e.paths {
					if p, ok := r.placeOf(project.FileID(id), &e.paths[i]); ok && r.tree.IsDir(p) &&
						e.paths[i].purpose == forUse {
						r.views = append(r.views, p)
					}
				}
			case settingsOfTemplates(f.Path):
				r.templateSettings(project.FileID(id))
			}
		}
		for id, f := range r.tree.Files {
			if path.Base(f.Path) == manifestName && !r.saysWhere {
				if p := path.Join(path.Dir(r.tree.Path(project.FileID(id))), "templates"); r.tree.IsDir(p) {
					r.templates = append(r.templates, templateRoot{folder: p})
				}
			}
		}
		slices.Sort(r.views)
		r.views = slices.Compact(r.views)
	})
	return r.views
}

// templateRoot is a folder that names of templates count from, behind @space/ if it has one.
type templateRoot struct{ folder, space string }

func settingsOfTemplates(p string) bool {
	return strings.HasSuffix("/"+p, "/config/packages/twig.yaml") || strings.HasSuffix("/"+p, "/config/packages/twig.yml")
}

// templateSettings reads where templates lie: twig: { default_path: …, paths: { folder: space } }.
func (r *Resolver) templateSettings(id project.FileID) {
	content, err := r.tree.Content(id)
	if err != nil {
		return
	}
	root, err := manifest.ParseYAML(content)
	if err != nil {
		return
	}
	top := r.packageOf(path.Dir(path.Dir(path.Dir(r.tree.Path(id)))))
	twig := root.Get("twig")
	if twig == nil {
		return
	}
	add := func(place, space string) {
		place = path.Join(top, strings.TrimPrefix(strings.ReplaceAll(place, "%kernel.project_dir%", "."), "/"))
		r.templates = append(r.templates, templateRoot{place, space})
		r.saysWhere = true
	}
	if v := twig.Get("default_path"); v != nil {
		add(v.Text, "")
	}
	if v := twig.Get("paths"); v != nil {
		for _, m := range v.Members {
			space := m.Value.Text
			if m.Value.Kind != manifest.String {
				space = ""
			}
			add(m.Key, space)
		}
		for _, place := range texts(v) {
			add(place, "")
		}
		if twig.Get("default_path") == nil {
			add("templates", "")
		}
	}
}

// resolveView says where the name of a view or a template leads.
func (r *Resolver) resolveView(o viewOwn, text string) lang.Target {
	roots := r.viewRoots()
	if o.config {
		first, _, _ := strings.Cut(text, ".")
		for _, dir := range r.configs {
			if id, there := r.tree.Lookup(path.Join(dir, first+".php")); there {
				return lang.File(id)
			}
		}
		return lang.No(lang.ToOutside)
	}
	if o.template {
		for _, root := range r.templates {
			name := text
			if root.space != "" || strings.HasPrefix(text, "@") {
				rest, ours := strings.CutPrefix(text, "@"+root.space+"/")
				if !ours || root.space == "" {
					continue
				}
				name = rest
			}
			if id, there := r.tree.Lookup(path.Join(root.folder, name)); there {
				return lang.File(id)
			}
		}
		return lang.No(lang.ToOutside)
	}
	name := strings.ReplaceAll(text, ".", "/")
	for _, root := range roots {
		folder := path.Join(root, name)
		if o.tag {
			folder = path.Join(root, "components", name)
		}
		for _, ending := range viewEndings {
			if id, there := r.tree.Lookup(folder + ending); there {
				return lang.File(id)
			}
			if id, there := r.tree.Lookup(folder + "/index" + ending); there && o.tag {
				return lang.File(id)
			}
		}
	}
	if o.tag && len(roots) > 0 {
		all, _ := r.componentClass(text)
		if len(all) == 1 {
			return lang.File(all[0].file)
		}
	}
	return lang.No(lang.ToOutside)
}

// components is the namespace of classes that draw elements, below the prefix of a root.
const components = `View\Components\`

// componentClass gives the class that draws an element: <x-sky.star-chart> is View\Components\Sky\StarChart.
func (r *Resolver) componentClass(tag string) ([]declared, string) {
	var name strings.Builder
	begin := true
	for _, c := range tag {
		switch {
		case c == '.':
			name.WriteByte('\\')
			begin = true
		case c == '-':
			begin = true
		case begin:
			name.WriteRune(unicode.ToUpper(c))
			begin = false
		default:
			name.WriteRune(c)
		}
	}
	for _, one := range r.load.roots {
		if all := r.index().declares(project.None, class, one.prefix+components+name.String()); len(all) > 0 {
			return all, one.prefix + components + name.String()
		}
	}
	return nil, ""
}

// elementOf is the element that a class draws; empty for none.
func (r *Resolver) elementOf(id project.FileID) string {
	e := r.index().files[id]
	if e == nil || e.label < 0 {
		return ""
	}
	_, rest, in := strings.Cut(e.nameOf(e.label), components)
	if !in {
		return ""
	}
	var tag strings.Builder
	for i, c := range rest {
		switch {
		case c == '\\':
			tag.WriteByte('.')
			continue
		case unicode.IsUpper(c) && i > 0 && rest[i-1] != '\\':
			tag.WriteByte('-')
		}
		tag.WriteRune(unicode.ToLower(c))
	}
	return tag.String()
}

// viewOwn is what only PHP knows of the name of a view.
type viewOwn struct{ template, tag, config bool }

// viewsOf gives the mentions of a file that are names of views.
func (r *Resolver) viewsOf(e *entry, out []lang.Mention) []lang.Mention {
	for i := range e.views {
		v := &e.views[i]
		o := viewOwn{tag: v.tag, template: strings.HasSuffix(v.text, templateEnding), config: v.config}
		if !r.resolveView(o, v.text).Kind.Inside() {
			continue
		}
		m := lang.Mention{Span: v.at, Text: v.text, Kind: View, Form: lang.Plain, Quote: v.quote, Deferred: true,
			Detail: &lang.Detail{Own: o}}
		if v.loose {
			m.Kind, m.Likely = ViewText, true
		}
		out = append(out, m)
	}
	return out
}

// templateNames is a name of a template in a template.
var templateNames = regexp.MustCompile(`['"]([@\w./-]+\.twig)['"]`)

// comments are what a template does not run.
var comments = regexp.MustCompile(`(?s)\{#.*?#\}|\{%-?\s*verbatim\s*-?%\}.*?\{%-?\s*endverbatim\s*-?%\}`)

// templatesIn finds the names of templates in a template.
func (r *Resolver) templatesIn(content []byte) (out []lang.Mention) {
	o := viewOwn{template: true}
	r.viewRoots()
	silent := comments.FindAllIndex(content, -1)
	for _, m := range templateNames.FindAllSubmatchIndex(content, -1) {
		if slices.ContainsFunc(silent, func(at []int) bool { return at[0] <= m[2] && m[3] <= at[1] }) {
			continue
		}
		text := string(content[m[2]:m[3]])
		if !r.resolveView(o, text).Kind.Inside() {
			continue
		}
		out = append(out, lang.Mention{Span: source.Span{Start: m[2], End: m[3]}, Text: text, Kind: View, Form: lang.Plain,
			Quote: content[m[2]-1], Deferred: true, Detail: &lang.Detail{Own: o}})
	}
	return out
}

// spellView writes the name of a view anew: from the root that holds it then, in the manner of the old name.
func (r *Resolver) spellView(q lang.Respelling) (lang.Spelling, bool) {
	o := lang.Own[viewOwn](q.Mention)
	if q.Target.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	target := r.tree.Path(q.Target.File)
	r.viewRoots()
	var names []string
	if o.config {
		_, key, more := strings.Cut(q.Mention.Text, ".")
		for _, dir := range r.configs {
			if rest, in := below(dir, target); in && more {
				names = append(names, strings.TrimSuffix(rest, ".php")+"."+key)
			} else if in {
				names = append(names, strings.TrimSuffix(rest, ".php"))
			}
		}
	} else if o.template {
		for _, root := range r.templates {
			if rest, in := below(root.folder, target); in {
				if root.space != "" {
					rest = "@" + root.space + "/" + rest
				}
				names = append(names, rest)
			}
		}
	} else {
		for _, root := range r.views {
			if o.tag {
				root = path.Join(root, "components")
			}
			rest, in := below(root, target)
			if !in {
				continue
			}
			for _, ending := range viewEndings {
				stem, ends := strings.CutSuffix(rest, ending)
				if !ends || strings.Contains(stem, ".") { // a dot parts folders
					continue
				}
				if strings.Contains(q.Mention.Text, "/") {
					names = append(names, stem)
				}
				names = append(names, strings.ReplaceAll(stem, "/", "."))
				break
			}
		}
	}
	if o.tag {
		names = append(names, r.elementOf(q.Target.File))
	}
	for _, name := range names {
		if name != "" && r.resolveView(o, name).Equal(q.Target) {
			return lang.Spelling{Text: name}, true
		}
	}
	return lang.Spelling{}, false
}
