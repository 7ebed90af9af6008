package ruby

import (
	"bytes"
	"path"
	"regexp"

	"crookedshelf/internal/text"
)

// This file reads the code of templates (docs.ruby-lang.org/en/3.1/ERB.html): all that is no code is taken for blanks,
// so that places stay what they are.

// codeOf is the code of a file: of a template the text with blanks for all else.
func codeOf(p string, content []byte) []byte {
	switch path.Ext(p) {
	case ".erb":
		return codeOfERB(content)
	case ".haml", ".slim":
		return codeOfLines(content)
	}
	return content
}

// blanks is a text of the length of another with its line ends.
func blanks(content []byte) []byte {
	out := bytes.Repeat([]byte{' '}, len(content))
	for i, c := range content {
		if c == '\n' {
			out[i] = '\n'
		}
	}
	return out
}

// codeOfERB is the code between <% and %>.
func codeOfERB(content []byte) []byte {
	out := blanks(content)
	for i := 0; ; {
		n := bytes.Index(content[i:], []byte("<%"))
		if n < 0 {
			return out
		}
		start := i + n + 2
		if start < len(content) && content[start] == '%' {
			i = start + 1
			continue
		}
		n = bytes.Index(content[start:], []byte("%>"))
		if n < 0 {
			return out
		}
		end := start + n
		i = end + 2
		for start < end && (content[start] == '=' || content[start] == '-') {
			start++
		}
		code := content[start:end]
		if trimmed := bytes.TrimSpace(code); len(trimmed) == 0 || trimmed[0] == '#' && bytes.IndexByte(trimmed, '\n') < 0 {
			continue
		}
		copy(out[start:end], code)
		if code[len(code)-1] == '-' {
			out[end-1] = ' '
		}
		out[end] = ';'
	}
}

// codeLine is a line that holds code: - if a, = a, %p= a, h1 = a.
var codeLine = regexp.MustCompile(`^\s*(?:[%.#]?[\w.#:-]*(?:\{[^}\n]*\})?)??\s*(?:-|={1,2}|!=|&=|~)[<>]*\s+`)

// codeOfLines is the code of a template in which it stands in lines of its own.
func codeOfLines(content []byte) []byte {
	out := blanks(content)
	for line := range text.Lines(content) {
		if at := codeLine.FindIndex(content[line.Start:line.End]); at != nil {
			copy(out[line.Start+at[1]:line.End], content[line.Start+at[1]:line.End])
		}
	}
	return out
}
