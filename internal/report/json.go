package report

import (
	"io"

	"crookedshelf/internal/exact"
)

// JSON writes a value as indented JSON. The documents are described in docs/formats.md.
func JSON(out io.Writer, v any) error {
	text, err := exact.Marshal(v, "  ")
	if err != nil {
		return err
	}
	_, err = out.Write(text)
	return err
}
