package convention

import (
	"bytes"
	"maps"
	"slices"
	"strconv"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/template"
	"crookedshelf/internal/text"
)

// This file is about what a convention says for the day of the move alone: the section coming_from, and what something
// is now where it says now and then. When the move is done it must go. What an alias stood for before would be believed
// of imports that were written since, and they would be rewritten to another file.

// Day is what a convention says for the day of the move.
type Day struct {
	Line  int        // of coming_from; 0 where there is none
	Allow AllowedDay // what may change on that day
}

// AllowedDay is what users and others know by name and may be called otherwise after the move.
type AllowedDay struct {
	Addresses bool // of files that are served
	Stored    bool // names that a database or a queue remembers
}

var dayKeys = []key{
	{
		name:  "shelves",
		about: "where the files of a shelf are found today, by the shelf",
		shape: namedBoundTexts,
	},
	{name: "aliases", about: "what an alias stands for today, by the alias", shape: namedTexts},
	{name: "roots", about: "where import names start today, by the language", shape: namedTexts},
	{name: "allow", about: "what may change on that day: addresses, stored", shape: manyTexts},
}

// readDay reads coming_from. The shelves are known by now; aliases and roots are read after it.
func (r *reader) readDay(c *Convention, n ast.Node) {
	c.Day.Line = position(n).Line - 1
	fields := r.fields(n, "coming_from", dayKeys)
	if v, ok := fields["shelves"]; ok {
		for _, pair := range r.pairs(v, "shelves of coming_from") {
			shelf := c.Shelf(r.text(pair.Key))
			if shelf == nil {
				r.noShelf(c, pair.Key, r.text(pair.Key))
				continue
			}
			shelf.From = append(shelf.From, r.sources(pair.Value)...)
		}
	}
	if v, ok := fields["aliases"]; ok {
		for _, pair := range r.pairs(v, "aliases of coming_from") {
			r.todayOfAlias(c, pair)
		}
	}
	if v, ok := fields["roots"]; ok {
		for _, pair := range r.pairs(v, "roots of coming_from") {
			language, today := r.text(pair.Key), r.nowThen(pair.Value, "a root").Now
			root, known := c.Roots[language]
			if !known {
				r.fail(position(pair.Key), "say what it is then: roots: { "+language+": src/ }",
					"roots does not say where names of %s start after the move", language)
				continue
			}
			root.Now = today
			c.Roots[language] = root
		}
	}
	for _, v := range r.list(fields["allow"]) {
		switch word := r.text(v); word {
		case "addresses":
			c.Day.Allow.Addresses = true
		case "stored":
			c.Day.Allow.Stored = true
		default:
			r.fail(position(v), "write allow: [addresses, stored]", "%q is nothing that could be allowed%s", word,
				template.Closest(word, []string{"addresses", "stored"}))
		}
	}
}

// todayOfAlias reads what an alias of the convention stands for today.
func (r *reader) todayOfAlias(c *Convention, pair *ast.MappingValueNode) {
	pattern := r.text(pair.Key)
	for i := range c.Aliases {
		if a := &c.Aliases[i]; a.Pattern == pattern {
			a.Now, a.HasNow = r.aliasTarget(*a, pair.Value)
			return
		}
	}
	r.fail(position(pair.Key), "say what it is then: aliases: { \""+pattern+"\": src/* }",
		"aliases does not say what %s stands for after the move", pattern)
}

// Today is the convention without what it says for the day of the move, and without what it asks to be set right: as if
// the files were to stay where they are. What an alias stands for today follows its folder.
func (c *Convention) Today() *Convention {
	today := *c
	today.Day, today.Settings, today.Aliases, today.Public = Day{}, nil, nil, slices.Clone(c.Public)
	for _, a := range c.Aliases {
		if a.HasNow {
			a.Then, a.HasThen = "", false
			today.Aliases = append(today.Aliases, a)
		}
	}
	for i := range today.Public {
		today.Public[i].Folder.Then = today.Public[i].Folder.Now
	}
	today.Roots = maps.Clone(c.Roots)
	for language, root := range today.Roots {
		root.Then = root.Now
		today.Roots[language] = root
	}
	return &today
}

// Strikes are the edits of the convention's own text by which all goes that is for the day of the move alone:
// coming_from, and what something is now. followed gives what an alias stands for after the move that says only what it
// is now; nil where that is not known.
func (c *Convention) Strikes(followed func(a Alias) string) []source.Edit {
	root, err := manifest.ParseYAML(c.Source)
	if err != nil {
		return nil // it was read by another parser, and nothing is lost where this one can't
	}
	var out []source.Edit
	for _, m := range root.Members {
		switch m.Key {
		case "coming_from":
			out = append(out, source.Edit{Span: section(c.Source, root, m)})
		case "settings": // its values are those of other files
		case "aliases":
			out = append(out, c.aliasStrikes(m.Value, followed)...)
		default:
			out = append(out, collapsed(c.Source, m.Value)...)
		}
	}
	if !c.same(root, out) {
		return nil
	}
	return out
}

// same says whether the convention's text without some parts is YAML that has all keys at the top but coming_from.
func (c *Convention) same(root *manifest.Value, edits []source.Edit) bool {
	text, err := source.Apply(c.Source, edits)
	if err != nil {
		return false
	}
	after, err := manifest.ParseYAML(text)
	if err != nil {
		return false
	}
	keys := func(v *manifest.Value) (out []string) {
		for _, m := range v.Members {
			if m.Key != "coming_from" {
				out = append(out, m.Key)
			}
		}
		return out
	}
	return slices.Equal(keys(root), keys(after)) && after.Get("coming_from") == nil
}

// section is the place of a key at the top with its value, and with the comment right above it: whole lines, and one of
// the blank lines around them. In a mapping in braces it is the key with its value and a comma.
func section(src []byte, root *manifest.Value, m manifest.Member) source.Span {
	end := max(manifest.Whole(m.Value).End, m.Start+len(m.Key)+1)
	if text.LineStart(src, m.Start) != m.Start { // in braces
		rest := src[end:]
		if blanks := len(rest) - len(bytes.TrimLeft(rest, " \t\r\n")); blanks < len(rest) && rest[blanks] == ',' {
			return source.Span{Start: m.Start, End: end + blanks + 1}
		}
		if comma := bytes.LastIndexByte(src[:m.Start], ','); comma >= 0 {
			return source.Span{Start: comma, End: end}
		}
	}
	out := source.Span{Start: headed(src, m.Start), End: min(text.LineEnd(src, end)+1, len(src))}
	above := out.Start == 0 || bytes.HasSuffix(src[:out.Start], []byte("\n\n"))
	for above && out.End < len(src) && src[out.End] == '\n' {
		out.End++
	}
	return out
}

// aliasStrikes are those of the aliases.
func (c *Convention) aliasStrikes(v *manifest.Value, followed func(a Alias) string) (out []source.Edit) {
	for _, m := range v.Members {
		if now := m.Value.Get("now"); now == nil || m.Value.Get("then") != nil || followed == nil {
			out = append(out, collapsed(c.Source, m.Value)...)
			continue
		}
		for _, a := range c.Aliases {
			if a.Pattern == m.Key && a.Scope == c.Base {
				out = append(out, source.Edit{Span: m.Value.Span,
					New: strconv.Quote(strings.TrimPrefix(followed(a), c.Base))})
			}
		}
	}
	return out
}

// headed is where the comment begins that stands right above a place at the beginning of a line.
func headed(src []byte, at int) int {
	for at > 0 {
		above := bytes.LastIndexByte(src[:at-1], '\n') + 1
		if !bytes.HasPrefix(src[above:], []byte("#")) {
			break
		}
		at = above
	}
	return at
}

// collapsed are the edits by which each value that says what it is now and then becomes what it is then.
func collapsed(src []byte, v *manifest.Value) (out []source.Edit) {
	if now, then := v.Get("now"), v.Get("then"); now != nil && then != nil && len(v.Members) == 2 {
		return []source.Edit{{Span: v.Span, New: string(src[manifest.Whole(then).Start:manifest.Whole(then).End])}}
	}
	for _, m := range v.Members {
		out = append(out, collapsed(src, m.Value)...)
	}
	for _, item := range v.Items {
		out = append(out, collapsed(src, item)...)
	}
	return out
}

// Outlived says which alias has another meaning today than after the move; empty for none.
func (c *Convention) Outlived() (pattern string, line int) {
	for _, a := range c.Aliases {
		if a.HasNow && (!a.HasThen || strings.TrimSuffix(a.Now, "/") != strings.TrimSuffix(a.Then, "/")) {
			return a.Pattern, a.Line
		}
	}
	return "", 0
}
