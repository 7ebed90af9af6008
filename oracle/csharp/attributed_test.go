package csharp_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/csharp"
	"crookedshelf/oracle/tree"
)

// library is a real one, of which a folder is compiled with some symbols. whole: it compiles alone, or nearly.
type library struct {
	name, symbols string
	whole         bool
}

// scopes is a program of ours, with names that mean one thing here and another there.
const scopes = "scopes"

var libraries = []library{{scopes, "", true}, {"newtonsoft-json/Src/Newtonsoft.Json", "NET40", true}, {"keepass2", "", true},
	{"nunit/src/NUnitFramework/framework", "CLR_4_0", true}, {"mono/external/ikvm/reflect", "NET_4_0", true},
	{"nunit/src/NUnitCore/core", "CLR_4_0", false}, {"mono/external/cecil", "NET_4_0", false},
	{"mono/external/nunit-lite", "", false}}

// meanings are what the compiler says of the files of a folder: of each place of a name its kind and the files that
// declare the type, and the parts of files that it does not read.
type meanings struct {
	names  map[string]map[string]string // by kind and place
	off    map[string][][2]int
	errors []string
}

func compiled(t *testing.T, dir string, files []string, symbols string) meanings {
	t.Helper()
	work := t.TempDir()
	list, out := filepath.Join(work, "list"), filepath.Join(work, "out")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")), 0o644))
	said, err := exec.Command("frontend/run", "Attributed.dll", list, out, "/usr/lib/mono/4.5-api", symbols).CombinedOutput()
	require.NoError(t, err, string(said))
	text, err := os.ReadFile(out)
	require.NoError(t, err)
	m := meanings{names: map[string]map[string]string{"name": {}, "doc": {}, "extension": {}}, off: map[string][][2]int{}}
	for line := range strings.Lines(string(said)) {
		m.errors = append(m.errors, strings.ReplaceAll(strings.TrimSpace(line), dir+"/", ""))
	}
	for line := range strings.Lines(string(text)) {
		parts := strings.Split(strings.TrimSpace(line), "\t")
		from, err := filepath.Rel(dir, parts[0])
		require.NoError(t, err)
		if parts[2] == "off" {
			start, _ := strconv.Atoi(parts[1])
			end, _ := strconv.Atoi(parts[3])
			m.off[from] = append(m.off[from], [2]int{start, end})
			continue
		}
		var to []string
		for one := range strings.SplitSeq(parts[3], "|") {
			rel, err := filepath.Rel(dir, one)
			require.NoError(t, err)
			to = append(to, rel)
		}
		slices.Sort(to)
		m.names[parts[2]][from+":"+parts[1]] = strings.Join(to, "|")
	}
	return m
}

// laid copies the sources of a library, with a project that takes them all.
func laid(t *testing.T, l library) string {
	t.Helper()
	dir := t.TempDir()
	root := filepath.Join("sources", l.name)
	if l.name == scopes { // a program of ours
		archive, err := txtar.ParseFile("testdata/scopes.txtar")
		require.NoError(t, err)
		files, err := txtar.FS(archive)
		require.NoError(t, err)
		require.NoError(t, os.CopyFS(dir, files))
		root = dir
	}
	for _, p := range sourcesOf(t, root) {
		content, err := os.ReadFile(filepath.Join(root, p))
		require.NoError(t, err)
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, p)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, p), content, 0o644))
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "Library.csproj"), []byte(`<Project Sdk="Microsoft.NET.Sdk"></Project>`+"\n"), 0o644))
	return dir
}

// here are the libraries whose sources are here: those that only the whole comparison wants may not be.
func here(all []library) (out []library) {
	for _, l := range all {
		if _, err := os.Stat(filepath.Join("sources", l.name)); err == nil || l.name == scopes {
			out = append(out, l)
		}
	}
	return out
}

// sourcesOf are the files of C# below a folder.
func sourcesOf(t *testing.T, dir string) (out []string) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(dir, func(p string, e os.DirEntry, err error) error {
		if err == nil && e.Type().IsRegular() && strings.HasSuffix(p, ".cs") {
			rel, _ := filepath.Rel(dir, p)
			out = append(out, rel)
		}
		return err
	}))
	return out
}

// declaredOff says whether a file declares a type in a part that the compiler does not read.
func declaredOff(t *testing.T, dir, p, name string, off [][2]int) bool {
	t.Helper()
	content, err := os.ReadFile(filepath.Join(dir, p))
	require.NoError(t, err)
	at := regexp.MustCompile(`\b(?:class|struct|interface|enum|delegate [^;(]*) ` + name + `(?:Attribute)?\b`).FindIndex(content)
	return at != nil && slices.ContainsFunc(off, func(part [2]int) bool { return part[0] <= at[0] && at[0] < part[1] })
}

// Each name that means a type of another file is found, with the files that declare it, and each method that is called
// as if another type had it: none is missed. What is found beside is counted: it costs a using that is not needed.
func TestNamesAgainstTheCompiler(t *testing.T) {
	has(t, "frontend/run", "sources/nunit")
	for _, l := range here(libraries) {
		t.Run(l.name, func(t *testing.T) {
			dir := laid(t, l)
			var files []string
			for _, p := range sourcesOf(t, dir) {
				files = append(files, filepath.Join(dir, p))
			}
			want := compiled(t, dir, files, l.symbols)
			t.Logf("%d errors %v", len(want.errors), want.errors[:min(3, len(want.errors))])
			_, g, err := tree.Graph(dir)
			require.NoError(t, err)
			kinds := map[*lang.Kind]string{csharp.Name: "name", csharp.Again: "name", csharp.DocName: "doc", csharp.Extension: "extension"}
			found := map[string]bool{}
			extends := map[string]bool{}
			count := map[string]int{}
			var missed, other, surplus []string
			branches := 0
			for id, n := range g.Files {
				p := g.Tree.Files[id].Path
				for i := range n.Mentions {
					m, to := &n.Mentions[i], n.Targets[i]
					kind := kinds[m.Kind]
					if kind == "" || to.Kind == lang.ToFile && int(to.File) == id ||
						slices.ContainsFunc(want.off[p], func(off [2]int) bool { return off[0] <= m.Span.Start && m.Span.Start < off[1] }) {
						continue
					}
					var leads []string
					if to.Kind == lang.ToFile {
						leads = append(leads, g.Tree.Path(to.File))
					}
					for _, one := range to.Set() {
						leads = append(leads, g.Tree.Path(one))
					}
					slices.Sort(leads)
					at := fmt.Sprintf("%s:%d", p, m.Span.Start)
					if kind == "extension" {
						extends[p+" "+strings.Join(leads, "|")] = true
						continue
					}
					found[kind+at] = true
					switch is, known := want.names[kind][at]; {
					case !known && slices.ContainsFunc(leads, func(p string) bool { return declaredOff(t, dir, p, m.Text, want.off[p]) }):
						branches++ // the compiler does not read what declares it with these symbols
					case !known:
						surplus = append(surplus, kind+" "+at+" "+m.Text)
					case is != strings.Join(leads, "|"):
						other = append(other, at+" "+m.Text+" "+strings.Join(leads, "|")+" not "+is)
					}
				}
			}
			for kind, names := range want.names {
				for at, to := range names {
					count[kind]++
					if kind == "extension" {
						file, _, _ := strings.Cut(at, ":")
						if !extends[file+" "+to] {
							missed = append(missed, kind+" "+at+" "+to)
						}
					} else if !found[kind+at] {
						missed = append(missed, kind+" "+at+" "+to)
					}
				}
			}
			slices.Sort(missed)
			t.Logf("%v, %d missed, %d lead elsewhere, %d too many, %d of branches that are not read", count, len(missed),
				len(other), len(surplus), branches)
			assert.Empty(t, missed[:min(12, len(missed))])
			assert.Empty(t, other[:min(12, len(other))])
			// nearly all are properties that are called as their types
			if l.name == scopes {
				assert.Len(t, surplus, 3, surplus)
				return
			}
			assert.LessOrEqual(t, len(surplus)*50, count["name"], surplus[:min(20, len(surplus))])
		})
	}
}

// Each rule by which a name is told from another is needed: without it names are missed, or lead elsewhere, or too many
// are found.
func TestRulesAreNeeded(t *testing.T) {
	has(t, "frontend/run")
	tree.Needed(t, "../../internal/lang/csharp", "TestNamesAgainstTheCompiler/"+scopes, []tree.Rule{
		{Name: "type parameters", File: "../names/scopes.go",
			Text: "s.types[name] > 0 ||", Without: ""},
		{Name: "variables", File: "../names/scopes.go",
			Text: "!sure && s.vars[name] > 0", Without: "false"},
		{Name: "nested types", File: "lookup.go",
			Text: "if arity == anyArity || e.types[at].arity == arity {", Without: "if false {"},
		{Name: "inherited types", File: "lookup.go",
			Text: "for _, base := range r.supersOf(d, depth) {", Without: "for _, base := range r.supersOf(d, depth)[:0] {"},
		{Name: "numbers of type parameters", File: "index.go",
			Text: "(arity == anyArity || other.types[d.at].arity == arity)", Without: "true"},
		{Name: "namespaces around before usings", File: "lookup.go",
			Text: "if f := r.inSpace(id, space, name, arity, u); f.by != byNothing {", Without: "if f := r.inSpace(id, space, name, arity, u); f.by != byNothing && !first {"},
		{Name: "usings inside before namespaces around", File: "lookup.go",
			Text: "if brings[i].level == level && !yield(&brings[i]) {", Without: "if level == 0 && !yield(&brings[i]) {"},
		{Name: "names of attributes", File: "lookup.go",
			Text: `r.declares(id, full+"Attribute", arity)`, Without: "r.declares(id, full, arity)"},
	})
}
