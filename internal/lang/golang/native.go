package golang

import (
	"path"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// native are the endings of files that are built with the Go files beside them.
var native = map[string]bool{".c": true, ".h": true, ".cc": true, ".cpp": true, ".cxx": true, ".hh": true, ".hpp": true,
	".m": true, ".s": true, ".S": true, ".sx": true, ".swig": true, ".syso": true, ".f": true}

// Links ties what is not written in Go to the package with which it is built.
func (r *Resolver) Links(from project.FileID) (out []lang.Link) {
	p := r.tree.Path(from)
	if !native[path.Ext(p)] {
		return nil
	}
	if built := r.index().packages.Space(place{dir: path.Dir(p)}); built != nil {
		for _, file := range built.Files {
			out = append(out, lang.Link{To: file, Why: "is built with the Go files beside it"})
		}
	}
	return out
}

// fixed says that what can only be built with a package goes where the package goes.
func fixed(p string) lang.Fixture {
	switch path.Ext(p) {
	case ".s", ".syso":
		return lang.Fixture{Why: "is built with the Go files beside it", Follows: true}
	}
	return lang.Fixture{}
}
