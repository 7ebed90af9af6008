package git

import (
	"bytes"
	"encoding/hex"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"

	"crookedshelf/internal/rootfs"
)

// Tracked lists what git tracks below the folder, as paths from the folder, in order.
func (w *WorkTree) Tracked() []string {
	x := w.read()
	out := make([]string, 0, len(x.byPath))
	for p, e := range x.byPath {
		if !e.folder {
			out = append(out, p)
		}
	}
	slices.Sort(out)
	return out
}

// Absent counts the files that a sparse checkout keeps out of the work tree, and the folders of which the index has no
// more than the name.
func (w *WorkTree) Absent() (files, folders int) {
	for _, e := range w.read().entries {
		switch {
		case e.absent && e.folder:
			folders++
		case e.absent:
			files++
		}
	}
	return files, folders
}

// Modified says which of some files, given by their paths from the folder, differ from what the index has; those that
// git does not track do. Nothing is asked of git itself, so no filter that the repository configures can run: a file
// whose content only a filter makes equal counts as modified, unless all that the system says of it is as git saw it
// last.
func (w *WorkTree) Modified(paths []string) []string {
	x := w.read()
	var out []string
	for _, p := range paths {
		e, tracked := x.byPath[p]
		if !tracked || w.differs(p, e) {
			out = append(out, p)
		}
	}
	return out
}

// Renamed says which files that git tracks are gone and lie elsewhere with the same content, by their old paths. files
// are all that there are. Of several with one content, the one of the same name is it.
func (w *WorkTree) Renamed(files []string) map[string]string {
	x := w.read()
	gone := map[string][]string{} // by hash
	there := map[string]bool{}
	for _, p := range files {
		there[p] = true
	}
	for p, e := range x.byPath {
		if !there[p] && !e.folder && !e.absent {
			gone[e.hash] = append(gone[e.hash], p)
		}
	}
	out := map[string]string{}
	if len(gone) == 0 {
		return out
	}
	for _, p := range files {
		if _, tracked := x.byPath[p]; tracked {
			continue
		}
		content, err := rootfs.ReadRegular(filepath.Join(w.Top, filepath.FromSlash(w.Prefix), filepath.FromSlash(p)), 1<<24)
		if err != nil {
			continue
		}
		old := gone[w.blob(content)]
		slices.Sort(old)
		i := slices.IndexFunc(old, func(was string) bool { return path.Base(was) == path.Base(p) })
		if len(old) == 1 {
			i = 0
		}
		if i >= 0 && out[old[i]] == "" {
			out[old[i]] = p
		}
	}
	return out
}

func (w *WorkTree) differs(p string, e *indexed) bool {
	file := filepath.Join(w.Top, filepath.FromSlash(w.Prefix), filepath.FromSlash(p))
	info, err := rootfs.LookAt(file)
	if err != nil {
		return !e.absent
	}
	// A file that was written when the index was may have changed since without a trace (git-racy). The time of the
	// inode is the system's own: a program that sets a file's time back does not set it.
	if uint32(info.Size) == e.size && info.Modified.Equal(e.modified) && info.Changed.Equal(e.changed) &&
		uint32(info.ID.Inode) == e.inode && e.modified.Before(w.idx.at) {
		return false
	}
	if info.Mode&fs.ModeSymlink != 0 {
		target, err := os.Readlink(file)
		return err != nil || w.blob([]byte(target)) != e.hash
	}
	const most = 1 << 30
	content, err := rootfs.ReadRegular(file, most)
	if err != nil {
		return true
	}
	return w.blob(content) != e.hash && w.blob(bytes.ReplaceAll(content, []byte("\r\n"), []byte("\n"))) != e.hash
}

// blob is the name of a content in the repository (gitformat-pack).
func (w *WorkTree) blob(content []byte) string {
	h := w.newHash()
	fmt.Fprintf(h, "blob %d\x00", len(content))
	h.Write(content)
	return hex.EncodeToString(h.Sum(nil))
}

// Unfinished names what git is in the middle of, such as a merge; empty for nothing.
func (w *WorkTree) Unfinished() string {
	for _, sign := range []struct{ file, what string }{
		{"MERGE_HEAD", "a merge"}, {"CHERRY_PICK_HEAD", "a cherry-pick"}, {"REVERT_HEAD", "a revert"},
		{"rebase-merge", "a rebase"}, {"rebase-apply", "a rebase"}, {"BISECT_LOG", "a bisect"},
	} {
		if _, err := os.Lstat(filepath.Join(w.dir, sign.file)); err == nil {
			return sign.what
		}
	}
	return ""
}

// Detached says whether the work tree is on no branch.
func (w *WorkTree) Detached() bool {
	text, err := rootfs.ReadRegular(filepath.Join(w.dir, "HEAD"), largestPointer)
	return err == nil && !bytes.HasPrefix(text, []byte("ref:"))
}
