package csharp

import (
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file is about resources that are put into an assembly. One is called as the namespace of its project, its folders
// and its file, with dots between (learn.microsoft.com/dotnet/core/resources/manifest-file-names).

// projectNames are the places of a project file where a type is named: what starts it, and usings.
var projectNames = regexp.MustCompile(`<StartupObject>\s*([\w.]+)|<Using\s[^>]*Include="([\w.]+)"|Type="([\w.]+)`)

// finding are methods whose argument is the name of a resource.
var finding = lang.Words(`GetManifestResourceStream GetManifestResourceInfo ResourceManager ComponentResourceManager
	ToolboxBitmap`)

// resourceOwn says from where the name of a resource counts.
type resourceOwn struct {
	beside string // the type whose namespace comes before; empty for none
	base   bool   // the ending is left out, as a manager has it
}

// resource says which file of the project a string names that an assembly has.
func (r *Resolver) resource(from project.FileID, e *entry, t *csText, raw string) (lang.Mention, bool) {
	call := strings.TrimSuffix(t.call, "Attribute")
	if !finding[call] || t.joins || raw == "" {
		return lang.Mention{}, false
	}
	m := lang.Mention{Span: t.at, Text: raw, Kind: Resource, Form: lang.Plain, Quote: '"', Deferred: true,
		Detail: &lang.Detail{Own: resourceOwn{beside: t.types, base: strings.HasSuffix(call, "Manager")}}}
	if strings.HasSuffix(call, "Manager") { // a type behind it says which assembly has it
		m.Detail.Own = resourceOwn{base: true}
	}
	return m, r.resolveResource(from, &m).Kind.Inside()
}

// resourceName is the name that a file has in the assembly of a project, once it has come to its place.
func (r *Resolver) resourceName(u *unit, id project.FileID) (string, bool) {
	p := r.tree.Path(id)
	origin := r.tree.Before(id)
	for _, from := range []struct {
		items *items
		p     string
	}{{&u.items, p}, {&u.before, origin}} {
		if name := from.items.named[from.p]; name != "" {
			return name, true
		}
	}
	tail, below := tailOf(u.dir, path.Dir(p))
	if !below || u.root == "" {
		return "", false
	}
	space := join(u.root, tail)
	base := path.Base(p)
	if strings.EqualFold(path.Ext(base), ".resx") {
		// one beside a source of its name is called as the first type there
		if class := r.firstType(strings.TrimSuffix(p, path.Ext(p))); class != "" {
			return class + ".resources", true
		}
		return join(space, strings.TrimSuffix(base, path.Ext(base))) + ".resources", true
	}
	return join(space, base), true
}

// firstType is the name in full of the first type of the source with a name.
func (r *Resolver) firstType(stem string) string {
	id, there := r.tree.Lookup(stem + ".cs")
	if !there || r.ix.files[id] == nil || len(r.ix.files[id].types) == 0 {
		return ""
	}
	return r.ix.files[id].nameOf(0)
}

// isResource says whether a project puts a file into its assembly.
func (r *Resolver) isResource(u *unit, id project.FileID) bool {
	p := r.tree.Path(id)
	origin := r.tree.Before(id)
	list := func(items *items, p string) bool {
		return matches(items.embedded, p) || items.named[p] != ""
	}
	below := u.dir == "." || strings.HasPrefix(p, u.dir+"/")
	return list(&u.items, p) || list(&u.before, origin) || u.sdk && below && strings.EqualFold(path.Ext(p), ".resx")
}

// resources are the files of the projects that become resources, by their names.
func (r *Resolver) resources() map[*unit]map[string]project.FileID {
	r.resourcesOnce.Do(func() {
		r.resourceIDs = map[*unit]map[string]project.FileID{}
		for _, u := range r.units {
			names := map[string]project.FileID{}
			r.resourceIDs[u] = names
			for id, f := range r.tree.Files {
				if f.Link || isSource(f.Path) || !r.isResource(u, project.FileID(id)) {
					continue
				}
				if name, ok := r.resourceName(u, project.FileID(id)); ok {
					names[name] = project.FileID(id)
				}
			}
		}
	})
	return r.resourceIDs
}

// resolveResource finds a resource by its name, in the project of a file and in those that it builds on.
func (r *Resolver) resolveResource(from project.FileID, m *lang.Mention) lang.Target {
	e := r.ix.files[from]
	if e == nil {
		return lang.No(lang.ToOutside)
	}
	name, ok := r.fullResource(from, e, m)
	if !ok {
		return lang.No(lang.ToOutside)
	}
	all := r.resources()
	for _, u := range e.units {
		if id, there := all[u][name]; there {
			return lang.File(id)
		}
		for v := range u.sees {
			if id, there := all[v][name]; there {
				return lang.File(id)
			}
		}
	}
	return lang.No(lang.ToOutside)
}

// fullResource is the name in full of a resource.
func (r *Resolver) fullResource(from project.FileID, e *entry, m *lang.Mention) (string, bool) {
	o := lang.Own[resourceOwn](m)
	name := m.Text
	if o.base {
		name += ".resources"
	}
	if o.beside == "" {
		return name, true
	}
	space, ok := r.spaceBeside(from, e, o.beside, m.Span.Start)
	return join(space, name), ok
}

// spaceBeside is the namespace of a type that a file names.
func (r *Resolver) spaceBeside(from project.FileID, e *entry, name string, at int) (string, bool) {
	for i := range e.uses {
		u := &e.uses[i]
		if u.text != name || u.at.Start > at {
			continue
		}
		if f := r.means(from, e, u, nil); len(f.all) > 0 {
			d := r.deep(f, u)
			return r.ix.spaceOf(d), true
		}
	}
	return "", false
}

// spellResource writes the name of a resource.
func (r *Resolver) spellResource(q lang.Respelling) (lang.Spelling, bool) {
	e := r.ix.files[q.From]
	if e == nil || q.Target.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	for _, u := range r.units {
		if !r.isResource(u, q.Target.File) {
			continue
		}
		name, ok := r.resourceName(u, q.Target.File)
		if !ok {
			continue
		}
		o := lang.Own[resourceOwn](q.Mention)
		if o.base {
			name = strings.TrimSuffix(name, ".resources")
		}
		if o.beside != "" {
			space, known := r.spaceBeside(q.From, e, o.beside, len(e.path)+1<<30)
			rest, below := strings.CutPrefix(name, space+".")
			if !known || !below {
				return lang.Spelling{}, false
			}
			name = rest
		}
		return lang.Spelling{Text: name}, true
	}
	return lang.Spelling{}, false
}

// owner gives the file that another is a part of, by their names: what a designer draws, the code behind a page, the
// texts of a form, and their translations.
func owner(p string, there func(string) bool) string {
	dir, base := path.Split(p)
	stem, ext := strings.TrimSuffix(base, path.Ext(base)), path.Ext(base)
	try := func(name string) string {
		if name != base && there(dir+name) {
			return dir + name
		}
		return ""
	}
	switch ext {
	case ".cs":
		if head, is := cutFold(stem, ".designer"); is {
			for _, other := range []string{head + ".cs", head + ".resx", head + ".settings", head + ".tt", head + ".edmx"} {
				if found := try(other); found != "" {
					return found
				}
			}
		}
		if found := try(stem + ".tt"); found != "" { // it is written from it
			return found
		}
		switch path.Ext(stem) {
		case ".cshtml", ".razor", ".xaml", ".aspx", ".ascx", ".asax", ".master":
			return try(stem)
		}
	case ".css", ".js":
		if e := path.Ext(stem); e == ".razor" || e == ".cshtml" {
			return try(stem)
		}
	case ".resx":
		if found := try(stem + ".cs"); found != "" {
			return found
		}
		if culture.MatchString(path.Ext(stem)) {
			head := strings.TrimSuffix(stem, path.Ext(stem))
			if found := try(head + ".cs"); found != "" {
				return found
			}
			return try(head + ".resx")
		}
	}
	return ""
}

// culture is the part of a name that says for whom a file is translated: .de, .pt-BR.
var culture = regexp.MustCompile(`^\.[a-z]{2,3}(?:-[A-Za-z]{2,8})*$`)

func cutFold(s, suffix string) (string, bool) {
	if len(s) >= len(suffix) && strings.EqualFold(s[len(s)-len(suffix):], suffix) {
		return s[:len(s)-len(suffix)], true
	}
	return s, false
}
