package python_test

import (
	"bufio"
	"encoding/json"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
	"crookedshelf/oracle/tree"
)

// TestImportsLeadWhereTheFindersSay holds every import of each package that CROOKED_PYTHON holds against importlib.
func TestImportsLeadWhereTheFindersSay(t *testing.T) {
	folder := os.Getenv("CROOKED_PYTHON")
	if folder == "" {
		t.Skip("run.sh fetches the packages for this comparison and names their folder in CROOKED_PYTHON")
	}
	packages, err := filepath.Glob(filepath.Join(folder, "*"))
	require.NoError(t, err)
	require.Greater(t, len(packages), 4)
	for _, root := range packages {
		t.Run(filepath.Base(root), func(t *testing.T) { compareTargets(t, root) })
	}
}

// question is one import: the file that holds it, the module, the name that is taken from it, and where it leads by our
// reading.
type question struct{ file, module, name, target string }

func compareTargets(t *testing.T, root string) {
	questions := targets(t, root)
	finders := exec.Command("python3", "resolve.py")
	in, err := finders.StdinPipe()
	require.NoError(t, err)
	out, err := finders.StdoutPipe()
	require.NoError(t, err)
	finders.Stderr = os.Stderr
	require.NoError(t, finders.Start())
	go ask(in, root, questions)
	lines := bufio.NewScanner(out)
	inside, differ := 0, 0
	for _, q := range questions {
		require.True(t, lines.Scan())
		if want := lines.Text(); want != q.target {
			if differ++; differ <= 10 {
				t.Errorf("%s: %s %s leads to %q, and we say %q", q.file, q.module, q.name, want, q.target)
			}
		}
		if q.target != "" {
			inside++
		}
	}
	require.NoError(t, finders.Wait())
	require.Zero(t, differ)
	t.Logf("%d imports, %d lead into the package, 0 differ", len(questions), inside)
}

func ask(in io.WriteCloser, root string, questions []question) {
	defer in.Close()
	lines := json.NewEncoder(in)
	for _, q := range questions {
		if lines.Encode([]string{root, filepath.Join(root, q.file), q.module, q.name}) != nil {
			return
		}
	}
}

// targets lists the imports of a package's files and where they lead by our reading.
func targets(t *testing.T, root string) (out []question) {
	files, g, err := tree.Graph(root)
	require.NoError(t, err)
	for id := range g.Files {
		n := &g.Files[id]
		for i, target := range n.Targets {
			q := question{file: files.Path(project.FileID(id)), module: n.Mentions[i].Text}
			switch n.Mentions[i].Kind {
			case syntax.ModuleImport, syntax.FromModule:
			case syntax.FromName:
				if q.module, q.name = lang.Own[syntax.Detail](&n.Mentions[i]).From,
					n.Mentions[i].Text; q.name == lang.Everything {
					continue // the module is asked for
				}
			default:
				continue
			}
			switch target.Kind {
			case lang.ToFile:
				q.target = files.Path(target.File)
			case lang.ToFolder:
				q.target = strings.TrimSuffix(target.Folder(), "/") + "/"
			}
			out = append(out, q)
		}
	}
	return out
}
