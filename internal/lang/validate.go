package lang

import (
	"fmt"
	"slices"
	"strings"
)

// Validate says what is wrong with a list of families, so that a test can ask.
func Validate(l Languages) error {
	seen := map[string]bool{}
	for i := range l.Families {
		f := &l.Families[i]
		switch {
		case f.Name == "" || f.Reads == nil || f.Scan == nil:
			return fmt.Errorf("family %d needs a name, and says what it reads and scans", i)
		case seen[f.Name]:
			return fmt.Errorf("two families are called %s", f.Name)
		}
		seen[f.Name] = true
		for _, list := range [][]string{f.Facts.Programs, f.Facts.Components, f.Facts.Sources, f.Facts.Unwritten,
			f.Facts.Prose, f.Facts.Aside} {
			if at := slices.IndexFunc(list, func(ending string) bool {
				return !strings.HasPrefix(ending, ".") ||
					ending != strings.ToLower(ending)
			}); at >= 0 {
				return fmt.Errorf("%s: %q is no ending: it begins with a dot and is in lower case", f.Name, list[at])
			}
		}
		for ending := range f.Facts.Called {
			if !strings.HasPrefix(ending, ".") || !f.Reads("x"+ending) {
				return fmt.Errorf("%s names the language of %s, and does not read such files", f.Name, ending)
			}
		}
		if r := f.Reexports; r != nil && (r.Specifier == nil || r.Line == nil || r.Gives == nil) {
			return fmt.Errorf("%s writes files that re-export, and not all of them", f.Name)
		}
		if f.Requires != nil && f.Facts.Manifest == "" {
			return fmt.Errorf("%s knows what manifests ask for, and names none", f.Name)
		}
	}
	return nil
}
