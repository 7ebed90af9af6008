package settings

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// found gives the mentions of a file, each as its kind and text; likely ones with a question mark.
func found(t *testing.T, path, text string) []string {
	t.Helper()
	mentions, err := Scan(path, []byte(text), nil)
	require.NoError(t, err)
	var out []string
	last := 0
	for _, m := range mentions.Mentions {
		require.LessOrEqual(t, last, m.Span.Start, "%s overlaps", m.Text)
		require.Equal(t, m.Text, text[m.Span.Start:m.Span.End])
		last = m.Span.End
		mark := ""
		if m.Likely {
			mark = "?"
		}
		out = append(out, m.Kind.String()+mark+" "+m.Text)
	}
	return out
}

func TestScan(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name, path, text string
		want             []string
	}{
		{"a package", "package.json",
			`{"name": "./no", "main": "./a.js", "bin": {"b": "b.js"}, "exports": {".": {"types": ["./x.js"], "default": "./y.d.ts"}, "./*": "./z/*.js"}, "imports": {"#s": "./s.ts"}, "workspaces": ["packages/*"], "files": ["dist"]}`,
			[]string{"setting ./a.js", "setting b.js", "setting ./x.js", "setting ./y.d.ts", "alias ./z/*.js",
				"alias ./s.ts", "setting pattern packages/*", "setting dist"}},
		{"a package's scripts", "package.json",
			`{"scripts": {"a": "node server.js && vite --config=conf/vite.config.ts \"src/**/*.{ts,tsx}\" -p ./x/y"}, "dependencies": {"x": "^1.0.0", "y": "file:./libs/y"}}`,
			[]string{"setting word? server.js", "setting word? conf/vite.config.ts",
				"setting pattern? src/**/*.{ts,tsx}", "setting word? ./x/y", "setting ./libs/y"}},
		{"a test runner's part of a package", "package.json",
			`{"jest": {"moduleNameMapper": {"^@/(.*)$": "<rootDir>/src/$1", "^x$": "<rootDir>/x.js"}, "setupFiles": ["<rootDir>/test/setup.js"]}}`,
			[]string{"alias <rootDir>/src/$1", "alias <rootDir>/x.js", "setting? <rootDir>/test/setup.js"}},
		{"a compiler's file", "tsconfig.json", "\xEF\xBB\xBF{ // why\n" +
			"\"extends\": \"./base\", \"compilerOptions\": {\"baseUrl\": \".\", \"paths\": {\"a\": [\"src/a.ts\", " +
			"\"src/*\"]}, \"typeRoots\": [\"types\"]}, /* x */ \"include\": [\"b.ts\", \"src/**/*\"], \"references\": " +
			"[{\"path\": \"../other\"},], }",
			[]string{"setting ./base", "setting .", "alias src/a.ts", "alias src/*", "setting types", "setting b.ts",
				"setting pattern src/**/*", "setting ../other"}},
		{"YAML", "deploy.yaml", "# src/not.ts\nroot: server\nname: server\nfiles:\n  - src/a.ts # why\n" +
			"  - 'src/b c.ts'\n  - \"src/d.ts\"\nurl: https://x.example/src/a.ts\nimage: a/b:1.2\n",
			[]string{"setting? server", "setting? src/a.ts", "setting? src/b", "setting? c.ts", "setting? src/d.ts",
				"setting word? a/b"}},
		{"a CI file", ".github/workflows/ci.yml", "on:\n  push: { paths: ['src/**', '!docs/**'] }\njobs:\n  a:\n" +
			"    steps:\n      - run: |\n          npm run a -- --file src/a.ts\n          sh ./scripts/go.sh\n" +
			"      - run: node tools/x.js\n        working-directory: server\n",
			[]string{"setting pattern? src/**", "setting pattern? !docs/**", "setting word? src/a.ts",
				"setting word? ./scripts/go.sh", "path of a command? tools/x.js", "setting? server"}},
		{"a compose file", "compose.yaml", "services:\n  web:\n    build: { context: ./server }\n" +
			"    volumes: ['./server:/app', \"data:/var\"]\n    env_file: ./server/.env\n",
			[]string{"setting? ./server", "setting word? ./server", "setting? ./server/.env"}},
		{"TOML", "a.toml", "# x/y\n[tool]\nsrc = 'src/a.ts'\nlist = [ \"b/c.ts\", ] # d/e\n[[many]]\npath = \"lib\"\n",
			[]string{"setting? src/a.ts", "setting? b/c.ts", "setting? lib"}},
		{"XML", "a.xml", "<a file=\"src/a.ts\"><b>src/b.ts</b><!-- src/c.ts --><c d='x &amp; y'/></a>",
			[]string{"setting? src/a.ts", "setting? src/b.ts"}},
		{"INI", "a.ini", "[x]\npath = src/a.ts ; b\nname=y\n", []string{"setting word? src/a.ts"}},
		{"an environment", ".env", "export VIEWS_DIR=server/views # x\nKEY='a/b'\nURL=http://x/y\n",
			[]string{"setting? server/views", "setting? a/b"}},
		{"properties", "a.properties", "# c\nlog.file: logs/a.log\n", []string{"setting? logs/a.log"}},
		{"an ignore file", ".dockerignore", "# x\nnode_modules\n/dist/\nsrc/gen/**\n!src/gen/keep.ts\n*.log\n",
			[]string{"ignore pattern /dist/", "ignore pattern src/gen/**", "ignore pattern src/gen/keep.ts"}},
		{"owners", ".github/CODEOWNERS", "* @a/b\n/src/ui/ @team\n", []string{"ignore pattern /src/ui/"}},
		{"a container's file", "Dockerfile", "FROM a/b:1\nWORKDIR /app/x\nCOPY package*.json ./\n" +
			"COPY --chown=a:b server ./server\nCOPY --from=base /x ./y/z\nCOPY [\"a b.txt\", \"c.txt\", \"/d/\"]\n" +
			"RUN node scripts/x.js \\\n  && ls src/y\nCMD [\"node\", \"server/main.js\"]\n",
			[]string{"setting pattern package*.json", "setting server", "setting? ./server", "setting a b.txt",
				"setting c.txt", "setting word? server/main.js"}},
		{"a makefile", "Makefile", "all: src/a.ts\n\tnode $(X)/b.js tools/c.js > out/d\n",
			[]string{"setting word? src/a.ts", "setting word? tools/c.js", "setting word? out/d"}},
		{"a shell script", "a.sh", "#!/bin/sh\ncd server && node ./x/main.js \"$DIR/y.js\" 'lib/z.js'\n",
			[]string{"setting? server", "path of a command? ./x/main.js", "path of a command? lib/z.js"}},
		{"a command that goes on", "Makefile", "a:\n\tcd back \\\n\t&& (cd cold; node d/e.js)\n\tnode f/g.js; cd $X && node h/i.js\n",
			[]string{"setting? back", "path of a command? cold", "path of a command? d/e.js", "setting word? f/g.js"}},
		{"a script that stays in a folder", "b.sh", "cd back\nnode d/e.js\ncd ..\nnode f/g.js\ncd \"$X\"\nnode h/i.js\n",
			[]string{"setting? back", "path of a command? d/e.js", "path of a command? f/g.js", "setting word? h/i.js"}},
		{"folders in a command", "package.json",
			`{"scripts": {"lint": "eslint --fix packages apps && npm run test", "go": "cd tools && node lib/a.js && cd .. && node b/c.js", "x": "mypy -p desk web"}}`,
			[]string{"setting? packages", "setting? apps", "setting? tools", "path of a command? lib/a.js",
				"path of a command? b/c.js", "setting? web"}},
		{"keys that are paths", "a.toml",
			"[tool.x.per-file-ignores]\n\"src/a.py\" = [\"E\"]\n\"lib/**/*.py\" = []\nb = 1\n",
			[]string{"setting? src/a.py", "setting pattern? lib/**/*.py"}},
		{"keys that are none", "package.json",
			`{"exports": {"./a/b": "./c.js"}, "dependencies": {"a/b": "1"}, "lint-staged": {"src/**/*.ts": "x"}}`,
			[]string{"setting ./c.js", "setting pattern? src/**/*.ts"}},
		{"lists under a key for paths", "setup.cfg", "[x]\nfiles = desk, src/web\nmodules = a, b\n",
			[]string{"setting? desk", "setting? src/web"}},
		{"a web server's settings", ".htaccess",
			"RewriteRule ^(.*)$ public/index.html [L]\nErrorDocument 404 /404.html\n",
			[]string{"setting word? public/index.html"}},
		{"what was recorded once", "test/fixtures/a.json", `{"path": "src/a.ts"}`, nil},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) { assert.Equal(t, c.want, found(t, c.path, c.text)) })
	}
}

func TestBrokenFiles(t *testing.T) {
	t.Parallel()
	for path, text := range map[string]string{
		"package.json": "{\n \"main\": }", "a.yaml": "a: [\n", "a.toml": "a = [\n", "a.xml": "<a><b></a>",
	} {
		_, err := Scan(path, []byte(text), nil)
		assert.ErrorContains(t, err, "not valid", path)
	}
	for _, path := range []string{"package.json", "a.yaml", "a.toml"} {
		_, err := Scan(path, []byte(strings.Repeat("[", 1<<19)), nil)
		assert.ErrorContains(t, err, "nested more than 200 deep")
	}
	assert.False(t, reads("crooked.yaml"))
	assert.False(t, reads("package-lock.json"))
}

func FuzzScan(f *testing.F) {
	f.Add("package.json", `{"main": "./a.js", "scripts": {"a": "node x/y.js"}}`)
	f.Add("tsconfig.json", `{"compilerOptions": {"paths": {"@/*": ["./src/*"]}}}`)
	f.Add("a.yaml", "a: |\n  b/c.ts\nd: 'e/f'\n- g/h")
	f.Add("a.toml", "[a]\nb = 'c/d'\n[[e]]\nf = \"\"\"g/h\"\"\"")
	f.Add("a.xml", "<a b='c/d'>e/f</a>")
	f.Add("Dockerfile", "COPY a/b c/d\nRUN x/y \\\n z/w")
	f.Add("Dockerfile", "FROM a AS b\nWORKDIR /c\nCOPY d/*.e f ./\nFROM b\nCOPY --from=b /c g\nCMD [\"h\", \"/c/d\"]")
	f.Add("compose.yaml", "services:\n  a:\n    working_dir: /b\n    command: [c, /d/e]\n    volumes: [\"./f:/d\"]\n")
	f.Add("compose.yaml", "services:\n  a: {entrypoint: x, volumes: [{source: ./f, target: /d}]}\n")
	f.Add("a.yml", "A")
	f.Add("a.yaml", "working-directory: a\nb:\n- run: c/d")
	f.Add("a.yml", "s:\n 0:000000: \n    command: [000A]\ns:")
	f.Add("a.sh", "cd b\nnode c/d.js && cd .. && (cd e/; f/g.js)")
	f.Add(".env", "A='b/c'")
	f.Fuzz(func(t *testing.T, path, text string) {
		if !reads(path) {
			return
		}
		mentions, _ := Scan(path, []byte(text), nil)
		last := 0
		for _, m := range mentions.Mentions {
			require.LessOrEqual(t, last, m.Span.Start)
			require.LessOrEqual(t, m.Span.Start, m.Span.End)
			require.LessOrEqual(t, m.Span.End, len(text))
			last = m.Span.End
		}
	})
}
