package engine

import (
	"fmt"
	"path"
	"strconv"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project"
)

// NeedError says that the project is not what the convention needs it to be.
type NeedError struct{ Missing []string }

func (e *NeedError) Error() string {
	return "the project is not what the convention needs it to be yet:\n  " + strings.Join(e.Missing, "\n  ")
}

// needs is judged before all else: each package must be asked for by a manifest of the project, in a range that begins
// at the lowest version or above it.
func needs(c *convention.Convention, tree *project.Project) error {
	if len(c.Needs) == 0 {
		return nil
	}
	required, manifests := lang.Required{Packages: map[string]string{}, Languages: map[string]string{}}, []string{}
	for _, f := range all.Languages().Families {
		if f.Requires != nil {
			readManifests(tree, c.Base, f.Requires, &required)
			manifests = append(manifests, f.Facts.Manifest)
		}
	}
	var missing []string
	for _, n := range c.Needs {
		name, ranges := n.Package, required.Packages
		if n.Language != "" {
			name, ranges = n.Language, required.Languages
		}
		have, ok := ranges[name]
		switch {
		case !ok:
			missing = append(missing, fmt.Sprintf("%s line %d: nothing asks for %s; looked for %s", c.Path, n.Line, name,
				strings.Join(manifests, ", ")))
		case n.AtLeast != "" && lower(have, n.AtLeast):
			missing = append(missing, fmt.Sprintf("%s line %d: %s must be at least %s, and a manifest asks for %s", c.Path,
				n.Line, name, n.AtLeast, have))
		}
	}
	if len(missing) > 0 {
		return &NeedError{missing}
	}
	return nil
}

// readManifests adds what the manifests of a family ask for that lie below a folder.
func readManifests(tree *project.Project, below string, reader func(name string) func([]byte, *lang.Required),
	out *lang.Required) {
	for id, f := range tree.Files {
		read := reader(path.Base(f.Path))
		if read == nil || !strings.HasPrefix(f.Path, below) {
			continue
		}
		if content, err := tree.Content(project.FileID(id)); err == nil {
			read(content, out)
		}
	}
}

// lower compares the first version in a range with another. A range without a number, such as a tag, is not lower.
func lower(have, want string) bool {
	at := strings.IndexFunc(have, func(r rune) bool { return r >= '0' && r <= '9' })
	if at < 0 {
		return false
	}
	a, b := numbers(have[at:]), numbers(want)
	for i := range b {
		x := 0
		if i < len(a) {
			x = a[i]
		}
		if x != b[i] {
			return x < b[i]
		}
	}
	return false
}

func numbers(version string) []int {
	var out []int
	for part := range strings.SplitSeq(version, ".") {
		end := 0
		for end < len(part) && part[end] >= '0' && part[end] <= '9' {
			end++
		}
		n, err := strconv.Atoi(part[:end])
		if err != nil {
			break
		}
		out = append(out, n)
		if end < len(part) {
			break
		}
	}
	return out
}
