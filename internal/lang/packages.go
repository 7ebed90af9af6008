package lang

import "crookedshelf/internal/project"

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
