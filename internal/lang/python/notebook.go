package python

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// Notebooks are the family of notebooks: JSON whose cells hold code
// (nbformat.readthedocs.io/en/latest/format_description.html).
func Notebooks() lang.Family {
	return lang.Family{Name: "notebook", Reads: isNotebook, Scan: scanNotebook, Facts: lang.Facts{Prose: []string{".ipynb"}}}
}

func isNotebook(p string) bool { return path.Ext(p) == ".ipynb" }

// scanNotebook finds what the cells of a notebook import. It is run by hand, and may be about an older state of the
// project: what it names and can't be written is left over, and blocks nothing.
func scanNotebook(_ string, content []byte, _ *lang.Declared) (lang.Scanned, error) {
	root, err := manifest.ParseJSON(content)
	if err != nil {
		return lang.Scanned{}, &lang.ScanError{Message: err.Error(), Harmless: true}
	}
	found := Scan(codeOf(root, content))
	for i := range found {
		found[i].Likely, found[i].Evident = true, true
	}
	return lang.Scanned{Mentions: found}, nil
}

// codeOf is the text of a notebook with all blanked out that is no Python, so that every place in it is the place in
// the file.
func codeOf(root *manifest.Value, content []byte) []byte {
	code := bytes.Repeat([]byte(" "), len(content))
	metadata := root.Get("metadata")
	for _, key := range []string{"kernelspec", "language_info"} {
		for _, name := range []string{"language", "name"} {
			if v := metadata.Get(key).Get(name); v != nil && !strings.Contains(strings.ToLower(v.Text), "py") && (key != "kernelspec" || name == "language") {
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
			if line.Kind == manifest.String && !strings.HasPrefix(line.Text, "%") && !strings.HasPrefix(line.Text, "!") {
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

// settleNotebook takes of the edits of a notebook those that stay within one string of its JSON.
func settleNotebook(q lang.Settling, edits []lang.Settled, failed []lang.Failed) ([]lang.Settled, []lang.Failed) {
	kept := edits[:0]
	for _, e := range edits {
		if strings.ContainsAny(e.Edit.New, "\n\\") || bytes.ContainsAny(q.Content[e.Edit.Span.Start:e.Edit.Span.End], "\n\\") {
			for _, i := range e.Mentions {
				failed = append(failed, lang.Failed{Mention: i})
			}
			continue
		}
		e.Edit.New = strings.ReplaceAll(e.Edit.New, `"`, `\"`)
		kept = append(kept, e)
	}
	return kept, failed
}
