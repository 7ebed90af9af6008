package php

import (
	"bytes"
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file finds names of classes and namespaces in files that are no PHP: services and routes in settings, templates,
// the settings of tools. What is written there with \ between its parts and is declared in the tree is a name.

// wordsIn finds the names of the tree in a text.
func (r *Resolver) wordsIn(from project.FileID, content []byte) (out []lang.Mention) {
	if bytes.IndexByte(content, '\\') < 0 {
		return nil
	}
	// In a text for people a name may be one of the past, or of an example: there it is likely, and no more.
	prose := r.tree.IsProse(r.tree.Path(from))
	for at := 0; ; {
		next := bytes.IndexByte(content[at:], '\\')
		if next < 0 {
			return out
		}
		at += next
		start, end := around(content, at)
		if end-start > longestName || end == start {
			at = max(end, at+1)
			continue
		}
		text := string(content[start:end])
		m := lang.Mention{Span: source.Span{Start: start, End: end}, Text: text, Kind: ClassWord, Form: lang.Plain,
			Deferred: true, Likely: prose, Evident: true}
		if strings.HasSuffix(text, `\`) || r.whose(from, text).Kind != lang.ToFile {
			m.Kind = SpaceWord
		}
		if r.Resolve(from, &m).Kind.Inside() {
			out = append(out, m)
		}
		at = end
	}
}

// whose says who declares a name that a text holds.
func (r *Resolver) whose(from project.FileID, text string) lang.Target {
	all, _ := r.named(from, text)
	return r.target(all)
}

// around gives the borders of the name with \ between its parts that a \ stands in. A \ at its beginning belongs to it,
// and one at its end.
func around(content []byte, at int) (start, end int) {
	start, end = at, at
	for start > 0 && (continues(content[start-1]) || content[start-1] == '\\') {
		start--
	}
	for end < len(content) && (continues(content[end]) || content[end] == '\\') {
		end++
	}
	for start < end && content[start] >= '0' && content[start] <= '9' {
		start++
	}
	return start, end
}

// serving is a command that starts PHP's own server (php.net/manual/en/features.commandline.webserver.php), as one text
// or as a list of words.
var serving = regexp.MustCompile(`\bphp"?,?\s+"?-S"?,?\s+"?[\w.:$\{\}-]+"?,?\s+"?-t"?,?\s+"?([\w./-]+)`)

// rootsIn finds the folders that PHP's own server is told to give out.
func (r *Resolver) rootsIn(from project.FileID, content []byte) (out []lang.Mention) {
	if !bytes.Contains(content, []byte("-S")) {
		return nil
	}
	for _, at := range serving.FindAllSubmatchIndex(content, -1) {
		m := lang.Mention{Span: source.Span{Start: at[2], End: at[3]}, Text: string(content[at[2]:at[3]]), Kind: DocRoot,
			Form: lang.Plain, Deferred: true, Likely: r.tree.IsProse(r.tree.Path(from)), Evident: true}
		if r.Resolve(from, &m).Kind.Inside() {
			out = append(out, m)
		}
	}
	return out
}

// firstPage is the page that a server gives out for a folder.
const firstPage = "index.php"

// resolveRoot says which page the server gives out first: where that goes, the root goes. A folder without one is that
// folder.
func (r *Resolver) resolveRoot(from project.FileID, text string) lang.Target {
	for dir := path.Dir(r.tree.Path(from)); ; dir = path.Dir(dir) {
		p := path.Join(dir, text)
		if id, there := r.tree.Lookup(path.Join(p, firstPage)); there {
			return lang.File(id)
		}
		if r.tree.IsDir(p) && text != "." {
			return lang.Folder(p)
		}
		if dir == "." {
			return lang.No(lang.ToOutside)
		}
	}
}

func (r *Resolver) spellRoot(q lang.Respelling) (lang.Spelling, bool) {
	target := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		target = path.Dir(r.tree.Path(q.Target.File))
	}
	for dir := path.Dir(r.tree.Path(q.From)); ; dir = path.Dir(dir) {
		text := lang.Relative(dir, target)
		if strings.HasPrefix(text, "./") && !strings.HasPrefix(q.Mention.Text, "./") {
			text = text[2:]
		}
		if strings.HasSuffix(q.Mention.Text, "/") {
			text += "/"
		}
		if r.resolveRoot(q.From, text).Equal(q.Target) {
			return lang.Spelling{Text: text}, true
		}
		if dir == "." {
			return lang.Spelling{}, false
		}
	}
}
