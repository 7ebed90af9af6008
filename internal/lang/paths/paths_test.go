package paths_test

import (
	"path"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

// aliases knows one: @/ stands for src/.
type aliases struct{}

func (aliases) Expand(_, text string) (p, alias string, ok bool) {
	rest, ok := strings.CutPrefix(text, "@/")
	return path.Join("src", rest), "@/*", ok
}

func (aliases) Contract(_, p, _ string) (text string, ok bool) {
	rest, ok := strings.CutPrefix(p, "src/")
	return "@/" + rest, ok
}

const tree = `
-- package.json --
{}
-- app.config.json --
{}
-- README.md --
-- public/logo.svg --
-- public/nights/moon.png --
-- docs/guide.md --
-- docs/sky map.md --
-- src/pages/night.ts --
-- src/pages/night.html --
-- src/parts/card.html --
-- src/parts/card.css --
-- src/data/stars.json --
-- src/data/old/moons.json --
-- tools/package.json --
{}
-- tools/build.ts --
-- tools/lib/copy.ts --
`

// moves is the migration that the rows are respelled for.
var moves = map[string]string{
	"src/data/stars.json": "src/store/stars.json", "src/data/old/moons.json": "src/store/old/moons.json",
	"src/parts/card.html":    "src/panels/card.html",
	"public/nights/moon.png": "public/moons/moon.png", "docs/sky map.md": "docs/maps/sky map.md",
	"tools/lib/copy.ts":  "tools/steps/copy.ts",
	"src/pages/night.ts": "src/screens/night/night.ts",
}

// knowing is a tree in which @/ is an alias.
func knowing(p *project.Project, declared *lang.Declared) *lang.Tree {
	t := lang.NewTree(p, declared)
	t.Answer(lang.Rules{Aliases: aliases{}})
	return t
}

// shown writes a target as a path, a folder with a slash, or a set as its folder with its files.
func shown(tree *project.Project, t lang.Target) string {
	switch t.Kind {
	case lang.ToFile:
		return tree.Path(t.File)
	case lang.ToFolder:
		return t.Folder() + "/"
	case lang.ToSet:
		out := t.Folder() + ":"
		for _, id := range t.Set() {
			out += " " + path.Base(tree.Path(id))
		}
		return out
	case lang.ToNothing:
		return "nothing"
	}
	return "outside"
}

// Every kind of path is read in its ways, and written in the same one after the moves.
func TestPathsAreReadAndWrittenInOneWay(t *testing.T) {
	t.Parallel()
	certain, likely := false, true
	rows := []struct {
		kind   *lang.Kind
		likely bool
		from   string
		text   string
		leads  string
		then   string
	}{
		// from the file's own folder
		{paths.FilePath, certain, "src/pages/night.ts", "../data/stars.json", "src/data/stars.json",
			"../../store/stars.json"},
		{paths.FilePath, certain, "tools/build.ts", "lib/copy.ts", "tools/lib/copy.ts", "steps/copy.ts"},
		{paths.FilePath, certain, "tools/build.ts", "./lib/copy.ts", "tools/lib/copy.ts", "./steps/copy.ts"},
		{paths.FolderRead, certain, "src/pages/night.html", "../data", "src/data: moons.json stars.json", "../store"},
		{paths.FolderRead, certain, "src/pages/night.html", "../data/", "src/data: moons.json stars.json", "../store/"},
		{paths.ModuleURL, certain, "src/pages/night.html", "../data/stars.json?raw", "src/data/stars.json",
			"../store/stars.json?raw"},
		{paths.ModuleURL, certain, "src/pages/night.html", "../data/none.json", "nothing", ""},
		{paths.ModuleURL, certain, "src/pages/night.html", "data/none.json", "outside", ""},
		// from the folder in which programs start
		{paths.WorkPath, certain, "tools/build.ts", "lib/copy.ts", "tools/lib/copy.ts", "steps/copy.ts"},
		{paths.WorkPath, certain, "src/pages/night.html", "src/data/stars.json", "src/data/stars.json",
			"src/store/stars.json"},
		{paths.FolderReadWork, certain, "src/pages/night.html", "./src/data", "src/data: moons.json stars.json",
			"./src/store"},
		// addresses and links
		{paths.Asset, certain, "src/pages/night.html", "/nights/moon.png", "public/nights/moon.png", "/moons/moon.png"},
		{paths.Asset, certain, "src/pages/night.html", "/nights/moon.png?v=2#top", "public/nights/moon.png",
			"/moons/moon.png?v=2#top"},
		{paths.Asset, certain, "src/pages/night.html", "../parts/card.html", "src/parts/card.html",
			"../panels/card.html"},
		{paths.Asset, certain, "src/pages/night.html", "@/parts/card.html", "src/parts/card.html",
			"@/panels/card.html"},
		{paths.Asset, certain, "src/pages/night.html", "/other/moon.png", "outside", ""},
		{paths.Link, certain, "docs/guide.md", "sky%20map.md#west", "docs/sky map.md", "maps/sky%20map.md#west"},
		{paths.Link, certain, "docs/guide.md", "./sky map.md", "docs/sky map.md", "./maps/sky map.md"},
		{paths.Link, certain, "docs/guide.md", "sky map", "docs/sky map.md", "maps/sky map"},
		{paths.Link, certain, "README.md", "src/data/", "src/data/", "src/store/"},
		{paths.Link, certain, "docs/guide.md", "../src/data/stars.json", "src/data/stars.json",
			"../src/store/stars.json"},
		{paths.StyleAsset, certain, "src/parts/card.css", "../data/stars.json", "src/data/stars.json",
			"../store/stars.json"},
		{paths.Include, certain, "src/pages/night.html", "parts/card", "src/parts/card.html", "panels/card"},
		{paths.Include, certain, "src/pages/night.html", "parts/card.html", "src/parts/card.html", "panels/card.html"},
		{paths.Include, certain, "src/pages/night.html", "./none.html", "nothing", ""},
		// settings
		{paths.Setting, certain, "app.config.json", "src/data", "src/data/", "src/store"},
		{paths.Setting, certain, "app.config.json", "./src/data/", "src/data/", "./src/store/"},
		{paths.Setting, certain, "app.config.json", "<rootDir>/src/data/stars.json", "src/data/stars.json",
			"<rootDir>/src/store/stars.json"},
		{paths.Setting, certain, "tools/package.json", "lib/copy.ts", "tools/lib/copy.ts", "steps/copy.ts"},
		{paths.Setting, certain, "app.config.json", "@/data/stars.json", "src/data/stars.json", "@/store/stars.json"},
		{paths.Setting, certain, "app.config.json", "dist/data", "outside", ""},
		{paths.SettingGlob, certain, "app.config.json", "src/data/*.json", "src/data: stars.json", "src/store/*.json"},
		{paths.SettingGlob, certain, "app.config.json", "!src/data/**/*.json", "src/data: moons.json stars.json",
			"!src/store/**/*.json"},
		{paths.SettingGlob, certain, "app.config.json", "./src/data/**", "src/data: moons.json stars.json",
			"./src/store/**"},
		{paths.IgnorePattern, certain, "app.config.json", "/src/data/*.bak", "src/data/", "/src/store/*.bak"},
		{paths.IgnorePattern, certain, "app.config.json", "src/data/old/*.bak", "src/data/old/", "src/store/old/*.bak"},
		{paths.SettingWord, certain, "tools/package.json", "lib/copy.ts", "tools/lib/copy.ts", "steps/copy.ts"},
		{paths.SettingWord, certain, "tools/package.json", "src/data/stars.json", "src/data/stars.json",
			"src/store/stars.json"},
		{paths.SettingWord, certain, "app.config.json", "src", "outside", ""},
		// strings that only look like paths
		{paths.Text, likely, "tools/build.ts", "src/data/stars.json", "src/data/stars.json", "src/store/stars.json"},
		{paths.Text, likely, "src/pages/night.ts", "../data/stars.json", "src/data/stars.json",
			"../../store/stars.json"},
		{paths.Text, likely, "tools/build.ts", "stars.json", "outside", ""},
		{paths.Text, likely, "tools/build.ts", "/nights/moon.png", "public/nights/moon.png", "/moons/moon.png"},
	}
	before := projecttest.Load(t, tree)
	after, newID := projecttest.Move(t, before, moves)
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	old, next := paths.New(knowing(before, declared)), paths.New(knowing(after, declared))
	for _, row := range rows {
		name := row.kind.String() + " " + row.text + " of " + row.from
		from, ok := before.Lookup(row.from)
		require.True(t, ok, name)
		m := &lang.Mention{Text: row.text, Kind: row.kind, Likely: row.likely}
		led := old.Resolve(from, m)
		assert.Equal(t, row.leads, shown(before, led), name)
		if row.then == "" || !led.Kind.Inside() {
			continue
		}
		want := led
		switch led.Kind {
		case lang.ToFile:
			want = lang.File(newID[led.File])
		case lang.ToFolder:
			want = lang.Folder(strings.Replace(led.Folder(), "src/data", "src/store", 1))
		case lang.ToSet:
			set := make([]project.FileID, len(led.Set()))
			for i, id := range led.Set() {
				set[i] = newID[id]
			}
			want = lang.Set(strings.Replace(led.Folder(), "src/data", "src/store", 1), set)
		}
		spelled, ok := next.Spell(lang.Respelling{Old: old, OldFrom: from, From: newID[from], Before: led, Target: want,
			Mention: m})
		assert.True(t, ok, name)
		assert.Equal(t, row.then, spelled.Text, name)
		then := *m
		then.Text = spelled.Text
		assert.Equal(t, shown(after, want), shown(after, next.Resolve(newID[from], &then)), name)
	}
}

// A path to what is no part of the tree names the same place from the file's new folder.
func TestPathsThatLeadNowhereKeepTheirPlace(t *testing.T) {
	t.Parallel()
	before := projecttest.Load(t, tree)
	from, _ := before.Lookup("src/pages/night.ts")
	after, newID := projecttest.Move(t, before, map[string]string{"src/pages/night.ts": "src/screens/night/night.ts"})
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	old, next := paths.New(knowing(before, declared)), paths.New(knowing(after, declared))
	for _, row := range []struct {
		kind   *lang.Kind
		likely bool
		text   string
		then   string
	}{
		{paths.FilePath, false, "../../dist/app.js", "../../../dist/app.js"},
		{paths.FilePath, false, "./made/", "../../pages/made/"}, {paths.FilePath, false, "../../../beyond",
			"../../../beyond"},
		{paths.WorkPath, false, "./dist/app.js", "./dist/app.js"}, {paths.Text, true, "../made/x.js", "../made/x.js"},
		{paths.FilePath, false, "made/x.js", "made/x.js"},
	} {
		m := &lang.Mention{Text: row.text, Kind: row.kind, Likely: row.likely}
		led := old.Resolve(from, m)
		require.False(t, led.Kind.Inside(), row.text)
		spelled, ok := next.Spell(lang.Respelling{Old: old, OldFrom: from, From: newID[from], Before: led,
			Target: lang.No(lang.ToNothing), Mention: m})
		assert.True(t, ok, row.text)
		assert.Equal(t, row.then, spelled.Text, row.text)
	}
}
