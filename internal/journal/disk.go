package journal

import (
	"io/fs"
	"time"
)

// Disk is all that this package does to a file system; rootfs.FS is the real one. Paths are slash-separated and relative
// to the root. The tests have a twin of it that fails at a chosen moment.
type Disk interface {
	Lstat(path string) (fs.FileInfo, error)
	ReadFile(path string, limit int64) ([]byte, error)
	ReadDir(path string) ([]fs.DirEntry, error)
	// Create writes a new file from parts; one that is there already is an error.
	Create(path string, mode fs.FileMode, parts ...[]byte) error
	// Rename moves a file onto a path; what is there is replaced in one instant.
	Rename(from, to string) error
	Remove(path string) error
	Mkdir(path string, mode fs.FileMode) error
	// Named says whether a path is listed by just this spelling. On a file system that folds names, others lead there as well.
	Named(path string) bool
	// CopyAttributes gives a file what another has beside content, permissions and time, as far as the system lets it.
	CopyAttributes(from, to string) error
	Chtimes(path string, modified time.Time) error
	// Sync returns when what was written to the paths, and what was renamed in their folders, is on the disk.
	Sync(paths []string) error
}

// noLimit is for the journal's own files, which are as large as what they keep.
const noLimit = 1 << 62
