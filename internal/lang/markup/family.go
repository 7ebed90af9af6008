// Package markup reads HTML, single-file components, documents and templates: what they name by path, and the scripts
// and style sheets that stand in them, which lang/web and lang/style read.
//
// html.go has the tokenizer, references.go what in a tag is a reference, component.go and template.go what is
// particular to single-file components and to template languages, document.go Markdown, restructured.go
// reStructuredText.
package markup

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

type dialect uint8

const (
	page dialect = iota // HTML
	vue
	svelte
	astro
	handlebars
	nunjucks // and its kin, with {% %}
	ejs      // and server pages of Java, with <% %>
	liquid
	pug
	document     // Markdown
	restructured // reStructuredText
)

// code says whether pieces of template code stand in the text.
func (d dialect) code() bool {
	return d == handlebars || d == nunjucks || d == ejs || d == liquid || d == vue
}

func (d dialect) component() bool { return d == vue || d == svelte || d == astro }

// braces says whether an attribute's value may be an expression in braces.
func (d dialect) braces() bool { return d == svelte || d == astro || d == document }

func dialectOf(p string) (dialect, bool) {
	switch strings.ToLower(path.Ext(p)) {
	case ".html", ".htm", ".xhtml":
		return page, true
	case ".vue":
		return vue, true
	case ".svelte":
		return svelte, true
	case ".astro":
		return astro, true
	case ".hbs", ".handlebars", ".mustache":
		return handlebars, true
	case ".njk", ".nunjucks", ".twig", ".jinja", ".j2":
		return nunjucks, true
	case ".liquid":
		return liquid, true
	case ".ejs", ".jsp", ".jspf", ".tag":
		return ejs, true
	case ".pug", ".jade":
		return pug, true
	case ".md", ".mdx", ".markdown":
		return document, true
	case ".rst":
		return restructured, true
	}
	return page, false
}

// Family is the languages of markup.
func Family() lang.Family {
	return lang.Family{
		Name:  "markup",
		Omits: true,
		Facts: lang.Facts{
			Called: map[string]string{
				".html": "HTML", ".htm": "HTML", ".md": "Markdown", ".mdx": "Markdown", ".pug": "pug", ".ejs": "ejs",
				".hbs": "handlebars", ".njk": "nunjucks", ".jsp": "server pages",
			},
			Sources: []string{".pug", ".ejs", ".hbs"},
			Starts:  []string{".html"},
			Prose: []string{".md", ".markdown", ".mdx", ".rst", ".txt", ".adoc", ".tex", ".org", ".po", ".pot",
				".csv"},
			Aside: []string{".md", ".mdx"},
			Made:  []string{".po", ".pot"}, // translations name the places of their texts
		},
		Reads: func(p string) bool { _, known := dialectOf(p); return known },
		Scan:  Scan,
	}
}

// Scan finds every mention in a file of markup.
func Scan(source lang.Source) (lang.Scanned, error) {
	p, content, declared := source.Path, source.Content, source.Declared
	d, _ := dialectOf(source.As)
	if d == page && bytes.Contains(content, []byte("{%")) { // a template that a server fills in
		d = nunjucks
	}
	s := &scanner{path: p, src: content, dialect: d, declared: declared, tags: declared.Tags(p)}
	if declared.WantsOutlines() && d.component() { // the file is a component of its name
		name := strings.TrimSuffix(path.Base(p), path.Ext(p))
		s.outline = &lang.Outline{Own: true,
			Declarations: []lang.Declaration{{Name: name, Kinds: lang.IsComponent, Exported: true, Default: true}}}
	}
	switch d {
	case pug:
		s.pug()
	case document:
		s.document()
	case restructured:
		s.restructured()
	default:
		s.markup(0)
	}
	return lang.Scanned{Mentions: lang.InOrder(s.mentions), Inside: s.inside, Outline: s.outline}, nil
}

type scanner struct {
	path     string
	src      []byte
	dialect  dialect
	declared *lang.Declared
	tags     []int // entries of the convention that speak of elements
	mentions []lang.Mention
	inside   []lang.Embedded // what other languages read
	outline  *lang.Outline   // nil if nobody asks for it, or the file declares nothing
}

func (s *scanner) add(span source.Span, text string, kind *lang.Kind, quote byte, likely bool) {
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.InMarkup, Quote: quote,
		Likely: likely})
}

// within takes over mentions that were found in a part of the text.
func (s *scanner) within(offset int, found []lang.Mention) {
	for _, m := range found {
		m.Span.Start += offset
		m.Span.End += offset
		s.mentions = append(s.mentions, m)
	}
}

// embed leaves a part of the text to the language of files with a name.
func (s *scanner) embed(part source.Span, as string) *lang.Embedded {
	s.inside = append(s.inside, lang.Embedded{Lines: []source.Span{part}, As: as})
	return &s.inside[len(s.inside)-1]
}
