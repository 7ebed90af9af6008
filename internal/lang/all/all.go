// Package all lists the language families, and says of other files whether they can hold mentions at all.
package all

import (
	"maps"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/csharp"
	"crookedshelf/internal/lang/dart"
	"crookedshelf/internal/lang/golang"
	"crookedshelf/internal/lang/java"
	"crookedshelf/internal/lang/label"
	"crookedshelf/internal/lang/markup"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/php"
	"crookedshelf/internal/lang/python"
	"crookedshelf/internal/lang/ruby"
	"crookedshelf/internal/lang/rust"
	"crookedshelf/internal/lang/settings"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/lang/style"
	"crookedshelf/internal/lang/web"
)

// Languages are all families, in the order in which they are asked, and the rules that belong to none of them.
func Languages() lang.Languages {
	return lang.Languages{
		Inert: inert, Require: settings.Require, Items: settings.Items, EditList: settings.EditList,
		DropItems: settings.DropItems,
		Families: []lang.Family{
			web.Family(), style.Family(), markup.Family(), golang.Family(), python.Family(), python.Notebooks(),
			php.Family(), java.Family(), csharp.Family(), ruby.Family(), rust.Family(), dart.Family(), settings.Family(),
		},
		Shared: []func(*lang.Tree) lang.Rules{paths.Rules, stated.Rules, label.Rules},
	}
}

// Fixed says what the name of a file means to the tools of its language, where that binds it to its place; empty for
// nothing.
func Fixed(p string) string { return languages.Fixture(p).Why }

// Owner gives the file that another is a part of, by their names; empty for none.
func Owner(p string, there func(path string) bool) string { return languages.Owner(p, there) }

var languages = Languages()

// others are the names of languages and formats that no family reads, by their endings.
var others = map[string]string{
	".svg": "pictures", ".png": "pictures", ".jpg": "pictures", ".jpeg": "pictures", ".gif": "pictures",
	".webp": "pictures", ".ico": "pictures", ".avif": "pictures",
	".woff": "fonts", ".woff2": "fonts", ".ttf": "fonts", ".otf": "fonts", ".txt": "plain text",
	".sql": "SQL",
}

// aside are those of them that say nothing of the layout of an application.
var aside = map[string]bool{"pictures": true, "fonts": true, "plain text": true}

// called are the names of all languages and formats, by their endings.
var called = func() map[string]string {
	out := maps.Clone(others)
	for _, f := range languages.Families {
		maps.Copy(out, f.Facts.Called)
	}
	return out
}()

const unknown = "other" // what a file without an ending is called

// Called is the name of the language or format of a file; what is not known is called by its ending.
func Called(p string) string {
	ext := strings.ToLower(path.Ext(p))
	if name, known := called[ext]; known {
		return name
	}
	if ext == "" || ext == "."+strings.TrimPrefix(path.Base(p), ".") {
		return unknown
	}
	return ext
}

// otherPrograms are the endings of programs in languages that no family reads.
var otherPrograms = map[string]bool{".kt": true, ".swift": true, ".c": true, ".cpp": true, ".ex": true, ".scala": true}

// otherProjects are the files by which languages that no family reads say what a project is.
var otherProjects = map[string]bool{"build.gradle": true,
	"build.gradle.kts": true}

// IsProjectFile says whether a file says what a project or a package is, by its name.
func IsProjectFile(p string) bool {
	base := path.Base(p)
	switch path.Ext(base) {
	case ".csproj", ".fsproj", ".vbproj", ".gemspec":
		return true
	}
	return otherProjects[base] || languages.IsManifest(base)
}

// IsOtherProgram says whether a file is a program in a language that no family reads.
func IsOtherProgram(p string) bool { return otherPrograms[path.Ext(p)] && languages.FamilyOf(p) == nil }

// IsAside says whether a file says nothing of the layout of an application: settings, data, documents.
func IsAside(p string) bool {
	name := Called(p)
	return aside[name] || name == unknown || languages.IsAside(p)
}

// inertEndings are the endings of files that name no other file: they can be moved without being read.
const inertEndings = " .avif .bmp .gif .ico .jpeg .jpg .png .webp .svg .eot .otf .ttf .woff .woff2 .mp3 .mp4 .ogg " +
	".wav .webm .pdf .zip .gz .wasm " +
	".csv .tsv .sql .txt .snap .bin .dat .geojson .glsl .vert .frag .map .po .mo .psd .sketch .fig .ai .cur .m4a .mov " +
	".ics .tgz .bz2 .xz .tar .7z .pickle .pkl .npy .npz .parquet .sqlite3 .typed .ds_store .gitkeep .keep "

// inertNames are files without an ending that name no other file.
const inertNames = " license licence copying authors notice "

// inert says whether a file of no family holds data alone.
func inert(p string) bool {
	ext := strings.TrimSuffix(strings.ToLower(path.Ext(p)), "~")
	return ext != "" && strings.Contains(inertEndings, " "+ext+" ") ||
		strings.Contains(inertNames, " "+strings.ToLower(path.Base(p))+" ")
}
