package csharp

import (
	"cmp"
	"maps"
	"path"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// This file reads project files (learn.microsoft.com/visualstudio/msbuild, Project file schema): which sources each
// takes, which projects it builds on, and the namespace that its folders begin with.

// unit is a project: what one assembly is made from.
type unit struct {
	path     string // of the project file
	dir      string
	name     string // of the file, without its ending
	assembly string
	root     string          // the namespace with which the names of its resources begin
	space    string          // the one that its root folder stands for by habit; empty where that is not known
	stated   bool            // the project says so
	sdk      bool            // it takes all sources below its folder
	items    items           // what it takes and builds on, from where it is
	before   items           // the same, from where it was before the moves
	sees     map[*unit]bool  // the projects that it builds on, and those that these do
	friends  map[string]bool // assemblies that see what is internal
	usings   []globalUsing
	order    int    // among all, the deepest first
	was      string // where the project file was before the moves
}

// items are what a project lists. Their paths are worked out from a folder.
type items struct {
	takes    []string          // patterns
	leaves   []string          // patterns of what it does not take
	linked   map[string]string // files that it takes by name, also from elsewhere: how they are written, by their paths in lower case
	builds   []string          // the project files that it refers to
	embedded []string          // files and patterns that become resources
	copied   []string          // files and patterns that are copied beside the program
	named    map[string]string // the names of those that have one of their own, by their paths
	beside   map[string]string // files that are shown below another in its folder, or written there from it: the other
}

// globalUsing is a using that a project has for all of its files.
type globalUsing struct {
	name, alias string
	static      bool
}

// isProject says whether a file is a project of C#.
func isProject(p string) bool { return strings.EqualFold(path.Ext(p), ".csproj") }

// isSource says whether a file is read as C#.
func isSource(p string) bool { return strings.HasSuffix(p, ".cs") || strings.HasSuffix(p, ".csx") }

// readUnits reads all project files of a tree.
func (r *Resolver) readUnits() {
	byPath, byOrigin := map[string]*unit{}, map[string]*unit{}
	for id, f := range r.tree.Files {
		if f.Link || !isProject(f.Path) {
			continue
		}
		content, err := r.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		root, err := manifest.ParseXML(content)
		if err != nil {
			continue // who reads settings says so
		}
		was := r.tree.Before(project.FileID(id))
		u := r.unitOf(f.Path, was, root)
		r.units = append(r.units, u)
		byPath[strings.ToLower(f.Path)], byOrigin[strings.ToLower(was)] = u, u
	}
	for _, u := range r.units {
		u.sees = map[*unit]bool{}
		var add func(*unit)
		add = func(v *unit) {
			see := func(other *unit) {
				if other != nil && other != u && !u.sees[other] {
					u.sees[other] = true
					add(other)
				}
			}
			for _, p := range v.items.builds {
				see(byPath[strings.ToLower(p)])
			}
			for _, p := range v.before.builds { // the text is not written yet
				see(byOrigin[strings.ToLower(p)])
			}
		}
		add(u)
	}
	// the deepest first: it is the nearest to its files
	slices.SortStableFunc(r.units, func(a, b *unit) int {
		return cmp.Or(strings.Count(b.dir+"/", "/")-strings.Count(a.dir+"/", "/"), order(a.dir == ".", b.dir == "."))
	})
	r.makeTable()
}

// table finds projects by folders and files.
type table struct {
	at, was         map[string][]*unit // by their folders
	lists, listsWas map[string][]*unit // by what they take by name, in lower case
	patterned       []*unit            // those that take files by patterns
}

// makeTable makes the table of all projects.
func (r *Resolver) makeTable() {
	r.table = table{at: map[string][]*unit{}, was: map[string][]*unit{}, lists: map[string][]*unit{}, listsWas: map[string][]*unit{}}
	for i, u := range r.units {
		u.order = i
		r.table.at[u.dir] = append(r.table.at[u.dir], u)
		r.table.was[path.Dir(u.was)] = append(r.table.was[path.Dir(u.was)], u)
		for p := range u.items.linked {
			r.table.lists[p] = append(r.table.lists[p], u)
		}
		for p := range u.before.linked {
			r.table.listsWas[p] = append(r.table.listsWas[p], u)
		}
		if len(u.items.takes)+len(u.before.takes) > 0 {
			r.table.patterned = append(r.table.patterned, u)
		}
	}
}

// nearest gives the first project in a folder or in one above it.
func nearest(by map[string][]*unit, dir string) *unit {
	for ; ; dir = path.Dir(dir) {
		if all := by[dir]; len(all) > 0 {
			return all[0]
		}
		if dir == "." {
			return nil
		}
	}
}

func order(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	}
	return -1
}

// unitOf reads a project file.
func (r *Resolver) unitOf(p, was string, root *manifest.Value) *unit {
	u := &unit{path: p, dir: path.Dir(p), was: was, name: strings.TrimSuffix(path.Base(p), path.Ext(p)),
		friends: map[string]bool{}}
	top := root.Get("Project")
	if top == nil {
		return u
	}
	u.sdk = top.Get("@Sdk") != nil || top.Get("Sdk") != nil || slices.ContainsFunc(top.Members, func(m manifest.Member) bool {
		return m.Key == "Import" && m.Value.Get("@Sdk") != nil
	})
	given := map[string]string{}
	for _, group := range top.Members {
		switch group.Key {
		case "PropertyGroup":
			for _, m := range group.Value.Members {
				if text := strings.TrimSpace(m.Value.Text); text != "" && m.Key[0] != '@' {
					given[m.Key] = text
				}
			}
		case "ItemGroup":
			for _, m := range group.Value.Members {
				u.item(m)
			}
		}
	}
	u.items, u.before = itemsOf(top, u.dir), itemsOf(top, path.Dir(was))
	for _, m := range top.Members {
		if m.Key == "Import" {
			r.sharedItems(u, m.Value.Get("@Project").String())
		}
	}
	known := map[string]string{"MSBuildProjectName": u.name}
	if u.assembly = expand(given["AssemblyName"], known); u.assembly == "" {
		u.assembly = u.name
	}
	known["AssemblyName"] = u.assembly
	stated := given["RootNamespace"]
	if stated == "" {
		stated = r.inherited(u.dir, "RootNamespace")
	}
	u.stated = stated != ""
	if u.space = expand(stated, known); u.space == "" && !u.stated {
		if u.space = u.assembly; given["AssemblyName"] == "" {
			u.space = u.name
		}
		u.space = legal(u.space)
	}
	u.root = u.space
	if given["EnableDefaultCompileItems"] == "false" || given["EnableDefaultItems"] == "false" {
		u.sdk = false
	}
	return u
}

// sharedItems adds the sources that projects share: those of a list that both import.
func (r *Resolver) sharedItems(u *unit, text string) {
	if !strings.HasSuffix(strings.ToLower(text), ".projitems") {
		return
	}
	add := func(dir string, into *items, find func(p string) (project.FileID, *project.Project, bool)) {
		for _, p := range listed(dir, text) {
			id, tree, there := find(p)
			if !there {
				continue
			}
			content, err := tree.Content(id)
			if err != nil {
				continue
			}
			root, err := manifest.ParseXML(content)
			if top := root.Get("Project"); err == nil && top != nil {
				maps.Copy(into.linked, itemsOf(top, path.Dir(p)).linked)
			}
		}
	}
	add(u.dir, &u.items, func(p string) (project.FileID, *project.Project, bool) {
		id, there := r.tree.Lookup(p)
		return id, r.tree.Project, there
	})
	if under, _ := r.tree.Origin(0); under != nil {
		add(path.Dir(u.was), &u.before, func(p string) (project.FileID, *project.Project, bool) {
			id, there := under.Lookup(p)
			return id, under, there
		})
	}
}

// item reads an item of a project that names no file.
func (u *unit) item(m manifest.Member) {
	include := m.Value.Get("@Include").String()
	switch m.Key {
	case "InternalsVisibleTo":
		u.friends[include] = true
	case "Using":
		if include != "" && m.Value.Get("@Remove") == nil {
			u.usings = append(u.usings, globalUsing{name: include, alias: m.Value.Get("@Alias").String(),
				static: strings.EqualFold(m.Value.Get("@Static").String(), "true")})
		}
	}
}

// itemsOf reads the items of a project that name files, from a folder.
func itemsOf(top *manifest.Value, dir string) items {
	out := items{linked: map[string]string{}, named: map[string]string{}, beside: map[string]string{}}
	for _, group := range top.Members {
		if group.Key != "ItemGroup" {
			continue
		}
		for _, m := range group.Value.Members {
			include := listed(dir, m.Value.Get("@Include").String())
			if copies(m.Value) {
				out.copied = append(append(out.copied, include...), listed(dir, m.Value.Get("@Update").String())...)
			}
			for _, p := range append(slices.Clone(include), listed(dir, m.Value.Get("@Update").String())...) {
				if on := meta(m.Value, "DependentUpon"); on != "" {
					out.beside[p] = path.Join(path.Dir(p), strings.ReplaceAll(on, `\`, "/"))
				}
				if made := meta(m.Value, "LastGenOutput"); made != "" {
					out.beside[path.Join(path.Dir(p), strings.ReplaceAll(made, `\`, "/"))] = p
				}
			}
			switch m.Key {
			case "Compile":
				for _, p := range include {
					if strings.ContainsAny(p, "*?") {
						out.takes = append(out.takes, p)
					} else {
						out.linked[strings.ToLower(p)] = p
					}
				}
				out.leaves = append(out.leaves, listed(dir, m.Value.Get("@Remove").String())...)
				out.leaves = append(out.leaves, listed(dir, m.Value.Get("@Exclude").String())...)
			case "ProjectReference":
				out.builds = append(out.builds, include...)
			case "EmbeddedResource":
				out.embedded = append(out.embedded, include...)
				name := m.Value.Get("LogicalName")
				if name == nil {
					name = m.Value.Get("@LogicalName")
				}
				for _, p := range append(include, listed(dir, m.Value.Get("@Update").String())...) {
					if name != nil && name.Text != "" {
						out.named[p] = name.Text
					}
				}
			}
		}
	}
	return out
}

// meta is what an item says under a name, as an element or as an attribute; empty for nothing.
func meta(item *manifest.Value, name string) string {
	if v := item.Get(name); v != nil {
		return strings.TrimSpace(v.Text)
	}
	return item.Get("@" + name).String()
}

// copies says whether an item is copied beside the program, to the place that it has in its project.
func copies(item *manifest.Value) bool {
	how := meta(item, "CopyToOutputDirectory")
	return how != "" && how != "Never" && item.Get("Link") == nil && item.Get("@Link") == nil
}

// listed gives the paths of a list; those that properties make are left out.
func listed(dir, list string) (out []string) {
	for text := range strings.SplitSeq(list, ";") {
		text = strings.TrimSpace(strings.ReplaceAll(text, `\`, "/"))
		text = strings.TrimPrefix(strings.ReplaceAll(text, "%20", " "), "$(MSBuildThisFileDirectory)")
		text = strings.TrimPrefix(text, "$(MSBuildProjectDirectory)/")
		if p := path.Join(dir, text); text != "" && !strings.Contains(text, "$(") && !strings.Contains(text, "@(") &&
			!lang.Leaves(p) {
			out = append(out, p)
		}
	}
	return out
}

// inherited is a property that the nearest Directory.Build.props above a folder gives.
func (r *Resolver) inherited(dir, property string) string {
	for ; ; dir = path.Dir(dir) {
		if id, there := r.tree.Lookup(path.Join(dir, "Directory.Build.props")); there {
			content, err := r.tree.Content(id)
			if err != nil {
				return ""
			}
			root, err := manifest.ParseXML(content)
			if err != nil {
				return ""
			}
			value := ""
			if top := root.Get("Project"); top != nil {
				for _, m := range top.Members {
					if v := m.Value.Get(property); m.Key == "PropertyGroup" && v != nil && v.Text != "" {
						value = strings.TrimSpace(v.Text)
					}
				}
			}
			return value
		}
		if dir == "." {
			return ""
		}
	}
}

// expand puts properties into a text; empty where one is not known.
func expand(text string, known map[string]string) string {
	for name, value := range known {
		text = strings.ReplaceAll(text, "$("+name+")", value)
	}
	// what the templates of the builder write
	text = strings.ReplaceAll(text, `.Replace(" ", "_"))`, ")")
	for name, value := range known {
		text = strings.ReplaceAll(text, "$("+name+")", strings.ReplaceAll(value, " ", "_"))
	}
	if strings.Contains(text, "$(") {
		return ""
	}
	return text
}

// legal makes a namespace of the name of a project, as the builder does.
func legal(name string) string {
	var out strings.Builder
	for i, part := range strings.Split(name, ".") {
		if i > 0 {
			out.WriteByte('.')
		}
		out.WriteString(legalPart(part))
	}
	return out.String()
}

// legalPart makes a part of a namespace of the name of a folder.
func legalPart(part string) string {
	var out []byte
	for i := range len(part) {
		switch c := part[i]; {
		case ofName[c]:
			if i == 0 && digit(c) {
				out = append(out, '_')
			}
			out = append(out, c)
		default:
			out = append(out, '_')
		}
	}
	return string(out)
}

// has says whether a project takes a source at a path. What it lists may still name the place where the file was.
func (u *unit) has(p, origin string) bool {
	if u.items.lists(p) || u.before.lists(origin) {
		return true
	}
	if !u.sdk {
		return false
	}
	rest, below := p, true
	if u.dir != "." {
		rest, below = strings.CutPrefix(p, u.dir+"/")
	}
	first, _, _ := strings.Cut(rest, "/")
	return below && !strings.EqualFold(first, "bin") && !strings.EqualFold(first, "obj") && !matches(u.items.leaves, p) &&
		!matches(u.before.leaves, origin)
}

// lists says whether a file is named, or fits a pattern.
func (i *items) lists(p string) bool {
	return i.linked[strings.ToLower(p)] != "" || matches(i.takes, p) && !matches(i.leaves, p)
}

func matches(patterns []string, p string) bool {
	return slices.ContainsFunc(patterns, func(pattern string) bool {
		ok, _ := doublestar.Match(pattern, p)
		return ok
	})
}

// unitsOf are the projects that take a source, the nearest first.
func (r *Resolver) unitsOf(p, origin string) (out []*unit) {
	add := func(all []*unit) {
		for _, u := range all {
			if !slices.Contains(out, u) && u.has(p, origin) {
				out = append(out, u)
			}
		}
	}
	for dir := path.Dir(p); ; dir = path.Dir(dir) {
		add(r.table.at[dir])
		if dir == "." {
			break
		}
	}
	add(r.table.lists[strings.ToLower(p)])
	add(r.table.listsWas[strings.ToLower(origin)])
	add(r.table.patterned)
	slices.SortFunc(out, func(a, b *unit) int { return a.order - b.order })
	return out
}

// expected is the namespace that a folder has in a project; false where that is not known, or not below it.
func (u *unit) expected(dir string) (string, bool) {
	tail, below := tailOf(u.dir, dir)
	if !below || u.space == "" && u.stated {
		return "", false
	}
	return join(u.space, tail), true
}
