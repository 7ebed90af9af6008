package golang

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// generate begins a line with a command that writes code (go command, go generate).
var generate = []byte("//go:generate ")

// generated finds the paths in commands that write code. They run in the folder of their file, so a word that says
// where it begins, or has an ending and leads to a file from there, leaves little doubt.
func generated(content []byte) (out []lang.Mention) {
	for at := 0; ; {
		i := bytes.Index(content[at:], generate)
		if i < 0 {
			return out
		}
		start := at + i + len(generate)
		at = text.LineEnd(content, start)
		if begins := start - len(generate); begins > 0 && content[begins-1] != '\n' {
			continue
		}
		for _, word := range words(content, start, at, " \t\r=,\"'") {
			if m, ok := wordPath(content, word); ok {
				out = append(out, m)
			}
		}
	}
}

// wordPath takes a word of a command for a path. What it names may not be there yet: the command writes it.
func wordPath(content []byte, at source.Span) (lang.Mention, bool) {
	word := string(content[at.Start:at.End])
	if strings.HasSuffix(word, "/...") {
		word = strings.TrimSuffix(word, "/...")
		at.End -= len("/...")
	}
	relative := lang.IsRelative(word)
	if strings.ContainsAny(word, "$*?[]{}|&;<>()\\:@") || word == "" || word == "." || word[0] == '/' || word[0] == '-' ||
		!relative && path.Ext(word) == "" {
		return lang.Mention{}, false
	}
	return lang.Mention{
		Span: at, Text: word, Kind: paths.FilePath, Form: lang.Plain, Likely: true, Evident: true, Deferred: true,
	}, true
}
