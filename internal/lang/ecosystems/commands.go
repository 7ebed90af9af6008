package ecosystems

import (
	"regexp"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// Command is what one types to run something of a project.
type Command struct{ Name, Runs, In string }

// Commands lists what the manifests at the root say can be run.
func Commands(tree *project.Project) (out []Command) {
	for _, known := range []struct{ file, runs string }{{"package.json", runner(tree)}, {"composer.json", "composer"}} {
		id, there := tree.Lookup(known.file)
		if !there {
			continue
		}
		text, err := tree.Content(id)
		if err != nil {
			continue
		}
		root, err := manifest.ParseJSON(text)
		if err != nil {
			continue
		}
		scripts := root.Get("scripts")
		if scripts == nil {
			continue
		}
		for _, m := range scripts.Members {
			runs := m.Value.Text
			if m.Value.Kind == manifest.List {
				var parts []string
				for _, item := range m.Value.Items {
					parts = append(parts, item.Text)
				}
				runs = strings.Join(parts, " && ")
			}
			out = append(out, Command{known.runs + " " + m.Key, runs, known.file})
		}
	}
	return append(out, installed(tree)...)
}

// installed lists the commands that a package of Python brings
// (packaging.python.org/en/latest/specifications/pyproject-toml/#entry-points).
func installed(tree *project.Project) (out []Command) {
	const file = "pyproject.toml"
	id, there := tree.Lookup(file)
	if !there {
		return nil
	}
	text, err := tree.Content(id)
	if err != nil {
		return nil
	}
	root, err := manifest.ParseTOML(text)
	if err != nil {
		return nil
	}
	for _, key := range [][]string{{"project", "scripts"}, {"project", "gui-scripts"}, {"tool", "poetry", "scripts"}} {
		table := root
		for _, k := range key {
			if table != nil {
				table = table.Get(k)
			}
		}
		if table == nil {
			continue
		}
		for _, m := range table.Members {
			out = append(out, Command{m.Key, m.Value.Text, file})
		}
	}
	return out
}

// runner is the program that runs the commands of a package.json, by the lock file beside it.
func runner(tree *project.Project) string {
	for _, by := range []struct{ lock, runs string }{
		{"pnpm-lock.yaml", "pnpm"}, {"yarn.lock", "yarn"}, {"bun.lock", "bun run"}, {"bun.lockb", "bun run"},
	} {
		if _, there := tree.Lookup(by.lock); there {
			return by.runs
		}
	}
	return "npm run"
}

// option is an option of a command behind which a file is a setting, and is not run.
var option = regexp.MustCompile(`(?:^|[\s"'])` +
	`(?:-c|-p|-f|-P|--config|--project|--file|--tsconfig|--env-file)[\s=]*["']?$`)

// Configures says whether the word of a command that stands behind a text is a setting of the command: tsc -p x.json
// reads x.json, and does not start there.
func Configures(before []byte) bool { return option.Match(before) }
