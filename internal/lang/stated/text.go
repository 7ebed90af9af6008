package stated

import (
	"bytes"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/template"
	"crookedshelf/internal/text"
)

// This file finds what the convention states in files whose language or format does not look for it: a solution, a
// script of a shell, a language that is not read. Nothing is known of such a text but its words, so an entry must name
// the file with in.

// asks says whether an entry of the convention names a file in which nobody else looks for texts.
func (r *Resolver) asks(from project.FileID, _ []lang.Mention, _ []lang.Target) bool {
	return len(r.looked) > 0 && len(r.entriesFor(r.tree.Path(from))) > 0
}

// entriesFor are the numbers, from 1, of the entries that look for texts in a file.
func (r *Resolver) entriesFor(p string) (out []int) {
	if family := r.families(p); family != nil && family.States {
		return nil
	}
	home := r.declared.Home(p)
	for _, i := range r.looked {
		in := r.entries[i].entry.In
		if slices.ContainsFunc(in, template.Fits(home)) || slices.ContainsFunc(in, template.Fits(p)) {
			out = append(out, i+1)
		}
	}
	return out
}

// looks says whether an entry asks for words of a text.
func looks(m *convention.Mention) bool {
	return len(m.In) > 0 && !m.NoPath && !m.Tags && !m.Code && m.File != nil && (m.Like != nil || len(m.Calls) > 0)
}

// second finds the texts that entries state, in the order of the file. A word that leads nowhere is just a word.
func (r *Resolver) second(from project.FileID, content []byte) []lang.Mention {
	if bytes.IndexByte(content, 0) >= 0 {
		return nil
	}
	var out []lang.Mention
	for _, rule := range r.entriesFor(r.tree.Path(from)) {
		entry := r.entries[rule-1].entry
		spans := words(content)
		if len(entry.Calls) > 0 {
			spans = arguments(content, entry.Calls)
		}
		for _, at := range spans {
			word := string(content[at.Start:at.End])
			if entry.Like != nil {
				// any word is a <path>: one that is plain is a word, though a folder has its name
				if !entry.Like.Fits(word) || entry.Like.Bare() && !strings.ContainsAny(word, `/\.`) {
					continue
				}
			}
			start, end, ok := entry.Part(word)
			if !ok {
				continue
			}
			m := lang.Mention{Span: source.Span{Start: at.Start + start, End: at.Start + end}, Text: word[start:end],
				Kind: Stated, Form: lang.Plain, Detail: By(rule)}
			if r.Resolve(from, &m).Kind.Inside() {
				out = append(out, m)
			}
		}
	}
	return lang.InOrder(out)
}

// words are the pieces of a text between blanks, quotes, brackets and what parts values, without the marks with which a
// sentence ends.
func words(content []byte) (out []source.Span) {
	const between = " \t\r\n\"'`()[]{}<>,;=|"
	for word := range text.Words(content, source.Span{End: len(content)}, between) {
		for word.Len() > 0 && strings.IndexByte(".:!?", content[word.End-1]) >= 0 {
			word.End--
		}
		if word.Len() > 0 {
			out = append(out, word)
		}
	}
	return out
}

// arguments are the first strings of calls: name('x'), name "x", on->name("x"), On::name('x').
func arguments(content []byte, calls []string) (out []source.Span) {
	for _, call := range calls {
		parts := strings.Split(call, ".")
		for i := range parts {
			parts[i] = regexp.QuoteMeta(parts[i])
		}
		form := regexp.MustCompile(`(?:^|[^\w$])` + strings.Join(parts, `(?:\.|->|::)`) +
			`\s*\(?\s*(?:"([^"\n]+)"|'([^'\n]+)')`)
		for _, m := range form.FindAllSubmatchIndex(content, -1) {
			if m[2] < 0 {
				m[2], m[3] = m[4], m[5]
			}
			out = append(out, source.Span{Start: m[2], End: m[3]})
		}
	}
	slices.SortFunc(out, func(a, b source.Span) int { return a.Start - b.Start })
	return out
}
