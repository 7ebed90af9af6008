package web

import (
	"bytes"
	"fmt"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/resolve"
	"crookedshelf/internal/lang/web/script"
)

// EntryLine writes the lines by which an entry re-exports what a file exports: all of its names but the default, or
// those that are given, and its default under a name.
func EntryLine(out *bytes.Buffer, line lang.EntryLine) {
	var names []string
	if line.Default != "" {
		names = append(names, "default as "+line.Default)
	}
	if !line.All {
		names = append(names, line.Names...)
	}
	if len(names) > 0 {
		fmt.Fprintf(out, "export { %s } from '%s'\n", strings.Join(names, ", "), line.Specifier)
	}
	if line.All {
		fmt.Fprintf(out, "export * from '%s'\n", line.Specifier)
	}
}

// EntryGives says whether a text re-exports a name, under that name, from a specifier.
func EntryGives(text []byte, specifier, name string) bool {
	for _, m := range script.Scan(text, script.TypeScript) {
		if m.Kind != script.ExportFrom || m.Text != specifier {
			continue
		}
		for _, b := range script.Bindings(text, &m) {
			if b.Name == name && b.Local == name || b.Name == lang.Everything && b.Local == lang.Everything &&
				name != lang.DefaultName {
				return true
			}
		}
	}
	return false
}

// Specifier writes the path of a file as it is imported from a folder. Without endings a folder stands for its index;
// with them, a script has the ending of the compiled file.
func Specifier(dir, to string, endings bool) string {
	rel := lang.Relative(dir, to)
	if !strings.HasPrefix(rel, ".") {
		rel = "./" + rel
	}
	ext := script.Extension(rel)
	if _, script := script.DialectOf(to); !script {
		return rel
	}
	stem := strings.TrimSuffix(rel, ext)
	if endings {
		return stem + resolve.CompiledEnding(ext, "")
	}
	return strings.TrimSuffix(stem, "/index")
}
