package script

import (
	"fmt"
	"path"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// shown writes an outline in one line: kinds and name of each declaration, + where it is exported, * where by default,
// what it extends in brackets, its marks with @, and the exports of lists.
func shown(o *lang.Outline) string {
	var out []string
	for _, d := range o.Declarations {
		var kinds []string
		for _, k := range convention.DeclarationKinds {
			if d.Kinds.Has(k) {
				kinds = append(kinds, k)
			}
		}
		text := strings.Join(kinds, "/") + " " + d.Name
		if d.Exported {
			text += "+"
		}
		if d.Default {
			text += "*"
		}
		if len(d.Extends) > 0 {
			text += fmt.Sprint(d.Extends)
		}
		for _, m := range d.Marks {
			text += "@" + m
		}
		out = append(out, text)
	}
	for _, e := range o.Exports {
		out = append(out, e.Name+">"+e.Local)
	}
	if !o.Own {
		out = append(out, "hands on")
	}
	return strings.Join(out, ", ")
}

var outlines = []struct{ file, text, want string }{
	{"a.ts", "export class Night extends Base.Row<string> {}", "class Night+[Base.Row]"},
	{"a.ts", "export default class extends Row {}", "class +*[Row]"},
	{"a.ts", "@Injectable()\nexport class NightService { @Input() a; }", "class NightService+@Injectable"},
	{"a.ts", "@core.Part({ a: '}' }) class Sky {}\nclass Moon {}", "class Sky@core.Part, class Moon"},
	{"a.ts", "export abstract class A {}\ndeclare function f(): void\nexport async function g() {}\nfunction* h() {}",
		"class A+, function f, function g+, function h"},
	{"a.ts", "interface A extends B, C<D> { a: 1 }\nexport type T = { a: 1 }\nexport const enum E { A }",
		"type A[B C], type T+, type E+"},
	{"a.js", "type = 1\ninterface = 2", ""},
	{"a.ts", "export const limit = 3, other = 4\nlet late: Map<string, () => void>\nvar { a, b } = x",
		"constant limit+, constant late"},
	{"a.ts", "const f = (a: number): string => ''\nconst g = async x => x\nexport const h = function () {}\n" +
		"const i = (1 + 2)", "function f, function g, function h+, constant i"},
	{"a.ts", "export const useNight = () => 1\nexport function useSky() {}\nexport function user() {}",
		"function/hook useNight+, function/hook useSky+, function user+"},
	{"a.tsx", "export function Card() { return <p/> }\nconst rows = () => <p/>\nfunction Wrap() { return <b/> }",
		"function/component Card+, function rows, function/component Wrap"},
	{"a.tsx", "const Card = memo(({ a }) => <p/>)\nconst Ref = React.forwardRef<A, B>((p, r) => <p/>)\n" +
		"const Ctx = createContext(null)\nexport default memo(Card)",
		"function/component Card, function/component Ref, constant Ctx, function +*"},
	{"Sky.jsx", "export default () => <p/>", "function/component +*"},
	{"a.tsx", "export class Old extends React.Component { render() { return <p/> } }\nclass Store {}",
		"class/component Old+[React.Component], class Store"},
	{"a.ts", "export function Card() {}", "function Card+"},
	{"a.ts", "function a() {}\nconst b = 1\nexport { a, b as c }\nexport default a",
		"function a+*, constant b+, a>a, b>c, a>default"},
	{"a.ts", "import x, { y } from './y'\nexport { x, y as default }\nexport * from './z'\nexport { q } from './q';\n" +
		"export * as all from './all'", "x>x, y>default, hands on"},
	{"a.ts", "'use strict'\nimport './x'\nexport type { A } from './a'", "hands on"},
	{"a.ts", "import a from './a'\na.start()", ""},
	{"a.ts", "import('./x')", ""},
	{"a.js", "module.exports = function () {}\nexports.a = 1\nmodule.exports.b = class B {}",
		"function +*, constant a+, class b+"},
	{"a.js", "router.get('/nights', list)\nrouter.post(`/nights`, add)\napp.get('env')\nmap.get(key)",
		"route /nights, route /nights"},
	{"a.ts", "if (x) { class Inner {} }\nfunction f() { const a = 1; function g() {} }", "function f"},
	{"a.ts", "class Night {}\nexport = Night", "class Night+*, Night>default"},
	{"a.ts", "import type { A } from './a'\nimport b = require('./b')\nexport { A, b }", "A>A, b>b, hands on"},
}

func TestOutline(t *testing.T) {
	t.Parallel()
	for _, row := range outlines {
		d, _ := DialectOf(row.file)
		declared := lang.NewDeclared(&convention.Convention{}, false, nil)
		declared.Outlines = true
		assert.Equal(t, row.want, shown(ScanText(row.file, []byte(row.text), d, declared).Outline), "%s: %s",
			path.Ext(row.file), row.text)
	}
}

func TestBindings(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ text, want string }{
		{"import a from './x'", "[{default a}]"},
		{"import a, { b, c as d } from './x'", "[{default a} {b b} {c d}]"},
		{"import type { A, type B } from './x'", "[{A A} {B B}]"},
		{"import type A from './x'", "[{default A}]"},
		{"import type, { b } from './x'", "[{default type} {b b}]"},
		{"import type from './x'", "[{default type}]"},
		{"import * as all from './x'", "[{* all}]"},
		{"import a, * as all from './x'", "[{default a} {* all}]"},
		{"import { default as a, 'odd name' as b, /* c */ d, } from './x'", "[{default a} {odd name b} {d d}]"},
		{"import './x'", "[]"},
		{"import {} from './x'", "[]"},
		{"export * from './x'", "[{* *}]"},
		{"export * as all from './x'", "[{* all}]"},
		{"export { a, default as b } from './x'", "[{a a} {default b}]"},
		{"export type { A } from './x'", "[{A A}]"},
		{"const a = require('./x')", "[{* *}]"},
		{"const a = await import('./x')", "[{* *}]"},
	} {
		found := Scan([]byte(row.text), TypeScript)
		if assert.Len(t, found, 1, row.text) {
			assert.Equal(t, row.want, fmt.Sprint(Bindings([]byte(row.text), &found[0])), row.text)
		}
	}
}
