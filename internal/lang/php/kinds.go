package php

import (
	"strings"

	"crookedshelf/internal/lang"
)

// The kinds of mention of PHP.
var (
	// Import is a name of a use statement that is declared somewhere. The names behind it are judged one by one.
	Import = &lang.Kind{Name: "import", Role: lang.Imports | lang.Loads | lang.Whole, Library: vendor}
	// SpaceImport is one that only names behind it go through: a namespace.
	SpaceImport = &lang.Kind{Name: "import of a namespace", Role: lang.Imports | lang.Loads | lang.Whole, Library: vendor}
	// Name is a name in code that no import of its class brings: \A\B, or B of the file's own namespace. Of several in
	// a file it is the first.
	Name = &lang.Kind{Name: "name", Role: lang.Imports}
	// Again is a name that an import brings, or that stood in the file before.
	Again = &lang.Kind{Name: "name", Role: lang.Brought}
	// DocName is a name in a comment that documents are written in.
	DocName = &lang.Kind{Name: "name in a comment", Role: lang.Brought}
	// OwnSpace is the namespace that a file says it is in, OwnClass the name of the class by which it is found.
	OwnSpace = &lang.Kind{Name: "namespace", Role: lang.OwnName}
	OwnClass = &lang.Kind{Name: "class name", Role: lang.OwnName}
	// ClassText is a string that is the name of a class, or of a function or constant.
	ClassText = &lang.Kind{Name: "class in a text", Role: lang.InCode | lang.Doubtful,
		Looks: "a text that only looks like the name of a class"}
	// SpaceText is a string that names of classes begin with, and to which the rest is put when the program runs.
	SpaceText = &lang.Kind{Name: "namespace in a text"}
	// ClassWord is the name of a class in a file that is no PHP: in settings, in templates, in documents.
	ClassWord = &lang.Kind{Name: "class in settings", Role: lang.Configures}
	// SpaceWord is a namespace in such a file. It may lose some of what is in it: who looks there is asked for each class.
	SpaceWord = &lang.Kind{Name: "namespace in settings", Role: lang.Configures | lang.Imports | lang.Whole}
	// Include is the path of a file that is loaded where it stands.
	Include = &lang.Kind{Name: "include", Role: lang.Imports | lang.Composed | lang.Based}
	// FilePath is any other path that code puts together from a folder that is known.
	FilePath = &lang.Kind{Name: "file path", Role: lang.Composed | lang.Based}
	// OpenPath is a path whose end is put together when the program runs: it may lead to any file that begins so.
	OpenPath = &lang.Kind{Name: "file path", Role: lang.Composed | lang.Based | lang.Packed}
	// View is the name of a view or a template.
	View = &lang.Kind{Name: "view", Role: lang.Based}
	// ViewText is a string that only looks like the name of a view.
	ViewText = &lang.Kind{Name: "view in a text", Role: lang.InCode | lang.Doubtful | lang.Based,
		Looks: "a string that only looks like the name of a view"}
	// DocRoot is the folder that a server gives out (php -S … -t x, root x;): that of the pages.
	DocRoot = &lang.Kind{Name: "web root", Role: lang.Configures}
	// OnServer is a path of the machine that serves the project, in settings (auto_prepend_file, SCRIPT_FILENAME).
	OnServer = &lang.Kind{Name: "path on the server", Role: lang.Configures}
	// Address is a path in what a page sends: it counts from the address of the page, and so from the folder of the
	// program that the browser asks for, whichever file writes it.
	Address = &lang.Kind{Name: "address", Role: lang.Based}
	// OwnFolder is a folder or file that a constant or a variable stands for; the paths that count from it are judged
	// one by one.
	OwnFolder = &lang.Kind{Name: "own folder", Role: lang.Whole}
)

// vendor is the first part of a name: the packages of one maker share it.
func vendor(name string) string {
	first, _, _ := strings.Cut(strings.TrimPrefix(name, `\`), `\`)
	return first
}

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Import, SpaceImport, Name, Again, DocName, OwnSpace, OwnClass, ClassText, SpaceText, ClassWord,
	SpaceWord, Include, FilePath, OpenPath,
	View, ViewText, DocRoot, OnServer, Address, OwnFolder}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{
		Kinds: Kinds, Resolver: r, Warnings: r.warnings, Settles: settles, Settle: r.Settle, Owes: r.Owes,
		Asks: r.Asks, Second: r.Second, AnyFile: true, Expects: r.Expects, Part: r.Part, Packages: r.Packages, Unnamed: true,
	}
}

// settles: all names of a file are written together, since an import that one of them needs may take the name of
// another.
func settles(m *lang.Mention) bool {
	switch m.Kind {
	case ClassWord, SpaceWord, Include, FilePath, OpenPath, View, ViewText, DocRoot, OnServer, Address:
		return false
	case ClassText: // one in a text with other things is written by itself, if at all
		return !m.Likely || m.Evident
	}
	return true
}
