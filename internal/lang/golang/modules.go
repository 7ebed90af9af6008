package golang

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// isModuleFile says whether a file describes a module, a workspace of modules, or the modules that a vendor folder
// holds (go.dev/ref/mod).
func isModuleFile(p string) bool {
	return path.Base(p) == "go.mod" || path.Base(p) == "go.work" || isVendorList(p)
}

// isVendorList says whether a file lists the modules of a vendor folder. The go command refuses to build when the list
// and go.mod do not agree.
func isVendorList(p string) bool { return strings.HasSuffix("/"+p, "/vendor/modules.txt") }

// scanModule finds the folders that a module file names: modules that are used, and those that replace others.
func scanModule(p string, content []byte) []lang.Mention {
	if isVendorList(p) {
		return scanVendorList(content)
	}
	var out []lang.Mention
	block := "" // the directive whose lines stand in parentheses
	for line := range text.Lines(content) {
		words := fields(content, line.Start, line.End)
		if len(words) == 0 {
			continue
		}
		first := string(content[words[0].Start:words[0].End])
		switch {
		case block != "" && first == ")":
			block = ""
			continue
		case block == "" && len(words) > 1 && string(content[words[1].Start:words[1].End]) == "(":
			block = first
			continue
		case block == "":
			block, words = first, words[1:]
			out = append(out, folders(content, block, words)...)
			block = ""
		default:
			out = append(out, folders(content, block, words)...)
		}
	}
	return out
}

// scanVendorList finds the folders of modules that replace others: "# old [version] => ./folder".
func scanVendorList(content []byte) (out []lang.Mention) {
	for at := range text.Lines(content) {
		line := slices.Collect(text.Words(content, at, " \t\r"))
		if len(line) == 0 || string(content[line[0].Start:line[0].End]) != "#" {
			continue
		}
		out = append(out, folders(content, "replace", line[1:])...)
	}
	return out
}

// from is the folder from which a module file names others. That of the list of a vendor folder is the one above, where
// go.mod lies.
func from(file string) string {
	if isVendorList(file) {
		return path.Dir(path.Dir(file))
	}
	return path.Dir(file)
}

// resolveModule says which module a folder means: its go.mod, or the folder where there is none.
func (r *Resolver) resolveModule(file string, m *lang.Mention) lang.Target {
	place := path.Join(from(file), m.Text)
	if lang.Leaves(place) {
		return lang.No(lang.ToOutside)
	}
	if id, there := r.tree.LookupParts(place, "/"+manifestName); there && place != "." {
		return lang.File(id)
	}
	if id, there := r.tree.Lookup(manifestName); there && place == "." {
		return lang.File(id)
	}
	if place == "." || r.tree.IsDir(place) {
		return lang.Folder(place)
	}
	return lang.No(lang.ToNothing)
}

// spellModule names a folder anew.
func (r *Resolver) spellModule(q lang.Respelling) (lang.Spelling, bool) {
	dir := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		dir = project.Dir(r.tree.Path(q.Target.File))
	}
	text := lang.Relative(from(r.tree.Path(q.From)), dir)
	if strings.HasSuffix(q.Mention.Text, "/") && !strings.HasSuffix(text, "/") {
		text += "/"
	}
	return lang.Spelling{Text: text}, q.Target.Kind.Inside()
}

// folders finds the folder in the words of a directive: that of use, and what stands behind the arrow of replace.
func folders(content []byte, directive string, words []source.Span) []lang.Mention {
	switch directive {
	case "use":
	case "replace":
		for i, w := range words {
			if string(content[w.Start:w.End]) == "=>" {
				words = words[i+1:]
				break
			}
		}
	default:
		return nil
	}
	if len(words) == 0 {
		return nil
	}
	at, quote := words[0], byte(0)
	if c := content[at.Start]; (c == '"' || c == '`') && at.Len() > 1 && content[at.End-1] == c {
		at, quote = source.Span{Start: at.Start + 1, End: at.End - 1}, c
	}
	folder := string(content[at.Start:at.End])
	if folder != "." && folder != ".." && !strings.HasPrefix(folder, "./") && !strings.HasPrefix(folder, "../") {
		return nil
	}
	return []lang.Mention{{Span: at, Text: folder, Kind: ModuleFolder, Form: lang.Plain, Quote: quote}}
}

// fields are the words of a line before its comment.
func fields(content []byte, start, end int) []source.Span {
	if n := bytes.Index(content[start:end], []byte("//")); n >= 0 {
		end = start + n
	}
	return slices.Collect(text.Words(content, source.Span{Start: start, End: end}, " \t\r"))
}
