package golang

import (
	"bytes"
	"go/scanner"
	"go/token"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file finds the paths of packages in texts that are no imports: in commands and settings
// (go test example.com/m/a, -X example.com/m/a.Version), in comments and strings, and behind //go:linkname. A wrong one
// is mostly no error: the linker sets nothing, a test is not run.

// outermost are the paths of the tree's modules, without those that begin like another.
func (r *Resolver) outermost() (out []string) {
	for _, m := range r.modules {
		inner := false
		for _, other := range r.modules {
			inner = inner || m.path != other.path && strings.HasPrefix(m.path, other.path+"/")
		}
		if !inner {
			out = append(out, m.path)
		}
	}
	return out
}

// pathsIn finds the paths of packages of the tree in a text.
func (r *Resolver) pathsIn(from project.FileID, content []byte) (out []lang.Mention) {
	if base := path.Base(r.tree.Path(from)); base == "go.mod" || base == "go.work" || base == "go.sum" {
		return nil // there it is the module
	}
	for _, module := range r.outermost() {
		for at := 0; ; {
			i := bytes.Index(content[at:], []byte(module))
			if i < 0 {
				break
			}
			m, end := r.pathAt(from, content, at+i, module)
			if at = end; m != nil {
				out = append(out, *m)
			}
		}
	}
	return out
}

// A path in a text is at most so many bytes longer than that of its module, with so many names behind it.
const longestPath, mostNames = 300, 16

// pathAt gives the path of a package that begins at a place with the path of a module, nil if there is none, and the
// place behind what was read. The path of a module alone is mostly the module.
func (r *Resolver) pathAt(from project.FileID, content []byte, start int, module string) (*lang.Mention, int) {
	end := start + len(module)
	if start > 0 && ofPath(content[start-1]) && content[start-1] != '/' || end == len(content) ||
		content[end] != '/' && content[end] != '.' {
		return nil, end
	}
	for end < len(content) && end < start+len(module)+longestPath && ofPath(content[end]) {
		end++
	}
	text := strings.TrimRight(string(content[start:end]), "./")
	for range mostNames {
		if len(text) <= len(module) {
			break
		}
		whole := text + "/..."
		if !strings.HasPrefix(string(content[start:min(len(content), start+len(whole))]), whole) {
			whole = text
		}
		m := &lang.Mention{
			Span: source.Span{Start: start, End: start + len(whole)}, Text: whole, Kind: PackageText, Form: lang.Plain,
			Deferred: true,
		}
		address := start > 0 && content[start-1] == '/' // it is the end of one
		if m.Likely = address || r.tree.IsProse(r.tree.Path(from)); m.Likely {
			m.Evident = !address
		}
		if r.resolveText(from, m).Kind.Inside() {
			return m, m.Span.End
		}
		text = text[:strings.LastIndexAny(text, "./")]
	}
	return nil, end
}

// ofPath says whether a byte may stand in the path of a package with a name behind it.
func ofPath(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '-' || c == '.' ||
		c == '/' || c == '~' || c == '+'
}

// resolveText says where the path of a package in a text leads: to the package, to the file that declares the name
// behind it, or to the folder of a pattern.
func (r *Resolver) resolveText(from project.FileID, m *lang.Mention) lang.Target {
	dir := path.Dir(r.tree.Path(from))
	if above, pattern := strings.CutSuffix(m.Text, "/..."); pattern {
		if below, ok := r.folder(dir, above); ok && r.tree.IsDir(below) {
			return lang.Folder(below)
		}
		return lang.No(lang.ToNothing)
	}
	if below, ok := r.folder(dir, m.Text); ok && r.targets[below].Kind.Inside() {
		if own, _ := r.importPath(below); own != m.Text || r.moduleOf(below).path != own {
			return r.targets[below]
		}
		return lang.No(lang.ToNothing)
	}
	dot := strings.LastIndexByte(m.Text, '.')
	if dot < strings.LastIndexByte(m.Text, '/') || dot < 0 {
		return lang.No(lang.ToNothing)
	}
	below, ok := r.folder(dir, m.Text[:dot])
	if !ok || !r.targets[below].Kind.Inside() {
		return lang.No(lang.ToNothing)
	}
	return r.target(from, place{dir: below}, m.Text[dot+1:])
}

// spellText writes the path of a package anew, with what stands behind it.
func (r *Resolver) spellText(q lang.Respelling) (lang.Spelling, bool) {
	text, dir, behind := q.Mention.Text, q.Target.Folder(), ""
	switch q.Target.Kind {
	case lang.ToFolder:
		behind = "/..."
	case lang.ToFile:
		dir = path.Dir(r.tree.Path(q.Target.File))
	case lang.ToSet:
		for i, id := range q.Target.Set() {
			if here := path.Dir(r.tree.Path(id)); i == 0 {
				dir = here
			} else if here != dir {
				return lang.Spelling{}, false
			}
		}
	default:
		return lang.Spelling{Text: text}, true
	}
	old := q.Old.(*Resolver)
	below, whole := old.folder(path.Dir(old.tree.Path(q.OldFrom)), text)
	if q.Target.Kind != lang.ToFolder && !(whole && old.targets[below].Kind.Inside()) { // a name stands behind it
		behind = text[strings.LastIndexByte(text, '.'):]
	}
	now, ok := r.importPath(dir)
	return lang.Spelling{Text: now + behind}, ok
}

// inGo judges the paths of packages in a Go file by where they stand: what the linker reads is certain, a comment or a
// string of its own leaves little doubt, and imports are no texts.
func inGo(f *file, content []byte, found []lang.Mention) (out []lang.Mention) {
	if len(found) == 0 {
		return nil
	}
	var s scanner.Scanner
	set := token.NewFileSet()
	s.Init(set.AddFile("", set.Base(), len(content)), content, nil, scanner.ScanComments)
	next := 0
	for next < len(found) {
		pos, tok, literal := s.Scan()
		if tok == token.EOF {
			break
		}
		start, end := int(pos)-1, int(pos)-1+len(literal)
		for ; next < len(found) && found[next].Span.Start < start; next++ {
		}
		for ; next < len(found) && found[next].Span.End <= end; next++ {
			m := found[next]
			switch {
			case tok == token.COMMENT && strings.HasPrefix(literal, "//go:linkname "):
			case tok == token.COMMENT:
				m.Evident, m.Likely = m.Evident || !m.Likely, true
			case tok == token.STRING && f.isImport(m.Span.Start):
				continue
			case tok == token.STRING:
				m.Likely, m.Evident = true, m.Span.Start == start+1 && m.Span.End == end-1
				m.Form, m.Quote = lang.InScript, literal[0]
			default:
				continue
			}
			out = append(out, m)
		}
	}
	return out
}

// isImport says whether the path of an import begins at a place.
func (f *file) isImport(at int) bool {
	_, found := slices.BinarySearchFunc(f.imports, at, func(s spec, at int) int { return s.at.Start - at })
	return found
}
