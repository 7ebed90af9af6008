package journal

import (
	"bytes"
	"fmt"
	"io"
	"path"
	"strconv"

	"crookedshelf/internal/parallel"
)

// The pack has the old contents one behind the other, each behind a line of its own that says what follows, so that a
// content can be found without the record as well:
//
//	crooked old SIZE SHA-256 "PATH"
//
// The path is quoted as in Go. Behind each content stands a line end.
const packHead = "crooked old "

func packLine(f *Entry) []byte {
	return fmt.Appendf(nil, "%s%d %s %s\n", packHead, f.Size, f.Before, strconv.Quote(f.From))
}

// packOf lays out the pack, and writes down where each content is in it.
func (r *Record) packOf(changes []Change) [][]byte {
	out := make([][]byte, 0, 3*len(changes))
	var at int64
	for i := range r.Files {
		f := &r.Files[i]
		if f.From == "" {
			f.Offset = at
			continue
		}
		head := packLine(f)
		f.Offset = at + int64(len(head))
		at = f.Offset + f.Size + 1
		out = append(out, head, changes[i].Before, []byte("\n"))
	}
	return out
}

// readPack reads the old contents and gives those that are whole, by the number of the file; damaged names the others.
func (r *Record) readPack(disk Disk) (old [][]byte, damaged []string, err error) {
	pack, err := disk.ReadFile(path.Join(r.folder(), packFile), noLimit)
	if err != nil {
		return nil, nil, err
	}
	old = make([][]byte, len(r.Files))
	parallel.Do(len(r.Files), func(i int) {
		f := &r.Files[i]
		if f.From == "" || f.Offset < 0 || f.Size < 0 || f.Offset > int64(len(pack)) ||
			f.Size > int64(len(pack))-f.Offset {
			return
		}
		if content := pack[f.Offset : f.Offset+f.Size]; sum(content) == f.Before {
			old[i] = content
		}
	})
	var at int64 // what stands between the contents is looked at as well
	for i := range r.Files {
		f := &r.Files[i]
		if f.From == "" {
			continue
		}
		head := packLine(f)
		if old[i] == nil || at+int64(len(head)) != f.Offset || !bytes.Equal(pack[at:f.Offset], head) ||
			f.Offset+f.Size >= int64(len(pack)) || pack[f.Offset+f.Size] != '\n' {
			damaged = append(damaged, f.From)
		}
		at = f.Offset + f.Size + 1
	}
	if len(damaged) == 0 && at != int64(len(pack)) {
		damaged = append(damaged, "what stands behind the last content")
	}
	return old, damaged, nil
}

// findInPack looks for the old content of a path in a pack, without a record. A content that is not whole is passed
// over.
func findInPack(pack []byte, p string) ([]byte, bool) {
	for len(pack) > 0 {
		start := bytes.Index(pack, []byte(packHead))
		if start < 0 {
			return nil, false
		}
		pack = pack[start+len(packHead):]
		line, rest, whole := bytes.Cut(pack, []byte("\n"))
		if !whole {
			return nil, false
		}
		var size int64
		var hash, quoted string
		if n, err := fmt.Sscanf(string(line[:min(len(line), 1<<16)]), "%d %s %q", &size, &hash, &quoted); err != nil &&
			err != io.EOF || n != 3 {
			continue
		}
		if quoted == p && size >= 0 && size <= int64(len(rest)) && sum(rest[:size]) == hash {
			return rest[:size], true
		}
	}
	return nil, false
}
