package ruby

import (
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file knows what a framework of web applications finds by names: the controller of a route, the templates of a
// controller, the texts of a template (guides.rubyonrails.org: routing, layouts_and_rendering, i18n).

// framework is what it finds in a tree.
type framework struct {
	once  sync.Once
	roots []string                    // folders of templates
	views map[string][]project.FileID // by their folder and name below a root, without endings

	textsOnce sync.Once
	texts     map[string][]project.FileID // the files of translations, by the keys in them without the language
}

func (r *Resolver) framework() *framework {
	f := &r.frame
	f.once.Do(func() {
		f.views = map[string][]project.FileID{}
		for _, dir := range r.tree.Folders() {
			if path.Base(dir) == "views" && path.Base(path.Dir(dir)) == "app" {
				f.roots = append(f.roots, dir)
			}
		}
		for id, file := range r.tree.Files {
			if key, is := r.viewKey(file.Path); is {
				f.views[key] = append(f.views[key], project.FileID(id))
			}
		}
	})
	return f
}

// translated gives the files of translations that have a key.
func (r *Resolver) translated(key string) []project.FileID {
	f := r.framework()
	f.textsOnce.Do(func() {
		f.texts = map[string][]project.FileID{}
		for id, file := range r.tree.Files {
			if ext := path.Ext(file.Path); (ext == ".yml" || ext == ".yaml") && strings.Contains("/"+file.Path, "/locales/") && !file.Link {
				r.readTexts(f, project.FileID(id))
			}
		}
	})
	return f.texts[key]
}

// readTexts notes the keys of a file of translations.
func (r *Resolver) readTexts(f *framework, id project.FileID) {
	content, err := r.tree.Content(id)
	if err != nil {
		return
	}
	root, err := manifest.ParseYAML(content)
	if err != nil || root == nil {
		return
	}
	root.Walk(func(key []string, v *manifest.Value) {
		if len(key) < 2 {
			return
		}
		name := strings.Join(key[1:], ".")
		if all := f.texts[name]; len(all) == 0 || all[len(all)-1] != id {
			f.texts[name] = append(all, id)
		}
	})
}

// viewKey is the name by which a template is found: its folder below a root, and its name without endings.
func (r *Resolver) viewKey(p string) (string, bool) {
	for _, root := range r.frame.roots {
		if rest, is := strings.CutPrefix(p, root+"/"); is {
			name, _, _ := strings.Cut(path.Base(rest), ".")
			return path.Join(path.Dir(rest), name), true
		}
	}
	return "", false
}

// controllerOf is the path of the controller that a file defines: a/nights of A::NightsController; or that a template is
// of, by its folder.
func (r *Resolver) controllerOf(e *entry) (string, bool) {
	if key, is := r.viewKey(e.path); is {
		return path.Dir(key), true
	}
	for i := 1; i < len(e.spaces); i++ {
		if c, is := r.controllerPath(e.spaces[i]); is && e.file.spaces[i].class {
			return c, true
		}
	}
	return "", false
}

// controllerPath is the path by which a controller or a mailer is known.
func (r *Resolver) controllerPath(full string) (string, bool) {
	if name, is := strings.CutSuffix(full, "Controller"); is && name != "" {
		return r.inflect.underscore(name), true
	}
	if strings.HasSuffix(full, "Mailer") {
		return r.inflect.underscore(full), true
	}
	return "", false
}

// controller is the file of the controller with a path.
func (r *Resolver) controller(c string) (project.FileID, bool) {
	name := r.inflect.constant(c)
	for _, full := range []string{name + "Controller", name} {
		if known, there := r.ix.folded[strings.ToLower(full)]; there && len(r.ix.consts[full]) == 0 {
			full = known
		}
		if full == name && !strings.HasSuffix(full, "Mailer") {
			continue
		}
		if ids := r.declaredBy(full); len(ids) == 1 {
			return ids[0], true
		}
	}
	return project.None, false
}

// plural is the usual plural of a word.
func plural(word string) string {
	switch {
	case strings.HasSuffix(word, "y") && len(word) > 1 && !strings.ContainsRune("aeiou", rune(word[len(word)-2])):
		return word[:len(word)-1] + "ies"
	case strings.HasSuffix(word, "s"), strings.HasSuffix(word, "x"), strings.HasSuffix(word, "ch"), strings.HasSuffix(word, "sh"):
		return word + "es"
	}
	return word + "s"
}

// isRoutes says whether a file has the routes of an application.
func isRoutes(p string) bool {
	return path.Base(p) == "routes.rb" || strings.Contains("/"+p, "/config/routes/")
}

// routeVerbs are methods that make a route.
var routeVerbs = lang.Words(`get post put patch delete match root to`)

// route is what a text of routes says.
type route struct {
	text  *rbText
	one   bool // resource: the name is in the singular
	named bool // the name alone says the controller
}

// routeIn says whether a text names a controller.
func (r *Resolver) routeIn(e *entry, t *rbText, raw string) (route, bool) {
	switch {
	case t.key == "controller" && raw != "" && raw != "controller":
		return route{text: t}, true
	case !isRoutes(e.path):
		return route{}, false
	case (t.call == "resources" || t.call == "resource") && t.key == "":
		return route{text: t, one: t.call == "resource", named: true}, true
	case strings.Contains(raw, "#") && !strings.HasPrefix(raw, "#") && (routeVerbs[t.call] || t.key == "to"):
		return route{text: t}, true
	}
	return route{}, false
}

// routeUnder are the modules from which a text names a controller.
func (r *Resolver) routeUnder(e *entry, t *rbText) string {
	if isRoutes(e.path) {
		return path.Join(r.isolated(e), t.under)
	}
	if c, is := r.controllerOf(e); is && path.Dir(c) != "." {
		return path.Dir(c)
	}
	return ""
}

// isShared says whether a file may run for any controller: helpers, layouts, libraries, templates that several draw.
func (r *Resolver) isShared(e *entry) bool {
	if isRoutes(e.path) || !strings.Contains("/"+e.path, "/app/") && !strings.Contains("/"+e.path, "/lib/") {
		return false
	}
	c, is := r.controllerOf(e)
	if !is {
		return true
	}
	_, there := r.controller(c)
	return !there
}

// isolated is the path of the module in which an engine keeps its routes; empty for the routes of an application.
func (r *Resolver) isolated(e *entry) string {
	if e.draws == "" {
		return ""
	}
	for _, d := range r.ix.consts[r.means(e, e.draws, 0).full] {
		if name := r.ix.files[d.file].isolates; name != "" {
			return r.inflect.underscore(name)
		}
	}
	return ""
}

// routed is the file of the controller that a text of routes names, and its path.
func (r *Resolver) routed(e *entry, x route, raw string) (id project.FileID, there bool) {
	name, given := autoloadPath(raw)
	if at := strings.IndexByte(given, ':'); at >= 0 { // controller: 'a/c'
		given = strings.Trim(strings.TrimSpace(given[at+1:]), `"'`)
	}
	if given == "" {
		given, _, _ = strings.Cut(name, "#")
	}
	under := r.routeUnder(e, x.text)
	full := func(c string) string {
		if rest, top := strings.CutPrefix(c, "/"); top {
			return rest
		}
		return path.Join(under, c)
	}
	if x.one && given == name {
		if id, there = r.controller(full(plural(given))); there {
			return id, true
		}
	}
	return r.controller(full(given))
}

// routesOf finds the controllers that a file names by their paths.
func (r *Resolver) routesOf(e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.texts {
		t := &e.texts[i]
		if t.at.Len() == 0 || t.at.Len() > longestName || t.call == "" && t.key == "" {
			continue
		}
		raw := string(content[t.at.Start:t.at.End])
		x, is := r.routeIn(e, t, raw)
		if !is {
			continue
		}
		at := t.at
		if x.named { // with the controller right behind
			if next := i + 1; next < len(e.texts) && e.texts[next].key == "controller" && e.texts[next].call == t.call &&
				onlyKey(content[t.at.End:e.texts[next].at.Start]) {
				at.End = e.texts[next].at.End + 1
			}
		} else if t.key == "controller" && i > 0 && isRoutes(e.path) && onlyKey(content[e.texts[i-1].at.End:t.at.Start]) &&
			(e.texts[i-1].call == "resources" || e.texts[i-1].call == "resource") {
			continue // read with the name
		}
		m := lang.Mention{Span: at, Text: string(content[at.Start:at.End]), Kind: Route, Form: lang.Plain, Deferred: true,
			Detail: &lang.Detail{Own: own{route: x}}}
		if _, there := r.routed(e, x, m.Text); there {
			out = append(out, m)
		}
	}
	return out
}

// onlyKey says whether nothing but , controller: stands in a text.
func onlyKey(between []byte) bool {
	text := strings.ReplaceAll(strings.TrimLeft(string(between), `"'`), " ", "")
	return text == ",controller:'" || text == ",controller:\"" || text == ",:controller=>'" || text == ",:controller=>\""
}

// spellRoute writes the path of a controller anew.
func (r *Resolver) spellRoute(q lang.Respelling) (lang.Spelling, bool) {
	m, x := q.Mention, lang.Own[own](q.Mention).route
	e := r.ix.files[q.From]
	if e == nil || q.Target.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	goal, is := r.controllerOf(r.ix.files[q.Target.File])
	if !is {
		return lang.Spelling{}, false
	}
	if id, there := r.routed(e, x, m.Text); there && id == q.Target.File {
		return lang.Spelling{Text: m.Text}, true
	}
	if r.isShared(e) && strings.Contains(goal, "/") { // wherever it is shown
		goal = "/" + goal
	} else if under := r.routeUnder(e, x.text); under != "" {
		if rest, in := strings.CutPrefix(goal, under+"/"); in {
			goal = rest
		} else {
			goal = "/" + goal
		}
	}
	if !x.named {
		_, action, more := strings.Cut(m.Text, "#")
		if more {
			goal += "#" + action
		}
		if x.text.quote == 0 && strings.Contains(goal, "/") {
			return lang.Spelling{}, false
		}
		return lang.Spelling{Text: goal}, true
	}
	name, _ := autoloadPath(m.Text)
	return lang.Spelling{Text: name + ", controller: " + e.quoted(goal)}, true
}

// viewWords are keys and methods whose texts are names of templates; those that are true name a part of a page.
var viewWords = map[string]bool{"partial": true, "template": false, "layout": false, "spacer_template": true, "action": false}

// view is what a text says of a template.
type view struct {
	text    *rbText
	partial bool
	layout  bool
}

// viewIn says whether a text is the name of a template.
func (r *Resolver) viewIn(e *entry, t *rbText) (view, bool) {
	_, drawn := r.viewKey(e.path)
	switch {
	case t.call == "layout" && t.key == "" && t.number == 0 && !drawn:
		return view{t, false, true}, true
	case t.call == "partial!" && t.key == "" && t.number == 0:
		return view{t, true, false}, true
	case t.call != "render" && t.call != "render_to_string" && t.call != "render_async":
		return view{}, false
	case t.key == "" && t.number == 0:
		return view{t, drawn, false}, true
	case t.key == "layout":
		return view{t, drawn, !drawn}, true
	}
	partial, is := viewWords[t.key]
	return view{t, partial, false}, is
}

// viewed gives the templates that a text names.
func (r *Resolver) viewed(e *entry, x view, raw string) []project.FileID {
	f := r.framework()
	dir, base := path.Split(strings.TrimPrefix(raw, "/"))
	base, _, _ = strings.Cut(base, ".")
	if x.partial {
		base = "_" + base
	}
	if x.layout && !strings.Contains(raw, "layouts") {
		dir = path.Join("layouts", dir)
	}
	if dir != "" {
		return f.views[path.Join(dir, base)]
	}
	own, is := r.controllerOf(e)
	if !is {
		return nil
	}
	if ids := f.views[path.Join(own, base)]; len(ids) > 0 {
		return ids
	}
	if id, there := r.controller(own); there { // those of the controllers that it is built on
		other := r.ix.files[id]
		for i := 1; i < len(other.spaces); i++ {
			if c, is := r.controllerPath(other.spaces[i]); !is || c != own {
				continue
			}
			above, _ := r.built(other.spaces[i])
			for _, name := range above {
				if c, is := r.controllerPath(name); is {
					if ids := f.views[path.Join(c, base)]; len(ids) > 0 {
						return ids
					}
				}
			}
		}
	}
	return f.views[path.Join("application", base)]
}

// viewsOf finds the templates and the texts that a file names.
func (r *Resolver) viewsOf(e *entry, content []byte, out []lang.Mention) []lang.Mention {
	f := r.framework()
	for i := range e.texts {
		t := &e.texts[i]
		if t.call == "helper" && t.key == "" && t.at.Len() > 0 {
			at := source.Span{Start: t.at.Start - 1, End: t.at.End} // with the colon, or with the quotes
			if t.quote != 0 {
				at.End++
			}
			if raw := string(content[at.Start:at.End]); r.target(r.helper(raw)).Kind.Inside() {
				out = append(out, lang.Mention{Span: at, Text: raw, Kind: Helper, Form: lang.Plain, Deferred: true, Detail: &lang.Detail{Own: own{}}})
			}
			continue
		}
		if t.at.Len() == 0 || t.at.Len() > longestName {
			continue
		}
		raw := string(content[t.at.Start:t.at.End])
		if strings.ContainsAny(raw, " \n\\#") {
			continue
		}
		if (t.call == "t" || t.call == "translate" || t.call == "l") && t.number == 0 && t.key == "" && t.quote != 0 && t.whole {
			if key := r.textKey(e, t, raw); len(r.translated(key)) > 0 {
				out = append(out, lang.Mention{Span: t.at, Text: raw, Kind: LazyText, Form: lang.InScript, Quote: t.quote, Deferred: true,
					Detail: &lang.Detail{Own: own{lazy: t}}})
			}
			continue
		}
		if len(f.views) == 0 {
			continue
		}
		x, is := r.viewIn(e, t)
		if !is || len(r.viewed(e, x, raw)) == 0 {
			continue
		}
		out = append(out, lang.Mention{Span: t.at, Text: raw, Kind: View, Form: lang.Plain, Quote: t.quote, Deferred: true,
			Detail: &lang.Detail{Own: own{view: x}}})
	}
	return out
}

// helper is the module in full that a controller names: of :nights or "a/nights".
func (r *Resolver) helper(raw string) string {
	full := r.inflect.constant(strings.Trim(raw, `:'"`)) + "Helper"
	if known, there := r.ix.folded[strings.ToLower(full)]; there && !r.exists(full) {
		full = known
	}
	if !r.exists(full) {
		return ""
	}
	return full
}

// spellHelper writes the name of a module of helpers anew.
func (r *Resolver) spellHelper(q lang.Respelling, old *Resolver) (lang.Spelling, bool) {
	m := q.Mention
	goal := r.becomes(old, old.helper(m.Text))
	name, is := strings.CutSuffix(goal, "Helper")
	if !is {
		return lang.Spelling{}, false
	}
	if goal == r.helper(m.Text) {
		return lang.Spelling{Text: m.Text}, true
	}
	text := r.inflect.underscore(name)
	switch {
	case m.Text[0] != ':':
		return lang.Spelling{Text: m.Text[:1] + text + m.Text[:1]}, true
	case strings.Contains(text, "/"):
		return lang.Spelling{Text: r.ix.files[q.From].quoted(text)}, true
	}
	return lang.Spelling{Text: ":" + text}, true
}

// textKey is the key of a text in full: one that begins with a dot counts from the template, or from the action.
func (r *Resolver) textKey(e *entry, t *rbText, raw string) string {
	rest, lazy := strings.CutPrefix(raw, ".")
	if !lazy {
		return raw
	}
	if key, is := r.viewKey(e.path); is {
		dir, base := path.Split(key)
		return strings.ReplaceAll(dir+strings.TrimPrefix(base, "_"), "/", ".") + "." + rest
	}
	c, is := r.controllerOf(e)
	if !is {
		return ""
	}
	return strings.ReplaceAll(c, "/", ".") + "." + t.method + "." + rest
}

// spellView writes the name of a template anew.
func (r *Resolver) spellView(q lang.Respelling) (lang.Spelling, bool) {
	m, x := q.Mention, lang.Own[own](q.Mention).view
	e := r.ix.files[q.From]
	ids := q.Target.Set()
	if q.Target.Kind == lang.ToFile {
		ids = []project.FileID{q.Target.File}
	}
	if e == nil || len(ids) == 0 {
		return lang.Spelling{}, false
	}
	r.framework()
	if slices.Equal(r.viewed(e, x, m.Text), ids) {
		return lang.Spelling{Text: m.Text}, true
	}
	key, is := r.viewKey(r.tree.Path(ids[0]))
	if !is {
		return lang.Spelling{}, false
	}
	dir, base := path.Split(key)
	if x.partial {
		base = strings.TrimPrefix(base, "_")
	}
	_, name := path.Split(m.Text)
	if _, ending, more := strings.Cut(name, "."); more {
		base += "." + ending
	}
	text := dir + base
	if x.layout && !strings.Contains(m.Text, "layouts") {
		text = strings.TrimPrefix(text, "layouts/")
	} else if own, is := r.controllerOf(e); is && own+"/" == dir && !strings.Contains(m.Text, "/") {
		text = base
	}
	if m.Quote == 0 && strings.ContainsAny(text, "/.") { // a symbol can't hold it
		return lang.Spelling{}, false
	}
	return lang.Spelling{Text: text}, true
}

// Links are what belongs together by name: a template and the controller that draws it, and where a project does not share
// all helpers, a controller and its own.
func (r *Resolver) Links(from project.FileID) []lang.Link {
	if !r.any {
		return nil
	}
	r.index()
	r.framework()
	if key, is := r.viewKey(r.tree.Path(from)); is {
		dir, base := path.Dir(key), path.Base(key)
		if part, is := strings.CutPrefix(base, "_"); is && plural(part) != path.Base(dir) {
			return nil // it is named where it is drawn, but for that of a model
		}
		if layout, is := strings.CutPrefix(key, "layouts/"); is {
			dir = layout
		}
		if id, there := r.controller(dir); there {
			return []lang.Link{{To: id, Why: "is drawn by its controller"}}
		}
		return nil
	}
	e := r.ix.files[from]
	if e == nil || e.label == nil || e.label.at < 0 || !r.ownHelpers() {
		return nil
	}
	if name, is := strings.CutSuffix(e.wants, "Controller"); is {
		if ids := r.declaredBy(name + "Helper"); len(ids) == 1 {
			return []lang.Link{{To: ids[0], Why: "has the helpers of its name"}}
		}
	}
	return nil
}

// ownHelpers says whether a controller has the helpers of its name alone.
func (r *Resolver) ownHelpers() bool {
	r.helpersOnce.Do(func() {
		for id, f := range r.tree.Files {
			if !strings.HasSuffix(f.Path, ".rb") || !strings.Contains("/"+f.Path, "/config/") || f.Link {
				continue
			}
			content, err := r.tree.Content(project.FileID(id))
			if err == nil && notAllHelpers.Match(content) {
				r.helpersOwn = true
				return
			}
		}
	})
	return r.helpersOwn
}

var notAllHelpers = regexp.MustCompile(`include_all_helpers\s*=\s*false`)
