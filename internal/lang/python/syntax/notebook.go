package syntax

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// IsNotebook says whether a file is a notebook, by its path.
func IsNotebook(p string) bool { return path.Ext(p) == ".ipynb" }

// ScanNotebook finds what the cells of a notebook import. It is run by hand, and may be about an older state of the
// project: what it names and can't be written is left over, and blocks nothing.
func ScanNotebook(content []byte) (lang.Scanned, error) {
	root, err := manifest.ParseJSON(content)
	if err != nil {
		return lang.Scanned{}, &lang.ScanError{Message: err.Error(), Harmless: true}
	}
	found := Scan(CodeOf(root, content))
	for i := range found {
		found[i].Likely, found[i].Evident = true, true
	}
	return lang.Scanned{Mentions: found}, nil
}

// CodeOf is the text of a notebook with all blanked out that is no Python, so that every place in it is the place in
// the file.
func CodeOf(root *manifest.Value, content []byte) []byte {
	code := bytes.Repeat([]byte(" "), len(content))
	metadata := root.Get("metadata")
	for _, key := range []string{"kernelspec", "language_info"} {
		for _, name := range []string{"language", "name"} {
			if v := metadata.Get(key).Get(name); v != nil && !strings.Contains(strings.ToLower(v.Text), "py") &&
				(key != "kernelspec" || name == "language") {
				return code
			}
		}
	}
	cells := root.Get("cells")
	if cells == nil {
		return code
	}
	for _, cell := range cells.Items {
		if kind := cell.Get("cell_type"); kind == nil || kind.Text != "code" {
			continue
		}
		text := cell.Get("source")
		if text == nil {
			continue
		}
		lines := text.Items
		if text.Kind == manifest.String {
			lines = []*manifest.Value{text}
		}
		for i, line := range lines {
			if i == 0 && strings.HasPrefix(line.Text, "%%") { // the whole cell is of another language
				break
			}
			if line.Kind == manifest.String && !strings.HasPrefix(line.Text, "%") &&
				!strings.HasPrefix(line.Text, "!") {
				unescape(code, content, line.Span)
			}
			if i == len(lines)-1 && text.Span.End < len(code) { // the next cell begins a line of its own
				code[line.Span.End] = '\n'
			}
		}
	}
	return code
}

// unescape copies the text of a JSON string, each escape as what it stands for with blanks beside it.
func unescape(code, content []byte, span source.Span) {
	for i := span.Start; i < span.End; i++ {
		if content[i] != '\\' || i+1 >= span.End {
			code[i] = content[i]
			continue
		}
		switch rest := content[i:span.End]; {
		case bytes.HasPrefix(rest, []byte(`\"\"\"`)):
			copy(code[i+3:], `"""`)
			i += 5
		case rest[1] == '"' || rest[1] == '\\' || rest[1] == '/':
			code[i+1] = rest[1]
			i++
		case rest[1] == 'n':
			code[i] = '\n'
			i++
		case rest[1] == 'u' && len(rest) >= 6:
			copy(code[i:], "______")
			i += 5
		default:
			i++
		}
	}
}
