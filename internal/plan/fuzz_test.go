package plan

import (
	"testing"

	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

// FuzzRead: a stored plan is refused or read, never believed; laid over a tree it changes nothing outside of it.
func FuzzRead(f *testing.F) {
	for _, seed := range []string{
		`{"plan":1,"steps":[{"title":"x","moves":[{"from":"a.ts","to":"b.ts","sha256":""}]}],"edits":[{"path":"a.ts","changes":[{"span":{"start":0,"end":1},"new":"x"}]}],"writes":[{"path":"c.ts","content":"x"}]}`,
		`{"plan":1,"edits":[{"path":"a.ts","changes":[{"span":{"start":-1,"end":99},"new":""}]}]}`, `{"plan":2}`,
		`{"plan":1,"steps":[{"moves":[{"from":"../x","to":"y"}]}]}`, `[]`, ``,
	} {
		f.Add([]byte(seed))
	}
	tree := projecttest.Load(f, "-- a.ts --\nexport {}\n-- in/b.ts --\n")
	f.Fuzz(func(t *testing.T, text []byte) {
		p, err := Read(text)
		if err != nil {
			return
		}
		for _, m := range p.Moves() {
			if !project.CleanPath(m.From) || !project.CleanPath(m.To) {
				t.Fatal("a path that leaves the root was read")
			}
		}
		out, changed := p.Apply(tree)
		if len(changed) > 0 && out != nil {
			t.Fatal("a plan that does not fit has an outcome")
		}
	})
}
