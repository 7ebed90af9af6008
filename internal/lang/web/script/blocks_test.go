package script

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// A block is passed over where its end is plain, and read token by token where not; what stands behind it is found in
// both cases.
func TestBlocksArePassedOver(t *testing.T) {
	t.Parallel()
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	for _, row := range []struct {
		inner    string
		givesUp  bool
		elements bool
	}{
		{inner: ""}, {inner: "a({ b: [1, { c }] }, ')', \"}\", `}`)"}, {inner: "`{ ${a(`}${b}`)} {`"},
		{inner: "// }\n/* } */ a /* { */ / b; c // {\n/ d"},
		{inner: "a = /}/g; b(/[/}]/, c); return /\\/}/.test(d)"},
		{inner: "a / b; c() / d; e[0] / f; '}' / g; 1 / h; i.return / j; k++ / l; m-- / n; o /= p"},
		{inner: "if (a) /}/.test(b); while (c) {} for (;;) /{/.exec(d)"}, {inner: "a = b + + /}/.source.length"},
		{inner: "a = b ? /}/ : /{/; c = !/}/.test(d) && !e; (f, /}/)"},
		{inner: "a < b; c << d; e <= f; g<H>(i); new J<K>(); (x < y) > z"},
		{inner: "const a = b/* x */\n/* y */ / c / d"},
		{inner: "return <p a=\"}\" b={c / d}>it isn't } {e ? <b>{'}'}</b> : <></>} </p>", elements: true},
		{inner: "const a = (<A.B {...c} />); return a && <D<E> f /> / 2", elements: true},
		{inner: "x => <p>/}</p>", elements: true}, {inner: "case 1: return <p/>", elements: true},

		{inner: "({}) / a; {} /}/", givesUp: true}, {inner: "a = {} / b; {}", givesUp: true},
		{inner: "a! / b; {}", givesUp: true}, {inner: "for await (a) /}/; {", givesUp: true},
		{inner: "a = é / b", givesUp: true}, {inner: "(", givesUp: true}, {inner: "<p>", givesUp: true, elements: true},
		{inner: "a = as < b", givesUp: true}, {inner: "const / a", givesUp: true},
	} {
		src := []byte("export function a() {" + row.inner + "}\nexport class B {}\nexport const c = 1\n")
		s := newScanner("a.tsx", src, TypeScript|JSX, declared)
		s.outline, s.wanted = &outliner{}, 0
		s.scan()
		assert.Equal(t, row.givesUp, s.wanted > 0, row.inner)
		assert.Equal(t, row.elements, s.outline.elements, row.inner)
		require.Equal(t, ScanWhole("a.tsx", src, TypeScript|JSX, declared).Outline, s.outline.finish("a.tsx"),
			row.inner)
	}
}
