package python_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// packages are the folders of made projects, each of them a package.
var packages = []string{"night", "night/sky", "night/sky/deep", "night/tools", "dome", "dome/parts"}

const randomConvention = `crooked: 1
shelves:
  odd: { at: night/odd/, takes: [{ name: "m*7.py" }] }
  renamed: { at: dome/named/new_<name>.py, from: [dome/<name>.py] }
  deep: { at: night/kit/, from: ["night/sky/**"] }
  tools: { at: tools/, from: ["night/tools/**"] }
  parts: { at: dome/core/parts/, from: [dome/parts/m1*.py, dome/parts/m2*.py] }
`

// makePackage writes modules that use one another in every way, and a program that prints what each of them sees.
func makePackage(r *rand.Rand, n int) map[string]string {
	files := map[string]string{}
	for _, p := range packages {
		files[p+"/__init__.py"] = ""
	}
	places := make([]string, n)
	for i := range places {
		places[i] = packages[r.IntN(len(packages))]
	}
	dotted := func(i int) string { return strings.ReplaceAll(places[i], "/", ".") + fmt.Sprintf(".m%d", i) }
	relative := func(from, to int) (string, bool) {
		a, b := strings.Split(places[from], "/"), strings.Split(places[to], "/")
		if a[0] != b[0] {
			return "", false
		}
		for len(a) > 0 && len(b) > 0 && a[0] == b[0] {
			a, b = a[1:], b[1:]
		}
		return "." + strings.Repeat(".", len(a)) + strings.Join(b, "."), true
	}
	var program strings.Builder
	program.WriteString("import importlib\n\nfor name in [\n")
	for i := range n {
		var top, body strings.Builder
		for k := range 1 + r.IntN(6) {
			to := r.IntN(n)
			module := fmt.Sprintf("m%d", to)
			parent := strings.ReplaceAll(places[to], "/", ".")
			if rel, ok := relative(i, to); ok && r.IntN(2) == 0 {
				parent = rel
			}
			from := parent + "." + module
			if strings.HasSuffix(parent, ".") {
				from = parent + module
			}
			switch r.IntN(9) {
			case 0:
				fmt.Fprintf(&body, "    from %s import %s\n    seen.append(%s.VALUE)\n", parent, module, module)
			case 1:
				fmt.Fprintf(&body,
					"    from %s import (\n        %s as x%d,  # why\n    )\n    seen.append(x%d.VALUE)\n", parent,
					module, k, k)
			case 2:
				fmt.Fprintf(&body, "    import %s; seen.append(%s.VALUE)\n", dotted(to), dotted(to))
			case 3:
				fmt.Fprintf(&body, "    import os, %s as y%d\n    seen.append(y%d.VALUE)\n", dotted(to), k, k)
			case 4:
				fmt.Fprintf(&body, "    from %s import VALUE as v%d\n    seen.append(v%d)\n", from, k, k)
			case 5:
				fmt.Fprintf(&body, "    seen.append(importlib.import_module('%s').VALUE)\n", dotted(to))
			case 6: // another of the same package, in one statement
				other := to
				for j := range n {
					if places[j] == places[to] {
						other = j
					}
				}
				fmt.Fprintf(&body, "    from %s import %s, m%d\n    seen.append((%s.VALUE, m%d.VALUE))\n", parent,
					module, other, module, other)
			case 7:
				fmt.Fprintf(&top, "import %s\n\n\ndef top%d():\n    return f\"{%s.VALUE!r}\"\n\n\n", dotted(to), k,
					dotted(to))
				fmt.Fprintf(&body, "    seen.append(top%d())\n", k)
			case 8:
				first, rest, _ := strings.Cut(dotted(to), ".")
				fmt.Fprintf(&body, "    import %s as z%d, %s\n    seen.append(z%d.%s.VALUE)\n", first, k, dotted(to), k,
					rest)
			}
		}
		p := path.Join(places[i], fmt.Sprintf("m%d.py", i))
		files[p] = fmt.Sprintf("import importlib\n%s\nVALUE = %d\n\n\ndef see():\n    seen = []\n%s    return seen\n",
			top.String(), i, body.String())
		fmt.Fprintf(&program, "    \"%s\",\n", dotted(i))
	}
	program.WriteString("]:\n    print(importlib.import_module(name).see())\n")
	files["settings.py"] = program.String()
	return files
}

// Whatever moves where: the interpreter sees the same values through the same statements, and undo gives every byte
// back.
func TestRandomPackagesStillRun(t *testing.T) {
	interpreter, err := exec.LookPath("python3")
	if err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("python3 is not installed")
		}
		t.Skip("python3 is not installed")
	}
	program := tree.Build(t)
	run := func(dir string) string {
		cmd := exec.Command(interpreter, "-B", "settings.py")
		cmd.Dir = dir
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, "%s\n%s", dir, out)
		return string(out)
	}
	for seed := range uint64(40) {
		dir := filepath.Join(t.TempDir(), "p")
		files := makePackage(rand.New(rand.NewPCG(seed, 3)), 40)
		files["crooked.yaml"] = randomConvention
		for p, text := range files {
			file := filepath.Join(dir, filepath.FromSlash(p))
			require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
			require.NoError(t, os.WriteFile(file, []byte(text), 0o644))
		}
		old, err := tree.Hashes(dir)
		require.NoError(t, err)
		before := run(dir)
		out, err := tree.Call(program, dir, "straighten", "--yes")
		require.NoError(t, err, "seed %d: %s", seed, out)
		require.Contains(t, out, "Moved ", "seed %d", seed)
		require.Equal(t, before, run(dir), "seed %d", seed)
		out, err = tree.Call(program, dir, "plan")
		require.NoError(t, err)
		require.Contains(t, out, "No moves", "seed %d", seed)
		_, err = tree.Call(program, dir, "undo")
		require.NoError(t, err)
		now, err := tree.Hashes(dir)
		require.NoError(t, err)
		require.Empty(t, tree.Differences(old, now), "seed %d", seed)
	}
}
