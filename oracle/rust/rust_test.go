// Package rust_test compares what the program reads in Rust with a reader of the language and with its compiler, and
// moves real crates that must build and pass their tests afterwards.
package rust_test

import (
	"bufio"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/rust"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/source"
	"crookedshelf/oracle/tree"
)

// has skips a test on a machine that has not what it needs.
func has(t *testing.T, needs ...string) {
	t.Helper()
	tree.Has(t, "run oracle/rust/fetch.sh", needs...)
}

// reading is what is said of one file.
type reading struct {
	path                string
	refused             bool
	shift               int
	lines, names, calls []string
	opaque              []source.Span // what the reader does not look into
	less, more          []string
	err                 error
}

// TestAgainstAReader compares what is read of each file with what the syn crate says of it.
func TestAgainstAReader(t *testing.T) {
	has(t, "cargo", "sources/crates", "sources/said")
	root := "sources/crates"
	if other := os.Getenv("RUST_FILES"); other != "" {
		root = other
	}
	list := filesBelow(t, root)
	cmd := exec.Command("sources/said")
	cmd.Stdin = strings.NewReader(strings.Join(list, "\n") + "\n")
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	var readings []*reading
	in := bufio.NewScanner(out)
	in.Buffer(make([]byte, 1<<20), 1<<28)
	for in.Scan() {
		what, rest, _ := strings.Cut(in.Text(), "\t")
		if what == "FILE" {
			readings = append(readings, &reading{path: rest})
			continue
		}
		last := readings[len(readings)-1]
		switch what {
		case "REFUSED":
			last.refused = true
		case "SHIFT":
			last.shift, _ = strconv.Atoi(rest)
		case "name":
			last.names = append(last.names, rest)
		case "call":
			last.calls = append(last.calls, rest+"!")
		case "variant":
		case "opaque":
			parts := strings.Split(shifted(in.Text(), last.shift), "\t")
			from, _ := strconv.Atoi(parts[1])
			to, _ := strconv.Atoi(parts[2])
			last.opaque = append(last.opaque, source.Span{Start: from, End: to})
		default:
			last.lines = append(last.lines, shifted(in.Text(), last.shift))
		}
	}
	require.NoError(t, cmd.Wait())
	parallel.Do(len(readings), func(i int) { readings[i].compare() })
	lines, refused, differ, unread := 0, 0, 0, 0
	for _, r := range readings {
		lines += len(r.lines) + len(r.names) + len(r.calls)
		switch {
		case r.refused:
			refused++
		case r.err != nil:
			unread++
			t.Logf("%s: %v", r.path, r.err)
		case len(r.less)+len(r.more) > 0:
			if differ++; differ <= 40 {
				t.Logf("%s\n   less %q\n   more %q", r.path, r.less[:min(6, len(r.less))], r.more[:min(6, len(r.more))])
			}
		}
	}
	t.Logf("%d files, %d lines, %d that the reader refuses, %d not read here, %d differ", len(readings), lines, refused, unread, differ)
	assert.Zero(t, differ+unread)
}

// compare asks our own reader.
func (r *reading) compare() {
	if r.refused {
		return
	}
	content, err := os.ReadFile(r.path)
	if err != nil {
		r.err = err
		return
	}
	mine, names, err := rust.Said(content)
	if r.err = err; err != nil {
		return
	}
	mine = slices.DeleteFunc(mine, func(line string) bool {
		at, _ := strconv.Atoi(strings.Split(line, "\t")[1])
		return slices.ContainsFunc(r.opaque, func(o source.Span) bool { return o.Start <= at && at < o.End })
	})
	slices.Sort(r.lines)
	r.less, r.more = tree.Without(r.lines, mine), tree.Without(mine, r.lines)
	known := map[string]bool{"self": true, "Self": true, "crate": true, "super": true}
	for _, name := range names {
		known[name] = true
	}
	for _, name := range append(r.names, r.calls...) { // names may be taken for more than they are, and none is missed
		if !known[name] {
			r.less = append(r.less, "name\t"+name)
		}
	}
}

// shifted is a line whose places are counted from the beginning of the file.
func shifted(line string, by int) string {
	parts := strings.SplitN(line, "\t", 4)
	if by == 0 || len(parts) < 4 {
		return line
	}
	for i := 1; i < 3; i++ {
		n, _ := strconv.Atoi(parts[i])
		parts[i] = strconv.Itoa(n + by)
	}
	return strings.Join(parts, "\t")
}

// filesBelow are the files of Rust below a folder.
func filesBelow(t *testing.T, root string) (files []string) {
	real, err := filepath.EvalSymlinks(root)
	require.NoError(t, err)
	require.NoError(t, filepath.WalkDir(real, func(p string, e os.DirEntry, err error) error {
		if err == nil && e.Type().IsRegular() && filepath.Ext(p) == ".rs" {
			files = append(files, p)
		}
		return err
	}))
	require.NotEmpty(t, files)
	return files
}
