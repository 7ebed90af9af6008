package cli_test

import (
	"strings"
	"testing"
)

// Packages of PHP that can't be made are reported, with the place, before anything moves; and what a reader should know
// of those that are made stands in the plan.
func TestPackagesOfComposer(t *testing.T) {
	t.Parallel()
	const (
		manifest = "-- composer.json --\n{\n  \"name\": \"hilltop/all\",\n  \"require\": { \"psr/log\": \"^3.0\" },\n  \"autoload\": { \"psr-4\": { \"Night\\\\\": \"src/\" } }\n}\n"
		two      = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, inside: { src: { at: src/, from: [src/One/**] } } }\n" +
			"  two: { at: parts/two/, package: true, inside: { src: { at: src/, from: [src/Two/**] } } }\n  rest: { at: src/ }\n"
		a = "-- src/One/A.php --\n<?php\n\nnamespace Night\\One;\n\nclass A {}\n"
		b = "-- src/Two/B.php --\n<?php\n\nnamespace Night\\Two;\n\nclass B { public \\Night\\One\\A $a; }\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", manifest + strings.Replace(a, "class A {}", "class A { public \\Night\\Two\\B $b; }", 1) + b,
			"packages may not need one another in a circle: parts/one needs parts/two (src/One/A.php:5: \\Night\\Two\\B), parts/two needs parts/one (src/Two/B.php:5: \\Night\\One\\A)"},
		{"two of one name", "hilltop/two", manifest + a + b, "has the name hilltop/two already"},
		{"no name", "One", manifest + a + b, `"hilltop/One" is no name of a package: a maker and a name in small letters`},
		{"the name of a library", "psr/log", manifest + a + b, "psr/log is the name of a library too, which composer.json requires"},
		{"what stays and has no name", "true", strings.Replace(manifest, "\"name\": \"hilltop/all\",", "", 1) + a + b + "-- src/Main.php --\n<?php\n\nnamespace Night;\n\nclass Main {}\n" +
			"-- src/One/C.php --\n<?php\n\nnamespace Night\\One;\n\nclass C { public \\Night\\Main $m; }\n",
			"it needs src/Main.php (src/One/C.php:5: \\Night\\Main), and composer.json has no name by which a package could require it"},
		{"no manifest", "true", a + b, "parts/one: no language of its files makes packages yet; its manifest is yours to write"},
		{"another name", "ours", manifest + "-- parts/one/composer.json --\n{ \"name\": \"hilltop/theirs\" }\n" + a + b,
			"note: parts/one/composer.json:1: the package is called hilltop/theirs, and the convention calls it ours: the name stays"},
		{"a lock file", "true", manifest + a + b + "-- src/Main.php --\n<?php\n\nnamespace Night;\n\nclass Main { public \\Night\\Two\\B $b; }\n-- composer.lock --\n{}\n",
			"note: composer.lock:1: it is out of date then: composer update hilltop/one hilltop/two writes it anew"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	badInputs(t, rows, "plan")
}
