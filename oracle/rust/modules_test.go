package rust_test

import (
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/lang/rust"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// TestModulesAgainstTheCompiler compares the files of the modules of each package with those that the compiler says it has
// loaded for its library. Which conditions hold is the compiler's affair: a file that is there under one may be missing.
func TestModulesAgainstTheCompiler(t *testing.T) {
	has(t, "cargo", "sources/crates", "sources/all/src/lib.rs")
	dir, err := filepath.EvalSymlinks("sources/all")
	require.NoError(t, err)
	target := os.Getenv("RUST_TARGET") // what was compiled before
	if target == "" {
		target = t.TempDir()
	}
	cmd := exec.Command("cargo", "check", "--quiet", "--offline")
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "CARGO_TARGET_DIR="+target)
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	crates, err := filepath.EvalSymlinks("sources/crates")
	require.NoError(t, err)
	packages, err := os.ReadDir(crates)
	require.NoError(t, err)
	known := map[string]bool{}
	for _, p := range packages {
		known[p.Name()] = true
	}
	loaded := map[string][]string{} // by the root of a crate
	lists, err := filepath.Glob(filepath.Join(target, "debug/deps/*.d"))
	require.NoError(t, err)
	for _, list := range lists {
		text, err := os.ReadFile(list)
		require.NoError(t, err)
		line, _, _ := strings.Cut(string(text), "\n")
		_, rest, _ := strings.Cut(line, ": ")
		var files []string
		for _, file := range strings.Fields(rest) { // the compiler has the packages from a folder of its own
			parts := strings.Split(file, "/")
			at := slices.IndexFunc(parts, func(part string) bool { return part != "" && known[part] })
			if at >= 0 && strings.HasSuffix(file, ".rs") {
				files = append(files, strings.Join(parts[at:], "/"))
			}
		}
		if len(files) > 0 {
			loaded[files[0]] = append(loaded[files[0]], files...)
		}
	}
	compared, files := 0, 0
	for _, p := range packages {
		disk, err := rootfs.Open(filepath.Join(crates, p.Name()))
		require.NoError(t, err)
		found, err := project.Load(disk, project.Options{})
		require.NoError(t, err)
		family := all.Languages().ByName("Rust")
		for _, c := range rust.SaidModules(lang.NewTree(found, nil, *family)) {
			theirs := loaded[filepath.Join(p.Name(), c.Root)]
			if len(theirs) == 0 {
				continue
			}
			compared++
			for i := range theirs {
				theirs[i] = path.Clean(strings.TrimPrefix(theirs[i], p.Name()+"/"))
			}
			for _, file := range theirs {
				if content, err := os.ReadFile(filepath.Join(crates, p.Name(), file)); err == nil && len(content) > 0 &&
					!slices.Contains(c.Always, file) && !slices.Contains(c.Somewhen, file) && !included(crates, p.Name(), file) &&
					!slices.ContainsFunc(c.Rules, func(name string) bool {
						return strings.Contains("/"+file, "/"+name+".rs") || strings.Contains("/"+file, "/"+name+"/")
					}) {
					assert.Fail(t, "the compiler loads it", "%s %s", p.Name(), file)
				}
			}
			for _, file := range c.Always {
				assert.Contains(t, theirs, file, "%s: the compiler does not load it", p.Name())
			}
			files += len(c.Always) + len(c.Somewhen)
		}
		disk.Close()
	}
	t.Logf("%d crates, %d files", compared, files)
	assert.Greater(t, compared, 20)
}

// included says whether a file is read by include! or for a document, so that it is no module.
func included(crates, pack, file string) bool {
	found := false
	_ = filepath.WalkDir(filepath.Join(crates, pack), func(p string, e os.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(p, ".rs") && !found {
			text, _ := os.ReadFile(p)
			for line := range strings.Lines(string(text)) {
				if strings.Contains(line, "include") && strings.Contains(line, filepath.Base(file)) {
					found = true
				}
			}
		}
		return nil
	})
	return found
}
