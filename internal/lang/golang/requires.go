package golang

import (
	"golang.org/x/mod/modfile"

	"crookedshelf/internal/lang"
)

// manifestName is the file that describes a module.
const manifestName = "go.mod"

// requires reads what a module asks for.
func requires(name string) func([]byte, *lang.Required) {
	if name != manifestName {
		return nil
	}
	return func(content []byte, out *lang.Required) {
		parsed, err := modfile.ParseLax(name, content, nil)
		if err != nil {
			return
		}
		for _, r := range parsed.Require {
			out.Packages[r.Mod.Path] = r.Mod.Version
		}
		if parsed.Go != nil {
			out.Languages["go"] = parsed.Go.Version
		}
	}
}
