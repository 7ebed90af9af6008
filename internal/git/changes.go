package git

import (
	"bytes"
	"crypto/sha1"
	"encoding/hex"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-git/go-git/v5/plumbing/format/index"
)

// indexed is what the index says of one file.
type indexed struct {
	hash     string // of the blob, hexadecimal
	size     uint32
	modified time.Time
	absent   bool // a sparse checkout keeps it out of the work tree
}

// readIndex reads the index; nil if there is none or it can't be read. at is when it was written.
func (w *WorkTree) readIndex() (entries map[string]indexed, at time.Time) {
	f, err := os.Open(filepath.Join(w.dir, "index"))
	if err != nil {
		return nil, at
	}
	defer f.Close()
	if info, err := f.Stat(); err == nil {
		at = info.ModTime()
	}
	var idx index.Index
	if err := index.NewDecoder(f).Decode(&idx); err != nil {
		return nil, at
	}
	entries = make(map[string]indexed, len(idx.Entries))
	for _, e := range idx.Entries {
		if rest, ok := strings.CutPrefix(e.Name, w.Prefix); ok {
			entries[path.Clean(rest)] = indexed{hash: e.Hash.String(), size: e.Size, modified: e.ModifiedAt, absent: e.SkipWorktree}
		}
	}
	return entries, at
}

// Tracked lists what git tracks below the folder, as paths from the folder, in order.
func (w *WorkTree) Tracked() []string {
	entries, _ := w.readIndex()
	out := make([]string, 0, len(entries))
	for p := range entries {
		out = append(out, p)
	}
	slices.Sort(out)
	return out
}

// Absent counts the files that a sparse checkout keeps out of the work tree.
func (w *WorkTree) Absent() int {
	entries, _ := w.readIndex()
	n := 0
	for _, e := range entries {
		if e.absent {
			n++
		}
	}
	return n
}

// Modified says which of some files, given by their paths from the folder, differ from what the index has; those that git does
// not track do. Nothing is asked of git itself, so no filter that the repository configures can run: a file whose content only
// a filter makes equal counts as modified, unless its size and time say that nobody has touched it.
func (w *WorkTree) Modified(paths []string) []string {
	entries, at := w.readIndex()
	var out []string
	for _, p := range paths {
		e, tracked := entries[p]
		if !tracked || w.differs(p, e, at) {
			out = append(out, p)
		}
	}
	return out
}

func (w *WorkTree) differs(p string, e indexed, at time.Time) bool {
	file := filepath.Join(w.Top, filepath.FromSlash(w.Prefix), filepath.FromSlash(p))
	info, err := os.Lstat(file)
	if err != nil {
		return !e.absent
	}
	// a file that was written when the index was may have changed since without a trace (git-racy)
	if info.Size() == int64(e.size) && info.ModTime().Equal(e.modified) && e.modified.Before(at) {
		return false
	}
	if !info.Mode().IsRegular() {
		target, err := os.Readlink(file)
		return err != nil || blob([]byte(target)) != e.hash
	}
	const most = 1 << 30
	f, err := os.Open(file)
	if err != nil {
		return true
	}
	defer f.Close()
	content, err := io.ReadAll(io.LimitReader(f, most))
	if err != nil {
		return true
	}
	return blob(content) != e.hash && blob(bytes.ReplaceAll(content, []byte("\r\n"), []byte("\n"))) != e.hash
}

// blob is the name of a content in a repository of SHA-1 (gitformat-pack).
func blob(content []byte) string {
	h := sha1.New()
	fmt.Fprintf(h, "blob %d\x00", len(content))
	h.Write(content)
	return hex.EncodeToString(h.Sum(nil))
}

// Unfinished names what git is in the middle of, such as a merge; empty for nothing.
func (w *WorkTree) Unfinished() string {
	for _, sign := range []struct{ file, what string }{
		{"MERGE_HEAD", "a merge"}, {"CHERRY_PICK_HEAD", "a cherry-pick"}, {"REVERT_HEAD", "a revert"}, {"rebase-merge", "a rebase"}, {"rebase-apply", "a rebase"}, {"BISECT_LOG", "a bisect"},
	} {
		if _, err := os.Lstat(filepath.Join(w.dir, sign.file)); err == nil {
			return sign.what
		}
	}
	return ""
}

// Detached says whether the work tree is on no branch.
func (w *WorkTree) Detached() bool {
	text, err := os.ReadFile(filepath.Join(w.dir, "HEAD"))
	return err == nil && !bytes.HasPrefix(text, []byte("ref:"))
}
