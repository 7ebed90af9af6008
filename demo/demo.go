// Package demo holds the demo projects that ship with the program, of Hilltop Observatory, where people book nights at a
// telescope: the web client, as it grew, and the desk, which is to grow. All of it is made up.
package demo

import (
	"embed"
	"io/fs"
)

//go:embed all:hilltop all:desk
var files embed.FS

// Hilltop is the tree of the web client, with its convention.
func Hilltop() fs.FS { return sub("hilltop") }

// Desk is the tree of the desk, which has no convention yet.
func Desk() fs.FS { return sub("desk") }

func sub(folder string) fs.FS {
	tree, err := fs.Sub(files, folder)
	if err != nil {
		panic(err) // the folders are embedded above
	}
	return tree
}
