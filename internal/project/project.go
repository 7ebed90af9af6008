// Package project is the tree in memory: every file that git would not ignore, and the contents that were asked for.
//
// Links are listed and never followed, other things than files and folders are left out, nothing is written. An overlay
// (overlay.go) is the same tree with moves and edits laid over it.
package project

import (
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"crookedshelf/internal/parallel"
)

// FileID is a file's index in Project.Files. The files are sorted by path, so the order of IDs is the order of paths.
type FileID int32

// None stands for no file.
const None FileID = -1

// MaxSource is the size in bytes above which a file is listed and not read.
const MaxSource = 512 << 20

// File is one file of the tree.
type File struct {
	Path string // slash-separated, relative to the root
	Link bool   // a symbolic link
}

// Source is the disk, as far as this package needs it; rootfs.FS is the real one. Paths are slash-separated and
// relative to the root; "." is the root.
type Source interface {
	ReadDir(dir string) ([]fs.DirEntry, error)
	// ReadInto reads a regular file of at most limit bytes; anything else is an error. The content is put into room,
	// which may be nil, if that is large enough.
	ReadInto(buf []byte, path string, limit int64) ([]byte, error)
}

// Project is a tree. It is not changed once it is made, save that contents are read into it.
type Project struct {
	Files    []File
	Warnings []string // what could not be listed, one sentence each

	index    map[string]FileID
	dirs     map[string]struct{}
	source   Source
	outer    *ruleSet        // ignore rules from outside
	own      map[string]bool // folders that are repositories of their own
	contents []content
	slabs    sync.Pool // of the contents that are kept
	under    *under    // nil unless this is an overlay
	cameOnce sync.Once
	came     map[FileID]FileID // of the tree that this one is laid over, where they are here
	read     atomic.Int64      // files that ForEach has read
	since    []atomic.Int64    // when ForEach began with each file, in nanoseconds; 0 where it is not at it
}

type content struct {
	once  sync.Once // reads it
	bytes []byte
	err   error
	says  atomic.Pointer[saying]
}

// saying is what a file's content says to its one reader.
type saying struct {
	value any
	err   error
}

// Lookup gives the file at a path.
func (p *Project) Lookup(path string) (FileID, bool) {
	id, ok := p.index[path]
	return id, ok
}

// LookupParts gives the file at a path that is written in two parts.
func (p *Project) LookupParts(stem, ending string) (FileID, bool) {
	var buf [256]byte
	id, ok := p.index[string(append(append(buf[:0], stem...), ending...))]
	return id, ok
}

// IsDir says whether a file lies below the path. The root is ".".
func (p *Project) IsDir(path string) bool {
	_, ok := p.dirs[path]
	return ok
}

// Dir is path.Dir of a path in its shortest form.
func Dir(p string) string {
	if slash := strings.LastIndexByte(p, '/'); slash >= 0 {
		return p[:slash]
	}
	return "."
}

// Folders are the folders that hold a file of the tree, the root too, in the order of their paths.
func (p *Project) Folders() []string { return slices.Sorted(maps.Keys(p.dirs)) }

// Path is the path of a file.
func (p *Project) Path(id FileID) string { return p.Files[id].Path }

// Content gives the bytes of a file, which is read once. They must not be changed. It is safe for use by several
// goroutines.
func (p *Project) Content(id FileID) ([]byte, error) {
	c := &p.contents[id]
	c.once.Do(func() {
		switch {
		case c.bytes != nil:
		case p.under != nil: // most of it is in memory already
			c.bytes, c.err = p.readFile(nil, id)
		default:
			s, _ := p.slabs.Get().(*slab)
			if s == nil {
				s = &slab{}
			}
			c.bytes, c.err = s.keep(func(buf []byte) ([]byte, error) { return p.readFile(buf, id) })
			p.slabs.Put(s)
		}
	})
	return c.bytes, c.err
}

// Says gives what a file's content says, as its one reader understands it. It is read once, also for the trees that are
// laid over this one or follow it; nobody may change it.
func Says[T any](p *Project, id FileID, read func(content []byte) (T, error)) (T, error) {
	if p.under != nil && p.under.edits[id] == nil && p.under.ids[id] != None {
		return Says(p.under.tree, p.under.ids[id], read)
	}
	c := &p.contents[id]
	s := c.says.Load()
	if s == nil {
		s = &saying{}
		p.Peek(id, func(content []byte, err error) {
			if s.err = err; err == nil {
				s.value, s.err = read(content)
			}
		})
		c.says.Store(s)
	}
	value, _ := s.value.(T)
	return value, s.err
}

// Adopt takes over what another tree of the same disk has read: of gives, for each file of this tree, the same file
// there, or None.
func (p *Project) Adopt(other *Project, of []FileID) {
	for id, there := range of {
		if there != None {
			p.contents[id].bytes = other.contents[there].bytes
			p.contents[id].says.Store(other.contents[there].says.Load())
		}
	}
}

// ReadOutside reads a file that the tree does not list because git ignores it, such as a package's settings.
func (p *Project) ReadOutside(path string) ([]byte, error) {
	if id, ok := p.Lookup(path); ok {
		return p.Content(id)
	}
	return p.source.ReadInto(nil, path, MaxSource)
}

func (p *Project) readFile(buf []byte, id FileID) ([]byte, error) {
	if p.under != nil {
		return p.under.read(buf, id)
	}
	f := p.Files[id]
	if f.Link {
		return nil, fmt.Errorf("%s is a link, which is not followed", f.Path)
	}
	b, err := p.source.ReadInto(buf, f.Path, MaxSource)
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", f.Path, cause(err))
	}
	return b, nil
}

// cause strips the path that the standard library puts into its errors.
func cause(err error) error {
	if pe, ok := err.(*fs.PathError); ok {
		return pe.Err
	}
	return err
}

// InOneOf says whether a file lies in one of some folders, or below one.
func InOneOf(folders map[string]bool, path string) bool {
	for dir := Dir(path); dir != "."; dir = Dir(dir) {
		if folders[dir] {
			return true
		}
	}
	return false
}

// Read says how many files ForEach has read, each counted once at the most.
func (p *Project) Read() int { return min(int(p.read.Load()), len(p.Files)) }

// Slow gives the file that has been read, and looked at, for the longest time, and for how long; empty for none.
func (p *Project) Slow() (path string, since time.Duration) {
	first := int64(0)
	for id := range p.since {
		if at := p.since[id].Load(); at != 0 && (first == 0 || at < first) {
			first, path = at, p.Files[id].Path
		}
	}
	if first == 0 {
		return "", 0
	}
	return path, time.Since(time.Unix(0, first))
}

// Nearest walks up from a folder to the first that has an entry; nil for none.
func Nearest[T any](entries map[string]*T, dir string) *T {
	for ; ; dir = path.Dir(dir) {
		if e := entries[dir]; e != nil {
			return e
		}
		if dir == "." || dir == "/" || dir == ".." || strings.HasPrefix(dir, "../") {
			return nil
		}
	}
}

// Peek calls f with the content of a file, which is not kept: it is gone when f returns.
func (p *Project) Peek(id FileID, f func(content []byte, err error)) {
	if p.under != nil && p.under.edits[id] == nil { // it is in memory
		f(p.Content(id))
		return
	}
	buf := rooms.Get().(*[]byte)
	content, err := p.readFile(*buf, id)
	f(content, err)
	if cap(content) > cap(*buf) && cap(content) <= largestRoom {
		*buf = content[:cap(content)]
	}
	rooms.Put(buf)
}

// rooms are what files are read into that are not kept.
var rooms = sync.Pool{New: func() any {
	buf := make([]byte, 1<<16)
	return &buf
}}

const largestRoom = 1 << 22

// ForEach reads the files and calls f for each with its content, on all cores; with keep the content stays in memory,
// else it is gone when f returns. f must be safe to call so; the order of the calls is not fixed.
func (p *Project) ForEach(ids []FileID, keep bool, f func(id FileID, content []byte, err error)) {
	parallel.Do(len(ids), func(i int) {
		id := ids[i]
		p.read.Add(1)
		p.since[id].Store(time.Now().UnixNano())
		defer p.since[id].Store(0)
		if keep {
			content, err := p.Content(id)
			f(id, content, err)
			return
		}
		p.Peek(id, func(content []byte, err error) { f(id, content, err) })
	})
}

// build sorts the files and makes the indexes.
func (p *Project) build() {
	parallel.Sort(p.Files, func(a, b File) int { return strings.Compare(a.Path, b.Path) })
	p.indexFiles()
}

func (p *Project) indexFiles() {
	var dirs sync.WaitGroup
	dirs.Go(p.indexFolders)
	p.index = make(map[string]FileID, len(p.Files))
	for i, f := range p.Files {
		p.index[f.Path] = FileID(i)
	}
	dirs.Wait()
}

func (p *Project) indexFolders() {
	p.dirs = map[string]struct{}{".": {}}
	last := ""
	for _, f := range p.Files {
		dir := Dir(f.Path)
		if dir == last {
			continue
		}
		last = dir
		for d := dir; d != "."; d = Dir(d) {
			if _, have := p.dirs[d]; have {
				break
			}
			p.dirs[d] = struct{}{}
		}
	}
}

// Below gives the files that lie below a folder: those from the first ID up to and without the second.
func (p *Project) Below(dir string) (from, to FileID) {
	if dir == "." {
		return 0, FileID(len(p.Files))
	}
	prefix := dir + "/"
	start, _ := slices.BinarySearchFunc(p.Files, prefix,
		func(f File, prefix string) int { return strings.Compare(f.Path, prefix) })
	// 0 follows /
	end, _ := slices.BinarySearchFunc(p.Files, dir+"0",
		func(f File, end string) int { return strings.Compare(f.Path, end) })
	return FileID(start), FileID(end)
}
