// Package python_test holds what is read of Python against CPython's own parser, on real packages and the standard
// library: every import with its names and its place in bytes.
package python_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python"
	"crookedshelf/internal/lang/python/syntax"
)

// parsed is what the parser says of one file.
type parsed struct {
	Skip    string
	Imports [][]any
	Uses    [][]any // nil where the language does not tell
}

// TestImports compares the files of the folder that CROOKED_PYTHON names, or a third of the standard library.
func TestImports(t *testing.T) {
	interpreter, err := exec.LookPath("python3")
	if err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("python3 is not installed")
		}
		t.Skip("python3 is not installed")
	}
	library, err := exec.Command(interpreter, "-c", "import sysconfig; print(sysconfig.get_paths()['stdlib'])").Output()
	require.NoError(t, err)
	files := sources(t, strings.TrimSpace(string(library)))
	if folder := os.Getenv("CROOKED_PYTHON"); folder != "" {
		files = append(files, sources(t, folder)...)
	} else { // run.sh compares all
		for i := range len(files) / 3 {
			files[i] = files[3*i]
		}
		files = files[:len(files)/3]
	}
	require.Greater(t, len(files), 200)
	parse := exec.Command(interpreter, "parse.py")
	parse.Stdin = strings.NewReader(strings.Join(files, "\n") + "\n")
	out, err := parse.StdoutPipe()
	require.NoError(t, err)
	parse.Stderr = os.Stderr
	require.NoError(t, parse.Start())
	lines := bufio.NewScanner(out)
	lines.Buffer(nil, 64<<20)
	compared, skipped, imports, differ := 0, map[string]int{}, 0, 0
	told, used, misused := 0, 0, 0
	for _, file := range files {
		require.True(t, lines.Scan(), file)
		var p parsed
		require.NoError(t, json.Unmarshal(lines.Bytes(), &p), file)
		if p.Skip != "" {
			skipped[p.Skip]++
			continue
		}
		src, err := os.ReadFile(file)
		require.NoError(t, err)
		want, placed := wanted(p)
		got := found(src, placed)
		requireSameEarly(t, file, src)
		compared++
		imports += len(want)
		if p.Uses != nil {
			places := usesPlaced(src)
			want, got := usesWanted(p.Uses, places), usesFound(src, places)
			told++
			used += len(want)
			if !slices.Equal(want, got) {
				if misused++; misused <= 10 {
					t.Errorf("%s\n%s", file, difference(want, got))
				}
			}
		}
		if !slices.Equal(want, got) {
			if differ++; differ <= 10 {
				t.Errorf("%s\n%s", file, difference(want, got))
			}
		}
	}
	require.NoError(t, parse.Wait())
	require.Zero(t, differ)
	require.Zero(t, misused)
	t.Logf("%d files with %d uses of what they import, 0 differ", told, used)
	t.Logf("%d files, %d imports, 0 differ; left out: %v", compared, imports, skipped)
}

// requireSameEarly makes sure that reading which passes over what does not matter finds what reading all does.
func requireSameEarly(t *testing.T, file string, src []byte) {
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	whole, wholeErr := syntax.ScanWhole(file, src, declared)
	same := func(wanted, found []lang.Mention) {
		require.True(t, slices.EqualFunc(wanted, found, func(a, b lang.Mention) bool {
			return a.Span == b.Span &&
				a.Kind == b.Kind && a.Text == b.Text
		}), file)
	}
	outlined, err := python.Family().Scan(lang.Source{Path: file, As: file, Content: src, Declared: declared})
	require.Equal(t, wholeErr, err, file)
	same(whole.Mentions, outlined.Mentions)
	require.Equal(t, whole.Outline, outlined.Outline, file)
	declared.Outlines = false
	texts, err := python.Family().Scan(lang.Source{Path: file, As: file, Content: src, Declared: declared})
	require.Equal(t, wholeErr, err, file)
	same(whole.Mentions, texts.Mentions)

	declared.Certain = true
	certain, err := python.Family().Scan(lang.Source{Path: file, As: file, Content: src, Declared: declared})
	require.Equal(t, wholeErr, err, file)
	likely := func(m lang.Mention) bool { return m.Likely }
	same(slices.DeleteFunc(slices.Clone(whole.Mentions), likely), slices.DeleteFunc(certain.Mentions, likely))

	asking := *declared
	asking.AskAll()
	all, err := python.Family().Scan(lang.Source{Path: file, As: file, Content: src, Declared: &asking})
	require.Equal(t, wholeErr, err, file)
	same(slices.DeleteFunc(slices.Clone(whole.Mentions), likely), slices.DeleteFunc(all.Mentions, likely))
	require.Equal(t, whole.Outline, all.Outline, file)

	declared.Outlines = true
	late, _ := python.Family().Scan(lang.Source{Path: file, As: file, Content: src, Declared: declared})
	hands := !whole.Outline.Own && (len(whole.Outline.Exports) > 0 ||
		slices.ContainsFunc(whole.Mentions, func(m lang.Mention) bool { return m.Text == lang.Everything }))
	require.True(t, late.Early == nil || late.Early.ReExports || !hands, file)
	require.True(t, late.Early != nil || late.Outline != nil, file)
}

// wanted lists the parser's imports, with their places where it told them.
func wanted(p parsed) (out []string, placed bool) {
	placed = true
	for _, i := range p.Imports {
		at := int(i[0].(float64))
		placed = placed && at >= 0
		if kind := i[1].(string); at < 0 || kind == "from" { // the parser tells the place of the statement
			at = -1
		}
		if i[1] == "module call" && !plainName(i[2].(string)) {
			continue // no name of a module
		}
		out = append(out, fmt.Sprintf("%v %v of %v", i[1], i[2], i[3])+place(at))
	}
	slices.Sort(out)
	return out, placed
}

// found lists the scanner's imports in the same form.
func found(src []byte, placed bool) []string {
	var out []string
	for _, m := range syntax.Scan(src) {
		at, from := m.Span.Start, ""
		if m.Detail != nil {
			from = lang.Own[syntax.Detail](&m).From
		}
		switch m.Kind {
		case syntax.ModuleImport, syntax.FromModule, syntax.FromName, syntax.ModuleCall:
		default:
			continue
		}
		switch {
		case !placed || m.Kind.String() == "from":
			at = -1
		case m.Kind.String() == "module call":
			// the parser counts the quote and the prefix
			for at--; at > 0 && (src[at-1]|0x20 == 'r' || src[at-1]|0x20 == 'u'); {
				at--
			}
		}
		out = append(out, fmt.Sprintf("%s %s of %s", m.Kind, m.Text, from)+place(at))
	}
	slices.Sort(out)
	return out
}

// usesWanted lists the uses that the language's tables of scopes give.
func usesWanted(uses [][]any, placed bool) (out []string) {
	for _, u := range uses {
		out = append(out, fmt.Sprint(u[1])+usePlace(int(u[0].(float64)), placed))
	}
	slices.Sort(out)
	return out
}

func usesFound(src []byte, placed bool) (out []string) {
	for _, m := range syntax.Uses(src) {
		out = append(out, m.Text+usePlace(m.Span.Start, placed))
	}
	slices.Sort(out)
	return out
}

func usePlace(at int, placed bool) string {
	if !placed {
		return ""
	}
	return place(at)
}

// usesPlaced says whether the language tells the places of uses: within formatted strings it does not.
func usesPlaced(src []byte) bool {
	lower := bytes.ToLower(src)
	return !slices.ContainsFunc([]string{"f'", "f\"", "fr'", "fr\"", "\r", "\f"},
		func(mark string) bool { return bytes.Contains(lower, []byte(mark)) })
}

func place(at int) string {
	if at < 0 {
		return ""
	}
	return fmt.Sprint(" at ", at)
}

// plainName says whether a text names a module, by a reading of its own.
func plainName(text string) bool {
	trimmed := strings.TrimLeft(text, ".")
	return trimmed != "" && !strings.ContainsFunc(trimmed, func(r rune) bool {
		return r < 0x80 && !(r == '_' || r == '.' || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' ||
			r >= '0' && r <= '9')
	}) && !strings.Contains(trimmed, "..") && !strings.HasSuffix(trimmed, ".") &&
		!strings.ContainsAny(trimmed[:1], "0123456789")
}

func difference(want, got []string) string {
	var out strings.Builder
	for _, w := range want {
		if !slices.Contains(got, w) {
			fmt.Fprintln(&out, "  missing:", w)
		}
	}
	for _, g := range got {
		if !slices.Contains(want, g) {
			fmt.Fprintln(&out, "  too much:", g)
		}
	}
	text := out.String()
	return text[:min(len(text), 1500)]
}

// sources are the Python files below a folder, in order.
func sources(t *testing.T, folder string) []string {
	t.Helper()
	var out []string
	require.NoError(t, filepath.WalkDir(folder, func(p string, d fs.DirEntry, err error) error {
		if err == nil && d.Name() == "site-packages" { // what this machine happens to have
			return fs.SkipDir
		}
		if err == nil && !d.IsDir() && strings.HasSuffix(p, ".py") && !strings.Contains(p, "\n") {
			out = append(out, p)
		}
		return nil
	}))
	return out
}
