package web

import (
	"encoding/json"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

var facts = lang.Facts{
	Called: map[string]string{
		".ts": "TypeScript", ".mts": "TypeScript", ".cts": "TypeScript", ".tsx": "TypeScript with JSX",
		".js": "JavaScript", ".mjs": "JavaScript", ".cjs": "JavaScript", ".jsx": "JavaScript with JSX",
	},
	Programs:   []string{".ts", ".mts", ".cts", ".tsx", ".js", ".mjs", ".cjs", ".jsx"},
	Components: []string{".vue", ".svelte"},
	Sources:    []string{".ts", ".tsx", ".js", ".jsx", ".mjs", ".cjs", ".vue", ".svelte", ".astro"},
	Dialects:   []lang.Dialect{{Plain: "ts", View: "tsx"}, {Plain: "js", View: "jsx"}, {Plain: "mjs"}},
	Views:      []string{"tsx", "jsx", "vue", "svelte", "astro"},
	Declares:   ".d.ts",
	Tests: lang.Marks{
		Stems:   []string{".test", ".spec", ".cy", ".e2e"},
		Folders: []string{"__tests__", "__mocks__", "test", "tests", "e2e", "spec", "cypress"},
	},
	Shows: lang.Marks{Stems: []string{".stories", ".story"}, Folders: []string{"__stories__", "stories"}},
	Shown: map[string]string{
		"js": ".js", "jsx": ".jsx", "mjs": ".mjs", "cjs": ".cjs", "javascript": ".js",
		"ts": ".ts", "mts": ".mts", "cts": ".cts", "typescript": ".ts", "tsx": ".tsx",
	},
	Snapshot: ".snap",
	Made:     []string{".map", ".tsbuildinfo"},
	Entry:    "index",
	Runs: map[string]string{
		"node":    ".js",
		"nodejs":  ".js",
		"bun":     ".ts",
		"deno":    ".ts",
		"tsx":     ".ts",
		"ts-node": ".ts",
	},
	Manifest:  manifestName,
	Starts:    []string{manifestName},
	Unwritten: []string{".ts", ".d.ts", ".js", ".json"},
}

// described gives the script that a file of types beside it describes.
func described(p string, there func(string) bool) string {
	for _, ending := range [][]string{{".d.ts", ".js", ".jsx"}, {".d.mts", ".mjs"}, {".d.cts", ".cjs"}} {
		stem, types := strings.CutSuffix(p, ending[0])
		for _, script := range ending[1:] {
			if types && there(stem+script) {
				return stem + script
			}
		}
	}
	return ""
}

const manifestName = "package.json"

// projectName is the name of the package at the root.
func projectName(tree *project.Project) string {
	var manifest struct{ Name string }
	if id, ok := tree.Lookup(manifestName); ok {
		if content, err := tree.Content(id); err == nil && json.Unmarshal(content, &manifest) == nil {
			return manifest.Name
		}
	}
	return ""
}

// requires reads the ranges of versions that a manifest asks for.
func requires(name string) func([]byte, *lang.Required) {
	if name != manifestName {
		return nil
	}
	return func(content []byte, out *lang.Required) {
		root, err := manifest.ParseJSON(content)
		if err != nil {
			return
		}
		for _, key := range []string{"dependencies", "devDependencies", "peerDependencies", "optionalDependencies"} {
			if table := root.Get(key); table != nil {
				for _, m := range table.Members {
					out.Packages[m.Key] = m.Value.String()
				}
			}
		}
		if node := root.At("engines", "node").String(); node != "" {
			out.Languages["node"] = node
		}
	}
}
