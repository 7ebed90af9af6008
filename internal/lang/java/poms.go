package java

import (
	"bytes"
	"cmp"
	"fmt"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// write makes the builds.
func (p *splitting) write() {
	parents := map[*pom][]*lang.Parcel{}
	for _, one := range p.All {
		if one.Written() {
			parents[p.parentOf(one)] = append(parents[p.parentOf(one)], one)
			p.module(one)
		}
	}
	for _, one := range p.All { // in their order
		if one.Was == nil {
			continue
		}
		b := p.pomOf(one.Was.Dir)
		if b == nil {
			continue
		}
		if all := parents[b]; len(all) > 0 {
			p.parent(b, all)
		}
		p.extend(one, b)
	}
	for b, x := range p.edits {
		p.PutXML(b.id, x)
	}
}

// change writes a build anew in parts. of finds what is to be written in it as it is then.
func (p *splitting) change(b *pom, of func(now *pom) (source.Edit, bool)) {
	if p.edits[b] == nil {
		p.edits[b] = &manifest.XML{Chain: source.Chain{Text: b.src}, Top: "project"}
	}
	p.edits[b].Change(func(src []byte, top manifest.Member) (source.Edit, bool) {
		return of(&pom{b.id, b.dir, src, top})
	})
}

// addTo adds an element to one of the project, which is made if it is not there. It stands behind the last of those
// that may stand before it.
func addTo(now *pom, holder, element string, before ...string) source.Edit {
	for _, m := range now.project.Value.Named(holder) {
		return manifest.AddElement(now.src, m, element)
	}
	whole := fmt.Sprintf("<%s>\n  %s\n</%s>", holder, strings.ReplaceAll(strings.TrimSuffix(element, "\n"), "\n",
		"\n  "), holder)
	return addBehind(now, whole, before...)
}

// addBehind adds an element of the project behind the last of some others, or as the last.
func addBehind(now *pom, element string, before ...string) source.Edit {
	var last *manifest.Member
	for i, m := range now.project.Value.Members {
		if slices.Contains(before, m.Key) {
			last = &now.project.Value.Members[i]
		}
	}
	if last == nil {
		return manifest.AddElement(now.src, now.project, element)
	}
	e := manifest.AddElement(now.src, now.project, element)
	end := manifest.ElementSpan(now.src, *last).End
	at := text.LineEnd(now.src, end)
	if at < len(now.src) {
		at++
	}
	e.Span = source.Span{Start: at, End: at}
	if blank := text.Newline(now.src); !strings.HasPrefix(element, "<packaging>") {
		e.New = blank + e.New
	}
	return e
}

// heads are the elements of a project that say what it is.
var heads = []string{"modelVersion", "parent", "groupId", "artifactId", "version", "packaging", "name", "description",
	"url"}

// parent makes a build one of modules, and enters them.
func (p *splitting) parent(b *pom, all []*lang.Parcel) {
	was := p.isParent(b)
	if !was {
		p.change(b, func(now *pom) (source.Edit, bool) {
			if v := now.project.Value.Get("packaging"); v != nil {
				return source.Edit{Span: v.Span, New: "pom"}, true
			}
			return addBehind(now, "<packaging>pom</packaging>", "modelVersion", "parent", "groupId", "artifactId", "version"),
				true
		})
	}
	dir := project.Dir(p.Q.Then(b.id))
	for _, one := range all {
		module := "<module>" + strings.TrimPrefix(lang.Relative(dir, one.Dir), "./") + "</module>"
		p.change(b, func(now *pom) (source.Edit, bool) { return addTo(now, "modules", module, heads...), true })
	}
	if was {
		return
	}
	var kept []string
	for _, d := range b.dependencies() {
		if p.isUsed(b, d) {
			p.dropDependency(b, d)
			continue
		}
		kept = append(kept, d.artifact)
	}
	if len(kept) > 0 {
		p.Remark(p.tree.Path(b.id), b.project.Value.Get("dependencies").Span.Start,
			"no import names %s, so all modules have it from here", strings.Join(kept, ", "))
	}
	for _, m := range b.project.Value.At("build", "plugins").Named("plugin") {
		if p.starts(b, m) {
			p.change(b, func(now *pom) (source.Edit, bool) { return dropPlugin(now, m.Value.Get("artifactId").String()) })
		}
	}
}

// dropPlugin takes a plugin out, with what holds it if nothing else is there.
func dropPlugin(now *pom, artifact string) (source.Edit, bool) {
	holder := now.project
	for _, key := range []string{"build", "plugins", "plugin"} {
		all := holder.Value.Named(key)
		i := slices.IndexFunc(all, func(m manifest.Member) bool {
			return key != "plugin" ||
				m.Value.Get("artifactId").String() == artifact
		})
		if i < 0 {
			return source.Edit{}, false
		}
		if len(holder.Value.Members) > 1 || key == "build" {
			now = &pom{now.id, now.dir, now.src, all[i]}
		}
		holder = all[i]
	}
	return manifest.DropElement(now.src, now.project), true
}

// isUsed says whether a name in some file fits a dependency of a build.
func (p *splitting) isUsed(b *pom, d dependency) bool {
	for _, one := range p.All {
		for _, name := range one.Sorted() {
			if slices.ContainsFunc(p.fitting(b, name), func(o dependency) bool { return o.member.Start == d.member.Start }) {
				return true
			}
		}
	}
	return false
}

// isSame says whether two dependencies are one, in a build that is written anew.
func isSame(a, b dependency) bool {
	return a.group == b.group && a.artifact == b.artifact && a.scope == b.scope &&
		a.member.Value.Get("classifier").String() == b.member.Value.Get("classifier").String()
}

func (p *splitting) dropDependency(b *pom, d dependency) {
	p.change(b, func(now *pom) (source.Edit, bool) {
		for _, other := range now.dependencies() {
			if isSame(other, d) {
				if holder := now.project.Value.Named("dependencies"); len(now.dependencies()) == 1 {
					return manifest.DropElement(now.src, holder[0]), true
				}
				return manifest.DropElement(now.src, other.member), true
			}
		}
		return source.Edit{}, false
	})
}

// starting are plugins that make what can be started: a library has nothing of that.
var starting = lang.Words("spring-boot-maven-plugin quarkus-maven-plugin micronaut-maven-plugin jib-maven-plugin exec-maven-plugin maven-shade-plugin " +
	"maven-assembly-plugin jetty-maven-plugin tomcat7-maven-plugin cargo-maven3-plugin appassembler-maven-plugin javafx-maven-plugin " +
	"launch4j-maven-plugin native-maven-plugin maven-war-plugin")

// mainMethod is a method that starts a program.
var mainMethod = regexp.MustCompile(`\bstatic\s+(?:final\s+)?void\s+main\s*\(`)

// starts says whether a plugin is for what is started, and some module is that.
func (p *splitting) starts(b *pom, m manifest.Member) bool {
	at := manifest.ElementSpan(b.src, m)
	return starting[m.Value.Get("artifactId").String()] || bytes.Contains(b.src[at.Start:at.End], []byte("<mainClass>"))
}

// isProgram says whether a module has a method that starts a program.
func (p *splitting) isProgram(one *lang.Parcel) bool {
	return slices.ContainsFunc(one.Files, func(id project.FileID) (is bool) {
		if p.Q.IsTest(p.Q.Then(id)) {
			return false
		}
		p.tree.Peek(id, func(content []byte, err error) { is = err == nil && mainMethod.Match(content) })
		return is
	})
}

// asked is what a module asks for, as it is written.
type asked struct{ group, artifact, text string }

// wants is what a module asks for: other modules, and what its files use, as the old build asked for it.
func (p *splitting) wants(one *lang.Parcel, have []dependency) (out []asked) {
	put := func(a asked) {
		if !slices.ContainsFunc(out, func(o asked) bool { return o.group == a.group && o.artifact == a.artifact }) &&
			!slices.ContainsFunc(have, func(d dependency) bool { return d.group == a.group && d.artifact == a.artifact }) {
			out = append(out, a)
		}
	}
	for _, other := range p.All {
		if n := one.Inside[other]; n != nil && n.New {
			put(p.member(one, other, n))
		}
	}
	first := len(out)
	normal := map[string]bool{}
	var doubtful [][]dependency
	for _, tests := range []bool{false, true} {
		for _, name := range one.Sorted() {
			n := one.Libraries[name]
			if n.Of == nil || !n.New || n.Normal == tests {
				continue
			}
			b := p.pomOf(n.Of.Dir)
			switch found := p.fitting(b, name); len(found) {
			case 0:
			case 1:
				put(p.library(one, found[0], tests))
				normal[found[0].group+":"+found[0].artifact] = true
			default:
				doubtful = append(doubtful, found)
			}
		}
	}
	for _, found := range doubtful { // one of several has it: what is there is enough
		if !slices.ContainsFunc(found, func(d dependency) bool { return normal[d.group+":"+d.artifact] }) {
			put(p.library(one, found[0], false))
			normal[found[0].group+":"+found[0].artifact] = true
		}
	}
	slices.SortStableFunc(out[first:], func(a, b asked) int {
		return cmp.Or(cmp.Compare(boolOf(strings.Contains(a.text, "<scope>test<")), boolOf(strings.Contains(b.text,
			"<scope>test<"))),
			strings.Compare(a.group, b.group), strings.Compare(a.artifact, b.artifact))
	})
	return out
}

func boolOf(is bool) int {
	if is {
		return 1
	}
	return 0
}

// library is a dependency of the old build, for tests alone if nothing else uses it. Where versions are shared, it has
// none, and the parent manages it.
func (p *splitting) library(one *lang.Parcel, d dependency, tests bool) asked {
	raw := p.rewritten(d.of, d.member)
	if at := versionLine.FindStringIndex(raw); p.Q.Shared && at != nil && one.Was == nil {
		p.manage(p.parentOf(one), d)
		raw = raw[:at[0]] + raw[at[1]:]
	}
	if tests && d.scope == "" {
		raw = strings.TrimSuffix(raw, "</dependency>") + "  <scope>test</scope>\n</dependency>"
	}
	return asked{d.group, d.artifact, raw}
}

var versionLine = regexp.MustCompile(`\n *<version>[^<]*</version>`)

// manage lets a parent say the version of a dependency for all modules.
func (p *splitting) manage(parent *pom, d dependency) {
	element := "<dependency>\n"
	for _, key := range []string{"groupId", "artifactId", "version", "type", "classifier"} {
		if v := d.member.Value.Get(key); v != nil {
			element += fmt.Sprintf("  <%s>%s</%s>\n", key, v.String(), key)
		}
	}
	element += "</dependency>"
	p.change(parent, func(now *pom) (source.Edit, bool) {
		if list := now.project.Value.Get("dependencyManagement").Named("dependencies"); len(list) > 0 {
			for _, known := range list[0].Value.Named("dependency") {
				if known.Value.Get("groupId").String() == d.group && known.Value.Get("artifactId").String() == d.artifact {
					return source.Edit{}, false
				}
			}
			return manifest.AddElement(now.src, list[0], element), true
		}
		whole := "<dependencies>\n  " + strings.ReplaceAll(element, "\n", "\n  ") + "\n</dependencies>"
		return addTo(now, "dependencyManagement", whole, append([]string{"properties", "modules"}, heads...)...), true
	})
}

// member is a dependency on a module of the tree.
func (p *splitting) member(one, other *lang.Parcel, n *lang.Need) asked {
	group, version := "${project.groupId}", "${project.version}"
	if other.Was != nil && one.Was == nil && p.pomOf(other.Was.Dir) != p.parentOf(one) {
		if own := p.pomOf(other.Was.Dir); own.text("groupId") != "" {
			group = own.text("groupId")
		}
		if own := p.pomOf(other.Was.Dir); own.text("version") != "" {
			version = own.text("version")
		}
	}
	scope := ""
	if !n.Normal {
		scope = "  <scope>test</scope>\n"
	}
	return asked{group, other.Name,
		fmt.Sprintf("<dependency>\n  <groupId>%s</groupId>\n  <artifactId>%s</artifactId>\n  <version>%s</version>\n%s</dependency>",
			group, other.Name, version, scope)}
}

// module writes the build of a new module.
func (p *splitting) module(one *lang.Parcel) {
	parent, old := p.parentOf(one), p.pomOf(one.From.Dir)
	var out strings.Builder
	head := `<?xml version="1.0" encoding="UTF-8"?>` + "\n"
	if at := bytes.Index(parent.src, []byte("<project")); at >= 0 {
		tag := string(parent.src[at : at+bytes.IndexByte(parent.src[at:], '>')+1])
		head += strings.Join(strings.Fields(tag), " ") + "\n"
	}
	inherited := func(key string) string {
		return cmp.Or(parent.text(key), parent.text("parent", key))
	}
	out.WriteString(head + "  <modelVersion>4.0.0</modelVersion>\n\n  <parent>\n")
	fmt.Fprintf(&out, "    <groupId>%s</groupId>\n    <artifactId>%s</artifactId>\n    <version>%s</version>\n",
		inherited("groupId"), parent.text("artifactId"), inherited("version"))
	if at := lang.Relative(one.Dir, p.Q.Then(parent.id)); at != "../"+manifestName {
		fmt.Fprintf(&out, "    <relativePath>%s</relativePath>\n", at)
	}
	out.WriteString("  </parent>\n\n")
	if parent != old && old.text("groupId") != "" && old.text("groupId") != inherited("groupId") {
		fmt.Fprintf(&out, "  <groupId>%s</groupId>\n", old.text("groupId"))
	}
	fmt.Fprintf(&out, "  <artifactId>%s</artifactId>\n", one.Name)
	if p.hasPages(one) {
		out.WriteString("  <packaging>war</packaging>\n")
	}
	if parent != old { // what the old module has by itself
		for _, key := range []string{"properties", "dependencyManagement"} {
			for _, m := range old.project.Value.Named(key) {
				out.WriteString("\n  " + strings.ReplaceAll(p.rewritten(old, m), "\n", "\n  ") + "\n")
			}
		}
	}
	if all := p.wants(one, nil); len(all) > 0 {
		out.WriteString("\n  <dependencies>\n")
		for _, a := range all {
			out.WriteString("    " + strings.ReplaceAll(a.text, "\n", "\n    ") + "\n")
		}
		out.WriteString("  </dependencies>\n")
	}
	var plugins []string
	for _, m := range old.project.Value.At("build", "plugins").Named("plugin") {
		if starts := p.starts(old, m); starts && p.isProgram(one) || !starts && parent != old {
			plugins = append(plugins, p.rewritten(old, m))
		}
	}
	if len(plugins) > 0 {
		out.WriteString("\n  <build>\n    <plugins>\n")
		for _, raw := range plugins {
			out.WriteString("      " + strings.ReplaceAll(raw, "\n", "\n      ") + "\n")
		}
		out.WriteString("    </plugins>\n  </build>\n")
	}
	out.WriteString("</project>\n")
	p.Out.Writes[path.Join(one.Dir, manifestName)] = manifest.LikeXML(parent.src, out.String())
	p.unclear(one, old)
}

// rewritten is an element of a build as it is written in another: classes in it are called as they are after the moves.
func (p *splitting) rewritten(b *pom, m manifest.Member) string {
	at := manifest.ElementSpan(b.src, m)
	var edits []source.Edit
	mentions, targets := p.all(b.id)
	for i := range mentions {
		t := targets[i]
		if span := mentions[i].Span; mentions[i].Kind != ClassWord || t.Kind != lang.ToFile || span.Start < at.Start ||
			span.End > at.End {
			continue
		}
		was, is := className(p.tree.Path(t.File)), className(p.Q.Then(t.File))
		if was == mentions[i].Text && is != "" && is != was {
			edits = append(edits, source.Edit{Span: mentions[i].Span, New: is})
		}
	}
	slices.SortFunc(edits, func(x, y source.Edit) int { return y.Span.Start - x.Span.Start })
	src := slices.Clone(b.src)
	for _, e := range edits { // the last first, and those in the element alone move its end
		src = slices.Concat(src[:e.Span.Start], []byte(e.New), src[e.Span.End:])
		at.End += len(e.New) - e.Span.Len()
	}
	return manifest.Levelled(src, at)
}

// className is the name of the class of a file, by its path below a root; empty where there is none by habit.
func className(p string) string {
	root, is := usual(p)
	if !is {
		return ""
	}
	name, _ := names.Qualified(root, strings.TrimSuffix(p, path.Ext(p)), ".")
	return name
}

// hasPages says whether a module has what an archive for the web is made of.
func (p *splitting) hasPages(one *lang.Parcel) bool {
	for id := range p.tree.Files {
		if strings.HasPrefix(p.Q.Then(project.FileID(id)), path.Join(one.Dir, "src/main/webapp")+"/") {
			return true
		}
	}
	return false
}

// unclear says what a module uses that fits no dependency: it may come with another, which the module does not have.
func (p *splitting) unclear(one *lang.Parcel, old *pom) {
	for _, name := range one.Sorted() {
		n := one.Libraries[name]
		if n.New && len(p.fitting(old, name)) == 0 && !p.inTree(name) {
			p.Remark(p.tree.Path(n.By), n.At, "it is not known by its name which dependency has %s: %s may have to ask for it",
				name, path.Join(one.Dir, manifestName))
			return
		}
	}
}

// inTree says whether files of the tree are of the package that a name is in.
func (p *splitting) inTree(name string) bool {
	if p.own == nil {
		p.own = map[string]bool{}
		for id := range p.index().files {
			p.own[p.ix.files[id].file.pkg] = true
		}
	}
	return p.own[packageOf(name)]
}

// packageOf is the package of a type or a member: the parts before the first that begins with a capital.
func packageOf(name string) string {
	end := 0
	for part := range strings.SplitSeq(name, ".") {
		if part != "" && part[0] >= 'A' && part[0] <= 'Z' {
			break
		}
		end += len(part) + 1
	}
	return name[:max(0, min(end-1, len(name)))]
}

// extend writes into a build that is there what its module needs besides, and takes out what only files have used that
// are of other modules now.
func (p *splitting) extend(one *lang.Parcel, b *pom) {
	for _, a := range p.wants(one, b.dependencies()) {
		p.change(b, func(now *pom) (source.Edit, bool) {
			return addTo(now, "dependencies", a.text, append([]string{"properties", "dependencyManagement", "modules"},
				heads...)...), true
		})
	}
	if p.isParent(b) || len(one.Had) == 0 {
		return
	}
	gone := false
	for _, d := range b.dependencies() {
		is := func(name string) bool {
			found := p.fitting(b, name)
			return len(found) == 1 && found[0].member.Start == d.member.Start
		}
		fits := func(name string) bool {
			return slices.ContainsFunc(p.fitting(b, name), func(o dependency) bool { return o.member.Start == d.member.Start })
		}
		if had := slices.Collect(maps.Keys(one.Had)); slices.ContainsFunc(had, is) && !slices.ContainsFunc(one.Sorted(),
			fits) || one.Had[d.artifact] && !one.Uses(d.artifact) {
			p.dropDependency(b, d)
			gone = true
		}
	}
	if gone && len(one.Files) == 0 {
		p.Remark(p.tree.Path(b.id), 0, "no source is left in the module %s: it may go", one.Was.Name)
	}
}
