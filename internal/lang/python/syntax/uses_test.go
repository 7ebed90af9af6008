package syntax

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Each row is a text and the uses of what it imports, each with what the name stands for.
func TestUses(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"plain", "import a.b\nimport c as d\nfrom e import f as g, h\na.b.c; d.x; g.y(h)",
			"a.b.c=a d.x=c g.y=e.f h=e.h"},
		{"relative", "from . import a\nfrom .b import c\na.x, c.y", "a.x=.a c.y=.b.c"},
		{"behind a dot, as an argument's name, and in texts", "import a\nx.a.b; f(a=1, b=a.c); 'a.d' # a.e", "a.c=a"},
		{"parameters", "import a\ndef f(a, *, b: a.T = a.d) -> a.R: return a.x\ndef g(*a): a.y\nlambda a=a.z: a.w",
			"a.T=a a.d=a a.R=a a.z=a"},
		{"locals", "import a\ndef f():\n  a.x\n  for a, b in a.y: pass\ndef g():\n  with x as (b, a): a.x\ndef h():\n" +
			"  try: pass\n  except E as a: a.x\ndef i():\n  a: int = 1; a.x\ndef j():\n  (a := 1); a.x\ndef k():\n" +
			"  del a; a.x\n", ""},
		{"what a class holds is not seen in its functions",
			"import a\nclass K(a.B):\n  a = a.C\n  x = a.D\n  def f(self): return a.E", "a.B=a a.E=a"},
		{"comprehensions",
			"import a\n[a.x for a in a.y if a.z]\n[b for b in a.u for c in a.v if a.w]\n{a.k: 1 for _ in x}",
			"a.y=a a.u=a a.v=a a.w=a a.k=a"},
		{"functions in functions", "def f():\n  import a\n  def g():\n    return a.x\n  return a.y\na.z\ndef h(): a.w",
			"a.x=a a.y=a"},
		{"global", "class K:\n  def f(self):\n    global a\n    import a\n  def g(self): a.x\na.y", "a.x=a a.y=a"},
		{"imported or else", "try:\n  import a\nexcept ImportError:\n  a = None\na.x", "a.x=a"},
		{"formatted strings", "import a\nf'{a.x!r:>{a.y}} {{a.z}} {a.w=}' rf\"{a.v}\"", "a.x=a a.y=a a.w=a a.v=a"},
		{"patterns",
			"import a\nmatch x:\n  case a.X: a.y\n  case a.Z(b=a.q): pass\ndef f(x):\n  match x:\n    case [a, *b]: a.w", "a.X=a a.y=a a.Z=a a.q=a"},
		{"names that are words elsewhere", "import match, case\nmatch.x; case.y\nmatch = match.z",
			"match.x=match case.y=case match.z=match"},
		{"targets", "import a\na.x = 1; a.y[a.z] = a.w; a.v += 1\nfor a.u in x: pass",
			"a.x=a a.y=a a.z=a a.w=a a.v=a a.u=a"},
		{"in parentheses", "import a\n(a).b.c, f(a).d; return (a) . e; x[0](a).g\n(a)\n((a.h).i).j; (a.k)\n",
			"a.b.c=a a=a a.e=a a=a a=a a.h.i.j=a a.k=a"},
		{"over several lines", "import a\nx = (a\n  . b # c\n  .d)", "a.b.d=a"},
		{"decorators and one-line blocks", "import a\n@a.b(a.c)\ndef f(): a.d; a.e\nif a.f: a.g\nelse: a.h",
			"a.b=a a.c=a a.d=a a.e=a a.f=a a.g=a a.h=a"},
	} {
		var got []string
		for _, m := range Uses([]byte(row.src)) {
			got = append(got, m.Text+"="+DetailOf(&m).From)
		}
		assert.Equal(t, row.want, strings.Join(got, " "), row.name)
	}
}
