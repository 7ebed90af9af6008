// Package git reads what a git work tree says of a project, straight from its files: no program is started, so nothing
// that the project's settings name can run. Only regular files are read, no links, and none that is too large; what
// can't be read is reported, since a project looks another without it.
package git

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"

	"github.com/go-git/go-git/v5/plumbing/format/config"

	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// WorkTree is the work tree that a folder lies in.
type WorkTree struct {
	Top    string // the work tree's top folder
	Prefix string // the folder as seen from Top, with a slash at the end; empty for Top itself
	dir    string // the repository, or for a linked work tree its own part of it
	common string // the repository
	sha256 bool   // objects are named by SHA-256
	err    error  // why the repository can't be read

	once sync.Once
	idx  *index
}

// The most bytes that are read of git's files.
const (
	largestPointer = 64 << 10 // .git as a file, commondir, HEAD
	largestConfig  = 8 << 20
	largestIgnore  = 16 << 20
)

// Find gives the work tree that folder lies in; nil if it lies in none.
func Find(folder string) *WorkTree {
	folder, err := filepath.Abs(folder)
	if err != nil {
		return nil
	}
	for top := folder; ; top = filepath.Dir(top) {
		if _, err := os.Lstat(filepath.Join(top, ".git")); err == nil {
			prefix, err := filepath.Rel(top, folder)
			if err != nil {
				return nil
			}
			w := &WorkTree{Top: top}
			if prefix != "." {
				w.Prefix = filepath.ToSlash(prefix) + "/"
			}
			w.err = w.open()
			return w
		}
		if filepath.Dir(top) == top {
			return nil
		}
	}
}

// open finds the repository and reads how it is made.
func (w *WorkTree) open() error {
	var err error
	if w.dir, err = repository(w.Top); err != nil {
		return err
	}
	w.common = w.dir
	switch text, err := rootfs.ReadRegular(filepath.Join(w.dir, "commondir"), largestPointer); {
	case err == nil:
		if w.common = strings.TrimSpace(string(text)); !filepath.IsAbs(w.common) {
			w.common = filepath.Join(w.dir, w.common)
		}
	case !errors.Is(err, fs.ErrNotExist):
		return fmt.Errorf("its commondir can't be read: %w", err)
	}
	for _, p := range []string{
		filepath.Join(w.dir, "HEAD"), filepath.Join(w.dir, "config.worktree"), filepath.Join(w.common, "packed-refs"),
		filepath.Join(w.common, "shallow"),
		filepath.Join(w.common, "objects", "info", "alternates"), filepath.Join(w.common, "info", "attributes"),
		filepath.Join(w.common, "info", "exclude"),
	} { // git itself reads these: it would wait for a pipe, and give up on a file that is too large
		switch info, err := rootfs.LookAt(p); {
		case err != nil || info.Mode&fs.ModeSymlink != 0:
		case !info.IsRegular():
			return fmt.Errorf("%s is no regular file", p)
		case info.Size > largestIgnore && filepath.Base(p) != "packed-refs":
			return fmt.Errorf("%s is larger than %d MB", p, largestIgnore>>20)
		}
	}
	text, err := rootfs.ReadRegular(filepath.Join(w.common, "config"), largestConfig)
	if err != nil {
		if errors.Is(err, fs.ErrNotExist) {
			return nil
		}
		return fmt.Errorf("its config can't be read: %w", err)
	}
	settings, err := readConfig(text)
	if err != nil {
		return fmt.Errorf("its config can't be read: %w", err)
	}
	w.sha256 = strings.EqualFold(settings.Section("extensions").Option("objectformat"), "sha256")
	return nil
}

// repository gives the repository of a work tree's top folder: .git, or what the file .git names
// (gitrepository-layout).
func repository(top string) (string, error) {
	p := filepath.Join(top, ".git")
	info, err := os.Lstat(p)
	switch {
	case err != nil:
		return "", err
	case info.IsDir():
		return p, nil
	}
	text, err := rootfs.ReadRegular(p, largestPointer)
	if err != nil {
		return "", err
	}
	dir, ok := strings.CutPrefix(strings.TrimSpace(string(text)), "gitdir: ")
	if !ok {
		return "", fmt.Errorf("%s does not say where the repository is", p)
	}
	if !filepath.IsAbs(dir) {
		dir = filepath.Join(top, dir)
	}
	return dir, nil
}

// Problem gives the reason why git's view of the project can't be read; nil if it can.
func (w *WorkTree) Problem() error {
	if err := w.read().err; err != nil {
		return fmt.Errorf("git's view of the project can't be read: %w", err)
	}
	return nil
}

// Folders are the folders that belong to git.
func (w *WorkTree) Folders() []string {
	out := []string{filepath.Join(w.Top, ".git")}
	if w.dir != "" {
		out = append(out, w.dir, w.common)
	}
	return out
}

// Options are what project.Load needs to know of git around a folder, in a work tree and outside of one, where w is
// nil.
func Options(w *WorkTree) project.Options {
	var opts project.Options
	prefix := ""
	if w != nil {
		prefix = w.Prefix
	}
	warn := func(format string, args ...any) { opts.Warnings = append(opts.Warnings, fmt.Sprintf(format, args...)) }
	add := func(file, prefix string, read func(string, int64) ([]byte, error)) {
		text, err := read(file, largestIgnore)
		if err == nil {
			opts.Outer = append(opts.Outer, project.IgnoreFile{Name: file, Prefix: prefix, Text: text})
		} else if !errors.Is(err, fs.ErrNotExist) && !errors.Is(err, fs.ErrPermission) {
			warn("the ignore file %q can't be read, so what it ignores is taken for a part of the project: %s", file,
				cause(err))
		}
	}
	file, read := excludesFile(w)
	add(file, prefix, read)
	if w == nil {
		return opts
	}
	if w.err == nil {
		add(filepath.Join(w.common, "info", "exclude"), prefix, rootfs.ReadRegular)
	}
	for at := w.Top; prefix != ""; {
		add(filepath.Join(at, ".gitignore"), prefix, rootfs.ReadRegular)
		name, rest, _ := strings.Cut(prefix, "/")
		at, prefix = filepath.Join(at, name), rest
	}
	if err := w.Problem(); err != nil {
		warn("%s: what git ignores is left out here, also where git tracks it", err)
	}
	opts.Tracked = w.Tracked
	return opts
}

func cause(err error) error {
	if pe, ok := err.(*fs.PathError); ok {
		return pe.Err
	}
	return err
}

// excludesFile gives the user's own ignore file, which is core.excludesFile or git's default for it, and how it may be
// read: a file that the user's own settings name may be reached by links, one that the repository names may not.
func excludesFile(w *WorkTree) (file string, read func(string, int64) ([]byte, error)) {
	home, _ := os.UserHomeDir()
	folder := os.Getenv("XDG_CONFIG_HOME")
	if folder == "" {
		folder = filepath.Join(home, ".config")
	}
	file, read = filepath.Join(folder, "git", "ignore"), rootfs.ReadOwn
	take := func(from string, reads func(string, int64) ([]byte, error)) {
		text, err := reads(from, largestConfig)
		if err != nil {
			return
		}
		settings, err := readConfig(text)
		if err != nil {
			return
		}
		value := settings.Section("core").Option("excludesfile")
		if value == "" {
			return
		}
		if rest, ok := strings.CutPrefix(value, "~/"); ok {
			value = filepath.Join(home, rest)
		} else if !filepath.IsAbs(value) && w != nil {
			value = filepath.Join(w.Top, value)
		}
		file, read = value, reads
	}
	take(filepath.Join(folder, "git", "config"), rootfs.ReadOwn)
	take(filepath.Join(home, ".gitconfig"), rootfs.ReadOwn)
	if w != nil && w.err == nil {
		take(filepath.Join(w.common, "config"), rootfs.ReadRegular)
	}
	return file, read
}

// readConfig reads a configuration file (git-config, section CONFIGURATION FILE). What it includes is not read.
func readConfig(text []byte) (*config.Config, error) {
	out := config.New()
	return out, config.NewDecoder(bytes.NewReader(text)).Decode(out)
}
