package java

import (
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file looks at files beside the code that speak of types: lists of services, modules, and Kotlin.

// services writes a list of services under the name that its interface has then: the name of the file is that of a type
// (java.util.ServiceLoader).
func (o *owing) services() {
	for id, f := range o.old.tree.Files {
		dir, name := path.Split(f.Path)
		if f.Link || !strings.HasSuffix(dir, "META-INF/services/") {
			continue
		}
		all, full := o.old.named(project.FileID(id), name)
		goal := o.goal(all, full)
		if len(all) == 0 || goal == full {
			continue
		}
		content, err := o.old.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		edits := []source.Edit{}
		for _, m := range o.old.wordsIn(project.FileID(id), content) {
			if m.Kind == ClassWord {
				of, was := o.old.named(project.FileID(id), m.Text)
				edits = append(edits, source.Edit{Span: m.Span, New: respelled(m.Text, was, o.goal(of, was))})
			}
		}
		text, err := source.Apply(content, edits)
		if err != nil {
			continue
		}
		to := f.Path
		if moved := o.moves[f.Path]; moved != "" {
			to = moved
		}
		to = path.Join(path.Dir(to), respelled(name, full, goal))
		o.out = append(o.out, lang.Duty{Path: to, New: text}, lang.Duty{Path: f.Path, Remove: true})
	}
}

// exporting are the directives of a module that open a package (JLS 7.7).
var exporting = regexp.MustCompile(`(?m)^([ \t]*)(exports|opens)\s+([\w.]+)((?:\s+to\s[^;]*)?);`)

// modules opens the packages to which what an open package had goes.
func (o *owing) modules() {
	for id, f := range o.old.tree.Files {
		if f.Link || path.Base(f.Path) != "module-info.java" {
			continue
		}
		content, err := o.old.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		var edits []source.Edit
		said := map[string]bool{}
		found := exporting.FindAllSubmatchIndex(content, -1)
		for _, at := range found {
			said[string(content[at[4]:at[7]])] = true
		}
		for _, at := range found {
			pkg := string(content[at[6]:at[7]])
			goals := o.goalsOf(pkg)
			if len(goals) > 0 && !slices.Contains(goals, pkg) {
				goals = goals[1:] // the name itself becomes the first
			}
			text := ""
			for _, goal := range goals {
				word := string(content[at[4]:at[5]])
				if line := word + " " + goal; goal != pkg && !said[line] {
					said[line] = true
					text += "\n" + string(content[at[2]:at[3]]) + line + string(content[at[8]:at[9]]) + ";"
				}
			}
			if text != "" {
				edits = append(edits, source.Edit{Span: source.Span{Start: at[1], End: at[1]}, New: text})
			}
		}
		if len(edits) > 0 {
			o.out = append(o.out, lang.Duty{Path: f.Path, Why: "packages of the module", Edits: edits})
		}
	}
}

// goalsOf are the packages to which the files of one go, in their order.
func (o *owing) goalsOf(pkg string) (out []string) {
	for _, id := range o.old.ix.own[pkg] {
		out = append(out, o.then(id))
	}
	slices.Sort(out)
	return slices.Compact(out)
}

var (
	kotlinPackage = regexp.MustCompile(`(?m)^\s*package\s+([\w.]+)`)
	kotlinStar    = regexp.MustCompile(`(?m)^\s*import\s+([\w.]+)\.\*`)
	kotlinWord    = regexp.MustCompile(`[A-Za-z_]\w*`)
)

// kotlin keeps types beside Kotlin files that name them without an import: their names are not looked up there.
func (o *owing) kotlin() {
	for id, f := range o.old.tree.Files {
		if f.Link || path.Ext(f.Path) != ".kt" && path.Ext(f.Path) != ".groovy" && path.Ext(f.Path) != ".scala" {
			continue
		}
		content, err := o.old.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		var packages []string
		for _, found := range append(kotlinPackage.FindAllSubmatch(content, 1), kotlinStar.FindAllSubmatch(content, -1)...) {
			packages = append(packages, string(found[1]))
		}
		var words map[string]bool
		for _, pkg := range packages {
			for _, file := range o.old.ix.own[pkg] {
				if o.then(file) == pkg {
					continue
				}
				if words == nil {
					words = map[string]bool{}
					for _, word := range kotlinWord.FindAll(content, -1) {
						words[string(word)] = true
					}
				}
				e := o.old.ix.files[file]
				for i := range e.types {
					if d := &e.types[i]; d.owner < 0 && words[d.name] {
						o.lost([]project.FileID{file}, "%s names %s without an import, and names are not looked up in such files",
							f.Path, e.nameOf(i))
					}
				}
			}
		}
	}
}

// levels says which settings of a logger speak of a package by keys that stand in one another, which are not written
// anew: logging: { level: { a: { b: DEBUG } } }.
func (o *owing) levels() {
	for id, f := range o.old.tree.Files {
		if f.Link || !strings.HasPrefix(path.Base(f.Path), "application") {
			continue
		}
		format := manifest.FormatOf(f.Path)
		if format == nil || format.Name != "YAML" {
			continue
		}
		content, err := o.old.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		root, err := format.Parse(content)
		if err != nil {
			continue // who reads settings says so
		}
		level := root.At("logging", "level")
		if level == nil {
			continue
		}
		level.Walk(func(keys []string, v *manifest.Value) {
			name := strings.Join(keys, ".")
			if len(keys) < 2 || len(o.old.ix.within[name]) == 0 {
				return
			}
			if goal, whole := o.spaceGoal(o.old, name, false); !whole || goal != name {
				o.out = append(o.out, lang.Duty{Path: f.Path, At: v.Span.Start, Why: fmt.Sprintf(
					"the keys above speak of %s, of which what moves has another name then; they stand in one another, "+
						"and are not written anew", name)})
			}
		})
	}
}
