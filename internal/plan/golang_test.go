package plan_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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
	t.Parallel()
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
-- a/x_test.go --
package a_test

type night struct{}

func Example() {
	fmt.Printf("%T %T", night{}, a.X{})
	// Output: a_test.night a.X
}

// It is no a_test.night: nothing prints this.
func Example_other() {
	// unordered output: a.Y x.a_test.none
}
`)
	require.Empty(t, made.Blocked)
	var got []string
	for _, r := range made.Remarks {
		got = append(got, fmt.Sprintf("%s:%d: %s", r.Path, r.Line, r.Text))
	}
	slices.Sort(got)
	assert.Equal(t, []string{
		"a/x.go:1: it does something when a program starts, and in its new package so does b/y.go: they do it in the " +
			"order of their names",
		"a/x.go:3: it uses encoding/gob, which knows types that are registered by the path of their package: what was " +
			"stored before names the old one",
		"a/x_test.go:7: an example is expected to print a_test.night, and the package is called b_test then",
	}, got)
}
