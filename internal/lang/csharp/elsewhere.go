package csharp

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file finds names of types and namespaces in strings and in files that are no C#: settings, pages, documents. What
// is written there with dots and is declared in the tree is a name.

// longestName is how long a name in a text may be, in bytes.
const longestName = 400

// longestText is how long a string may be in which names are looked for, in bytes.
const longestText = 1 << 15

// ofWord says whether a byte may stand in a name with dots. A + parts the types that stand in one another.
func ofWord(c byte) bool { return ofName[c] && c < 0x80 || c == '.' }

// wordsIn finds the names of the tree in a file that is no C#.
func (r *Resolver) wordsIn(from project.FileID, content []byte) (out []lang.Mention) {
	p := r.tree.Path(from)
	if isProject(p) || path.Ext(p) == ".sln" { // what names projects there is no namespace
		return r.namesInProject(from, content)
	}
	// In a text for people a name may be one of the past, or of an example: there it is likely, and no more.
	prose := r.tree.IsProse(p)
	page := isPage(p)
	for i := 0; i < len(content); {
		c := content[i]
		if !ofName[c] || digit(c) || c >= 0x80 {
			for i++; i < len(content) && (ofName[content[i-1]] || content[i-1] == '-' || content[i-1] == '/' ||
				content[i-1] == '\\') && ofWord(content[i]); i++ {
			}
			continue
		}
		start := i
		for i < len(content) && ofWord(content[i]) {
			i++
		}
		if i-start > longestName || i < len(content) && (content[i] == '/' || content[i] == '\\') { // a path
			continue
		}
		text := strings.TrimRight(string(content[start:i]), ".")
		m, known := r.word(from, text, start)
		if !known || m.Kind == SpaceWord && (r.isFolder(p, text) && !isKey(content, start, i) || isAssembly(content, out, start)) {
			continue
		}
		if m.Likely = prose; prose {
			m.Evident = true
		}
		if page && m.Kind == SpaceWord && declaresSpace(content, m.Span.Start) { // it says where that file is
			continue
		}
		out = append(out, m)
	}
	return out
}

// isFolder says whether a name is that of a folder too, as those of projects are: then it is read as a path.
func (r *Resolver) isFolder(p, text string) bool {
	for dir := path.Dir(p); ; dir = path.Dir(dir) {
		if r.tree.IsDir(path.Join(dir, text)) {
			return true
		}
		if dir == "." {
			return false
		}
	}
}

// isKey says whether a name is a key of settings: loggers are called as namespaces there.
func isKey(content []byte, start, end int) bool {
	return start > 0 && content[start-1] == '"' && end+1 < len(content) && content[end] == '"' && content[end+1] == ':'
}

// isAssembly says whether a name stands behind that of a type, with a comma between: it is the assembly's, which stays.
func isAssembly(content []byte, found []lang.Mention, start int) bool {
	if len(found) == 0 {
		return false
	}
	before := found[len(found)-1]
	return before.Kind == ClassWord && strings.TrimSpace(string(content[before.Span.End:start])) == ","
}

// namesInProject finds the types that a project file names: what starts it, and usings.
func (r *Resolver) namesInProject(from project.FileID, content []byte) (out []lang.Mention) {
	for _, at := range projectNames.FindAllSubmatchIndex(content, -1) {
		k := 2
		for at[k] < 0 {
			k += 2
		}
		text := string(content[at[k]:at[k+1]])
		if m, known := r.word(from, text, at[k]); known && m.Span.Start == at[k] {
			out = append(out, m)
		}
	}
	return out
}

// declaresSpace says whether a name stands behind the word namespace.
func declaresSpace(content []byte, at int) bool {
	line := strings.TrimSpace(string(content[max(0, at-40):at]))
	return strings.HasSuffix(line, "namespace")
}

// word says which type or namespace of the tree a text with dots names, or ends with.
func (r *Resolver) word(from project.FileID, text string, start int) (lang.Mention, bool) {
	ix := r.index()
	for at := 0; ; {
		rest := text[at:]
		if first := partsOf(rest, 1); ix.spaces[first] && strings.Contains(rest, ".") {
			m := lang.Mention{Form: lang.Plain, Kind: ClassWord, Deferred: true}
			if all, name := r.nameIn(from, rest); len(all) > 0 {
				m.Span, m.Text = source.Span{Start: start + at, End: start + at + len(name)}, rest[:len(name)]
				return m, true
			}
			if len(r.filesOf(from, rest)) > 0 {
				m.Kind = SpaceWord
				m.Span, m.Text = source.Span{Start: start + at, End: start + at + len(rest)}, rest
				return m, true
			}
		}
		dot := strings.IndexByte(rest, '.')
		if dot < 0 {
			return lang.Mention{}, false
		}
		at += dot + 1
	}
}

// loading are methods and attributes whose argument is the name of a type.
var loading = lang.Words(`GetType CreateInstance CreateInstanceFrom TypeConverter Designer Editor DebuggerTypeProxy
	GetTypeFromName ResolveType TypeForwardedTo ToolboxItem ReflectionOnlyGetType InternalGetType`)

// textsIn finds the strings of a file that are names of types or namespaces.
func (r *Resolver) textsIn(from project.FileID, e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.texts {
		t := &e.texts[i]
		if t.at.Len() == 0 || t.at.Len() > longestText {
			continue
		}
		raw := string(content[t.at.Start:t.at.End])
		if m, is := r.resource(from, e, t, raw); is {
			out = append(out, m)
			continue
		}
		if strings.IndexByte(raw, '.') < 0 {
			continue
		}
		name := plainName(raw)
		if rest := raw[len(name):]; name == "" || len(name) > longestName || strings.ContainsAny(raw, "\n\"") || strings.ContainsAny(name, "\\/{}<> ") || strings.HasPrefix(rest, " ") ||
			strings.HasPrefix(rest, ";") || strings.HasPrefix(rest, ":") {
			out = append(out, r.namesWithin(from, raw, t.at.Start)...)
			continue
		}
		if head, open := strings.CutSuffix(name, "."); open && t.joins && strings.Contains(head, ".") &&
			len(r.filesOf(from, head)) > 0 {
			out = append(out, lang.Mention{Span: source.Span{Start: t.at.Start, End: t.at.Start + len(head)}, Text: head,
				Kind: Head, Form: lang.Plain, Quote: '"', Deferred: true})
			continue
		}
		m, known := r.word(from, raw[:min(len(raw), endOfName(raw))], t.at.Start)
		if !known || m.Span.Start != t.at.Start {
			continue
		}
		m.Quote = '"'
		whole := m.Span.Len() == endOfName(raw)
		if m.Kind == ClassWord {
			if t.joins && !whole {
				continue
			}
			m.Kind = ClassText
			certain := loading[strings.TrimSuffix(t.call, "Attribute")] && !t.joins
			m.Likely, m.Evident = !certain, whole && !t.joins || certain
		} else {
			if !whole || t.joins {
				continue
			}
			m.Kind = SpaceText
			m.Likely, m.Evident = true, true
		}
		out = append(out, m)
	}
	return out
}

// namesWithin finds types in a longer text: what is said of them there may be an example, or compared with what runs.
func (r *Resolver) namesWithin(from project.FileID, raw string, base int) (out []lang.Mention) {
	for i := 0; i < len(raw); {
		if !ofWord(raw[i]) || digit(raw[i]) || raw[i] == '.' {
			i++
			continue
		}
		start := i
		for i < len(raw) && (ofWord(raw[i]) || raw[i] == '+') {
			i++
		}
		m, known := r.word(from, strings.TrimRight(raw[start:i], "."), base+start)
		if known && m.Kind == ClassWord {
			m.Kind, m.Likely, m.Quote = ClassText, true, '"'
			out = append(out, m)
		}
	}
	return out
}

// endOfName is where the name that a text begins with ends.
func endOfName(text string) int {
	for i := range len(text) {
		if !ofWord(text[i]) && text[i] != '+' {
			return i
		}
	}
	return len(text)
}
