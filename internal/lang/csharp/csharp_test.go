package csharp

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each row is a text and the lines of what it says that matter: without places.
func TestSaid(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"namespaces and usings", "global using A.B; using static C.D; using E = F.G<H>; namespace I.J { using K; namespace L { class M { } } } namespace N; delegate O P<Q>();",
			"namespace I.J; namespace I.J.L; namespace N; using global A.B; using static C.D; using E = F.G; using K; declares class I.J.L.M`0 internal; declares delegate N.P`1 internal; type A; name A; select B; type C; name C; select D; type F; name F; select G; type H; name H; type K; name K; type O; name O"},
		{"statements of a program", "using A; using var b = C.d(); using (E f = g) { } h.i(); int j(K k) { return 1; }", "using A; type A; name A; name C; select d; type E; name E; name g; name h; select i; type K; name K"},
		{"kinds of types", "public partial class A<B> { protected internal enum C : byte { D = E } private protected record struct F(G g); interface I { class J { } } file class K { } }",
			"declares class A`1 public partial; declares enum A.C`0 protected internal; declares record A.F`0 private protected; declares interface A.I`0 private; declares class A.I.J`0 public; declares class A.K`0 file; name E; type G; name G"},
		{"members", "static class A { static B c<D>(this E f, G g = H.i) where D : J, new() => k; event L M; N this[O p] { get => q; private set { value = r; } } static implicit operator S(T t) => u; ~A() { } int V.W<X>.Y() => 1; }",
			"declares class A`0 internal; extends c 2; type B; name B; type E; name E; type G; name G; name H; select i; type D; name D; type J; name J; name k; type L; name L; type N; name N; type O; name O; name q; name value; name r; type S; name S; type T; name T; name u; type V; name V; select W; type X; name X"},
		{"words that are names", "class A { void f() { var record = 1; async = await; from = where(select); @class @int = new @class(); int on = 1, by; } }",
			"declares class A`0 internal; name async; name await; name from; name where; name select; type class; name class; type class; name class"},
		{"types with arguments", "class A : B<C<D>>.E { F<G>[] h = new I<J>[K]; int l = M<N>.O + P < Q; bool r = S(T < U, V > W); X<Y> z; }", "declares class A`0 internal; type B; name B; type C; name C; type D; name D; type F; name F; type G; name G; type I; name I; type J; name J; name K; type M; name M; type N; name N; name P; name Q; name S; name T; name U; name V; name W; type X; name X; type Y; name Y; select E; select O"},
		{"queries", "class A { object b = from C c in d join E e in f on c equals e into g let h = i where j orderby k, l descending select new { m = n, o.p }; }", "declares class A`0 internal; type C; name C; name d; type E; name E; name f; name c; name e; name i; name j; name k; name l; name n; name o; select p"},
		{"patterns", "class A { int f(object a) => a switch { B b when c => 1, D { E: F, G.H: > 1 } d => 2, (I, var j) => 3, not null and (J or K.L) => 4, (byte)M.N => 5, _ => 6 }; }", "declares class A`0 internal; name a; type B; name B; name c; type D; name D; name F; name I; name J; name K; select L; name M; select N; select H"},
		{"holes", "class A { string b = $\"{c:d} {{e}} {(f ? g : $\"{h}\")}\" + $@\"{i}\"\"{j}\" + @\"k\"\"\" + \"\"\" l \"m\" \"\"\" + $$\"\"\"{n} {{o}}\"\"\"; char p = '\"'; }", "declares class A`0 internal; name c; name f; name g; name h; name i; name j; name o; string; string"},
		{"comments", "/// <see cref=\"A.B{T}.C(D, E[])\"/> cref=\"F\" <see\n/// cref='T:G.H'/>\n/** <seealso cref=\"I\"/> */ class J { //// <see cref=\"K\"/>\n}", "declares class J`0 internal; doc A; doc D; doc E; doc I"},
		{"attributes", "[assembly: A(typeof(B))] [C, D.E(\"f\", G = H.I)] class J { [return: K] [L(\"m\")] N o([P] Q q) => null; }", "declares class J`0 internal; type A; name A; type B; name B; type C; name C; type D; name D; select E; name H; select I; type K; name K; type L; name L; type N; name N; type P; name P; type Q; name Q; string; string"},
		{"directives", "#define A\n#if A && !B\nclass C { }\n#elif D\nclass E { }\n#else\nclass F { }\n#endif\n#region G\nclass H { }\n#endregion\n#if FALSE\nclass I { }\n#endif", "declares class C`0 internal; declares class H`0 internal"},
		{"types with more", "unsafe class A { B? c; D*[] e; (F f, G) h; delegate*<I, J> k; int? l = m is N n ? n : o as P ?? q; global::R.S t; U::V w; }", "declares class A`0 internal; type B; name B; type D; name D; type F; name F; type G; name G; type I; name I; type J; name J; name m; type N; name N; name n; name o; type P; name P; name q; type R; name R; select S; type U; name U; select V"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			lines, err := Said([]byte(row.src), nil)
			require.NoError(t, err)
			var got []string
			for _, line := range lines {
				fields := strings.Fields(line)
				if k := fields[0]; k == "name" || k == "type" || k == "select" {
					line = k + " " + fields[2]
				} else if k == "string" {
					line = k
				}
				got = append(got, strings.TrimRight(line, " "))
			}
			assert.Equal(t, row.want, strings.Join(got, "; "))
		})
	}
}

// A file is read with several sets of symbols, so that what stands in all of its branches is known.
func TestBranches(t *testing.T) {
	t.Parallel()
	const src = "#if A\nusing B;\nclass C : D {\n#elif E || F\nclass C : G {\n#else\nclass C {\n#endif\n#if E == F\nH h;\n#else\nI i;\n#endif\n}\n" +
		"#if A && !A\nclass J { }\n#endif\n"
	f, err := read([]byte(src))
	require.NoError(t, err)
	names := map[string]bool{}
	for i := range f.uses {
		names[f.uses[i].text] = true
	}
	assert.Equal(t, map[string]bool{"B": true, "D": true, "G": true, "H": true, "I": true}, names)
	assert.Len(t, f.types, 3, "the class stands in three places")
	assert.Len(t, f.usings, 1)
	assert.Equal(t, []int{strings.Index(src, "#if A && !A")}, f.unread)
	assert.Equal(t, [][2]int{{0, strings.Index(src, "#if E")}, {strings.Index(src, "#if E"), strings.Index(src, "}\n#if A")},
		{strings.Index(src, "#if A &&"), len(src)}}, conditional([]byte(src)))
	for condition, want := range map[string]bool{"A": true, "!A": false, "A && B": false, "A || B": true, "(A == true) != B": true,
		"A&&!B": true, "True": true, "": false, "A == B": false, strings.Repeat("(", 500): false} {
		assert.Equal(t, want, holds(condition, map[string]bool{"A": true}), condition)
	}
}

// A text that is no C# is refused with the place, and never takes the program down.
func TestUnreadable(t *testing.T) {
	t.Parallel()
	for src, want := range map[string]string{
		"class A {\n  string b = \"c;\n}":                           "line 2, column 14: what begins here has no end",
		"/* a":                                                      "line 1, column 1: what begins here has no end",
		"class A { string b = $\"{c\"; }":                           "what begins here has no end",
		"class A { int f( }":                                        "line 1, column 18: a parameter is expected here",
		"class A { int b }":                                         "line 1, column 17: a field ends with ;",
		"class A { void f() { g(1; } }":                             "line 1, column 23: the bracket that begins here has no end",
		"class A {":                                                 "line 1, column 10: a } is missing",
		"namespace A { class B { }":                                 "line 1, column 26: the } of namespace A is missing",
		"namespace A { int b; }":                                    "line 1, column 15: a type is expected here",
		"class A { } }":                                             "line 1, column 13: there is no { that this } closes",
		"class A { enum B { C D } }":                                "line 1, column 22: a } or a , is expected here",
		"using A.B\nclass C { }":                                    "",
		"class A" + strings.Repeat("{class A", 5000):                "line 1, column",
		"class A { int a = " + strings.Repeat("(", 5000):            "line 1, column",
		"class A { string a = " + strings.Repeat("$\"{", 5000):      "line 1, column",
		"class A { object a = b is " + strings.Repeat("{c: ", 5000): "line 1, column",
		"class A { " + strings.Repeat("B<", 5000) + strings.Repeat(">", 5000): "line 1, column",
	} {
		_, err := Said([]byte(src), nil)
		if want == "" {
			continue
		}
		require.Error(t, err, src[:min(40, len(src))])
		assert.Contains(t, err.Error(), want)
	}
}

// The namespace of a folder follows from the project's, and what a folder is called is made a name.
func TestExpected(t *testing.T) {
	t.Parallel()
	u := &unit{dir: "src/Gateway", space: "Hill.Gateway"}
	for dir, want := range map[string]string{"src/Gateway": "Hill.Gateway", "src/Gateway/Domes": "Hill.Gateway.Domes",
		"src/Gateway/a-b/2c": "Hill.Gateway.a_b._2c", "src/Gateway/d.e": "Hill.Gateway.d.e", "src/Gateways": "", "src": ""} {
		name, known := u.expected(dir)
		assert.Equal(t, want, name, dir)
		assert.Equal(t, want != "", known)
	}
	assert.Equal(t, "My_App._1", legal("My App.1"))
	known := map[string]string{"MSBuildProjectName": "A B"}
	assert.Equal(t, "Hill.A B", expand("Hill.$(MSBuildProjectName)", known))
	assert.Equal(t, "A_B", expand(`$(MSBuildProjectName.Replace(" ", "_"))`, known))
	assert.Empty(t, expand("$(Other).A", known))
	for name, is := range map[string]bool{"A.B1": true, "A.class": false, "A.1B": false, "A-B": false, "": false, "A._": true} {
		assert.Equal(t, is, isSpace(name), name)
	}
}

// What is a part of another file goes with it.
func TestOwner(t *testing.T) {
	t.Parallel()
	there := map[string]bool{"a/Main.cs": true, "a/Texts.resx": true, "a/Sky.razor": true, "a/List.cshtml": true, "a/Plain.resx": true}
	for p, want := range map[string]string{"a/Main.Designer.cs": "a/Main.cs", "a/Main.designer.cs": "a/Main.cs", "a/Main.resx": "a/Main.cs",
		"a/Main.de.resx": "a/Main.cs", "a/Texts.Designer.cs": "a/Texts.resx", "a/Plain.pt-BR.resx": "a/Plain.resx", "a/Sky.razor.cs": "a/Sky.razor",
		"a/Sky.razor.css": "a/Sky.razor", "a/List.cshtml.cs": "a/List.cshtml", "a/Main.cs": "", "a/Other.css": "", "a/Plain.resx": "",
		"b/Main.resx": ""} {
		assert.Equal(t, want, owner(p, func(q string) bool { return there[q] }), p)
	}
}

func TestRespelled(t *testing.T) {
	t.Parallel()
	for _, row := range [][4]string{
		{"A.B", "A.B", "C.D.B", "C.D.B"}, {"A.B+C", "A.B.C", "D.B.C", "D.B+C"}, {"A.B.f", "A.B", "C.B", "C.B.f"},
		{"A.B`1[[C]]", "A.B", "D.B", "D.B`1[[C]]"}, {"A.B, C", "A.B", "D.B", "D.B, C"},
	} {
		assert.Equal(t, row[3], respelled(row[0], row[1], row[2]))
	}
	assert.Equal(t, "A.B.C", plainName("A.B+C`1[[D]], E, Version=1"))
}

// FuzzRead reads any text without taking the program down, and gives places that lie in it.
func FuzzRead(f *testing.F) {
	for _, src := range []string{"namespace a; class B<T> : C { int d = e(f => g); }", "[A(b = \"c\")] enum D { E = 1 }",
		"class A { string b = $\"{c:d}\"; /// <see cref=\"C.D(E)\"/>\nvoid f() { switch (g) { case H h: i(); break; } } }",
		"#if A\nusing B;\n#else\nrecord C(int d);\n#endif\n", "#if A\nclass B { }\n#endif", "class A { object b = from c in d select new { e = f is { G: 1 } }; }",
		"class A { object b = new {)c = 1 }; }", "class A { object b = new {]c = 1 }; }"} {
		f.Add([]byte(src))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		got, err := read(src)
		if err != nil {
			return
		}
		for i := range got.uses {
			u := &got.uses[i]
			if u.at.Start < 0 || u.at.End > len(src) || u.at.Start >= u.at.End {
				t.Fatal(fmt.Sprint("a name lies outside of the text: ", u.at))
			}
		}
		for i := range got.texts {
			if at := got.texts[i].at; at.Start < 0 || at.End > len(src) || at.Start > at.End {
				t.Fatal(fmt.Sprint("a string lies outside of the text: ", at))
			}
		}
	})
}
