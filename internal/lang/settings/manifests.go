package settings

import (
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
)

// packageFile records what a package.json defines as paths (npm documentation, package.json; Node's, Packages).
func (s *scanner) packageFile(root *manifest.Value) {
	for _, key := range []string{"main", "module", "types", "typings", "browser", "bin", "source", "style", "sass"} {
		s.certain(root.Get(key), lang.Detail{Own: paths.Detail{Entry: true}})
	}
	s.targets(root.Get("exports"), "")
	if imports := root.Get("imports"); imports != nil {
		for _, m := range imports.Members {
			s.targets(m.Value, m.Key)
		}
	}
	for _, key := range []string{"files", "sideEffects"} {
		s.certain(root.Get(key), lang.Detail{})
	}
	workspaces := root.Get("workspaces")
	if packages := workspaces.Get("packages"); packages != nil {
		workspaces = packages
	}
	s.certain(workspaces, lang.Detail{Own: paths.Detail{Member: true}})
	if scripts := root.Get("scripts"); scripts != nil {
		for _, m := range scripts.Members {
			if m.Value.Kind == manifest.String && !s.taken[m.Value.Span.Start] {
				s.words(m.Value.Span.Start, m.Value.Span.End)
			}
		}
	}
	for _, m := range root.Members {
		if strings.HasSuffix(strings.ToLower(m.Key), "dependencies") {
			s.linked(m.Value)
		}
	}
	s.aliasTables(root)
}

// targets records paths in which a * may stand for a part of another name: they follow their folder.
func (s *scanner) targets(v *manifest.Value, alias string) {
	v.Strings(func(v *manifest.Value) {
		m := lang.Mention{Span: v.Span, Text: v.Text, Kind: paths.Setting, Form: s.form, Quote: v.Quote}
		if strings.ContainsAny(v.Text, "*") || alias != "" {
			m.Kind = paths.AliasTarget
		}
		if alias != "" && strings.HasPrefix(v.Text, ".") {
			m.Detail = &lang.Detail{Alias: alias}
		}
		s.add(m)
	})
}

// linked records the folders of packages that lie in the project: file:./x, link:../x.
func (s *scanner) linked(v *manifest.Value) {
	v.Strings(func(v *manifest.Value) {
		for _, head := range []string{"file:", "link:", "portal:"} {
			if text, ok := strings.CutPrefix(v.Text, head); ok && text != "" {
				span := v.Span
				span.Start += len(head)
				s.add(lang.Mention{Span: span, Text: text, Kind: paths.Setting, Form: s.form, Quote: v.Quote})
			}
		}
	})
}

// compilerFile records what a tsconfig.json defines as paths (TypeScript documentation, TSConfig Reference).
func (s *scanner) compilerFile(root *manifest.Value) {
	root.Get("extends").Strings(func(v *manifest.Value) { // a bare name is that of a package
		s.certain(v, lang.Detail{Own: paths.Detail{Entry: true, Given: lang.IsRelative(v.Text)}})
	})
	s.certain(root.Get("references"), lang.Detail{Own: paths.Detail{Entry: true, Given: true}})
	s.certain(root.Get("files"), lang.Detail{Own: paths.Detail{Given: true}})
	for _, key := range []string{"include", "exclude"} {
		s.certain(root.Get(key), lang.Detail{})
	}
	options := root.Get("compilerOptions")
	for _, key := range []string{"baseUrl", "rootDir"} {
		s.certain(options.Get(key), lang.Detail{Own: paths.Detail{Given: true}})
	}
	for _, key := range []string{"outDir", "declarationDir", "outFile", "rootDirs", "typeRoots", "tsBuildInfoFile"} {
		s.certain(options.Get(key), lang.Detail{})
	}
	if targets := options.Get("paths"); targets != nil {
		for _, m := range targets.Members {
			own := paths.Detail{Given: len(m.Value.Items) == 1} // of several, those are left out that are not there
			m.Value.Strings(func(v *manifest.Value) {
				s.add(lang.Mention{Span: v.Span, Text: v.Text, Kind: paths.AliasTarget, Form: s.form, Quote: '"',
					Detail: &lang.Detail{Alias: m.Key, Own: own}})
			})
		}
	}
}

// aliasTables records the targets of a test runner's aliases.
func (s *scanner) aliasTables(root *manifest.Value) {
	for _, d := range script.AliasDefinitions(root) {
		if d.Value.Kind == manifest.String {
			s.add(lang.Mention{
				Span: d.Value.Span, Text: d.Value.Text, Kind: paths.AliasTarget, Form: s.form, Quote: '"',
				Detail: &lang.Detail{Alias: d.Pattern},
			})
		}
	}
}

// crateFile records what a Cargo.toml defines as paths (the Cargo book, "The Manifest Format" and "Workspaces").
func (s *scanner) crateFile(root *manifest.Value) {
	for _, key := range []string{"package", "project"} {
		about := root.Get(key)
		for _, key := range []string{"build", "readme", "license-file", "workspace"} {
			s.certain(about.Get(key), lang.Detail{})
		}
		for _, key := range []string{"include", "exclude"} {
			s.certain(about.Get(key), lang.Detail{Packaged: true})
		}
	}
	s.certain(root.At("lib", "path"), lang.Detail{})
	for _, key := range []string{"bin", "test", "example", "bench"} {
		if targets := root.Get(key); targets != nil {
			for _, one := range targets.Items {
				s.certain(one.Get("path"), lang.Detail{})
			}
		}
	}
	space := root.Get("workspace")
	for _, key := range []string{"members", "exclude", "default-members"} {
		s.certain(space.Get(key), lang.Detail{})
	}
	tables := []*manifest.Value{root, space}
	for _, key := range []string{"target", "patch"} {
		if parts := root.Get(key); parts != nil {
			for _, m := range parts.Members {
				tables = append(tables, m.Value, &manifest.Value{Kind: manifest.Object,
					Members: []manifest.Member{{Key: "dependencies", Value: m.Value}}})
			}
		}
	}
	for _, table := range tables {
		for _, key := range []string{"dependencies", "dev-dependencies", "build-dependencies"} {
			if list := table.Get(key); list != nil {
				for _, m := range list.Members {
					s.certain(m.Value.Get("path"), lang.Detail{})
				}
			}
		}
	}
}

// pubFile records what a pubspec.yaml defines as paths (dart.dev/tools/pub/pubspec; the framework's for assets and fonts).
func (s *scanner) pubFile(root *manifest.Value) {
	for _, key := range []string{"dependencies", "dev_dependencies", "dependency_overrides"} {
		if list := root.Get(key); list != nil {
			for _, m := range list.Members {
				s.certain(m.Value.Get("path"), lang.Detail{})
			}
		}
	}
	s.certain(root.Get("workspace"), lang.Detail{})
	if list := root.Get("screenshots"); list != nil {
		for _, one := range list.Items {
			s.certain(one.Get("path"), lang.Detail{})
		}
	}
	parts := root.Get("flutter")
	if list := parts.Get("assets"); list != nil {
		for _, one := range list.Items {
			if one.Kind == manifest.Object {
				one = one.Get("path")
			}
			s.certain(one, lang.Detail{})
		}
	}
	if list := parts.Get("fonts"); list != nil {
		for _, one := range list.Items {
			if fonts := one.Get("fonts"); fonts != nil {
				for _, font := range fonts.Items {
					s.certain(font.Get("asset"), lang.Detail{})
				}
			}
		}
	}
}
