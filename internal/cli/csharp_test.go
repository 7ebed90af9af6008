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

const roomsOfCSharp = `
-- Hill/Hill.csproj --
<Project Sdk="Microsoft.NET.Sdk" />
-- Hill/Pages/NightController.cs --
using Hill.Stuff;

namespace Hill.Pages;

class NightController : Base { Chart chart; Hill.Stuff.Clock clock; }
-- Hill/Stuff/Base.cs --
namespace Hill.Stuff;

public abstract class Base { }
-- Hill/Stuff/Chart.cs --
namespace Hill.Stuff;

public class Chart { }
-- Hill/Stuff/Clock.cs --
using System.Timers;

namespace Hill.Stuff;

public class Clock { Timer timer; }
-- Hill/Stuff/Row.cs --
namespace Hill.Stuff;

[Table("rows")]
public record Row(int Number);
-- Hill/Stuff/IShape.cs --
namespace Hill.Stuff;

public interface IShape { }
-- Hill/Stuff/Bell.cs --
namespace Hill.Stuff;

public class Bell { [HttpGet("/bell")] public string Ring() => ""; }
`

// What a convention asks of files is known of C#: what they declare and extend, by what they are marked, who needs them,
// and whom they may use.
func TestWhatCSharpDeclares(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfCSharp+`-- crooked.yaml --
crooked: 1
pools:
  stuff: [Hill/Stuff/**]
leave: { stay: [Hill/Hill.csproj] }
shelves:
  screens: { at: Hill/Screens/<screen>Controller.cs, takes: [{ name: "<screen>Controller.cs", extends: Base }] }
  answers: { at: Hill/Answers/, takes: [{ declares: route, pool: stuff }] }
  rows: { at: Hill/Rows/, takes: [{ marked: Table, pool: stuff }] }
  shapes: { at: Hill/Shapes/, takes: [{ declares: type, pool: stuff }] }
  charts: { at: Hill/Charts/<screen>/, takes: [{ pool: stuff, needed_by: one of screens }] }
`)
	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code, check.err)
	for from, to := range map[string]string{
		"Pages/NightController": "Screens/NightController", "Stuff/Bell": "Answers/Bell", "Stuff/Row": "Rows/Row",
		"Stuff/IShape": "Shapes/IShape", "Stuff/Chart": "Charts/Night/Chart", "Stuff/Base": "Charts/Night/Base",
		"Stuff/Clock": "Charts/Night/Clock",
	} {
		assert.Regexp(t, `Hill/`+from+`\.cs +-> Hill/`+to+`\.cs`, check.out)
	}
	straightens(t, dir, map[string]string{"Hill/Screens/NightController.cs": "using Hill.Charts.Night;\n\nnamespace Hill.Screens;\n\n" +
		"class NightController : Base { Chart chart; Hill.Charts.Night.Clock clock; }\n"})
}

// Whom a file of C# may use, and through which door.
func TestWhomCSharpUses(t *testing.T) {
	t.Parallel()
	finds(t, roomsOfCSharp+`-- crooked.yaml --
crooked: 1
leave: { stay: [Hill/Hill.csproj] }
shelves:
  pages: { at: Hill/Pages/, uses: [] }
  stuff: { at: Hill/Stuff/, door: Base.cs }
`,
		"NightController.cs:5:25: overreach: pages may not use stuff, and it uses Hill/Stuff/Base.cs",
		"NightController.cs:5:45: overreach: pages may not use stuff, and it uses Hill/Stuff/Clock.cs")
}

// What is wrong in C# and in what builds it is said with its place, and holds back what it must.
func TestBadCSharp(t *testing.T) {
	t.Parallel()
	const build = "-- Hill/Hill.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\" />\n"
	const moving = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*/*.csproj\"] }\nshelves: { new: { at: Hill/NEW/, from: [Hill/Old/**] } }\n"
	var rows []badInput
	for _, row := range []struct{ name, files, to, says string }{
		{"a file that does not parse", build + "-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { int b }\n", "Fresh",
			"line 2, column 17: a field ends with ;"},
		{"a string without an end", build + "-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { string b = \"c; }\n", "Fresh",
			"line 2, column 22: what begins here has no end"},
		{"a namespace that stands in another", build + "-- Hill/Old/A.cs --\nnamespace Hill.Old { namespace Deep { class A { } } }\n", "Fresh",
			"1 move in 1 step"},
		{"the parts of a type", build + "-- Hill/Old/A.cs --\nnamespace Hill.Old;\npartial class A { }\n-- Hill/A.cs --\nnamespace Hill.Old;\npartial class A { }\n",
			"Fresh", "the parts of Hill.Old.A must stay in one namespace and one project"},
		{"a namespace that is not that of its folder", build + "-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { }\n-- Hill/B/B.cs --\nnamespace Hill.Other;\nclass B { }\n" +
			"-- Hill/C/C.cs --\nnamespace Hill.C;\nclass C { }\n-- Hill/C/D.cs --\nnamespace Hill.C;\nclass D { }\n-- Hill/C/E.cs --\nnamespace Hill.C;\nclass E { }\n", "Fresh",
			"mislabelled"},
		{"a solution that names a project which is not there", build + "-- All.sln --\nProject(\"{FAE04EC0-301F-11D3-BF4B-00C04F79EFBC}\") = \"A\", \"A\\A.csproj\", \"{1}\"\nEndProject\n" +
			"-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { }\n", "Fresh", "All.sln:1"},
		{"a project file with errors", "-- Hill/Hill.csproj --\n<Project><ItemGroup>\n-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { }\n", "Fresh",
			"Hill/Hill.csproj: not valid XML"},
		{"a root that properties make", "-- Hill/Hill.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\"><PropertyGroup><RootNamespace>$(Made)</RootNamespace></PropertyGroup></Project>\n" +
			"-- Hill/Old/A.cs --\nnamespace Made.Old;\nclass A { }\n", "Fresh", "1 move in 1 step"},
		{"a file that is listed in other letters", "-- Hill/Hill.csproj --\n<Project><ItemGroup><Compile Include=\"old\\a.cs\" /></ItemGroup></Project>\n" +
			"-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { }\n", "Fresh", "Hill/Hill.csproj lists it as Hill/old/a.cs, in other letters, which is not followed"},
		{"a file that is copied beside the program", "-- Hill/Hill.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\"><ItemGroup><None Update=\"Old\\a.json\"><CopyToOutputDirectory>Always" +
			"</CopyToOutputDirectory></None></ItemGroup></Project>\n-- Hill/Old/a.json --\n{}\n-- Hill/A.cs --\nclass A { }\n", "Fresh", "note: Hill/Old/a.json:1: it is copied beside the program at its path, which changes"},
		{"two projects that take one file", build + "-- Hill/Old/A.cs --\nnamespace Hill.Old;\nclass A { }\n-- Hill/Fresh/Fresh.csproj --\n<Project Sdk=\"Microsoft.NET.Sdk\" />\n", "Fresh",
			"Hill/Fresh/A.cs would be compiled in Hill/Fresh/Fresh.csproj and in Hill/Hill.csproj"},
	} {
		rows = append(rows, badInput{row.name, "\n" + row.files + strings.Replace(moving, "NEW", row.to, 1), row.says})
	}
	badInputs(t, rows, "plan", "check")
	t.Run("marks of the order of bytes and ends of lines stay", func(t *testing.T) {
		t.Parallel()
		dir := t.TempDir()
		projecttest.Write(t, dir, "\n"+build+"-- Hill/Old/A.cs --\nA\n-- Hill/Use/B.cs --\nB\n"+strings.Replace(moving, "NEW", "Fresh", 1))
		const mark = "\xEF\xBB\xBF"
		require.NoError(t, os.WriteFile(filepath.Join(dir, "Hill/Old/A.cs"), []byte(mark+"namespace Hill.Old\r\n{\r\n    public class A { }\r\n}\r\n"), 0o600))
		require.NoError(t, os.WriteFile(filepath.Join(dir, "Hill/Use/B.cs"), []byte(mark+"namespace Hill.Old\r\n{\r\n    class B { A a; }\r\n}\r\n"), 0o600))
		done := run(t, dir, "straighten", "--yes", "--dirty")
		require.Equal(t, 0, done.code, done.err+done.out)
		text, err := os.ReadFile(filepath.Join(dir, "Hill/Fresh/A.cs"))
		require.NoError(t, err)
		assert.Equal(t, mark+"namespace Hill.Fresh\r\n{\r\n    public class A { }\r\n}\r\n", string(text))
		text, err = os.ReadFile(filepath.Join(dir, "Hill/Use/B.cs"))
		require.NoError(t, err)
		assert.Equal(t, mark+"using Hill.Fresh;\r\n\r\nnamespace Hill.Old\r\n{\r\n    class B { A a; }\r\n}\r\n", string(text))
	})
}
