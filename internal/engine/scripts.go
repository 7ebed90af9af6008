package engine

import (
	"bytes"
	"path"

	"crookedshelf/internal/lang/python"
	"crookedshelf/internal/lang/web"
	"crookedshelf/internal/plan"
)

// scripts is how JavaScript, TypeScript and Python hand on what other files give.
type scripts struct{}

func (scripts) Is(p string) bool { _, is := web.DialectOf(p); return is }

func (scripts) Specifier(dir, to string, endings bool) string {
	if path.Ext(to) == ".py" {
		return python.Specifier(dir, to)
	}
	return web.Specifier(dir, to, endings)
}

func (s scripts) Entry(p string, lines []plan.EntryLine) ([]byte, bool) {
	var out bytes.Buffer
	for _, l := range lines {
		switch {
		case path.Ext(p) == ".py":
			python.EntryLine(&out, l.Specifier, l.Names)
		case s.Is(p) && l.All:
			web.EntryLine(&out, l.Specifier, true, nil, l.Default)
		case s.Is(p):
			web.EntryLine(&out, l.Specifier, false, l.Names, l.Default)
		}
	}
	return out.Bytes(), out.Len() > 0
}

func (scripts) Gives(text []byte, specifier, name string) bool {
	return web.EntryGives(text, specifier, name) || python.EntryGives(text, specifier, name)
}
