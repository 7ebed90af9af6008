package journal

import (
	"io/fs"
	"time"

	"crookedshelf/internal/rootfs"
)

// Disk is all that this package does to a file system; rootfs.FS is the real one. Paths are slash-separated and
// relative to the root, and no link is followed. The tests have a twin of it that fails at a chosen moment.
type Disk interface {
	Look(path string) (rootfs.Info, error)
	ReadFile(path string, limit int64) ([]byte, error)
	ReadDir(path string) ([]fs.DirEntry, error)
	// Create writes a new file from parts; one that is there already is an error. The mode may be rootfs.Usual.
	Create(path string, mode fs.FileMode, parts ...[]byte) error
	// Rename moves a file onto a path; what is there is replaced in one instant.
	Rename(from, to string) error
	// Place moves a file or folder to a path where nothing is; the error is fs.ErrExist where something is.
	Place(from, to string) error
	// Exchange gives each of two files the other's place in one instant; errors.ErrUnsupported where that can't be
	// done.
	Exchange(one, other string) error
	Remove(path string) error
	// Mkdir makes a folder. The mode may be rootfs.Usual.
	Mkdir(path string, mode fs.FileMode) error
	// Named says whether a path is listed by just this spelling. On a file system that folds names, others lead there
	// as well.
	Named(path string) bool
	// CopyAttributes gives a file what another has beside content and time, as far as the system lets it.
	CopyAttributes(from, to string) error
	Attributes(path string) (rootfs.Attributes, error)
	SetAttributes(path string, a rootfs.Attributes) error
	Chtimes(path string, modified time.Time) error
	// Sync returns when what was written to the paths, and what was renamed in their folders, is on the disk.
	Sync(paths []string) error
	// Refresh makes what follows find every folder by its name again.
	Refresh()
}

// noLimit is for files that are as large as they are: those of the project, and what the journal keeps of them.
const noLimit = 1 << 62

// largestState and largestRecord are the most bytes that are read of what says how the journal's files are to be taken.
const (
	largestState  = 64 << 10
	largestRecord = 1 << 30
)
