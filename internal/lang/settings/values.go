package settings

import (
	"path"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// statedValues records every value that the convention states to be a mention, or to be none.
func (s *scanner) statedValues(root *manifest.Value) {
	if s.declared == nil || len(s.declared.Convention.Mentions) == 0 {
		return
	}
	root.Walk(func(key []string, v *manifest.Value) {
		if rule := s.declared.Key(s.path, key); rule != 0 && v.Kind == manifest.String {
			s.addStated(v, rule)
		}
	})
}

// packageData records the packages whose data is shipped, which are keys, and the patterns of their files (setuptools'
// documentation, Data Files Support).
func (s *scanner) packageData(root *manifest.Value) {
	for _, table := range []*manifest.Value{root.At("tool", "setuptools", "package-data"),
		root.At("options.package_data")} {
		if table == nil {
			continue
		}
		for _, m := range table.Members {
			span := source.Span{Start: m.Start, End: m.Start + len(m.Key)}
			if m.Start < len(s.src) && (s.src[m.Start] == '"' || s.src[m.Start] == '\'') {
				span.Start, span.End = span.Start+1, span.End+1
			}
			if _, ok := lang.DottedName(m.Key); !ok || span.End > len(s.src) ||
				string(s.src[span.Start:span.End]) != m.Key {
				continue
			}
			s.add(lang.Mention{Span: span, Text: m.Key, Kind: syntax.ModuleSetting, Form: lang.Plain})
			for _, v := range append(m.Value.Items, m.Value) {
				if v.Kind == manifest.String || v.Kind == manifest.Block {
					s.dataPatterns(v, m.Key)
				}
			}
		}
	}
}

// dataPatterns records the patterns of a value: one, or several with commas, blanks or line ends between.
func (s *scanner) dataPatterns(v *manifest.Value, from string) {
	s.items(v.Span, func(span source.Span, text string) {
		s.add(lang.Mention{Span: span, Text: text, Kind: syntax.PackagePath, Form: s.form, Quote: v.Quote,
			Detail: &lang.Detail{Own: syntax.Detail{From: from}}})
	})
}

// items gives the pieces of a text between commas, blanks and line ends.
func (s *scanner) items(within source.Span, each func(span source.Span, text string)) {
	for span := range text.Words(s.src, within, ", \t\n\r") {
		each(span, string(s.src[span.Start:span.End]))
	}
}

// values records every other value that looks like a path.
func (s *scanner) values(root *manifest.Value) {
	root.Walk(func(key []string, v *manifest.Value) {
		if v.Kind != manifest.String && v.Kind != manifest.Block || s.taken[v.Span.Start] {
			return
		}
		name := lastName(key)
		modules := moduleKeys[name] && !slices.Contains(key, "hatch") // whose packages are paths
		switch folder := workingFolder(root, key, name); {
		case folder != "":
			s.where, s.continues = folder, true
			s.words(v.Span.Start, v.Span.End)
			s.where, s.continues = "", false
		case len(key) > 2 && key[1] == "poetry" && key[2] == "packages": // names, whose folders stand beside them
		case modules && strings.ContainsAny(strings.TrimSpace(v.Text), ", \n"):
			s.moduleList(v.Span)
		case typeInAssembly(v.Text):
		case strings.ContainsAny(v.Text, ", \n") && namesOnly(v.Text) && paths.PathKey(name) && !s.foreign(key, v.Text):
			s.items(v.Span, func(span source.Span, text string) {
				kind := paths.Setting
				if strings.Contains(text, "*") {
					kind = paths.SettingGlob
				}
				s.add(lang.Mention{Span: span, Text: text, Kind: kind, Form: s.form, Quote: v.Quote, Likely: true})
			})
		case v.Kind == manifest.Block, strings.ContainsAny(v.Text, " \n"), strings.Contains(v.Text, ":") &&
			!strings.Contains(v.Text, "://"):
			s.words(v.Span.Start, v.Span.End)
		default:
			// a variable's value
			if equals := strings.IndexByte(v.Text, '='); equals > 0 && v.Span.Len() == len(v.Text) {
				if segments, dotted := lang.DottedName(v.Text[equals+1:]); dotted && segments > 1 {
					span := source.Span{Start: v.Span.Start + equals + 1, End: v.Span.End}
					s.add(lang.Mention{Span: span, Text: v.Text[equals+1:], Kind: syntax.ModuleSetting, Form: s.form,
						Quote: v.Quote, Likely: true})
					return
				}
			}
			if head, ok := strings.CutSuffix(v.Text, ".*"); ok { // a module with all below it
				if _, dotted := lang.DottedName(head); dotted {
					s.add(lang.Mention{Span: source.Span{Start: v.Span.Start, End: v.Span.Start + len(head)},
						Text: head, Kind: syntax.ModuleSetting, Form: s.form, Quote: v.Quote, Likely: true})
					return
				}
			}
			segments, dotted := lang.DottedName(v.Text)
			if dotted && (segments > 1 || modules) && !s.foreign(key, v.Text) {
				s.add(lang.Mention{Span: v.Span, Text: v.Text, Kind: syntax.ModuleSetting, Form: s.form, Quote: v.Quote,
					Likely: true})
				return
			}
			kind, ok := paths.SettingKind(v.Text, name)
			if name == "packages" && !modules && !ok {
				kind, ok = paths.Setting, true
			}
			if ok && !s.foreign(key, v.Text) {
				s.add(lang.Mention{Span: v.Span, Text: v.Text, Kind: kind, Form: s.form, Quote: v.Quote, Likely: true})
			}
		}
	})
}

// workingKeys are the keys that say where a command runs, beside it or above it.
var workingKeys = [][]string{{"defaults", "run", "working-directory"}, {"working-directory"}, {"working_directory"}}

// workingFolder gives the folder in which the command at a key of a name runs: working-directory beside it, or of the
// defaults above it; empty where nothing says so. Files that say what a build server runs have such keys.
func workingFolder(root *manifest.Value, key []string, name string) (folder string) {
	if name != "run" && name != "command" {
		return ""
	}
	v := root
	for _, k := range key {
		if v == nil { // the key stands there twice, and the other value has nothing below it
			return ""
		}
		for _, at := range workingKeys {
			if text := v.At(at...).String(); text != "" {
				folder = path.Clean(text)
			}
		}
		if i, err := strconv.Atoi(k); err == nil && i < len(v.Items) {
			v = v.Items[i]
		} else {
			v = v.Get(k)
		}
	}
	if path.IsAbs(folder) || strings.ContainsAny(folder, "$~{") || folder == "." || strings.HasPrefix(folder, "..") {
		return ""
	}
	return folder
}

// namesOnly says whether a text is a list of names and paths, with commas, blanks and line ends between.
func namesOnly(text string) bool {
	for i := range len(text) {
		switch c := text[i]; {
		case c|0x20 >= 'a' && c|0x20 <= 'z', c >= '0' && c <= '9', strings.IndexByte("_-./*, \n\t\r", c) >= 0:
		default:
			return false
		}
	}
	return true
}

// keys records the keys that are paths themselves, or patterns of some: "src/**/*.ts" of a list of what is done with
// which files. It is asked for the tables of which that is known, and else where a key looks like a path and resolves.
func (s *scanner) keys(v *manifest.Value, above string) {
	if v == nil || addressKeys[above] {
		return
	}
	for _, m := range v.Members {
		span := source.Span{Start: m.Start, End: m.Start + len(m.Key)}
		if m.Start < len(s.src) && (s.src[m.Start] == '"' || s.src[m.Start] == '\'') {
			span.Start, span.End = span.Start+1, span.End+1
		}
		if span.End <= len(s.src) && strings.Contains(m.Key, "/") && m.Key[0] != '/' && m.Key[0] != '@' &&
			m.Key[0] != '#' && string(s.src[span.Start:span.End]) == m.Key {
			if kind, ok := paths.SettingKind(m.Key, above); ok {
				s.add(lang.Mention{Span: span, Text: m.Key, Kind: kind, Form: s.form, Quote: '"', Likely: true})
			}
		}
		s.keys(m.Value, m.Key)
	}
	for _, item := range v.Items {
		s.keys(item, above)
	}
}

// addressKeys are keys of tables whose keys are names, addresses or aliases, and no paths.
var addressKeys = map[string]bool{
	"exports": true, "imports": true, "paths": true, "dependencies": true, "devDependencies": true,
	"peerDependencies": true, "optionalDependencies": true, "overrides": true,
	"resolutions": true, "alias": true, "moduleNameMapper": true, "typesVersions": true, "engines": true,
	"packages": true, "resolveAlias": true, "peerDependenciesMeta": true,
	"dependenciesMeta": true, "patchedDependencies": true, "catalog": true, "catalogs": true, "rewrites": true,
	"redirects": true, "proxy": true,
}

// moduleKeys are keys whose values are names of modules, also where they have one segment: those of setuptools,
// coverage, isort, and of the linters of imports.
var moduleKeys = map[string]bool{
	"packages": true, "py-modules": true, "py_modules": true, "source": true, "source_pkgs": true,
	"known-first-party": true, "known_first_party": true,
	"root_package": true, "root_packages": true, "FLASK_APP": true, "module-name": true,
}

// moduleList records the names of modules in a text that lists them.
func (s *scanner) moduleList(within source.Span) {
	s.items(within, func(span source.Span, text string) {
		if _, ok := lang.DottedName(text); ok {
			s.add(lang.Mention{Span: span, Text: text, Kind: syntax.ModuleSetting, Form: lang.Plain, Likely: true})
		}
	})
}

// foreign says whether a value of a manifest is no path whatever it looks like: a version, a package's name.
func (s *scanner) foreign(key []string, text string) bool {
	if !config.IsPackageFile(s.path) || len(key) == 0 {
		return false
	}
	switch key[0] {
	case "name", "version", "description", "license", "homepage", "repository", "author", "keywords", "type", "engines",
		"packageManager":
		return true
	}
	return strings.HasSuffix(strings.ToLower(key[0]), "dependencies") || key[0] == "overrides" ||
		key[0] == "resolutions"
}

// lastName is the last key that is no number of an element, and not empty.
func lastName(key []string) string {
	for i := len(key) - 1; i >= 0; i-- {
		if _, err := strconv.Atoi(key[i]); err != nil && key[i] != "" {
			return key[i]
		}
	}
	return ""
}

// addStated records a value by an entry of the convention: the whole text, or each item of a list in it.
func (s *scanner) addStated(v *manifest.Value, rule int) {
	entry := s.declared.Entry(rule)
	if entry.NoPath {
		s.taken[v.Span.Start] = true
		return
	}
	m := lang.Mention{Span: v.Span, Text: v.Text, Kind: stated.Stated, Form: s.form, Quote: v.Quote,
		Detail: stated.By(rule)}
	items := []string{string(s.src[v.Span.Start:v.Span.End])}
	if entry.Each != "" {
		items = strings.Split(items[0], entry.Each)
	}
	at := v.Span.Start
	for _, item := range items {
		text := strings.TrimSpace(item)
		lead := strings.Index(item, text)
		if start, end, ok := entry.Part(text); ok && text != "" {
			m.Span.Start, m.Span.End = at+lead+start, at+lead+end
			if m.Text = text[start:end]; len(items) == 1 && end-start == len(v.Text) {
				m.Text = v.Text
			}
			s.add(m)
		}
		at += len(item) + len(entry.Each)
	}
}

// certain records the strings of a value that a format defines as paths.
func (s *scanner) certain(v *manifest.Value, more lang.Detail) {
	if v != nil && v.Kind == manifest.List {
		more.List = v.Span.Start
	}
	v.Strings(func(v *manifest.Value) {
		text := v.Text
		if text == "" || strings.Contains(text, "://") {
			return
		}
		m := lang.Mention{Span: v.Span, Text: text, Kind: paths.Setting, Form: s.form, Quote: v.Quote}
		if strings.Contains(text, "*") {
			m.Kind = paths.SettingGlob
		}
		if more != (lang.Detail{}) {
			copied := more
			m.Detail = &copied
		}
		s.add(m)
	})
}

// typeInAssembly says whether a value is the name of a type with that of what has it: A.B.Type, A.B, Version=1.0. No part
// of it is a path.
func typeInAssembly(text string) bool {
	name, rest, has := strings.Cut(text, ",")
	assembly, _, _ := strings.Cut(rest, ",")
	segments, dotted := lang.DottedName(name)
	_, second := lang.DottedName(strings.TrimSpace(assembly))
	last := name[strings.LastIndexByte(name, '.')+1:]
	return has && dotted && second && segments > 1 && last != "" && last[0] >= 'A' && last[0] <= 'Z'
}
