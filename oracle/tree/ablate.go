package tree

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Rule is a rule of the program by a text of its code, which stands there once, and what the code is without it.
type Rule struct{ Name, File, Text, Without string }

// Needed runs a test of the package at hand, named as go test -run has it, once without each rule of the code in a folder:
// the code must compile, and the test must fail.
func Needed(t *testing.T, folder, test string, rules []Rule) {
	t.Helper()
	for _, rule := range rules {
		t.Run(rule.Name, func(t *testing.T) {
			source, err := filepath.Abs(filepath.Join(folder, rule.File))
			require.NoError(t, err)
			text, err := os.ReadFile(source)
			require.NoError(t, err)
			require.Equal(t, 1, strings.Count(string(text), rule.Text))
			dir := t.TempDir()
			other, overlay := filepath.Join(dir, filepath.Base(rule.File)), filepath.Join(dir, "overlay.json")
			require.NoError(t, os.WriteFile(other, []byte(strings.Replace(string(text), rule.Text, rule.Without, 1)), 0o644))
			replaced, err := json.Marshal(map[string]any{"Replace": map[string]string{source: other}})
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(overlay, replaced, 0o644))
			out, err := exec.Command("go", "test", "-overlay", overlay, "-count=1", "-run", test, ".").CombinedOutput()
			assert.Error(t, err)
			name, _, _ := strings.Cut(test, "/")
			assert.Contains(t, string(out), "--- FAIL: "+name, "it must compile, and differ")
			assert.NotContains(t, string(out), "build failed")
		})
	}
}
