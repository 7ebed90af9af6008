package resolve

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// This file says whether a name that leads to no file of the project can be that of a package.

// platform are the modules of Node and of what runs like it (nodejs.org/api, module.builtinModules).
var platform = lang.Words("assert async_hooks buffer child_process cluster console constants crypto dgram " +
	"diagnostics_channel dns domain events fs http http2 https inspector module net os path perf_hooks process " +
	"punycode querystring readline repl stream string_decoder sys timers tls trace_events tty url util v8 vm wasi " +
	"worker_threads zlib test bun deno electron vscode")

// Platform says whether code gets a module unasked by this name.
func (r *resolver) Platform(name string) bool { return platform[strings.TrimPrefix(name, "node:")] }

// foreign says what a bare name leads to that no alias and no package of the project explains: a package, if a manifest
// above lists it, it is installed, or it is the platform's; else nothing. Without a manifest above, nobody says which
// packages there are.
func (q *query) foreign(text string) lang.Target {
	if strings.ContainsAny(text, ":!\\") || strings.Contains(text, "*") {
		return lang.No(lang.ToPackage) // a module of the platform or one that a program makes, an address
	}
	name, _ := packageName(text)
	head, _, _ := strings.Cut(text, "/")
	switch f := q.framework(); {
	case platform[head] || f.gives(text):
		return lang.No(lang.ToPackage)
	case !possibleName(name):
		return lang.No(lang.ToNothing)
	}
	if q.declared(text) {
		return lang.No(lang.ToPackage)
	}
	manifests := 0
	for dir := q.dir; ; dir = project.Dir(dir) {
		if pkg := q.packages[dir]; pkg != nil {
			if manifests++; pkg.Lists(name) || pkg.Name == name {
				return lang.No(lang.ToPackage)
			}
		}
		if dir == "." {
			break
		}
	}
	if manifests == 0 || q.names[name] || q.installed(name) {
		return lang.No(lang.ToPackage)
	}
	return lang.No(lang.ToNothing)
}

// packageNames is what npm allows (docs.npmjs.com, package.json, name), with the capitals of old packages.
var packageNames = regexp.MustCompile(`^(@[A-Za-z0-9_~-][A-Za-z0-9._~-]*/)?[A-Za-z0-9_-][A-Za-z0-9._~-]*$`)

// possibleName says whether a package could be called so. @/x, ~/x, #x and $x are none.
func possibleName(name string) bool { return packageNames.MatchString(name) }

// installed says whether a package lies in a node_modules folder above a file.
func (q *query) installed(name string) bool {
	for dir := q.dir; ; dir = project.Dir(dir) {
		place := path.Join(dir, "node_modules", name)
		q.seen.Lock()
		known, asked := q.there[place]
		if !asked {
			_, err := q.tree.ReadOutside(place + "/package.json")
			known = err == nil
			q.there[place] = known
		}
		q.seen.Unlock()
		if known {
			return true
		}
		if dir == "." {
			return false
		}
	}
}

// ambient is how a file of types declares a module for the whole program.
var ambient = regexp.MustCompile(`^declare\s+module\s+['"]([^'"\n]+)['"]`)

// index is what the rules want to know of a script beside its mentions.
type index struct {
	ambient []string            // the modules that a file of types declares for the whole program
	aliases *config.Definitions // those that a script of settings defines; nil for any other
}

// IndexOf reads what the rules want to know of a script.
func IndexOf(p string, content []byte) (any, error) {
	switch {
	case strings.HasSuffix(p, ".d.ts"):
		return &index{ambient: ambientIn(content)}, nil
	case script.IsConfiguration(p):
		return &index{aliases: config.DefinitionsIn(p, content)}, nil
	}
	return &index{}, nil
}

// ambientIn gives the modules that a file of types declares, each at the beginning of a line.
func ambientIn(content []byte) (out []string) {
	const word = "declare"
	for at := 0; ; at += len(word) {
		i := bytes.Index(content[at:], []byte(word))
		if i < 0 {
			return out
		}
		at += i
		start := at
		for start > 0 && (content[start-1] == ' ' || content[start-1] == '\t') {
			start--
		}
		if start > 0 && content[start-1] != '\n' {
			continue
		}
		if m := ambient.FindSubmatch(content[at:min(len(content), at+500)]); m != nil {
			out = append(out, string(m[1]))
		}
	}
}

// ambientModules are the names of modules that files of types declare.
type ambientModules struct {
	once  sync.Once
	names map[string]bool
	stars []string // with a * that stands for any text
}

// join brings together what the files of types declare, when somebody asks for a name that nothing else explains.
func (a *ambientModules) join(tree *lang.Tree) {
	var ids []project.FileID
	for id, f := range tree.Files {
		if !f.Link && strings.HasSuffix(f.Path, ".d.ts") {
			ids = append(ids, project.FileID(id))
		}
	}
	found := make([][]string, len(ids))
	parallel.Do(len(ids), func(i int) {
		if index, err := lang.Index[*index](tree, ids[i]); err == nil {
			found[i] = index.ambient
		}
	})
	a.names = map[string]bool{}
	for _, name := range slices.Concat(found...) {
		if strings.Contains(name, "*") && !a.names[name] {
			a.stars = append(a.stars, name)
		}
		a.names[name] = true
	}
}

// declared says whether a file of types declares a module of this name.
func (q *query) declared(text string) bool {
	a := &q.ambient
	a.once.Do(func() { a.join(q.tree) })
	return a.names[text] || slices.ContainsFunc(a.stars,
		func(pattern string) bool { _, ok := config.StarMatch(pattern, text); return ok })
}

// listedAbove says whether a manifest above a file lists a package.
func (q *query) listedAbove(name string) bool {
	for dir := q.dir; ; dir = project.Dir(dir) {
		if pkg := q.packages[dir]; pkg != nil && pkg.Lists(name) {
			return true
		}
		if dir == "." {
			return false
		}
	}
}
