package settings

import (
	"bytes"
	"errors"
	"fmt"
	"slices"

	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// Require gives the edit by which a settings file holds a value. It can be made in JSON, YAML, TOML, and in the object
// that a script exports. The edit is tried first: if the file read again would not hold the value, or would hold
// anything else than before, it is refused.
func Require(p string, src []byte, key []string, value *manifest.Value) (edit source.Edit, changed bool, err error) {
	read, style, err := writable(p, src)
	if err != nil {
		return edit, false, err
	}
	root, err := read(src)
	if err != nil {
		return edit, false, err
	}
	edit, changed, err = manifest.Set(src, root, style, key, value)
	if err != nil || !changed {
		return edit, false, err
	}
	after, err := source.Apply(src, []source.Edit{edit})
	if err != nil {
		return edit, false, err
	}
	again, err := read(after)
	if err != nil || !manifest.Same(again.At(key...), value) || !sameBut(root, again, key) {
		return edit, false, errors.New("it can't be put in without touching anything else; write it by hand")
	}
	return edit, true, nil
}

// writable gives how a file is read, and how values are written in it.
func writable(p string, src []byte) (read func([]byte) (*manifest.Value, error), style manifest.Style, err error) {
	if _, isScript := script.DialectOf(p); isScript {
		read = func(src []byte) (*manifest.Value, error) {
			if root := script.ReadObject(src); root != nil {
				return root, nil
			}
			return nil, fmt.Errorf("%s exports no object that could be read", p)
		}
		return read, manifest.Style{Format: "Script", Quote: usualQuote(src)}, nil
	}
	format := manifest.FormatOf(p)
	if format == nil || format.Name == "XML" || format.Name == "INI" {
		return nil, style, fmt.Errorf("values can be set in JSON, YAML, TOML and scripts, and %s is none of these", p)
	}
	style = manifest.Style{Format: format.Name, Quote: '"'}
	if format.Name == "YAML" {
		style.Quote = 0
	}
	return format.Parse, style, nil
}

// sameBut says whether two files hold the same values but for one key and what is below it.
func sameBut(before, after *manifest.Value, key []string) bool {
	values := func(root *manifest.Value) []string {
		var out []string
		root.Walk(func(k []string, v *manifest.Value) {
			if len(k) < len(key) || !slices.Equal(k[:len(key)], key) {
				out = append(out, fmt.Sprintf("%q %d %q", k, v.Kind, v.Text))
			}
		})
		return out
	}
	return slices.Equal(values(before), values(after))
}

// usualQuote is the quote that a script uses more.
func usualQuote(src []byte) byte {
	if bytes.Count(src, []byte{'"'}) > bytes.Count(src, []byte{'\''}) {
		return '"'
	}
	return '\''
}
