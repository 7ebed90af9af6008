package project

import (
	"fmt"
	"io/fs"
	"path"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
)

// Options says what lies around a tree.
type Options struct {
	// Outer are ignore rules from outside the tree, the weakest first.
	Outer []IgnoreFile
	// Tracked gives the sorted paths that git tracks, relative to the root: what is tracked is never ignored. It is
	// called once, and only if something is ignored. May be nil.
	Tracked func() []string
	// Warnings say what could not be learned of what lies around the tree.
	Warnings []string
}

// IgnoreFile is an ignore file outside the tree. Prefix is the root's path as seen from the folder that the rules speak
// of, with a slash at the end; empty if that is the root.
type IgnoreFile struct {
	Name   string // to be shown
	Prefix string
	Text   []byte
}

// Load lists the tree.
func Load(source Source, opts Options) (*Project, error) {
	if _, err := source.ReadDir("."); err != nil {
		return nil, fmt.Errorf("the project can't be listed: %w", cause(err))
	}
	w := walker{source: source, own: map[string]bool{}, tracked: sync.OnceValue(func() []string {
		if opts.Tracked == nil {
			return nil
		}
		return opts.Tracked()
	})}
	var rules *ruleSet
	for _, o := range opts.Outer {
		next, left := parseIgnore(rules, "", o.Prefix, o.Text)
		if left != "" {
			w.warn("the ignore file %q: %s", o.Name, left)
		}
		if next != rules {
			rules = next
			rules.outer = true
		}
	}
	w.tokens = make(chan struct{}, runtime.GOMAXPROCS(0))
	w.dir(".", rules, false)
	w.workers.Wait()
	p := &Project{Files: w.files, Warnings: append(w.warnings, opts.Warnings...), source: source, outer: rules,
		own: w.own}
	slices.Sort(p.Warnings)
	p.build()
	p.contents, p.since = make([]content, len(p.Files)), make([]atomic.Int64, len(p.Files))
	return p, nil
}

type walker struct {
	source   Source
	tracked  func() []string
	tokens   chan struct{} // bounds the folders that are listed at one time
	workers  sync.WaitGroup
	mu       sync.Mutex
	files    []File
	warnings []string
	own      map[string]bool // folders that are repositories of their own
}

func (w *walker) warn(format string, args ...any) {
	w.mu.Lock()
	w.warnings = append(w.warnings, fmt.Sprintf(format, args...))
	w.mu.Unlock()
}

// deepest is how many folders a file may lie in, and longestPath the most bytes of its path: Linux opens none that is
// longer.
const (
	deepest     = 256
	longestPath = 4096
)

// dir lists one folder and those below it. Where ignored is true, only what git tracks is taken.
func (w *walker) dir(dir string, rules *ruleSet, ignored bool) {
	if strings.Count(dir, "/") >= deepest || len(dir) >= longestPath {
		w.warn("%q lies deeper than %d folders or has a path of more than %d bytes: what is in it is left out",
			shortened(dir), deepest, longestPath)
		return
	}
	entries, err := w.source.ReadDir(dir)
	if err != nil {
		w.warn("%q can't be listed: %s", dir, cause(err))
		return
	}
	if installed(dir, entries) {
		return
	}
	prefix := ""
	if dir != "." {
		prefix = dir + "/"
	}
	for _, e := range entries {
		if e.Name() == ".gitignore" && e.Type().IsRegular() {
			text, err := w.source.ReadInto(nil, prefix+".gitignore", largestRules)
			if err != nil {
				w.warn("%q can't be read, so what it ignores is taken for a part of the project: %s",
					prefix+".gitignore", cause(err))
				continue
			}
			var left string
			if rules, left = parseIgnore(rules, prefix, "", text); left != "" {
				w.warn("%q: %s", prefix+".gitignore", left)
			}
		}
		if e.Name() == ".git" && dir != "." {
			w.mu.Lock() // a repository of its own: git does not look into it either
			w.own[dir] = true
			w.mu.Unlock()
			return
		}
	}
	files := make([]File, 0, len(entries))
	for _, e := range entries {
		p := prefix + e.Name()
		if never(e.Name()) { // also as a link or a file: a linked work tree has a file .git
			continue
		}
		if e.IsDir() {
			below := ignored || rules.ignores(p, true)
			if below && !w.tracksBelow(p) {
				continue
			}
			w.descend(p, rules, below)
			continue
		}
		if !e.Type().IsRegular() && e.Type() != fs.ModeSymlink {
			continue
		}
		if (ignored || rules.ignores(p, false)) && !w.tracks(p) {
			continue
		}
		files = append(files, File{Path: p, Link: e.Type() == fs.ModeSymlink})
	}
	w.mu.Lock()
	w.files = append(w.files, files...)
	w.mu.Unlock()
}

// descend lists a folder beside this one if a core is free, else in place.
func (w *walker) descend(dir string, rules *ruleSet, ignored bool) {
	select {
	case w.tokens <- struct{}{}:
		w.workers.Go(func() {
			defer func() { <-w.tokens }()
			w.dir(dir, rules, ignored)
		})
	default:
		w.dir(dir, rules, ignored)
	}
}

// shortened is a path that is too long to be shown.
func shortened(p string) string {
	if len(p) > 100 {
		return p[:60] + "\u2026" + p[len(p)-20:]
	}
	return p
}

// never names what is no part of a project's own tree, whatever is ignored.
func never(name string) bool { return name == ".git" || name == ".crooked" || name == "node_modules" }

// installed says whether a folder is that of packages which a program has put there, with the loader that it writes: git
// may have it all the same.
func installed(dir string, entries []fs.DirEntry) bool {
	if path.Base(dir) != "vendor" {
		return false
	}
	loader, lists := false, false
	for _, e := range entries {
		loader = loader || e.Name() == "autoload.php" && !e.IsDir()
		lists = lists || e.Name() == "composer" && e.IsDir()
	}
	return loader && lists
}

func (w *walker) tracks(p string) bool {
	_, found := slices.BinarySearch(w.tracked(), p)
	return found
}

func (w *walker) tracksBelow(dir string) bool {
	tracked := w.tracked()
	i, _ := slices.BinarySearch(tracked, dir+"/")
	return i < len(tracked) && strings.HasPrefix(tracked[i], dir+"/")
}
