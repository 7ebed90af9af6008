package workspace

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/project"
)

// Some builders compile the files of their own package alone, and take those of others as they are.

// builders refuses packages whose files a builder would not compile.
func (p *parting) builders() {
	for _, one := range p.All {
		for _, other := range p.All {
			n := one.Inside[other]
			if n == nil || !n.Normal || !other.Written() || p.compiler(other) != nil {
				continue
			}
			id := p.uncompiled(other)
			if id == project.None {
				continue
			}
			switch {
			case one.Was != nil && asksFor(one.Was, "react-scripts"):
				p.refuse(other.Dir, "react-scripts compiles nothing outside of src, and %s must be compiled", p.tree.Path(id))
			case (one.Libraries["next"] != nil || one.Was != nil && asksFor(one.Was, "next")) && !inside(other.Dir, one.Dir) && !p.transpiles(one, other.Name):
				p.refuse(other.Dir, "%s must have transpilePackages: ['%s'] first: it takes what lies outside of %s for compiled, and %s is not",
					path.Join(one.Dir, "next.config"), other.Name, one.Dir, p.tree.Path(id))
			}
		}
	}
}

func asksFor(k *lang.Package, name string) bool {
	return slices.ContainsFunc(k.Asks, func(d lang.Dependency) bool { return d.Name == name })
}

// uncompiled is a file of a package that does not run as it is.
func (p *parting) uncompiled(one *lang.Parcel) project.FileID {
	for _, id := range one.Files {
		if file := p.tree.Path(id); isTypeScript(file) || path.Ext(file) == ".jsx" || compiled[path.Ext(file)] != "" {
			return id
		}
	}
	return project.None
}

// transpiles says whether the settings of a package name another as one to be compiled.
func (p *parting) transpiles(one *lang.Parcel, name string) (found bool) {
	for id := range p.tree.Files {
		file := p.q.Then(project.FileID(id))
		if _, is := script.DialectOf(file); !is || project.Dir(file) != one.Dir || !strings.HasPrefix(path.Base(file), "next.config.") {
			continue
		}
		p.tree.Peek(project.FileID(id), func(content []byte, err error) {
			_, list, is := bytes.Cut(content, []byte("transpilePackages"))
			found = found || is && (bytes.Contains(list, []byte(fmt.Sprintf("'%s'", name))) || bytes.Contains(list, []byte(fmt.Sprintf("%q", name))))
		})
	}
	return found
}

// What the lines of an image do: begin a stage, bring all files or the manifest, install what manifests ask for.
var (
	stage    = regexp.MustCompile(`(?i)^\s*FROM\s`)
	allFiles = regexp.MustCompile(`(?i)^\s*(?:COPY|ADD)\s+(?:--\S+\s+)*\./?\s`)
	oneFile  = regexp.MustCompile(`(?i)^\s*(?:COPY|ADD)\s.*\bpackage\S*\.json`)
	installs = regexp.MustCompile(`(?i)^\s*RUN\s.*\b(?:npm (?:ci|i|install)|pnpm (?:i|install)|bun install|yarn(?: install)?)\b`)
)

// images says where an image installs what the manifest asks for before the manifests of the packages are there.
func (p *parting) images() {
	for id := range p.tree.Files {
		file := p.tree.Path(project.FileID(id))
		if base := strings.ToLower(path.Base(file)); !strings.HasPrefix(base, "dockerfile") && !strings.HasPrefix(base, "containerfile") && path.Ext(base) != ".dockerfile" {
			continue
		}
		p.tree.Peek(project.FileID(id), func(content []byte, err error) {
			manifest, at := false, 0
			for line := range bytes.Lines(content) {
				switch {
				case stage.Match(line), allFiles.Match(line):
					manifest = false
				case oneFile.Match(line):
					manifest = true
				case manifest && installs.Match(line):
					p.remark(file, at, "the manifests of the packages are not there yet when this line installs what they ask for: copy them before it")
				}
				at += len(line)
			}
		})
	}
}
