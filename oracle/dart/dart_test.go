// Package dart_test compares what the program reads in Dart with a parser of the language and with its virtual machine,
// and moves packages that must compile and answer the same afterwards.
package dart_test

import (
	"bytes"
	"fmt"
	"io"
	"io/fs"
	"math/rand"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/dart"
	"crookedshelf/internal/project"
	"crookedshelf/oracle/tree"
)

func has(t *testing.T) {
	t.Helper()
	tree.Has(t, "run oracle/dart/fetch.sh", "sources/ready")
}

// filesBelow are the files of Dart below a folder.
func filesBelow(root string) (files []string) {
	if real, err := filepath.EvalSymlinks(root); err == nil {
		root = real
	}
	_ = filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
		if err == nil && e.Type().IsRegular() && strings.HasSuffix(p, ".dart") {
			files = append(files, p)
		}
		return nil
	})
	return files
}

// TestAgainstAParser compares the directives of all files with what a parser says.
func TestAgainstAParser(t *testing.T) {
	has(t)
	files := append(filesBelow("sources/files"), filesBelow("../../demo/display")...)
	require.Greater(t, len(files), 200)
	cmd := exec.Command("sources/venv/bin/python", "said.py")
	cmd.Stdin = strings.NewReader(strings.Join(files, "\n"))
	out, err := cmd.Output()
	require.NoError(t, err)
	count, unsure, differ := 0, 0, 0
	for _, part := range strings.Split(string(out), "FILE\t")[1:] {
		lines := strings.Split(strings.TrimRight(part, "\n"), "\n")
		name, theirs := lines[0], lines[1:]
		if slices.Contains(theirs, "UNSURE") { // the parser has lost its way in what follows, and not before
			unsure++
			theirs = slices.DeleteFunc(theirs, func(line string) bool { return line == "UNSURE" })
		}
		content, err := os.ReadFile(name)
		require.NoError(t, err)
		mine, err := dart.Said(content)
		require.NoError(t, err, name)
		less, more := tree.Without(theirs, mine), tree.Without(mine, theirs)
		if count += len(theirs); len(less)+len(more) > 0 {
			differ++
			t.Logf("%s\n   less %q\n   more %q", name, less, more)
		}
	}
	t.Logf("%d files, %d directives, %d where the parser is unsure, %d differ", len(files), count, unsure, differ)
	assert.Zero(t, differ)
}

// notFound is what the compiler says of an address that leads nowhere, with the file's number, line and column.
var notFound = regexp.MustCompile(`(?m)^(\d+)/(?:x/)*x\.dart:(\d+:\d+): Error: (?:Not found: '|Error when reading ')`)

// TestAgainstTheCompiler compares the directives of all files with those whose addresses the language's own compiler
// misses. Each file stands alone, below folders enough for any relative address, so that nothing but libraries of the
// language is found; those may be missed as well, since this machine has no browser. Of several addresses under conditions
// the compiler takes one.
func TestAgainstTheCompiler(t *testing.T) {
	has(t)
	dir := t.TempDir()
	var start strings.Builder
	var files []string
	var may, must [][]string // for each file the lines and columns of its directives
	count := 0
	for _, file := range append(filesBelow("sources/files"), filesBelow("../../demo/display")...) {
		content, err := os.ReadFile(file)
		require.NoError(t, err)
		places, own, partOf := directives(t, content)
		if partOf { // a part is no library, and the compiler does not look for what it is of
			continue
		}
		name := fmt.Sprintf("%d/%sx.dart", len(files), strings.Repeat("x/", 8))
		require.NoError(t, os.MkdirAll(filepath.Join(dir, filepath.Dir(name)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), content, 0o644))
		fmt.Fprintf(&start, "import '%s' as x%d;\n", name, len(files))
		files, may, must = append(files, file), append(may, places), append(must, own)
		count += len(own)
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "all.dart"), []byte(start.String()+"void main() {}\n"), 0o644))
	out, err := machine(t, dir, "all.dart")
	require.Error(t, err)
	theirs := make([][]string, len(files))
	for _, found := range notFound.FindAllStringSubmatch(out, -1) {
		number, err := strconv.Atoi(found[1])
		require.NoError(t, err)
		theirs[number] = append(theirs[number], found[2])
	}
	for i, file := range files {
		assert.Subset(t, theirs[i], must[i], "%s: the compiler finds no such directive", file)
		assert.Subset(t, may[i], theirs[i], "%s: not seen here", file)
	}
	t.Logf("%d files, %d directives", len(files), count)
	assert.Greater(t, count, 400)
}

// directives are the places of the directives of a text as the compiler says them: of the first address of an import or a
// part, of the word export. Of those that must be missed no address is of the language's libraries.
func directives(t *testing.T, content []byte) (places, must []string, partOf bool) {
	t.Helper()
	mine, err := dart.Said(content)
	require.NoError(t, err)
	behind := -1 // the end of the directive at hand
	own := false
	for _, line := range mine {
		fields := strings.Split(line, "\t")
		at, err := strconv.Atoi(fields[1])
		require.NoError(t, err)
		own = (own || at >= behind) && !strings.HasPrefix(strings.TrimLeft(fields[3], `r'"`), "dart:")
		if partOf = partOf || fields[0] == "part of"; at >= behind {
			end := bytes.IndexByte(content[at:], ';')
			require.GreaterOrEqual(t, end, 0)
			behind = at + end
			if fields[0] == "export" {
				at = bytes.LastIndex(content[:at], []byte("export"))
			}
			places = append(places, fmt.Sprintf("%d:%d", bytes.Count(content[:at], []byte("\n"))+1, at-bytes.LastIndexByte(content[:at], '\n')))
			if own {
				must = append(must, places[len(places)-1])
			}
		} else if last := len(must) - 1; !own && last >= 0 && must[last] == places[len(places)-1] {
			must = must[:last]
		}
	}
	return places, must, partOf
}

// machine runs the virtual machine in a folder.
func machine(t *testing.T, dir string, args ...string) (string, error) {
	t.Helper()
	program, err := filepath.Abs("sources/dart")
	require.NoError(t, err)
	cmd := exec.Command(program, args...)
	cmd.Dir = dir
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// loaded are the files that the compiler loads for a library.
func loaded(t *testing.T, dir, file string) ([]string, error) {
	t.Helper()
	work := t.TempDir()
	kernel, deps := filepath.Join(work, "o.dill"), filepath.Join(work, "o.d")
	if out, err := machine(t, dir, "--snapshot-kind=kernel", "--snapshot="+kernel, "--depfile="+deps, file); err != nil {
		return nil, fmt.Errorf("%s: %s", file, out)
	}
	text, err := os.ReadFile(deps)
	if err != nil {
		return nil, err
	}
	var files []string
	for _, word := range strings.Fields(string(text)) {
		word = strings.TrimPrefix(strings.TrimSuffix(word, ":"), "file://")
		if rel, err := filepath.Rel(dir, word); err == nil && strings.HasSuffix(rel, ".dart") && !strings.HasPrefix(rel, "..") {
			files = append(files, rel)
		}
	}
	slices.Sort(files)
	return slices.Compact(files), nil
}

// lay copies the demo's package into a folder, with what says where packages are.
func lay(t *testing.T) string {
	t.Helper()
	dir, err := filepath.EvalSymlinks(t.TempDir())
	require.NoError(t, err)
	require.NoError(t, os.CopyFS(dir, os.DirFS("../../demo/display")))
	require.NoError(t, os.MkdirAll(filepath.Join(dir, ".dart_tool"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, ".dart_tool/package_config.json"), []byte(`{"configVersion": 2, "packages": [
		{"name": "public_display", "rootUri": "../", "packageUri": "lib/", "languageVersion": "3.5"},
		{"name": "sky_data", "rootUri": "../packages/sky_data/", "packageUri": "lib/", "languageVersion": "3.5"}]}`), 0o644))
	return dir
}

// TestAgainstTheMachine compares the files that the graph says a library is made of with those that the compiler loads.
func TestAgainstTheMachine(t *testing.T) {
	has(t)
	dir := lay(t)
	p, g, err := tree.Graph(dir)
	require.NoError(t, err)
	asked := 0
	for id := range p.Files {
		file := p.Path(project.FileID(id))
		if !strings.HasSuffix(file, ".dart") || slices.ContainsFunc(g.Files[id].Mentions, func(m lang.Mention) bool { return m.Kind == dart.PartOf }) {
			continue
		}
		theirs, err := loaded(t, dir, file)
		require.NoError(t, err)
		mine := map[string]bool{}
		var walk func(id project.FileID)
		walk = func(id project.FileID) {
			if mine[p.Path(id)] {
				return
			}
			mine[p.Path(id)] = true
			for i, m := range g.Files[id].Mentions {
				if to := g.Files[id].Targets[i]; to.Kind == lang.ToFile && (m.Kind == dart.Import || m.Kind == dart.Export || m.Kind == dart.Part) {
					walk(to.File)
				}
			}
		}
		walk(project.FileID(id))
		var all []string
		for file := range mine {
			all = append(all, file)
		}
		slices.Sort(all)
		// of several addresses under conditions the machine loads one
		assert.Empty(t, tree.Without(theirs, all), file)
		for _, more := range tree.Without(all, theirs) {
			assert.Contains(t, more, "_web", file)
		}
		asked++
	}
	require.Greater(t, asked, 10)
	t.Logf("%d libraries", asked)
}

// compiles says whether all libraries of a package compile: those that are no parts, from a file that imports them.
func compiles(t *testing.T, dir string) error {
	t.Helper()
	var all strings.Builder
	for _, file := range filesBelow(dir) {
		content, err := os.ReadFile(file)
		require.NoError(t, err)
		rel, _ := filepath.Rel(dir, file)
		if _, inLib := strings.CutPrefix(rel, "lib/"); !strings.Contains(string(content), "part of") {
			if inLib {
				rel = "package:public_display/" + strings.TrimPrefix(rel, "lib/")
			}
			fmt.Fprintf(&all, "import '%s' as x%d;\n", rel, all.Len())
		}
	}
	file := filepath.Join(dir, "all_libraries.dart")
	require.NoError(t, os.WriteFile(file, []byte(all.String()+"void main() {}\n"), 0o644))
	defer os.Remove(file)
	_, err := loaded(t, dir, "all_libraries.dart")
	return err
}

// TestMovesAtRandom moves files of the package to random places: every library compiles afterwards, and the program says
// the same.
func TestMovesAtRandom(t *testing.T) {
	has(t)
	program := tree.Build(t)
	dir := lay(t)
	require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
	require.NoError(t, compiles(t, dir))
	before, err := machine(t, dir, "bin/serve.dart", "--once")
	require.NoError(t, err, before)
	hashes, err := tree.Hashes(dir)
	require.NoError(t, err)
	moved := 0
	for seed := range int64(8) {
		random := rand.New(rand.NewSource(seed))
		var files []string
		for _, file := range filesBelow(dir) {
			if rel, _ := filepath.Rel(dir, file); strings.HasPrefix(rel, "lib/src/") && !strings.HasSuffix(rel, ".g.dart") {
				files = append(files, rel)
			}
		}
		text, count := scattered(random, files)
		require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(text), 0o644))
		out, err := tree.Call(program, dir, "straighten", "--yes", "--dirty")
		require.NoError(t, err, out)
		moved += count
		require.NoError(t, compiles(t, dir), "seed %d\n%s", seed, text)
		after, err := machine(t, dir, "bin/serve.dart", "--once")
		require.NoError(t, err, after)
		require.Equal(t, before, after)
		out, err = tree.Call(program, dir, "undo")
		require.NoError(t, err, out)
		require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
		now, err := tree.Hashes(dir)
		require.NoError(t, err)
		require.Empty(t, tree.Differences(hashes, now))
	}
	t.Logf("%d files moved", moved)
}

// served are the bytes that the display's server sends for some addresses.
func served(t *testing.T, dir string) (pages []string) {
	t.Helper()
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address := free.Addr().String()
	require.NoError(t, free.Close())
	program, err := filepath.Abs("sources/dart")
	require.NoError(t, err)
	cmd := exec.Command(program, "bin/serve.dart", address[strings.LastIndexByte(address, ':')+1:])
	cmd.Dir = dir
	require.NoError(t, cmd.Start())
	defer func() { _ = cmd.Process.Kill(); _ = cmd.Wait() }()
	for _, path := range []string{"/", "/night"} {
		var answer *http.Response
		require.Eventually(t, func() bool { answer, err = http.Get("http://" + address + path); return err == nil }, 30*time.Second, 100*time.Millisecond)
		text, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		answer.Body.Close()
		pages = append(pages, fmt.Sprintf("%s %s %s", answer.Status, answer.Header.Get("Content-Type"), text))
	}
	return pages
}

// TestTheDisplay straightens the demo's display by its own convention: every library compiles, its test passes, and its
// server sends the same bytes; undo gives every byte back.
func TestTheDisplay(t *testing.T) {
	has(t)
	program := tree.Build(t)
	dir := lay(t)
	hashes, err := tree.Hashes(dir)
	require.NoError(t, err)
	before := served(t, dir)
	out, err := tree.Call(program, dir, "straighten", "--yes", "--dirty")
	require.NoError(t, err, out)
	require.Contains(t, out, "Moved 11 files")
	require.NoError(t, compiles(t, dir))
	said, err := machine(t, dir, "test/night_test.dart")
	require.NoError(t, err, said)
	assert.Equal(t, before, served(t, dir))
	assert.Contains(t, before[0], "Tonight at 22: Arcturus")
	out, err = tree.Call(program, dir, "undo")
	require.NoError(t, err, out)
	now, err := tree.Hashes(dir)
	require.NoError(t, err)
	require.Empty(t, tree.Differences(hashes, now))
}

// scattered gives some files of lib/src other places there.
func scattered(random *rand.Rand, files []string) (string, int) {
	var b strings.Builder
	b.WriteString("crooked: 1\nshelves:\n")
	count := 0
	for i, file := range files {
		if random.Intn(2) == 0 {
			continue
		}
		folder := []string{"lib/src/a", "lib/src/b/c", "lib/src"}[random.Intn(3)]
		fmt.Fprintf(&b, "  s%d: { at: %s/x%d_%s, from: [%s] }\n", i, folder, i, filepath.Base(file), file)
		count++
	}
	return b.String(), count
}
