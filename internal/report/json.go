package report

import (
	"encoding/json"
	"io"
)

// JSON writes a value as indented JSON. The documents are described in docs/formats.md.
func JSON(out io.Writer, v any) error {
	e := json.NewEncoder(out)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	return e.Encode(v)
}
