package placement

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project/projecttest"
)

// found gives what is found in a tree, its convention among it, a line each.
func found(t *testing.T, text string) (out []string) {
	t.Helper()
	tree := projecttest.Load(t, text)
	c, err := convention.Read("crooked.yaml", []byte(projecttest.Files(text)["crooked.yaml"]))
	require.NoError(t, err)
	g := graph.Build(tree, all.Languages(), lang.NewDeclared(c, false, nil))
	r, err := Place(c, tree, g)
	require.NoError(t, err)
	for _, f := range append(r.Findings, r.FindUses(c, g)...) {
		if f.Rule == "misplaced" {
			f.Reason = f.Home
		}
		if f.Rule == "loop" { // seldom what a row is about
			continue
		}
		out = append(out, f.Rule+" "+f.Path+": "+f.Reason)
	}
	return out
}

// Each row is one word of a shelf, and what is found by it.
func TestWordsOfAShelf(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name, text string
		want       []string
	}{
		{"closed", `
-- crooked.yaml --
crooked: 1
shelves:
  modules: { at: src/modules/<module>/, closed: true, door: index.ts, must: ["<module>.md"], inside: { api: {}, core: {} } }
-- src/modules/sky/api/a.ts --
-- src/modules/sky/core/b/c.ts --
-- src/modules/sky/index.ts --
-- src/modules/sky/sky.md --
-- src/modules/sky/odd.ts --
-- src/modules/sky/rest/d.ts --
`, []string{
			"homeless src/modules/sky/odd.ts: it stands on modules, which does not take it, nor does any other shelf",
			"homeless src/modules/sky/rest/d.ts: it stands on modules, which does not take it, nor does any other shelf"}},
		{"a required file that is named after the instance", `
-- crooked.yaml --
crooked: 1
shelves:
  apps: { at: "apps/<app|kebab>/", must: ["<app|pascal>.csproj", src/<app>.txt] }
-- apps/night-desk/NightDesk.csproj --
-- apps/sky/Sky.csproj --
-- apps/sky/src/sky.txt --
`, []string{"missing apps/night-desk/src/night-desk.txt: each instance of apps must have night-desk.txt"}},
		{"order", `
-- crooked.yaml --
crooked: 1
shelves:
  libs: { at: libs/<lib>/, order: [base, wire, core] }
-- libs/base/a.ts --
import '../core/a'
-- libs/core/a.ts --
import '../base/a'
import '../wire/a'
-- libs/wire/a.ts --
import '../extra/a'
-- libs/extra/a.ts --
import '../core/a'
import '../other/a'
-- libs/other/a.ts --
import '../extra/a'
`, []string{"overreach libs/base/a.ts: base comes before core in the order of libs, and uses it",
			"overreach libs/wire/a.ts: wire comes before extra in the order of libs, and uses it"}},
		{"an instance that may be used, and a shelf inside others", `
-- crooked.yaml --
crooked: 1
levels: { loop: off }
shelves:
  libs: { at: libs/<lib>/, apart: { but: [api, shared] }, inside: { api: {} } }
  apps: { at: apps/<app>/, uses: [libs.core] }
-- apps/desk/a.ts --
import '../../libs/core/x'
import '../../libs/sky/x'
-- libs/core/x.ts --
import '../sky/api/a'
import '../shared/x'
-- libs/shared/x.ts --
-- libs/sky/x.ts --
import '../core/x'
-- libs/sky/api/a.ts --
`, []string{"overreach apps/desk/a.ts: apps may not use libs, and it uses libs/sky/x.ts",
			"overreach libs/sky/x.ts: libs are apart, and it uses libs/core/"}},
		{"partners", `
-- crooked.yaml --
crooked: 1
shelves:
  models:
    at: app/models/
    partner: [{ shelf: controllers, as: "<name|plural>_controller.py" }, { shelf: views, as: "<name|plural>/" }]
  controllers: app/controllers/
  views: app/views/
-- app/models/night.py --
-- app/models/dome.py --
-- app/models/star.py --
-- app/models/star_test.txt --
-- app/controllers/nights_controller.py --
-- app/controllers/stars_controller.py --
-- app/views/nights/list.html --
-- app/views/domes.html --
`, []string{"missing app/models/dome.py: its partner app/controllers/domes_controller.py is not on controllers",
			"missing app/models/star.py: its partner app/views/stars is not on views"}},
		{"companions for all shelves", `
-- crooked.yaml --
crooked: 1
beside: { must: [<name>.test.ts] }
shelves:
  parts: { at: src/parts/, from: ["old/*.ts"], inside: { deep: {} } }
  pages: { at: src/pages/, beside: { may: [<name>.css] } }
-- old/a.ts --
-- old/a.test.ts --
-- src/parts/b.ts --
-- src/parts/deep/c.ts --
-- src/pages/d.ts --
`, []string{"misplaced old/a.test.ts: src/parts/a.test.ts", "misplaced old/a.ts: src/parts/a.ts",
			"missing src/parts/b.ts: b.test.ts must be beside it",
			"missing src/parts/deep/c.ts: c.test.ts must be beside it"}},
		{"private files and thin ones", `
-- crooked.yaml --
crooked: 1
thin: [main.ts, start.ts, run.py]
private: [{ file: "**/*.env", example: .env.example }, secrets.json]
shelves: { a: src/ }
-- conf/.env --
-- my.env --
-- secrets.json --
-- main.ts --
import { start } from './src/start'
const app = start()
-- start.ts --
export const x = 1
export function start() {}
-- run.py --
from src import start
if __name__ == "__main__":
    start()
-- src/start.ts --
export const start = () => 1
`, []string{"missing .env.example: it shows others what **/*.env holds",
			"thick start.ts: it declares start, and is to load other files alone",
			"exposed conf/.env: it is private, and git does not ignore it",
			"exposed my.env: it is private, and git does not ignore it",
			"exposed secrets.json: it is private, and git does not ignore it"}},
		{"a test that is stranded", `
-- crooked.yaml --
crooked: 1
shelves:
  parts: { at: src/parts/, beside: { may: [<name>.test.ts, __tests__/<name>.spec.ts] } }
  main: { at: main/, beside: { may: [{ file: test/<path>/<name>.test.py, mirrors: main/ }] } }
  pages: src/pages/
-- src/parts/a.ts --
-- src/parts/a.test.ts --
-- src/parts/b.test.ts --
-- src/parts/__tests__/a.spec.ts --
-- src/parts/__tests__/c.spec.ts --
-- src/parts/nothing.test.ts --
-- src/pages/b.ts --
-- src/pages/c.ts --
-- main/x/d_test.py --
-- main/x/d.py --
`, []string{"stranded src/parts/__tests__/c.spec.ts: what it tests by its name is src/pages/c.ts",
			"stranded src/parts/b.test.ts: what it tests by its name is src/pages/b.ts"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			assert.Equal(t, c.want, found(t, c.text))
		})
	}
}
