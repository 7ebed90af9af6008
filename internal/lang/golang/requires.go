package golang

import (
	"path"
	"strings"

	"golang.org/x/mod/modfile"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// manifestName is the file that describes a module.
const manifestName = "go.mod"

// requires gives what the modules below a folder ask for.
func requires(tree *project.Project, below string) lang.Required {
	out := lang.Required{Packages: map[string]string{}, Languages: map[string]string{}}
	for id, f := range tree.Files {
		if path.Base(f.Path) != manifestName || !strings.HasPrefix(f.Path, below) {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		parsed, err := modfile.ParseLax(f.Path, content, nil)
		if err != nil {
			continue
		}
		for _, r := range parsed.Require {
			out.Packages[r.Mod.Path] = r.Mod.Version
		}
		if parsed.Go != nil {
			out.Languages["go"] = parsed.Go.Version
		}
	}
	return out
}
