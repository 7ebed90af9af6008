//go:build unix

package rootfs_test

import (
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/rootfs"
)

const limit = 1 << 20

func open(t *testing.T) (*rootfs.FS, string) {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "nights", "2027"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "nights", "2027", "may.txt"), []byte("clear"), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "empty"), nil, 0o644))
	disk, err := rootfs.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { disk.Close() })
	return disk, dir
}

func TestReadInto(t *testing.T) {
	t.Parallel()
	disk, _ := open(t)
	for _, row := range []struct {
		name string
		buf  int // bytes; below 0 for none
		same bool
	}{{"no room", -1, false}, {"too small", 5, false}, {"just enough", 6, true}, {"plenty", 100, true}} {
		var buf []byte
		if row.buf >= 0 {
			buf = make([]byte, row.buf)
		}
		content, err := disk.ReadInto(buf, "nights/2027/may.txt", limit)
		require.NoError(t, err, row.name)
		assert.Equal(t, "clear", string(content), row.name)
		assert.Equal(t, row.same, len(buf) > 0 && &buf[0] == &content[0], row.name)
	}
	content, err := disk.ReadFile("empty", limit)
	require.NoError(t, err)
	assert.Empty(t, content)
}

func TestWhatIsNoFileOrLeadsOutIsNotRead(t *testing.T) {
	t.Parallel()
	disk, dir := open(t)
	outside := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(outside, []byte("secret"), 0o644))
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "out")))
	require.NoError(t, os.Symlink(filepath.Dir(outside), filepath.Join(dir, "nights", "away")))
	require.NoError(t, os.Symlink("loop", filepath.Join(dir, "loop")))
	for _, p := range []string{"out", "nights/away/secret", "loop", "nights", "nights/none", "empty/none",
		"../" + filepath.Base(dir) + "/empty", outside, "nights/../../x"} {
		content, err := disk.ReadFile(p, limit)
		assert.Error(t, err, p)
		assert.NotContains(t, string(content), "secret", p)
	}
	_, err := disk.ReadFile("nights/2027/may.txt", 3)
	assert.ErrorContains(t, err, "nights/2027/may.txt: it is larger than")
}

func TestReadDirTellsNamesAndKinds(t *testing.T) {
	t.Parallel()
	disk, dir := open(t)
	require.NoError(t, os.Symlink("2027", filepath.Join(dir, "nights", "now")))
	long := strings.Repeat("n", 255)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "nights", long), nil, 0o644))
	want := map[string]fs.FileMode{"2027": fs.ModeDir, "now": fs.ModeSymlink, long: 0}
	for i := range 3000 { // more than one call of the system gives
		name := "night-" + strings.Repeat("x", i%40) + string(rune('a'+i%26)) + strings.Repeat("y", i/40)
		if _, known := want[name]; !known {
			require.NoError(t, os.WriteFile(filepath.Join(dir, "nights", name), nil, 0o644))
			want[name] = 0
		}
	}
	entries, err := disk.ReadDir("nights")
	require.NoError(t, err)
	got := map[string]fs.FileMode{}
	for _, e := range entries {
		got[e.Name()] = e.Type()
		assert.Equal(t, e.Type()&fs.ModeDir != 0, e.IsDir())
	}
	assert.Equal(t, want, got)
	assert.Len(t, entries, len(want))

	top, err := disk.ReadDir(".")
	require.NoError(t, err)
	var names []string
	for _, e := range top {
		names = append(names, e.Name())
	}
	slices.Sort(names)
	assert.Equal(t, []string{"empty", "nights"}, names)
	for _, p := range []string{"none", "empty", "..", "/"} {
		_, err := disk.ReadDir(p)
		assert.Error(t, err, p)
	}
}

// More folders are used at a time than are kept open.
func TestManyFolders(t *testing.T) {
	t.Parallel()
	disk, _ := open(t)
	var all []string
	for i := range 400 {
		folder := fmt.Sprintf("nights/%d", i)
		require.NoError(t, disk.Mkdir(folder, rootfs.Usual))
		require.NoError(t, disk.Create(folder+"/log", 0o644, []byte(folder)))
		all = append(all, folder)
	}
	var workers sync.WaitGroup
	for worker := range 4 {
		workers.Go(func() {
			for i := range all {
				folder := all[(i*(worker+1))%len(all)]
				info, err := disk.Look(folder + "/log")
				assert.NoError(t, err)
				assert.EqualValues(t, len(folder), info.Size)
			}
		})
	}
	workers.Wait()
}

// No link is followed on the way to a file or in its place, whatever is done; and what is guarded is entered by its own
// name alone.
func TestNoLinkIsFollowed(t *testing.T) {
	t.Parallel()
	disk, dir := open(t)
	outside := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(outside, "secret"), []byte("secret"), 0o644))
	require.NoError(t, os.Mkdir(filepath.Join(dir, ".hidden"), 0o755))
	for link, target := range map[string]string{"out": outside, "inside": ".hidden", "nights/up": "..",
		"file": "nights/2027/may.txt"} {
		require.NoError(t, os.Symlink(target, filepath.Join(dir, link)))
	}
	for _, in := range []string{"out", "inside", "nights/up", "nights/up/.hidden"} {
		p := in + "/x"
		for name, err := range map[string]error{
			"create": disk.Create(p, 0o644, nil), "mkdir": disk.Mkdir(p, 0o755), "rename": disk.Rename("empty", p),
			"place":    disk.Place("empty", p),
			"exchange": disk.Exchange("empty", in+"/secret"), "remove": disk.Remove(in + "/secret"),
			"chtimes":    disk.Chtimes(in+"/secret", time.Now()),
			"attributes": disk.CopyAttributes("empty", in+"/secret"), "from": disk.Rename(in+"/secret", "stolen"),
		} {
			assert.ErrorIs(t, err, rootfs.ErrLink, "%s %s", name, p)
		}
	}
	_, err := disk.ReadFile("file", limit)
	assert.ErrorIs(t, err, rootfs.ErrLink)
	assert.Error(t, disk.Create("file", 0o644, nil))
	entries, err := os.ReadDir(outside)
	require.NoError(t, err)
	assert.Len(t, entries, 1)

	disk.Guard(filepath.Join(dir, ".hidden"), ".hidden")
	require.NoError(t, disk.Create(".hidden/x", 0o644, nil), "by its own name it is entered")
	disk.Refresh()
	require.NoError(t, os.Rename(filepath.Join(dir, ".hidden"), filepath.Join(dir, "plain")))
	assert.ErrorIs(t, disk.Create("plain/y", 0o644, nil), rootfs.ErrGuarded, "by another it is not")
}

func TestWaysOfRenaming(t *testing.T) {
	t.Parallel()
	disk, _ := open(t)
	require.NoError(t, disk.Create("june", 0o644, []byte("june")))
	assert.ErrorIs(t, disk.Place("june", "nights/2027/may.txt"), fs.ErrExist)
	require.NoError(t, disk.Exchange("june", "nights/2027/may.txt"))
	content, err := disk.ReadFile("june", limit)
	require.NoError(t, err)
	assert.Equal(t, "clear", string(content))
	require.NoError(t, disk.Place("june", "nights/june"))
	require.NoError(t, disk.Place("nights/2027", "nights/2028"), "folders too")
	content, err = disk.ReadFile("nights/2028/may.txt", limit)
	require.NoError(t, err)
	assert.Equal(t, "june", string(content))
	_, err = disk.Look("nights/2027/may.txt")
	assert.ErrorIs(t, err, fs.ErrNotExist, "the folder is not known by its old name any more")
	require.NoError(t, disk.Rename("nights/june", "nights/2028/may.txt"))
}

// A year that does not fit into nanoseconds, special bits, and what the system gives to new files.
func TestModesAndTimes(t *testing.T) {
	disk, dir := open(t)
	far := time.Date(12345, 6, 7, 8, 9, 10, 123456789, time.UTC)
	if err := disk.Chtimes("empty", far); err == nil {
		info, err := disk.Look("empty")
		require.NoError(t, err)
		if info.Modified.Year() != 2446 { // the most that some file systems keep
			assert.True(t, info.Modified.Equal(far), "%s", info.Modified)
		}
	}
	require.NoError(t, disk.Mkdir("sticky", fs.ModeSticky|fs.ModeSetgid|0o751))
	info, err := disk.Look("sticky")
	require.NoError(t, err)
	assert.Equal(t, fs.ModeSticky|fs.ModeSetgid|0o751, info.Permissions())
	old := syscall.Umask(0o027)
	defer syscall.Umask(old)
	require.NoError(t, disk.Mkdir("usual", rootfs.Usual))
	require.NoError(t, disk.Create("usual/file", rootfs.Usual, nil))
	for p, want := range map[string]fs.FileMode{"usual": 0o750, "usual/file": 0o640} {
		info, err := os.Stat(filepath.Join(dir, p))
		require.NoError(t, err)
		assert.Equal(t, want, info.Mode().Perm(), p)
	}
}

func TestReadRegular(t *testing.T) {
	t.Parallel()
	_, dir := open(t)
	require.NoError(t, syscall.Mkfifo(filepath.Join(dir, "pipe"), 0o644))
	require.NoError(t, os.Symlink("nights/2027/may.txt", filepath.Join(dir, "link")))
	for _, p := range []string{"pipe", "link", "nights", "none"} {
		_, err := rootfs.ReadRegular(filepath.Join(dir, p), limit)
		assert.Error(t, err, p)
	}
	_, err := rootfs.ReadRegular("/dev/zero", limit)
	assert.Error(t, err)
	content, err := rootfs.ReadOwn(filepath.Join(dir, "link"), limit)
	require.NoError(t, err)
	assert.Equal(t, "clear", string(content))
	_, err = rootfs.ReadRegular(filepath.Join(dir, "nights/2027/may.txt"), 4)
	assert.ErrorContains(t, err, "it is larger than 0 KB")
}
