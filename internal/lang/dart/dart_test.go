package dart

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// Each row is a text and its directives: their kinds and the strings as they are written.
func TestSaid(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"all kinds", "library a.b;\nimport 'c.dart' as d show e hide f;\nexport \"g.dart\";\npart 'h.dart';\n", "import 'c.dart'; export \"g.dart\"; part 'h.dart'"},
		{"a part", "part of 'a.dart';\nimport 'b.dart';", "part of 'a.dart'; import 'b.dart'"},
		{"a part by name", "part of a.b;\nclass C {}", ""},
		{"conditions", "import 'a.dart' if (dart.library.io) 'b.dart' if (c == 'd') \"e.dart\" deferred as f;", "import 'a.dart'; import 'b.dart'; import \"e.dart\""},
		{"metadata", "@A('b')\n@c.d<E>(f)\nlibrary;\n@g import 'h.dart';", "import 'h.dart'"},
		{"comments nest", "/* /* import 'a.dart'; */ import 'b.dart'; */ import 'c.dart'; // import 'd.dart';", "import 'c.dart'"},
		{"the first line", "#!/usr/bin/env dart\nimport 'a.dart';", "import 'a.dart'"},
		{"several strings", "import 'a/' 'b.dart';", "import 'a/' 'b.dart'"},
		{"quotes", "import r'a.dart'; import '''b.dart'''; import \"\"\"c.dart\"\"\";", "import r'a.dart'; import '''b.dart'''; import \"\"\"c.dart\"\"\""},
		{"words that are names", "var import = 'a.dart'; import(part, of) => 'b.dart';", ""},
		{"behind a declaration", "import 'a.dart';\nclass B {}\nimport 'c.dart';", "import 'a.dart'"},
		{"augmentation", "augment library 'a.dart';\nimport augment 'b.dart';", "import 'b.dart'"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			lines, err := Said([]byte(row.src))
			require.NoError(t, err)
			var got []string
			for _, line := range lines {
				parts := strings.SplitN(line, "\t", 4)
				got = append(got, parts[0]+" "+parts[3])
			}
			assert.Equal(t, row.want, strings.Join(got, "; "))
		})
	}
}

// What stands in strings is no code, and strings in what is put into a string are none of the text.
func TestLex(t *testing.T) {
	t.Parallel()
	for src, want := range map[string]int{
		`'a${b('c${d}', "e")}f' g`: 2, `r'a${' b`: 2, `'''a'b''c''' d`: 2, `"\"" 'x\'' `: 2, "'a$b' + '$c'": 3, `'${/* ' */ {'a': '}'}}' b`: 2,
	} {
		tokens, err := lex([]byte(src), nil)
		require.NoError(t, err, src)
		assert.Len(t, tokens, want, src)
	}
	for src, want := range map[string]string{"'a\n'": "a string does not end (line 1)", "\n/* /* */": "a comment does not end (line 2)",
		"'${a": "does not end", strings.Repeat("'${", 2000): "too deep"} {
		_, err := lex([]byte(src), nil)
		require.Error(t, err, src)
		assert.Contains(t, err.Error(), want)
	}
}

// What a file declares at its top.
func TestOutline(t *testing.T) {
	t.Parallel()
	src := `import 'x.dart';
@immutable abstract class A<T extends B> extends C<D> with E, F implements g.G {}
mixin H on I {} mixin class J {} sealed class K {} enum L implements M { a, b } extension N on O {} extension type P(int q) {}
typedef R = void Function(S); const t = 1; final U v = () { return 1; }; int w(x) => 1; get y => 2; void _z() {} Map<A, B> aa = {};`
	q := lang.NewDeclared(&convention.Convention{}, false, nil)
	q.AskAll()
	found, err := scan(lang.Source{Path: "a.dart", As: "a.dart", Content: []byte(src), Declared: q})
	require.NoError(t, err)
	var got []string
	for _, d := range found.Outline.Declarations {
		one := d.Name
		for kind := range d.Kinds.All() {
			one += " " + kind
		}
		if len(d.Extends) > 0 {
			one += " " + strings.Join(d.Extends, ",")
		}
		got = append(got, one)
	}
	assert.Equal(t, []string{"A class C,E,F,G", "H class I", "J class", "K class", "L class M", "N type O", "P type", "R type", "t constant", "v constant",
		"w function", "y function", "_z function", "aa constant"}, got)
	assert.Equal(t, []string{"immutable"}, found.Outline.Declarations[0].Marks)
}

// FuzzRead reads any text without taking the program down, and gives places that lie in it.
func FuzzRead(f *testing.F) {
	for _, src := range []string{"import 'a.dart' if (b) 'c.dart' show d;", "part of a.b;", "'${'$a'}'", "r'''a''' @b(c) class D {}", "export 'a' \"b\";", "#!a\n/*/**/*/"} {
		f.Add([]byte(src))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		found, err := scan(lang.Source{Path: "a.dart", As: "a.dart", Content: src})
		if err != nil {
			return
		}
		for _, m := range found.Mentions {
			if m.Span.Start < 1 || m.Span.End > len(src) || m.Span.Start > m.Span.End {
				t.Fatal("a place lies outside of the text", m.Span)
			}
		}
	})
}
