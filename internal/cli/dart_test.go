package cli_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/project/projecttest"
)

const roomsOfDart = `
-- pubspec.yaml --
name: wall
publish_to: none
-- bin/serve.dart --
import 'package:wall/src/wall_page.dart';
void main() => page();
-- lib/wall.dart --
export 'src/wall_page.dart';
-- lib/src/wall_page.dart --
import 'chart.dart';
import 'clock.dart';
Widget page() => Chart(Clock());
-- lib/src/chart.dart --
import 'widget.dart';
class Chart extends Widget {}
-- lib/src/widget.dart --
abstract class Widget {}
-- lib/src/clock.dart --
@immutable
class Clock {}
-- lib/src/speaks.dart --
import 'package:json/json.dart';
typedef Speaks = void Function();
`

// What a convention asks of files is known of Dart: what they declare, extend, bear and import, and who needs them.
func TestWhatDartDeclares(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfDart+`-- crooked.yaml --
crooked: 1
pools:
  stuff: [lib/src/*.dart]
leave: { stay: [pubspec.yaml, bin/**, lib/wall.dart] }
shelves:
  widgets: { at: lib/src/widgets/, takes: [{ extends: Widget, pool: stuff }] }
  values: { at: lib/src/values/, takes: [{ marked: immutable, pool: stuff }] }
  readers: { at: lib/src/readers/, takes: [{ imports: json, pool: stuff }] }
  pages: { at: lib/src/pages/<page>_page.dart, takes: [{ name: "<page>_page.dart", declares: function, pool: stuff }] }
  base: { at: lib/src/base/, takes: [{ name: "*", pool: stuff }] }
`)
	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code, check.err)
	for from, to := range map[string]string{"chart": "widgets/chart", "clock": "values/clock", "speaks": "readers/speaks", "wall_page": "pages/wall_page",
		"widget": "base/widget"} {
		assert.Regexp(t, `lib/src/`+from+`\.dart +-> lib/src/`+to+`\.dart`, check.out)
	}
	straightens(t, dir, map[string]string{
		"lib/wall.dart":                "export 'src/pages/wall_page.dart';\n",
		"bin/serve.dart":               "import 'package:wall/src/pages/wall_page.dart';\nvoid main() => page();\n",
		"lib/src/pages/wall_page.dart": "import '../widgets/chart.dart';\nimport '../values/clock.dart';\nWidget page() => Chart(Clock());\n",
	})
}

// Whom a file of Dart may use, and through which door.
func TestWhomDartUses(t *testing.T) {
	t.Parallel()
	finds(t, roomsOfDart+`-- crooked.yaml --
crooked: 1
leave: { stay: [pubspec.yaml] }
shelves:
  programs: { at: bin/, uses: [] }
  wall: { at: lib/, door: wall.dart }
`,
		"bin/serve.dart:1:9: overreach: programs may not use wall, and it uses lib/src/wall_page.dart")
}

// What is wrong in Dart is said with its place, and holds back what it must.
func TestBadDart(t *testing.T) {
	t.Parallel()
	const moving = "-- pubspec.yaml --\nname: wall\npublish_to: none\n-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\", \"bin/**\"] }\n" +
		"shelves: { new: { at: lib/src/fresh/, from: [lib/src/old/**] } }\n"
	rows := []badInput{
		{"a string without an end", "-- lib/src/old/a.dart --\nimport 'b.dart;\n", "a string does not end (line 1)"},
		{"a comment without an end", "-- lib/src/old/a.dart --\n/* /* */\n", "a comment does not end (line 1)"},
		{"an address in two kinds of quotes", "-- lib/src/old/a.dart --\n-- lib/d.dart --\nimport 'src/old/a' \".dart\";\n",
			"lib/d.dart:1:9 refers to it as \"src/old/a.dart\""},
		{"an address that is put together", "-- lib/src/old/a.dart --\n-- bin/b.dart --\nfinal c = 'package:wall/src/old/$d.dart';\n",
			"bin/b.dart:1: an address is put together here when the program runs"},
	}
	for i := range rows {
		rows[i].files += moving
	}
	badInputs(t, rows, "plan")
	dir := t.TempDir()
	projecttest.Write(t, dir, "-- pubspec.yaml --\nname: wall\n-- lib/a.dart --\npart of 'gone.dart';\n-- lib/b.dart --\nimport 'package:wall/no.dart';\n"+
		"-- crooked.yaml --\ncrooked: 1\nshelves: { all: { at: lib/ } }\n")
	check := run(t, dir, "check")
	assert.Contains(t, check.out, "lib/a.dart:1:10")
	assert.Contains(t, check.out, "lib/b.dart:1:9")
}
