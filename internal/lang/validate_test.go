package lang_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
)

func TestValidate(t *testing.T) {
	t.Parallel()
	whole := func() lang.Family {
		return lang.Family{
			Name: "Stars", Reads: func(p string) bool { return strings.HasSuffix(p, ".star") },
			Scan:  func(lang.Source) (lang.Scanned, error) { return lang.Scanned{}, nil },
			Facts: lang.Facts{Called: map[string]string{".star": "Stars"}, Programs: []string{".star"}},
		}
	}
	require.NoError(t, lang.Validate(lang.Languages{Families: []lang.Family{whole()}}))
	for want, change := range map[string]func(f *lang.Family){
		"family 0 needs a name":        func(f *lang.Family) { f.Name = "" },
		"says what it reads and scans": func(f *lang.Family) { f.Scan = nil },
		`"star" is no ending`:          func(f *lang.Family) { f.Facts.Sources = []string{"star"} },
		`".Star" is no ending`:         func(f *lang.Family) { f.Facts.Prose = []string{".Star"} },
		"does not read such files":     func(f *lang.Family) { f.Facts.Called[".moon"] = "Moons" },
		"writes files that re-export": func(f *lang.Family) {
			f.Reexports = &lang.Reexports{Line: func(*bytes.Buffer,
				lang.EntryLine) {
			}}
		},
		"knows what manifests ask for, and": func(f *lang.Family) {
			f.Requires = func(string) func([]byte, *lang.Required) { return nil }
		},
	} {
		f := whole()
		change(&f)
		assert.ErrorContains(t, lang.Validate(lang.Languages{Families: []lang.Family{f}}), want)
	}
	assert.ErrorContains(t, lang.Validate(lang.Languages{Families: []lang.Family{whole(), whole()}}),
		"two families are called Stars")
}
