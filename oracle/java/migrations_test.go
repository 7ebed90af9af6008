package java_test

import (
	"encoding/xml"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// migration is a real library with its tests, and a convention by which many of its files move.
type migration struct {
	library, encoding string
	needs             string // what its tests need, as group:artifact:version
	convention        string
	least             int // how many files move
	ci                bool
}

const jupiter = "org.junit.jupiter:junit-jupiter:5.10.2 org.hamcrest:hamcrest:2.2 org.apache.commons:commons-lang3:3.14.0 commons-io:commons-io:2.15.1"

var migrations = []migration{
	{"commons-lang3", "UTF-8", "org.junit.jupiter:junit-jupiter:5.10.2 org.hamcrest:hamcrest:2.2 org.easymock:easymock:5.2.0 " +
		"org.junit-pioneer:junit-pioneer:1.9.1 org.openjdk.jmh:jmh-core:1.37 " +
		"com.google.code.findbugs:jsr305:3.0.2", `
shelves:
  making: { at: "src/<set>/java/org/apache/commons/lang3/making/", from: ["src/<set>/java/org/apache/commons/lang3/builder/*.java"] }
  waiting: { at: "src/<set>/java/org/apache/commons/lang3/waiting/", from: ["src/<set>/java/org/apache/commons/lang3/concurrent/*.java"] }
  doing: { at: "src/<set>/java/org/apache/commons/lang3/doing/", from: ["src/<set>/java/org/apache/commons/lang3/function/*.java"] }
  clocks: { at: "src/<set>/java/org/apache/commons/lang3/clocks/", from: ["src/<set>/java/org/apache/commons/lang3/time/*.java"] }
  pairs: { at: "src/<set>/java/org/apache/commons/lang3/values/", from: ["src/<set>/java/org/apache/commons/lang3/tuple/*.java", "src/<set>/java/org/apache/commons/lang3/mutable/*.java"] }
`, 200, false},
	{"commons-collections4", "ISO-8859-1", "junit:junit:4.13.2 org.easymock:easymock:5.2.0 org.apache.commons:commons-lang3:3.14.0", `
shelves:
  doing: { at: "src/<set>/java/org/apache/commons/collections4/doing/", from: ["src/<set>/java/org/apache/commons/collections4/functors/*.java", "src/<set>/java/org/apache/commons/collections4/comparators/*.java"] }
  walking: { at: "src/<set>/java/org/apache/commons/collections4/walking/", from: ["src/<set>/java/org/apache/commons/collections4/iterators/*.java"] }
  rows: { at: "src/<set>/java/org/apache/commons/collections4/rows/", from: ["src/<set>/java/org/apache/commons/collections4/list/*.java", "src/<set>/java/org/apache/commons/collections4/queue/*.java"] }
  trees: { at: "src/<set>/java/org/apache/commons/collections4/maps/trees/", from: ["src/<set>/java/org/apache/commons/collections4/trie/*.java"] }
  keys: { at: "src/<set>/java/org/apache/commons/collections4/maps/keys/", from: ["src/<set>/java/org/apache/commons/collections4/keyvalue/*.java", "src/<set>/java/org/apache/commons/collections4/map/*Key*.java"] }
`, 150, false},
	{"commons-text", "UTF-8", jupiter + " org.assertj:assertj-core:3.24.2 org.mockito:mockito-inline:4.8.0 org.apache.commons:commons-rng-simple:1.4", `
shelves:
  alike: { at: "src/<set>/java/org/apache/commons/text/compare/", from: ["src/<set>/java/org/apache/commons/text/similarity/*.java"] }
  signs: { at: "src/<set>/java/org/apache/commons/text/escape/", from: ["src/<set>/java/org/apache/commons/text/translate/*.java"] }
  look: { at: "src/<set>/java/org/apache/commons/text/find/", from: ["src/<set>/java/org/apache/commons/text/lookup/*.java", "src/<set>/java/org/apache/commons/text/matcher/*.java"] }
  changes: { at: "src/<set>/java/org/apache/commons/text/compare/changes/", from: ["src/<set>/java/org/apache/commons/text/diff/*.java"] }
  numbers: { at: "src/<set>/java/org/apache/commons/text/numbering/", from: ["src/<set>/java/org/apache/commons/text/numbers/*.java"] }
`, 100, true},
}

// layMigration lays a library out with its tests, its resources and a build.
func layMigration(t *testing.T, m *migration) string {
	t.Helper()
	dir := t.TempDir()
	for from, set := range map[string]string{m.library: "main", m.library + "-tests": "test"} {
		root := filepath.Join("sources", from)
		require.NoError(t, filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
			rel, _ := filepath.Rel(root, p)
			if err != nil || e.IsDir() || strings.HasPrefix(rel, "META-INF") || path.Base(rel) == "module-info.java" ||
				strings.Contains(rel, "/jmh") {
				return err
			}
			kind := "resources"
			if strings.HasSuffix(p, ".java") {
				kind = "java"
			}
			to := filepath.Join(dir, "src", set, kind, rel)
			content, err := os.ReadFile(p)
			require.NoError(t, err)
			require.NoError(t, os.MkdirAll(filepath.Dir(to), 0o755))
			return os.WriteFile(to, content, 0o644)
		}))
	}
	needs := ""
	for one := range strings.FieldsSeq(m.needs) {
		parts := strings.Split(one, ":")
		needs += fmt.Sprintf("    <dependency><groupId>%s</groupId><artifactId>%s</artifactId><version>%s</version></dependency>\n",
			parts[0], parts[1], parts[2])
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "pom.xml"), fmt.Appendf(nil, build, m.library, m.encoding, needs), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, ".gitignore"), []byte("target/\n"), 0o644))
	// the sets of sources have one convention
	convention := "crooked: 1\nwhere: { set: [main, test] }\n" + m.convention
	require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(convention), 0o644))
	for _, args := range [][]string{{"init", "-q"}, {"add", "."}, {"-c", "user.name=desk", "-c", "user.email=desk@hilltop.example", "commit", "-qm", "as it was"}} {
		out, err := exec.Command("git", append([]string{"-C", dir}, args...)...).CombinedOutput()
		require.NoError(t, err, string(out))
	}
	return dir
}

const build = `<project xmlns="http://maven.apache.org/POM/4.0.0">
  <modelVersion>4.0.0</modelVersion>
  <groupId>hilltop</groupId>
  <artifactId>%s</artifactId>
  <version>1</version>
  <properties>
    <maven.compiler.source>17</maven.compiler.source>
    <maven.compiler.target>17</maven.compiler.target>
    <project.build.sourceEncoding>%s</project.build.sourceEncoding>
  </properties>
  <dependencies>
%s  </dependencies>
  <build>
    <plugins>
      <plugin>
        <artifactId>maven-surefire-plugin</artifactId>
        <version>3.2.5</version>
        <configuration>
          <argLine>-Xmx2g --add-opens java.base/java.lang=ALL-UNNAMED --add-opens java.base/java.lang.invoke=ALL-UNNAMED --add-opens java.base/java.util=ALL-UNNAMED --add-opens java.base/java.util.regex=ALL-UNNAMED --add-opens java.base/java.time=ALL-UNNAMED --add-opens java.base/java.time.chrono=ALL-UNNAMED</argLine>
          <redirectTestOutputToFile>true</redirectTestOutputToFile>
        </configuration>
      </plugin>
    </plugins>
  </build>
</project>
`

// suite runs the tests, and gives what became of each: its class without the package, its name, and whether it passed.
func suite(t *testing.T, dir string) []string {
	t.Helper()
	require.NoError(t, os.RemoveAll(filepath.Join(dir, "target")))
	mvn := exec.Command("mvn", "-B", "-q", "-ntp", "-Dmaven.test.failure.ignore=true", "test")
	mvn.Dir = dir
	mvn.Env = append(os.Environ(), "MAVEN_OPTS=-Xmx2g")
	out, err := mvn.CombinedOutput()
	require.NoError(t, err, string(out))
	reports, err := filepath.Glob(filepath.Join(dir, "target/surefire-reports/TEST-*.xml"))
	require.NoError(t, err)
	var said []string
	for _, p := range reports {
		content, err := os.ReadFile(p)
		require.NoError(t, err)
		var report struct {
			Cases []struct {
				Class string    `xml:"classname,attr"`
				Name  string    `xml:"name,attr"`
				Fails *struct{} `xml:"failure"`
				Error *struct{} `xml:"error"`
				Skips *struct{} `xml:"skipped"`
			} `xml:"testcase"`
		}
		require.NoError(t, xml.Unmarshal(content, &report), p)
		for _, c := range report.Cases {
			became := "passed"
			if c.Fails != nil || c.Error != nil {
				became = "failed"
			} else if c.Skips != nil {
				became = "skipped"
			}
			// names with the place of an object in memory differ from run to run
			name, _, _ := strings.Cut(c.Name, "@")
			said = append(said, c.Class[strings.LastIndexByte(c.Class, '.')+1:]+" "+name+" "+became)
		}
	}
	slices.Sort(said)
	return said
}

// A real library whose classes went to other packages passes its own tests as before, and comes back whole.
func TestMigrations(t *testing.T) {
	has(t, "mvn", "sources/commons-text")
	program := tree.Build(t)
	for i := range migrations {
		m := &migrations[i]
		t.Run(m.library, func(t *testing.T) {
			if !m.ci && os.Getenv("JAVA_MIGRATIONS") == "" {
				t.Skip("its tests take minutes: set JAVA_MIGRATIONS")
			}
			dir := layMigration(t, m)
			before := suite(t, dir)
			require.NoError(t, os.RemoveAll(filepath.Join(dir, "target")))
			hashes, err := tree.Hashes(dir)
			require.NoError(t, err)
			noted, _ := tree.Call(program, dir, "plan")
			said, err := tree.Call(program, dir, "straighten", "--yes", "--partial")
			require.True(t, err == nil || strings.Contains(said, "Moved"), said)
			var moved int
			at := strings.LastIndex(said, "Moved ")
			require.GreaterOrEqual(t, at, 0, said)
			_, err = fmt.Sscanf(said[at:], "Moved %d", &moved)
			require.NoError(t, err)
			assert.GreaterOrEqual(t, moved, m.least, said)
			after := suite(t, dir)
			t.Logf("%d files moved; %d tests before, %d after", moved, len(before), len(after))
			gone := slices.DeleteFunc(tree.Without(before, after), func(line string) bool {
				// these read objects that were stored under the old names, which no move changes: a plan says so
				return m.library == "commons-collections4" && strings.HasSuffix(line, "Compatibility passed")
			})
			assert.Empty(t, gone)
			if len(tree.Without(before, after)) > 0 {
				assert.Contains(t, noted, "what was stored of it holds the name of the class")
			}
			require.NoError(t, os.RemoveAll(filepath.Join(dir, "target")))
			_, err = tree.Call(program, dir, "undo")
			require.NoError(t, err)
			now, err := tree.Hashes(dir)
			require.NoError(t, err)
			assert.Empty(t, tree.Differences(hashes, now))
		})
	}
}
