package ecosystems_test

import (
	"testing"

	"github.com/bmatcuk/doublestar/v4"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/ecosystems"
	"crookedshelf/internal/project/projecttest"
)

// Every fact says something, and every pattern is one.
func TestData(t *testing.T) {
	t.Parallel()
	facts := 0
	for _, e := range ecosystems.All() {
		assert.NotEmpty(t, e.Name)
		require.NotEmpty(t, e.Facts, e.Name)
		for _, f := range e.Facts {
			facts++
			assert.NotEmpty(t, f.Files, e.Name)
			assert.NotEmpty(t, f.Is, f.Files)
			assert.Contains(t, []string{"", "memory"}, f.From)
			for _, pattern := range f.Files {
				assert.True(t, doublestar.ValidatePattern(pattern), pattern)
			}
		}
	}
	assert.Greater(t, facts, 450)
	assert.Equal(t, "any project", ecosystems.All()[len(ecosystems.All())-1].Name, "what always holds comes last")
}

// Each row is a project, a file or folder of it, and what is known of that.
func TestFacts(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, files, place, by, is string }{
		{"a client", "-- package.json --\n{ \"devDependencies\": { \"vite\": \"1\" } }\n-- index.html --\n", "index.html", "devDependencies vite",
			"what loads first: its module script is the start"},
		{"a settings file of it", "-- package.json --\n{ \"devDependencies\": { \"vite\": \"1\" } }\n", "vite.config.ts", "devDependencies vite",
			"the settings of the build: plugins, aliases, output"},
		{"a manifest alone", "-- package.json --\n{}\n", "package-lock.json", "package.json", "exact versions; committed, never edited"},
		{"a service", "-- requirements.txt --\nDjango==5\n-- manage.py --\n", "hilltop/urls.py", "requirements.txt django",
			"which address goes to which view"},
		{"below a folder", "-- web/package.json --\n{ \"dependencies\": { \"next\": \"1\" } }\n-- web/app/page.tsx --\n", "web/public/", "dependencies next", ""},
		{"a key anywhere", "-- a/b/c/server.pem --\n", "a/b/c/server.pem", "", "private keys: secret, never committed"},
		{"nobody's", "-- a.txt --\n", "a.txt", "", ""},
		{"not with another", "-- package.json --\n{ \"dependencies\": { \"react\": \"1\", \"next\": \"1\" } }\n", "src/index.tsx", "", ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			fact, found := ecosystems.Recognise(projecttest.Load(t, c.files)).Of(c.place, false)
			if c.is == "" && c.by == "" {
				assert.Nil(t, fact)
				return
			}
			require.NotNil(t, fact)
			assert.Equal(t, c.by, found.By)
			if c.is != "" {
				assert.Equal(t, c.is, fact.Is)
			}
		})
	}
}
