package golang

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file keeps commands whole that name all packages below a folder, go test ./... for one: the pattern stops where
// another module begins.

var (
	// below is a pattern of packages, by its folder.
	below = regexp.MustCompile(`\.(?:/[\w.-]+)*/\.\.\.`)
	// elsewhere is a line that goes to another folder first.
	elsewhere = regexp.MustCompile(`\bcd\s|working-directory|\s-C[ =]`)
	// Of an image: a file of the module is brought, then modules are fetched.
	bringsModule = regexp.MustCompile(`(?i)^\s*(?:COPY|ADD)\s.*\bgo\.(?:mod|sum)\b`)
	fetches      = regexp.MustCompile(`(?i)^\s*RUN\s.*\bgo (?:mod (?:download|verify)|build|install|get)\b`)
)

// isScript says whether the lines of a file are commands, or it has some.
func isScript(file string) bool {
	base := strings.ToLower(path.Base(file))
	switch path.Ext(base) {
	case ".sh", ".bash", ".mk", ".yml", ".yaml", ".just":
		return true
	}
	return base == "makefile" || base == "gnumakefile" || base == "justfile" || lang.IsImage(file)
}

// everywhere gives each such pattern the modules that have come out of its folder.
func (p *parting) everywhere(written []*lang.Parcel) {
	for id := range p.tree.Files {
		id, file := project.FileID(id), p.tree.Path(project.FileID(id))
		prose := p.tree.IsProse(file)
		if !isScript(file) && !prose {
			continue
		}
		p.tree.Peek(id, func(content []byte, err error) {
			if err != nil || !bytes.Contains(content, []byte("/...")) {
				return
			}
			for _, at := range below.FindAllIndex(content, -1) {
				p.pattern(id, content, at[0], at[1], written, prose)
			}
		})
	}
}

// pattern looks at one of them.
func (p *parting) pattern(id project.FileID, content []byte, start, end int, written []*lang.Parcel, prose bool) {
	if start > 0 && (ofPath(content[start-1]) || content[start-1] == ')') || end < len(content) && ofPath(content[end]) {
		return
	}
	base := "."
	if file := p.tree.Path(id); p.was(project.Dir(file)) != nil {
		base = project.Dir(file)
	}
	dir := path.Join(base, strings.TrimSuffix(string(content[start:end]), "/..."))
	own := p.moduleOf(dir)
	if own == nil {
		return
	}
	stays, out := false, map[string]bool{}
	for file := range p.index().files {
		at := p.tree.Path(file)
		if !strings.HasSuffix(at, ".go") || dir != "." && !strings.HasPrefix(at, dir+"/") || p.moduleOf(path.Dir(at)) != own {
			continue
		}
		if home := p.Home(file); home != nil && slices.Contains(written, home) {
			out[home.Dir] = true
		} else {
			stays = true
		}
	}
	if len(out) == 0 {
		return
	}
	var words []string
	if stays {
		words = append(words, string(content[start:end]))
	}
	for _, one := range written {
		if out[one.Dir] {
			words = append(words, "./"+strings.TrimPrefix(lang.Relative(base, one.Dir), "./")+"/...")
		}
	}
	line := content[bytes.LastIndexByte(content[:start], '\n')+1 : end]
	free := func(at int, also string) bool {
		return at < 0 || at >= len(content) || strings.IndexByte(" \t\r\n"+also, content[at]) >= 0
	}
	switch list := strings.Join(words, " "); {
	case prose:
		p.Remark(p.tree.Path(id), start, "%s stops where another module begins: say %s", content[start:end], list)
	case !free(start-1, "") || !free(end, ")`;|&") || elsewhere.Match(line) || bytes.HasPrefix(bytes.TrimSpace(line), []byte("- ./")):
		p.Remark(p.tree.Path(id), start,
			"%s stops where another module begins, and how a list is written there is not known: say %s",
			content[start:end], list)
	default:
		p.Out.Edits[id] = append(p.Out.Edits[id], source.Edit{Span: source.Span{Start: start, End: end}, New: list})
	}
}

// images says where an image fetches modules before the files of the new ones are there. One place says what to do.
func (p *parting) images() {
	p.Images(bringsModule, fetches, func(file string, at int) bool {
		p.Remark(file, at, "the go.mod files of the modules and go.work are not there yet when this line reads them: "+
			"copy them before it")
		return false
	})
}
