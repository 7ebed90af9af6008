package markup

import (
	"bytes"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// What reStructuredText names (docutils.sourceforge.io/docs/ref/rst/restructuredtext.html), with the directives and
// roles that documentation of Python adds to it.
var (
	directive  = regexp.MustCompile(`^([ \t]*)\.\.[ \t]+(?:\|[^|]+\|[ \t]+)?([a-zA-Z][\w:.-]*)::[ \t]*(.*?)[ \t]*$`)
	option     = regexp.MustCompile(`^[ \t]+:(file|target|diff):[ \t]+(\S+)[ \t]*$`)
	titled     = regexp.MustCompile(`^[ \t]+(?:[^<:][^<]*<([^>\s]+)>|([^\s:<][^\s<]*))[ \t]*$`)
	pathRole   = regexp.MustCompile(":(?:doc|download):`(?:[^`<]{0,200}<([^`>\\s]+)>|([^`<>\\s]+))`")
	hyperlink  = regexp.MustCompile("`[^`<]{1,200}<([^`>\\s]+)>`_|(?m:^[ \t]*\\.\\. _[^:\n]+: (\\S+)[ \t]*$)")
	pathsAfter = lang.Words("include literalinclude image figure")
	namesAfter = lang.Words("automodule autoclass autofunction autoexception autodata automethod autoattribute " +
		"autodecorator module currentmodule py:module py:currentmodule")
	namesBelow = lang.Words("autosummary")
	pathsBelow = lang.Words("toctree")
	codeBelow  = lang.Words("code code-block sourcecode testcode ipython")
)

// restructured reads reStructuredText, line by line: directives and what stands below them, roles and links.
func (s *scanner) restructured() {
	var below string // the directive that the line stands below
	var indent int   // of it
	var code []source.Span
	prose := bytes.Clone(s.src) // without the code
	for at := 0; at < len(s.src); {
		end := text.LineEnd(s.src, at)
		line := text.Line(s.src, at)
		margin := len(line) - len(bytes.TrimLeft(line, " \t"))
		if below != "" && margin < len(line) && margin <= indent {
			below = ""
		}
		group := func(m []int, n int) source.Span { return source.Span{Start: at + m[2*n], End: at + m[2*n+1]} }
		switch m := directive.FindSubmatchIndex(line); {
		case m != nil:
			name, argument := string(line[m[4]:m[5]]), group(m, 3)
			below, indent = name, margin
			switch {
			case pathsAfter[name]:
				s.restructuredPath(argument)
			case namesAfter[name]:
				s.restructuredName(argument)
			case codeBelow[name] && !strings.HasPrefix(string(line[m[6]:m[7]]), "py") && name != "testcode" &&
				name != "ipython":
				below = ""
			}
		case codeBelow[below]:
			code = append(code, source.Span{Start: at, End: end})
			text.Blank(prose[at:end])
		case below != "" && option.Match(line):
			s.restructuredPath(group(option.FindSubmatchIndex(line), 2))
		case pathsBelow[below] || namesBelow[below]:
			m := titled.FindSubmatchIndex(line)
			if m == nil {
				break
			}
			n := 1
			if m[2] < 0 {
				n = 2
			}
			if pathsBelow[below] {
				s.restructuredPath(group(m, n))
			} else {
				s.restructuredName(group(m, n))
			}
		}
		at = end + 1
	}
	// also over the end of a line
	for _, m := range append(pathRole.FindAllSubmatchIndex(prose, -1), hyperlink.FindAllSubmatchIndex(prose, -1)...) {
		n := 2
		if m[n] < 0 {
			n = 4
		}
		s.restructuredPath(source.Span{Start: m[n], End: m[n+1]})
	}
	s.mentions = append(s.mentions, syntax.References(prose)...)
	s.fenced(code, "python")
}

// restructuredPath notes a path from the document's folder, or, with a slash in front, from the one in which the
// documents lie. Documents are named without their ending.
func (s *scanner) restructuredPath(span source.Span) {
	text := string(s.src[span.Start:span.End])
	if !local(text) || strings.ContainsAny(text, "{}$\\ ") || strings.HasSuffix(text, "_") && !strings.Contains(text,
		"/") {
		return
	}
	kind := paths.Link
	switch {
	case strings.Contains(text, "*"):
		kind = paths.ImportGlob
	case text[0] == '/':
		kind = paths.Include
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.Plain})
}

// restructuredName notes the name of a module, or of what is in one.
func (s *scanner) restructuredName(span source.Span) {
	text := string(s.src[span.Start:span.End])
	if n, ok := lang.DottedName(text); ok && n > 1 {
		s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: syntax.ModuleText, Form: lang.Plain,
			Likely: true, Deferred: true})
	}
}
