package php

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// said writes down what a text says of names.
func said(t *testing.T, src string) string {
	t.Helper()
	f, err := read([]byte(src))
	require.NoError(t, err)
	var out []string
	add := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	for i := range f.blocks {
		b := &f.blocks[i]
		if b.at.Len() > 0 {
			add("namespace %s", b.name)
		}
		for _, one := range b.imports {
			add("import %s %s as %s", one.space, one.name, one.alias)
		}
	}
	for i := range f.declared {
		add("declares %s %s", f.declared[i].kind, f.name(&f.declared[i]))
	}
	for i := range f.uses {
		u := &f.uses[i]
		m := f.blocks[u.block].means(u.text, u.space)
		text := fmt.Sprintf("%s %s", u.space, m.name)
		if m.global != "" {
			text += " or " + m.global
		}
		if u.doc {
			text += " in a comment"
		}
		add("%s", text)
	}
	for _, one := range f.texts {
		add("text %s", one.raw)
	}
	for _, h := range f.heads {
		add("head %s%s", h.raw, h.suffix)
	}
	return strings.Join(out, "; ")
}

// Each row is a text and what it says: what is declared and imported, and what each name in it means.
func TestNames(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"no PHP", "<html>\nnew A; <?xml ?>", ""},
		{"a namespace and a class on one line", "<?php namespace A\\B; class C extends D implements \\E {}",
			"namespace A\\B; declares class A\\B\\C; class A\\B\\D; class E"},
		{"namespaces with braces", "<?php namespace A { f(); } namespace { f(); }",
			"namespace A; function A\\f or f; function f"},
		{"imports in all forms", "<?php use A\\B, C as D; use function E\\f; use const E\\G; use H\\{I, J\\K as L, function m,};\n" +
			"new B; D::x(); f(); G; I::class; new L\\M; m();",
			"import class A\\B as B; import class C as D; import function E\\f as f; import constant E\\G as G; " +
				"import class H\\I as I; import class H\\J\\K as L; import function H\\m as m; class A\\B; class C; " +
				"function E\\f; constant E\\G; class H\\I; class H\\J\\K\\M; function H\\m"},
		{"three kinds of use", "<?php class A { use B, C { B::x insteadof C; C::x as protected y; } }\n$f = function () use ($a): D {};",
			"declares class A; class B; class C; class B; class C; class C; class D"},
		{"types", "<?php function f(A|B $a, ?C &$b = null, D&E ...$c): static|F {} fn(int $x, (G&H)|null $y): I => J::K;\n" +
			"class L { public ?M $m; private readonly N|string $n; public function __construct(protected O $o = new P, #[Q] self $q) {} const R S = 1; }",
			"declares function f; declares class L; class A; class B; class C; class D; class E; class F; class G; class H; class I; " +
				"class J; class M; class N; class O; class P; class Q; class R"},
		{"what stands before and behind", "<?php try { $a instanceof A; } catch (B | C $e) { D::$e; $e->F; $e?->G(); E::F; $x::H; goto end; } end: ;",
			"class A; class B; class C; class D; class E"},
		{"attributes", "<?php #[A(B::C, [D])] #[\\E]\nfinal class F { #[G] case; #[H(1), I] public $x; }",
			"declares class F; class A; class B; constant D; class E; class G; class H; class I"},
		{"functions and constants", "<?php namespace N; a(\\b(C, namespace\\D, e\\f())); self::g(); true; PHP_EOL; h(name: I, x: 1);",
			"namespace N; function N\\a or a; function b; constant N\\C or C; constant N\\D; function N\\e\\f; constant N\\PHP_EOL or PHP_EOL; " +
				"function N\\h or h; constant N\\I or I"},
		{"a ternary is no label", "<?php $a ? B : C; switch ($a) { case D: E; default: F; }",
			"constant B; constant C; constant D; constant E; constant F"},
		{"enums", "<?php enum A: string implements B { case C = 'c'; const D = self::C; public static function e(): self {} }\nenum(1); enum::x;",
			"declares enum A; class B; function enum; class enum"},
		{"words that are names", "<?php class match_ { function list() {} function new() {} const CLASS_ = 1; } $a->class; A::print(); readonly(1);",
			"declares class match_; class A; function readonly"},
		{"an anonymous class", "<?php $a = f(new #[A] class(b()) extends C implements D { private E $e; function g(): H { new I; } });",
			"function f; class A; function b; class C; class D; class E; class H; class I"},
		{"constants", "<?php namespace N; const A = B, C = [D::E]; define('F\\G', 1); define('H', 2);",
			"namespace N; declares constant N\\A; declares constant N\\C; declares constant F\\G; declares constant H; " +
				"constant N\\B or B; class N\\D; function N\\define or define; function N\\define or define; text F\\G"},
		{"PHP ends in a comment", "<?php // ?>new A;<?php # ?>\nnew B;<?= new C ?> <?php /* ?> */ new D;", "class C; class D"},
		{"heredoc", "<?php $a = <<<X\n new A {$b->c(new D)} $e[f] X1\n  X . new G; <<<'Y'\n{$a} new H\nY;", "class D; class G"},
		{"strings", "<?php \"{$a[B]} ${c} ${d[E]} $f[g] $h->i \\$j\" . `ls {$k(L)}`;", "constant B; constant E; constant L"},
		{"names in strings", "<?php ['A\\B', \"\\\\C\\\\D\", 'E', \"F\\G::h\", 'a \\ b']; class_exists('I'); 'J\\\\' . $x; \"K\\L\\\\{$m}N\";",
			"function class_exists; text A\\B; text \\\\C\\\\D; text F\\G::h; text I; head J\\\\; head K\\L\\\\N"},
		{"comments", "<?php namespace N;\n/**\n * @param A|array<int, B>|null $a C\n * @return class-string<D> e@F.g\n * @throws \\H\n" +
			" * @method static I j(K $k)\n * @template T of L\n * @see M::n() {@link O} {@see p}\n * @Q\\R(s=1)\n * @var array{a: S, b?: T}\n * @return $this|U $v\n * @method $this w(X $x)\n */",
			"namespace N; class N\\A in a comment; class N\\B in a comment; class N\\D in a comment; class H in a comment; " +
				"class N\\I in a comment; class N\\K in a comment; class N\\L in a comment; class N\\M in a comment; " +
				"class N\\O in a comment; class N\\Q\\R in a comment; class N\\S in a comment; class N\\T in a comment; " +
				"class N\\U in a comment; class N\\X in a comment"},
		{"the rest of the file is data", "<?php new A; __halt_compiler(); new B; <?php new C;", "class A"},
		{"aliases", "<?php class_alias('A\\B', 'C\\D');", "declares class C\\D; function class_alias; text A\\B; text C\\D"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			assert.Equal(t, row.want, said(t, row.src))
		})
	}
}

// What can't be read is said with its place.
func TestUnreadable(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ src, want string }{
		{"<?php\n$a = <<<X\nb\n", "line 2, column 6: what begins here has no end"},
		{"<?php\n  'a", "line 2, column 3: what begins here has no end"},
		{"<?php /* a", "line 1, column 7: what begins here has no end"},
		{"<p>\n<? echo 1 ?>", "line 2, column 1: <? without php begins here: not every machine reads that as PHP, so write <?php"},
		{"<?php " + strings.Repeat("(", 20_000), "line 1, column 10008: brackets are nested too deep"},
	} {
		_, err := read([]byte(row.src))
		assert.EqualError(t, err, row.want)
	}
}

// Each row is an expression and the path that it is: its base, and the text behind it.
func TestPaths(t *testing.T) {
	t.Parallel()
	base := map[baseKind]string{fromNothing: "work", fromOwn: "own", fromConst: "const", fromPackage: "package"}
	for _, row := range []struct{ src, want string }{
		{"require __DIR__ . '/a.php';", "own 0 /a.php for 1"},
		{"include_once('a/b.php');", "work 0 a/b.php for 1"},
		{"x(dirname(__FILE__) . '/a', dirname(dirname(__DIR__)) . '/b', dirname(__DIR__, 3));", "own 0 /a; own 2 /b; own 3 "},
		{"x(realpath(__DIR__ . '/../a'), __DIR__.DIRECTORY_SEPARATOR.'c'.'.php');", "own 0 /../a; own 0 /c.php"},
		{"x(__DIR__ . '/a/' . $b . '.php');", "own 0 /a/...php"},
		{"$d = __DIR__ . '/a'; x(\"$d/b.php\", $d . '/c', $d);", "own 0 /a for 2; own 0 /a/b.php; own 0 /a/c; own 0 /a"},
		{"$d = __DIR__; $d = 1; x($d . '/a');", "own 0  for 2"},
		{"$d = __DIR__; function f() { x($d . '/a'); }", "own 0  for 2"},
		{"$d = __DIR__; $f = function () use ($d) { x($d . '/a'); };", "own 0  for 2; own 0 /a"},
		{"const R = __DIR__; x(R . '/a', A\\R . \"/b$c\"); class K { const D = __DIR__ . '/k'; function f() { return self::D . '/x'; } }",
			"own 0  for 2; const R /a; const A\\R /b..; own 0 /k for 2; const self::D /x"},
		{"new PDO('sqlite:' . ROOT . '/n.db'); base_path('a/b'); view(config_path());", "const ROOT /n.db; package 0 /a/b; package 0 /config"},
		{"fopen('a.txt', 'r'); print('b.txt'); file('http://x/y');", "work 0 a.txt"},
	} {
		f, err := read([]byte("<?php " + row.src))
		require.NoError(t, err)
		var out []string
		for _, x := range f.paths {
			if x.base == fromConst && x.text == "" {
				continue
			}
			name := fmt.Sprint(x.up)
			if x.base == fromConst {
				name = x.name
			}
			text := fmt.Sprintf("%s %s %s", base[x.base], name, x.text)
			if x.open {
				text += ".." + x.tail
			}
			if x.purpose == forInclude || x.purpose == forName {
				text += fmt.Sprintf(" for %d", x.purpose)
			}
			out = append(out, text)
		}
		assert.Equal(t, row.want, strings.Join(out, "; "), row.src)
	}
}

// How classes are found by the paths of their files.
func TestAutoload(t *testing.T) {
	t.Parallel()
	var a autoload
	require.NoError(t, a.read("pkg", []byte(`{"autoload": {"psr-4": {"App\\": ["src/", "lib"], "": "any/"}, "psr-0": {"Sky_": "old/"},
		"classmap": ["inc/", "more/*/x"], "files": ["start.php"], "exclude-from-classmap": ["inc/not/"]}}`)))
	for _, row := range []struct {
		p, has, want string
		known        bool
	}{
		{"pkg/src/A/B.php", "", `App\A\B`, true}, {"pkg/lib/C.php", "", `App\C`, true}, {"pkg/any/D/E.php", "", `D\E`, true},
		{"pkg/old/Sky/Star.php", "Sky_Night", "Sky_Star", true}, {"pkg/web/A.php", "", "", false}, {"src/A.php", "", "", false},
	} {
		name, known := a.expected(row.p, row.has)
		assert.Equal(t, row.want, name, row.p)
		assert.Equal(t, row.known, known, row.p)
	}
	assert.True(t, a.finds("pkg/src/A/B.php", `App\A\B`))
	assert.False(t, a.finds("pkg/src/A/B.php", `App\A\C`))
	assert.True(t, a.finds("pkg/old/Sky/Star.php", "Sky_Star"))
	for p, listed := range map[string]bool{"pkg/inc/a/B.php": true, "pkg/inc/not/B.php": false, "pkg/more/y/x/B.php": true,
		"pkg/start.php": true, "pkg/src/A.php": false} {
		assert.Equal(t, listed, a.lists(p), p)
	}
}

// FuzzRead: no text makes the reader panic, and every place lies in the text.
func FuzzRead(f *testing.F) {
	for _, seed := range []string{"<?php namespace A; use B\\{C, D as E}; class F extends C { use G; const H = 1; }",
		"<?php \"{$a[B]} ${c}\" . <<<X\n{$d}\nX; `$e`; #[A] fn(B|C &$d): ?E => F::G;", "<?php /** @var A<B|C> @method D e(F $g) */",
		"<?php require __DIR__ . '/a' . $b . \"/c\"; define('D', dirname(__FILE__, 2)); $e = D . 'f';", "<? a", "<?php 'A\\\\' . $b; \"C\\\\{$d}e\";",
		"<?php enum A: int { case B = 1; } match(1) { A => 2 }; new class { };", "<?php use", "<?php namespace", "<?php const A", "<?php catch (", "<?php dirname("} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		said, err := read(text)
		if err != nil {
			return
		}
		inside := func(start, end int) {
			if start < 0 || end < start || end > len(text) {
				t.Fatalf("%d to %d in %d bytes", start, end, len(text))
			}
		}
		for _, u := range said.uses {
			inside(u.at.Start, u.at.End)
			if string(text[u.at.Start:u.at.End]) != u.text {
				t.Fatalf("%q is not %q", text[u.at.Start:u.at.End], u.text)
			}
		}
		for _, x := range said.paths {
			inside(x.at.Start, x.at.End)
			inside(x.anchor.Start, x.anchor.End)
			inside(x.literal.Start, x.literal.End)
		}
		for _, b := range said.blocks {
			inside(b.after, b.after)
			for _, one := range b.imports {
				inside(one.stands.Start, one.stands.End)
				inside(one.whole.Start, one.whole.End)
			}
		}
	})
}
