package lang

import (
	"crypto/sha1"
	"fmt"
	"strings"

	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Package is what a manifest of the tree says of a package: the folder is its own, but for those of packages below it.
type Package struct {
	Manifest project.FileID
	Dir      string
	Name     string // by which other packages ask for it, and code names it; empty for none
	Asks     []Dependency
	// Uses are packages that its files name where no mention stands.
	Uses []PackageUse
	// Free says of a name that code may use it unasked: it is one of the platform, or one that a program makes. Nil: all
	// are, since who uses what is not asked for is told by the language's own tools.
	Free func(name string) bool
}

// Dependency is a package that a manifest asks for.
type Dependency struct {
	Name string // as it is written
	At   int    // the byte of the manifest
	// Code: nothing but code uses it. Others may be there for a tool that finds them by their names.
	Code bool
	// Covers says whether a name in code is of it.
	Covers func(name string) bool
}

// PackageUse is a name of a package in the code of a file.
type PackageUse struct {
	Name string
	From project.FileID
	Test bool // the file is there for tests alone
}

// Parting asks into which packages the files of a tree are parted. The tree is that before the moves.
type Parting struct {
	Packages []NewPackage
	// Then is where a file will be, and Mentions what it names and where that leads.
	Then     func(id project.FileID) string
	Mentions func(id project.FileID) ([]Mention, []Target)
	// IsTest says whether a file is there for tests, for builds, or to show others.
	IsTest func(path string) bool
	// Named says which names of packages stand in files that are no programs, or are a string of a program. The manifest
	// names each once.
	Named func(manifest project.FileID, names []string, in func(id project.FileID) bool) []bool
	// EditList gives the edits by which the list at a key of a settings file gets some texts, and loses others.
	EditList func(path string, src []byte, key, add, drop []string) ([]source.Edit, error)
	// Inherit are the keys of the old manifest whose values all packages have from the workspace, and Shared says that it has
	// their dependencies too. Members are patterns of its list of packages; where one fits no package stands for itself.
	Inherit []string
	Shared  bool
	Members []string
	// Resolver is the version of the rules by which features are resolved; empty for those of the edition.
	Resolver string
}

// NewPackage is a package that the convention wants.
type NewPackage struct {
	Dir  string // after the moves
	Name string // empty for that of its folder, or of the manifest that it has
	// Template is what its manifest begins with, if it has none; nil for the values of the old manifest.
	Template []byte
	Most     int // how many files of one language come to it, of that which has the most there
}

// Parted is what a language makes of that: manifests and what is written in them.
type Parted struct {
	Taken  []string // the folders of the packages that are of the language
	Writes map[string][]byte
	Edits  map[project.FileID][]source.Edit
	// Needs are who needs whom then.
	Needs   []PackageNeed
	Refused []Unparted
	// Foreign are packages whose files are of the language and have no manifest of it around them: they are refused, if no
	// other language takes them.
	Foreign []Unparted
	Remarks []Duty // by Path, At and Why
}

// PackageNeed says that a package needs another, by their folders, and where that shows first.
type PackageNeed struct {
	From, To string
	Test     bool // for tests alone: circles do not matter
	By       project.FileID
	At       int
	What     string // is named there
}

// Unparted is a package that can't be one, by its folder, and why. Files are others that may not move for its sake.
type Unparted struct {
	Dir, Why string
	Files    []project.FileID
}

// GUID makes a GUID for a project of a path: the same for the same path, so that a plan is the same each time. It has
// the bits of a name-based one (RFC 9562, version 5).
func GUID(place string) string {
	sum := sha1.Sum([]byte("project of a solution: " + strings.ReplaceAll(place, `\`, "/")))
	sum[6], sum[8] = sum[6]&0x0f|0x50, sum[8]&0x3f|0x80
	return fmt.Sprintf("%X-%X-%X-%X-%X", sum[:4], sum[4:6], sum[6:8], sum[8:10], sum[10:16])
}
