//go:build linux

package journal

import (
	"io/fs"
	"os"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"

	"crookedshelf/internal/project/projecttest"
)

// identity is all that a file is beside its content and name.
type identity struct {
	inode    uint64
	links    uint64
	mode     fs.FileMode
	uid, gid uint32
	modified time.Time
	note     string
}

func identities(t *testing.T, dir string) map[string]identity {
	t.Helper()
	out := map[string]identity{}
	require.NoError(t, filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		rel, _ := filepath.Rel(dir, p)
		if err != nil || rel == Folder {
			return fs.SkipDir
		}
		info, err := os.Lstat(p)
		require.NoError(t, err)
		stat := info.Sys().(*syscall.Stat_t)
		one := identity{mode: info.Mode(), uid: stat.Uid, gid: stat.Gid}
		value := make([]byte, 100)
		if n, err := unix.Lgetxattr(p, "user.note", value); err == nil {
			one.note = string(value[:n])
		}
		if !d.IsDir() {
			one.inode, one.links, one.modified = stat.Ino, stat.Nlink, info.ModTime()
		}
		out[rel] = one
		return nil
	}))
	return out
}

// Undo gives back the very files, of swaps and chains and edits as well: the same inode with its hard links,
// permissions with their special bits, owner, group, extended attributes and time. Folders that went come back with
// theirs.
func TestUndoGivesBackTheVeryFiles(t *testing.T) {
	t.Parallel()
	dir := lay(t)
	owner := 0
	for _, p := range []string{"a.ts", "in", "in/b.ts", "in/deep", "in/deep/c.ts", "in/mark", "x.ts", "y.ts", "Case.ts",
		"stays.ts", "chain/1", "chain/2"} {
		at := filepath.Join(dir, p)
		owner++
		_ = unix.Setxattr(at, "user.note", []byte("of "+p), 0)
		if os.Geteuid() == 0 {
			require.NoError(t, os.Chown(at, 1000+owner, 2000+owner))
		}
		info, err := os.Stat(at)
		require.NoError(t, err)
		if info.IsDir() {
			require.NoError(t, os.Chmod(at, fs.ModeSetgid|fs.ModeSticky|0o751))
			continue
		}
		require.NoError(t, os.Chmod(at,
			fs.FileMode(0o600+owner%8)|map[bool]fs.FileMode{true: fs.ModeSetgid}[owner%2 == 0]))
		require.NoError(t, os.Link(at, filepath.Join(dir, "link-"+filepath.Base(p))))
		require.NoError(t, os.Chtimes(at, time.Time{}, time.Date(2400, 1, owner, 1, 2, 3, 456789, time.UTC)))
	}
	old, contents := identities(t, dir), projecttest.Read(t, dir)
	for _, how := range []string{"whole", "the journal's own files are gone"} {
		disk := open(t, dir)
		locked(t, dir, disk, func() {
			r, err := of(disk).Apply("test", Part{}, changes(), when)
			require.NoError(t, err)
			for from, to := range map[string]string{"a.ts": "new/a.ts", "x.ts": "y.ts", "chain/1": "chain/2",
				"Case.ts": "case.ts"} {
				assert.Equal(t, old[from].inode, identities(t, dir)[to].inode, "a moved file is the same file")
			}
			for from, to := range map[string]string{"in/b.ts": "new/b.ts", "y.ts": "x.ts", "stays.ts": "stays.ts"} {
				now := identities(t, dir)[to]
				assert.Equal(t, old[from].mode, now.mode, from)
				assert.Equal(t, [2]uint32{old[from].uid, old[from].gid}, [2]uint32{now.uid, now.gid}, from)
				assert.Equal(t, old[from].note, now.note, from)
				assert.NotEqual(t, old[from].inode, now.inode, "other names of the file keep the old content")
			}
			if how != "whole" {
				require.NoError(t, os.RemoveAll(filepath.Join(dir, r.folder(), "held")))
			}
			_, err = undoLast(disk)
			require.NoError(t, err)
		})
		assert.Equal(t, contents, projecttest.Read(t, dir), how)
		now := identities(t, dir)
		for p, one := range old {
			// what was edited is written anew: its links and extended attributes are lost with the file
			if how != "whole" {
				one.inode, one.links, one.note = now[p].inode, now[p].links, now[p].note
			}
			assert.Equal(t, one, now[p], "%s, %s", p, how)
		}
	}
}

// A year that has no form as a time in JSON comes back as well, where the file system keeps it.
func TestFarYears(t *testing.T) {
	t.Parallel()
	m, all := few()
	far := time.Date(12025, 6, 7, 8, 9, 10, 11, time.UTC)
	m.files["c.ts"].modified = far
	m.files["old/a.ts"].modified = far
	old := m.shown()
	_, err := of(m).Apply("far", Part{}, all, far)
	require.NoError(t, err)
	delete(m.files, recordsFolder+"/0001/held/2")
	_, err = undone(m)
	require.NoError(t, err)
	assert.Equal(t, old["old/a.ts"], m.shown()["old/a.ts"])
	assert.True(t, m.files["c.ts"].modified.Equal(far), "from the pack")
}
