package paths

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// expected gives the paths of which one must be there if a mention that leads nowhere in the tree is whole; none where
// a path may as well mean something that a build writes, or an address. It is sure where the folder is there and the
// file is not, and where the text says that it begins at its own file.
func (r *Resolver) expected(from project.FileID, m *lang.Mention) []string {
	text, _, _ := strings.Cut(m.Text, "#")
	text, _, _ = strings.Cut(text, "?")
	if detail(m).Given {
		return r.given(r.tree.Path(from), m)
	}
	if text == "" || strings.HasPrefix(text, "/") || strings.ContainsAny(text, "{}<>$*|:%\\ ") {
		return nil
	}
	file := r.tree.Path(from)
	place := path.Join(path.Dir(file), text)
	if lang.Leaves(place) {
		return nil
	}
	relative := lang.IsRelative(text)
	inFolder := path.Ext(text) != "" && r.tree.IsDir(path.Dir(place))
	switch {
	case m.Kind == Link, (m.Kind == Asset || m.Kind == StyleAsset) && (relative || inFolder || r.nowhere(text)),
		m.Kind == Setting && !m.Likely && inFolder:
		return []string{place}
	case m.Kind == Setting && relative && strings.HasPrefix(file, "."): // steps of a pipeline count from the root
		return []string{place, path.Clean(text)}
	case m.Kind == SettingWord && r.tree.IsProgram(text) && strings.Contains(text, "/"):
		return r.expectedWord(file, text)
	}
	return nil
}

// nowhere says whether a path to a file has an ending, and no file of the tree lies so below any folder: a server may
// show a folder at another address.
func (r *Resolver) nowhere(text string) bool {
	return path.Ext(text) != "" && !slices.ContainsFunc(r.byName()[path.Base(text)], func(id project.FileID) bool {
		return strings.HasSuffix(r.tree.Path(id), "/"+text)
	})
}

// given gives the places of a path that no build writes: itself, with an ending, or what stands before its star.
func (r *Resolver) given(file string, m *lang.Mention) []string {
	text := m.Text
	if slashes, back := lang.Slashed(text); back {
		text = slashes
	}
	fixed, _, starred := strings.Cut(text, "*")
	if strings.Contains(fixed, "node_modules") || strings.HasPrefix(fixed, "/") || strings.ContainsAny(fixed, "$:\\") {
		return nil
	}
	place := path.Join(r.tree.Base(file, m), fixed)
	if starred && !strings.HasSuffix(fixed, "/") {
		place = path.Dir(place)
	}
	if lang.Leaves(place) {
		return nil
	}
	out := []string{place}
	if !starred {
		for _, ending := range append(r.tree.Unwritten(), ".json") {
			out = append(out, place+ending)
		}
	}
	return out
}

// expectedWord gives the places of a word of a command that names a program: the command runs in the file's own folder
// or in one above. What a build writes lies in folders of its own, so one of these must be there.
func (r *Resolver) expectedWord(file, text string) (out []string) {
	there := false
	for dir := path.Dir(file); ; dir = path.Dir(dir) {
		place := path.Join(dir, text)
		if lang.Leaves(place) {
			return nil
		}
		out = append(out, place)
		there = there || r.tree.IsDir(path.Dir(place)) && path.Dir(place) != "."
		if dir == "." {
			break
		}
	}
	if !there {
		return nil
	}
	return out
}
