package settings

import (
	"bytes"
	"fmt"

	"crookedshelf/internal/lang/web"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// Require gives the edit by which a settings file holds a value. It can be made in JSON, YAML, TOML, and in the object that
// a script exports.
func Require(p string, src []byte, key []string, value *manifest.Value) (edit source.Edit, changed bool, err error) {
	if _, script := web.DialectOf(p); script {
		root := web.ReadObject(src)
		if root == nil {
			return edit, false, fmt.Errorf("%s exports no object that could be read", p)
		}
		return manifest.Set(src, root, manifest.Style{Format: "Script", Quote: usualQuote(src)}, key, value)
	}
	format := manifest.FormatOf(p)
	if format == nil || format.Name == "XML" || format.Name == "INI" {
		return edit, false, fmt.Errorf("values can be set in JSON, YAML, TOML and scripts, and %s is none of these", p)
	}
	root, err := format.Parse(src)
	if err != nil {
		return edit, false, err
	}
	style := manifest.Style{Format: format.Name, Quote: '"'}
	if format.Name == "YAML" {
		style.Quote = 0
	}
	return manifest.Set(src, root, style, key, value)
}

// usualQuote is the quote that a script uses more.
func usualQuote(src []byte) byte {
	if bytes.Count(src, []byte{'"'}) > bytes.Count(src, []byte{'\''}) {
		return '"'
	}
	return '\''
}
