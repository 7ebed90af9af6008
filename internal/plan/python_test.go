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

// Each row is a tree below a convention; want is the content of files afterwards, by their new path.
func TestPythonRewrites(t *testing.T) {
	cases := []struct {
		name, tree string
		want       map[string]string
	}{
		{"a name of a module that moves", "-- booking/app.py --\nfrom booking.models import Night, Night as N\n" +
			"from .models import (\n    Night,  # why\n)\nfrom . models import Night\n",
			map[string]string{"booking/app.py": "from booking.core.models import Night, Night as N\n" +
				"from .core.models import (\n    Night,  # why\n)\nfrom .core.models import Night\n"}},
		{"data of a file's own package", "-- booking/night.py --\nfrom importlib.resources import files\n" +
			"x = files(__package__).joinpath('forms'), files(__package__) / \"forms/a.json\", " +
			"resource_filename(__name__, 'forms/a.json')\n-- booking/forms/a.json --\n-- booking/app.py --\n" +
			"files(__package__) / 'forms'\n",
			map[string]string{"booking/core/night.py": "from importlib.resources import files\n" +
				"x = files(__package__).joinpath('../forms'), files(__package__) / \"../forms/a.json\", " +
				"resource_filename(__name__, '../forms/a.json')\n",
				"booking/app.py": "files(__package__) / 'forms'\n"}},
		{"a package file is made", "-- booking/app.py --\n", map[string]string{"booking/core/__init__.py": ""}},
		{"two imports of one name in two scopes", "-- booking/app.py --\nfrom booking.models import Night\n\n" +
			"def f():\n    import json.decoder\n    return json.decoder\n\ndef g():\n    from . import json\n" +
			"    return json\n-- booking/json.py --\n",
			map[string]string{"booking/app.py": "from booking.core.models import Night\n\ndef f():\n" +
				"    import json.decoder\n    return json.decoder\n\ndef g():\n    from . import json\n" +
				"    return json\n"}},
		{"a name by an alias and by the package around it", "-- booking/app.py --\nimport booking.rates\n" +
			"import booking.models as booking_models\ndef f():\n    import booking.models as booking\n" +
			"    return booking.Night, booking_models.Night\nx = booking.rates\n",
			map[string]string{"booking/app.py": "import booking.core.rates\n" +
				"import booking.core.models as booking_models\ndef f():\n    import booking.core.models as booking\n" +
				"    return booking.Night, booking_models.Night\nx = booking.core.rates\n"}},
		{"a module that leaves its package", "-- booking/app.py --\nfrom booking import models\n" +
			"from . import rates as r, other\nfrom booking import models, other  # noqa: F401\n-- booking/other.py --\n",
			map[string]string{"booking/app.py": "from booking.core import models\nfrom . import other\n" +
				"from .core import rates as r\nfrom booking import other  # noqa: F401\n" +
				"from booking.core import models  # noqa: F401\n"}},
		{"names that part, one a line", "-- booking/app.py --\nfrom booking import (\n    models,  # the nights\n" +
			"    other,\n    rates,\n)\nif 1: from . import rates, other; x = 1\n-- booking/other.py --\n",
			map[string]string{"booking/app.py": "from booking import (\n    other,\n)\n" +
				"from booking.core import models, rates\nif 1: from . import other; from .core import rates; x = 1\n"}},
		{"uses follow", "-- booking/app.py --\nimport booking.models\nimport booking.models as m, booking.rates\n\n" +
			"def f(x=booking.models.Night):\n" +
			"    return booking . models.Night, m.Night, f'{booking.rates.RATE!r} {booking.models}'\n",
			map[string]string{"booking/app.py": "import booking.core.models\n" +
				"import booking.core.models as m, booking.core.rates\n\ndef f(x=booking.core.models.Night):\n" +
				"    return booking.core.models.Night, m.Night, f'{booking.core.rates.RATE!r} {booking.core.models}'\n"}},
		{"uses in parentheses follow", "-- booking/app.py --\nimport booking.models\n" +
			"x = (booking).models.Night, (booking.models).Night, ((booking) . models)\n",
			map[string]string{"booking/app.py": "import booking.core.models\n" +
				"x = booking.core.models.Night, (booking.core.models).Night, (booking.core.models)\n"}},
		{"what only bears the name does not", "-- booking/app.py --\nimport booking.models\n\ndef f(booking):\n" +
			"    return booking.models\n\nclass A:\n    booking = 1\n    x = [booking.models for booking in y]\n" +
			"    z = x.booking.models\n" +
			"    def g(self): return booking.models, (lambda booking: booking.models), h(booking=booking.models)\n",
			map[string]string{"booking/app.py": "import booking.core.models\n\ndef f(booking):\n" +
				"    return booking.models\n\nclass A:\n    booking = 1\n    x = [booking.models for booking in y]\n" +
				"    z = x.booking.models\n" +
				"    def g(self): return booking.core.models, (lambda booking: booking.models), " +
				"h(booking=booking.core.models)\n"}},
		{"a package's module by the package's name", "-- tests/a.py --\nimport booking\nimport booking as b\n" +
			"from booking import other\n\nprint(booking.models.Night, b.models, booking.other, b.VERSION)\n" +
			"-- booking/other.py --\n",
			map[string]string{"tests/a.py": "import booking\nimport booking as b\nfrom booking import other\n\n" +
				"print(booking.core.models.Night, b.core.models, booking.other, b.VERSION)\n"}},
		{"a module of the root", "-- tests/a.py --\nimport lone\nimport lone as l, os\nimport lone, os\n" +
			"from lone import x\n\nlone.x\n-- lone.py --\nx = 1\n",
			map[string]string{"tests/a.py": "from booking.core import lone\nimport booking.core.lone as l, os\n" +
				"import booking.core.lone as lone, os\nfrom booking.core.lone import x\n\nlone.x\n"}},
		{"the moved file's own imports", "-- booking/night.py --\nfrom . import other, rates\nfrom .other import x\n" +
			"from .rates import RATE\nimport booking.other\n-- booking/other.py --\nx = 1\n",
			map[string]string{"booking/core/night.py": "from . import rates\nfrom .. import other\n" +
				"from ..other import x\nfrom .rates import RATE\nimport booking.other\n"}},
		{"a package that moves whole",
			"-- booking/data/__init__.py --\nfrom .a import A\nfrom ..models import Night\n" +
				"-- booking/data/a.py --\nA = 1\n-- booking/data/py.typed --\n-- booking/data/b/__init__.py --\n" +
				"-- booking/data/b/c.py --\nfrom ..a import A\nfrom ...other import x\n-- booking/other.py --\nx = 1\n" +
				"-- booking/app.py --\nfrom .data import A\nfrom .data.b import c\n",
			map[string]string{"booking/store/__init__.py": "from .a import A\nfrom ..core.models import Night\n",
				"booking/store/b/__init__.py": "", "booking/store/py.typed": "",
				"booking/store/b/c.py": "from ..a import A\nfrom ...other import x\n",
				"booking/app.py":       "from .store import A\nfrom .store.b import c\n"}},
		{"a package that is emptied", "-- booking/plain/__init__.py --\n# nothing\n-- booking/plain/slots.py --\n" +
			"-- booking/slots/__init__.py --\n", map[string]string{"booking/slots/slots.py": ""}},
		{"what a package holds hides its module", "-- booking/__init__.py --\nfrom .models import models\n" +
			"__all__ = ['models']\n-- booking/models.py --\nmodels = 1\n-- booking/app.py --\n" +
			"from booking import models\n",
			map[string]string{"booking/__init__.py": "from .core.models import models\n__all__ = ['models']\n",
				"booking/app.py": "from booking import models\n"}},
		{"what a package exports",
			"-- booking/__init__.py --\nimport os\n__all__ = [\"models\", 'other', 'os']\n-- booking/other.py --\n",
			map[string]string{"booking/__init__.py": "import os\nfrom .core import models\n" +
				"__all__ = [\"models\", 'other', 'os']\n"}},
		{"modules by calls and strings", "-- booking/app.py --\n" +
			"importlib.import_module('booking.models'); __import__(\"booking.rates\")\n" +
			"@mock.patch('booking.models.Night')\ndef t(m): patch(u'booking.models.Night.x')\n-- settings.py --\n" +
			"URLS = 'booking.rates'\n" +
			"LIST = ['booking.models.Night', 'booking.models.Nothing', 'booking', 'other.thing', 'booking.app:run']\n" +
			"-- manage.py --\nos.environ.setdefault('BOOKING_SETTINGS_MODULE', 'booking.rates')\n",
			map[string]string{"booking/app.py": "importlib.import_module('booking.core.models'); " +
				"__import__(\"booking.core.rates\")\n@mock.patch('booking.core.models.Night')\n" +
				"def t(m): patch(u'booking.core.models.Night.x')\n", "settings.py": "URLS = 'booking.core.rates'\n" +
				"LIST = ['booking.core.models.Night', 'booking.models.Nothing', 'booking', 'other.thing', " +
				"'booking.app:run']\n",
				"manage.py": "os.environ.setdefault('BOOKING_SETTINGS_MODULE', 'booking.core.rates')\n"}},
		{"stars", "-- booking/app.py --\nfrom .models import *\nfrom booking.rates import*\n",
			map[string]string{"booking/app.py": "from .core.models import *\nfrom booking.core.rates import*\n"}},
		{"no blank where none is needed", "-- booking/app.py --\nfrom.models import Night\nfrom .import models\n",
			map[string]string{"booking/app.py": "from.core.models import Night\nfrom .core import models\n"}},
		{"own folders", "-- booking/night.py --\nBASE = Path(__file__).resolve().parent.parent\n" +
			"HERE = os.path.dirname(os.path.abspath(__file__))\nUP = os.path.dirname(HERE)\n" +
			"open(BASE / 'data' / 'a.csv'); open(os.path.join(HERE, 'b.csv')); open(os.path.join(UP, 'data', " +
			"\"a.csv\"))\nx = Path(__file__).parents[1] / 'data/a.csv', BASE.joinpath('data')\n-- booking/b.csv --\n" +
			"-- data/a.csv --\n",
			map[string]string{"booking/core/night.py": "BASE = Path(__file__).resolve().parent.parent.parent\n" +
				"HERE = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))\nUP = os.path.dirname(HERE)\n" +
				"open(BASE / 'data' / 'a.csv'); open(os.path.join(HERE, 'b.csv')); open(os.path.join(UP, 'data', " +
				"\"a.csv\"))\nx = Path(__file__).parents[2] / 'data/a.csv', BASE.joinpath('data')\n"}},
		{"paths to what moves", "-- booking/app.py --\nHERE = Path(__file__).parent\n" +
			"open(HERE / 'data' / 'a.csv'); open(os.path.join(os.path.dirname(__file__), 'data', 'a.csv')); open(HERE " +
			"/ 'data/a.csv')\n-- booking/data/a.csv --\n-- booking/data/b.py --\n",
			map[string]string{"booking/app.py": "HERE = Path(__file__).parent\n" +
				"open(HERE / 'store' / 'a.csv'); open(os.path.join(os.path.dirname(__file__), 'store', 'a.csv')); " +
				"open(HERE / 'store/a.csv')\n"}},
		{"Windows line ends", "-- booking/app.py --\nfrom . import rates, other\r\nx = 1\r\n-- booking/other.py --\n",
			map[string]string{"booking/app.py": "from . import other\r\nfrom .core import rates\r\nx = 1\r\n"}},
		{"documents and comments", "-- booking/app.py --\nclass A:\n" +
			"    \"\"\"Shows :class:`~booking.models.Night` and :mod:`the rates <booking.rates>`, not " +
			"booking.models.Night.\n\n    >>> from booking.models import Night\n    \"\"\"\n" +
			"    x = None  # type: Dict[str, booking.models.Night]\n    y: \"booking.models.Night\" = 1\n",
			map[string]string{"booking/app.py": "class A:\n    \"\"\"Shows :class:`~booking.core.models.Night` and " +
				":mod:`the rates <booking.core.rates>`, not booking.models.Night.\n\n" +
				"    >>> from booking.core.models import Night\n    \"\"\"\n" +
				"    x = None  # type: Dict[str, booking.core.models.Night]\n    y: \"booking.core.models.Night\" = 1\n"}},
		{"templates", "-- booking/app.py --\nrender(request, 'night.html'); render(request, \"nights/list.html\")\n" +
			"-- booking/data/templates/night.html --\n{% extends \"base.html\" %}{% include 'nights/list.html' %}\n" +
			"-- booking/data/templates/base.html --\n-- booking/data/templates/nights/list.html --\n",
			map[string]string{"booking/app.py": "render(request, 'night.html'); render(request, \"nights/list.html\")\n", "booking/store/templates/night.html": "{% extends \"base.html\" %}{% include 'nights/list.html' %}\n"}},
		{"lines that go on", "-- tox.ini --\n[testenv]\ncommands =\n    python -m booking.models\n" +
			"    pytest booking/data\nother = x\n-- setup.cfg --\n[options]\npackages =\n    booking\n" +
			"    booking.data\n[coverage:run]\nsource =\n    booking.data,\n-- booking/data/a.py --\n" +
			"-- booking/data/__init__.py --\n",
			map[string]string{"tox.ini": "[testenv]\ncommands =\n    python -m booking.core.models\n" +
				"    pytest booking/store\nother = x\n", "setup.cfg": "[options]\npackages =\n    booking\n" +
				"    booking.store\n[coverage:run]\nsource =\n    booking.store,\n"}},
		{"data of packages", "-- pyproject.toml --\n[tool.setuptools.package-data]\n" +
			"booking = [\"data/*.csv\", \"py.typed\"]\n\"booking.data\" = [\"*.csv\"]\n-- setup.cfg --\n" +
			"[options.package_data]\nbooking = data/*.csv, py.typed\n-- booking/data/__init__.py --\n" +
			"-- booking/data/a.csv --\n-- booking/py.typed --\n-- booking/app.py --\n" +
			"files('booking') / 'data' / 'a.csv'; resources.files(\"booking.data\").joinpath('a.csv'); " +
			"resource_filename('booking', 'data/a.csv'); PackageLoader(\"booking.data\", x)\n",
			map[string]string{"pyproject.toml": "[tool.setuptools.package-data]\n" +
				"booking = [\"store/*.csv\", \"py.typed\"]\n\"booking.store\" = [\"*.csv\"]\n",
				"setup.cfg": "[options.package_data]\nbooking = store/*.csv, py.typed\n",
				"booking/app.py": "files('booking') / 'store' / 'a.csv'; " +
					"resources.files(\"booking.store\").joinpath('a.csv'); resource_filename('booking', " +
					"'store/a.csv'); PackageLoader(\"booking.store\", x)\n"}},
		{"what a setup.py lists", "-- setup.py --\nsetup(packages=['booking', 'booking.data'], " +
			"package_data={'booking': ['data/*.csv', \"py.typed\"], # all of it\n" +
			"  'booking.data': ('*.csv',), '': ['*.txt'], x: y},\n" +
			"  entry_points={'console_scripts': ['observe = booking.models:Night', 'rates=booking.rates:RATE [x]']}, " +
			"more='''[a]\n  b = booking.models:Night\n''')\n-- booking/data/__init__.py --\n-- booking/data/a.csv --\n" +
			"-- booking/py.typed --\n",
			map[string]string{"setup.py": "setup(packages=['booking', 'booking.store'], package_data={'booking': " +
				"['store/*.csv', \"py.typed\"], # all of it\n  'booking.store': ('*.csv',), '': ['*.txt'], x: y},\n" +
				"  entry_points={'console_scripts': ['observe = booking.core.models:Night', " +
				"'rates=booking.core.rates:RATE [x]']}, more='''[a]\n  b = booking.core.models:Night\n''')\n"}},
		{"settings name modules", "-- pyproject.toml --\n[project.scripts]\nobserve = \"booking.models:Night\"\n" +
			"[tool.x]\napp = 'booking.rates'\n-- Procfile --\nweb: gunicorn booking.models:app --reload\n" +
			"run: python -m booking.rates booking/rates.py\n-- setup.cfg --\n[options.entry_points]\n" +
			"console_scripts =\n    observe = booking.models:Night\n-- Dockerfile --\n" +
			"CMD [\"python\", \"-m\", \"booking.models\"]\n-- ci.yml --\nrun: python -m booking.rates\n" +
			"env: { SETTINGS: booking.models }\n-- tox.ini --\n[testenv]\ncommands = python -m booking.models\n" +
			"-- Makefile --\nrun:\n\tflask --app booking.models:Night run\n",
			map[string]string{"pyproject.toml": "[project.scripts]\nobserve = \"booking.core.models:Night\"\n" +
				"[tool.x]\napp = 'booking.core.rates'\n", "Procfile": "web: gunicorn booking.core.models:app " +
				"--reload\nrun: python -m booking.core.rates booking/core/rates.py\n",
				"setup.cfg":  "[options.entry_points]\nconsole_scripts =\n    observe = booking.core.models:Night\n",
				"Dockerfile": "CMD [\"python\", \"-m\", \"booking.core.models\"]\n",
				"ci.yml":     "run: python -m booking.core.rates\nenv: { SETTINGS: booking.core.models }\n",
				"tox.ini":    "[testenv]\ncommands = python -m booking.core.models\n",
				"Makefile":   "run:\n\tflask --app booking.core.models:Night run\n"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			text := service + c.tree
			made, g := build(t, text)
			assert.Empty(t, made.Blocked)
			assert.Empty(t, likely(made))
			files := after(t, text, made, g)
			for p, want := range c.want {
				assert.Contains(t, files, p)
				assert.Equal(t, want, files[p], p)
			}
			second, _ := build(t, archive(files))
			assert.True(t, second.Empty(), "after a straighten nothing is left to do")
		})
	}
}

func TestPythonStatedNames(t *testing.T) {
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
	made, _ := build(t, service+"-- booking/night.py --\nprint 'x'\n")
	assert.Len(t, made.Blocked, 1)
	assert.Equal(t, "it can't be read: it is Python 2, which is not read (print is a statement)",
		made.Blocked[0].Reason)
}

// A stub and its module are one thing to whoever imports it.
func TestPythonStubsGoWithTheirModules(t *testing.T) {
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
