package csharp_test

import (
	"encoding/xml"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// migration is a convention by which half of a real library and of its tests goes to other namespaces.
const migration = `crooked: 1
where: { part: [Newtonsoft.Json, Newtonsoft.Json.Tests] }
shelves:
  trees: { at: "<part>/Trees/", from: ["<part>/Linq/*.cs"] }
  paths: { at: "<part>/Paths/", from: ["<part>/Linq/JsonPath/*.cs"] }
  rules: { at: "<part>/Rules/", from: ["<part>/Schema/*.cs"] }
  binary: { at: "<part>/Forms/Binary/", from: ["<part>/Bson/*.cs"] }
  turning: { at: "<part>/Turning/", from: ["<part>/Converters/*.cs"] }
  tools: { at: "<part>/Tools/", from: ["<part>/Utilities/*.cs"] }
`

// suite builds the library with its tests, and gives what became of each: its class without the namespace, its name, and
// the outcome.
func suite(t *testing.T, dir string) (said []string) {
	t.Helper()
	script, err := filepath.Abs("testdata/build.sh")
	require.NoError(t, err)
	out := t.TempDir()
	build := exec.Command("bash", script, out)
	build.Dir = dir
	text, err := build.CombinedOutput()
	require.NoError(t, err, string(text))
	content, err := os.ReadFile(filepath.Join(out, "result.xml"))
	require.NoError(t, err)
	decoder := xml.NewDecoder(strings.NewReader(string(content)))
	for {
		token, err := decoder.Token()
		if token == nil {
			break
		}
		require.NoError(t, err)
		if start, is := token.(xml.StartElement); is && start.Name.Local == "test-case" {
			name, result := "", ""
			for _, a := range start.Attr {
				switch a.Name.Local {
				case "name":
					parts := strings.Split(a.Value, ".")
					name = strings.Join(parts[max(0, len(parts)-2):], ".")
				case "result":
					result = a.Value
				}
			}
			said = append(said, name+" "+result)
		}
	}
	slices.Sort(said)
	return said
}

// A real library of which half goes to other namespaces passes its own tests as before, and comes back whole. Its tests
// compare what it says of its types, so strings that look like their names are written too.
func TestMigration(t *testing.T) {
	has(t, "mcs", "nunit-console", "sources/newtonsoft-json")
	program := tree.Build(t)
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, os.DirFS("sources/newtonsoft-json/Src")))
	require.NoError(t, filepath.WalkDir(dir, func(p string, e fs.DirEntry, err error) error {
		if ext := filepath.Ext(p); err == nil && (ext == ".csproj" || ext == ".sln") && !strings.Contains(p, "Net40") {
			return os.Remove(p)
		}
		return err
	}))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(migration), 0o644))
	before := suite(t, dir)
	require.Greater(t, len(before), 1800)
	hashes, err := tree.Hashes(dir)
	require.NoError(t, err)
	said, err := tree.Call(program, dir, "straighten", "--yes", "--dirty", "--likely", "rewrite")
	require.NoError(t, err, said)
	at := strings.LastIndex(said, "Moved ")
	require.GreaterOrEqual(t, at, 0, said)
	var moved, written int
	_, err = fmt.Sscanf(said[at:], "Moved %d files and rewrote %d", &moved, &written)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, moved, 150)
	after := suite(t, dir)
	t.Logf("%d files moved, %d places rewritten; %d tests before, %d after", moved, written, len(before), len(after))
	assert.Equal(t, before, after)
	_, err = tree.Call(program, dir, "undo")
	require.NoError(t, err)
	now, err := tree.Hashes(dir)
	require.NoError(t, err)
	assert.Empty(t, tree.Differences(hashes, now))
}
