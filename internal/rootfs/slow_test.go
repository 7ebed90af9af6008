package rootfs

import (
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Where the system has no quicker way of reading, the other gives the same.
func TestBothWaysReadTheSame(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "nights", "2027"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "nights", "may.txt"), []byte("clear"), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "nights", "none.txt"), nil, 0o644))
	require.NoError(t, os.Symlink("may.txt", filepath.Join(dir, "nights", "now.txt")))
	require.NoError(t, os.Symlink("/etc", filepath.Join(dir, "nights", "out")))
	quick, err := Open(dir)
	require.NoError(t, err)
	defer quick.Close()
	slow, err := Open(dir)
	require.NoError(t, err)
	defer slow.Close()
	slow.top = handle{}

	for _, p := range []string{"nights/may.txt", "nights/none.txt", "nights/now.txt", "nights/out/passwd", "nights",
		"nights/gone.txt", "../x", "."} {
		for _, limit := range []int64{1 << 20, 2} {
			want, wantErr := slow.ReadFile(p, limit)
			got, err := quick.ReadFile(p, limit)
			assert.Equal(t, want, got, p)
			assert.Equal(t, wantErr == nil, err == nil, "%s: %v, %v", p, wantErr, err)
			if wantErr != nil && err != nil {
				assert.Equal(t, wantErr.Error(), err.Error(), p)
			}
		}
	}
	for _, p := range []string{".", "nights", "nights/2027", "nights/may.txt", "nights/gone", "nights/out"} {
		names := func(f *FS) (out []string, ok bool) {
			entries, err := f.ReadDir(p)
			for _, e := range entries {
				out = append(out, e.Name()+" "+e.Type().String())
			}
			slices.Sort(out)
			return out, err == nil
		}
		want, wantOK := names(slow)
		got, ok := names(quick)
		assert.Equal(t, want, got, p)
		assert.Equal(t, wantOK, ok, p)
	}
}
