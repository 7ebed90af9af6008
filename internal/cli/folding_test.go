//go:build linux

package cli_test

import (
	"bufio"
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/hanwen/go-fuse/v2/fs"
	"github.com/hanwen/go-fuse/v2/fuse"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"

	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

// folding is a node of a file system over a folder of the disk, on which names are one that differ in case or in the
// form of an accent. It keeps names as they were spelled, as those of desktop systems do. The system below it does the
// rest: it does nothing, for example, when it is asked to rename a file to a name that is the file's already.
type folding struct {
	fs.Inode
	store string // the folder on the disk
	plain bool   // it knows no way of renaming but the one that replaces
}

// servesFolding names the folder that is mounted and the one that is served, for a process that does nothing else: one
// that starts others in a folder which it serves itself waits for itself.
const servesFolding = "TEST_SERVES_FOLDING"

func init() {
	served := strings.Split(os.Getenv(servesFolding), ":")
	if len(served) != 3 {
		return
	}
	dir, root := served[0], &folding{store: served[1], plain: served[2] == "plain"}
	var always time.Duration
	server, err := fs.Mount(dir, root, &fs.Options{
		EntryTimeout: &always, AttrTimeout: &always, NegativeTimeout: &always,
		MountOptions: fuse.MountOptions{DirectMountStrict: true, FsName: "folding", Name: "folding"},
	})
	fmt.Println(cmp.Or(err, errors.New("mounted")))
	if err == nil {
		server.Wait()
	}
	os.Exit(0)
}

// mountFolding gives an empty folder on such a file system.
func mountFolding(t *testing.T, renames string) string {
	t.Helper()
	dir, store := t.TempDir(), t.TempDir()
	server := exec.Command(os.Args[0])
	server.Env = append(os.Environ(), servesFolding+"="+dir+":"+store+":"+renames)
	out, err := server.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, server.Start())
	said, _ := bufio.NewReader(out).ReadString('\n')
	t.Cleanup(func() {
		if said == "mounted\n" {
			assert.NoError(t, syscall.Unmount(dir, syscall.MNT_DETACH))
		}
		_ = server.Process.Kill()
		_ = server.Wait()
	})
	if said != "mounted\n" {
		require.Empty(t, os.Getenv("CI"), "nothing can be mounted: %s", said)
		t.Skipf("nothing can be mounted: %s", said)
	}
	return dir
}

// at is the path on the disk of the node, or of a name in it.
func (n *folding) at(names ...string) string {
	p := n.store
	for _, name := range append(strings.Split(n.Path(n.Root()), "/"), names...) {
		entries, _ := os.ReadDir(p)
		for _, e := range entries {
			if project.Fold(e.Name()) == project.Fold(name) {
				name = e.Name()
				break
			}
		}
		p = filepath.Join(p, name)
	}
	return p
}

func (n *folding) Lookup(ctx context.Context, name string, out *fuse.EntryOut) (*fs.Inode, syscall.Errno) {
	var stat syscall.Stat_t
	if err := syscall.Lstat(n.at(name), &stat); err != nil {
		return nil, fs.ToErrno(err)
	}
	out.FromStat(&stat)
	return n.NewInode(ctx, &folding{store: n.store, plain: n.plain}, fs.StableAttr{Mode: stat.Mode, Ino: stat.Ino}), 0
}

func (n *folding) Getattr(_ context.Context, _ fs.FileHandle, out *fuse.AttrOut) syscall.Errno {
	var stat syscall.Stat_t
	err := syscall.Lstat(n.at(), &stat)
	out.FromStat(&stat)
	return fs.ToErrno(err)
}

func (n *folding) Setattr(ctx context.Context, f fs.FileHandle, in *fuse.SetAttrIn, out *fuse.AttrOut) syscall.Errno {
	p := n.at()
	if mode, ok := in.GetMode(); ok {
		if err := syscall.Chmod(p, mode); err != nil {
			return fs.ToErrno(err)
		}
	}
	if size, ok := in.GetSize(); ok {
		if err := os.Truncate(p, int64(size)); err != nil {
			return fs.ToErrno(err)
		}
	}
	if modified, ok := in.GetMTime(); ok {
		if err := os.Chtimes(p, time.Time{}, modified); err != nil {
			return fs.ToErrno(err)
		}
	}
	return n.Getattr(ctx, f, out)
}

func (n *folding) Mkdir(ctx context.Context, name string, mode uint32, out *fuse.EntryOut) (*fs.Inode, syscall.Errno) {
	if err := syscall.Mkdir(n.at(name), mode); err != nil {
		return nil, fs.ToErrno(err)
	}
	return n.Lookup(ctx, name, out)
}

func (n *folding) Rmdir(_ context.Context, name string) syscall.Errno {
	return fs.ToErrno(syscall.Rmdir(n.at(name)))
}

func (n *folding) Unlink(_ context.Context, name string) syscall.Errno {
	return fs.ToErrno(syscall.Unlink(n.at(name)))
}

func (n *folding) Rename(_ context.Context, name string, to fs.InodeEmbedder, newName string,
	flags uint32) syscall.Errno {
	folder, ok := to.(*folding)
	if !ok {
		return syscall.EXDEV
	}
	from, target := n.at(name), folder.at(newName)
	switch _, err := os.Lstat(target); {
	case flags != 0 && n.plain:
		return syscall.EINVAL
	case flags == unix.RENAME_EXCHANGE:
		return fs.ToErrno(unix.Renameat2(unix.AT_FDCWD, from, unix.AT_FDCWD, target, unix.RENAME_EXCHANGE))
	case flags == unix.RENAME_NOREPLACE && err == nil:
		return syscall.EEXIST
	}
	if err := syscall.Rename(from, target); err != nil {
		return fs.ToErrno(err)
	}
	return fs.ToErrno(syscall.Rename(target, filepath.Join(filepath.Dir(target), newName)))
}

func (n *folding) Create(ctx context.Context, name string, flags, mode uint32, out *fuse.EntryOut) (*fs.Inode,
	fs.FileHandle, uint32, syscall.Errno) {
	fd, err := syscall.Open(n.at(name), int(flags)|syscall.O_CREAT, mode)
	if err != nil {
		return nil, nil, 0, fs.ToErrno(err)
	}
	child, errno := n.Lookup(ctx, name, out)
	return child, fs.NewLoopbackFile(fd), 0, errno
}

func (n *folding) Open(_ context.Context, flags uint32) (fs.FileHandle, uint32, syscall.Errno) {
	fd, err := syscall.Open(n.at(), int(flags), 0)
	return fs.NewLoopbackFile(fd), 0, fs.ToErrno(err)
}

func (n *folding) Readdir(context.Context) (fs.DirStream, syscall.Errno) {
	stream, errno := fs.NewLoopbackDirStream(n.at())
	return stream, errno
}

const unlike = `-- crooked.yaml --
crooked: 1
leave: { stay: [src/*] }
shelves:
  cards: { at: src/cards/, from: [src/Cards/**], names: { files: pascal } }
  tools: { at: src/tools/, from: [src/utils/**], names: { files: pascal } }
-- src/main.ts --
import './Cards/night'
import './Cards/Deep/moon'
import './utils/Dates'
import './utils/café'
-- src/Cards/night.ts --
import './Deep/moon'
import '../utils/Dates'
-- src/Cards/Deep/moon.ts --
export const moon = 1
-- src/utils/Dates.ts --
import '../Cards/night'
-- src/utils/café.ts --
export const open = true
`

// On a file system that folds names, files and folders are renamed by case alone, and come back as they were spelled:
// at once, in steps, after the program was killed, and with commits.
func TestNamesThatDifferByCaseAlone(t *testing.T) {
	t.Parallel()
	for _, renames := range []string{"all ways of renaming", "plain"} {
		t.Run(renames, func(t *testing.T) { namesThatDifferByCaseAlone(t, renames) })
	}
}

func namesThatDifferByCaseAlone(t *testing.T, renames string) {
	dir := mountFolding(t, renames)
	projecttest.Write(t, dir, unlike)
	require.FileExists(t, filepath.Join(dir, "SRC/CARDS/night.ts"), "names are folded here")
	require.FileExists(t, filepath.Join(dir, "src/utils/cafe\u0301.ts"), "and accents composed")
	old := projecttest.Read(t, dir)
	straighten := func(args ...string) {
		t.Helper()
		made := run(t, dir, append([]string{"straighten", "--rename", "--yes"}, args...)...)
		require.Equal(t, 0, made.code, made.out+made.err)
	}
	straighten()
	want := t.TempDir()
	projecttest.Write(t, want, unlike[:strings.Index(unlike, "-- src")]+`-- src/main.ts --
import './cards/Night'
import './cards/Deep/Moon'
import './tools/Dates'
import './tools/Café'
-- src/cards/Night.ts --
import './Deep/Moon'
import '../tools/Dates'
-- src/cards/Deep/Moon.ts --
export const moon = 1
-- src/tools/Dates.ts --
import '../cards/Night'
-- src/tools/Café.ts --
export const open = true
`)
	straight := projecttest.Read(t, want)
	now := func() map[string]string {
		out := projecttest.Read(t, dir)
		maps.DeleteFunc(out, func(p, _ string) bool { return strings.HasPrefix(p, ".crooked/") })
		return out
	}
	assert.Equal(t, straight, now())
	assert.Equal(t, 0, run(t, dir, "check").code)
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, old, projecttest.Read(t, dir))

	straighten("--steps")
	assert.Equal(t, straight, now())
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, old, projecttest.Read(t, dir))

	for i := range killRuns() / 4 {
		cmd := exec.Command(program, "straighten", "--rename", "--yes", "-q")
		cmd.Dir = dir
		require.NoError(t, cmd.Start())
		time.Sleep(time.Duration(i) * 4 * time.Millisecond)
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		undone := run(t, dir, "undo")
		require.Equal(t, 0, undone.code, "killed after %d ms: %s%s", i*4, undone.out, undone.err)
		require.Equal(t, old, projecttest.Read(t, dir), "killed after %d ms", i*4)
	}

	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed: commits are not tried")
	}
	git(t, dir, "init", "-q")
	git(t, dir, "add", ".")
	git(t, dir, "commit", "-qm", "as it was")
	straighten("--commit")
	assert.Equal(t, straight, now())
	assert.Empty(t, git(t, dir, "status", "--porcelain"))
	want = t.TempDir()
	git(t, want, "clone", "-q", dir, ".")
	assert.Equal(t, straight, projecttest.Read(t, want),
		"what was committed is what is there, also where names are not folded")
}
