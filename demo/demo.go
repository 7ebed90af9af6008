// Package demo holds the demo projects that ship with the program, of Hilltop Observatory, where people book nights at
// a telescope: the web client, as it grew, the desk, which is to grow, the booking service in Python, the night
// rota in Go, the visitors' desk in PHP, the schedule service in Java, the instrument gateway in C#, and the guides' desk
// in Ruby, the dome's control in Rust, the public display in Dart, and the booking of nights in Rust, which becomes a
// workspace. All of it is made up.
package demo

import (
	"embed"
	"io/fs"

	"golang.org/x/tools/txtar"
)

//go:embed all:hilltop all:desk all:service all:visits all:schedule all:gateway all:guides all:dome all:display all:nights
var files embed.FS

// rota is one file, since Go does not embed the files of another module.
//
//go:embed rota.txtar
var rota []byte

// Hilltop is the tree of the web client, with its convention.
func Hilltop() fs.FS { return sub("hilltop") }

// Desk is the tree of the desk, which has no convention yet.
func Desk() fs.FS { return sub("desk") }

// Service is the tree of the booking service, with its convention.
func Service() fs.FS { return sub("service") }

// Visits is the tree of the visitors' desk, with its convention.
func Visits() fs.FS { return sub("visits") }

// Schedule is the tree of the schedule service, with its convention.
func Schedule() fs.FS { return sub("schedule") }

// Gateway is the tree of the instrument gateway, with its convention.
func Gateway() fs.FS { return sub("gateway") }

// Guides is the tree of the guides' desk, with its convention.
func Guides() fs.FS { return sub("guides") }

// Dome is the tree of the dome's control, with its convention.
func Dome() fs.FS { return sub("dome") }

// Display is the tree of the public display, with its convention.
func Display() fs.FS { return sub("display") }

// Nights is the tree of the booking of nights, with its convention.
func Nights() fs.FS { return sub("nights") }

// Rota is the tree of the night rota, with its convention.
func Rota() fs.FS {
	tree, err := txtar.FS(txtar.Parse(rota))
	if err != nil {
		panic(err) // the file is embedded above
	}
	return tree
}

func sub(folder string) fs.FS {
	tree, err := fs.Sub(files, folder)
	if err != nil {
		panic(err) // the folders are embedded above
	}
	return tree
}
