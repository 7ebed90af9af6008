package resolve

import (
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/project"
)

// framework is what a framework defines without a line of settings: aliases, and modules that it makes itself. It is
// known by the packages that a manifest lists.
type framework struct {
	packages []string
	// aliases gives the aliases of a project in a folder, before what its settings say.
	aliases func(r *resolver, dir string) []config.PathAlias
	// modules are the beginnings of names that the framework itself answers for.
	modules []string
}

// frameworks are asked in order; the first of which a package is listed counts.
var frameworks = []framework{
	{packages: []string{"@sveltejs/kit"}, modules: []string{"$app/", "$env/", "$service-worker", "./$types"},
		aliases: func(r *resolver, dir string) []config.PathAlias {
			return config.Patterns("$lib",
				path.Join(dir, r.setting(dir, "src/lib", []string{"svelte.config.js", "svelte.config.ts",
					"vite.config.js",
					"vite.config.ts"}, "kit", "files", "lib")))
		}},
	{packages: []string{"nuxt", "nuxt3", "nuxt-edge", "nuxt-nightly"}, modules: []string{"#app", "#imports",
		"#components", "#build", "#internal", "#head", "#vue-router", "#auth", "#supabase", "#content"},
		aliases: func(r *resolver, dir string) []config.PathAlias {
			source := nuxtSource(r, dir)
			out := append(config.Patterns("~", source), config.Patterns("@", source)...)
			out = append(append(out, config.Patterns("~~", dir)...), config.Patterns("@@", dir)...)
			return append(out, config.Patterns("#shared", path.Join(dir, "shared"))...)
		}},
	{packages: []string{"@docusaurus/core"}, modules: []string{"@theme/", "@theme-original/", "@theme-init/",
		"@docusaurus/", "@generated/"}, aliases: func(_ *resolver, dir string) []config.PathAlias {
		return config.Patterns("@site", dir)
	}},
	{packages: []string{"@vue/cli-service"},
		aliases: func(_ *resolver, dir string) []config.PathAlias {
			return config.Patterns("@",
				path.Join(dir, "src"))
		}},
	{packages: []string{"@quasar/app", "@quasar/app-vite", "@quasar/app-webpack"},
		modules: []string{"quasar/", "#q-app"}, aliases: func(_ *resolver, dir string) []config.PathAlias {
			out := append(config.Patterns("src", path.Join(dir, "src")), config.Patterns("app", dir)...)
			for _, name := range []string{"components", "layouts", "pages", "assets", "boot", "stores"} {
				out = append(out, config.Patterns(name, path.Join(dir, "src", name))...)
			}
			return out
		}},
	{packages: []string{"ember-source", "ember-cli"}, modules: []string{"@ember/", "@glimmer/", "ember", "qunit",
		"htmlbars-inline-precompile"}, aliases: func(r *resolver, dir string) []config.PathAlias {
		pkg := r.packages[dir]
		if pkg == nil || pkg.Name == "" {
			return nil
		}
		out := []config.PathAlias{{Pattern: pkg.Name + "/config/*", Targets: []string{path.Join(dir, "config/*")}},
			{Pattern: pkg.Name + "/tests/*", Targets: []string{path.Join(dir, "tests/*")}}}
		return append(out, config.PathAlias{Pattern: pkg.Name + "/*", Targets: []string{path.Join(dir, "app/*")}})
	}},
	{packages: []string{"@redwoodjs/core", "@redwoodjs/web", "@redwoodjs/api"}, modules: []string{"~__REDWOOD__"},
		aliases: func(_ *resolver, dir string) []config.PathAlias {
			return config.Patterns("src",
				path.Join(dir, "src"))
		}},
	{packages: []string{"gatsby"}, modules: []string{"gatsby-"}},
	{packages: []string{"umi", "@umijs/max"}, modules: []string{"@@"},
		aliases: func(_ *resolver, dir string) []config.PathAlias {
			return config.Patterns("@",
				path.Join(dir, "src"))
		}},
	{packages: []string{"astro"}, modules: []string{"astro"}},
	{packages: []string{"vitepress"}, modules: []string{"@theme"}},
	{packages: []string{"laravel-vite-plugin"}, aliases: func(_ *resolver, dir string) []config.PathAlias {
		return config.Patterns("@", path.Join(dir, "resources/js"))
	}},
}

// nuxtSource is the source folder: app/ from the fourth version on, where it is there.
func nuxtSource(r *resolver, dir string) string {
	usual := "."
	if version := r.packages[dir].Versions["nuxt"]; r.tree.IsDir(path.Join(dir, "app")) &&
		!strings.Contains(version, "3.") && !strings.Contains(version, "2.") {
		usual = "app"
	}
	return path.Join(dir, r.setting(dir, usual, nuxtFiles, "srcDir"))
}

func sortedKeys[T any](m map[string]T) []string { return slices.Sorted(maps.Keys(m)) }

// gives says whether a framework itself answers for a name.
func (f *framework) gives(text string) bool {
	if f == nil {
		return false
	}
	for _, head := range f.modules {
		if strings.HasPrefix(text, head) {
			return true
		}
	}
	return false
}

// frameworkOf gives the framework of a package; nil for none.
func frameworkOf(p *config.PackageFile) *framework {
	for i := range frameworks {
		for _, name := range frameworks[i].packages {
			if p.Listed[name] {
				return &frameworks[i]
			}
		}
	}
	return nil
}

// framework is that of the nearest package around the file that has one.
func (q *query) framework() *framework {
	for dir := q.dir; len(q.frameworks) > 0; dir = project.Dir(dir) {
		if f := q.frameworks[dir]; f != nil || dir == "." || lang.Leaves(dir) {
			return f
		}
	}
	return nil
}

// findFrameworks notes the frameworks of all packages, and the aliases that they define; what settings say of the same
// alias counts more.
func (r *resolver) findFrameworks() {
	r.frameworks, r.builtin = map[string]*framework{}, map[string][]config.PathAlias{}
	for dir, p := range r.packages {
		f := frameworkOf(p)
		if f == nil {
			continue
		}
		r.frameworks[dir] = f
		if f.aliases != nil {
			r.builtin[dir] = f.aliases(r, dir)
		}
	}
}

// setting gives what the settings of a framework say, or what holds if they say nothing.
func (r *resolver) setting(dir, usual string, files []string, key ...string) string {
	for _, name := range files {
		id, there := r.tree.Lookup(path.Join(dir, name))
		if !there {
			continue
		}
		content, err := r.tree.Content(id)
		if err != nil {
			continue
		}
		if v := script.ReadObject(content).At(key...).String(); v != "" {
			return strings.TrimSuffix(v, "/")
		}
	}
	return usual
}
