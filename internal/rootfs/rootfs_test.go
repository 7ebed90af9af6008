package rootfs_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

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
	disk, _ := open(t)
	for _, row := range []struct {
		name string
		room int // bytes; below 0 for none
		same bool
	}{{"no room", -1, false}, {"too small", 5, false}, {"just enough", 6, true}, {"plenty", 100, true}} {
		var room []byte
		if row.room >= 0 {
			room = make([]byte, row.room)
		}
		content, err := disk.ReadInto(room, "nights/2027/may.txt", limit)
		require.NoError(t, err, row.name)
		assert.Equal(t, "clear", string(content), row.name)
		assert.Equal(t, row.same, len(room) > 0 && &room[0] == &content[0], row.name)
	}
	content, err := disk.ReadFile("empty", limit)
	require.NoError(t, err)
	assert.Empty(t, content)
}

func TestWhatIsNoFileOrLeadsOutIsNotRead(t *testing.T) {
	disk, dir := open(t)
	outside := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(outside, []byte("secret"), 0o644))
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "out")))
	require.NoError(t, os.Symlink(filepath.Dir(outside), filepath.Join(dir, "nights", "away")))
	require.NoError(t, os.Symlink("loop", filepath.Join(dir, "loop")))
	for _, p := range []string{"out", "nights/away/secret", "loop", "nights", "nights/none", "empty/none", "../" + filepath.Base(dir) + "/empty", outside, "nights/../../x"} {
		content, err := disk.ReadFile(p, limit)
		assert.Error(t, err, p)
		assert.NotContains(t, string(content), "secret", p)
	}
	_, err := disk.ReadFile("nights/2027/may.txt", 3)
	assert.ErrorContains(t, err, "nights/2027/may.txt: it is larger than")
}

func TestReadDirTellsNamesAndKinds(t *testing.T) {
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
