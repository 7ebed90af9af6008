// Package settings finds the paths in manifests, settings files, scripts and lists: by value, so that it needs to know
// of few tools what their keys mean. What a format or a manifest defines as a path is certain; any other value that
// resolves is likely one.
//
// values.go reads files of keys and values, manifests.go what package.json and the compiler's files define, lines.go
// files that are read line by line.
package settings

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/manifest"
)

// Family is settings.
func Family() lang.Family {
	return lang.Family{
		Name:  "settings",
		Words: func(p string) bool { return !isSolution(p) }, // there the names of projects are none
		Facts: lang.Facts{
			Called: map[string]string{".json": "JSON", ".yaml": "YAML", ".yml": "YAML", ".toml": "TOML",
				".xml": "XML", ".sh": "shell"},
			Programs: []string{".sh"},
			Runs:     map[string]string{"sh": ".sh", "bash": ".sh", "dash": ".sh", "zsh": ".sh", "ksh": ".sh"},
			Aside:    []string{".json", ".yaml", ".yml"},
		},
		Reads: func(p string) bool { return reads(p) },
		Scan:  func(s lang.Source) (lang.Scanned, error) { return Scan(s.As, s.Content, s.Declared) },
		Rules: func(t *lang.Tree) lang.Rules {
			r := &resolver{t}
			return lang.Rules{Base: base, Kinds: []*lang.Kind{ImagePath, BuildProject}, Resolver: r, Settle: r.settle,
				Settles: func(m *lang.Mention) bool { return m.Kind == ImagePath || m.Kind == BuildProject }}
		},
	}
}

// most is the size in bytes above which a file is taken for data.
const most = 1 << 20

func reads(p string) bool {
	base := path.Base(p)
	if base == convention.FileName || lockFile(base) {
		return false
	}
	return manifest.FormatOf(p) != nil || lineKind(p) != noLines || isSolution(p) || isBuildScript(p)
}

// lockFile says whether a file is written by a package manager.
func lockFile(base string) bool {
	switch base {
	case "package-lock.json", "npm-shrinkwrap.json", "pnpm-lock.yaml", "composer.lock", "Cargo.lock", "poetry.lock",
		"deno.lock":
		return true
	}
	return false
}

// remembered says whether a file holds what was recorded once and is not to follow: fixtures, snapshots, migrations.
func remembered(p string) bool {
	for part := range strings.SplitSeq(path.Dir(p), "/") {
		switch strings.Trim(part, "_") {
		case "fixtures", "fixture", "migrations", "snapshots", "testdata", "cassettes":
			return true
		}
	}
	return false
}

// Scan finds the paths in a settings file.
func Scan(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
	mentions, err := scan(p, content, declared)
	return lang.Scanned{Mentions: mentions}, err
}

func scan(p string, content []byte, declared *lang.Declared) ([]lang.Mention, error) {
	if len(content) > most || remembered(p) {
		return nil, nil
	}
	s := &scanner{path: p, src: content, declared: declared, taken: map[int]bool{}}
	if kind := lineKind(p); kind != noLines {
		s.lines(kind)
		return s.sorted(), nil
	}
	if isSolution(p) {
		spans := solutionFiles(content)
		for _, one := range solutionProjects(content) {
			spans = append(spans, one.span)
		}
		for _, at := range spans {
			s.add(lang.Mention{Span: at, Text: string(content[at.Start:at.End]), Kind: paths.Setting, Form: lang.Plain,
				Detail: &lang.Detail{Own: paths.Detail{Given: true}}})
		}
		return s.sorted(), nil
	}
	if isBuildScript(p) {
		s.buildScript()
		return s.sorted(), nil
	}
	format := manifest.FormatFor(p, content)
	root, err := format.Parse(content)
	if err != nil {
		return nil, &lang.ScanError{Message: err.Error(), Harmless: !config.IsPackageFile(p) && !IsCompilerFile(p)}
	}
	s.form = map[string]lang.Form{"JSON": lang.InJSON, "YAML": lang.InYAML, "TOML": lang.InTOML, "XML": lang.InMarkup,
		"INI": lang.Plain}[format.Name]
	s.statedValues(root)
	s.packageData(root)
	switch {
	case config.IsPackageFile(p):
		s.packageFile(root)
	case IsCompilerFile(p):
		s.compilerFile(root)
	case path.Base(p) == "Cargo.toml":
		s.crateFile(root)
	case path.Base(p) == "pubspec.yaml":
		s.pubFile(root)
	default:
		s.aliasTables(root)
		s.composed(root)
	}
	s.values(root)
	s.keys(root, "")
	return s.sorted(), nil
}

type scanner struct {
	path      string
	src       []byte
	declared  *lang.Declared
	form      lang.Form
	taken     map[int]bool // where values begin that are recorded already
	mentions  []lang.Mention
	served    served
	image     image            // what a container gets
	stages    map[string]image // what the stages before it got, by their names and numbers
	named     []string         // the number and name of this stage
	count     int              // the stages before it
	running   bool             // the instruction is a command
	where     string           // the folder to which a command went
	continues bool             // a command goes on from the line before
	script    bool             // the file is a script of a shell, which stays in a folder
}

func (s *scanner) add(m lang.Mention) {
	if s.taken[m.Span.Start] {
		return
	}
	s.taken[m.Span.Start] = true
	if m.Kind == syntax.ModuleSetting && m.Span.End < len(s.src) && s.src[m.Span.End] == ':' {
		m.Kind = syntax.Program
	}
	s.mentions = append(s.mentions, m)
}

func (s *scanner) sorted() []lang.Mention {
	slices.SortFunc(s.mentions, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return s.mentions
}

// IsCompilerFile says whether a path is that of the TypeScript compiler's settings.
func IsCompilerFile(p string) bool {
	base := path.Base(p)
	return strings.HasSuffix(base, ".json") &&
		(strings.HasPrefix(base, "tsconfig") || strings.HasPrefix(base, "jsconfig"))
}

// base is the root for settings of the whole project that lie in folders of their own.
func base(from string, m *lang.Mention) (string, bool) {
	whole := lang.Own[paths.Detail](m).Root || path.Base(from) == "CODEOWNERS" || slices.ContainsFunc(ofWholeProject, func(folder string) bool {
		return strings.HasPrefix(from, folder)
	})
	return ".", whole
}

// ofWholeProject are folders with settings of the whole project.
var ofWholeProject = []string{".github/", ".circleci/", ".husky/", ".vscode/"}
