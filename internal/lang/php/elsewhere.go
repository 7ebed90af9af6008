package php

import (
	"bytes"
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
