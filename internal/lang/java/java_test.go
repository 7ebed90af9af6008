package java

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
		{"package and imports", "@A package a.b; import c.D; import static e.F.g; import h . * ; import static i.J.*;",
			"package a.b; import c.D; import static e.F.g; import h.*; import static i.J.*; type A; name A"},
		{"; between imports", "import a.B;; import c.D; class E {}", "import a.B; import c.D; declares class E package-private"},
		{"kinds of types", "public class A { protected enum B { X(1) { void f() {} }, Y } private record C(int d, E e) { C {} } @interface F { G g() default @H; } interface I {} }",
			"declares class A public; declares enum A.B protected; declares record A.C private; declares annotation A.F package-private; " +
				"declares interface A.I package-private; field A.B.X public; field A.B.Y public; method A.F.g public 0; type E; name E; type G; name G; type H; name H"},
		{"words that are names", "class A { int record, sealed, permits, yield; void var() { record = 1; sealed(permits); } A module(A open) { return open; } }",
			"declares class A package-private; field A.record package-private; field A.sealed package-private; field A.permits package-private; " +
				"field A.yield package-private; method A.var package-private 0; method A.module package-private 1; name record; name permits; type A; name A; type A; name A; name open; name sealed"},
		{"types with arguments", "class A<T extends B & C<T>> extends D<? super E[]> { F<G<H>>.I<J> k; <U> U l(M... n) throws O { return (P<Q>) r; } }",
			"declares class A package-private; field A.k package-private; method A.l package-private 1; type B; name B; type C; name C; type T; name T; type D; name D; " +
				"type E; name E; type F; name F; type G; name G; type H; name H; type J; name J; type U; name U; type M; name M; type O; name O; type P; name P; type Q; name Q; name r; select I"},
		{"expressions", "class A { int f() { B.c.d(); E<F>[] g = new H<>() { }; I::j; K[]::new; x -> L.m; (y, z) -> y; return n < o ? p : q; } }",
			"declares class A package-private; method A.f package-private 0; name B; select c; type E; name E; type F; name F; type H; name H; name I; " +
				"type K; name K; name L; select m; name y; name n; name o; name p; name q; select d; select j"},
		{"statements", "class A { void f() { for (B c : d) { } try (E g = h) { } catch (I | J k) { } l: while (m) { break l; } switch (n) { case O: case P, Q -> { yield r; } case S t -> u(); } if (v instanceof W<?> x) { } } }",
			"declares class A package-private; method A.f package-private 0; type B; name B; name d; type E; name E; name h; type I; name I; type J; name J; name m; name n; name r; type S; name S; name v; type W; name W; name u"},
		{"local types", "class A { void f() { class B { } record C(D d) { } new B(); } }",
			"declares class A package-private; method A.f package-private 0; type D; name D; type B; name B"},
		{"comments", "/** {@link a.B#c(D, int) text} {@code E}\n * @see F\n * @throws G if\n * @param h I {@value} */ class A { /** dead */ /** {@linkplain J} */ K k; }",
			"declares class A package-private; field A.k package-private; type K; name K; doc a.B; doc D; doc F; doc G; doc J"},
		{"annotations", `@A(b = C.class, d = { "e", "f" }, g = @H("i")) class J { @K.L int m; }`,
			"declares class J package-private; field J.m package-private; type A; name A; name C; type H; name H; type K; name K; select L; string; string; string"},
		{"escapes", "class \\u0041 { /* \\u002a/ */ // \\u000a B b;\n char c = '\\u0041'; String d = \"\\u0022; C e;\n }",
			"declares class A package-private; field A.b package-private; field A.c package-private; field A.d package-private; field A.e package-private; " +
				"type B; name B; type String; name String; type C; name C; string"},
		{"texts", "class A { String b = \"\"\"\n \"C\" \\\"\"\" D\n \"\"\"; char e = '\"'; double f = 1.e3 + .5 + 1__0L; }",
			"declares class A package-private; field A.b package-private; field A.e package-private; field A.f package-private; type String; name String; string"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			lines, err := Said([]byte(row.src))
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

// A text that is no Java is refused with the place, and never takes the program down.
func TestUnreadable(t *testing.T) {
	t.Parallel()
	for src, want := range map[string]string{
		"class A {\n  String b = \"c;\n}": "line 2, column 14: what begins here has no end",
		"/* a":                            "line 1, column 1: what begins here has no end",
		"class A { \\u007b }":             "line 1, column 11: an escape stands for a character of the language here, and that is not read",
		"class A { int f( }":              "line 1, column 18: a parameter is expected here",
		"class A { int b }":               "line 1, column 17: a field ends with ;",
		"class A { void f() { g(1; } }":   "line 1, column 25: a ) is missing",
		"class A {":                       "line 1, column 10: a } is missing",
		"import ;":                        "line 1, column 8: import wants a name behind it",
		"package ; class A {}":            "line 1, column 1: a class, an interface, an enum, a record or an import is expected here",
		"@A package ;":                    "line 1, column 4: a class, an interface, an enum, a record or an import is expected here",
		"package a; what is this":         "line 1, column 12: a class, an interface, an enum, a record or an import is expected here",
		"class A" + strings.Repeat("{class A", 5000):     "line 1, column",
		"class A { int a = " + strings.Repeat("(", 5000): "line 1, column",
	} {
		_, err := Said([]byte(src))
		require.Error(t, err, src[:min(40, len(src))])
		assert.Contains(t, err.Error(), want)
	}
}

// A name means what stands nearest: what a type declares or inherits, then imports, then neighbours, then imports of
// all of a package.
func TestRoots(t *testing.T) {
	t.Parallel()
	files := [][2]string{{"svc/src/main/java/hill/sky", "hill.sky"}, {"lib/hill/desk", "hill.desk"}, {"tools", ""},
		{"lib/hill/lost", ""}}
	r := findRoots(func(yield func(dir, pkg string) bool) {
		for _, f := range files {
			if !yield(f[0], f[1]) {
				return
			}
		}
	})
	assert.Equal(t, roots{"svc/src/main/java", "tools", "lib"}, r)
	for _, row := range []struct{ before, pkg, dir, want string }{
		{"svc/src/main/java/hill/sky", "hill.sky", "svc/src/main/java/hill/stars", "hill.stars"},
		{"svc/src/main/java/hill/sky", "hill.sky", "all/svc/src/main/java/hill/sky", "hill.sky"},
		{"svc/src/main/java/hill/sky", "hill.sky", "svc/src/main/java/a/hill/sky", "a.hill.sky"},
		{"svc/src/main/java/hill/sky", "hill.sky", "svc/src/test/java", ""},
		{"lib/hill/desk", "hill.desk", "lib/hill/front", "hill.front"},
		{"lib/hill/desk", "hill.desk", "vendor/lib/hill/desk", "hill.desk"},
		{"lib/hill/desk", "hill.desk", "nowhere/desk", "hill.desk, and no root holds it"},
	} {
		pkg, held := r.expected(row.dir, row.before, row.pkg)
		if !held {
			pkg += ", and no root holds it"
		}
		assert.Equal(t, row.want, pkg, row.dir)
	}
	for name, is := range map[string]bool{"a.b1": true, "a.class": false, "a.1b": false, "a-b": false, "": false, "a._": false} {
		assert.Equal(t, is, isPackage(name), name)
	}
}

func TestRespelled(t *testing.T) {
	t.Parallel()
	for _, row := range [][4]string{
		{"a.B", "a.B", "c.d.B", "c.d.B"}, {"a.B$C", "a.B.C", "d.B.C", "d.B$C"}, {"a.B.f", "a.B", "c.B", "c.B.f"},
		{"a.B$C$D", "a.B.C.D", "x.y.B.C.D", "x.y.B$C$D"}, {"a.B#f", "a.B", "c.D", "c.D#f"},
	} {
		assert.Equal(t, row[3], respelled(row[0], row[1], row[2]))
	}
}

// FuzzRead reads any text without taking the program down, and gives places that lie in it.
func FuzzRead(f *testing.F) {
	for _, src := range []string{"package a; class B<T> extends C { int d = e(f -> g); }", "@A(b = \"c\") enum D { E { } }",
		"class A { String b = \"\"\"\n\"\"\"; /** {@link C#d(E)} */ void f() { switch (g) { case H h -> i(); } } }",
		"record A(int b) { A { } }", "class \\u0041 { // \\u000a B b;\n}"} {
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
