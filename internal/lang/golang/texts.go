package golang

import (
	"go/scanner"
	"go/token"
	"path"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
)

// takers are functions whose first argument is a path, though it may have one part alone.
var takers = lang.Words("Abs Chdir Dir DirFS Glob Join Open OpenFile ParseFiles ParseGlob ReadDir ReadFile Stat Walk " +
	"WalkDir")

// texts finds strings that look like paths. Tests run in the folder of their package, so there a path that says where
// it begins leaves little doubt, and so does one with an ending; a program runs anywhere.
func texts(p string, content []byte, skip func(at int) bool) []lang.Mention {
	t := textReader{content: content, test: isTest(p)}
	set := token.NewFileSet()
	t.Init(set.AddFile("", set.Base(), len(content)), content, nil, 0)
	for {
		pos, tok, literal := t.Scan()
		start := int(pos) - 1
		switch {
		case tok == token.EOF:
			t.joined()
			return t.out
		case tok == token.STRING && !skip(start+1):
			t.literal(start, literal)
		case tok != token.COMMA || t.pieces == nil:
			t.joined()
		}
		t.argument = tok == token.LPAREN && takers[t.word]
		if tok != token.LPAREN {
			t.word = ""
		}
		if tok == token.IDENT {
			t.word = literal
		}
		t.joins = t.argument && t.word == "Join"
	}
}

// textReader reads the strings of a file, token by token.
type textReader struct {
	scanner.Scanner
	content  []byte
	test     bool
	out      []lang.Mention
	word     string        // the last token, if it is a name
	argument bool          // the first argument of a function that takes a path stands here
	joins    bool          // that is one that joins paths
	pieces   []source.Span // the first strings among its arguments
}

// literal reads a string.
func (t *textReader) literal(start int, literal string) {
	text, err := strconv.Unquote(literal)
	if err != nil || len(text)+2 != len(literal) { // with escapes
		t.joined()
		return
	}
	inside := source.Span{Start: start + 1, End: start + 1 + len(text)}
	switch {
	case t.joins || t.pieces != nil:
		t.pieces = append(t.pieces, inside)
	case strings.Contains(text, "/"), t.argument && t.test &&
		(text == ".." || text == "testdata" || path.Ext(text) != ""):
		t.add(inside, text, nil)
	}
}

// joined ends the strings that are joined.
func (t *textReader) joined() {
	pieces := t.pieces
	if t.pieces = nil; len(pieces) == 0 {
		return
	}
	var parts []string
	between := ""
	for i, piece := range pieces {
		if i > 0 {
			gap := string(t.content[pieces[i-1].End:piece.Start])
			if i > 1 && gap != between {
				return
			}
			between = gap
		}
		parts = append(parts, string(t.content[piece.Start:piece.End]))
	}
	span := source.Span{Start: pieces[0].Start, End: pieces[len(pieces)-1].End}
	t.add(span, strings.Join(parts, "/"), &lang.Detail{Join: between})
}

// add notes a string, or several that are joined, if it looks like a path or a pattern of paths.
func (t *textReader) add(span source.Span, text string, detail *lang.Detail) {
	if strings.Contains(text, "://") || strings.ContainsAny(text, " \n\t%<>{}()$|\\") {
		return
	}
	if strings.HasPrefix(text, "/../") { // it follows a folder that is worked out
		text, span.Start = text[1:], span.Start+1
	}
	if trimmed := strings.TrimSuffix(text, "/"); detail == nil {
		span.End, text = span.End-len(text)+len(trimmed), trimmed
	}
	if text == "" || strings.HasPrefix(text, "/") || strings.Contains(text, "//") {
		return
	}
	m := lang.Mention{Span: span, Text: text, Kind: paths.Text, Form: lang.InScript, Quote: t.content[span.Start-1],
		Likely: true, Deferred: true}
	if m.Quote != '"' && m.Quote != '`' {
		m.Quote = '"'
	}
	if detail != nil && detail.Join != "" {
		m.Detail = detail
	}
	m.Evident = t.test && (lang.IsRelative(text) || text == "testdata" || strings.HasPrefix(text, "testdata/") ||
		path.Ext(text) != "")
	switch {
	case strings.ContainsAny(text, "*?["):
		m.Kind = paths.TextGlob
	case m.Evident:
		m.Kind = paths.FilePath
	}
	t.out = append(t.out, m)
}
