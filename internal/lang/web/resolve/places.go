package resolve

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// This file has the places that frameworks fix: where a file stands decides what it is, and no import shows it. What
// may move a place is a setting; a file may move only with its place.

// placeRule is one fixed place of a framework.
type placeRule struct {
	folder  string   // from the package's folder, or from the source folder
	source  bool     // it is from the framework's source folder
	files   []string // settings in which key may name another folder
	key     []string
	setting string // how the setting is called; empty where there is none
	why     string // a sentence's end: each file is …
	// only says which files of the folder it is about, by their path below it; nil for all.
	only func(rest string) bool
	// loose: files may move within the place as long as they keep their names.
	loose bool
}

var pageEndings = lang.Words(".js .jsx .ts .tsx .vue .svelte .astro .md .mdx .html .mjs")

func pages(rest string) bool { return pageEndings[path.Ext(rest)] && !test(rest) }

func test(rest string) bool {
	base := path.Base(rest)
	return strings.Contains(base, ".test.") || strings.Contains(base, ".spec.") ||
		strings.Contains("/"+rest, "/__tests__/")
}

// hidden turns down what a router passes over: names that begin with a mark.
func hidden(mark string) func(string) bool {
	return func(rest string) bool { return pages(rest) && !strings.Contains("/"+rest, "/"+mark) }
}

func named(names ...string) func(string) bool {
	return func(rest string) bool {
		stem := rest
		if dot := strings.IndexByte(path.Base(rest), '.'); dot > 0 {
			stem = path.Join(path.Dir(rest), path.Base(rest)[:dot])
		}
		return slices.Contains(names, stem)
	}
}

func beginning(heads ...string) func(string) bool {
	return func(rest string) bool {
		return slices.ContainsFunc(heads, func(h string) bool { return strings.HasPrefix(path.Base(rest), h) })
	}
}

func topLevel(rest string) bool {
	return !strings.Contains(rest, "/") || strings.Count(rest, "/") == 1 && strings.HasPrefix(path.Base(rest), "index.")
}

var specialNames = []string{"page", "layout", "template", "loading", "error", "not-found", "global-error", "route",
	"default", "icon", "apple-icon", "opengraph-image",
	"twitter-image", "sitemap", "robots", "manifest", "favicon", "forbidden", "unauthorized"}

// appFile says whether a file of an app folder is one that its router looks for.
func appFile(rest string) bool {
	base := path.Base(rest)
	name, _, _ := strings.Cut(base, ".")
	return slices.Contains(specialNames, strings.TrimRight(name, "0123456789")) && !strings.Contains("/"+rest, "/_")
}

// sourceOf says which folder of a package a framework takes for that of its sources.
type sourceOf func(r *resolver, dir string) string

const isAddress = "is an address"

// placesOf has the places of each framework, by the packages by which it is known. The facts are those of the
// frameworks' own code and documentation; settings that stand in lists of plugins are not read.
var placesOf = []struct {
	name     string
	packages []string
	source   sourceOf
	rules    []placeRule
}{
	{name: "SvelteKit", packages: []string{"@sveltejs/kit"}, rules: []placeRule{
		{folder: "src/routes", files: kitFiles, key: []string{"kit", "files", "routes"}, setting: "kit.files.routes",
			why: isAddress, only: beginning("+")},
		{folder: "src/params", files: kitFiles, key: []string{"kit", "files", "params"}, setting: "kit.files.params",
			why: "is found by its name", only: pages},
		{folder: "src", setting: "kit.files", why: "is found by its name", only: named("app", "error", "service-worker",
			"hooks", "hooks.server", "hooks.client", "instrumentation")},
		{folder: "static", files: kitFiles, key: []string{"kit", "files", "assets"}, setting: "kit.files.assets",
			why: isAddress},
	}},
	{name: "Nuxt", packages: []string{"nuxt", "nuxt3", "nuxt-nightly"}, source: nuxtSource, rules: []placeRule{
		{folder: "pages", source: true, setting: "dir.pages", why: isAddress, only: pages},
		{folder: "layouts", source: true, setting: "dir.layouts", why: "is a layout by its name"},
		{folder: "middleware", source: true, setting: "dir.middleware", why: "runs before pages by its name"},
		{folder: "plugins", source: true, setting: "plugins", why: "is loaded when the application starts",
			only: topLevel},
		{folder: "components", source: true, setting: "components",
			why: "is an element without an import, by its path"},
		{folder: "composables", source: true, setting: "imports.dirs", why: "gives names that need no import",
			only: topLevel, loose: true},
		{folder: "utils", source: true, setting: "imports.dirs", why: "gives names that need no import", only: topLevel,
			loose: true},
		{folder: "server/api", setting: "serverDir", why: isAddress},
		{folder: "server/routes", setting: "serverDir", why: isAddress},
		{folder: "server/middleware", setting: "serverDir", why: "runs before every request"},
		{folder: "server/plugins", setting: "serverDir", why: "is loaded when the server starts"},
		{folder: "public", files: nuxtFiles, key: []string{"dir", "public"}, setting: "dir.public", why: isAddress},
		{folder: ".", source: true, setting: "srcDir", why: "is found by its name",
			only: named("app", "error", "app.config")},
	}},
	{name: "Next", packages: []string{"next"}, rules: []placeRule{
		{folder: "app", why: isAddress + " or frames some", only: appFile},
		{folder: "src/app", why: isAddress + " or frames some", only: appFile},
		{folder: "pages", why: isAddress, only: pages},
		{folder: "src/pages", why: isAddress, only: pages},
		{folder: ".", why: "runs before every request", only: named("middleware", "proxy", "instrumentation",
			"instrumentation-client")},
		{folder: "src", why: "runs before every request", only: named("middleware", "proxy", "instrumentation",
			"instrumentation-client")},
		{folder: "public", why: isAddress},
	}},
	{name: "Astro", packages: []string{"astro"}, source: astroSource, rules: []placeRule{
		{folder: "pages", source: true, setting: "srcDir", why: isAddress, only: hidden("_")},
		{folder: ".", source: true, setting: "srcDir", why: "is found by its name",
			only: named("middleware", "middleware/index", "content.config", "actions/index", "content/config",
				"live.config")},
		{folder: "public", files: astroFiles, key: []string{"publicDir"}, setting: "publicDir", why: isAddress},
	}},
	{name: "Docusaurus", packages: []string{"@docusaurus/core"}, rules: []placeRule{
		{folder: "docs", setting: "the docs plugin's path", why: isAddress},
		{folder: "blog", setting: "the blog plugin's path", why: isAddress},
		{folder: "src/pages", setting: "the pages plugin's path", why: isAddress, only: hidden("_")},
		{folder: "src/theme", why: "replaces a part of the theme by its path"},
		{folder: "i18n", setting: "i18n.path", why: "is a translation by its path"},
		{folder: "versioned_docs", why: isAddress},
		{folder: "versioned_sidebars", why: "belongs to a version by its name"},
		{folder: "static", setting: "staticDirectories", why: isAddress},
	}},
	{name: "React Router", packages: []string{"@react-router/dev"}, source: routerSource, rules: []placeRule{
		{folder: ".", source: true, setting: "appDirectory", why: "is found by its name",
			only: named("root", "routes", "entry.client", "entry.server")},
	}},
	{name: "React Router's file routes", packages: []string{"@react-router/fs-routes",
		"@react-router/remix-routes-option-adapter"}, source: routerSource, rules: []placeRule{
		{folder: "routes", source: true, setting: "rootDirectory", why: isAddress, only: pages},
	}},
	{name: "Remix", packages: []string{"@remix-run/dev"}, source: func(r *resolver, dir string) string {
		return path.Join(dir, r.setting(dir, "app", []string{"remix.config.js"}, "appDirectory"))
	}, rules: []placeRule{
		{folder: "routes", source: true, setting: "appDirectory", why: isAddress, only: pages},
		{folder: ".", source: true, setting: "appDirectory", why: "is found by its name",
			only: named("root", "entry.client", "entry.server")},
	}},
	{name: "TanStack Router", packages: []string{"@tanstack/react-start", "@tanstack/router-plugin",
		"@tanstack/router-vite-plugin", "@tanstack/solid-start"}, rules: []placeRule{
		{folder: "src/routes", setting: "routesDirectory", why: isAddress, only: hidden("-")},
		{folder: "src", setting: "an option of the plugin", why: "is found by its name",
			only: named("router", "routeTree.gen")},
	}},
	{name: "Qwik City", packages: []string{"@builder.io/qwik-city", "@qwik.dev/router"}, rules: []placeRule{
		{folder: "src/routes", setting: "routesDir", why: isAddress + " or frames some",
			only: beginning("index", "layout", "plugin", "menu.md", "404")},
		{folder: "src", setting: "srcDir", why: "is found by its name", only: named("root", "entry.ssr", "entry.dev",
			"entry.preview")},
	}},
	{name: "Gatsby", packages: []string{"gatsby"}, rules: []placeRule{
		{folder: "src/pages", why: isAddress, only: pages}, {folder: "src/api", why: isAddress, only: pages},
		{folder: "static", why: isAddress},
		{folder: "src", why: "is found by its name", only: named("html")},
		{folder: ".", why: "is found by its name", only: named("gatsby-config", "gatsby-node", "gatsby-browser",
			"gatsby-ssr")},
	}},
	{name: "Ember", packages: []string{"ember-cli", "ember-source"}, rules: []placeRule{
		{folder: "app", setting: "trees.app", why: "is found by its path"},
		{folder: "config", why: "is found by its name", only: named("environment", "targets", "optional-features")},
		{folder: "tests", setting: "trees.tests", why: "is found by its path"},
		{folder: "public", setting: "trees.public", why: isAddress},
	}},
	{name: "react-scripts", packages: []string{"react-scripts"}, rules: []placeRule{
		{folder: "src", why: "is found by its name", only: named("index", "setupTests", "setupProxy", "react-app-env",
			"service-worker")},
		{folder: "public", why: isAddress},
	}},
	{name: "Expo Router", packages: []string{"expo-router"}, rules: []placeRule{
		{folder: "app", setting: "the plugin's root", why: "is a screen", only: pages},
		{folder: "src/app", setting: "the plugin's root", why: "is a screen", only: pages},
	}},
	{name: "unplugin-vue-components", packages: []string{"unplugin-vue-components"}, rules: []placeRule{
		{folder: "src/components", setting: "dirs", why: "is an element without an import, by its name",
			only: func(rest string) bool { return path.Ext(rest) == ".vue" }, loose: true},
	}},
	{name: "file routes of Vue", packages: []string{"unplugin-vue-router", "vite-plugin-pages"}, rules: []placeRule{
		{folder: "src/pages", setting: "routesFolder", why: isAddress, only: pages},
	}},
	{name: "layouts of Vue", packages: []string{"vite-plugin-vue-layouts", "vite-plugin-vue-layouts-next"},
		rules: []placeRule{
			{folder: "src/layouts", setting: "layoutsDirs", why: "is a layout by its name"},
		}},
	{name: "Vue CLI", packages: []string{"@vue/cli-service"}, rules: []placeRule{
		{folder: "public", why: isAddress},
	}},
	{name: "Quasar", packages: []string{"@quasar/app-vite", "@quasar/app-webpack"}, rules: []placeRule{
		{folder: "src/boot", why: "is listed by its name", loose: true}, {folder: "public", why: isAddress},
	}},
	{name: "VitePress", packages: []string{"vitepress"},
		rules: []placeRule{{folder: "docs", setting: "srcDir", why: isAddress,
			only: func(rest string) bool { return path.Ext(rest) == ".md" }}}},
	{name: "Vite", packages: []string{"vite"}, rules: []placeRule{
		{folder: "public", files: []string{"vite.config.ts", "vite.config.js", "vite.config.mjs"},
			key: []string{"publicDir"}, setting: "publicDir", why: isAddress},
	}},
}

var (
	kitFiles   = []string{"svelte.config.js", "svelte.config.ts"}
	nuxtFiles  = []string{"nuxt.config.ts", "nuxt.config.js", "nuxt.config.mjs"}
	astroFiles = []string{"astro.config.mjs", "astro.config.ts", "astro.config.js"}
)

func astroSource(r *resolver, dir string) string {
	return path.Join(dir, r.setting(dir, "src", astroFiles, "srcDir"))
}

func routerSource(r *resolver, dir string) string {
	return path.Join(dir, r.setting(dir, "app", []string{"react-router.config.ts", "react-router.config.js",
		"vite.config.ts"}, "appDirectory"))
}

// place is a fixed place of this tree.
type place struct {
	lang.Place
	rule *placeRule
}

// findPlaces lists the fixed places of all packages.
func (r *resolver) findPlaces() {
	for _, dir := range sortedKeys(r.packages) {
		p := r.packages[dir]
		publicSaid := false
		for f := range placesOf {
			fixed := &placesOf[f]
			by := slices.IndexFunc(fixed.packages, func(name string) bool { return p.Listed[name] })
			if by < 0 {
				continue
			}
			source := dir
			if fixed.source != nil {
				source = fixed.source(r, dir)
			}
			for i := range fixed.rules {
				rule := &fixed.rules[i]
				folder := path.Join(dir, rule.folder)
				if rule.source {
					folder = path.Join(source, rule.folder)
				}
				if len(rule.key) > 0 {
					folder = path.Join(dir, r.setting(dir, rule.folder, rule.files, rule.key...))
				}
				if rule.folder == "public" || rule.folder == "static" {
					if publicSaid || !r.tree.IsDir(folder) {
						continue
					}
					publicSaid = true
				}
				if folder != "." && !r.tree.IsDir(folder) || r.earlier(fixed.name, dir, rule) {
					continue
				}
				r.places = append(r.places, place{rule: rule, Place: lang.Place{
					Folder: folder, By: fixed.name, Package: fixed.packages[by], Why: rule.why, Setting: rule.setting,
					Public: rule.folder == "public" || rule.folder == "static",
				}})
			}
		}
	}
}

// earlier says whether a folder is not looked at because another comes first: ./app before ./src/app.
func (r *resolver) earlier(by, dir string, rule *placeRule) bool {
	if by != "Next" {
		return false
	}
	rest, deeper := strings.CutPrefix(rule.folder, "src/")
	return deeper && r.tree.IsDir(path.Join(dir, rest))
}

// Place gives the deepest fixed place that a file stands in.
func (r *resolver) Place(p string) (lang.Place, bool) {
	best := -1
	for i := range r.places {
		here := &r.places[i]
		rest, inside := strings.CutPrefix(p, here.Folder+"/")
		if here.Folder == "." {
			rest, inside = p, true
		}
		if !inside || here.rule.only != nil && !here.rule.only(rest) {
			continue
		}
		if best < 0 || len(here.Folder) > len(r.places[best].Folder) {
			best = i
		}
	}
	if best < 0 {
		return lang.Place{}, false
	}
	out := r.places[best].Place
	if out.Rest = strings.TrimPrefix(p, out.Folder+"/"); r.places[best].rule.loose {
		out.Rest = path.Base(p)
	}
	return out, true
}

// Places are the fixed places of the tree.
func (r *resolver) Places() []lang.Place {
	out := make([]lang.Place, len(r.places))
	for i := range r.places {
		out[i] = r.places[i].Place
	}
	return out
}
