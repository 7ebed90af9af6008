package golang_test

import (
	"fmt"
	"go/ast"
	"go/build"
	"go/parser"
	"go/token"
	"go/types"
	"maps"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/golang"
	"crookedshelf/internal/project"
	"crookedshelf/oracle/tree"
)

// The names that files use of their own package and of others of the module are those that the language's type checker
// finds.
func TestNamesAgainstTheTypeChecker(t *testing.T) {
	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	sources := []string{filepath.Join(strings.TrimSpace(string(root)), "src")}
	least, more := 5000, []string{"github.com/alecthomas/chroma/v2@v2.17.2", "github.com/goccy/go-yaml@v1.19.2"}
	if os.Getenv("GO_NAMES") == "all" {
		least, more = 15000, append(more, large...)
	}
	for _, m := range slices.Concat(modules, more) {
		sources = append(sources, tree.Module(t, m))
	}
	sum := names{}
	for _, dir := range sources {
		loaded, g, err := tree.Graph(dir)
		require.NoError(t, err)
		c := checker{t: t, dir: dir, tree: loaded, graph: g, clauses: map[string]string{}}
		c.all()
		t.Logf("%s: %d files, %d names: the type checker agrees; %d keys may be fields; %d stand where types are not "+
			"known", path.Base(dir), c.files, c.agreed, c.keys, c.unchecked)
		sum.files, sum.agreed, sum.keys, sum.unchecked = sum.files+c.files, sum.agreed+c.agreed, sum.keys+c.keys,
			sum.unchecked+c.unchecked
	}
	t.Logf("%d files, %d names, %d keys that may be fields, %d not checked", sum.files, sum.agreed, sum.keys,
		sum.unchecked)
	require.Less(t, sum.unchecked*20, sum.agreed)
	require.Greater(t, sum.files, least)
}

// large are the modules of the whole run.
var large = []string{
	"gonum.org/v1/gonum@v0.16.0", "github.com/blevesearch/bleve/v2@v2.5.0", "golang.org/x/tools@v0.30.0",
	"k8s.io/client-go@v0.32.0", "k8s.io/kubernetes@v1.32.0",
	"k8s.io/apimachinery@v0.32.0", "github.com/prometheus/prometheus@v0.301.0",
}

type names struct{ files, agreed, keys, unchecked int }

// checker compares the packages of one tree.
type checker struct {
	names
	t       *testing.T
	dir     string
	tree    *project.Project
	graph   *graph.Graph
	clauses map[string]string // of packages of the tree, by their import paths
}

func (c *checker) all() {
	dirs := map[string]bool{}
	for _, f := range c.tree.Files {
		if strings.HasSuffix(f.Path, ".go") && !strings.Contains("/"+f.Path, "/testdata/") &&
			!strings.Contains("/"+f.Path, "/_") {
			dirs[path.Dir(f.Path)] = true
		}
	}
	for _, dir := range slices.Sorted(maps.Keys(dirs)) {
		p, err := build.Default.ImportDir(filepath.Join(c.dir, dir), 0)
		if err != nil || len(p.CgoFiles) > 0 {
			continue // of other systems, or with C
		}
		c.check(dir, slices.Concat(p.GoFiles, p.TestGoFiles))
		c.check(dir, p.XTestGoFiles)
	}
}

// Import makes packages that hold nothing: that a name is of a package is all that is asked for.
func (c *checker) Import(importPath string) (*types.Package, error) {
	name := path.Base(importPath)
	for id := range c.graph.Files {
		for i, m := range c.graph.Files[id].Mentions {
			if t := c.graph.Files[id].Targets[i]; m.Kind == golang.PackageImport && m.Text == importPath &&
				t.Kind == lang.ToSet && c.clauses[importPath] == "" {
				parsed, err := parser.ParseFile(token.NewFileSet(), filepath.Join(c.dir, c.tree.Path(t.Set()[0])), nil,
					parser.PackageClauseOnly)
				if err == nil {
					c.clauses[importPath] = parsed.Name.Name
				}
			}
		}
		if c.clauses[importPath] != "" {
			break
		}
	}
	if known := c.clauses[importPath]; known != "" {
		name = known
	}
	c.clauses[importPath] = name
	p := types.NewPackage(importPath, name)
	p.MarkComplete()
	return p, nil
}

func (c *checker) check(dir string, files []string) {
	set := token.NewFileSet()
	var parsed []*ast.File
	for _, name := range files {
		f, err := parser.ParseFile(set, filepath.Join(c.dir, dir, name), nil, parser.SkipObjectResolution)
		if err != nil {
			return
		}
		parsed = append(parsed, f)
	}
	info := &types.Info{Uses: map[*ast.Ident]types.Object{}}
	config := types.Config{Importer: cached{c, map[string]*types.Package{}}, Error: func(error) {}, FakeImportC: true}
	pack, _ := config.Check(dir, set, parsed, info)
	for i, f := range parsed {
		file := path.Join(dir, files[i])
		id, ok := c.tree.Lookup(file)
		require.True(c.t, ok, file)
		want := map[string]bool{}
		ast.Inspect(f, func(n ast.Node) bool {
			if s, is := n.(*ast.SelectorExpr); is {
				if x, is := s.X.(*ast.Ident); is {
					if p, is := info.Uses[x].(*types.PkgName); is && c.ours(id, p.Imported().Path()) {
						want[fmt.Sprint(set.PositionFor(x.Pos(), false).Offset, " ", s.Sel.Name)] = true
					}
				}
			}
			if x, is := n.(*ast.Ident); is {
				if o := info.Uses[x]; o != nil && o.Parent() == pack.Scope() &&
					set.PositionFor(o.Pos(), false).Filename != set.PositionFor(x.Pos(), false).Filename {
					want[fmt.Sprint(set.PositionFor(x.Pos(), false).Offset, " ", x.Name)] = true
				}
			}
			return true
		})
		// offsets of names that were checked: what stands behind a value of another module was not
		known := map[int]bool{}
		ast.Inspect(f, func(n ast.Node) bool {
			if x, is := n.(*ast.Ident); is && info.Uses[x] != nil {
				known[set.PositionFor(x.Pos(), false).Offset] = true
			}
			return true
		})
		c.compare(file, id, want, keys(set, f), known)
	}
}

// ours says whether an import of a file leads to a package of the tree.
func (c *checker) ours(id project.FileID, importPath string) bool {
	for i, m := range c.graph.Files[id].Mentions {
		if m.Kind == golang.PackageImport && m.Text == importPath {
			return c.graph.Files[id].Targets[i].Kind.Inside()
		}
	}
	return false
}

// keys are the offsets of names that stand as keys in literals of types with names.
func keys(set *token.FileSet, f *ast.File) map[int]bool {
	out := map[int]bool{}
	ast.Inspect(f, func(n ast.Node) bool {
		if pair, is := n.(*ast.KeyValueExpr); is {
			if id, is := pair.Key.(*ast.Ident); is {
				out[set.PositionFor(id.Pos(), false).Offset] = true
			}
		}
		return true
	})
	return out
}

func (c *checker) compare(file string, id project.FileID, want map[string]bool, keys, known map[int]bool) {
	c.files++
	n := &c.graph.Files[id]
	for i := range n.Mentions {
		m := &n.Mentions[i]
		if m.Kind != golang.NameUse {
			continue
		}
		key := fmt.Sprint(m.Span.Start, " ", m.Text)
		switch {
		case want[key]:
			delete(want, key)
			c.agreed++
		case keys[m.Span.Start]:
			c.keys++
		case !known[m.Span.Start]:
			c.unchecked++
		case n.Targets[i].Kind.Inside() && c.built(n.Targets[i]):
			require.Fail(c.t, "it is no name of a package", "%s: %s", file, key)
		}
	}
	require.Empty(c.t, want, file)
}

// built says whether the files that declare a name are built here.
func (c *checker) built(t lang.Target) bool {
	for _, id := range append([]project.FileID{t.File}, t.Set()...) {
		if id == project.None {
			continue
		}
		p := filepath.Join(c.dir, c.tree.Path(id))
		if ok, err := build.Default.MatchFile(filepath.Dir(p), filepath.Base(p)); err == nil && ok {
			return true
		}
	}
	return false
}

// cached gives each package once.
type cached struct {
	*checker
	known map[string]*types.Package
}

func (c cached) Import(importPath string) (*types.Package, error) {
	if c.known[importPath] == nil {
		p, err := c.checker.Import(importPath)
		if err != nil {
			return nil, err
		}
		c.known[importPath] = p
	}
	return c.known[importPath], nil
}
