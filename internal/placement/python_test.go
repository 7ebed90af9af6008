package placement_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Files of Python are placed by what they declare and by who needs them, behind packages that hand on what they import.
func TestPlacePythonByContent(t *testing.T) {
	t.Parallel()
	const convention = `crooked: 1
pools: { parts: [desk/parts/**] }
shelves:
  views: { at: desk/views/, takes: [{ declares: { function: <any>_view } }, { marked: "*.route" }] }
  tables: { at: desk/tables/, takes: [{ extends: "*.Model" }] }
  nights: { at: desk/nights/, uses: [parts], inside: { own: { at: own/, takes: [{ pool: parts, needed_by: one of nights }] } } }
  domes: { at: desk/domes/, uses: [parts, nights] }
  parts: { at: desk/shared/, takes: [{ pool: parts }] }
`
	homes, told := place(t, convention, `
-- desk/__init__.py --
-- desk/a.py --
def night_view(request): pass
-- desk/b.py --
@app.route("/x")
def show(): pass
-- desk/c.py --
class Night(models.Model): pass
-- desk/nights/__init__.py --
-- desk/nights/main.py --
from desk.parts import moon
from desk.parts.star import Star
from desk.domes import roof
-- desk/domes/__init__.py --
-- desk/domes/roof.py --
from desk.parts.star import Star
import desk.nights.main
-- desk/parts/__init__.py --
from .moon import moon
from .unused import nothing
-- desk/parts/moon.py --
def moon(): pass
-- desk/parts/star.py --
class Star: pass
-- desk/parts/unused.py --
nothing = 1
`)
	assert.Equal(t, map[string]string{
		"desk/a.py": "desk/views/a.py", "desk/b.py": "desk/views/b.py", "desk/c.py": "desk/tables/c.py",
		"desk/parts/moon.py": "desk/nights/own/moon.py", "desk/parts/star.py": "desk/shared/star.py",
		"desk/parts/unused.py": "desk/shared/unused.py",
	}, homes)
	assert.Len(t, told, 2)
	assert.Contains(t, told,
		"overreach desk/nights/main.py:3:24 nights may not use domes, and it uses desk/domes/roof.py")
}
