package carry_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/source"
)

// request asks for moves of a tree without a convention: from -> to, one a line.
func request(t *testing.T, tree, moves string) carry.Request {
	p := projecttest.Load(t, tree)
	r := carry.Request{Graph: graph.Build(p, all.Languages(), nil), Moves: map[project.FileID]string{}}
	for line := range strings.Lines(moves) {
		from, to, ok := strings.Cut(strings.TrimSpace(line), " -> ")
		require.True(t, ok, line)
		id, there := p.Lookup(from)
		require.True(t, there, from)
		r.Moves[id] = to
	}
	return r
}

// text is a file as a draft leaves it.
func text(t *testing.T, r carry.Request, d *carry.Draft, file string) string {
	id, there := r.Graph.Tree.Lookup(file)
	require.True(t, there, file)
	content, err := r.Graph.Tree.Content(id)
	require.NoError(t, err)
	after, err := source.Apply(content, carry.SourceEdits(d.Edits[id]))
	require.NoError(t, err)
	return string(after)
}

const desk = `
-- src/main.ts --
import { night } from './night'
import list from './list/nights.json'
-- src/night.ts --
export const night = 1
-- src/list/nights.json --
[]
-- desk/__init__.py --
-- desk/book.py --
from desk.night import Night
-- desk/night.py --
class Night: pass
-- docs/plan.md --
The nights are in [a list](../src/list/nights.json), read by src/night.ts.
`

// Moves need no convention: what refers to them follows, and what only names them is listed.
func TestMovesWithoutAConvention(t *testing.T) {
	t.Parallel()
	r := request(t, desk,
		"src/night.ts -> src/sky/night.ts\nsrc/list/nights.json -> data/nights.json\ndesk/night.py -> desk/sky/night.py")
	d, refused := carry.Work(r)
	require.Empty(t, refused)
	assert.Equal(t, "import { night } from './sky/night'\nimport list from '../data/nights.json'\n",
		text(t, r, d, "src/main.ts"))
	assert.Equal(t, "from desk.sky.night import Night\n", text(t, r, d, "desk/book.py"))
	assert.Equal(t, "The nights are in [a list](../data/nights.json), read by src/night.ts.\n",
		text(t, r, d, "docs/plan.md"))
	assert.Contains(t, d.Writes, "desk/sky/__init__.py")
	require.Len(t, d.Leftovers, 1)
	assert.Equal(t, "src/night.ts", d.Leftovers[0].Text)
	assert.Equal(t, carry.SamePath, d.Leftovers[0].Reason)
	moved, _ := r.Graph.Tree.Lookup("src/night.ts")
	assert.Equal(t, "src/sky/night.ts", d.After.Tree.Path(d.NewID[moved]))
}

// Each row is what stands against a move; the rest of the moves is not worked out then.
func TestRefusals(t *testing.T) {
	t.Parallel()
	held := func(hold carry.Hold, file string) func(r *carry.Request) {
		return func(r *carry.Request) {
			r.Hold = func(id project.FileID) carry.Hold {
				if r.Graph.Tree.Path(id) == file {
					return hold
				}
				return carry.Free
			}
		}
	}
	for _, row := range []struct {
		moves  string
		change func(r *carry.Request)
		want   string
	}{
		{"src/night.ts -> src/main.ts", nil, "src/night.ts: a file stands there already and stays"},
		{"src/night.ts -> a/b.ts\nsrc/main.ts -> a/b.ts", nil,
			"src/main.ts: src/night.ts would go to the same place; src/night.ts: src/main.ts would go to the same place"},
		{"src/night.ts -> src/main.ts/night.ts", nil,
			"src/night.ts: the file src/main.ts stands where its folder would be"},
		{"src/night.ts -> .git/night.ts", nil, "src/night.ts: .git/night.ts belongs to git, or to crooked itself"},
		{"src/night.ts -> sky/night.ts", held(carry.Untouched, "src/main.ts"),
			"src/night.ts: src/main.ts would have to be edited at line 1 and is left alone"},
		{"src/night.ts -> sky/night.ts", held(carry.Generated, "src/main.ts"),
			"src/night.ts: src/main.ts would have to be edited at line 1 and is left alone"},
		{"src/night.ts -> sky/night.ts", held(carry.Kept, "src/main.ts"), ""},
		{"src/night.ts -> sky/night.ts", func(r *carry.Request) {
			r.Judge = func(d *carry.Draft) []carry.Refusal {
				id, _ := r.Graph.Tree.Lookup("src/night.ts")
				return []carry.Refusal{{File: id, Reason: "at " + d.After.Tree.Path(d.NewID[id]) + " it is too dark"}}
			}
		}, "src/night.ts: at sky/night.ts it is too dark"},
		{"src/night.ts -> sky/night.ts", func(r *carry.Request) {
			r.Writes = map[string]carry.Written{"sky/index.ts": {Content: []byte("export * from './gone'\n")}}
		}, `sky/index.ts: its "./gone" would lead nowhere`},
	} {
		r := request(t, desk, row.moves)
		if row.change != nil {
			row.change(&r)
		}
		_, refused := carry.Work(r)
		var got []string
		for _, one := range refused {
			name := one.Written
			if one.File != project.None {
				name = r.Graph.Tree.Path(one.File)
			}
			got = append(got, name+": "+one.Reason)
		}
		assert.Equal(t, row.want, strings.Join(got, "; "), row.moves)
	}
}
