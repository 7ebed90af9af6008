package golang

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
)

// isModuleFile says whether a file describes a module or a workspace of modules (go.dev/ref/mod).
func isModuleFile(p string) bool { return path.Base(p) == "go.mod" || path.Base(p) == "go.work" }

// scanModule finds the folders that a module file names: modules that are used, and those that replace others.
func scanModule(content []byte) []lang.Mention {
	var out []lang.Mention
	block := "" // the directive whose lines stand in parentheses
	for start := 0; start < len(content); {
		end := len(content)
		if n := bytes.IndexByte(content[start:], '\n'); n >= 0 {
			end = start + n
		}
		words := fields(content, start, end)
		start = end + 1
		if len(words) == 0 {
			continue
		}
		first := string(content[words[0].Start:words[0].End])
		switch {
		case block != "" && first == ")":
			block = ""
			continue
		case block == "" && len(words) > 1 && string(content[words[1].Start:words[1].End]) == "(":
			block = first
			continue
		case block == "":
			block, words = first, words[1:]
			out = append(out, folders(content, block, words)...)
			block = ""
		default:
			out = append(out, folders(content, block, words)...)
		}
	}
	return out
}

// folders finds the folder in the words of a directive: that of use, and what stands behind the arrow of replace.
func folders(content []byte, directive string, words []source.Span) []lang.Mention {
	switch directive {
	case "use":
	case "replace":
		for i, w := range words {
			if string(content[w.Start:w.End]) == "=>" {
				words = words[i+1:]
				break
			}
		}
	default:
		return nil
	}
	if len(words) == 0 {
		return nil
	}
	at, quote := words[0], byte(0)
	if c := content[at.Start]; (c == '"' || c == '`') && at.Len() > 1 && content[at.End-1] == c {
		at, quote = source.Span{Start: at.Start + 1, End: at.End - 1}, c
	}
	text := string(content[at.Start:at.End])
	if text != "." && text != ".." && !strings.HasPrefix(text, "./") && !strings.HasPrefix(text, "../") {
		return nil
	}
	return []lang.Mention{{Span: at, Text: text, Kind: paths.Setting, Form: lang.Plain, Quote: quote}}
}

// fields are the words of a line before its comment.
func fields(content []byte, start, end int) []source.Span {
	if n := bytes.Index(content[start:end], []byte("//")); n >= 0 {
		end = start + n
	}
	return words(content, start, end, " \t\r")
}

// words parts a text at any of the bytes between.
func words(content []byte, start, end int, between string) (out []source.Span) {
	for i := start; i < end; {
		for i < end && strings.IndexByte(between, content[i]) >= 0 {
			i++
		}
		from := i
		for i < end && strings.IndexByte(between, content[i]) < 0 {
			i++
		}
		if i > from {
			out = append(out, source.Span{Start: from, End: i})
		}
	}
	return out
}
