//go:build linux

package cli_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"

	"crookedshelf/internal/project/projecttest"
)

// Sources in other encodings are edited in their own, byte by byte, or left with their reason; none is broken.
func TestEncodings(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	for name, content := range map[string]string{
		"src/crlf.ts":   "import './utils/dates'\r\nimport \"./utils/dates\"\r\n",
		"src/bom.ts":    "\xef\xbb\xbfimport './utils/dates'\n",
		"src/latin1.ts": "// caf\xe9\nimport './utils/dates' // \xfc\n",
		"src/utf16.ts": "\xff\xfei\x00m\x00p\x00o\x00r\x00t\x00 " +
			"\x00'\x00.\x00/\x00u\x00t\x00i\x00l\x00s\x00/\x00d\x00a\x00t\x00e\x00s\x00'\x00",
		"src/utils/wide.ts": "\xfe\xff\x00a",
	} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(content), 0o644))
	}
	planned := run(t, dir, "plan")
	assert.Equal(t, 1, planned.code)
	assert.Contains(t, planned.out, "src/utf16.ts: it is UTF-16, which is not read")
	assert.Contains(t, planned.out,
		"  it can't be read: it is UTF-16, which is not read\n      src/utils/wide.ts -> src/tools/wide.ts\n")
	require.Equal(t, 1, run(t, dir, "straighten", "--partial", "--yes").code)
	for name, want := range map[string]string{
		"src/crlf.ts":   "import './tools/dates'\r\nimport \"./tools/dates\"\r\n",
		"src/bom.ts":    "\xef\xbb\xbfimport './tools/dates'\n",
		"src/latin1.ts": "// caf\xe9\nimport './tools/dates' // \xfc\n",
	} {
		got, err := os.ReadFile(filepath.Join(dir, name))
		require.NoError(t, err)
		assert.Equal(t, want, string(got), name)
	}
}

// What a file has beside its content stays with it: permissions, extended attributes, owner; a file that is only moved
// is the same file, with all its names.
func TestAttributes(t *testing.T) {
	t.Parallel()
	dir := small(t, tools+"-- src/utils/edited.ts --\nimport './more/deep'\n-- src/utils/more/deep.ts --\n"+
		"import '../../main'\n-- src/utils/plain.ts --\n-- src/helpers/up.ts --\nimport '../utils/plain'\n")
	edited, plain := filepath.Join(dir, "src/helpers/up.ts"), filepath.Join(dir, "src/utils/plain.ts")
	other := filepath.Join(dir, "linked")
	require.NoError(t, os.Link(plain, other))
	require.NoError(t, os.Chmod(edited, 0o754))
	for _, p := range []string{edited, plain} {
		if err := unix.Setxattr(p, "user.note", []byte("kept"), 0); err != nil {
			t.Skipf("this file system has no extended attributes: %s", err)
		}
	}
	if os.Geteuid() == 0 {
		require.NoError(t, os.Chown(edited, 1234, 4321))
	}
	check := func(p string) {
		t.Helper()
		value := make([]byte, 16)
		n, err := unix.Getxattr(p, "user.note", value)
		require.NoError(t, err, p)
		assert.Equal(t, "kept", string(value[:n]))
	}
	owned := func(p string) {
		t.Helper()
		info, err := os.Stat(p)
		require.NoError(t, err)
		assert.Equal(t, os.FileMode(0o754), info.Mode().Perm())
		if stat, ok := info.Sys().(*syscall.Stat_t); ok && os.Geteuid() == 0 {
			assert.Equal(t, [2]uint32{1234, 4321}, [2]uint32{stat.Uid, stat.Gid})
		}
	}
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	moved := filepath.Join(dir, "src/tools/up.ts")
	content, err := os.ReadFile(moved)
	require.NoError(t, err)
	assert.Equal(t, "import './plain'\n", string(content))
	check(moved)
	owned(moved)
	check(filepath.Join(dir, "src/tools/plain.ts"))
	a, err := os.Stat(filepath.Join(dir, "src/tools/plain.ts"))
	require.NoError(t, err)
	b, err := os.Stat(other)
	require.NoError(t, err)
	assert.True(t, os.SameFile(a, b), "a hard link stays one")
	require.Equal(t, 0, run(t, dir, "undo").code)
	check(edited)
	owned(edited)
	check(plain)
}

// Names as long as a file system takes them are moved.
func TestLongNames(t *testing.T) {
	t.Parallel()
	long := strings.Repeat("ü", 126) + ".ts" // 255 bytes
	dir := small(t, tools+"-- src/utils/"+long+" --\nimport './dates'\n")
	old := projecttest.Read(t, dir)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	assert.Contains(t, projecttest.Read(t, dir), "src/tools/"+long)
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, old, projecttest.Read(t, dir))
}

// A folder that may not be written, or lies on another device, stops a straighten, and everything is as it was.
func TestFoldersThatRefuse(t *testing.T) {
	t.Parallel()
	if os.Geteuid() != 0 {
		t.Skip("to act as another user, and to mount, the test must be run by root")
	}
	dir := small(t, tools+"-- src/tools/there.ts --\n")
	require.NoError(t, exec.Command("chown", "-R", "65534:65534", dir).Run())
	for p := dir; p != "/"; p = filepath.Dir(p) {
		info, err := os.Stat(p)
		require.NoError(t, err)
		if p != dir && info.Mode().Perm()&0o005 != 0o005 {
			require.NoError(t, os.Chmod(p, info.Mode().Perm()|0o055))
		}
	}
	require.NoError(t, os.Chmod(filepath.Dir(program), 0o755))
	require.NoError(t, os.Chmod(filepath.Join(dir, "src/tools"), 0o555))
	old := projecttest.Read(t, dir)
	cmd := exec.Command(program, "straighten", "--yes")
	cmd.Dir = dir
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
	out, err := cmd.CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(out), "permission denied; all is as it was")
	assert.Contains(t, string(out), "no key for the journal can be kept")
	assert.Equal(t, old, projecttest.Read(t, dir))

	require.NoError(t, os.Chmod(filepath.Join(dir, "src/tools"), 0o755))
	mounted := filepath.Join(dir, "src/tools")
	if out, err := exec.Command("mount", "-t", "tmpfs", "tmpfs", mounted).CombinedOutput(); err != nil {
		t.Skipf("nothing can be mounted: %s", out)
	}
	defer func() { require.NoError(t, exec.Command("umount", "-l", mounted).Run()) }()
	old = projecttest.Read(t, dir)
	crossing := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 3, crossing.code)
	assert.Contains(t, crossing.err, "all is as it was")
	assert.Equal(t, old, projecttest.Read(t, dir))
}
