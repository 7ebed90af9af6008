package plan_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// booking is a small service in one package, whose parts are to be packages of their own.
const booking = `
-- go.mod --
module hilltop.example/desk
-- crooked.yaml --
crooked: 1
leave: { stay: [go.mod, cmd/**] }
shelves:
  controllers: { at: internal/controller/, from: [app/handler.go] }
  services: { at: internal/service/, from: [app/service.go, app/service_test.go] }
  models: { at: internal/model/, from: [app/booking.go, app/member.go] }
  data: { at: internal/data/, from: [store/**] }
-- app/booking.go --
// Package app has all of it.
package app

// Booking is one night.
type Booking struct{ Who Member }

func (b Booking) String() string { return b.Who.Name }
-- app/member.go --
package app

type Member struct{ Name string }

func NewMember(name string) Member { return Member{Name: name} }

const Limit = 3
-- app/service.go --
package app

import (
	"fmt"

	"hilltop.example/desk/store"
)

func Book(name string) (Booking, error) {
	if store.Count() > Limit {
		return Booking{}, fmt.Errorf("full")
	}
	return Booking{Who: NewMember(name)}, nil
}
-- app/service_test.go --
package app

import "testing"

func TestBook(t *testing.T) {
	if b, _ := Book("a"); b.Who != NewMember("a") {
		t.Fatal(store)
	}
}

var store = map[string]int{"a": Limit}
-- app/handler.go --
package app

func Handle(name string) string {
	b, err := Book(name)
	if err != nil {
		return err.Error()
	}
	model := b.String()
	return model + NewMember("x").Name
}
-- store/count.go --
package store

func Count() int { return 0 }
-- cmd/desk/main.go --
package main

import (
	. "fmt"

	old "hilltop.example/desk/app"
)

func main() { Println(old.Handle("a"), old.Limit, old.Booking{}) }
`

func TestGoPackagesPart(t *testing.T) {
	made, g := build(t, booking)
	require.Empty(t, made.Blocked)
	files := after(t, booking, made, g)
	for file, want := range map[string]string{
		"internal/model/booking.go": "// Package model has all of it.\npackage model\n\n// Booking is one night.\n" +
			"type Booking struct{ Who Member }\n\nfunc (b Booking) String() string { return b.Who.Name }\n",
		"internal/service/service.go": "package service\n\nimport (\n\t\"fmt\"\n\n" +
			"\t\"hilltop.example/desk/internal/data\"\n\t\"hilltop.example/desk/internal/model\"\n)\n\n" +
			"func Book(name string) (model.Booking, error) {\n\tif data.Count() > model.Limit {\n" +
			"\t\treturn model.Booking{}, fmt.Errorf(\"full\")\n\t}\n" +
			"\treturn model.Booking{Who: model.NewMember(name)}, nil\n}\n",
		"internal/service/service_test.go": "package service\n\nimport (\n\t\"testing\"\n\n" +
			"\t\"hilltop.example/desk/internal/model\"\n)\n\nfunc TestBook(t *testing.T) {\n" +
			"\tif b, _ := Book(\"a\"); b.Who != model.NewMember(\"a\") {\n\t\tt.Fatal(store)\n\t}\n}\n\n" +
			"var store = map[string]int{\"a\": model.Limit}\n",
		"internal/controller/handler.go": "package controller\n\n" +
			"import modelpkg \"hilltop.example/desk/internal/model\"\n" +
			"import \"hilltop.example/desk/internal/service\"\n\nfunc Handle(name string) string {\n" +
			"\tb, err := service.Book(name)\n\tif err != nil {\n\t\treturn err.Error()\n\t}\n\tmodel := b.String()\n" +
			"\treturn model + modelpkg.NewMember(\"x\").Name\n}\n",
		"internal/data/count.go": "package data\n\nfunc Count() int { return 0 }\n",
		"cmd/desk/main.go": "package main\n\nimport (\n\t. \"fmt\"\n\n" +
			"\told \"hilltop.example/desk/internal/controller\"\n\t\"hilltop.example/desk/internal/model\"\n)\n\n" +
			"func main() { Println(old.Handle(\"a\"), model.Limit, model.Booking{}) }\n",
	} {
		assert.Equal(t, want, files[file], file)
	}
	second, _ := build(t, archive(files))
	assert.True(t, second.Empty())
}

// Each row is files of a module beside go.mod, shelves, what is blocked ("file: why"), and lines of files that stand
// there afterwards.
func TestGoMoves(t *testing.T) {
	for _, row := range []struct {
		name, files, shelves, blocked string
		after                         map[string]string
	}{
		{"what is not exported",
			"-- a/x.go --\npackage a\n\nfunc hidden() {}\n-- a/y.go --\npackage a\n\nfunc Y() { hidden() }\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go:3:12: hidden is not exported, and would be needed in another package", nil},
		{"a method", "-- a/x.go --\npackage a\n\ntype T int\n-- a/y.go --\npackage a\n\nfunc (t T) M() {}\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go:3:9: a method is declared on T, and must stay in its package", nil},
		{"a field", "-- a/x.go --\npackage a\n\ntype T struct{ n int }\n\nfunc Get() T { return T{} }\n-- a/y.go --\n" +
			"package a\n\nfunc Y() int { return Get().n }\n", "b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go selects n, which a/x.go declares for its package alone, and they would part", nil},
		{"an interface", "-- a/x.go --\npackage a\n\ntype I interface{ m() }\n\nvar _ I = T{}\n-- a/y.go --\n" +
			"package a\n\ntype T struct{}\n\nfunc (T) m() {}\n", "b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/x.go selects m, which a/y.go declares for its package alone, and they would part", nil},
		{"literals without keys",
			"-- a/x.go --\npackage a\n\ntype T struct{ n int }\n-- a/y.go --\npackage a\n\nvar L = []*T{{1}}\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go has a literal of T without keys, whose fields are not all exported, and a/x.go declares " +
				"it: they would part", nil},
		{"what runs at the start",
			"-- a/x.go --\npackage a\n\nfunc X() {}\n-- a/y.go --\npackage a\n\nfunc init() { X() }\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go does something when a program starts that imports its package, and a/x.go would not " +
				"import it any more", nil},
		{"what is built with it", "-- a/x.go --\npackage a\n-- a/x.s --\n", "b: { at: b/, from: [a/x.go] }", "",
			map[string]string{"b/x.go": "package b\n", "b/x.s": ""}},
		{"what is built with it, if some stay", "-- a/x.go --\npackage a\n-- a/x.s --\n-- a/y.go --\npackage a\n",
			"b: { at: b/, from: [a/x.go] }",
			"a/x.go: a/x.s is built with the Go files beside it, and they would part", nil},
		{"what is built with it, elsewhere", "-- a/x.go --\npackage a\n-- a/x.h --\n", "b: { at: b/, from: [a/x.go] }",
			"a/x.go: a/x.h is built with the Go files beside it, and they would part", nil},
		{"a circle", "-- a/x.go --\npackage a\n\nfunc X() { Y() }\n-- a/y.go --\npackage a\n\nfunc Y() { Z() }\n" +
			"-- a/z.go --\npackage a\n\nfunc Z() {}\n", "b: { at: b/, from: [a/y.go] }",
			"a/y.go: packages would import one another in a circle: a imports b (x.go), b imports a (y.go)", nil},
		{"internal", "-- p/internal/i/i.go --\npackage i\n\nfunc I() {}\n-- p/u.go --\npackage p\n\n" +
			"import \"hilltop.example/m/p/internal/i\"\n\nfunc U() { i.I() }\n", "q: { at: q/, from: [p/u.go] }",
			"p/u.go: q/u.go uses it, and would lie outside of p, within which alone p/internal/i may be imported", nil},
		{"two of one name", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- b/x2.go --\npackage b\n\nfunc X() {}\n",
			"b: { at: b/, from: [a/x.go] }",
			"a/x.go: a/x.go and b/x2.go both declare X, and would be of one package", nil},
		{"systems", "-- a/x_linux.go --\npackage a\n\nfunc X() {}\n-- a/x_other.go --\n//go:build !linux\n\n" +
			"package a\n\nfunc X() {}\n", "b: { at: b/, from: [a/x_linux.go] }",
			"a/x_linux.go: X is declared in a/x_linux.go and in a/x_other.go, for several systems, and they would part",
			nil},
		{"a name of the new package",
			"-- a/x.go --\npackage a\n\nfunc X() int { return max(1, 2) }\n-- b/m.go --\npackage b\n\nfunc max() {}\n",
			"b: { at: b/, from: [a/x.go] }",
			"a/x.go: a/x.go uses max, and b/m.go declares another one in the package that they would be of", nil},
		{"a module's border",
			"-- n/go.mod --\nmodule hilltop.example/n\n-- n/k.go --\npackage n\n-- a/x.go --\npackage a\n",
			"n: { at: n/, from: [a/x.go] }",
			"a/x.go: it would leave the module hilltop.example/m for hilltop.example/n, which may not require what it " +
				"imports", nil},
		{"a program", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- c/main.go --\npackage main\n\n" +
			"import \"hilltop.example/m/a\"\n\nfunc main() { a.X() }\n-- t/main.go --\npackage main\n\nfunc main() {}\n", "t: { at: t/, from: [a/x.go] }",
			"a/x.go: c/main.go:3:9: t is a program, and can't be imported", nil},
		{"what can't be read", "-- a/x.go --\npackage a\n\nfunc X() {\n-- a/y.go --\npackage a\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/x.go can't be read, so it is not known what it uses of its package: 3:12: expected '}', found " +
				"'EOF'", nil},
		{"a key that may be a field", "-- a/x.go --\npackage a\n\nconst Key = 1\n-- a/y.go --\npackage a\n\n" +
			"var V = M{Key: 2}\n\ntype M map[int]int\n", "b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go:3:11: Key stands as a key, and without types it is not known whether that is a field", nil},
		{"a comment of its own", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- b/y.go --\npackage b\n\nimport (\n" +
			"\t// needed\n\t\"hilltop.example/m/a\"\n)\n\nfunc Y() { a.X() }\n", "b: { at: b/, from: [a/x.go] }",
			"a/x.go: b/y.go:5:3: the import of \"hilltop.example/m/a\" is needed no more, and a comment belongs to it",
			nil},
		{"a line of imports", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- b/y.go --\npackage b\n\n" +
			"import (\"hilltop.example/m/a\"; \"fmt\")\n\nfunc Y() { a.X(); fmt.Print() }\n",
			"b: { at: b/, from: [a/x.go] }",
			"a/x.go: b/y.go:3:10: the import of \"hilltop.example/m/a\" is needed no more, and others stand on its line", nil},
		{"where nothing is built", "-- a/x.go --\npackage a\n", "b: { at: testdata/, from: [a/x.go] }",
			"a/x.go: there it would not be built: folders called testdata or vendor and names that begin with _ or . " +
				"are passed over", nil},
		{"a name that is a constraint", "-- a/x-linux.go --\npackage a\n",
			"b: { at: \"b/<x|snake>.go\", from: [\"a/<x>.go\"] }",
			"a/x-linux.go: by its new name it would be built for something else: endings as _linux and _test say for " +
				"what", nil},
		{"a helper in a test", "-- a/x.go --\npackage a\n-- a/e_test.go --\npackage a\n\nfunc E() {}\n" +
			"-- a/x_test.go --\npackage a_test\n\nimport \"hilltop.example/m/a\"\n\nvar _ = a.E\n",
			"b: { at: b/, from: [a/x_test.go] }",
			"a/x_test.go: a/x_test.go:5:9: E is declared in a test of a, which nobody imports", nil},
		{"carriage returns",
			"-- a/x.go --\npackage a\r\n\r\nfunc X() { Y() }\r\n-- a/y.go --\npackage a\n\nfunc Y() {}\n",
			"b: { at: b/, from: [a/y.go] }", "",
			map[string]string{"a/x.go": "package a\r\n\r\nimport \"hilltop.example/m/b\"\r\n\r\nfunc X() { b.Y() }\r\n"}},
		{"two of one name afterwards", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- k/z/z.go --\npackage z\n\n" +
			"func Z() {}\n-- c/c.go --\npackage c\n\nimport (\n\t\"hilltop.example/m/a\"\n" +
			"\t\"hilltop.example/m/k/z\"\n)\n\nvar _, _ = a.X, z.Z\n", "z: { at: n/z/, from: [a/**] }", "",
			map[string]string{"c/c.go": "package c\n\nimport (\n\t\"hilltop.example/m/k/z\"\n" +
				"\ta \"hilltop.example/m/n/z\"\n)\n\nvar _, _ = a.X, z.Z\n"}},
		{"a name that no file declares", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- c/c.go --\npackage c\n\n" +
			"import \"hilltop.example/m/a\"\n\nvar _, _ = a.X, a.Made\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"c/c.go": "package c\n\nimport \"hilltop.example/m/z\"\n\nvar _, _ = z.X, z.Made\n"}},
		{"a module by another's name", "-- go.mod --\nmodule hilltop.example/m\n\n" +
			"replace hilltop.example/old => ./fork\n-- fork/go.mod --\nmodule hilltop.example/fork\n" +
			"-- fork/f/f.go --\npackage f\n\nfunc F() {}\n-- a/x.go --\npackage a\n\n" +
			"import \"hilltop.example/old/f\"\n\nfunc X() { f.F() }\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"z/x.go": "package z\n\nimport \"hilltop.example/old/f\"\n\nfunc X() { f.F() }\n"}},
		{"a generator goes along", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- a/gen.go --\n//go:build ignore\n\n" +
			"package main\n\nfunc main() { X() }\n\nfunc X() {}\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"z/x.go": "package z\n\nfunc X() {}\n",
				"z/gen.go": "//go:build ignore\n\npackage main\n\nfunc main() { X() }\n\nfunc X() {}\n"}},
		{"joined", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- b/y.go --\npackage b\n\nimport (\n\t\"fmt\"\n" +
			"\t\"hilltop.example/m/a\"\n)\n\nfunc Y() { fmt.Println(a.X) }\n", "b: { at: b/, from: [a/x.go] }", "",
			map[string]string{"b/y.go": "package b\n\nimport (\n\t\"fmt\"\n)\n\nfunc Y() { fmt.Println(X) }\n",
				"b/x.go": "package b\n\nfunc X() {}\n"}},
		{"sorted", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- c/c.go --\npackage c\n\nimport (\n" +
			"\t\"hilltop.example/m/a\" // first\n\t\"hilltop.example/m/k\"\n)\n\nvar _, _ = a.X, k.K\n-- k/k.go --\n" +
			"package k\n\nfunc K() {}\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"c/c.go": "package c\n\nimport (\n\t\"hilltop.example/m/k\"\n" +
				"\t\"hilltop.example/m/z\" // first\n)\n\nvar _, _ = z.X, k.K\n"}},
		{"a name that is taken", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- c/c.go --\npackage c\n\n" +
			"import \"hilltop.example/m/a\"\n\nfunc C() { z := 1; a.X(); _ = z }\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"c/c.go": "package c\n\nimport a \"hilltop.example/m/z\"\n\n" +
				"func C() { z := 1; a.X(); _ = z }\n"}},
		{"blank and dot", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- c/c.go --\npackage c\n\n" +
			"import _ \"hilltop.example/m/a\"\n-- d/d.go --\npackage d\n\nimport . \"hilltop.example/m/a\"\n\n" +
			"func D() { X() }\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"c/c.go": "package c\n\nimport _ \"hilltop.example/m/z\"\n",
				"d/d.go": "package d\n\nimport . \"hilltop.example/m/z\"\n\nfunc D() { X() }\n"}},
		{"the clause is not the folder's",
			"-- go-a/x.go --\npackage stars\n\nfunc X() {}\n-- c/c.go --\npackage c\n\n" +
				"import \"hilltop.example/m/go-a\"\n\nvar _ = stars.X\n", "z: { at: z/, from: [go-a/**] }", "",
			map[string]string{"z/x.go": "package stars\n\nfunc X() {}\n",
				"c/c.go": "package c\n\nimport \"hilltop.example/m/z\"\n\nvar _ = stars.X\n"}},
		{"tests from outside", "-- a/x.go --\npackage a\n\nfunc X() {}\n-- a/x_test.go --\npackage a_test\n\n" +
			"import \"hilltop.example/m/a\"\n\nvar _ = a.X\n", "z: { at: z/, from: [a/**] }", "",
			map[string]string{"z/x_test.go": "package z_test\n\nimport \"hilltop.example/m/z\"\n\nvar _ = z.X\n"}},
		{"embedded", "-- a/x.go --\npackage a\n\nimport _ \"embed\"\n\n//go:embed x.txt\nvar X string\n-- a/x.txt --\n",
			"z: { at: z/, from: [a/**] }", "",
			map[string]string{"z/x.go": "package z\n\nimport _ \"embed\"\n\n//go:embed x.txt\nvar X string\n"}},
		{"fields of one name on two types", "-- a/x.go --\npackage a\n\ntype X struct{ rows, n int }\n\n" +
			"func (x *X) R() int { return x.rows }\n-- a/y.go --\npackage a\n\ntype Y struct{ rows int }\n\n" +
			"func Of(y Y) int { z := &Y{rows: 1}; var w Y; return y.rows + z.rows + w.rows }\n",
			"b: { at: b/, from: [a/y.go] }", "", map[string]string{"b/y.go": "package b\n\ntype Y struct{ rows int }\n\n" +
				"func Of(y Y) int { z := &Y{rows: 1}; var w Y; return y.rows + z.rows + w.rows }\n"}},
		{"a field of another file's type", "-- a/x.go --\npackage a\n\ntype X struct{ rows int }\n" +
			"-- a/y.go --\npackage a\n\ntype Y struct{ rows int }\n\nfunc Of(x X) int { return x.rows }\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go selects rows, which a/x.go declares for its package alone, and they would part", nil},
		{"a field that is had by embedding", "-- a/x.go --\npackage a\n\ntype X struct{ rows int }\n" +
			"-- a/y.go --\npackage a\n\ntype Y struct{ X }\n\nfunc Of(y Y) int { return y.rows }\n",
			"b: { at: b/, from: [a/y.go] }",
			"a/y.go: a/y.go selects rows, which a/x.go declares for its package alone, and they would part", nil},
		{"embedded, left behind",
			"-- a/x.go --\npackage a\n\nimport _ \"embed\"\n\n//go:embed x.txt\nvar X string\n-- a/x.txt --\n",
			"z: { at: z/, from: [a/x.go] }",
			`a/x.go: a/x.go:5:12 refers to it as "x.txt", and no new spelling of that leads to it`, nil},
		{"paths of tests",
			"-- a/x_test.go --\npackage a\n\nvar p, q = \"../data/n.txt\", dir + \"/../data/n.txt\"\n\n" +
				"const dir = \".\"\n-- data/n.txt --\n", "z: { at: z/deep/, from: [a/**] }", "",
			map[string]string{"z/deep/x_test.go": "package deep\n\nvar p, q = \"../../data/n.txt\", dir + " +
				"\"/../../data/n.txt\"\n\nconst dir = \".\"\n"}},
		{"paths of tests, in pieces and alone", "-- a/x_test.go --\npackage a\n\nvar (\n" +
			"\tp = filepath.Join(\"..\", \"data\", \"n.txt\")\n\tq = filepath.Join(\"..\", \"data\", name)\n" +
			"\tr = os.DirFS(\"..\")\n\ts = strings.HasPrefix(rel, \"..\")\n\tt = filepath.Glob(\"../data/*.txt\")\n" +
			"\tu = os.ReadFile(\"own.txt\")\n\tv = os.ReadFile(\"testdata/t.txt\")\n\tw = read(\"sub/left.txt\")\n)\n" +
			"-- a/own.txt --\n-- a/testdata/t.txt --\n-- a/sub/left.txt --\n-- data/n.txt --\n",
			"z: { at: z/deep/, from: [a/*.go, a/testdata/**] }", "",
			map[string]string{"z/deep/x_test.go": "package deep\n\nvar (\n" +
				"\tp = filepath.Join(\"..\", \"..\", \"data\", \"n.txt\")\n" +
				"\tq = filepath.Join(\"..\", \"..\", \"data\", name)\n\tr = os.DirFS(\"../..\")\n" +
				"\ts = strings.HasPrefix(rel, \"..\")\n\tt = filepath.Glob(\"../../data/*.txt\")\n" +
				"\tu = os.ReadFile(\"../../a/own.txt\")\n\tv = os.ReadFile(\"t.txt\")\n" +
				"\tw = read(\"../../a/sub/left.txt\")\n)\n"}},
		{"paths of packages in texts", "-- v/v.go --\n// Package v is [hilltop.example/m/n.Row], [Version] and " +
			"[n.Row].\npackage v\n\nimport \"hilltop.example/m/n\"\n\n" +
			"var Version, Of = \"hilltop.example/m/n\", n.Row{}\n-- n/n.go --\npackage n\n\ntype Row struct{}\n\n" +
			"func list() {}\n-- cmd/d/main.go --\npackage main\n\nimport _ \"unsafe\"\n\n" +
			"// See https://hilltop.example/m/n.\n//\n//go:linkname list hilltop.example/m/n.list\nfunc list()\n\n" +
			"func main() { list() }\n-- Makefile --\nb:\n" +
			"\tgo build -ldflags \"-X hilltop.example/m/v.Version=$(V) -X 'hilltop.example/m/v.None=2'\" ./cmd/d\n" +
			"\tgo test hilltop.example/m/n/... hilltop.example/m hilltop.example/mm/n\n",
			"z: { at: z/w/, from: [v/**] }\n  y: { at: y/, from: [n/**] }", "",
			map[string]string{
				"z/w/v.go": "// Package w is [hilltop.example/m/y.Row], [Version] and [y.Row].\npackage w\n\n" +
					"import \"hilltop.example/m/y\"\n\nvar Version, Of = \"hilltop.example/m/y\", y.Row{}\n",
				"cmd/d/main.go": "package main\n\nimport _ \"unsafe\"\n\n// See https://hilltop.example/m/n.\n//\n" +
					"//go:linkname list hilltop.example/m/y.list\nfunc list()\n\nfunc main() { list() }\n",
				"Makefile": "b:\n\tgo build -ldflags \"-X hilltop.example/m/z/w.Version=$(V) -X " +
					"'hilltop.example/m/z/w.None=2'\" ./cmd/d\n" +
					"\tgo test hilltop.example/m/y/... hilltop.example/m hilltop.example/mm/n\n",
			}},
		{"a name that parts from its package", "-- n/a.go --\npackage n\n\nvar A string\n-- n/b.go --\npackage n\n\n" +
			"var B string\n-- Makefile --\nb:\n" +
			"\tgo build -ldflags \"-X hilltop.example/m/n.A=1 -X hilltop.example/m/n.B=1\" ./...\n",
			"y: { at: y/, from: [n/a.go] }", "",
			map[string]string{"Makefile": "b:\n\tgo build -ldflags \"-X hilltop.example/m/y.A=1 -X " +
				"hilltop.example/m/n.B=1\" ./...\n"}},
		{"a package that parts, in a command",
			"-- n/a.go --\npackage n\n-- n/b.go --\npackage n\n-- Makefile --\nb:\n\tgo test hilltop.example/m/n\n",
			"y: { at: y/, from: [n/a.go] }",
			`n/a.go: Makefile:2:10 leads to a set of files by "hilltop.example/m/n", and afterwards it would lead to others`, nil},
		{"modules in folders", "-- go.work --\ngo 1.22\n\nuse (\n\t.\n\t./stars // all\n)\n-- stars/go.mod --\n" +
			"module hilltop.example/stars\n\nreplace (\n\thilltop.example/m => ../\n)\n-- stars/s.go --\n" +
			"package stars\n", "z: { at: libs/stars/, from: [stars/**] }", "",
			map[string]string{"go.work": "go 1.22\n\nuse (\n\t.\n\t./libs/stars // all\n)\n",
				"libs/stars/go.mod": "module hilltop.example/stars\n\nreplace (\n\thilltop.example/m => ../../\n)\n"}},
		{"generics, labels and shadows", "-- a/x.go --\npackage a\n\ntype Box[T any] struct{ V T }\n\n" +
			"func Of[T any](v T) Box[T] { return Box[T]{V: v} }\n-- a/y.go --\npackage a\n\n" +
			"func Y(Of int) (b Box[int]) {\nBox:\n\tfor {\n\t\tbreak Box\n\t}\n\t_ = Of\n\treturn\n}\n",
			"b: { at: b/, from: [a/y.go] }", "",
			map[string]string{"b/y.go": "package b\n\nimport \"hilltop.example/m/a\"\n\n" +
				"func Y(Of int) (b a.Box[int]) {\nBox:\n\tfor {\n\t\tbreak Box\n\t}\n\t_ = Of\n\treturn\n}\n"}},
	} {
		t.Run(row.name, func(t *testing.T) {
			tree := "-- go.mod --\nmodule hilltop.example/m\n-- crooked.yaml --\ncrooked: 1\nshelves:\n  " +
				row.shelves + "\n" + row.files
			made, g := build(t, tree)
			var blocked []string
			for _, b := range made.Blocked {
				blocked = append(blocked, b.From+": "+b.Reason)
			}
			assert.Equal(t, row.blocked, strings.Join(blocked, "\n"))
			files := after(t, tree, made, g)
			for file, want := range row.after {
				assert.Equal(t, want, files[file], file)
			}
			if row.blocked != "" {
				assert.Equal(t, projecttest.Files(tree), files)
			}
		})
	}
}

// What no compiler notices is said.
func TestGoRemarks(t *testing.T) {
	t.Parallel()
	made, _ := build(t, `
-- go.mod --
module hilltop.example/m
-- crooked.yaml --
crooked: 1
shelves:
  b: { at: b/, from: [a/**] }
-- a/x.go --
package a

import "encoding/gob"

func init() { gob.Register(X{}) }

type X struct{}
-- b/y.go --
package b

func init() { println("y") }
`)
	require.Empty(t, made.Blocked)
	var got []string
	for _, r := range made.Remarks {
		got = append(got, r.Path+": "+r.Text)
	}
	slices.Sort(got)
	assert.Equal(t, []string{
		"a/x.go: it does something when a program starts, and in its new package so does b/y.go: they do it in the " +
			"order of their names",
		"a/x.go: it uses encoding/gob, which knows types that are registered by the path of their package: what was " +
			"stored before names the old one",
	}, got)
}
