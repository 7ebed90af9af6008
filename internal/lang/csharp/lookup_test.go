package csharp

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project/projecttest"
)

// sky is what the rows of the tests use.
const sky = `
-- Hill.csproj --
<Project Sdk="Microsoft.NET.Sdk" />
-- Sky/Star.cs --
namespace Hill.Sky { public class Star { public class Row { } public static int Size; } }
-- Sky/Stars.cs --
namespace Hill.Sky { public class Star<T> { } }
-- Sky/Moon.cs --
namespace Hill.Sky { public class Moon { public class Phase { } } }
-- Sky/MarkAttribute.cs --
namespace Hill.Sky { public class MarkAttribute : System.Attribute { } }
-- Sky/Inner/Moon.cs --
namespace Hill.Sky.Inner { public class Moon { } }
-- Sky/Words.cs --
namespace Hill.Sky { public static class Words { public static string Shout(this string a) => a; } }
-- Night.cs --
namespace Hill { public class Night { } }
`

// Each row is a file that uses names, and where each leads: what stands nearest counts.
func TestWhatNamesMean(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"a using brings a namespace", "using Hill.Sky; class A { Star a; Star.Row b; }",
			"Hill.Sky=..., Star=Sky/Star.cs, Star=Sky/Star.cs"},
		{"types are told apart by the number of their parameters", "using Hill.Sky; class A { Star<int> a; object b = typeof(Star<>); object c = nameof(Star); }",
			"Hill.Sky=..., Star=Sky/Stars.cs, Star=Sky/Stars.cs, Star=Sky/Star.cs"},
		{"a namespace around has its own and those around it", "namespace Hill.Sky.Inner { class A { Moon a; Star b; Night c; } }",
			"Moon=Sky/Inner/Moon.cs, Star=Sky/Star.cs, Night=Night.cs"},
		{"names are partly in full", "namespace Hill.Desk { class A { Sky.Star a; Sky.Inner.Moon b; Hill.Night c; global::Hill.Night d; } }",
			"Sky.Star=Sky/Star.cs, Sky.Inner.Moon=Sky/Inner/Moon.cs, Hill.Night=Night.cs, Hill.Night=Night.cs"},
		{"a using inside comes before the namespaces around", "namespace Hill { using Sky.Inner; namespace Desk { using Hill.Sky; class A { Moon a; } } class B { Moon b; } }",
			"Sky.Inner=Sky/Inner/Moon.cs, Hill.Sky=..., Moon=Sky/Moon.cs, Moon=Sky/Inner/Moon.cs"},
		{"a type hides what is outside", "using Hill.Sky; class A<Night> { class Star { } Star a; Night b; Moon c; T d<T>(T e) => e; }",
			"Hill.Sky=..., Moon=Sky/Moon.cs"},
		{"what a type inherits hides it too", "using Hill.Sky; class A : Moon { Phase a; } class B { Phase b; }",
			"Hill.Sky=..., Moon=Sky/Moon.cs, Phase=Sky/Moon.cs, Phase="},
		{"a variable hides a type where a value may stand", "using Hill.Sky; class A { int F(string Star) => Star.Length; int G() => Star.Size; }",
			"Hill.Sky=..., Star=Sky/Star.cs"},
		{"a property that is called as its type is both", "using Hill.Sky; class A { Star Star { get; } int B() => Star.Size; }",
			"Hill.Sky=..., Star=Sky/Star.cs, Star=Sky/Star.cs"},
		{"other names", "using Light = Hill.Sky.Star; using Far = Hill.Sky.Inner; class A { Light a; Far.Moon b; Far::Moon c; }",
			"Hill.Sky.Star=Sky/Star.cs, Hill.Sky.Inner=Sky/Inner/Moon.cs, Light=Sky/Star.cs, Far.Moon=Sky/Inner/Moon.cs, Far.Moon=Sky/Inner/Moon.cs"},
		{"members of a type", "using static Hill.Sky.Moon; class A { Phase a; }", "Hill.Sky.Moon=Sky/Moon.cs, Phase=Sky/Moon.cs"},
		{"attributes leave their ending out", "using Hill.Sky; [Mark] class A { [MarkAttribute] int b; [Obsolete] int c; }",
			"Hill.Sky=..., Mark=Sky/MarkAttribute.cs, MarkAttribute=Sky/MarkAttribute.cs"},
		{"methods that extend others", "using Hill.Sky; class A { string a = \"b\".Shout(); string c = \"d\".Trim(); }",
			"Hill.Sky=..., Shout=Sky/Words.cs"},
		{"they are not seen without a using", "class A { string a = \"b\".Shout(); }", ""},
		{"comments", "using Hill.Sky; /// <see cref=\"Star{T}\"/> <see cref=\"Moon.Phase\"/> <see cref='T:Hill.Night'/>\nclass A { }",
			"Hill.Sky=..., Star=Sky/Stars.cs, Moon=Sky/Moon.cs, Hill.Night=Night.cs"},
		{"a name of a library", "class A { Star a; Moon b; }", "Star=, Moon="},
		{"strings", "class A { object a = System.Type.GetType(\"Hill.Sky.Star+Row, Hill\"); string b = \"Hill.Sky.Inner\"; string c = \"is Hill.Night dark\"; string d = \"Hill.Sky.\" + a; }",
			"Hill.Sky.Star+Row=Sky/Star.cs, Hill.Sky.Inner=Sky/Inner/Moon.cs, Hill.Night=Night.cs, Hill.Sky=..."},
		{"all branches", "using Hill.Sky;\n#if A\nclass A { Star a; }\n#else\nclass A { Moon a; }\n#endif\n",
			"Hill.Sky=..., Moon=Sky/Moon.cs, Star=Sky/Star.cs"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			assert.Equal(t, sorted(row.want), sorted(strings.Join(leads(t, sky+"-- Uses.cs --\n"+row.src+"\n", "Uses.cs"), ", ")))
		})
	}
}

func sorted(list string) []string { return slices.Sorted(strings.SplitSeq(list, ", ")) }

// leads gives the mentions of a file and where they lead: the only file, or several.
func leads(t *testing.T, files, file string) (out []string) {
	t.Helper()
	tree := lang.NewTree(projecttest.Load(t, files), nil, Family())
	r := New(tree)
	tree.Answer(r.Rules())
	id, there := tree.Lookup(file)
	require.True(t, there)
	content, err := tree.Content(id)
	require.NoError(t, err)
	for _, m := range r.Second(id, content) {
		if m.Kind == OwnSpace {
			continue
		}
		var to []string
		target := r.Resolve(id, &m)
		if target.Kind == lang.ToFile {
			to = append(to, tree.Path(target.File))
		}
		for _, one := range target.Set() {
			to = append(to, tree.Path(one))
		}
		if len(to) > 1 {
			to = []string{"..."}
		}
		out = append(out, m.Text+"="+strings.Join(to, ""))
	}
	return out
}

// What a file sees follows from its project, and from those that it refers to.
func TestWhatProjectsSee(t *testing.T) {
	t.Parallel()
	const solution = `
-- A/A.csproj --
<Project Sdk="Microsoft.NET.Sdk"><ItemGroup><ProjectReference Include="..\B\B.csproj" /></ItemGroup></Project>
-- A/Uses.cs --
namespace A; class Uses { Near a; Far b; Apart c; Loose d; Shared e; }
-- B/B.csproj --
<Project Sdk="Microsoft.NET.Sdk"><ItemGroup><ProjectReference Include="../C/C.csproj" /></ItemGroup></Project>
-- B/Near.cs --
namespace A; public class Near { }
-- C/C.csproj --
<Project Sdk="Microsoft.NET.Sdk"></Project>
-- C/Far.cs --
namespace A; public class Far { }
-- D/D.csproj --
<Project Sdk="Microsoft.NET.Sdk"><ItemGroup><Compile Remove="Out/**" /></ItemGroup></Project>
-- D/Apart.cs --
namespace A; public class Apart { }
-- Loose.cs --
namespace A; public class Loose { }
-- Shared/Shared.projitems --
<Project><ItemGroup><Compile Include="$(MSBuildThisFileDirectory)Shared.cs" /></ItemGroup></Project>
-- Shared/Shared.cs --
namespace A; public class Shared { }
`
	assert.Equal(t, []string{"Near=B/Near.cs", "Far=C/Far.cs", "Apart=", "Loose=", "Shared="}, leads(t, solution, "A/Uses.cs"))
	shared := strings.Replace(solution, `</ItemGroup></Project>
-- A/Uses.cs`, `</ItemGroup><Import Project="..\Shared\Shared.projitems" /></Project>
-- A/Uses.cs`, 1)
	assert.Contains(t, leads(t, shared, "A/Uses.cs"), "Shared=Shared/Shared.cs")

	tree := lang.NewTree(projecttest.Load(t, solution), nil, Family())
	r := New(tree)
	r.index()
	for p, want := range map[string]string{"A/x/Y.cs": "A/A.csproj", "D/In/Y.cs": "D/D.csproj", "D/Out/Y.cs": "", "A/bin/Y.cs": "", "Y.cs": ""} {
		got := ""
		for _, u := range r.unitsOf(p, p) {
			got += u.path
		}
		assert.Equal(t, want, got, p)
	}
}

// Pages see what their usings, the files above them and their own folder bring.
func TestWhatPagesSee(t *testing.T) {
	t.Parallel()
	const web = `
-- Web/Web.csproj --
<Project Sdk="Microsoft.NET.Sdk.Web" />
-- Web/Models/Night.cs --
namespace Web.Models; public class Night { }
-- Web/Services/Desk.cs --
namespace Web.Services; public class Desk { }
-- Web/Parts/Row.cs --
namespace Web.Parts; public class Row { }
-- Web/_Imports.razor --
@using Web.Models
-- Web/Parts/List.razor --
@using Web.Services
@inject Desk Desk
<Row night="@night" /> @code { Night night; string Far; }
-- Web/Views/_ViewImports.cshtml --
@using Web.Services
-- Web/Views/Nights/Index.cshtml --
@model Web.Models.Night
@{ Desk desk; Night night; }
`
	assert.Equal(t, []string{"Web.Services=Web/Services/Desk.cs", "Desk=Web/Services/Desk.cs", "Row=Web/Parts/Row.cs", "Night=Web/Models/Night.cs"},
		without(leads(t, web, "Web/Parts/List.razor"), "Web.Services"))
	assert.Equal(t, []string{"Web.Models.Night=Web/Models/Night.cs", "Desk=Web/Services/Desk.cs"}, leads(t, web, "Web/Views/Nights/Index.cshtml"))
	tree := lang.NewTree(projecttest.Load(t, web), nil, Family())
	r := New(tree)
	assert.Len(t, r.Places(), 1)
	place, is := r.Place("Web/Views/Nights/Index.cshtml")
	assert.True(t, is)
	assert.Equal(t, "Web/Views Nights/Index.cshtml", place.Folder+" "+place.Rest)
	_, is = r.Place("Web/Parts/List.razor")
	assert.False(t, is)
}

// without leaves out what is said of a name a second time.
func without(lines []string, name string) (out []string) {
	for _, line := range lines {
		if !strings.HasPrefix(line, name+"=") || !slices.Contains(out, line) {
			out = append(out, line)
		}
	}
	return out
}

// Resources have the names that the builder gives them.
func TestResources(t *testing.T) {
	t.Parallel()
	tree := lang.NewTree(projecttest.Load(t, `
-- A/A.csproj --
<Project Sdk="Microsoft.NET.Sdk">
  <PropertyGroup><RootNamespace>Hill.A</RootNamespace></PropertyGroup>
  <ItemGroup>
    <EmbeddedResource Include="Data\*.csv" />
    <EmbeddedResource Include="Data\own.txt" LogicalName="own" />
  </ItemGroup>
</Project>
-- A/Data/rows.csv --
1
-- A/Data/own.txt --
1
-- A/Data/none.txt --
1
-- A/Texts.resx --
<root />
-- A/Form.cs --
namespace Hill.Other { class Form { } }
-- A/Form.resx --
<root />
`), nil, Family())
	r := New(tree)
	r.index()
	names := map[string]string{}
	for name, id := range r.resources()[r.units[0]] {
		names[name] = tree.Path(id)
	}
	assert.Equal(t, map[string]string{"Hill.A.Data.rows.csv": "A/Data/rows.csv", "own": "A/Data/own.txt", "Hill.A.Texts.resources": "A/Texts.resx",
		"Hill.Other.Form.resources": "A/Form.resx"}, names)
}
