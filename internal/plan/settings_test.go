package plan_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/project/projecttest"
)

// mark is a span that a move changes: ⟦old|new⟧.
var mark = regexp.MustCompile(`⟦([^|⟧]*)\|([^⟧]*)⟧`)

const desk = `
-- crooked.yaml --
crooked: 1
leave: { stay: [public/**, scripts/**, src/main.ts] }
shelves:
  server: { at: apps/desk/, from: [server/**] }
  views: { at: apps/pages/, from: [views/**] }
  look: { at: src/look/, from: [styles/**] }
  rest: src/rest/
-- server/main.js --
-- server/tasks/night.js --
-- server/config/log.json --
{}
-- views/home.pug --
-- styles/site.scss --
-- src/main.ts --
-- public/index.html --
-- scripts/count.sh --
`

// Each file is one as projects have it; after the move exactly the marked spans differ.
var settingsFiles = []struct{ path, text string }{
	{"package.json", `{
  "name": "desk",
  "version": "1.0.0",
  "main": "⟦./server/main.js|./apps/desk/main.js⟧",
  "bin": { "desk": "⟦server/main.js|apps/desk/main.js⟧" },
  "files": ["⟦server|apps/desk⟧", "public", "src/rest"],
  "scripts": {
    "start": "NODE_ENV=production node ⟦server/main.js|apps/desk/main.js⟧ --views ⟦views/|apps/pages/⟧",
    "styles": "sass --watch ⟦styles/site.scss|src/look/site.scss⟧:public/site.css",
    "lint": "eslint 'src/**/*.ts' \"⟦server/**/*.js|apps/desk/**/*.js⟧\""
  },
  "repository": "git@example.com:hill/server/main.js",
  "dependencies": { "server": "^1.2.3" },
  "nodemonConfig": { "watch": ["⟦server/|apps/desk/⟧", "⟦views/|apps/pages/⟧"], "ext": "js,pug" }
}
`},
	{"tsconfig.json", `{
  // what the client is made of
  "compilerOptions": {
    "baseUrl": ".", /* from here */
    "paths": { "desk/*": ["⟦./server/*|./apps/desk/*⟧"], "look": ["⟦styles/site.scss|src/look/site.scss⟧"], },
    "outDir": "./dist",
  },
  "include": ["src", "⟦server/**/*|apps/desk/**/*⟧"],
  "exclude": ["node_modules", "⟦./server/tasks|./apps/desk/tasks⟧"]
}
`},
	{".eslintrc.json",
		`{ "root": true, "overrides": [{ "files": ["⟦server/**/*.js|apps/desk/**/*.js⟧"], "env": { "node": true } }], "ignorePatterns": ["⟦server/tasks/|apps/desk/tasks/⟧"] }
`},
	{".vscode/launch.json", "{\r\n\t\"configurations\": [\r\n" +
		"\t\t{ \"program\": \"⟦${workspaceFolder}/server/main.js|${workspaceFolder}/apps/desk/main.js⟧\", " +
		"\"cwd\": \"${workspaceFolder}\" }, // one\r\n\t]\r\n}\r\n"},
	{".github/workflows/desk.yml", `name: desk
on:
  push:
    paths:
      - '⟦server/**|apps/desk/**⟧'   # the desk alone
      - "⟦views/**|apps/pages/**⟧"
jobs:
  test:
    runs-on: ubuntu-latest
    defaults: { run: { working-directory: ⟦./server|./apps/desk⟧ } }
    steps:
      - uses: actions/checkout@v4
      - run: node tasks/night.js
      - name: several
        run: |
          sh ⟦../scripts/count.sh|../../scripts/count.sh⟧ ⟦../views/|../pages/⟧
          node --check main.js && echo server is fine
`},
	{".gitlab-ci.yml", `stages: [test]
test:
  script:
    - node ⟦server/main.js|apps/desk/main.js⟧
    - "cat ⟦server/config/log.json|apps/desk/config/log.json⟧"
  only:
    changes: [⟦server/**/*|apps/desk/**/*⟧]
`},
	{"compose.yaml", `services:
  desk:
    build:
      context: .
      dockerfile: ./Dockerfile
    env_file: &env [.env]
    volumes:
      - ⟦./views|./apps/pages⟧:/desk/pages:ro
      - type: bind
        source: ⟦./server/config|./apps/desk/config⟧
        target: /etc/desk
`},
	{"Dockerfile", `FROM node:20 AS base
WORKDIR /desk
COPY --chown=node:node ⟦server|apps/desk⟧ ⟦./server|./apps/desk⟧
COPY ["⟦styles/site.scss|src/look/site.scss⟧", "/tmp/site.scss"]
COPY --from=base /desk/views /views
RUN node ⟦server/tasks/night.js|apps/desk/tasks/night.js⟧ \
    && rm -rf ⟦server/tasks|apps/desk/tasks⟧
CMD ["node", "⟦server/main.js|apps/desk/main.js⟧"]
`},
	{"Makefile", `VIEWS := ⟦views/home.pug|apps/pages/home.pug⟧
.PHONY: start
start: ⟦server/main.js|apps/desk/main.js⟧ $(VIEWS) # comes from server/
	@node $< --log=⟦server/config/log.json|apps/desk/config/log.json⟧
`},
	{"deploy.toml", `title = "server"
[desk]
entry = '⟦server/main.js|apps/desk/main.js⟧' # server/main.js
static = [ "public/", "⟦views/|apps/pages/⟧" ]
log = { file = "⟦server/config/log.json|apps/desk/config/log.json⟧", level = 3 }
`},
	{"site.xml", `<?xml version="1.0"?>
<!-- server/main.js -->
<site root="⟦views/|apps/pages/⟧" title="server">
  <start>⟦server/main.js|apps/desk/main.js⟧</start>
</site>
`},
	{"desk.ini", "; server/main.js\n[desk]\nentry=⟦server/main.js|apps/desk/main.js⟧\nname=server\n"},
	{".env", "ENTRY=⟦server/main.js|apps/desk/main.js⟧\nexport VIEWS_DIR=\"⟦views|apps/pages⟧\" # here\nNAME=server\n"},
	{"desk.properties", "# server/main.js\ndesk.entry = ⟦server/main.js|apps/desk/main.js⟧\n"},
	{".dockerignore",
		"node_modules\n⟦server/tasks/*.tmp|apps/desk/tasks/*.tmp⟧\n!⟦/views/drafts|/apps/pages/drafts⟧\n*.log\n"},
	{"CODEOWNERS",
		"*            @hill/all\n⟦/server/|/apps/desk/⟧     @hill/desk\n⟦/styles/*.scss|/src/look/*.scss⟧ @hill/look\n"},
	{".htaccess",
		"DirectoryIndex public/index.html\nRewriteRule ^night$ ⟦server/tasks/night.js|apps/desk/tasks/night.js⟧ [L]\n"},
	{"nginx.conf", "server {\n  location /views { alias ⟦views/|apps/pages/⟧; }\n" +
		"  include ⟦server/config/*.json|apps/desk/config/*.json⟧;\n}\n"},
	{"scripts/run.sh",
		"#!/bin/sh\n# starts server/main.js\nset -e\nexec node \"⟦server/main.js|apps/desk/main.js⟧\" \"$@\"\n"},
	{"vite.config.ts", `import { resolve } from 'node:path'
export default {
  root: '.', // server/main.js
  publicDir: 'public',
  build: { outDir: 'dist', rollupOptions: { input: { desk: resolve(__dirname, '⟦server/main.js|apps/desk/main.js⟧') } } },
  server: { watch: { ignored: ["⟦./server/tasks/**|./apps/desk/tasks/**⟧"] } },
}
`},
	{"tailwind.config.js",
		"module.exports = { content: ['./src/**/*.ts', `⟦./views/**/*.pug|./apps/pages/**/*.pug⟧`] }\n"},
}

func TestSettingsFiles(t *testing.T) {
	t.Parallel()
	for _, c := range settingsFiles {
		t.Run(c.path, func(t *testing.T) {
			old := mark.ReplaceAllString(c.text, "$1")
			want := mark.ReplaceAllString(c.text, "$2")
			text := desk + "-- " + c.path + " --\n" + old
			made, g := build(t, text)
			assert.Empty(t, made.Blocked)
			assert.Equal(t, want, after(t, text, made, g)[c.path])
			changed := 0
			for _, e := range made.Edits {
				if e.Path == c.path {
					changed = len(e.Changes)
				}
			}
			assert.Equal(t, strings.Count(c.text, "⟦"), changed, "one edit for each span")
			assert.NotEmpty(t, projecttest.Files(text)[c.path])
		})
	}
}
