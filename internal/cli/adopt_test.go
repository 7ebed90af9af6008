package cli_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project/projecttest"
)

// Each starter is tried on projects that it was not written for. Either it says that it does not fit, writes nothing and
// names the way in; or check takes what it writes, judges some file by it, and its plan is blocked nowhere by what a tool
// finds by its place.
func TestStartersOnOtherProjects(t *testing.T) {
	t.Parallel()
	projects, err := filepath.Glob("testdata/projects/*.txtar")
	require.NoError(t, err)
	require.Greater(t, len(projects), 10)
	for _, file := range projects {
		t.Run(strings.TrimSuffix(filepath.Base(file), ".txtar"), func(t *testing.T) {
			t.Parallel()
			archive, err := txtar.ParseFile(file)
			require.NoError(t, err)
			for _, starter := range convention.Starters() {
				dir := t.TempDir()
				lay(t, dir, archive.Files...)
				adopted := run(t, dir, "adopt", starter.Name)
				_, err := os.Stat(filepath.Join(dir, "crooked.yaml"))
				if adopted.code != 0 {
					assert.Equal(t, 2, adopted.code, starter.Name)
					assert.ErrorIs(t, err, os.ErrNotExist, "%s writes nothing where it does not fit", starter.Name)
					if !strings.Contains(adopted.err, "there is no source file here") {
						assert.True(t, strings.Contains(adopted.err, "crooked survey --draft") ||
							strings.Contains(adopted.err, "those for that are"), "%s names the way in: %s", starter.Name, adopted.err)
					}
					continue
				}
				require.NoError(t, err)
				var check struct{ Files int }
				checked := run(t, dir, "check", "--format", "json")
				assert.Less(t, checked.code, 2, "%s: %s", starter.Name, checked.err)
				require.NoError(t, json.Unmarshal([]byte(checked.out), &check), starter.Name)
				assert.Positive(t, check.Files, starter.Name)
				plan := run(t, dir, "plan")
				assert.Less(t, plan.code, 2, "%s: %s", starter.Name, plan.err)
				assert.NotContains(t, plan.out, "by its place", starter.Name)
			}
		})
	}
}

// A starter takes nothing out of a folder in which a framework looks, though no language here reads that framework.
func TestStarterKeepsFixedPlaces(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- package.json --
{"name": "nights", "devDependencies": {"@sveltejs/kit": "^2"}}
-- src/lib/sky.ts --
export const sky = 1
-- src/routes/+page.ts --
import { sky } from '$lib/sky'
export const load = () => sky
-- src/utils/tool.ts --
import { sky } from '../lib/sky'
export const t = sky
`)
	adopted := run(t, dir, "adopt", "by-feature")
	assert.Contains(t, adopted.out, "stays          src/lib/**")
	assert.Contains(t, adopted.out, "by SvelteKit")
	plan := run(t, dir, "plan")
	assert.Contains(t, plan.out, "src/utils/tool.ts -> src/helpers/tool.ts")
	assert.NotContains(t, plan.out, "src/lib/sky.ts ->")
}

// A starter's list of what stays is written whole, also where parts of it fit nothing yet, and its variables count with
// a comment behind them.
func TestStarterKeepsWhatStays(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ starter, tree, stays, variable, moves string }{
		{"rust-library", `
-- Cargo.toml --
[package]
name = "dome"
edition = "2021"
-- source/lib.rs --
pub mod utils;
-- source/utils/mod.rs --
pub fn up() {}
`, `stay: ["*", "<app>/lib.rs", "<app>/main.rs", "<app>/bin/**", "tests/**", "examples/**", "benches/**"]`, "app: source ",
			"source/utils/mod.rs -> source/shared/mod.rs"},
		{"dart-server", `
-- pubspec.yaml --
name: display
-- bin/serve.dart --
import 'package:display/src/utils/text.dart';
void main() => up();
-- lib/src/utils/text.dart --
void up() {}
`, `stay: ["*", "bin/*", "lib/*.dart", "tool/**", "web/**"]`, "app: lib/src ", "lib/src/utils/text.dart -> lib/src/shared/text.dart"},
	} {
		dir := t.TempDir()
		projecttest.Write(t, dir, row.tree)
		require.Equal(t, 0, run(t, dir, "adopt", row.starter).code)
		written, err := os.ReadFile(filepath.Join(dir, "crooked.yaml"))
		require.NoError(t, err)
		assert.Contains(t, string(written), row.stays)
		assert.Contains(t, string(written), row.variable)
		assert.NotContains(t, run(t, dir, "check").out, "homeless")
		assert.Contains(t, run(t, dir, "plan").out, row.moves)
	}
}
