// Package git reads what a git work tree says of a project, straight from its files: no program is started, so nothing
// that the project's settings name can run.
package git

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"

	"crookedshelf/internal/project"
)

// WorkTree is the work tree that a folder lies in.
type WorkTree struct {
	Top    string // the work tree's top folder
	Prefix string // the folder as seen from Top, with a slash at the end; empty for Top itself
	dir    string // the repository, or for a linked work tree its own part of it
	common string // the repository
}

// Find gives the work tree that folder lies in; nil if it lies in none.
func Find(folder string) *WorkTree {
	folder, err := filepath.Abs(folder)
	if err != nil {
		return nil
	}
	for top := folder; ; top = filepath.Dir(top) {
		if dir := repository(top); dir != "" {
			prefix, err := filepath.Rel(top, folder)
			if err != nil {
				return nil
			}
			w := &WorkTree{Top: top, dir: dir, common: dir}
			if prefix != "." {
				w.Prefix = filepath.ToSlash(prefix) + "/"
			}
			if text, err := os.ReadFile(filepath.Join(dir, "commondir")); err == nil {
				w.common = filepath.Join(dir, strings.TrimSpace(string(text)))
			}
			return w
		}
		if filepath.Dir(top) == top {
			return nil
		}
	}
}

// repository gives the repository of a work tree's top folder: .git, or what the file .git names (gitrepository-layout).
func repository(top string) string {
	p := filepath.Join(top, ".git")
	info, err := os.Stat(p)
	if err != nil {
		return ""
	}
	if info.IsDir() {
		return p
	}
	text, err := os.ReadFile(p)
	if err != nil {
		return ""
	}
	dir, ok := strings.CutPrefix(strings.TrimSpace(string(text)), "gitdir: ")
	if !ok {
		return ""
	}
	if !filepath.IsAbs(dir) {
		dir = filepath.Join(top, dir)
	}
	return dir
}

// Options are what project.Load needs to know of git around a folder, in a work tree and outside of one.
func Options(folder string) project.Options {
	w := Find(folder)
	var opts project.Options
	prefix := ""
	if w != nil {
		prefix = w.Prefix
	}
	add := func(file, prefix string) {
		if text, err := os.ReadFile(file); err == nil {
			opts.Outer = append(opts.Outer, project.IgnoreFile{Prefix: prefix, Text: text})
		}
	}
	add(excludesFile(w), prefix)
	if w == nil {
		return opts
	}
	add(filepath.Join(w.common, "info", "exclude"), prefix)
	for at := w.Top; prefix != ""; {
		add(filepath.Join(at, ".gitignore"), prefix)
		name, rest, _ := strings.Cut(prefix, "/")
		at, prefix = filepath.Join(at, name), rest
	}
	opts.Tracked = w.Tracked
	return opts
}

// excludesFile gives the user's own ignore file: core.excludesFile, or git's default for it.
func excludesFile(w *WorkTree) string {
	home, _ := os.UserHomeDir()
	config := os.Getenv("XDG_CONFIG_HOME")
	if config == "" {
		config = filepath.Join(home, ".config")
	}
	out := filepath.Join(config, "git", "ignore")
	files := []string{filepath.Join(config, "git", "config"), filepath.Join(home, ".gitconfig")}
	if w != nil {
		files = append(files, filepath.Join(w.common, "config"))
	}
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			continue
		}
		if value := coreExcludes(text); value != "" {
			if rest, ok := strings.CutPrefix(value, "~/"); ok {
				value = filepath.Join(home, rest)
			}
			out = value
		}
	}
	return out
}

// coreExcludes reads one value of a git configuration file (git-config, section CONFIGURATION FILE).
func coreExcludes(text []byte) string {
	out, core := "", false
	for line := range bytes.SplitSeq(text, []byte("\n")) {
		l := strings.TrimSpace(string(line))
		if strings.HasPrefix(l, "[") {
			core = strings.EqualFold(strings.TrimSpace(strings.Trim(l, "[]")), "core")
			continue
		}
		key, value, ok := strings.Cut(l, "=")
		if core && ok && strings.EqualFold(strings.TrimSpace(key), "excludesfile") {
			out = strings.Trim(strings.TrimSpace(value), `"`)
		}
	}
	return out
}
