package engine

import (
	"bytes"

	"crookedshelf/internal/lang/web"
	"crookedshelf/internal/plan"
)

// scripts is how JavaScript and TypeScript hand on what other files export.
type scripts struct{}

func (scripts) Is(p string) bool { _, is := web.DialectOf(p); return is }

func (scripts) Specifier(dir, to string, endings bool) string { return web.Specifier(dir, to, endings) }

func (s scripts) Entry(p string, lines []plan.EntryLine) ([]byte, bool) {
	if !s.Is(p) {
		return nil, false
	}
	var out bytes.Buffer
	for _, l := range lines {
		web.EntryLine(&out, l.Specifier, l.All, l.Names, l.Default)
	}
	return out.Bytes(), true
}

func (scripts) Gives(text []byte, specifier, name string) bool {
	return web.EntryGives(text, specifier, name)
}
