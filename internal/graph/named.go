package graph

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// NamedInTexts says which names of packages stand in files of a package that are no programs, as settings, scripts and
// pages, or are a string of a program. Lock files name all, and the manifest itself names each once.
func (g *Graph) NamedInTexts(manifest project.FileID, names []string, in func(id project.FileID) bool) []bool {
	out := make([]bool, len(names))
	for id := range g.Tree.Files {
		id := project.FileID(id)
		file := g.Tree.Path(id)
		if !in(id) || lang.IsLock(file) {
			continue
		}
		g.Tree.Peek(id, func(content []byte, err error) {
			if err != nil || len(content) > 1<<20 {
				return
			}
			inStrings := g.Languages.IsProgram(file) && !Configures(file)
			for i, name := range names {
				if name := []byte(name); inStrings {
					out[i] = out[i] || quoted(content, name)
				} else if id != manifest {
					out[i] = out[i] || bytes.Contains(content, name)
				} else {
					types, keys := "@types/"+string(name), `"`+string(name)+`":` // it may stand in several tables
					out[i] = out[i] || words(content, name)-bytes.Count(content, []byte(types)) > max(1, bytes.Count(content, []byte(keys)))
				}
			}
		})
	}
	return out
}

// words counts a name where it is no part of another.
func words(content, name []byte) (n int) {
	part := func(at int) bool {
		return at >= 0 && at < len(content) && (content[at] == '-' || content[at] == '_' || content[at] == '.' || content[at]|0x20 >= 'a' && content[at]|0x20 <= 'z')
	}
	for at := 0; ; {
		i := bytes.Index(content[at:], name)
		if i < 0 {
			return n
		}
		if at += i; !part(at-1) && !part(at+len(name)) {
			n++
		}
		at += len(name)
	}
}

// quoted says whether a string of a program is the name of a package, or begins with it and a slash.
func quoted(content, name []byte) bool {
	for at := 0; ; {
		n := bytes.Index(content[at:], name)
		if n < 0 {
			return false
		}
		from, to := at+n, at+n+len(name)
		if from > 0 && to < len(content) && bytes.IndexByte([]byte("'\"`"), content[from-1]) >= 0 &&
			(content[to] == content[from-1] || content[to] == '/') {
			return true
		}
		at = to
	}
}

// Configures says whether a program is a file of settings, by its name: vite.config.ts, .eslintrc.js.
func Configures(file string) bool {
	base := path.Base(file)
	return strings.Contains(base, ".config.") || strings.HasPrefix(base, ".") || strings.HasPrefix(base, "gulpfile") || base == "build.rs"
}
