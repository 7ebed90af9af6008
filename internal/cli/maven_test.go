package cli_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/project/projecttest"
)

// Modules of a build that can't be made are reported, with the place, before anything moves; and what a reader should
// know of those that are made stands in the plan.
func TestModulesOfMaven(t *testing.T) {
	t.Parallel()
	const (
		build = "-- pom.xml --\n<project>\n  <groupId>hilltop</groupId>\n  <artifactId>all</artifactId>\n  <version>1</version>\n  <dependencies>\n" +
			"    <dependency><groupId>org.other</groupId><artifactId>other-a</artifactId><version>1</version></dependency>\n" +
			"    <dependency><groupId>org.silent</groupId><artifactId>silent</artifactId><version>1</version></dependency>\n  </dependencies>\n</project>\n"
		java = "src/main/java/night/"
		two  = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\", \"docs/**\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, inside: { src: { at: src/main/java/night/one/, from: [{ src/main/java/night/one/**: {} }] }, tests: { at: src/test/java/night/one/, from: [{ src/test/java/night/one/**: {} }] } } }\n" +
			"  two: { at: parts/two/, package: true, inside: { src: { at: src/main/java/night/two/, from: [{ src/main/java/night/two/**: {} }] }, tests: { at: src/test/java/night/two/, from: [{ src/test/java/night/two/**: {} }] } } }\n  rest: { at: src/ }\n"
		a    = "-- src/main/java/night/one/A.java --\npackage night.one;\n\npublic class A {}\n"
		b    = "-- src/main/java/night/two/B.java --\npackage night.two;\n\npublic class B { night.one.A a; }\n"
		test = "-- src/test/java/night/one/ATest.java --\npackage night.one;\n\npublic class ATest {}\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", build + "-- " + java + "one/A.java --\npackage night.one;\n\npublic class A { night.two.B b; }\n" + b,
			"packages may not need one another in a circle: parts/one needs parts/two (src/main/java/night/one/A.java:3: night.two.B), parts/two needs parts/one (src/main/java/night/two/B.java:3: night.one.A)"},
		{"a circle by a test", "true", build + a + b + "-- src/test/java/night/one/ATest.java --\npackage night.one;\n\nclass ATest { night.two.B b; }\n",
			"packages may not need one another in a circle"},
		{"two of one name", "two", build + a + b, "has the name two already"},
		{"no name", "one+", build + a + b, `"one+" is no name of an artifact`},
		{"a source that stays", "true", build + a + b + "-- " + java + "Main.java --\npackage night;\n\nclass Main {}\n",
			"pom.xml would have modules, and a build with modules has no sources of its own: let src/main/java/night/Main.java go to a module too"},
		{"a resource that stays", "true", build + a + b + "-- src/main/resources/rows.csv --\n1\n", "let src/main/resources/rows.csv go to a module too"},
		{"a test of another", "true", build + a + b + test + "-- src/test/java/night/two/BTest.java --\npackage night.two;\n\nclass BTest extends night.one.ATest {}\n",
			"src/test/java/night/two/BTest.java:3 uses parts/one/src/test/java/night/one/ATest.java, a test of another module, which gives out none"},
		{"a module that says so", "true", build + a + b + "-- src/main/java/module-info.java --\nmodule night {}\n", "src/main/java/module-info.java says which packages the module has for the compiler"},
		{"a build elsewhere", "true", strings.Replace(build, "pom.xml", "docs/pom.xml", 1) + a + b, "no pom.xml says what its files are of"},
		{"a build that another program has", "true", "-- build.gradle --\n" + a + b, "parts/one: no language of its files makes packages yet; its manifest is yours to write"},
		{"what no import names", "true", build + a + b, "note: pom.xml:5: no import names other-a, silent, so all modules have it from here"},
		{"a name that fits nothing", "true", build + a + strings.Replace(b, "package night.two;\n", "package night.two;\n\nimport com.strange.Thing;\n", 1),
			"note: src/main/java/night/two/B.java:3: it is not known by its name which dependency has com.strange.Thing: parts/two/pom.xml may have to ask for it"},
		{"another name", "ours", build + "-- parts/one/pom.xml --\n<project><artifactId>theirs</artifactId></project>\n" + a + b,
			"note: parts/one/pom.xml:1: the module is called theirs, and the convention calls it ours: the name stays"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	badInputs(t, rows, "plan")
}

// A survey shows packages that code does not name too: who uses whom follows from the files.
func TestSurveyShowsPackagesThatCodeDoesNotName(t *testing.T) {
	t.Parallel()
	for name, row := range map[string]struct{ files, says string }{
		"Maven": {"-- a/pom.xml --\n<project><artifactId>night</artifactId></project>\n-- a/src/main/java/n/A.java --\npackage n;\n\npublic class A { m.B b; }\n" +
			"-- b/pom.xml --\n<project><artifactId>moon</artifactId></project>\n-- b/src/main/java/m/B.java --\npackage m;\n\npublic class B {}\n",
			"  night  a/pom.xml, 2 files; uses moon\n  moon  b/pom.xml, 2 files; uses no other\n"},
		".NET": {"-- A/A.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\"><ItemGroup><ProjectReference Include=\"../B/B.csproj\" /></ItemGroup></Project>\n-- A/A.cs --\nnamespace A;\n\npublic class One { B.Two b; }\n" +
			"-- B/B.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\" />\n-- B/B.cs --\nnamespace B;\n\npublic class Two { }\n", "  A  A/A.csproj, 2 files; uses B\n  B  B/B.csproj, 2 files; uses no other\n"},
		"Composer": {"-- a/composer.json --\n{ \"name\": \"h/a\", \"autoload\": { \"psr-4\": { \"A\\\\\": \"src/\" } } }\n-- a/src/One.php --\n<?php\n\nnamespace A;\n\nclass One { public \\B\\Two $b; }\n" +
			"-- b/composer.json --\n{ \"name\": \"h/b\", \"autoload\": { \"psr-4\": { \"B\\\\\": \"src/\" } } }\n-- b/src/Two.php --\n<?php\n\nnamespace B;\n\nclass Two {}\n",
			"  h/a  a/composer.json, 2 files; uses h/b\n  h/b  b/composer.json, 2 files; uses no other\n"},
		"Python": {"-- a/pyproject.toml --\n[project]\nname = \"Night\"\n-- a/src/night/__init__.py --\nimport moon\n-- b/pyproject.toml --\n[project]\nname = \"moon\"\n-- b/src/moon/__init__.py --\n",
			"  night  a/pyproject.toml, 2 files; uses moon\n  moon  b/pyproject.toml, 2 files; uses no other\n"},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			projecttest.Write(t, dir, row.files)
			assert.Contains(t, run(t, dir, "survey").out, "packages\n"+row.says)
		})
	}
}
