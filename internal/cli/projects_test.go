package cli_test

import (
	"strings"
	"testing"
)

// Projects of a solution that can't be made are reported, with the place, before anything moves; and what a reader should
// know of those that are made stands in the plan.
func TestProjectsOfSolutions(t *testing.T) {
	t.Parallel()
	const (
		file = "-- Night/Night.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\">\n  <PropertyGroup>\n    <TargetFramework>net8.0</TargetFramework>\n  </PropertyGroup>\n" +
			"  <ItemGroup>\n    <PackageReference Include=\"Serilog\" Version=\"4.0.0\" />\n  </ItemGroup>\n</Project>\n"
		two = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\", \"Night/*\"] }\nshelves:\n" +
			"  one: { at: Night.One/, package: NAME, from: [Night/One/**] }\n  two: { at: Night.Two/, package: true, from: [Night/Two/**] }\n"
		a = "-- Night/One/A.cs --\nnamespace Night.One;\n\npublic class A { }\n"
		b = "-- Night/Two/B.cs --\nnamespace Night.Two;\n\npublic class B { Night.One.A a; }\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", file + "-- Night/One/A.cs --\nnamespace Night.One;\n\npublic class A { Night.Two.B b; }\n" + b,
			"packages may not need one another in a circle: Night.One needs Night.Two (Night/One/A.cs:3: Night.Two.B), Night.Two needs Night.One (Night/Two/B.cs:3: Night.One.A)"},
		{"what stays and is needed", "true", file + a + b + "-- Night/Main.cs --\nnamespace Night;\n\npublic class Main { Night.Two.B b; }\n" +
			"-- Night/One/C.cs --\nnamespace Night.One;\n\npublic class C { Night.Main m; }\n", "packages may not need one another in a circle: Night needs Night.Two"},
		{"two of one name", "night.two", file + a + b, "has the name night.two already"},
		{"no name", "\"1 one\"", file + a + b, `"1 one" is no name of a project: words with points between them`},
		{"what its assembly alone sees", "true", file + strings.Replace(a, "public class", "internal class", 1) + b, "Night/Two/B.cs uses Night.One.A, which its own assembly alone sees"},
		{"a resource of another assembly", "true", strings.Replace(file, "    <Package", "    <EmbeddedResource Include=\"One/rows.csv\" />\n    <Package", 1) + a + b +
			"-- Night/Main.cs --\nnamespace Night;\n\npublic class Main { object o = typeof(Main).Assembly.GetManifestResourceStream(\"Night.One.rows.csv\"); }\n-- Night/One/rows.csv --\n1\n",
			"Night/Main.cs:3 asks for Night/One/rows.csv as a resource of an assembly, and that would be of another: let the two stay together"},
		{"no project", "true", a + b, "Night.One: no language of its files makes packages yet; its manifest is yours to write"},
		{"a package that no using names", "true", file + a + b, "note: Night/Night.csproj:6: no using names Serilog, so they stay with Night: of Night.One, Night.Two, one must refer to a package itself"},
		{"what a project does besides", "true", strings.Replace(file, "</Project>", "  <Target Name=\"Words\" />\n</Project>", 1) + a + b,
			"note: Night/Night.csproj:8: it has a Target, which Night.One does not have"},
		{"another name", "Ours", file + "-- Night.One/Theirs.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\" />\n" + a + b,
			"note: Night.One/Theirs.csproj:1: the project is called Theirs, and the convention calls it Ours: the name stays"},
		{"a solution without a model", "true", file + "-- Night.sln --\nProject(\"{K}\") = \"Night\", \"Night/Night.csproj\", \"{1}\"\n" + a + b, "note: Night.sln:1: it must list Night.One/Night.One.csproj, Night.Two/Night.Two.csproj"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	badInputs(t, rows, "plan")
}
