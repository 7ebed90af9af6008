package java

import (
	"fmt"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file reads builds with modules and parents.

// manifestName is the file in which a project says how it is built.
const manifestName = "pom.xml"

// modulesIn finds the folders of modules in a build: each is one with a build of its own, or that itself
// (maven.apache.org/pom.html, Aggregation).
func (r *Resolver) modulesIn(from project.FileID, content []byte) (out []lang.Mention) {
	if path.Base(r.tree.Path(from)) != manifestName {
		return nil
	}
	root, err := manifest.ParseXML(content)
	if err != nil {
		return nil
	}
	walk(root, func(m *manifest.Member) {
		text := m.Value
		if text.Kind == manifest.String && picking[m.Key] {
			if one, is := r.testsIn(from, text); is {
				out = append(out, one)
			}
			return
		}
		if m.Key != "module" || text.Kind != manifest.String || strings.ContainsAny(text.Text, "$<") {
			return
		}
		one := lang.Mention{Span: text.Span, Text: text.Text, Kind: Module, Form: lang.InMarkup}
		if r.Resolve(from, &one).Kind.Inside() {
			out = append(out, one)
		}
	})
	return out
}

// picking are the elements of a build that pick tests by the paths of their classes below any root of sources
// (maven.apache.org/surefire/maven-surefire-plugin, Inclusions and Exclusions of Tests).
var picking = lang.Words("include exclude test")

// testsIn reads the path of a class, or a pattern of such paths: a/b/CTest.java, a/b/**/*Test.java.
func (r *Resolver) testsIn(from project.FileID, v *manifest.Value) (lang.Mention, bool) {
	text := v.Text
	m := lang.Mention{Span: v.Span, Kind: ClassPath, Form: lang.InMarkup}
	if star := strings.IndexAny(text, "*?"); star >= 0 {
		text = text[:strings.LastIndexByte(text[:star], '/')+1]
	} else if ext := path.Ext(text); ext == ".java" || ext == ".class" {
		text = strings.TrimSuffix(text, ext)
	}
	m.Text = strings.TrimSuffix(text, "/")
	m.Span.End = m.Span.Start + len(m.Text)
	return m, strings.Contains(m.Text, "/") && r.resolveClassPath(from, m.Text).Kind.Inside()
}

// resolveClassPath says which type or package a path of classes means.
func (r *Resolver) resolveClassPath(from project.FileID, text string) lang.Target {
	name := strings.ReplaceAll(text, "/", ".")
	if all := r.declares(from, name); len(all) > 0 {
		return r.target(all)
	}
	return r.spaceTarget(from, name)
}

// spellClassPath writes a path of classes.
func (r *Resolver) spellClassPath(old *Resolver, q lang.Respelling) (lang.Spelling, bool) {
	name := strings.ReplaceAll(q.Mention.Text, "/", ".")
	goal, whole := "", true
	if all := old.declares(q.OldFrom, name); len(all) > 0 {
		goal = r.goal(all, name)
	} else {
		goal, whole = r.spaceGoal(old, name, false)
	}
	return lang.Spelling{Text: strings.ReplaceAll(goal, ".", "/")}, whole
}

// walk visits all elements of a build.
func walk(v *manifest.Value, visit func(*manifest.Member)) {
	if v == nil {
		return
	}
	for i := range v.Members {
		visit(&v.Members[i])
		walk(v.Members[i].Value, visit)
	}
	for _, item := range v.Items {
		walk(item, visit)
	}
}

// resolveModule gives the build of a module.
func (r *Resolver) resolveModule(from project.FileID, text string) lang.Target {
	p := path.Join(path.Dir(r.tree.Path(from)), text)
	for _, at := range []string{path.Join(p, manifestName), p} {
		if id, there := r.tree.Lookup(at); there {
			return lang.File(id)
		}
	}
	return lang.No(lang.ToNothing)
}

// spellModule writes the folder of a module, or its build where that is named otherwise.
func (r *Resolver) spellModule(q lang.Respelling) (lang.Spelling, bool) {
	if q.Target.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	dir, to := path.Dir(r.tree.Path(q.From)), r.tree.Path(q.Target.File)
	if path.Base(to) == manifestName && path.Base(q.Mention.Text) != manifestName {
		to = path.Dir(to)
	}
	return lang.Spelling{Text: strings.TrimPrefix(lang.Relative(dir, to), "./")}, true
}

// parents writes where the parent of a build is, where it is not found by habit any more
// (maven.apache.org/pom.html, Inheritance).
func (o *owing) parents() {
	for id, f := range o.old.tree.Files {
		if f.Link || path.Base(f.Path) != manifestName {
			continue
		}
		above, there := o.old.tree.Lookup(path.Join(path.Dir(f.Path), "../"+manifestName))
		content, err := o.old.tree.Content(project.FileID(id))
		if err != nil || !there {
			continue
		}
		root, err := manifest.ParseXML(content)
		if err != nil {
			o.out = append(o.out, lang.Duty{Path: f.Path,
				Why: fmt.Sprintf("it can't be read, so its paths are not known: %v", err)})
			continue
		}
		parent := root.At("project", "parent")
		if parent == nil {
			parent = root.Get("parent")
		}
		if parent == nil || parent.Get("relativePath") != nil || !o.isParent(above, parent) {
			continue
		}
		dir, to := path.Dir(o.goes(f.Path)), o.goes(o.old.tree.Path(above))
		if path.Join(dir, "../"+manifestName) == to {
			continue
		}
		last := parent.Members[len(parent.Members)-1]
		closing := strings.Index(string(content[last.Value.Span.End:]), "</parent>")
		if closing < 0 {
			continue
		}
		at := last.Value.Span.End
		if end := strings.IndexByte(string(content[at:at+closing]), '>'); end >= 0 {
			at += end + 1 // behind the element
		}
		blanks := ""
		if start := last.Start; start > 0 {
			line := strings.LastIndexByte(string(content[:start]), '\n')
			blanks = lead(content, line, start)
		}
		o.out = append(o.out, lang.Duty{Path: f.Path, Why: "path of the parent", Edits: []source.Edit{{
			Span: source.Span{Start: at, End: at},
			New:  blanks + "<relativePath>" + lang.Relative(dir, to) + "</relativePath>"}}})
	}
}

// lead is the line break and the blanks before an element.
func lead(content []byte, line, start int) string {
	if line < 0 {
		return ""
	}
	head := string(content[line:start])
	if at := strings.IndexByte(head, '<'); at >= 0 {
		head = head[:at]
	}
	if strings.TrimSpace(head) != "" {
		return ""
	}
	return head
}

// isParent says whether a build is the one that another names as its parent.
func (o *owing) isParent(above project.FileID, parent *manifest.Value) bool {
	content, err := o.old.tree.Content(above)
	if err != nil {
		return false
	}
	root, err := manifest.ParseXML(content)
	if err != nil {
		return false
	}
	if inner := root.Get("project"); inner != nil {
		root = inner
	}
	return root.Get("artifactId").String() == parent.Get("artifactId").String()
}

// goes is the path of a file in the end.
func (o *owing) goes(p string) string {
	if to := o.moves[p]; to != "" {
		return to
	}
	return p
}
