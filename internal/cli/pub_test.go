package cli_test

import (
	"strings"
	"testing"
)

// Packages of Dart that can't be made are reported, with the place, before anything moves; and what a reader should know
// of those that are made stands in the plan.
func TestPackagesOfPub(t *testing.T) {
	t.Parallel()
	const (
		manifest = "-- pubspec.yaml --\nname: hilltop\npublish_to: none\nenvironment:\n  sdk: ^3.6.0\ndependencies:\n  path: ^1.0.0\n"
		two      = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, inside: { lib: { at: lib/, from: [lib/one/**] } } }\n" +
			"  two: { at: parts/two/, package: true, inside: { lib: { at: lib/, from: [lib/two/**] } } }\n  rest: { at: lib/ }\n  bin: { at: bin/ }\n"
		a = "-- lib/one/a.dart --\nclass A {}\n"
		b = "-- lib/two/b.dart --\nimport '../one/a.dart';\n\nA? a;\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", manifest + "-- lib/one/a.dart --\nimport '../two/b.dart';\n\nclass A {}\n" + b,
			"packages may not need one another in a circle: parts/one needs parts/two (lib/one/a.dart:1: ../two/b.dart), parts/two needs parts/one (lib/two/b.dart:1: ../one/a.dart)"},
		{"two of one name", "two", manifest + a + b, "has the name two already"},
		{"no name", "One", manifest + a + b, `"One" is no name of a package: small letters, digits and _`},
		{"the name of a library", "path", manifest + a + b, "path is the name of a library too, which pubspec.yaml asks for"},
		{"a part of another's library", "true", manifest + "-- lib/one/a.dart --\npart '../two/b.dart';\n-- lib/two/b.dart --\npart of '../one/a.dart';\n",
			"lib/one/a.dart:1 names a part of its library, which would be of another package: let the two stay together"},
		{"what lies outside of lib", "true", manifest + "-- bin/words.dart --\nconst clear = 1;\n-- lib/one/a.dart --\nimport '../../bin/words.dart';\n\nclass A { int a = clear; }\n" + b,
			"lib/one/a.dart:1 needs bin/words.dart, and others get only what lies in lib of its package"},
		{"no manifest", "true", a + b, "parts/one: no language of its files makes packages yet; its manifest is yours to write"},
		{"a library that nobody asks for", "true", manifest + a + strings.Replace(b, "import", "import 'package:meta/meta.dart';\nimport", 1), "note: lib/two/b.dart:1: it uses meta, which no pubspec.yaml asks for"},
		{"another name", "ours", manifest + "-- parts/one/pubspec.yaml --\nname: theirs\n" + a + b,
			"note: parts/one/pubspec.yaml:1: the package is called theirs, and the convention calls it ours: the name stays"},
		{"a lock file", "true", manifest + a + b + "-- pubspec.lock --\n", "note: pubspec.lock:1: it is out of date then: dart pub get writes it anew"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	badInputs(t, rows, "plan")
}
