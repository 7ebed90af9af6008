package cli_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

const roomsOfPHP = `
-- composer.json --
{ "autoload": { "psr-4": { "Hill\\": "src/" } } }
-- src/Pages/NightsController.php --
<?php
namespace Hill\Pages;
use Hill\Stuff\Base;
use Hill\Stuff\Chart;
class NightsController extends Base { function f(Chart $c) { return new \Hill\Stuff\Clock; } }
-- src/Pages/RoomsController.php --
<?php
namespace Hill\Pages;
class RoomsController extends \Hill\Stuff\Base { function g() { return \Hill\Stuff\Clock::now(); } }
-- src/Stuff/Base.php --
<?php
namespace Hill\Stuff;
abstract class Base {}
-- src/Stuff/Chart.php --
<?php
namespace Hill\Stuff;
class Chart {}
-- src/Stuff/Clock.php --
<?php
namespace Hill\Stuff;
use Psr\Clock\ClockInterface;
final class Clock implements ClockInterface {}
-- src/Stuff/Row.php --
<?php
namespace Hill\Stuff;
use Doctrine\ORM\Mapping as ORM;
#[ORM\Entity(repositoryClass: Row::class)]
class Row {}
-- src/Stuff/Shape.php --
<?php
namespace Hill\Stuff;
interface Shape {}
-- src/Stuff/dates.php --
<?php
namespace Hill\Stuff;
function long_date() {}
-- src/Stuff/Bell.php --
<?php
namespace Hill\Stuff;
use Symfony\Component\Routing\Attribute\Route;
class Bell { #[Route('/bell')] public function ring() {} }
`

// What a convention asks of files is known of PHP: what they declare and extend, by what they are marked, what they import,
// who needs them, and whom they may use.
func TestWhatPHPDeclares(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfPHP+`-- crooked.yaml --
crooked: 1
pools:
  stuff: [src/Stuff/**]
shelves:
  screens: { at: src/Screens/<screen>Controller.php, takes: [{ name: "<screen>Controller.php", extends: Base }] }
  answers: { at: src/Answers/, takes: [{ declares: route, pool: stuff }] }
  rows: { at: src/Rows/, takes: [{ marked: Entity, pool: stuff }] }
  shapes: { at: src/Shapes/, takes: [{ declares: type, pool: stuff }] }
  clocks: { at: src/Clocks/, takes: [{ imports: Psr, pool: stuff }] }
  tools: { at: src/Tools/, takes: [{ declares: function, pool: stuff }] }
  charts: { at: src/Charts/<screen>/, takes: [{ pool: stuff, needed_by: one of screens }] }
  shared: { at: src/Shared/, takes: [{ pool: stuff }] }
`)
	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code, check.err)
	for from, to := range map[string]string{
		"src/Pages/NightsController.php": "src/Screens/NightsController.php",
		"src/Stuff/Bell.php":             "src/Answers/Bell.php", "src/Stuff/Row.php": "src/Rows/Row.php",
		"src/Stuff/Shape.php": "src/Shapes/Shape.php", "src/Stuff/Clock.php": "src/Clocks/Clock.php",
		"src/Stuff/dates.php": "src/Tools/dates.php", "src/Stuff/Chart.php": "src/Charts/Nights/Chart.php",
		"src/Stuff/Base.php": "src/Shared/Base.php",
	} {
		assert.Regexp(t, strings.ReplaceAll(from, ".", `\.`)+` +-> `+strings.ReplaceAll(to, ".", `\.`), check.out)
	}
	straightens(t, dir, map[string]string{"src/Charts/Nights/Chart.php": "<?php\nnamespace Hill\\Charts\\Nights;\nclass Chart {}\n"})
}

// Whom a file of PHP may use, and through which door.
func TestWhomPHPUses(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfPHP+`-- crooked.yaml --
crooked: 1
shelves:
  pages: { at: src/Pages/, uses: [], libraries: { never: [Psr] } }
  stuff: { at: src/Stuff/, door: Base.php, libraries: { never: [Psr] } }
`)
	check := run(t, dir, "check", "--format", "lines")
	assert.Equal(t, 1, check.code, check.err)
	assert.Contains(t, check.out, "src/Pages/NightsController.php:3:5: overreach: pages may not use stuff, and it uses src/Stuff/Base.php")
	assert.Contains(t, check.out, "src/Pages/RoomsController.php:3:31: overreach: pages may not use stuff, and it uses src/Stuff/Base.php")
	assert.Equal(t, 1, strings.Count(check.out, "RoomsController.php:3:31"), "each class that a file uses counts once")
	assert.Contains(t, check.out, "src/Stuff/Clock.php:3:5: overreach: stuff may not use the library Psr")

	dir = t.TempDir()
	projecttest.Write(t, dir, roomsOfPHP+"-- crooked.yaml --\ncrooked: 1\nshelves:\n  rooms: { at: src/<room>/, door: Base.php }\n")
	check = run(t, dir, "check", "--format", "lines")
	assert.Contains(t, check.out, "src/Pages/NightsController.php:4:5: backdoor: from outside, src/Stuff is imported through Base.php alone")
	assert.NotContains(t, check.out, "NightsController.php:3:5: backdoor")
}

// A file whose namespace is not the one of its place is found by nothing, and a name that nobody declares leads nowhere.
func TestWhatIsWrongInPHP(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- composer.json --
{ "autoload": { "psr-4": { "Hill\\": "src/" } } }
-- src/Sky/Star.php --
<?php
namespace Hill\Stars;
class Star {}
-- src/Sky/Moon.php --
<?php
namespace Hill\Sky;
use Hill\Sky\Sun;
class Moon { function f() { require __DIR__ . '/gone.php'; require __DIR__ . '/../../vendor/autoload.php'; } }
-- .gitignore --
vendor/
-- crooked.yaml --
crooked: 1
shelves: { sky: { at: src/Sky/ } }
`)
	check := run(t, dir, "check", "--format", "lines")
	assert.Contains(t, check.out, `src/Sky/Star.php:2:11: mislabelled: it calls itself Hill\Stars`)
	assert.Contains(t, check.out, `src/Sky/Moon.php:3:5: dangling: import "Hill\\Sky\\Sun" leads nowhere`)
	assert.Contains(t, check.out, "src/Sky/Moon.php:4:37: dangling: include")
	assert.Equal(t, 2, strings.Count(check.out, "Moon.php"), check.out)
}

// Bad input is said with its place, and holds back what it must.
func TestBadPHP(t *testing.T) {
	t.Parallel()
	const moving = "-- crooked.yaml --\ncrooked: 1\nshelves: { new: { at: src/New/, from: [src/Old/**] } }\n"
	rows := []badInput{
		{"a manifest that is broken", "-- composer.json --\n{ \"autoload\": [\n-- src/Old/A.php --\n<?php\nnamespace A;\nclass A {}\n",
			"composer.json can't be read, so it is not known by which paths classes are found: not valid JSON: line 2"},
		{"a heredoc that never ends", "-- src/Old/A.php --\n<?php\n$a = <<<X\n", "src/Old/A.php: line 2, column 6: what begins here has no end"},
		{"a short tag", "-- src/Old/A.php --\n<p>\n<? echo 1 ?>\n", "src/Old/A.php: line 2, column 1: <? without php begins here"},
	}
	for i := range rows {
		rows[i].files = "\n" + rows[i].files + moving
	}
	badInputs(t, rows, "plan", "check")
	t.Run("two files that declare one class", func(t *testing.T) {
		t.Parallel()
		dir := t.TempDir()
		projecttest.Write(t, dir, "\n-- src/Old/A.php --\n<?php\nnamespace A;\nclass A {}\n-- lib/A.php --\n<?php\nnamespace A;\nclass A {}\n"+moving)
		plan := run(t, dir, "plan")
		assert.Equal(t, 0, plan.code, plan.err)
		assert.Contains(t, plan.out, "src/Old/A.php:3: lib/A.php declares A\\A too, and which of them is loaded is not known")
	})
	t.Run("a list of classes of five megabytes", func(t *testing.T) {
		t.Parallel()
		dir := t.TempDir()
		projecttest.Write(t, dir, "\n-- src/Old/A.php --\n<?php\nnamespace A;\nclass A {}\n"+moving)
		var list strings.Builder
		list.WriteString("<?php\nreturn [\n")
		for i := 0; list.Len() < 5<<20; i++ {
			fmt.Fprintf(&list, "    'A\\\\Class%d' => __DIR__ . '/src/Old/Class%d.php',\n", i, i)
		}
		list.WriteString("];\n")
		require.NoError(t, os.WriteFile(filepath.Join(dir, "classes.php"), []byte(list.String()), 0o600))
		done := run(t, dir, "straighten", "--yes", "--dirty")
		assert.Equal(t, 0, done.code, done.err)
		assert.Contains(t, done.out, "Moved 1 file")
	})
}

// What a plan can't follow is said once for each thing, where a class gets another name.
func TestNotesOfPHP(t *testing.T) {
	t.Parallel()
	const manifest = "\n-- composer.json --\n{ \"autoload\": { \"psr-4\": { \"Hill\\\\\": \"src/\" } } }\n-- src/Sky/Star.php --\n<?php\nnamespace Hill\\Sky;\nclass Star {}\n"
	for _, row := range []struct{ code, says string }{
		{"new $class;", "a class is picked by a name from data"}, {"new ($a . $b);", "a class is picked by a name from data"},
		{"$class::make();", "a class is picked by a name from data"}, {"eval($text);", "eval runs a text as code"},
		{"$this->morphTo();", "rows of a database say of which class they are"},
		{"str_replace('a', 'b', static::class);", "the name of the own class is taken apart"},
		{"substr(__CLASS__, 4);", "the name of the own class is taken apart"},
		{"sprintf('%s', get_class($this));", "the name of the own class is taken apart"},
		{"unserialize($x);", "what was stored holds the names of classes"}, {"new \\Phar('x');", "an archive of PHP has files"},
		{"new static; $this->eval(); $this->serialize(); Star::make(); strlen(__CLASS__); $this::make();", ""},
	} {
		for _, to := range []string{"src/Sky/Moon/Star.php", "src/Sky/star.txt"} {
			dir := t.TempDir()
			projecttest.Write(t, dir, manifest+"-- src/Use.php --\n<?php\nnamespace Hill;\nclass Use1 { function f() { "+row.code+" } }\n"+
				"-- src/Again.php --\n<?php\nnamespace Hill;\nclass Again { function f() { "+row.code+" } }\n-- notes.txt --\n"+
				"-- crooked.yaml --\ncrooked: 1\nshelves: { a: { at: src/Sky/Moon/, from: [src/Sky/Star.php] } }\n")
			if strings.HasSuffix(to, ".txt") {
				projecttest.Write(t, dir, "\n-- crooked.yaml --\ncrooked: 1\nshelves: { a: { at: docs/, from: [notes.txt] } }\n")
			}
			plan := run(t, dir, "plan")
			require.Equal(t, 0, plan.code, plan.err+plan.out)
			if row.says == "" || strings.HasSuffix(to, ".txt") { // nothing gets another name
				assert.NotContains(t, plan.out, "note:", row.code)
				continue
			}
			assert.Contains(t, plan.out, "note: src/Again.php:3: "+row.says, row.code)
			assert.Equal(t, 1, strings.Count(plan.out, "note:"), plan.out)
			assert.Contains(t, plan.out, "(and 1 more)")
		}
	}
}

// A move without a convention: a class goes with its test, and what names it follows.
func TestMoveOfAClass(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- composer.json --
{ "autoload": { "psr-4": { "Hill\\": "src/" } }, "autoload-dev": { "psr-4": { "Hill\\Tests\\": "tests/" } } }
-- src/Sky/Star.php --
<?php

namespace Hill\Sky;

final class Star
{
}
-- tests/Sky/StarTest.php --
<?php

namespace Hill\Tests\Sky;

use Hill\Sky\Star;

/** @covers \Hill\Sky\Star */
class StarTest
{
    private Star $star;
}
`)
	moved := run(t, dir, "move", "src/Sky/Star.php", "src/Bodies/Sun.php", "--yes", "--dirty")
	require.Equal(t, 0, moved.code, moved.err+moved.out)
	files := projecttest.Read(t, dir)
	assert.Equal(t, "-rw-r--r--\n<?php\n\nnamespace Hill\\Bodies;\n\nfinal class Sun\n{\n}\n", files["src/Bodies/Sun.php"])
	assert.Contains(t, files["tests/Sky/StarTest.php"]+files["tests/Bodies/SunTest.php"]+files["tests/Sky/SunTest.php"],
		"use Hill\\Bodies\\Sun;\n\n/** @covers \\Hill\\Bodies\\Sun */")
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Contains(t, projecttest.Read(t, dir), "src/Sky/Star.php")
	moved = run(t, dir, "move", "src/Sky/Star.php", "tests/Fixtures/", "--alone", "-o", "plan.json")
	require.Equal(t, 0, moved.code, moved.err)
	plan, err := os.ReadFile(filepath.Join(dir, "plan.json"))
	require.NoError(t, err)
	assert.Contains(t, string(plan), `Hill\\Tests\\Fixtures\\Star would be found by autoload-dev alone`)
}
