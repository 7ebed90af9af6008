// Package manifest reads settings files into values with their places in the text. It prints nothing: settings are
// edited by span, so that comments, order, quotes and indentation stay as they are. One file a format; value.go has
// what they give.
package manifest

import (
	"bytes"
	"path"
	"strconv"
	"strings"

	"crookedshelf/internal/source"
)

// maxDepth bounds nesting: the parsers recurse, and a stack overflow can't be recovered.
const maxDepth = 200

// Kind is the kind of a value.
type Kind uint8

// The kinds of value. Other is a number, a boolean or null; Text then is what stands in the file. Block is text of
// several lines, as it stands in the file.
const (
	Other Kind = iota
	String
	Object
	List
	Block
)

// Value is a value of a settings file.
type Value struct {
	Kind    Kind
	Text    string      // of a String, decoded
	Span    source.Span // of a String: its text without the quotes; of all else the whole value
	Quote   byte        // of a String; 0 for none
	Members []Member    // of an Object, in the order of the file
	Items   []*Value    // of a List
}

// Member is a key of an object with its value.
type Member struct {
	Key   string
	Value *Value
	Start int // where the key begins
}

// Format is a format of settings.
type Format struct {
	Name  string
	Parse func(src []byte) (*Value, error)
}

// FormatOf gives the format by a file's name; nil for a file that is read line by line, or not at all.
func FormatOf(p string) *Format {
	base := strings.TrimSuffix(strings.ToLower(path.Base(p)), ".dist") // as it is given out: phpunit.xml.dist
	switch path.Ext(base) {
	case ".json", ".jsonc", ".json5", ".webmanifest", ".code-workspace", ".babelrc", ".eslintrc", ".prettierrc",
		".stylelintrc", ".swcrc", ".lintstagedrc", ".nycrc", ".slnf":
		return &Format{"JSON", ParseJSON}
	case ".yaml", ".yml", ".clang-format", ".neon":
		return &Format{"YAML", ParseYAML}
	case ".toml":
		return &Format{"TOML", ParseTOML}
	case ".xml", ".csproj", ".projitems", ".shproj", ".slnx", ".props", ".targets", ".plist", ".xlf", ".config":
		return &Format{"XML", ParseXML}
	case ".ini", ".cfg", ".properties", ".editorconfig", ".npmrc":
		return &Format{"INI", ParseINI}
	}
	if base == ".env" || strings.HasPrefix(base, ".env.") || strings.HasSuffix(base, ".env") {
		return &Format{"INI", ParseINI}
	}
	return nil
}

// FormatFor is FormatOf for a file whose content is known: settings whose name has no ending may be JSON or YAML.
func FormatFor(p string, src []byte) *Format {
	f := FormatOf(p)
	if f == nil || f.Name != "JSON" || !strings.HasSuffix(p, "rc") {
		return f
	}
	if text := bytes.TrimLeft(bytes.TrimPrefix(src, []byte("\xEF\xBB\xBF")), " \t\r\n"); len(text) > 0 &&
		text[0] != '{' && text[0] != '[' && text[0] != '/' && text[0] != '"' {
		return &Format{"YAML", ParseYAML}
	}
	return f
}

// Get gives the value of a key; nil if the value is no object or has no such key. Of keys that stand twice the last
// counts, as in JSON.parse.
func (v *Value) Get(key string) *Value {
	if v == nil {
		return nil
	}
	for i := len(v.Members) - 1; i >= 0; i-- {
		if v.Members[i].Key == key {
			return v.Members[i].Value
		}
	}
	return nil
}

// Fields are the members of an object; none of nothing.
func (v *Value) Fields() []Member {
	if v == nil {
		return nil
	}
	return v.Members
}

// Elements are the items of a list; none of nothing.
func (v *Value) Elements() []*Value {
	if v == nil {
		return nil
	}
	return v.Items
}

// At gives the value at a path of keys; nil where there is none.
func (v *Value) At(keys ...string) *Value {
	for _, k := range keys {
		v = v.Get(k)
	}
	return v
}

// String gives the text of a string value and "" for all else.
func (v *Value) String() string {
	if v == nil || v.Kind != String {
		return ""
	}
	return v.Text
}

// Walk calls f for every value that holds no others, with its path of keys; elements of a list have their number.
func (v *Value) Walk(f func(key []string, v *Value)) { v.walk(nil, f) }

func (v *Value) walk(key []string, f func([]string, *Value)) {
	if v == nil {
		return
	}
	switch v.Kind {
	case Object:
		for _, m := range v.Members {
			m.Value.walk(append(key[:len(key):len(key)], m.Key), f)
		}
	case List:
		for i, item := range v.Items {
			item.walk(append(key[:len(key):len(key)], strconv.Itoa(i)), f)
		}
	default:
		f(key, v)
	}
}

// Strings calls f for the value if it is a string, and for every string in it at any depth.
func (v *Value) Strings(f func(*Value)) {
	if v == nil {
		return
	}
	switch v.Kind {
	case String:
		f(v)
	case Object:
		for _, m := range v.Members {
			m.Value.Strings(f)
		}
	case List:
		for _, item := range v.Items {
			item.Strings(f)
		}
	}
}
