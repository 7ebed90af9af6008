// Package workspace parts a project of JavaScript or TypeScript into packages: it writes their manifests, and enters them
// in the list of the workspace. What a package asks for follows from what its files import. part.go says what can be a
// package, manifests.go writes package.json, exports.go says what others get of a package, compiler.go writes the compiler's
// files where programs are compiled into a folder of their own, and builders.go has builders that compile no other package.
package workspace

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/style"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/resolve"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

const manifestName = "package.json"

// Settings are what a tree says of its packages.
type Settings interface {
	Packages() []lang.Package
	// Compiler is the compiler file that governs a path; nil for none.
	Compiler(p string) *config.CompilerFile
	// Platform says whether code gets a module unasked by this name.
	Platform(name string) bool
}

// Part makes what parts a tree.
func Part(tree *lang.Tree, settings Settings) func(q lang.Parting) *lang.Parted {
	return func(q lang.Parting) *lang.Parted {
		p := &parting{tree: tree, settings: settings, Splitter: lang.NewSplitter(tree, q), sheets: lang.NewSheets(tree,
			q.Then), doors: map[*lang.Parcel][]door{},
			compilers: map[*lang.Parcel]*config.CompilerFile{}, builds: map[string]build{}}
		return p.work()
	}
}

// parting is packages in the making.
type parting struct {
	tree     *lang.Tree
	settings Settings
	lang.Splitter
	sheets    *lang.Sheets
	top       *lang.Sheet // the manifest of the workspace; nil for none
	manager   *manager
	doors     map[*lang.Parcel][]door
	compilers map[*lang.Parcel]*config.CompilerFile // those that write scripts of packages
	builds    map[string]build                      // of packages before, by their folders
}

// byName says whether a kind of mention names a module, so that it may name one of another package.
func byName(k *lang.Kind) bool {
	return slices.Contains(script.Kinds, k) && k != script.ReferencePath && k != script.DeclareModule
}

func styles(k *lang.Kind) bool {
	return k == style.StyleImport || k == style.SassImport || k == style.LessImport
}

// ours says whether a file is one of the languages, or is compiled into them.
func ours(p string) bool {
	_, is := script.DialectOf(p)
	return is || compiled[path.Ext(p)] != ""
}

// compiled are files that become scripts, and the package without which they do not run.
var compiled = map[string]string{".vue": "vue", ".svelte": "svelte", ".astro": "astro"}

func (p *parting) work() *lang.Parted {
	return p.Work(lang.Reading{
		Missing:  "no " + manifestName + " says what its files are of",
		Packages: p.settings.Packages(), Counts: ours, Tests: p.Q.IsTest, More: p.unnamed,
		Names: func(m *lang.Mention) bool { return byName(m.Kind) || styles(m.Kind) },
	}, p.look, p.findTop, func() {
		p.exports()
		p.byPath()
		p.write()
	})
}

// newName is what a package may be called that is new (docs.npmjs.com, package.json, name).
var newName = regexp.MustCompile(`^(@[a-z0-9~-][a-z0-9._~-]*/)?[a-z0-9~-][a-z0-9._~-]*$`)

// look says what stands against a package.
func (p *parting) look(one *lang.Parcel) {
	if one.Name == "" {
		one.Name = path.Base(one.Dir)
		if scope, _, scoped := strings.Cut(one.From.Name, "/"); scoped {
			one.Name = scope + "/" + one.Name
		}
	}
	if p.Keeps(one, "package", one.Asked.Name) {
		return
	}
	switch {
	case !newName.MatchString(one.Name) || len(one.Name) > 214:
		p.Refuse(one.Dir,
			"%q is no name of a package: small letters, digits, - _ . and ~, with @scope/ before it or without", one.Name)
	case p.settings.Platform(one.Name):
		p.Refuse(one.Dir,
			"%s is a module of the platform, so no import finds a package of that name: name it otherwise, @scope/%s for one",
			one.Name, one.Name)
	}
	p.Alone(one, func(*lang.Parcel) string { return manifestName })
	for _, other := range p.All {
		if n := other.Libraries[one.Name]; n != nil {
			p.Refuse(one.Dir, "%s is the name of a library too (%s)", one.Name, p.Where(n.By, n.At))
		}
	}
}

// findTop finds the manifest of the workspace: the one above all packages that has a list of members, or that of the
// package from which others are made. There may be none where all packages have their manifests.
func (p *parting) findTop() {
	written := slices.ContainsFunc(p.All, (*lang.Parcel).Written)
	var from *lang.Package // that lies above the others
	for _, one := range p.All {
		if one.Wanted() && (one.Written() || !written) && (from == nil || len(one.From.Dir) < len(from.Dir)) {
			from = one.From
		}
	}
	dir, lists := from.Dir, false
	for _, k := range p.Above(dir) {
		if p.original(k.Dir).Value.Get("workspaces") != nil || p.lookup(k.Dir, membersFile) {
			dir, lists = k.Dir, true
		}
	}
	p.manager = &npm
	if written || lists {
		if p.top = p.sheetOf(dir); p.top == nil {
			p.Refuse("", "%s can't be read", path.Join(dir, manifestName))
			return
		}
		p.manager = p.managerOf(project.Dir(p.top.File))
	}
	for _, one := range p.All {
		if one.Written() && !inside(one.Dir, project.Dir(p.top.File)) {
			p.Refuse(one.Dir, "%s is the manifest of all packages, and this folder does not lie below it", path.Join(dir,
				manifestName))
		}
	}
	p.addressable()
	p.builders()
	p.unbuilt()
}

func (p *parting) lookup(dir, name string) bool {
	_, there := p.tree.Lookup(path.Join(dir, name))
	return there
}

// inside says whether a folder lies below another.
func inside(dir, other string) bool {
	return dir != other && (other == "." || strings.HasPrefix(dir, other+"/"))
}

// addressable refuses packages that need what has no name by which they could ask for it.
func (p *parting) addressable() {
	for _, one := range p.All {
		for _, other := range p.All {
			n := one.Inside[other]
			if n == nil || !n.New {
				continue
			}
			root := p.top != nil && other.Dir == project.Dir(p.top.File)
			if !root && other.Name != "" {
				continue
			}
			why := "no package can ask for the one at the root: let the file go into a package too"
			if !root {
				why = fmt.Sprintf("%s has no name by which a package could ask for it", path.Join(other.Dir, manifestName))
			}
			p.Refuse(one.Dir, "it needs %s (%s: %s), and %s", p.Q.Then(n.To), p.Where(n.By, n.At), n.What, why)
		}
	}
}

// unnamed are the libraries that a file needs though no import names them.
func (p *parting) unnamed(id project.FileID, in *lang.Package) (out []string) {
	file := p.tree.Path(id)
	if name := compiled[path.Ext(file)]; name != "" {
		out = append(out, name)
	}
	c, ext := p.settings.Compiler(file), path.Ext(file)
	p.tree.Peek(id, func(content []byte, err error) {
		if (ext == ".tsx" || ext == ".jsx") && (bytes.Contains(content, []byte("</")) || bytes.Contains(content, []byte("/>"))) {
			runtime := "react"
			if c != nil && c.JSX != "" {
				runtime = c.JSX
			}
			out = append(out, runtime)
		}
		// where one compiler file speaks of all packages, it has the types beside it
		if resolve.IsSource(file) && c.Writes() && p.buildOf(in.Dir).how != fromSources && ofPlatform.Match(content) {
			out = append(out, platformTypes)
		}
	})
	return slices.DeleteFunc(out, func(name string) bool { return !asksFor(in, name) })
}

// platformTypes is the package of the platform's types.
const platformTypes = "@types/node"

// ofPlatform is what the types of the platform declare.
var ofPlatform = regexp.MustCompile(`['"]node:|\bprocess\.|\bBuffer\b|\b__dirname\b|\b__filename\b|\bNodeJS\.|from ['"](?:fs|path|http|https|crypto|util|events|stream|os|url|child_process|worker_threads|zlib|assert|net)(?:/promises)?['"]`)

// byPath says which files are read from another package by their paths: that goes on, and is no matter of names.
func (p *parting) byPath() {
	said := map[[2]string]bool{}
	for id := range p.tree.Files {
		one := p.Home(project.FileID(id))
		mentions, targets := p.Q.Mentions(project.FileID(id))
		for i, t := range targets {
			k := mentions[i].Kind
			if t.Kind != lang.ToFile || mentions[i].Likely || strings.HasPrefix(mentions[i].Text, "/") || !styles(k) && k != paths.StyleAsset && k != paths.ModuleURL && k != paths.Asset {
				continue
			}
			other := p.Home(t.File)
			if one == nil || other == nil || one == other || !one.Wanted() && !other.Wanted() || said[[2]string{one.Dir, other.Dir}] {
				continue
			}
			said[[2]string{one.Dir, other.Dir}] = true
			p.Remark(p.tree.Path(project.FileID(id)), mentions[i].Span.Start,
				"it reads %s by its path, which lies in the package %s then", mentions[i].Text, other.Name)
		}
	}
}

// begin begins to write a text of JSON.
func begin(text []byte) *manifest.Sheet {
	root, err := jsonStyle.Parse(text)
	s := jsonStyle.Sheet(text, root)
	s.Err = err
	return s
}

var (
	jsonStyle = manifest.Style{Format: "JSON", Quote: '"'}
	yamlStyle = manifest.Style{Format: "YAML"}
)

// original is the manifest in a folder of the old tree, and sheetOf how it is written anew; nil for none that can be read.
func (p *parting) original(dir string) *lang.OldFile {
	return p.sheets.Old(path.Join(dir, manifestName), jsonStyle)
}

func (p *parting) sheetOf(dir string) *lang.Sheet {
	return p.sheets.Of(path.Join(dir, manifestName), jsonStyle)
}
