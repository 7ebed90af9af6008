package git

import (
	"bytes"
	"crypto/sha1"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"errors"
	"fmt"
	"hash"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/rootfs"
)

// largestIndex is the most bytes that are read of an index: room for some five million files.
const largestIndex = 512 << 20

// indexed is what the index says of one file.
type indexed struct {
	name     string // from the top of the work tree
	hash     string // of the blob, hexadecimal
	size     uint32
	modified time.Time
	changed  time.Time // of the file's inode
	inode    uint32
	absent   bool // a sparse checkout keeps it out of the work tree
	folder   bool // a sparse index has this one entry for all that is below
}

// index is what the index file of a work tree says (gitformat-index).
type index struct {
	entries []indexed
	byPath  map[string]*indexed // by the path from the project's folder
	at      time.Time           // when it was written
	err     error               // why it can't be read
}

// read gives the index, which is read once.
func (w *WorkTree) read() *index {
	w.once.Do(func() {
		w.idx = &index{}
		w.idx.err = w.idx.load(w)
		if w.idx.err != nil {
			w.idx.entries = nil
		}
		w.idx.byPath = make(map[string]*indexed, len(w.idx.entries))
		for i := range w.idx.entries {
			if rest, below := strings.CutPrefix(w.idx.entries[i].name, w.Prefix); below {
				w.idx.byPath[strings.TrimSuffix(rest, "/")] = &w.idx.entries[i]
			}
		}
	})
	return w.idx
}

func (x *index) load(w *WorkTree) error {
	if w.err != nil {
		return w.err
	}
	p := filepath.Join(w.dir, "index")
	text, at, err := rootfs.ReadRegularAt(p, largestIndex)
	if errors.Is(err, fs.ErrNotExist) {
		return nil // nothing is tracked yet
	}
	if err != nil {
		return fmt.Errorf("its index can't be read: %w", err)
	}
	x.at = at
	r := indexReader{hash: w.newHash()}
	if x.entries, err = r.read(text); err != nil {
		return fmt.Errorf("its index can't be read: %w", err)
	}
	if r.base == "" {
		return nil
	}
	text, _, err = rootfs.ReadRegularAt(filepath.Join(w.dir, "sharedindex."+r.base), largestIndex)
	if err != nil {
		return fmt.Errorf("the other part of its index can't be read: %w", err)
	}
	shared := indexReader{hash: w.newHash()}
	base, err := shared.read(text)
	if err != nil || shared.base != "" {
		return errors.Join(errors.New("the other part of its index can't be read"), err)
	}
	x.entries, err = r.merge(base, x.entries)
	return err
}

// newHash is the hash that a repository names its objects by.
func (w *WorkTree) newHash() hash.Hash {
	if w.sha256 {
		return sha256.New()
	}
	return sha1.New()
}

// indexReader reads one index file.
type indexReader struct {
	hash     hash.Hash
	base     string   // the shared index that this one is laid over; empty for none
	deleted  []uint32 // entries of that by their number, which are gone
	replaced []uint32 // and which the first entries here stand for
}

var errIndex = errors.New("it is damaged, or of a form that this program does not know")

// Where things stand in an entry of an index, before its name: ten numbers of four bytes, then the hash and the flags.
const (
	changedAt   = 0
	modifiedAt  = 8
	inodeAt     = 20
	modeAt      = 24
	sizeAt      = 36
	statLength  = 40
	folderMode  = 0o040000
	extended    = 0x4000 // in the flags: two more bytes of flags follow
	skipsFile   = 0x4000 // in these: a sparse checkout leaves the file out
	indexHeader = 12
)

func (r *indexReader) read(text []byte) ([]indexed, error) {
	n := r.hash.Size()
	if len(text) < indexHeader+n || string(text[:4]) != "DIRC" {
		return nil, errIndex
	}
	version, count := binary.BigEndian.Uint32(text[4:]), int(binary.BigEndian.Uint32(text[8:]))
	body, sum := text[:len(text)-n], text[len(text)-n:]
	if version < 2 || version > 4 || count > len(body)/(statLength+n) {
		return nil, errIndex
	}
	r.hash.Write(body)
	if !bytes.Equal(r.hash.Sum(nil), sum) && !bytes.Equal(sum, make([]byte, n)) { // zeros where index.skipHash is set
		return nil, errIndex
	}
	entries := make([]indexed, 0, count)
	at, previous := indexHeader, ""
	for range count {
		e, next, err := readEntry(body, at, n, version, previous)
		if err != nil {
			return nil, err
		}
		entries, at, previous = append(entries, e), next, e.name
	}
	return entries, r.extensions(body[at:])
}

// readEntry reads the entry at a place, and gives where the next one begins.
func readEntry(body []byte, at, hashLength int, version uint32, previous string) (e indexed, next int, err error) {
	if len(body)-at < statLength+hashLength+2 {
		return e, 0, errIndex
	}
	stat := body[at:]
	number := func(i int) uint32 { return binary.BigEndian.Uint32(stat[i:]) }
	stamp := func(i int) time.Time { return time.Unix(int64(number(i)), int64(number(i+4))) }
	e = indexed{
		changed: stamp(changedAt), modified: stamp(modifiedAt), inode: number(inodeAt), size: number(sizeAt),
		hash: hex.EncodeToString(stat[statLength : statLength+hashLength]), folder: number(modeAt) == folderMode,
	}
	p := at + statLength + hashLength
	flags := binary.BigEndian.Uint16(body[p:])
	p += 2
	if flags&extended != 0 {
		if version < 3 || len(body)-p < 2 {
			return e, 0, errIndex
		}
		e.absent = binary.BigEndian.Uint16(body[p:])&skipsFile != 0
		p += 2
	}
	if version == 4 { // the name is what it has other than the one before
		drop, size := varint(body[p:])
		if size == 0 || drop > len(previous) {
			return e, 0, errIndex
		}
		p += size
		previous = previous[:len(previous)-drop]
	} else {
		previous = ""
	}
	end := bytes.IndexByte(body[p:], 0)
	if end < 0 {
		return e, 0, errIndex
	}
	e.name = previous + string(body[p:p+end])
	p += end + 1
	if version < 4 { // zeros up to a multiple of eight
		p = at + (p-at+7)/8*8
	}
	if p > len(body) {
		return e, 0, errIndex
	}
	return e, p, nil
}

// varint reads a number as in an offset of a pack (gitformat-pack), and gives how many bytes it has; 0 for none.
func varint(b []byte) (value, size int) {
	for i, c := range b[:min(len(b), 8)] {
		if i > 0 {
			value++
		}
		value = value<<7 | int(c&0x7f)
		if c&0x80 == 0 {
			return value, i + 1
		}
	}
	return 0, 0
}

// extensions reads what follows the entries. One whose name begins with a small letter must be understood.
func (r *indexReader) extensions(body []byte) error {
	for len(body) > 0 {
		if len(body) < 8 {
			return errIndex
		}
		name, size := string(body[:4]), int(binary.BigEndian.Uint32(body[4:]))
		if size > len(body)-8 {
			return errIndex
		}
		content := body[8 : 8+size]
		switch {
		case name == "link":
			if err := r.link(content); err != nil {
				return err
			}
		case name == "sdir": // it may have entries for folders
		case name[0] >= 'a' && name[0] <= 'z':
			return fmt.Errorf("it has a part %q that this program does not know", name)
		}
		body = body[8+size:]
	}
	return nil
}

func (r *indexReader) link(content []byte) error {
	n := r.hash.Size()
	if len(content) < n {
		return errIndex
	}
	if base := content[:n]; !bytes.Equal(base, make([]byte, n)) {
		r.base = hex.EncodeToString(base)
	}
	rest := content[n:]
	var err error
	for _, into := range []*[]uint32{&r.deleted, &r.replaced} {
		if len(rest) == 0 {
			return nil
		}
		if *into, rest, err = bitmap(rest); err != nil {
			return err
		}
	}
	return nil
}

// mostBits is more than an index of the largest size has entries.
const mostBits = largestIndex / statLength

// bitmap reads the numbers of the bits that are set (gitformat-bitmap, appendix A).
func bitmap(b []byte) (set []uint32, rest []byte, err error) {
	if len(b) < 8 {
		return nil, nil, errIndex
	}
	words := int(binary.BigEndian.Uint32(b[4:]))
	if words > (len(b)-8)/8 || len(b) < 8+8*words+4 {
		return nil, nil, errIndex
	}
	word := func(i int) uint64 { return binary.BigEndian.Uint64(b[8+8*i:]) }
	bit := uint64(0)
	for i := 0; i < words; {
		marker := word(i)
		i++
		run, literals := marker>>1&0xffffffff*64, int(marker>>33)
		if run > mostBits || literals > words-i {
			return nil, nil, errIndex
		}
		if marker&1 != 0 {
			for n := range run {
				set = append(set, uint32(bit+n))
			}
		}
		bit += run
		for range literals {
			for n := range uint64(64) {
				if word(i)>>n&1 != 0 {
					set = append(set, uint32(bit+n))
				}
			}
			bit += 64
			i++
		}
		if bit > mostBits {
			return nil, nil, errIndex
		}
	}
	return set, b[8+8*words+4:], nil
}

// merge lays the entries of a split index over those that it shares.
func (r *indexReader) merge(base, own []indexed) ([]indexed, error) {
	if len(r.replaced) > len(own) {
		return nil, errIndex
	}
	gone := make([]bool, len(base))
	for i, at := range r.replaced {
		if int(at) >= len(base) {
			return nil, errIndex
		}
		if own[i].name == "" {
			own[i].name = base[at].name
		}
		gone[at] = true
	}
	for _, at := range r.deleted {
		if int(at) >= len(base) {
			return nil, errIndex
		}
		gone[at] = true
	}
	for i, e := range base {
		if !gone[i] {
			own = append(own, e)
		}
	}
	slices.SortFunc(own, func(a, b indexed) int { return strings.Compare(a.name, b.name) })
	return own, nil
}
