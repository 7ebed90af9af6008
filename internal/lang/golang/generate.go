package golang

import (
	"bytes"
	"iter"
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Marks that begin a line for a tool: a command that writes code (go command, go generate), patterns of files that are
// embedded (package embed), and the place from which generated code comes (command compile, line directives).
const generateMark, embedMark, lineMark = "//go:generate ", "//go:embed ", "//line "

// directives gives what stands behind a mark, in each line that begins with it.
func directives(content []byte, mark string) iter.Seq[source.Span] {
	return func(yield func(source.Span) bool) {
		for at := 0; ; {
			i := bytes.Index(content[at:], []byte(mark)) // few files have one, so lines are not looked at one by one
			if i < 0 {
				return
			}
			begins := at + i
			rest := source.Span{Start: begins + len(mark), End: text.LineEnd(content, begins)}
			if at = rest.End; (begins == 0 || content[begins-1] == '\n') && !yield(rest) {
				return
			}
		}
	}
}

// generated finds the paths in commands that write code. They run in the folder of their file, so a word that says
// where it begins, or has an ending and leads to a file from there, leaves little doubt.
func generated(content []byte) (out []lang.Mention) {
	for at := range directives(content, generateMark) {
		for word := range text.Words(content, at, " \t\r=,\"'") {
			if m, ok := wordPath(content, word); ok {
				out = append(out, m)
			}
		}
	}
	return out
}

// position is what a line directive says: a file, a line in it, and perhaps a column.
var position = regexp.MustCompile(`^([^\s:]+):[0-9]+(?::[0-9]+)?\s*$`)

// sources finds the files from which the code of a file was generated, by its line directives. They are read from the
// file's own folder; a wrong one only spoils what a panic says, so the file may be missing.
func sources(content []byte) (out []lang.Mention) {
	for at := range directives(content, lineMark) {
		if m := position.FindSubmatchIndex(content[at.Start:at.End]); m != nil && content[at.Start] != '/' {
			end := at.Start + m[3]
			out = append(out, lang.Mention{
				Span: source.Span{Start: at.Start, End: end}, Text: string(content[at.Start:end]), Kind: paths.FilePath,
				Form: lang.Plain, Likely: true, Evident: true, Deferred: true,
			})
		}
	}
	return out
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
