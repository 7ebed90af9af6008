package python

import (
	"bytes"
	"fmt"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/resolve"
	"crookedshelf/internal/lang/python/syntax"
)

// EntryLine writes the line by which a package re-exports names of a module.
func EntryLine(out *bytes.Buffer, entry lang.EntryLine) {
	module, names := entry.Specifier, entry.Names
	if line := fmt.Sprintf("from %s import %s\n", module, strings.Join(names, ", ")); len(line) <= resolve.LongLine {
		out.WriteString(line)
	} else if len(names) > 0 {
		fmt.Fprintf(out, "from %s import (\n    %s,\n)\n", module, strings.Join(names, ",\n    "))
	}
}

// EntryGives says whether a text re-exports a name of a module, under that name.
func EntryGives(text []byte, module, name string) bool {
	for _, m := range syntax.Scan(text) {
		if m.Kind == syntax.FromName && syntax.DetailOf(&m).From == module && m.Text == name &&
			syntax.LocalOf(text, &m) == name {
			return true
		}
	}
	return false
}

// Specifier writes the name of a module below a folder, as the folder's package imports it.
func Specifier(dir, to string, _ bool) string {
	rest := strings.TrimSuffix(strings.TrimSuffix(strings.TrimPrefix(to, dir+"/"), ".py"), "/__init__")
	return "." + strings.ReplaceAll(rest, "/", ".")
}
