package php

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file keeps containers and routers finding what they found: their settings name folders, and no class names them.

// resource is an entry by which a container finds classes: NS\: { resource: folder or pattern, exclude: patterns }
// (services.yaml).
type resource struct {
	routes  bool // it is one of addresses (routes.yaml): only classes that answer one matter
	file    string
	key     string // of the entry
	pattern string
	without []string
}

// holds says whether an entry finds the class of a file.
func (x *resource) holds(p string) bool {
	return fits(x.pattern, p) && !slices.ContainsFunc(x.without, func(w string) bool { return fits(w, p) })
}

// resources finds classes that a container or a router finds before the moves and not after them.
func (o *owing) resources() {
	before := o.old.readResources()
	if len(before) == 0 {
		return
	}
	after := o.readResources()
	left := map[int][]string{} // new places of what an entry leaves out, by the entry
	for _, m := range o.moves {
		for i := range before {
			x := &before[i]
			if !strings.HasSuffix(m.From, ".php") || x.routes && !o.answers(m.From) {
				continue
			}
			if !x.holds(m.From) {
				// what leaves it out goes along where the whole folder goes
				along := slices.ContainsFunc(x.without, func(w string) bool { return fits(w, m.From) && o.follows(w) })
				if x.routes || along || !fits(x.pattern, m.From) {
					continue
				}
				for _, y := range after {
					if y.routes || !y.holds(m.To) {
						continue
					}
					if at := slices.IndexFunc(before, y.same); at >= 0 {
						left[at] = append(left[at], m.To)
					}
				}
				continue
			}
			if slices.ContainsFunc(after, func(y resource) bool { return y.routes == x.routes && y.holds(m.To) }) ||
				o.follows(x.pattern) { // the entry goes along
				continue
			}
			what := "makes services of the classes"
			if x.routes {
				what = "looks for addresses"
			}
			o.out = append(o.out, lang.Duty{Path: x.file, Lost: []string{m.From}, Why: fmt.Sprintf(
				"%s %s in %s, and %s would be in none of its entries", x.file, what, x.pattern, m.To)})
			break
		}
	}
	for _, i := range slices.Sorted(maps.Keys(left)) {
		o.leaveOut(&before[i], left[i])
	}
}

// same says whether two entries are one, before the moves and after them.
func (x resource) same(y resource) bool {
	return x.file == y.file && x.key == y.key && x.routes == y.routes
}

// leaveOut lets an entry leave out the new places of what it left out before.
func (o *owing) leaveOut(x *resource, places []string) {
	id, _ := o.old.tree.Lookup(x.file)
	content, err := o.old.tree.Content(id)
	if err != nil {
		return
	}
	root, err := manifest.ParseYAML(content)
	if err != nil {
		return
	}
	list := root.At("services", x.key, "exclude")
	var items []string
	for _, p := range places {
		items = append(items, lang.Relative(path.Dir(x.file), p))
	}
	slices.Sort(items)
	if items = slices.Compact(items); list == nil || list.Kind != manifest.List && list.Kind != manifest.String {
		o.out = append(o.out, lang.Duty{Path: x.file, Why: fmt.Sprintf(
			"%s would make services of what was none: %s", x.key, strings.Join(items, ", "))})
		return
	}
	edit := addTexts(content, list, items)
	o.out = append(o.out, lang.Duty{Path: x.file, Why: "what is left out", Edits: []source.Edit{edit}})
}

// addTexts gives the edit by which a list of YAML gets more texts. One that is a single text becomes a list.
func addTexts(src []byte, list *manifest.Value, items []string) source.Edit {
	style := manifest.Style{Format: "YAML", Quote: '\''}
	if list.Kind == manifest.List {
		edit := style.AddItem(src, list, items[0])
		for _, item := range items[1:] {
			edit.New += style.AddItem(src, list, item).New
		}
		return edit
	}
	whole := manifest.Whole(list)
	text := "['" + strings.ReplaceAll(list.Text, "'", "''")
	for _, item := range items {
		text += "', '" + item
	}
	return source.Edit{Span: whole, New: text + "']"}
}

// answers says whether a class in a file of the old tree answers an address.
func (o *owing) answers(p string) bool {
	id, there := o.old.tree.Lookup(p)
	e := o.old.index().files[id]
	return there && e != nil && slices.ContainsFunc(e.declared, func(d declaration) bool { return d.route })
}

// follows says whether all of a folder goes, so that what names it follows.
func (o *owing) follows(folder string) bool {
	from, to := o.old.tree.Below(folder)
	goes := map[string]bool{}
	for _, m := range o.moves {
		goes[m.From] = true
	}
	for id := from; id < to; id++ {
		if !goes[o.old.tree.Path(id)] {
			return false
		}
	}
	return to > from
}

// readResources reads the entries of all files of services and of addresses.
func (r *Resolver) readResources() (out []resource) {
	for id, f := range r.tree.Files {
		base, ext := path.Base(f.Path), path.Ext(f.Path)
		services := strings.HasPrefix(base, "services")
		routes := strings.HasPrefix(base, "routes") || strings.Contains("/"+path.Dir(f.Path), "/config/routes")
		if f.Link || ext != ".yaml" && ext != ".yml" || !services && !routes {
			continue
		}
		content, err := r.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		root, err := manifest.ParseYAML(content)
		if err != nil {
			continue
		}
		if services {
			root = root.Get("services")
		}
		if root == nil {
			continue
		}
		for _, m := range root.Members {
			place := m.Value.Get("resource")
			if services && !strings.HasSuffix(m.Key, `\`) || place == nil {
				continue
			}
			folder := place.Text
			if place.Kind == manifest.Object { // { path: …, namespace: … }
				if folder = ""; place.Get("path") != nil {
					folder = place.Get("path").Text
				}
			}
			if folder == "" || strings.HasPrefix(folder, "@") {
				continue
			}
			one := resource{routes: !services, file: f.Path, key: m.Key, pattern: path.Join(path.Dir(f.Path), folder)}
			if without := m.Value.Get("exclude"); without != nil {
				for _, text := range texts(without) {
					one.without = append(one.without, path.Join(path.Dir(f.Path), text))
				}
			}
			out = append(out, one)
		}
	}
	return out
}
