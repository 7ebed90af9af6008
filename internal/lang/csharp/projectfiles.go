package csharp

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// write makes the project files, and enters them in the solutions.
func (p *parting) write() {
	written := map[*projectFile][]*lang.Parcel{}
	for _, one := range p.All {
		if one.Written() {
			from := p.files[one.From.Dir]
			written[from] = append(written[from], one)
			p.project(one, from)
		}
	}
	for _, one := range p.All { // in their order
		if one.Was != nil && len(written[p.files[one.Was.Dir]]) > 0 {
			p.unasked(p.files[one.Was.Dir], written[p.files[one.Was.Dir]])
		}
		if one.Was != nil {
			p.extend(one, p.files[one.Was.Dir])
		}
	}
	for f, x := range p.edits {
		p.PutXML(f.id, x)
	}
	p.solutions(written)
}

// change writes a project file anew in parts. of finds what is to be written in it as it is then.
func (p *parting) change(f *projectFile, of func(now *projectFile) (source.Edit, bool)) {
	if p.edits[f] == nil {
		p.edits[f] = &manifest.XML{Chain: source.Chain{Text: f.src}, Top: "Project"}
	}
	p.edits[f].Change(func(src []byte, top manifest.Member) (source.Edit, bool) {
		return of(&projectFile{path: f.path, id: f.id, src: src, top: top})
	})
}

// addItem adds an item behind the last of its kind, or in a group of its own.
func addItem(now *projectFile, kind, item string) source.Edit {
	var last manifest.Member
	for _, group := range now.top.Value.Named("ItemGroup") {
		if len(group.Value.Named(kind)) > 0 {
			last = group
		}
	}
	if last.Value != nil {
		return manifest.AddElement(now.src, last, item)
	}
	group := "<ItemGroup>\n  " + strings.ReplaceAll(item, "\n", "\n  ") + "\n</ItemGroup>"
	for _, m := range slices.Backward(now.top.Value.Members) {
		if m.Key != "ItemGroup" && m.Key != "PropertyGroup" { // before what is imported at the end
			continue
		}
		e := manifest.AddElement(now.src, now.top, group)
		end := text.LineEnd(now.src, manifest.ElementSpan(now.src, m).End)
		return source.Edit{Span: source.Span{Start: min(end+1, len(now.src)), End: min(end+1, len(now.src))},
			New: text.Newline(now.src) + e.New}
	}
	return manifest.AddElement(now.src, now.top, group)
}

// dropItem takes an item out, with its group if nothing else is in it.
func dropItem(now *projectFile, is func(m manifest.Member) bool) (source.Edit, bool) {
	for _, group := range now.top.Value.Named("ItemGroup") {
		for _, m := range group.Value.Members {
			if m.Key[0] == '@' || !is(m) {
				continue
			}
			items := slices.DeleteFunc(slices.Clone(group.Value.Members),
				func(m manifest.Member) bool { return m.Key[0] == '@' })
			if len(items) == 1 {
				return manifest.DropElement(now.src, group), true
			}
			return manifest.DropElement(now.src, m), true
		}
	}
	return source.Edit{}, false
}

// raw is an element as it is written.
func raw(src []byte, m manifest.Member) string {
	return manifest.Levelled(src, manifest.ElementSpan(src, m))
}

// wants are the packages that a project uses, as the old one refers to them. What extends the types of others only by
// methods no using names: that stays where it was.
func (p *parting) wants(one *lang.Parcel, have []packageRef) (out []packageRef) {
	for _, space := range one.Sorted() {
		n := one.Libraries[space]
		if n.Of == nil || !n.New {
			continue
		}
		for _, l := range p.files[n.Of.Dir].fitting(space) {
			same := func(o packageRef) bool { return strings.EqualFold(o.id, l.id) }
			if !slices.ContainsFunc(out, same) && !slices.ContainsFunc(have, same) {
				out = append(out, l)
			}
		}
	}
	slices.SortFunc(out, func(a, b packageRef) int {
		return strings.Compare(strings.ToLower(a.id),
			strings.ToLower(b.id))
	})
	return out
}

// references are the projects that a project needs and does not refer to yet, as they are written.
func (p *parting) references(one *lang.Parcel, old bool) (out []string) {
	reached := map[*lang.Parcel]bool{}
	if old { // what those that it refers to give out must be known to it too
		reached = one.Reached(true)
	}
	for _, other := range p.All {
		n := one.Inside[other]
		if direct := n != nil && n.New; other == one || !direct && !(reached[other] && other.Written()) || p.refersTo(one,
			other) {
			continue
		}
		to := strings.ReplaceAll(strings.TrimPrefix(lang.Relative(one.Dir, p.fileOf(other)), "./"), "/", `\`)
		if !old {
			out = append(out, fmt.Sprintf(`<ProjectReference Include="%s" />`, to))
			continue
		}
		out = append(out,
			fmt.Sprintf("<ProjectReference Include=\"%s\">\n  <Project>{%s}</Project>\n  <Name>%s</Name>\n</ProjectReference>",
				to, p.guid(other), other.Name))
	}
	return out
}

// refersTo says whether a project refers to another already.
func (p *parting) refersTo(one, other *lang.Parcel) bool {
	if one.Was == nil || other.Was == nil {
		return false
	}
	return slices.ContainsFunc(p.files[one.Was.Dir].unit.items.builds, func(to string) bool {
		return strings.EqualFold(to, p.files[other.Was.Dir].path)
	})
}

// fileOf is where the project file of a project will be.
func (p *parting) fileOf(one *lang.Parcel) string {
	if one.Was != nil {
		return p.Q.Then(one.Was.Manifest)
	}
	return path.Join(one.Dir, one.Name+".csproj")
}

// guid is that of a project, in capitals and without braces.
func (p *parting) guid(one *lang.Parcel) string {
	if one.Was != nil {
		for _, group := range p.files[one.Was.Dir].top.Value.Named("PropertyGroup") {
			if v := group.Value.Get("ProjectGuid"); v != nil {
				return strings.ToUpper(strings.Trim(v.String(), "{} "))
			}
		}
	}
	dir := "."
	if all := p.solutionsOf(p.files[one.From.Dir]); len(all) > 0 {
		dir = project.Dir(p.Q.Then(all[0]))
	}
	return lang.GUID(strings.TrimPrefix(lang.Relative(dir, p.fileOf(one)), "./"))
}

// ownProperties say what one project is, and hold for no other.
var ownProperties = lang.Words("OutputType AssemblyName RootNamespace PackageId Title Description Product ApplicationIcon StartupObject UserSecretsId ProjectGuid " +
	"AssemblyTitle PackAsTool ToolCommandName PublishSingleFile PublishAot PublishTrimmed ApplicationManifest DockerDefaultTargetOS DockerfileContext IsTestProject IsPackable")

// project writes the file of a new project.
func (p *parting) project(one *lang.Parcel, from *projectFile) {
	old := !from.unit.sdk
	var out strings.Builder
	head := `<Project Sdk="Microsoft.NET.Sdk">` + "\n"
	if one.Asked.Template != nil {
		root, err := manifest.ParseXML(one.Asked.Template)
		if err != nil || len(root.Named("Project")) == 0 {
			p.Refuse(one.Dir, "the text that its project file begins with is no project: %v", err)
			return
		}
	} else {
		if old {
			head = string(from.src[:from.top.Value.Members[0].Start])
			if at := bytes.IndexByte(from.src[from.top.Start:], '>'); at >= 0 {
				head = string(from.src[:from.top.Start+at+1]) + "\n"
			}
			head = strings.TrimPrefix(strings.ReplaceAll(head, "\r\n", "\n"), "\ufeff")
		}
		out.WriteString(head + p.properties(one, from, old))
	}
	var groups []string
	group := func(items []string) {
		if len(items) > 0 {
			groups = append(groups, "  <ItemGroup>\n    "+strings.ReplaceAll(strings.Join(items, "\n"), "\n",
				"\n    ")+"\n  </ItemGroup>\n")
		}
	}
	var usings, friends, assemblies, packages []string
	for _, g := range from.top.Value.Named("ItemGroup") {
		for _, m := range g.Value.Members {
			switch m.Key {
			case "Using":
				usings = append(usings, raw(from.src, m))
			case "InternalsVisibleTo":
				friends = append(friends, raw(from.src, m))
			case "Reference":
				assemblies = append(assemblies, p.moved(raw(from.src, m), m, from, one))
			}
		}
	}
	if sdk := from.top.Value.Get("@Sdk").String(); sdk == "Microsoft.NET.Sdk.Web" && p.needsWeb(one) {
		group([]string{`<FrameworkReference Include="Microsoft.AspNetCore.App" />`})
		for _, space := range []string{"System.Net.Http.Json", "Microsoft.AspNetCore.Builder",
			"Microsoft.AspNetCore.Hosting", "Microsoft.AspNetCore.Http",
			"Microsoft.AspNetCore.Routing", "Microsoft.Extensions.Configuration", "Microsoft.Extensions.DependencyInjection",
			"Microsoft.Extensions.Hosting",
			"Microsoft.Extensions.Logging"} { // what the other kind of project brings unasked
			usings = append(usings, fmt.Sprintf(`<Using Include="%s" />`, space))
		}
	}
	for _, l := range p.wants(one, nil) {
		packages = append(packages, raw(l.of.src, l.member))
	}
	group(assemblies)
	group(usings)
	group(friends)
	group(packages)
	group(p.references(one, old))
	group(p.items(one, from))
	if one.Asked.Template != nil {
		content := string(one.Asked.Template)
		at := strings.LastIndex(content, "</Project>")
		p.Out.Writes[p.fileOf(one)] = []byte(content[:at] + strings.Join(groups, "") + content[at:])
		return
	}
	out.WriteString("\n" + strings.Join(groups, "\n"))
	if old {
		out.WriteString("\n")
		for _, m := range from.top.Value.Named("Import") {
			out.WriteString("  " + raw(from.src, m) + "\n")
		}
	}
	out.WriteString("</Project>\n")
	p.Out.Writes[p.fileOf(one)] = manifest.LikeXML(from.src, out.String())
}

// properties are those of the old project that hold for a new one.
func (p *parting) properties(one *lang.Parcel, from *projectFile, old bool) string {
	var out strings.Builder
	for i, g := range from.top.Value.Named("PropertyGroup") {
		var lines []string
		for _, m := range g.Value.Members {
			if m.Key[0] != '@' && !ownProperties[m.Key] {
				lines = append(lines, raw(from.src, m))
			}
		}
		if i == 0 && old {
			lines = append(lines, "<ProjectGuid>{"+p.guid(one)+"}</ProjectGuid>", "<OutputType>Library</OutputType>",
				"<RootNamespace>"+one.Name+"</RootNamespace>", "<AssemblyName>"+one.Name+"</AssemblyName>")
		}
		if len(lines) == 0 {
			continue
		}
		tag := "<PropertyGroup>"
		if on := g.Value.Get("@Condition"); on != nil {
			tag = string(from.src[g.Start : g.Start+bytes.IndexByte(from.src[g.Start:], '>')+1])
		}
		blank := "\n"
		if i == 0 && old {
			blank = ""
		}
		out.WriteString(blank + "  " + tag + "\n    " + strings.ReplaceAll(strings.Join(lines, "\n"), "\n", "\n    ") +
			"\n  </PropertyGroup>\n")
	}
	return out.String()
}

// moved is an item of the old project as a new one has it: the path of an assembly is seen from its folder.
func (p *parting) moved(item string, m manifest.Member, from *projectFile, one *lang.Parcel) string {
	hint := m.Value.Get("HintPath")
	if hint == nil || strings.Contains(hint.Text, "$(") {
		return item
	}
	to := lang.Relative(one.Dir, path.Join(project.Dir(from.path), strings.ReplaceAll(hint.Text, `\`, "/")))
	return strings.Replace(item, hint.Text, strings.ReplaceAll(strings.TrimPrefix(to, "./"), "/", `\`), 1)
}

// items are those of the old project that name files which come to a new one, with the paths from there. The old one
// loses them.
func (p *parting) items(one *lang.Parcel, from *projectFile) (out []string) {
	for _, g := range from.top.Value.Named("ItemGroup") {
		for _, m := range g.Value.Members {
			if m.Key[0] == '@' || m.Key == "ProjectReference" || m.Key == "PackageReference" || m.Key == "Reference" {
				continue
			}
			for _, attribute := range []string{"@Include", "@Update"} {
				v := m.Value.Get(attribute)
				if v == nil || strings.ContainsAny(v.Text, "*?;$") {
					continue
				}
				id, there := p.tree.Lookup(path.Join(project.Dir(from.path), strings.ReplaceAll(v.Text, `\`, "/")))
				if !there || p.Home(id) != one {
					continue
				}
				to := strings.ReplaceAll(strings.TrimPrefix(lang.Relative(one.Dir, p.Q.Then(id)), "./"), "/", `\`)
				out = append(out, strings.Replace(raw(from.src, m), v.Text, to, 1))
				p.change(from, func(now *projectFile) (source.Edit, bool) {
					return dropItem(now, func(o manifest.Member) bool {
						return o.Key == m.Key &&
							o.Value.Get(attribute).String() == v.Text
					})
				})
			}
		}
	}
	return out
}

// unasked says which packages no using names: what extends other types only by methods is found by nobody.
func (p *parting) unasked(from *projectFile, all []*lang.Parcel) {
	var names, projects []string
	for _, l := range from.libraries() {
		used := slices.ContainsFunc(p.All, func(other *lang.Parcel) bool {
			return slices.ContainsFunc(other.Sorted(), func(space string) bool {
				return slices.ContainsFunc(from.fitting(space), func(o packageRef) bool { return o.member.Start == l.member.Start })
			})
		})
		if !used {
			names = append(names, l.id)
		}
	}
	for _, one := range all {
		projects = append(projects, one.Name)
	}
	if len(names) > 0 {
		p.Remark(from.path, from.libraries()[0].member.Start,
			"no using names %s, so they stay with %s: of %s, one must refer to a package itself whose methods it calls on types of others",
			strings.Join(names, ", "), from.unit.name, strings.Join(projects, ", "))
	}
}

// extend writes into a project file that is there what its project needs besides, and takes out what only files have
// used that are of other projects now.
func (p *parting) extend(one *lang.Parcel, f *projectFile) {
	for _, l := range p.wants(one, f.libraries()) {
		item := raw(l.of.src, l.member)
		p.change(f, func(now *projectFile) (source.Edit, bool) { return addItem(now, "PackageReference", item), true })
	}
	for _, item := range p.references(one, !f.unit.sdk) {
		p.change(f, func(now *projectFile) (source.Edit, bool) { return addItem(now, "ProjectReference", item), true })
	}
	if len(one.Had) == 0 || !slices.ContainsFunc(p.All, func(other *lang.Parcel) bool {
		return other.Wanted() &&
			other.From == one.Was && other.Was != one.Was
	}) {
		return
	}
	for _, l := range f.libraries() {
		is := func(space string) bool {
			found := f.fitting(space)
			return len(found) == 1 && found[0].member.Start == l.member.Start
		}
		if slices.ContainsFunc(slices.Collect(maps.Keys(one.Had)), is) && !slices.ContainsFunc(one.Sorted(), is) {
			p.change(f, func(now *projectFile) (source.Edit, bool) {
				return dropItem(now, func(m manifest.Member) bool {
					return m.Key == "PackageReference" && m.Value.Get("@Include").String() == l.id
				})
			})
		}
	}
}

// solutionsOf are the solutions that list a project.
func (p *parting) solutionsOf(f *projectFile) (out []project.FileID) {
	for id, one := range p.tree.Files {
		if ext := path.Ext(one.Path); ext != ".sln" && ext != ".slnx" {
			continue
		}
		content, err := p.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		to := strings.TrimPrefix(lang.Relative(project.Dir(one.Path), f.path), "./")
		text := strings.ReplaceAll(string(content), `\`, "/")
		if strings.Contains(text, `"`+to+`"`) {
			out = append(out, project.FileID(id))
		}
	}
	return out
}

// solutions enters the new projects where the old one is listed.
func (p *parting) solutions(written map[*projectFile][]*lang.Parcel) {
	add := map[project.FileID][]string{}
	for f, all := range written {
		solutions := p.solutionsOf(f)
		for _, id := range solutions {
			for _, one := range all {
				add[id] = append(add[id], strings.TrimPrefix(lang.Relative(project.Dir(p.Q.Then(id)), p.fileOf(one)), "./"))
			}
		}
	}
	for _, id := range slices.Sorted(maps.Keys(add)) {
		slices.Sort(add[id])
		content, _ := p.tree.Content(id)
		if path.Ext(p.tree.Path(id)) == ".slnx" {
			p.Out.Edits[id] = p.intoXML(content, add[id])
			continue
		}
		edits, err := p.Q.EditList(p.tree.Path(id), content, []string{"projects"}, add[id], nil)
		if err != nil {
			p.Remark(p.tree.Path(id), 0, "it must list %s: %v", strings.Join(add[id], ", "), err)
			continue
		}
		p.Out.Edits[id] = edits
	}
}

// intoXML enters projects in a solution that is written as XML.
func (p *parting) intoXML(content []byte, add []string) (out []source.Edit) {
	root, err := manifest.ParseXML(content)
	if err != nil {
		return nil
	}
	for _, m := range root.Named("Solution") {
		items := ""
		for _, one := range add {
			items += fmt.Sprintf("<Project Path=\"%s\" />\n", one)
		}
		out = append(out, manifest.AddElement(content, m, strings.TrimSuffix(items, "\n")))
	}
	return out
}
