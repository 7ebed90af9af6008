package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What documents refer to, and what code in them imports, follows; the code that they show is no use of the project's
// own.
func TestDocumentsFollow(t *testing.T) {
	t.Parallel()
	const tree = `
-- crooked.yaml --
crooked: 1
shelves:
  services: { at: hill/services/, from: hill/nights.py }
  handbook: { at: handbook/, from: docs/ }
  parts: { at: web/parts/, from: web/dates.ts }
-- hill/__init__.py --
-- hill/nights.py --
def book(): pass
-- hill/stars.py --
-- web/dates.ts --
-- docs/guide.rst --
`
	for _, c := range []struct{ name, path, now, text, want string }{
		{"paths of documents", "docs/index.rst", "handbook/index.rst",
			".. include:: ../hill/nights.py\n.. toctree::\n\n   guide\n\n`web <../web/dates.ts>`_ :doc:`guide`\n",
			".. include:: ../hill/services/nights.py\n.. toctree::\n\n   guide\n\n" +
				"`web <../web/parts/dates.ts>`_ :doc:`guide`\n"},
		{"documents from elsewhere", "about.rst", "about.rst",
			":doc:`docs/guide` :download:`the code <hill/nights.py>`\n",
			":doc:`handbook/guide` :download:`the code <hill/services/nights.py>`\n"},
		{"names in documents", "about.rst", "about.rst",
			".. autofunction:: hill.nights.book\n:func:`~hill.nights.book`\n",
			".. autofunction:: hill.services.nights.book\n:func:`~hill.services.nights.book`\n"},
		{"imports that a document shows", "a.md", "a.md", "```python\nfrom hill import nights, stars\n```\n```ts\n" +
			"import { a } from './web/dates'\nimport b from 'not-listed'\nimport c from './not-there'\n```\n",
			"```python\nfrom hill import stars\nfrom hill.services import nights\n```\n```ts\n" +
				"import { a } from './web/parts/dates'\nimport b from 'not-listed'\nimport c from './not-there'\n```\n"},
		{"cells of a notebook", "a.ipynb", "a.ipynb",
			`{"cells": [{"cell_type": "code", "source": ["from hill import nights, stars\n", "import hill.nights\n", "%time x\n", "print(\"a\", hill.nights.b)"]}, {"cell_type": "markdown", "source": "from hill import nights"}]}` + "\n",
			`{"cells": [{"cell_type": "code", "source": ["from hill import stars; from hill.services import nights\n", "import hill.services.nights\n", "%time x\n", "print(\"a\", hill.services.nights.b)"]}, {"cell_type": "markdown", "source": "from hill import nights"}]}` + "\n"},
		{"a notebook in one text", "a.ipynb", "a.ipynb",
			`{"cells": [{"cell_type": "code", "source": "x = 1\nfrom hill.nights import (\n    a,\n)"}]}`,
			`{"cells": [{"cell_type": "code", "source": "x = 1\nfrom hill.services.nights import (\n    a,\n)"}]}`},
		{"a notebook of another language", "a.ipynb", "a.ipynb",
			`{"cells": [{"cell_type": "code", "source": "import hill.nights"}], "metadata": {"language_info": {"name": "julia"}}}`, `{"cells": [{"cell_type": "code", "source": "import hill.nights"}], "metadata": {"language_info": {"name": "julia"}}}`},
		{"a broken notebook", "a.ipynb", "a.ipynb", `{"cells": [{"cell_type": "code", "source": "import hill.nights"`,
			`{"cells": [{"cell_type": "code", "source": "import hill.nights"`},
	} {
		t.Run(c.name, func(t *testing.T) {
			text := tree + "-- " + c.path + " --\n" + c.text
			made, g := build(t, text)
			require.Empty(t, made.Blocked)
			assert.Equal(t, strings.TrimSuffix(c.want, "\n"), strings.TrimSuffix(after(t, text, made, g)[c.now], "\n"))
		})
	}
}

// A file that is no part of the tree, since a program writes it and git ignores it, goes with its folder: what imports
// it, what ignores it and what is told to write it agree.
func TestGeneratedFilesGoAlong(t *testing.T) {
	t.Parallel()
	text := `
-- crooked.yaml --
crooked: 1
shelves:
  hill: { at: src/hill/, from: hill/ }
  data: { at: web/data/api/, from: web/api/ }
-- hill/__init__.py --
-- web/api/b.ts --
-- web/main.ts --
import a from './api/made/a'
import b from '@/api/made/b'
import c from './api/b'
import d from './made/d'
-- tsconfig.json --
{ "compilerOptions": { "paths": { "@/*": ["./web/*"] } }, "exclude": ["web/api/made/**", "web/made"] }
-- package.json --
{ "scripts": { "make": "make-api --output web/api/made && rm -r web/made" } }
-- .gitignore --
web/api/made/
/hill/version.py
-- pyproject.toml --
[project]
name = "hill"
[tool.versions]
write_to = "hill/version.py"
[tool.lint]
exclude = ["hill/version.py", "hill/made/*.py", "tests/data/version.py"]
`
	made, g := build(t, text)
	require.Empty(t, made.Blocked)
	files := after(t, text, made, g)
	for p, want := range map[string]string{
		"web/main.ts": "import a from './data/api/made/a'\nimport b from '@/data/api/made/b'\n" +
			"import c from './data/api/b'\nimport d from './made/d'\n",
		"tsconfig.json": `{ "compilerOptions": { "paths": { "@/*": ["./web/*"] } }, "exclude": ["web/data/api/made/**", "web/made"] }` + "\n",
		"package.json":  `{ "scripts": { "make": "make-api --output web/data/api/made && rm -r web/made" } }` + "\n",
		".gitignore":    "web/data/api/made/\n/src/hill/version.py\n",
		"pyproject.toml": "[project]\nname = \"hill\"\n[tool.versions]\nwrite_to = \"src/hill/version.py\"\n" +
			"[tool.lint]\nexclude = [\"src/hill/version.py\", \"src/hill/made/*.py\", \"tests/data/version.py\"]\n",
	} {
		assert.Equal(t, want, files[p], p)
	}
}
