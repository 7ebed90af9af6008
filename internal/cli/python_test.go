package cli_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project/projecttest"
)

// bookings is the demo's service in a folder of its own.
func bookings(t *testing.T) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "service")
	require.NoError(t, os.CopyFS(dir, demo.Service()))
	return dir
}

// packages is a project from which a package goes whole, and one whose mark alone is left.
const packages = `-- crooked.yaml --
crooked: 1
shelves:
  core: { at: desk/core/, from: [desk/rates/**] }
  late: { at: desk/late/, from: [desk/slots/slot.py] }
-- desk/__init__.py --
-- desk/rates/__init__.py --
RATE = 1
-- desk/rates/rate.py --
from . import RATE
-- desk/slots/__init__.py --
# slots
-- desk/slots/slot.py --
from desk.rates.rate import RATE
-- desk/late/__init__.py --
-- app.py --
from desk import rates, slots
from desk.slots.slot import RATE
-- lonely.py --
import desk.slots.slot
`

func TestServiceMovesWithItsSettings(t *testing.T) {
	t.Parallel()
	dir := bookings(t)
	old := projecttest.Read(t, dir)
	first := run(t, dir, "check")
	assert.Equal(t, 1, first.code)
	for _, part := range []string{
		"misplaced 31", "bookings/ (17 files)   -> apps/bookings/",
		"telescopes/views.py:7:10  applications are apart, and it uses apps/bookings/",
	} {
		assert.Contains(t, first.out, part)
	}
	assert.Contains(t, run(t, dir, "check", "--all").out, "bookings/__init__.py",
		"it goes along with the folder that is taken whole")
	assert.NotContains(t, first.out, "manage.py", "files whose names mean something are not judged")

	done := run(t, dir, "straighten", "--yes")
	require.Equal(t, 0, done.code, done.err)
	assert.Contains(t, done.out, "Moved 31 files and rewrote 45 mentions in 19 files, and wrote 2 files.")
	files := projecttest.Read(t, dir)
	for file, parts := range map[string][]string{
		"hilltop/config/settings.py": {
			"BASE_DIR = Path(__file__).resolve().parent.parent.parent\n",
			"    \"apps.bookings.apps.BookingsConfig\",\n    \"apps.telescopes\",\n",
			"\"apps.bookings.middleware.Darkness\"",
			"BASE_DIR / \"web/templates\"", "\"builtins\": [\"apps.bookings.templatetags.night_sky\"]",
			"\"()\": \"apps.telescopes.logs.Quiet\"", "BASE_DIR / \"db.sqlite3\"",
		},
		"hilltop/urls.py": {"import apps.telescopes.views\n", "path(\"\", apps.telescopes.views.front",
			"include(\"apps.bookings.urls\")"},
		"manage.py": {"\"DJANGO_SETTINGS_MODULE\", \"hilltop.config.settings\""},
		"apps/bookings/apps.py": {"    name = \"apps.bookings\"\n",
			"        from apps.bookings import signals  # noqa: F401\n"},
		"apps/bookings/migrations/0001_initial.py": {"import apps.bookings.validators\n",
			"validators=[apps.bookings.validators.whole_slot]", "(\"telescopes\", \"0001_initial\")"},
		"apps/bookings/views.py": {"from . import models\n", "render(request, \"bookings/nights.html\""},
		"apps/bookings/tests.py": {"@mock.patch(\"apps.bookings.views.render\")"},
		"Procfile":               {"gunicorn hilltop.wsgi:application", "--settings hilltop.config.settings"},
		"Dockerfile": {"COPY web/templates ./web/templates\n",
			"ENV DJANGO_SETTINGS_MODULE=hilltop.config.settings\n"},
		"setup.cfg":        {"source = apps.bookings,apps.telescopes\n"},
		"apps/__init__.py": {""},
		"apps/bookings/templates/bookings/night.html": {"{% extends \"base.html\" %}"},
	} {
		require.Contains(t, files, file)
		for _, part := range parts {
			assert.Contains(t, files[file], part, file)
		}
	}
	second := run(t, dir, "check")
	assert.Contains(t, second.out, "26 of 44 files judged, 2 findings.")
	assert.NotContains(t, second.out, "misplaced")
	assert.Contains(t, run(t, dir, "plan").out, "Nothing to do")
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, old, projecttest.Read(t, dir))
}

// Step by step the same place is reached, and every step is taken back.
func TestServiceMovesStepByStep(t *testing.T) {
	t.Parallel()
	whole, steps := bookings(t), bookings(t)
	old := projecttest.Read(t, steps)
	require.Equal(t, 0, run(t, whole, "straighten", "--yes").code)
	done := run(t, steps, "straighten", "--steps", "--yes")
	require.Equal(t, 0, done.code, done.err)
	assert.Contains(t, done.out, "step 1 of 4, applications at apps/bookings/, applications at apps/telescopes/")
	leave := func(dir string) map[string]string {
		require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git")))
		files := projecttest.Read(t, dir)
		for p := range files {
			if len(p) > 9 && p[:9] == ".crooked/" {
				delete(files, p)
			}
		}
		return files
	}
	assert.Equal(t, leave(whole), leave(steps))
	require.Equal(t, 0, run(t, steps, "undo", "--all").code)
	assert.Equal(t, old, projecttest.Read(t, steps))
}

func TestPackageFilesAreMadeFollowAndGo(t *testing.T) {
	t.Parallel()
	dir := small(t, packages)
	said := run(t, dir, "plan")
	assert.Equal(t, 0, said.code, said.err)
	assert.NotContains(t, said.out, "\nwrites ", "each folder that is made gets its package's own file")

	var made plan.Plan
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "plan", "--format", "json").out), &made))
	moved := map[string]string{}
	for _, m := range made.Moves() {
		moved[m.From] = m.To
	}
	assert.Equal(t, map[string]string{"desk/rates/__init__.py": "desk/core/__init__.py",
		"desk/rates/rate.py": "desk/core/rate.py", "desk/slots/slot.py": "desk/late/slot.py"}, moved)
	require.Len(t, made.Removes, 0, "app.py still imports what is left of the package")

	require.NoError(t, os.WriteFile(filepath.Join(dir, "app.py"),
		[]byte("from desk import rates\nfrom desk.slots.slot import RATE\n"), 0o644))
	old := projecttest.Read(t, dir)
	assert.Contains(t, run(t, dir, "plan").out,
		"removes  what the convention discards, and marks of folders that nothing is left in\n  desk/slots/__init__.py\n")
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "plan", "--format", "json").out), &made))
	require.Len(t, made.Removes, 1)
	assert.Equal(t, "desk/slots/__init__.py", made.Removes[0].Path)

	stored := filepath.Join(t.TempDir(), "plan.json")
	require.Equal(t, 0, run(t, dir, "plan", "-o", stored).code)
	done := run(t, dir, "straighten", "--yes", "--plan", stored)
	require.Equal(t, 0, done.code, done.err)
	files := projecttest.Read(t, dir)
	assert.NotContains(t, files, "desk/slots/")
	assert.Contains(t, files["app.py"], "from desk import core as rates\nfrom desk.late.slot import RATE\n")
	assert.Contains(t, files["lonely.py"], "import desk.late.slot\n")
	assert.Contains(t, files["desk/late/slot.py"], "from desk.core.rate import RATE\n")
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, old, projecttest.Read(t, dir))

	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "desk/slots"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "desk/slots/__init__.py"), []byte("# mine\n"), 0o644))
	kept := run(t, dir, "undo")
	assert.Contains(t, kept.out+kept.err, "desk/slots/__init__.py was changed afterwards; it was left as it is")
	assert.Equal(t, "# mine\n", read(t, filepath.Join(dir, "desk/slots/__init__.py")))
}

func read(t *testing.T, file string) string {
	t.Helper()
	content, err := os.ReadFile(file)
	require.NoError(t, err)
	return string(content)
}

// A plan that removes what was changed since is refused.
func TestWhatIsRemovedMustBeAsItWas(t *testing.T) {
	t.Parallel()
	dir := small(t, packages)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "app.py"), nil, 0o644))
	stored := filepath.Join(t.TempDir(), "plan.json")
	require.Equal(t, 0, run(t, dir, "plan", "-o", stored).code)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "desk/slots/__init__.py"), []byte("SLOT = 30\n"), 0o644))
	refused := run(t, dir, "straighten", "--yes", "--plan", stored)
	assert.Equal(t, 3, refused.code)
	assert.Contains(t, refused.err, "desk/slots/__init__.py has changed")
	assert.FileExists(t, filepath.Join(dir, "desk/slots/slot.py"))
}

func TestFixedFilesAreToldOf(t *testing.T) {
	t.Parallel()
	dir := bookings(t)
	toured := run(t, dir, "survey").out
	assert.Contains(t, toured, "bound to their place\n  6 times __init__.py  makes its folder a package\n")
	assert.Contains(t, toured, "  manage.py  is the management script, run from where it stands\n")
	assert.Contains(t, toured, "  bookings/migrations/  is where the application bookings looks: each file of its "+
		"kind is remembered by the database under the label of its application\n")
	why := run(t, dir, "why", "bookings/__init__.py").out
	assert.Contains(t, why, "belongs on applications, as apps/bookings/__init__.py")
	assert.Contains(t, run(t, dir, "why", "manage.py").out,
		"manage.py  fixed\n  it is the management script, run from where it stands, so it is bound to its place")
	assert.Contains(t, why, "setup.cfg          5:10    bookings  likely\n")
	assert.Contains(t, run(t, dir, "why", "hilltop/settings.py").out,
		"belongs on settings, as hilltop/config/settings.py")

	named := small(t, "-- crooked.yaml --\ncrooked: 1\n"+
		"shelves: { tools: { at: tools/, takes: [{ name: manage.py }] } }\n-- manage.py --\n-- setup.py --\n")
	assert.Equal(t, "manage.py:1:1: misplaced: it belongs on tools, as tools/manage.py\n",
		run(t, named, "check", "--format", "lines").out)
}

func TestStoredNamesNeedLeave(t *testing.T) {
	t.Parallel()
	dir := small(t, "-- crooked.yaml --\ncrooked: 1\nstored: [apps/<app>/migrations/**]\n"+
		"shelves: { nights: { at: apps/nights/, from: [bookings/**] } }\n-- bookings/migrations/0001.py --\n"+
		"-- bookings/models.py --\n")
	refused := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 1, refused.code)
	assert.Contains(t, run(t, dir, "plan").out, "what is stored elsewhere remembers it by nights/migrations/0001.py "+
		"(line 2 of the convention); --allow-stored lets it")
	assert.Equal(t, 0, run(t, dir, "straighten", "--yes", "--allow-stored").code)
	assert.FileExists(t, filepath.Join(dir, "apps/nights/migrations/0001.py"))
}

func TestDanglingTellsWhatWasTried(t *testing.T) {
	t.Parallel()
	dir := small(t, `-- crooked.yaml --
crooked: 1
shelves: { desk: { at: desk/, uses: [] } }
-- .gitignore --
desk/made.py
-- desk/__init__.py --
-- desk/a.py --
from . import gone
from .absent import x
from .made import y
import desk.nothing
import helper
-- desk/b.py --
import sys
sys.path.insert(0, "extra")
import helper
-- extra/helper.py --
`)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "desk/made.py"), nil, 0o644))
	out := run(t, dir, "check", "--format", "lines").out
	assert.Equal(t,
		`desk/a.py:2:6: dangling: from ".absent" leads nowhere; looked for desk/absent.py, desk/absent/__init__.py
desk/a.py:4:8: dangling: module import "desk.nothing" leads nowhere; looked for desk/nothing.py, desk/nothing/__init__.py
desk/b.py:3:8: dangling: module import "helper" leads nowhere; looked for helper.py, helper/__init__.py
`, out)
}

// Starters fit the language of a project, or say that they do not; a draft finds folders that are laid out alike.
func TestStartersAndDraftsForPython(t *testing.T) {
	t.Parallel()
	flat := small(t, "-- pyproject.toml --\n[project]\nname = \"hilltop\"\n-- hilltop/__init__.py --\n"+
		"-- hilltop/nights.py --\n-- hilltop/stars/__init__.py --\n-- test/test_nights.py --\nimport hilltop.nights\n")
	refused := run(t, flat, "adopt", "layered")
	assert.Equal(t, 2, refused.code)
	assert.Contains(t, refused.err, "the starter layered is for JavaScript and TypeScript, and 3 of the 3 source "+
		"files here are Python; those for that are python-package, python-application")
	adopted := run(t, flat, "adopt", "python-package")
	require.Equal(t, 0, adopted.code, adopted.err)
	assert.Contains(t, adopted.out, "package  hilltop")
	require.Equal(t, 0, run(t, flat, "straighten", "--yes", "--dirty").code)
	assert.FileExists(t, filepath.Join(flat, "src/hilltop/stars/__init__.py"))
	assert.FileExists(t, filepath.Join(flat, "tests/test_nights.py"))

	layers := small(t, "-- app/main.py --\n-- app/routers/nights.py --\nfrom app.crud import nights\n"+
		"-- app/crud/nights.py --\n-- app/utils/dates.py --\n")
	require.Equal(t, 0, run(t, layers, "adopt", "python-application").code)
	require.Equal(t, 0, run(t, layers, "straighten", "--yes", "--dirty").code)
	text, err := os.ReadFile(filepath.Join(layers, "app/front/nights.py"))
	require.NoError(t, err)
	assert.Equal(t, "from app.data import nights\n", string(text))

	scripts := small(t, "-- src/a.ts --\n-- src/b.ts --\n-- src/c.ts --\n")
	assert.Contains(t, run(t, scripts, "adopt", "python-package").err,
		"the starter python-package is for Python, and 3 of the 3 source files here are JavaScript and TypeScript")

	service, err := filepath.Abs("../../demo/service")
	require.NoError(t, err)
	draft := run(t, service, "survey", "--draft").out
	assert.Contains(t, draft, "where: { part: { only: [bookings, telescopes] } }\n")
	assert.Contains(t, draft,
		"  # 2 folders that are laid out alike: they share apps.py, models.py, tests.py\n  parts:\n    at: <part>/\n")
}
