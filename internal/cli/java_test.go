package cli_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

const roomsOfJava = `
-- src/main/java/hill/pages/NightController.java --
package hill.pages;

import hill.stuff.Base;
import hill.stuff.Chart;

class NightController extends Base { Chart chart; hill.stuff.Clock clock; }
-- src/main/java/hill/stuff/Base.java --
package hill.stuff;

public abstract class Base {}
-- src/main/java/hill/stuff/Chart.java --
package hill.stuff;

public class Chart {}
-- src/main/java/hill/stuff/Clock.java --
package hill.stuff;

import java.time.Instant;

public class Clock { Instant now; }
-- src/main/java/hill/stuff/Row.java --
package hill.stuff;

@jakarta.persistence.Entity
public record Row(int number) {}
-- src/main/java/hill/stuff/Shape.java --
package hill.stuff;

public interface Shape {}
-- src/main/java/hill/stuff/Bell.java --
package hill.stuff;

public class Bell { @GetMapping("/bell") public String ring() { return ""; } }
`

// What a convention asks of files is known of Java: what they declare and extend, by what they are marked, what they import,
// who needs them, and whom they may use.
func TestWhatJavaDeclares(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfJava+`-- crooked.yaml --
crooked: 1
vars: { app: src/main/java/hill }
pools:
  stuff: [<app>/stuff/**]
shelves:
  screens: { at: <app>/screens/<screen>Controller.java, takes: [{ name: "<screen>Controller.java", extends: Base }] }
  answers: { at: <app>/answers/, takes: [{ declares: route, pool: stuff }] }
  rows: { at: <app>/rows/, takes: [{ marked: Entity, pool: stuff }] }
  shapes: { at: <app>/shapes/, takes: [{ declares: type, pool: stuff }] }
  clocks: { at: <app>/clocks/, takes: [{ imports: java.time, pool: stuff }] }
  charts: { at: <app>/charts/<screen|kebab>/, takes: [{ pool: stuff, needed_by: one of screens }] }
`)
	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code, check.err)
	for from, to := range map[string]string{
		"pages/NightController": "screens/NightController", "stuff/Bell": "answers/Bell", "stuff/Row": "rows/Row",
		"stuff/Shape": "shapes/Shape", "stuff/Clock": "clocks/Clock", "stuff/Chart": "charts/night/Chart",
		"stuff/Base": "charts/night/Base",
	} {
		assert.Regexp(t, `hill/`+from+`\.java +-> src/main/java/hill/`+to+`\.java`, check.out)
	}
	straightens(t, dir, map[string]string{"src/main/java/hill/screens/NightController.java": "package hill.screens;\n\nimport hill.charts.night.Base;\nimport hill.charts.night.Chart;\n\n" +
		"class NightController extends Base { Chart chart; hill.clocks.Clock clock; }\n"})
}

// Whom a file of Java may use, and through which door.
func TestWhomJavaUses(t *testing.T) {
	t.Parallel()
	finds(t, roomsOfJava+`-- crooked.yaml --
crooked: 1
shelves:
  pages: { at: src/main/java/hill/pages/, uses: [] }
  stuff: { at: src/main/java/hill/stuff/, door: Base.java, libraries: { never: [java.time] } }
`,
		"NightController.java:3:8: overreach: pages may not use stuff, and it uses",
		"NightController.java:6:51: overreach: pages may not use stuff, and it uses src/main/java/hill/stuff/Clock.java",
		"Clock.java:3:8: overreach: stuff may not use the library java.time")
}

// What is wrong in Java is said with its place, and holds back what it must.
func TestBadJava(t *testing.T) {
	t.Parallel()
	const moving = "-- crooked.yaml --\ncrooked: 1\nshelves: { new: { at: src/main/java/hill/NEW/, from: [src/main/java/hill/old/**] } }\n"
	var rows []badInput
	for _, row := range []struct{ name, files, to, says string }{
		{"a file that does not parse", "-- src/main/java/hill/old/A.java --\npackage hill.old;\nclass A { int b }\n", "fresh",
			"line 2, column 17: a field ends with ;"},
		{"a package that is no name", "-- src/main/java/hill/old/A.java --\npackage hill.old;\nclass A {}\n", "my-new",
			"hill.my-new is no name that a package may have"},
		{"a word of the language", "-- src/main/java/hill/old/A.java --\npackage hill.old;\nclass A {}\n", "switch",
			"hill.switch is no name that a package may have"},
		{"two types of one name", "-- src/main/java/hill/old/A.java --\npackage hill.old;\nclass A {}\n-- src/main/java/hill/old/B.java --\npackage hill.old;\nclass B {}\nclass A {}\n",
			"fresh", "src/main/java/hill/old/B.java declares hill.old.A too, and which of them is meant is not known"},
		{"a package that is not that of its folder", "-- src/main/java/hill/old/A.java --\npackage hill.other;\nclass A {}\n-- src/main/java/hill/B.java --\npackage hill;\nclass B {}\n", "fresh",
			"mislabelled"},
		{"a build with errors", "-- pom.xml --\n<project><modules>\n-- src/main/java/hill/old/A.java --\npackage hill.old;\nclass A {}\n", "fresh",
			"pom.xml: not valid XML"},
	} {
		rows = append(rows, badInput{row.name, "\n" + row.files + strings.Replace(moving, "NEW", row.to, 1), row.says})
	}
	badInputs(t, rows, "plan", "check")
	t.Run("bytes that are no UTF-8 stay", func(t *testing.T) {
		t.Parallel()
		dir := t.TempDir()
		projecttest.Write(t, dir, "\n-- src/main/java/hill/old/A.java --\npackage hill.old;\nclass A { String b = \"BYTE\"; }\n"+strings.Replace(moving, "NEW", "fresh", 1))
		file := filepath.Join(dir, "src/main/java/hill/old/A.java")
		require.NoError(t, os.WriteFile(file, []byte("package hill.old;\nclass A { String b = \"\xe9\"; }\n"), 0o600))
		done := run(t, dir, "straighten", "--yes", "--dirty")
		require.Equal(t, 0, done.code, done.err+done.out)
		text, err := os.ReadFile(filepath.Join(dir, "src/main/java/hill/fresh/A.java"))
		require.NoError(t, err)
		assert.Equal(t, "package hill.fresh;\nclass A { String b = \"\xe9\"; }\n", string(text))
	})
}

// A move without a convention: a class goes with its test, which lies where the class does among the tests.
func TestMoveOfAJavaClass(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- src/main/java/hill/sky/Star.java --
package hill.sky;

public class Star {
    int size;
}
-- src/test/java/hill/sky/StarTest.java --
package hill.sky;

class StarTest {
    int size = new Star().size;
}
`)
	moved := run(t, dir, "move", "src/main/java/hill/sky/Star.java", "src/main/java/hill/stars/", "--yes", "--dirty")
	require.Equal(t, 0, moved.code, moved.err+moved.out)
	files := projecttest.Read(t, dir)
	assert.Contains(t, files["src/main/java/hill/stars/Star.java"], "package hill.stars;")
	assert.Contains(t, files["src/test/java/hill/stars/StarTest.java"], "package hill.stars;")
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Contains(t, projecttest.Read(t, dir), "src/main/java/hill/sky/Star.java")
}
