// Package demo holds the demo project that ships with the program: the web client of Hilltop Observatory, where people
// book nights at a telescope. All of it is made up.
package demo

import (
	"embed"
	"io/fs"
)

//go:embed all:hilltop
var files embed.FS

// Hilltop is the project's tree.
func Hilltop() fs.FS {
	tree, err := fs.Sub(files, "hilltop")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return tree
}
