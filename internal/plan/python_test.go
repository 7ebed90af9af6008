package plan_test

import (
	"slices"
	"strings"
	"testing"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// service moves the modules of a service as services' projects do.
const service = `
-- crooked.yaml --
crooked: 1
leave: { stay: [settings.py, booking/app.py, booking/other.py, tests/*] }
shelves:
  core: { at: booking/core/, from: [booking/models.py, booking/rates.py, booking/night.py, lone.py] }
  store: { at: booking/store/, from: ["booking/data/**"] }
  slots: { at: booking/slots/, from: [booking/plain/slots.py] }
-- booking/__init__.py --
-- booking/models.py --
class Night: pass
-- booking/rates.py --
RATE = 1
`

func TestPythonPackagesHaveDoors(t *testing.T) {
	t.Parallel()
	const tree = `
-- crooked.yaml --
crooked: 1
shelves:
  parts:
    at: desk/<part>/
    from: [desk/<part>_*.py]
    must: [{ file: __init__.py, write: reexports }]
    door: __init__.py
-- desk/__init__.py --
-- desk/nights_models.py --
class Night: pass
def _own(): pass
LIMIT = 3
-- desk/nights_rates.py --
from .nights_models import Night, LIMIT
def rate(): pass
-- app.py --
from desk.nights_models import Night, LIMIT
from desk.nights_rates import rate
from desk import nights_models
`
	made, g := build(t, tree)
	assert.Empty(t, made.Blocked)
	files := after(t, tree, made, g)
	assert.Equal(t, "from .nights_models import Night, LIMIT\nfrom .nights_rates import rate\n",
		files["desk/nights/__init__.py"])
	assert.Equal(t, "from .nights_models import Night, LIMIT\ndef rate(): pass\n", files["desk/nights/nights_rates.py"])
	assert.Equal(t,
		"from desk.nights import Night, LIMIT\nfrom desk.nights import rate\nfrom desk.nights import nights_models\n",
		files["app.py"])
	second, _ := build(t, archive(files))
	assert.True(t, second.Empty())
}

const circular = service + `
-- booking/core/__init__.py --
from booking.other import x
-- booking/other.py --
x = 1
from booking.models import Night
-- booking/night.py --
def late(): from booking.other import x
`

func TestPythonCirclesAreTold(t *testing.T) {
	t.Parallel()
	made, _ := build(t, circular)
	assert.Empty(t, made.Blocked)
	var told []string
	for _, r := range made.Remarks {
		told = append(told, r.Path+": "+r.Text)
	}
	assert.Equal(t, []string{"booking/core/__init__.py: after the moves these load one another in a circle, and did " +
		"not before: booking/core/__init__.py, booking/other.py"}, sorted(told))
}

// A package file goes where its folder goes, and stays where what it was to follow is blocked.
func TestAPackageFileStaysWithWhatIsBlocked(t *testing.T) {
	t.Parallel()
	const head = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [desk/app.py] }\nshelves:\n" +
		"  parts: { at: desk/parts/<part>/, takes: [{ name: <part>.py }] }\n-- desk/__init__.py --\n"
	made, _ := build(t,
		head+"-- desk/mail/__init__.py --\n-- desk/mail/message.py --\n-- desk/app.py --\nimport desk.mail.message\n")
	assert.Empty(t, made.Blocked)
	assert.Len(t, made.Moves(), 2)
	made, _ = build(t, head+"-- desk/mail/__init__.py --\n-- desk/mail/message.py --\n-- desk/message.py --\n"+
		"-- desk/app.py --\nimport desk.mail.message\n")
	assert.Len(t, made.Blocked, 2)
	assert.Empty(t, made.Moves())
	assert.Empty(t, made.Edits)
}

// A language that says nothing of what runs with its files takes nothing away from what another says.
func TestEveryLanguageIsAskedWhatRuns(t *testing.T) {
	t.Parallel()
	silent := func(in *plan.Input) {
		languages := in.Graph.Languages
		for i := range languages.Families {
			rules := languages.Families[i].Rules
			if rules == nil {
				continue
			}
			languages.Families[i].Rules = func(tree *lang.Tree) lang.Rules {
				out := rules(tree)
				if out.Loads == nil {
					out.Loads = func(_ lang.Target, files []project.FileID) []project.FileID { return files }
				}
				return out
			}
		}
		in.Graph = graph.Build(in.Graph.Tree, languages, in.Graph.Declared)
	}
	made, _ := build(t, circular)
	also, _ := build(t, circular, silent)
	require.Len(t, made.Remarks, 1)
	assert.Equal(t, made.Remarks, also.Remarks)
}

// A module that leaves a package with which it is in a circle may be loaded first now.
func TestAnotherWayIntoACircle(t *testing.T) {
	t.Parallel()
	tree := service + `
-- booking/plain/__init__.py --
from .slots import Slot
-- booking/plain/base.py --
x = 1
-- booking/plain/slots.py --
from .base import x
class Slot: pass
`
	made, _ := build(t, tree)
	assert.Empty(t, made.Blocked)
	require.Len(t, made.Remarks, 1)
	assert.Equal(t, "booking/plain/slots.py: after the moves it may be loaded before booking/plain/__init__.py, and "+
		"they load one another in a circle", made.Remarks[0].Path+": "+made.Remarks[0].Text)

	made, _ = build(t, strings.Replace(tree, "from .base import x\n", "", 1)) // no circle
	assert.Empty(t, made.Remarks)
}

func sorted(texts []string) []string { slices.Sort(texts); return texts }

func TestPythonStatedNames(t *testing.T) {
	t.Parallel()
	const tree = `
-- crooked.yaml --
crooked: 1
mentions:
  - { call: [render, get_template], like: <page>, file: { now: templates/<page>, then: web/pages/<page> } }
  - { call: [extends, include], like: <page>, file: { now: templates/<page>, then: web/pages/<page> } }
  - { call: static, like: <look>, file: { now: static/<look>, then: web/looks/<look> } }
shelves:
  nights: { at: web/pages/nights/, from: [templates/night.html] }
  pages: { at: web/pages/, from: [templates/**] }
  looks: { at: web/looks/css/, from: [static/*.css] }
-- views.py --
def show(request):
    return render(request, 'base.html') or shortcuts.render("night.html", x) or get_template(name)
-- templates/base.html --
{% load static %}<link href="{% static 'desk.css' %}">{% include "night.html" %}
-- templates/night.html --
{% extends 'base.html' %}
-- static/desk.css --
`
	made, g := build(t, tree)
	assert.Empty(t, made.Blocked)
	files := after(t, tree, made, g)
	assert.Equal(t, "def show(request):\n"+
		"    return render(request, 'base.html') or shortcuts.render(\"nights/night.html\", x) or get_template(name)\n",
		files["views.py"])
	assert.Equal(t, "{% load static %}<link href=\"{% static 'css/desk.css' %}\">{% include \"nights/night.html\" %}\n",
		files["web/pages/base.html"])
	assert.Equal(t, "{% extends 'base.html' %}\n", files["web/pages/nights/night.html"])
}

func TestPython2StaysWhereItIs(t *testing.T) {
	t.Parallel()
	made, _ := build(t, service+"-- booking/night.py --\nprint 'x'\n")
	assert.Len(t, made.Blocked, 1)
	assert.Equal(t, "it can't be read: it is Python 2, which is not read (print is a statement)",
		made.Blocked[0].Reason)
}

// A stub and its module are one thing to whoever imports it.
func TestPythonStubsGoWithTheirModules(t *testing.T) {
	t.Parallel()
	made, _ := build(t, service+"-- booking/models.pyi --\n-- booking/app.py --\nfrom booking.models import Night\n")
	assert.Empty(t, made.Blocked)
	to := map[string]string{}
	for _, m := range made.Moves() {
		to[m.From] = m.To
	}
	assert.Equal(t, "booking/core/models.pyi", to["booking/models.pyi"])
	made, _ = build(t, service+"-- booking/models.pyi --\n-- booking/core/models.pyi --\n")
	assert.Len(t, made.Blocked, 2)
	assert.Equal(t, "booking/models.pyi goes with it and is blocked", made.Blocked[0].Reason)
}
