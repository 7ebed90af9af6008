package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What can't be kept right stays where it is, with the reason.
func TestPythonBlocks(t *testing.T) {
	t.Parallel()
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
