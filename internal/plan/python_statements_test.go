package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Each row is what an application has at first and afterwards: how statements are written when what they name moves or
// parts.
func TestPythonStatements(t *testing.T) {
	const rest = "-- booking/other.py --\nx = 1\n-- booking/night.py --\n-- booking/deep/__init__.py --\n" +
		"-- booking/deep/er.py --\n"
	for _, row := range []struct{ name, before, after string }{
		{"one name leaves", "from booking import models, other\n",
			"from booking import other\nfrom booking.core import models\n"},
		{"the first of three", "from booking import models, other, deep\n",
			"from booking import other, deep\nfrom booking.core import models\n"},
		{"the one in the middle", "from booking import other, models, deep\n",
			"from booking import other, deep\nfrom booking.core import models\n"},
		{"the last", "from booking import other, deep, models\n",
			"from booking import other, deep\nfrom booking.core import models\n"},
		{"two of three", "from booking import models, other, rates\n",
			"from booking import other\nfrom booking.core import models, rates\n"},
		{"all of them", "from booking import models, rates, night\n",
			"from booking.core import models, rates, night\n"},
		{"all, in parentheses", "from booking import (models,\n                     rates)\n",
			"from booking.core import (models,\n                     rates)\n"},
		{"with other names", "from booking import models as m, other as o\n",
			"from booking import other as o\nfrom booking.core import models as m\n"},
		{"one a line", "from booking import (\n    models,\n    other,\n)\n",
			"from booking import (\n    other,\n)\nfrom booking.core import models\n"},
		{"one a line, without a last comma", "from booking import (\n    other,\n    models\n)\n",
			"from booking import (\n    other,\n)\nfrom booking.core import models\n"},
		{"with comments",
			"from booking import (  # ours\n    # the nights\n    models,  # and more\n    other,  # the rest\n)\n",
			"from booking import (  # ours\n    # the nights\n    other,  # the rest\n)\n" +
				"from booking.core import models\n"},
		{"over joined lines", "from booking import models, \\\n    other\n",
			"from booking import other\nfrom booking.core import models\n"},
		{"in a function", "def f():\n    from booking import models, other\n    return models, other\n",
			"def f():\n    from booking import other\n    from booking.core import models\n    return models, other\n"},
		{"with tabs", "if x:\n\tfrom . import models, other\n",
			"if x:\n\tfrom . import other\n\tfrom .core import models\n"},
		{"behind another statement", "x = 1; from . import models, other; y = 2\n",
			"x = 1; from . import other; from .core import models; y = 2\n"},
		{"with a remark to a tool", "from . import models, other  # type: ignore\n",
			"from . import other  # type: ignore\nfrom .core import models  # type: ignore\n"},
		{"with any other remark", "from . import models, other  # both\n",
			"from . import other\nfrom .core import models  # both\n"},
		{"many names", "from booking import other, models as a_name_that_is_rather_long, rates as " +
			"another_name_that_is_long_too, night\n", "from booking import other\nfrom booking.core import (\n" +
			"    models as a_name_that_is_rather_long,\n    rates as another_name_that_is_long_too,\n    night,\n)\n"},
		{"what a module holds stays with it", "from booking.models import Night\nfrom booking import other\n",
			"from booking.core.models import Night\nfrom booking import other\n"},
		{"dots", "from . import models\nfrom .models import Night as N\nfrom . import deep\n",
			"from .core import models\nfrom .core.models import Night as N\nfrom . import deep\n"},
		{"items of import", "import os, booking.models, sys\n", "import os, booking.core.models, sys\n"},
		{"aliases", "import booking.models as models, booking.rates as rates\nmodels.Night, rates\n",
			"import booking.core.models as models, booking.core.rates as rates\nmodels.Night, rates\n"},
		{"a use of what another import loads", "import booking.other\nbooking.models.Night, booking.other.x\n",
			"import booking.other\nbooking.core.models.Night, booking.other.x\n"},
		{"a package that only some uses need", "import booking.models\nbooking.models, booking.other, booking\n",
			"import booking.core.models\nbooking.core.models, booking.other, booking\n"},
		{"within a class and a lambda", "import booking.models\nclass K(booking.models.Night):\n" +
			"    f = lambda self, x=booking.models: booking.models.Night\n",
			"import booking.core.models\nclass K(booking.core.models.Night):\n" +
				"    f = lambda self, x=booking.core.models: booking.core.models.Night\n"},
		{"targets and deletions",
			"import booking.models\nbooking.models.x = 1\ndel booking.models.x\nbooking.models.x += 1\n",
			"import booking.core.models\nbooking.core.models.x = 1\ndel booking.core.models.x\n" +
				"booking.core.models.x += 1\n"},
		{"nothing that moves", "import booking.other\nfrom .deep import er\nfrom os import models\nimport models\n",
			"import booking.other\nfrom .deep import er\nfrom os import models\nimport models\n"},
		{"in other words", "'''from booking import models'''\n# import booking.models\nx = 'import booking.models'\n",
			"'''from booking import models'''\n# import booking.models\nx = 'import booking.models'\n"},
	} {
		t.Run(row.name, func(t *testing.T) {
			text := service + rest + "-- booking/app.py --\n" + row.before
			made, g := build(t, text)
			assert.Empty(t, made.Blocked)
			assert.Equal(t, row.after, after(t, text, made, g)["booking/app.py"])
		})
	}
}

// What can't be kept right stays where it is, with the reason.
func TestPythonBlocks(t *testing.T) {
	for _, row := range []struct {
		name, tree string
		want       []string // from: the beginning of the reason
	}{
		{"a file that may not be edited", "-- frozen.py --\nfrom booking import models\n",
			[]string{"booking/models.py: frozen.py would have to be edited at line 1 and is left alone"}},
		{"a name that the package hides", "-- booking/core/__init__.py --\n-- booking/app.py --\nimport booking\n" +
			"booking.models.Night\n-- booking/__init__.py --\nfrom .other import core\n-- booking/other.py --\n" +
			"core = 1\n", []string{"booking/models.py: booking/app.py:2:1 refers to it as \"booking.models\""}},
		{"a folder of code that is read, and torn apart", "-- tests/a.py --\nimport os\n" +
			"HERE = os.path.dirname(__file__)\nos.listdir(os.path.join(HERE, '..', 'booking'))\n-- booking/app.py --\n",
			nil},
	} {
		text := strings.Replace(service, "leave: {", "leave: { untouched: [frozen.py],", 1)
		if strings.Contains(row.tree, "-- booking/__init__.py --") {
			text = strings.Replace(text, "-- booking/__init__.py --\n", "", 1)
		}
		made, _ := build(t, text+row.tree)
		var got []string
		for _, b := range made.Blocked {
			got = append(got, b.From+": "+b.Reason)
		}
		if assert.Len(t, got, len(row.want), "%s: %s", row.name, got) {
			for i := range got {
				assert.True(t, strings.HasPrefix(got[i], row.want[i]), "%s: %s", row.name, got[i])
			}
		}
	}
}
