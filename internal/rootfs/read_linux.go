package rootfs

import (
	"bytes"
	"encoding/binary"
	"io/fs"
	"sync"

	"golang.org/x/sys/unix"
)

// handle is the open root, by which files are read with as few calls to the system as can be: a file opened through
// os.Root costs a call for each folder on the way and three more, which for many small files is more than reading them.
type handle struct{ root *folder } // nil where there is none

func newHandle(root *folder) handle { return handle{root} }

// open opens what is at a path below the root; the system itself sees to it that no link is on the way and that it
// leads nowhere else. Where that can't be done, the other way must tell.
func (h handle) open(p string, flags uint64) (int, error) {
	if h.root == nil {
		return 0, unix.ENOSYS
	}
	return unix.Openat2(h.root.fd, p, &unix.OpenHow{
		Flags:   flags | unix.O_RDONLY | unix.O_NOFOLLOW | unix.O_NONBLOCK | unix.O_CLOEXEC,
		Resolve: unix.RESOLVE_BENEATH | unix.RESOLVE_NO_SYMLINKS,
	})
}

// read reads a regular file, into the room that it is given if that is enough; false where it can't, and the other way
// must tell.
func (h handle) read(buf []byte, p string, limit int64) ([]byte, bool, error) {
	fd, err := h.open(p, 0)
	switch {
	case err == unix.ENOENT: // that is so by any way
		return nil, true, &fs.PathError{Op: "read", Path: p, Err: err}
	case err != nil:
		return nil, false, nil
	}
	defer unix.Close(fd)
	var stat unix.Stat_t
	if err := unix.Fstat(fd, &stat); err != nil || stat.Mode&unix.S_IFMT != unix.S_IFREG {
		return nil, false, nil
	}
	if stat.Size > limit {
		return nil, true, tooLarge(p, limit)
	}
	content := space(buf, stat.Size)
	for n := 0; ; {
		m, err := unix.Read(fd, content[n:])
		switch {
		case err == unix.EINTR:
			continue
		case err != nil:
			return nil, false, nil
		}
		n += m
		if n < len(content) {
			if m == 0 || n == len(content)-1 {
				return content[:n], true, nil
			}
			continue
		}
		return nil, false, nil // it has grown since
	}
}

// listBuffers are what folders are listed into.
var listBuffers = sync.Pool{New: func() any { return new([1 << 15]byte) }}

// list lists a folder by what the system says of its entries at once; false where it can't, and the other way must
// tell.
func (h handle) list(p string) ([]fs.DirEntry, bool) {
	fd, err := h.open(p, unix.O_DIRECTORY)
	if err != nil {
		return nil, false
	}
	defer unix.Close(fd)
	buffer := listBuffers.Get().(*[1 << 15]byte)
	defer listBuffers.Put(buffer)
	var out []fs.DirEntry
	for {
		n, err := unix.Getdents(fd, buffer[:])
		switch {
		case err == unix.EINTR:
			continue
		case err != nil:
			return nil, false
		case n == 0:
			return out, true
		}
		var known bool
		if out, known = appendEntries(out, buffer[:n]); !known {
			return nil, false
		}
	}
}

// Where things stand in a record of getdents64(2): after two numbers of eight bytes, its length, the kind, and the name
// up to a zero.
const (
	lengthAt = 16
	kindAt   = 18
	nameAt   = 19
)

// appendEntries reads records. One whose kind the file system does not tell makes it give up.
func appendEntries(out []fs.DirEntry, records []byte) ([]fs.DirEntry, bool) {
	for len(records) > nameAt {
		length := int(binary.NativeEndian.Uint16(records[lengthAt:]))
		if length <= nameAt || length > len(records) {
			return nil, false
		}
		name, _, _ := bytes.Cut(records[nameAt:length], []byte{0})
		kind, known := kinds[records[kindAt]]
		if !known {
			return nil, false
		}
		records = records[length:]
		if len(name) > 0 && string(name) != "." && string(name) != ".." {
			out = append(out, &entry{string(name), kind})
		}
	}
	return out, true
}

var kinds = map[byte]fs.FileMode{
	unix.DT_REG: 0, unix.DT_DIR: fs.ModeDir, unix.DT_LNK: fs.ModeSymlink, unix.DT_FIFO: fs.ModeNamedPipe,
	unix.DT_SOCK: fs.ModeSocket,
	unix.DT_CHR:  fs.ModeDevice | fs.ModeCharDevice, unix.DT_BLK: fs.ModeDevice,
}

// entry is a name in a folder.
type entry struct {
	name string
	kind fs.FileMode
}

func (e *entry) Name() string               { return e.name }
func (e *entry) IsDir() bool                { return e.kind.IsDir() }
func (e *entry) Type() fs.FileMode          { return e.kind }
func (e *entry) Info() (fs.FileInfo, error) { return nil, fs.ErrInvalid } // nobody asks for it
