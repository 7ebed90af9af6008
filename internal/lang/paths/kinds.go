package paths

import (
	"strings"

	"crookedshelf/internal/lang"
)

// The kinds of mention that name a file, a folder or a pattern of files by a path.
var (
	ImportGlob = &lang.Kind{Name: "import glob", Role: lang.Loads, Library: Library} // import.meta.glob('x')
	// import(`x/${y}`), require.context('x')
	ImportFolder = &lang.Kind{Name: "import folder", Role: lang.Loads, Library: Library}
	StyleAsset   = &lang.Kind{Name: "style asset", Library: Library}              // url(x)
	Asset        = &lang.Kind{Name: "asset", Role: lang.Starts, Library: Library} // an attribute of markup: src, href
	ModuleURL    = &lang.Kind{Name: "module url", Library: Library}               // new URL('x', import.meta.url)
	Link         = &lang.Kind{Name: "link"}                                       // a link of a document
	Include      = &lang.Kind{Name: "include"}                                    // a template's include or extends
	// a path from the script's own folder: path.join(__dirname, 'x')
	FilePath = &lang.Kind{Name: "file path", Role: lang.Composed}
	// a path from the folder in which the program is started: process.cwd()
	WorkPath       = &lang.Kind{Name: "working path", Role: lang.Composed}
	FolderRead     = &lang.Kind{Name: "folder read", Role: lang.Composed} // a FilePath whose folder is listed
	FolderReadWork = &lang.Kind{Name: "folder read", Role: lang.Composed} // a WorkPath whose folder is listed
	// Text is a string in code that is likely a path.
	Text = &lang.Kind{Name: "text", Role: lang.InCode | lang.Doubtful, Looks: "a string that only looks like a path"}
	// TextGlob is one that is likely a pattern of paths.
	TextGlob = &lang.Kind{Name: "text pattern", Role: lang.InCode | lang.Doubtful | lang.Pattern,
		Looks: "a string that only looks like a pattern of paths"}
	// a value of a settings file that is a path
	Setting = &lang.Kind{Name: "setting", Role: lang.Configures | lang.Decides | lang.Starts, Library: Library}
	// a value of a settings file that is a pattern of paths
	SettingGlob = &lang.Kind{Name: "setting pattern", Role: lang.Configures | lang.Decides | lang.Pattern}
	// a word of a command or of a line of settings
	SettingWord = &lang.Kind{Name: "setting word", Role: lang.Configures | lang.Pattern | lang.Starts}
	// a path that stands alone in a code span of a document
	CodeSpan = &lang.Kind{Name: "code span", Role: lang.Doubtful, Looks: "it stands in a code span"}
	// a line of an ignore file
	IgnorePattern = &lang.Kind{Name: "ignore pattern", Role: lang.Configures | lang.Pattern | lang.Ignores}
	// what an alias stands for
	AliasTarget = &lang.Kind{Name: "alias", Role: lang.Configures | lang.Decides | lang.Defines}
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{
	ImportGlob, ImportFolder, Asset, StyleAsset, ModuleURL, Link, Include, FilePath, WorkPath, FolderRead,
	FolderReadWork, Text, TextGlob, Setting, SettingGlob, SettingWord, CodeSpan,
	IgnorePattern, AliasTarget,
}

// Library is the package that a specifier names: @scope/name of @scope/name/sub, name of name/sub.
func Library(specifier string) string {
	parts := strings.SplitN(specifier, "/", 3)
	if strings.HasPrefix(specifier, "@") && len(parts) > 1 {
		return parts[0] + "/" + parts[1]
	}
	return parts[0]
}

// Detail is what few paths have.
type Detail struct {
	// Up is how many folders the path's base lies above the file's own.
	Up int
	// Root: the path counts from the project's root.
	Root bool
	// Entry: the text names a program, whose ending or index may be left out.
	Entry bool
	// Member: the text names folders of packages, that is the manifests in them.
	Member bool
	// Given: no build writes what the text names, so it must be there.
	Given bool
}

func detail(m *lang.Mention) Detail { return lang.Own[Detail](m) }

// Rules are what the resolver answers.
func Rules(t *lang.Tree) lang.Rules {
	r := New(t)
	return lang.Rules{Kinds: Kinds, Resolver: r, Serves: r.serves, Expects: r.expected}
}
