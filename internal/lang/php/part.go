package php

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// This file says which packages a project is parted into, and who needs whom. packagefiles.go writes their
// composer.json.

// splitting is packages in the making.
type splitting struct {
	*Resolver
	lang.Splitter
	sheets *lang.Sheets
	locks  map[string][]locked // what is installed, by the folders of manifests
}

var jsonStyle = manifest.Style{Format: "JSON", Quote: '"'}

// Part writes the packages that the convention wants: what each requires follows from the names that its files use.
func (r *Resolver) Part(q lang.Parting) *lang.Parted {
	p := &splitting{Resolver: r, Splitter: lang.NewSplitter(r.tree, q), sheets: lang.NewSheets(r.tree, q.Then),
		locks: map[string][]locked{}}
	packages := p.packages()
	if len(packages) == 0 {
		return nil
	}
	kinds := []*lang.Kind{Import, Name, ClassText, ClassWord, Include}
	return p.Work(lang.Reading{
		Missing:  "no " + manifestName + " says what its files are of",
		Packages: packages, Counts: isPHP, Tests: q.IsTest, More: p.used,
		Names:   func(m *lang.Mention) bool { return slices.Contains(kinds, m.Kind) },
		Library: func(*lang.Mention) string { return "" },
	}, p.look, p.addressable, p.write)
}

// Packages are those of the tree.
func (r *Resolver) Packages() []lang.Package {
	p := splitting{Resolver: r, sheets: lang.NewSheets(r.tree, r.tree.Path)}
	return p.packages()
}

// packages are those of the tree that have a manifest.
func (p *splitting) packages() (out []lang.Package) {
	for id, f := range p.tree.Files {
		if path.Base(f.Path) != manifestName || f.Link || strings.Contains("/"+f.Path, "/vendor/") {
			continue
		}
		if o := p.sheets.Old(f.Path, jsonStyle); o.Value != nil {
			out = append(out, lang.Package{Manifest: project.FileID(id), Dir: project.Dir(f.Path),
				Name: o.Value.Get("name").String()})
		}
	}
	return out
}

// original is the manifest in a folder of the old tree, and sheetOf how it is written anew; nil for none that can be
// read.
func (p *splitting) original(dir string) *lang.OldFile {
	return p.sheets.Old(path.Join(dir, manifestName), jsonStyle)
}

func (p *splitting) sheetOf(dir string) *lang.Sheet {
	return p.sheets.Of(path.Join(dir, manifestName), jsonStyle)
}

// packageName is what a package may be called (getcomposer.org/doc/04-schema.md#name).
var packageName = regexp.MustCompile(`^[a-z0-9]([_.-]?[a-z0-9]+)*/[a-z0-9](([_.]|-{1,2})?[a-z0-9]+)*$`)

// look says what stands against a package.
func (p *splitting) look(one *lang.Parcel) {
	if p.Keeps(one, "package", one.Asked.Name) {
		return
	}
	if one.Name == "" {
		one.Name = path.Base(one.Dir)
	}
	if !strings.Contains(one.Name, "/") {
		vendor, _, named := strings.Cut(one.From.Name, "/")
		if !named {
			vendor = "app"
		}
		one.Name = vendor + "/" + one.Name
	}
	if !packageName.MatchString(one.Name) {
		p.Refuse(one.Dir, "%q is no name of a package: a maker and a name in small letters, with / between them", one.Name)
	}
	p.Alone(one, func(*lang.Parcel) string { return manifestName })
	for _, k := range p.requirements(one.From) {
		if k.name == one.Name {
			p.Refuse(one.Dir, "%s is the name of a library too, which %s requires", one.Name, path.Join(one.From.Dir,
				manifestName))
		}
	}
}

// addressable refuses packages that need files of one that has no name.
func (p *splitting) addressable() {
	p.Nameless(func(other *lang.Parcel) string {
		return path.Join(other.Dir, manifestName) +
			" has no name by which a package could require it: let the file go into a package too"
	})
}

// names of classes that a file brings, and those that it writes in full.
var (
	brings = regexp.MustCompile(`(?m)^\s*use\s+(?:function\s+|const\s+)?\\?([A-Za-z_]\w*(?:\\\w+)*)(\\\{[^}]*\})?`)
	inFull = regexp.MustCompile(`\\([A-Za-z_]\w*(?:\\\w+)+)`)
)

// used are the packages of others that a file uses, and the extensions of the language: by the names of classes and
// functions.
func (p *splitting) used(id project.FileID, in *lang.Package) (out []string) {
	add := func(name string) {
		if !slices.Contains(out, name) {
			out = append(out, name)
		}
	}
	all := p.requirements(in)
	p.tree.Peek(id, func(content []byte, err error) {
		for _, pattern := range []*regexp.Regexp{brings, inFull} {
			for _, m := range pattern.FindAllSubmatch(content, -1) {
				for _, name := range p.holders(in, all, string(m[1])) {
					add(name)
				}
			}
		}
		for _, k := range all {
			if extension, is := strings.CutPrefix(k.name, "ext-"); is && usesExtension(content, extension) {
				add(k.name)
			}
		}
	})
	return out
}

// usesExtension says whether a text names functions or classes of an extension: they begin with its name mostly.
func usesExtension(content []byte, extension string) bool {
	names := []string{extension + "_", strings.ToUpper(extension)}
	names = append(names, strings.Fields(ofExtension[extension])...)
	return slices.ContainsFunc(names, func(name string) bool { return bytes.Contains(content, []byte(name)) })
}

// ofExtension are the beginnings of names of extensions that begin otherwise.
var ofExtension = map[string]string{
	"mbstring": "mb_", "intl": "Intl NumberFormatter Collator Normalizer grapheme_ idn_ MessageFormatter Locale",
	"dom": "DOM", "gd": "image getimagesize",
	"fileinfo": "finfo", "zip": "Zip", "zlib": "gz", "openssl": "openssl_", "pcntl": "pcntl_", "bcmath": "bc",
	"simplexml": "simplexml SimpleXML",
	"xmlreader": "XMLReader", "xmlwriter": "XMLWriter", "pdo": "PDO", "redis": "Redis", "sodium": "sodium_ Sodium",
	"mongodb": "MongoDB", "imagick": "Imagick",
	"json": "json_ Json", "ctype": "ctype_", "iconv": "iconv", "libxml": "libxml LibXML", "tokenizer": "token_ PhpToken",
	"soap": "Soap", "sockets": "socket_",
}

// required is a package that a manifest requires.
type required struct{ table, name, raw string }

// requirements are what a manifest requires, but for the platform itself.
func (p *splitting) requirements(k *lang.Package) (out []required) {
	old := p.original(k.Dir)
	for _, table := range []string{"require", "require-dev"} {
		for _, m := range old.Value.Get(table).Fields() {
			if m.Key != "php" {
				out = append(out, required{table, m.Key, old.Raw(m.Value)})
			}
		}
	}
	return out
}

// locked is a package that is installed, with what its names begin with.
type locked struct {
	name     string
	prefixes []string
}

// lockOf reads what is installed: the lock file says of each package under which names its classes are found.
func (p *splitting) lockOf(dir string) []locked {
	if known, is := p.locks[dir]; is {
		return known
	}
	p.locks[dir] = nil
	root := p.sheets.Old(path.Join(dir, "composer.lock"), jsonStyle).Value
	for _, list := range []string{"packages", "packages-dev"} {
		for _, one := range root.Get(list).Elements() {
			entry := locked{name: one.Get("name").String()}
			for _, kind := range []string{"psr-4", "psr-0"} {
				for _, m := range one.At("autoload", kind).Fields() {
					if m.Key != "" {
						entry.prefixes = append(entry.prefixes, strings.TrimSuffix(m.Key, `\`))
					}
				}
			}
			p.locks[dir] = append(p.locks[dir], entry)
		}
	}
	return p.locks[dir]
}

// holders are the required packages that have a class: as the lock file says, else as their names do.
func (p *splitting) holders(in *lang.Package, all []required, class string) (out []string) {
	if p.load.has(class) {
		return nil
	}
	best := 0
	for _, one := range p.lockOf(in.Dir) {
		for _, prefix := range one.prefixes {
			if (class == prefix || strings.HasPrefix(class, prefix+`\`)) && len(prefix) >= best {
				if len(prefix) > best {
					best, out = len(prefix), nil
				}
				out = append(out, one.name)
			}
		}
	}
	if best > 0 {
		return slices.DeleteFunc(out, func(name string) bool {
			return !slices.ContainsFunc(all, func(k required) bool { return k.name == name })
		})
	}
	for _, k := range lang.Best(all, func(k required) int { return alike(k.name, class) }) {
		out = append(out, k.name)
	}
	return out
}

// alike says how well the name of a package fits that of a class: a/b-c has A\BC, or AB, or BC.
func alike(name, class string) int {
	vendor, rest, _ := strings.Cut(strings.ToLower(name), "/")
	plain := strings.NewReplacer("-", "", "_", "", ".", "")
	vendor, rest = plain.Replace(vendor), plain.Replace(rest)
	parts := strings.Split(strings.ToLower(class), `\`)
	switch {
	case strings.Contains(strings.Join(parts, ""), vendor+rest) && parts[0] != "":
		return len(vendor) + len(rest)
	case slices.Contains(parts, rest) && parts[0] == vendor, slices.Contains(parts, rest) && len(rest) > 3:
		return len(rest)
	case parts[0] == rest, parts[0] == vendor && !strings.Contains(rest, "bundle"):
		return 1
	}
	return 0
}

// has says whether a class is found below one of the roots of the tree.
func (a *autoload) has(class string) bool {
	return slices.ContainsFunc(a.roots, func(r root) bool { return r.prefix != "" && strings.HasPrefix(class, r.prefix) })
}
