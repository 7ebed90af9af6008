// Package resolve_test compares where specifiers lead with the TypeScript compiler. It lays out real source trees from
// npm, resolves every specifier of every TypeScript file, and asks resolve.cjs the same.
package resolve_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/project"
	"crookedshelf/oracle/tree"
)

// sources is one project to lay out: packages copied into it, and files written beside them.
type sources struct {
	name  string
	copy  map[string]string // from below node_modules, to
	files map[string]string
	links map[string]string // below node_modules, to folders of the tree, as a workspace has them
}

const strict = `{ "compilerOptions": { "module": "esnext", "moduleResolution": "bundler", "strict": true %s } }`

var trees = []sources{
	{name: "rxjs", copy: map[string]string{"rxjs/src": "src"}, files: map[string]string{
		"tsconfig.json": `{ "compilerOptions": { "module": "commonjs", "baseUrl": ".", "paths": { "rxjs": ["./src/index"], "rxjs/*": ["./src/*"], "internal/*": ["src/internal/*"] } } }`,
	}},
	{name: "toolkit", copy: map[string]string{"@reduxjs/toolkit/src": "src"}, files: map[string]string{
		"base/tsconfig.base.json": `{ "compilerOptions": { "module": "nodenext", "paths": { "@reduxjs/toolkit": ["../src/index.ts"], "@reduxjs/toolkit/*": ["../src/*"], "@internal/*": ["${configDir}/src/*"] } } }`,
		"tsconfig.json":           `{ "extends": ["./base/tsconfig.base"], "compilerOptions": { "moduleResolution": "bundler" } }`,
	}},
	{name: "admin", copy: map[string]string{"ra-core/src": "src"},
		files: map[string]string{"tsconfig.json": fmt.Sprintf(strict, "")}},
	{name: "effect", copy: map[string]string{"effect/src": "src"},
		files: map[string]string{"tsconfig.json": fmt.Sprintf(strict,
			`, "allowImportingTsExtensions": true, "noEmit": true`)}},
	{name: "chain", copy: map[string]string{"viem": "."}, files: map[string]string{
		"tsconfig.json": `{ "compilerOptions": { "module": "nodenext", "moduleResolution": "nodenext" } }`,
	}},
	{name: "workspace", copy: map[string]string{"@tanstack/react-query": "packages/react-query",
		"@tanstack/query-core": "packages/query-core"}, files: map[string]string{
		"package.json":  `{ "private": true, "workspaces": ["packages/*"] }`,
		"tsconfig.json": fmt.Sprintf(strict, ""),
	}, links: map[string]string{"@tanstack/react-query": "packages/react-query",
		"@tanstack/query-core": "packages/query-core"}},
}

func TestSpecifiersLeadWhereTheCompilerSays(t *testing.T) {
	npm := filepath.Dir(tree.NeedModules(t, "npm"))
	for _, source := range trees {
		t.Run(source.name, func(t *testing.T) {
			told, differ, err := compare(source, npm, t.TempDir())
			require.NoError(t, err)
			require.Zero(t, differ, told)
			t.Log(told)
		})
	}
}

func (t sources) lay(npm, dir string) error {
	for from, to := range t.copy {
		source := filepath.Join(npm, "node_modules", filepath.FromSlash(from))
		err := os.CopyFS(filepath.Join(dir, to), os.DirFS(source))
		if err != nil {
			return err
		}
	}
	for name, text := range t.files {
		target := filepath.Join(dir, name)
		if err := errors.Join(os.MkdirAll(filepath.Dir(target), 0o755),
			os.WriteFile(target, []byte(text), 0o644)); err != nil {
			return err
		}
	}
	for name, to := range t.links {
		target := filepath.Join(dir, "node_modules", filepath.FromSlash(name))
		if err := errors.Join(os.MkdirAll(filepath.Dir(target), 0o755),
			os.Symlink(filepath.Join(dir, to), target)); err != nil {
			return err
		}
	}
	return nil
}

// compare lays the tree out and gives how many specifiers differ, and what there is to tell.
func compare(t sources, npm, dir string) (string, int, error) {
	if err := t.lay(npm, dir); err != nil {
		return "", 0, err
	}
	loaded, g, err := tree.Graph(dir)
	if err != nil {
		return "", 0, err
	}
	var ask bytes.Buffer
	var ours []string
	for id := range g.Files {
		file := loaded.Path(project.FileID(id))
		dialect, known := script.DialectOf(file)
		if !known || dialect&script.TypeScript == 0 {
			continue
		}
		for i, m := range g.Files[id].Mentions {
			if !slices.Contains(script.Kinds[:5], m.Kind) { // from import to require.resolve
				continue
			}
			fmt.Fprintf(&ask, "%s\t%s\t%s\t%s\n", quote(file), m.Kind, quote(m.Text), quote("tsconfig.json"))
			answer := ""
			if target := g.Files[id].Targets[i]; target.Kind == lang.ToFile {
				answer = loaded.Path(target.File)
			}
			ours = append(ours, answer)
		}
	}
	theirs, err := askCompiler(npm, dir, &ask)
	if err != nil {
		return "", 0, err
	}
	if len(theirs) != len(ours) || len(ours) == 0 {
		return "", 0, fmt.Errorf("%d answers to %d questions", len(theirs), len(ours))
	}
	var told strings.Builder
	inside, differ := 0, 0
	for i, a := range theirs {
		if a.Resolved != "" {
			inside++
		}
		if a.Resolved == ours[i] || a.Resolved == "" && asset(ours[i]) {
			continue
		}
		if differ++; differ <= 20 {
			fmt.Fprintf(&told, "%s imports %q: the compiler %q, ours %q\n", a.File, a.Specifier, a.Resolved, ours[i])
		}
	}
	fmt.Fprintf(&told, "%d files, %d specifiers, %d of them lead into the tree; %d differ", len(loaded.Files),
		len(ours), inside, differ)
	return told.String(), differ, nil
}

// asset says whether a file is one that the compiler never resolves to, such as a style sheet.
func asset(p string) bool {
	_, known := script.DialectOf(p)
	return p != "" && !known && path.Ext(p) != ".json"
}

func quote(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}

type answer struct {
	File      string `json:"f"`
	Specifier string `json:"s"`
	Resolved  string `json:"r"`
}

func askCompiler(npm, dir string, questions *bytes.Buffer) ([]answer, error) {
	script, err := filepath.Abs("resolve.cjs")
	if err != nil {
		return nil, err
	}
	cmd := exec.Command("node", script, dir)
	cmd.Dir = npm
	cmd.Stdin = questions
	cmd.Stderr = os.Stderr
	out, err := cmd.Output()
	if err != nil {
		return nil, err
	}
	var answers []answer
	lines := bufio.NewScanner(strings.NewReader(string(out)))
	lines.Buffer(nil, 1<<20)
	for lines.Scan() {
		var a answer
		if err := json.Unmarshal(lines.Bytes(), &a); err != nil {
			return nil, err
		}
		answers = append(answers, a)
	}
	return answers, lines.Err()
}
