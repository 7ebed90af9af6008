package placement

import (
	"path"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// place is an instance of a shelf: the folder with a slash at its end, or the file of a shelf that is one.
type place struct {
	shelf    *convention.Shelf
	instance string
}

// holds says whether a path lies in the instance.
func (p place) holds(file string) bool {
	return file == p.instance || strings.HasSuffix(p.instance, "/") && strings.HasPrefix(file, p.instance)
}

// instanceOf gives the instance of a shelf in which a path lies.
func instanceOf(s *convention.Shelf, file string) (string, bool) {
	c, ok := s.At.Match(file)
	if !ok || s.AtFile {
		return file, ok
	}
	return file[:len(file)-len(path.Base(file))-len(c.Dirs)], true
}

// byFolder remembers what was worked out for a folder by its path, for files that come one after the other.
type byFolder[T any] struct {
	c     *convention.Convention
	dir   string
	value T
}

// of gives the value for a file, by what holds for another of its folder if that can tell: where shelves name files it
// can't, nor for files at the root, of which those that begin with a dot are special.
func (b *byFolder[T]) of(c *convention.Convention, file string, work func() T) T {
	dir := project.Dir(file)
	if b.c != c || b.dir != dir || dir == "." || c.HasFiles() {
		*b = byFolder[T]{c, dir, work()}
	}
	return b.value
}

// places are the instances of shelves in which a path lies, the outermost first.
func places(c *convention.Convention, file string) []place {
	var out []place
	var buf [32]*convention.Shelf
	for _, s := range c.ShelvesAt(file, buf[:0]) {
		instance, ok := instanceOf(s, file)
		if !ok {
			continue
		}
		at := len(out)
		for at > 0 && len(out[at-1].instance) > len(instance) {
			at--
		}
		out = append(out, place{})
		copy(out[at+1:], out[at:])
		out[at] = place{s, instance}
	}
	return out
}

// PackageOf gives the shelf whose instance is the package that a path lies in, the innermost, with the folder of the
// instance; nil for none.
func PackageOf(c *convention.Convention, file string) (s *convention.Shelf, dir string) {
	for _, p := range places(c.For(file), file) {
		if p.shelf.Package != nil {
			s, dir = p.shelf, strings.TrimSuffix(p.instance, "/")
		}
	}
	return s, dir
}

// Door gives the file through which a file must import another: the door of the outermost instance that holds the other
// and not itself. There is none if the other is that door.
func Door(c *convention.Convention, from, to string) (string, bool) {
	for _, p := range places(c.For(to), to) {
		if p.shelf.Door != "" && !p.holds(from) {
			return p.instance + p.shelf.Door, p.instance+p.shelf.Door != to
		}
	}
	return "", false
}
