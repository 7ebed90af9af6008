package tree

import (
	"os"
	"os/exec"
	"strings"
	"testing"
)

// Has skips a test on a machine without a tool, given by its name, or a file, given with a slash; never where all must be
// there. hint says how to get what is missing.
func Has(t testing.TB, hint string, needs ...string) {
	t.Helper()
	for _, one := range needs {
		_, err := exec.LookPath(one)
		if strings.Contains(one, "/") {
			_, err = os.Stat(one)
		}
		if err == nil {
			continue
		}
		if os.Getenv("CI") != "" {
			t.Fatalf("%s is not here", one)
		}
		t.Skipf("%s is not here: %s", one, hint)
	}
}

// Without gives the lines of one sorted list that another, sorted too, has not.
func Without(a, b []string) (out []string) {
	for len(a) > 0 {
		switch {
		case len(b) == 0 || a[0] < b[0]:
			out, a = append(out, a[0]), a[1:]
		case a[0] == b[0]:
			a, b = a[1:], b[1:]
		default:
			b = b[1:]
		}
	}
	return out
}
