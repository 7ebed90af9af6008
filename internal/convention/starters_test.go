package convention

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every starter is a right convention by itself, and every shelf says what it is for.
func TestStarters(t *testing.T) {
	t.Parallel()
	for _, s := range Starters() {
		c, err := Read(s.Name, s.Text)
		require.NoError(t, err, s.Name)
		assert.NotEmpty(t, s.For)
		for _, shelf := range c.Shelves {
			assert.NotEmpty(t, shelf.For, "%s: %s", s.Name, shelf.Name)
		}
		found, err := FindStarter(s.Name)
		require.NoError(t, err)
		assert.Equal(t, s.For, found.For)
	}
	_, err := FindStarter("by-featur")
	assert.EqualError(t, err,
		`there is no starter "by-featur" (did you mean by-feature?); the starters are one-room, by-feature, by-module, layered, front-door, beside-management, full-stack, workspace, grouped, python-package, python-application, php-front-door, php-services, java-layered, java-by-feature, solution-grouped, solution-layered, ruby-by-kind, ruby-by-feature, rust-library, dart-server`)
}

// What a convention says itself counts; shelves replace those of their names in place, null takes one out, new ones
// come first.
func TestStartsFrom(t *testing.T) {
	t.Parallel()
	files := map[string]string{
		"base.yaml": "crooked: 1\nvars: { app: src, code: ts }\nleave: { stay: [a], outside: [b] }\n" +
			"levels: { loop: warn }\ntop: [x]\nshelves:\n  one: <app>/one/\n  two: { at: <app>/two/, from: y/** }\n" +
			"  three: <app>/three/\n",
		"loop.yaml":  "crooked: 1\nstarts_from: loop.yaml\nshelves: { a: a/ }\n",
		"wrong.yaml": "crooked: 1\nshelves: { a: ../a/ }\n",
	}
	load := func(p string) ([]byte, error) {
		if text, ok := files[p]; ok {
			return []byte(text), nil
		}
		return nil, errors.New("it is not there")
	}
	c, err := ReadFrom("crooked.yaml", []byte("crooked: 1\n# more\nstarts_from: base.yaml\nvars: { app: lib }\n"+
		"leave: { stay: [c] }\ntop: [z]\nshelves:\n  new: <app>/new/\n  two: { at: <app>/zwei/ }\n  one: null\n"), load)
	require.NoError(t, err)
	var shelves []string
	for _, s := range c.Shelves {
		shelves = append(shelves, s.Name+" "+s.At.Fill(nil))
	}
	assert.Equal(t, []string{"new lib/new/", "two lib/zwei/", "three lib/three/"}, shelves)
	assert.Equal(t, []int{8, 9, 3}, []int{c.Shelves[0].Line, c.Shelves[1].Line, c.Shelves[2].Line},
		"what is taken over stands where starts_from stands")
	assert.Equal(t, "c", c.Leave.Stay[0].Text)
	assert.Equal(t, "b", c.Leave.Outside[0].Text)
	assert.Equal(t, "z", c.Top[0].Text)
	assert.Len(t, c.Levels, 1)

	_, err = Read("crooked.yaml", []byte("crooked: 1\nstarts_from: by-feature\nshelves: { parts: null }\n"))
	require.NoError(t, err)
	for text, want := range map[string]string{
		"starts_from: by-featur": "2:14: there is no starter \"by-featur\" (did you mean " +
			"by-feature?)",
		"starts_from: gone.yaml":  "gone.yaml can't be read: it is not there",
		"starts_from: loop.yaml":  "more than 8 conventions start from one another",
		"starts_from: wrong.yaml": "wrong.yaml is wrong itself:",
		"starts_from: base.yaml\nvars: { app: '../a' }": "2:14: \"<app>/one/\" is no path: the path leaves the " +
			"project's root",
	} {
		_, err := ReadFrom("crooked.yaml", []byte("crooked: 1\n"+text+"\n"), load)
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), want)
	}
}
