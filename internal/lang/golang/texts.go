package golang

import (
	"go/scanner"
	"go/token"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
)

// texts finds strings that look like paths. Tests run in the folder of their package, so there a path that says where
// it begins leaves little doubt; a program runs anywhere.
func texts(p string, content []byte, skip func(at int) bool) []lang.Mention {
	var out []lang.Mention
	var s scanner.Scanner
	set := token.NewFileSet()
	s.Init(set.AddFile("", set.Base(), len(content)), content, nil, 0)
	for {
		pos, tok, literal := s.Scan()
		if tok == token.EOF {
			return out
		}
		if tok != token.STRING || !strings.Contains(literal, "/") || strings.Contains(literal, "://") || strings.ContainsAny(literal, " \n\t%*<>{}()$|") {
			continue
		}
		text, err := strconv.Unquote(literal)
		start := int(pos) - 1
		if err != nil || len(text)+2 != len(literal) || skip(start+1) {
			continue
		}
		if strings.HasPrefix(text, "/../") { // it follows a folder that is worked out
			text, start = text[1:], start+1
		}
		text = strings.TrimSuffix(text, "/")
		if text == "" || strings.HasPrefix(text, "/") || strings.Contains(text, "//") {
			continue
		}
		begins := lang.IsRelative(text) || strings.HasPrefix(text, "testdata/")
		out = append(out, lang.Mention{
			Span: source.Span{Start: start + 1, End: start + 1 + len(text)}, Text: text, Kind: paths.Text, Form: lang.InScript, Quote: literal[0],
			Likely: true, Evident: begins && isTest(p), Deferred: true,
		})
	}
}
