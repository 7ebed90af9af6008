package placement

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// Each row is a list of shelves in which the more particular one comes last, and where files belong by it.
func TestTheMoreParticularWins(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name, shelves string
		homes         map[string]string // of files; their own path where they stay
	}{
		{"a door in a folder that is a shelf", `
  parts: src/parts/
  door: src/parts/index.ts`,
			map[string]string{"src/parts/index.ts": "door src/parts/index.ts", "src/parts/a.ts": "parts src/parts/a.ts"}},
		{"a door in each instance", `
  parts: { at: src/parts/<part>/, takes: [{ name: "*.ts" }], from: ["src/all/<part>/**"] }
  doors: { at: src/parts/<part>/index.ts }`,
			map[string]string{"src/parts/moon/index.ts": "doors src/parts/moon/index.ts",
				"src/parts/moon/a.ts": "parts src/parts/moon/a.ts"}},
		{"a file that is named, before a place", `
  services: { at: lib/<svc>/, from: [src/<svc>/**] }
  entry: { at: lib/main.ts, from: [src/app/main.ts] }`,
			map[string]string{"src/app/main.ts": "entry lib/main.ts", "src/app/x.ts": "services lib/app/x.ts"}},
		{"a file that is named, before what it declares", `
  widgets: { at: lib/, takes: [{ declares: component }, { name: "*.tsx" }] }
  entry: { at: app/App.tsx, from: [src/App.tsx] }`,
			map[string]string{"src/App.tsx": "entry app/App.tsx", "app/App.tsx": "entry app/App.tsx",
				"src/Card.tsx": "widgets lib/Card.tsx"}},
		{"a more literal template", `
  services: { at: services/<svc>/, from: [src/<svc>/**] }
  tools: { at: tools/<tool>.rs, from: [src/bin/<tool>.rs] }`,
			map[string]string{"src/bin/sky.rs": "tools tools/sky.rs", "src/bin/sky/x.rs": "services services/bin/sky/x.rs",
				"tools/sky.rs": "tools tools/sky.rs"}},
		{"a more literal template, whatever the case", `
  services: { at: services/<svc>/, from: ["src/<svc|kebab>/**"] }
  tools: { at: tools/<tool>/, from: [src/bin/<tool>/**] }`,
			map[string]string{"src/bin/sky/x.rs": "tools tools/sky/x.rs"}},
		{"a narrower name", `
  scripts: { at: lib/, takes: [{ name: "*.ts" }] }
  tests: { at: test/, takes: [{ name: "*.test.ts" }] }`,
			map[string]string{"src/a.ts": "scripts lib/a.ts", "src/a.test.ts": "tests test/a.test.ts",
				"test/a.test.ts": "tests test/a.test.ts"}},
		{"a place, before a name, and it stays there", `
  scripts: { at: lib/, takes: [{ name: "*.ts" }] }
  tools: { at: tools/, from: [src/tools/*.ts] }`,
			map[string]string{"src/tools/a.ts": "tools tools/a.ts", "tools/a.ts": "tools tools/a.ts",
				"src/a.ts": "scripts lib/a.ts"}},
		{"a place, before every name", `
  rest: { at: other/, takes: [{ name: "*" }] }
  styles: src/styles/`,
			map[string]string{"src/styles/a.css": "styles src/styles/a.css", "src/a.css": "rest other/a.css"}},
		{"a place that asks for nothing, before a wider from", `
  lib: { at: lib/, from: [src/**] }
  styles: src/styles/`,
			map[string]string{"src/styles/a.css": "styles src/styles/a.css", "src/a/b.css": "lib lib/a/b.css"}},
		{"where files have arrived, before a placeholder that fits their folder", `
  pages: { at: "src/pages/<page>/", from: ["src/<page>/**"] }
  parts: { at: src/parts/, from: [lib/**] }
  models: { at: src/models/, takes: [{ name: "*Model.ts" }] }`,
			map[string]string{"lib/a.ts": "parts src/parts/a.ts", "src/moon/a.ts": "pages src/pages/moon/a.ts",
				"x/SkyModel.ts": "models src/models/SkyModel.ts"}},
		{"three, each narrower", `
  a: { at: a/, from: [src/**] }
  b: { at: b/, from: [src/x/**] }
  c: { at: c/, from: [src/x/*.ts] }`,
			map[string]string{"src/x/f.ts": "c c/f.ts", "src/x/y/f.ts": "b b/y/f.ts", "src/f.ts": "a a/f.ts"}},
		{"neither covers the other: the first", `
  a: { at: a/, from: [src/x/**] }
  b: { at: b/, from: [src/**/*.ts] }`,
			map[string]string{"src/x/f.ts": "a a/f.ts", "src/y/f.ts": "b b/y/f.ts"}},
		{"an entry of the first that is narrower still", `
  a: { at: a/, from: [src/bin/x/**, src/<svc>/**], takes: [{ name: <svc>*.rs }] }
  b: { at: b/, from: [src/bin/**] }`,
			map[string]string{"src/bin/f.rs": "b b/f.rs"}},
		{"of two places that are as deep, the literal one", `
  services: src/<svc>/
  tools: src/bin/`,
			map[string]string{"src/bin/a": "tools src/bin/a", "src/sky/a": "services src/sky/a"}},
		{"a folder within the shelf is opened", `
  parts: { at: src/components/, from: [src/components/common/**] }
  screens: { at: "src/screens/<screen|kebab>/", from: ["src/screens/<screen>/<screen>Page/*"] }`,
			map[string]string{"src/components/common/forms/a.ts": "parts src/components/forms/a.ts",
				"src/components/a.ts":            "parts src/components/a.ts",
				"src/screens/sky/skyPage/x.ts":   "screens src/screens/sky/x.ts",
				"src/screens/sky/other/x.ts":     "screens src/screens/sky/other/x.ts",
				"src/screens/sky/moonPage/x.css": "screens src/screens/sky/moonPage/x.css"}},
		{"a file at the root whose name begins with a dot", `
  public: { at: public/.htaccess, from: [.htaccess] }
  books: { at: tools/stories/, from: [.stories/**] }
  rest: { at: lib/, from: ["*", "**/*.ts"] }`,
			map[string]string{".htaccess": "public public/.htaccess", ".env": "left .env",
				".stories/a/b.ts": "books tools/stories/a/b.ts", ".ci/a.ts": "left .ci/a.ts"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			p := alone(t, "crooked: 1\nshelves:"+c.shelves+"\n")
			for file, want := range c.homes {
				h := p.place(file, project.None)
				got := "left " + h.Path
				if h.Shelf != nil {
					got = h.Shelf.Name + " " + h.Path
				}
				assert.Equal(t, want, got, file)
				if h.Kind == Misplaced {
					again := p.place(h.Path, project.None)
					assert.Equal(t, AtHome, again.Kind, "%s is at home in %s", file, h.Path)
				}
			}
		})
	}
}

// Each row is what gives a placeholder its value where the entry itself does not.
func TestBindings(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name, shelves string
		homes         map[string]string
	}{
		{"a value that is said", `
  parts: { at: src/parts/<part>/, from: [{ grain/**: { part: grain } }, "old/<part>/**"] }`,
			map[string]string{"grain/a/x.ts": "src/parts/grain/a/x.ts", "old/moon/x.ts": "src/parts/moon/x.ts"}},
		{"the instance around", `
  modules:
    at: src/modules/<module>/
    inside:
      models: { takes: [{ name: "*Model.ts" }] }
      views: { from: ["src/modules/*/pages/**"] }`,
			map[string]string{"src/modules/sky/deep/NightModel.ts": "src/modules/sky/models/NightModel.ts",
				"src/modules/sky/models/NightModel.ts": "src/modules/sky/models/NightModel.ts",
				"lib/NightModel.ts":                    "lib/NightModel.ts",
				"src/modules/moon/pages/a/x.ts":        "src/modules/moon/views/a/x.ts"}},
		{"the instance two around", `
  apps:
    at: apps/<app>/
    inside:
      modules: { at: modules/<module>/, from: ["apps/<app>/<module>/**"], inside: { tests: { takes: [{ name: "*.test.ts" }] } } }`,
			map[string]string{"apps/desk/modules/sky/x.test.ts": "apps/desk/modules/sky/tests/x.test.ts"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			p := alone(t, "crooked: 1\nshelves:"+c.shelves+"\n")
			for file, want := range c.homes {
				assert.Equal(t, want, p.place(file, project.None).Path, file)
			}
		})
	}
}

// Many shelves, each narrower than the one before, are read in time.
func TestManyShelvesEachNarrower(t *testing.T) {
	t.Parallel()
	var text strings.Builder
	text.WriteString("crooked: 1\nshelves:\n")
	place := "src/"
	for range 60 {
		text.WriteString("  s" + strings.ReplaceAll(place, "/", "x") + ": { at: out/" + place + ", from: [" + place + "**] }\n")
		place += "a/"
	}
	c, err := convention.Read("crooked.yaml", []byte(text.String()))
	assert.NoError(t, err)
	assert.Len(t, c.Shelves, 60)
}
