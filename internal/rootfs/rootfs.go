// Package rootfs is the disk below one folder. A file is reached folder by folder, and no link is followed on the way
// or at the end: a folder that was swapped for a link is refused by the walk itself, not by a check that could be
// raced. Paths are slash-separated and relative to the folder; "." is the folder.
//
// Walking to a file costs a call for each folder on the way, so the folders used last are kept open. Reading on Linux
// asks the system itself for the same, in one call, and takes the other way where that is refused.
//
// folder_unix.go and folder_other.go are one open folder on each kind of system, regular.go reads files that lie
// elsewhere.
package rootfs

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"slices"
	"strings"
	"sync"
	"time"
)

// most is how many folders are kept open: more than the workers need, far fewer than a process may have.
const most = 128

// ErrLink means that a link stands on the way to a file, or in its place.
var ErrLink = errors.New("it is a link, and links are not followed")

// ErrGuarded means that a folder belongs to git or to the journal, whatever name led there.
var ErrGuarded = errors.New("it belongs to git or to the journal")

// FileID tells one file from another as long as both exist. It is zero where the system has none.
type FileID struct {
	Device uint64 `json:"device"`
	Inode  uint64 `json:"inode"`
}

// Info is what is known of a file, folder or link without opening it.
type Info struct {
	Mode     fs.FileMode
	Size     int64
	Modified time.Time
	// when anything of it was changed last, by the system's own clock; zero where the system has none
	Changed  time.Time
	ID       FileID
	UID, GID int // of the owner and the group; -1 where the system has none
}

// IsDir says whether it is a folder.
func (i Info) IsDir() bool { return i.Mode.IsDir() }

// IsRegular says whether it is a file: no link, no folder, no device.
func (i Info) IsRegular() bool { return i.Mode.IsRegular() }

// Permissions are the bits that chmod sets.
func (i Info) Permissions() fs.FileMode { return i.Mode & permissions }

// Usual stands for the permissions that the system gives to new files and folders: those of the process's mask.
const Usual = fs.ModeIrregular

const permissions = fs.ModePerm | fs.ModeSetuid | fs.ModeSetgid | fs.ModeSticky

// FS is a folder with what lies below it. It is safe for use by several goroutines.
type FS struct {
	root *folder
	top  handle

	mu      sync.Mutex
	dirs    map[string]*dir
	guarded map[FileID]string // the one path by which a folder may be entered; "" for none
}

// dir is an open folder. One that was dropped is closed when the last use of it ends.
type dir struct {
	*folder
	users   int
	dropped bool
}

// Open opens a folder.
func Open(name string) (*FS, error) {
	root, err := openFolder(name)
	if err != nil {
		return nil, err
	}
	return &FS{root: root, top: newHandle(root), dirs: map[string]*dir{}, guarded: map[FileID]string{}}, nil
}

// Close lets go of the folder.
func (f *FS) Close() error {
	f.Refresh()
	return f.root.close()
}

// Refresh lets go of all folders that are kept open, so that what comes next finds them by their names again.
func (f *FS) Refresh() {
	f.mu.Lock()
	defer f.mu.Unlock()
	for p := range f.dirs {
		f.drop(p)
	}
}

// Guard keeps the folder that lies at a place of the disk now from being entered below the root, by whatever name, save
// at only: a path below the root, or empty. A place where nothing is guards nothing.
func (f *FS) Guard(place, only string) {
	opened, err := openFolder(place)
	if err != nil {
		return
	}
	defer opened.close()
	if id := opened.id(); id != (FileID{}) {
		f.mu.Lock()
		f.guarded[id] = only
		f.mu.Unlock()
	}
}

// within calls use with the folder that p lies in, and p's name there.
func (f *FS) within(p string, use func(in *folder, name string) error) error {
	p = path.Clean(p)
	if p == ".." || strings.HasPrefix(p, "../") || strings.HasPrefix(p, "/") || strings.Contains(p, "\x00") {
		return &fs.PathError{Op: "open", Path: p, Err: errors.New("it leads out of the project's folder")}
	}
	parent, name := path.Split(p)
	if parent == "" {
		return use(f.root, name)
	}
	d, err := f.enter(parent[:len(parent)-1])
	if err != nil {
		return err
	}
	defer f.leave(d)
	return use(d.folder, name)
}

// enter opens a folder, by way of those above it.
func (f *FS) enter(p string) (*dir, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if d := f.dirs[p]; d != nil {
		d.users++
		return d, nil
	}
	f.makeRoom()
	at, parent := 0, f.root // the deepest folder that is open
	for i := len(p) - 1; i > 0; i-- {
		if p[i] == '/' {
			if d := f.dirs[p[:i]]; d != nil {
				at, parent = i+1, d.folder
				break
			}
		}
	}
	for {
		end := len(p)
		if slash := strings.IndexByte(p[at:], '/'); slash >= 0 {
			end = at + slash
		}
		next, err := parent.enter(p[at:end])
		if err != nil {
			return nil, &fs.PathError{Op: "open", Path: p[:end], Err: cause(err)}
		}
		if only, guarded := f.guarded[next.id()]; guarded && only != p[:end] {
			next.close()
			return nil, &fs.PathError{Op: "open", Path: p[:end], Err: ErrGuarded}
		}
		d := &dir{folder: next}
		f.dirs[p[:end]] = d
		if end == len(p) {
			d.users++
			return d, nil
		}
		at, parent = end+1, next
	}
}

// makeRoom closes folders where too many are open; which ones go is no matter. The lock must be held.
func (f *FS) makeRoom() {
	if len(f.dirs) < most {
		return
	}
	for old, o := range f.dirs {
		if o.users == 0 {
			f.drop(old)
		}
		if len(f.dirs) < most/2 {
			return
		}
	}
}

func (f *FS) leave(d *dir) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if d.users--; d.users == 0 && d.dropped {
		d.close()
	}
}

// drop forgets an open folder. The lock must be held.
func (f *FS) drop(p string) {
	d := f.dirs[p]
	if d == nil {
		return
	}
	delete(f.dirs, p)
	if d.dropped = true; d.users == 0 {
		d.close()
	}
}

// dropBelow forgets a folder that gets another name or goes, with those below it.
func (f *FS) dropBelow(p string) {
	p = path.Clean(p)
	f.mu.Lock()
	defer f.mu.Unlock()
	for open := range f.dirs {
		if len(open) >= len(p) && open[:len(p)] == p && (len(open) == len(p) || open[len(p)] == '/') {
			f.drop(open)
		}
	}
}

func cause(err error) error {
	if pe, ok := err.(*fs.PathError); ok {
		return pe.Err
	}
	return err
}

// at calls use with the folder that p lies in and p's name there, and puts p into the error.
func (f *FS) at(op, p string, use func(in *folder, name string) error) error {
	err := f.within(p, use)
	if err != nil {
		if _, known := err.(*fs.PathError); !known {
			err = &fs.PathError{Op: op, Path: p, Err: err}
		}
	}
	return err
}

// ReadDir lists a folder, in no order. Of an entry the name and the kind are known, and no more.
func (f *FS) ReadDir(p string) (entries []fs.DirEntry, err error) {
	if entries, ok := f.top.list(p); ok {
		return entries, nil
	}
	err = f.at("list", p, func(in *folder, name string) error {
		d, err := in.open(name, true)
		if err != nil {
			return err
		}
		defer d.Close()
		entries, err = d.ReadDir(-1)
		return err
	})
	return entries, err
}

// ReadFile reads a regular file of at most limit bytes; anything else is an error, and a pipe does not hang the reader.
func (f *FS) ReadFile(p string, limit int64) ([]byte, error) { return f.ReadInto(nil, p, limit) }

// ReadInto is ReadFile that puts the content into a room, if that is large enough.
func (f *FS) ReadInto(buf []byte, p string, limit int64) (content []byte, err error) {
	if content, done, err := f.top.read(buf, p, limit); done {
		return content, err
	}
	err = f.at("read", p, func(in *folder, name string) error {
		file, err := in.open(name, false)
		if err != nil {
			return err
		}
		defer file.Close()
		content, err = readOpen(file, buf, p, limit)
		return err
	})
	return content, err
}

// readOpen reads a file that is open, if it is a regular one of at most limit bytes.
func readOpen(file *os.File, buf []byte, p string, limit int64) ([]byte, error) {
	info, err := file.Stat()
	switch {
	case err != nil:
		return nil, err
	case !info.Mode().IsRegular():
		return nil, &fs.PathError{Op: "read", Path: p, Err: errors.New("it is no regular file")}
	case info.Size() > limit:
		return nil, tooLarge(p, limit)
	}
	content := space(buf, info.Size())
	n, err := file.Read(content)
	if err == nil && n < len(content)-1 { // not all at once
		var more int
		more, err = io.ReadFull(file, content[n:])
		n += more
	}
	if err == nil && n == len(content) { // it has grown since
		rest, err := io.ReadAll(io.LimitReader(file, limit+1-int64(n)))
		if content = append(content, rest...); int64(len(content)) > limit {
			return nil, tooLarge(p, limit)
		}
		return content, err
	}
	if content = content[:n]; err == nil || err == io.ErrUnexpectedEOF || err == io.EOF {
		return content, nil
	}
	return nil, err
}

func tooLarge(p string, limit int64) error {
	if limit < 1<<20 {
		return &fs.PathError{Op: "read", Path: p, Err: fmt.Errorf("it is larger than %d KB", limit>>10)}
	}
	return &fs.PathError{Op: "read", Path: p, Err: fmt.Errorf("it is larger than %d MB", limit>>20)}
}

// space gives room for a file of a size, and one byte more, so that a short read shows the end.
func space(buf []byte, size int64) []byte {
	if int64(cap(buf)) > size {
		return buf[:size+1]
	}
	return make([]byte, size+1)
}

// Look looks at a file, folder or link.
func (f *FS) Look(p string) (info Info, err error) {
	err = f.at("look at", p, func(in *folder, name string) error {
		info, err = in.look(name)
		return err
	})
	return info, err
}

// Create writes a new file from parts; one that is there already is an error. It gets exactly these permissions, or the
// Usual ones.
func (f *FS) Create(p string, mode fs.FileMode, parts ...[]byte) error {
	return f.at("create", p, func(in *folder, name string) error {
		first := fs.FileMode(0o600)
		if mode == Usual {
			first = 0o666
		}
		file, err := in.create(name, first)
		if err != nil {
			return err
		}
		out := bufio.NewWriterSize(file, bufferFor(parts))
		for _, part := range parts {
			if _, err = out.Write(part); err != nil {
				break
			}
		}
		if err == nil {
			err = out.Flush()
		}
		if err == nil && mode != Usual && mode&permissions != first {
			err = file.Chmod(mode & permissions)
		}
		if closed := file.Close(); err == nil {
			err = closed
		}
		return err
	})
}

// bufferFor is the size of the buffer that parts are gathered in; a single part needs none.
func bufferFor(parts [][]byte) int {
	if len(parts) > 1 {
		return 1 << 18
	}
	return 1
}

// Rename moves a file or folder onto a path; a file that is there is replaced in one instant. Place is for what
// somebody else may want to keep.
func (f *FS) Rename(from, to string) error { return f.rename(from, to, replacing) }

// Place moves a file or folder to a path where nothing is; fs.ErrExist where something is.
func (f *FS) Place(from, to string) error { return f.rename(from, to, placing) }

// Exchange gives each of two files the other's place in one instant; errors.ErrUnsupported where the system can't do
// that.
func (f *FS) Exchange(one, other string) error { return f.rename(one, other, exchanging) }

// renaming is a way of renaming.
type renaming int

const (
	replacing renaming = iota
	placing
	exchanging
)

func (f *FS) rename(from, to string, how renaming) error {
	err := f.at("rename", from, func(in *folder, name string) error {
		return f.at("rename to", to, func(other *folder, toName string) error {
			return in.rename(name, other, toName,
				how)
		})
	})
	if err == nil {
		f.dropBelow(from)
		if how == exchanging {
			f.dropBelow(to)
		}
	}
	return err
}

// Remove deletes a file or an empty folder.
func (f *FS) Remove(p string) error {
	f.dropBelow(p)
	return f.at("remove", p, func(in *folder, name string) error { return in.remove(name) })
}

// Mkdir makes a folder with exactly these permissions, or the Usual ones.
func (f *FS) Mkdir(p string, mode fs.FileMode) error {
	return f.at("make the folder", p, func(in *folder, name string) error { return in.mkdir(name, mode) })
}

// Chtimes sets when a file was modified.
func (f *FS) Chtimes(p string, modified time.Time) error {
	return f.at("set the time of", p, func(in *folder, name string) error { return in.chtimes(name, modified) })
}

// Named says whether a path is listed by just this spelling, in every part of it. On a file system that folds names,
// others lead there as well.
func (f *FS) Named(p string) bool {
	for p = path.Clean(p); p != "."; p = path.Dir(p) {
		entries, err := f.ReadDir(path.Dir(p))
		if err != nil || !slices.ContainsFunc(entries, func(e fs.DirEntry) bool { return e.Name() == path.Base(p) }) {
			return false
		}
	}
	return true
}

// syncEach syncs the paths one by one, and the folders that they lie in.
func (f *FS) syncEach(paths []string) error {
	folders := map[string]bool{}
	for _, p := range paths {
		if err := f.syncOne(p); err != nil && !errors.Is(err, fs.ErrNotExist) {
			if info, looked := f.Look(p); looked != nil || !info.IsDir() {
				return err
			}
		}
		folders[path.Dir(p)] = true
	}
	for folder := range folders {
		_ = f.syncOne(folder) // not every system can sync a folder, and one that is gone needs none
	}
	return nil
}

func (f *FS) syncOne(p string) error {
	return f.at("sync", p, func(in *folder, name string) error {
		file, err := in.open(name, false)
		if err != nil {
			return err
		}
		defer file.Close()
		return file.Sync()
	})
}
