package settings

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
)

// composed reads the commands of services that run in containers (docs.docker.com/reference/compose-file): what
// volumes put there from the project follows as in an image. All else in a command may be of the image, and is read as
// anywhere.
func (s *scanner) composed(root *manifest.Value) {
	services := root.At("services")
	if services == nil {
		return
	}
	for _, service := range services.Members {
		g := mounted(service.Value)
		if len(g.copies) == 0 {
			continue
		}
		for _, key := range []string{"command", "entrypoint"} {
			s.image, s.running = g, true
			service.Value.Get(key).Walk(func(_ []string, v *manifest.Value) {
				if v.Kind == manifest.String || v.Kind == manifest.Block {
					s.inService(v)
				}
			})
			s.image, s.running = image{}, false
		}
	}
}

// mounted gives what volumes put into a container, and where its commands run; empty where nothing says so.
func mounted(service *manifest.Value) (g image) {
	if work := service.Get("working_dir"); work != nil && path.IsAbs(work.Text) {
		g.workIn(work.Text)
	}
	volumes := service.Get("volumes")
	if volumes == nil {
		return g
	}
	for _, v := range volumes.Items {
		from, to, _ := strings.Cut(v.Text, ":")
		if v.Kind == manifest.Object {
			from, to = v.Get("source").String(), v.Get("target").String()
		} else {
			to, _, _ = strings.Cut(to, ":") // what may be done with it
		}
		if !strings.HasPrefix(from, ".") || !path.IsAbs(to) || strings.ContainsAny(from+to, "$*") {
			continue
		}
		c := copied{from: path.Clean(from), to: path.Clean(to)}
		c.mirrored = c.from == "." && c.to == g.work || strings.HasSuffix(c.to, "/"+c.from)
		g.copies = append(g.copies, c)
	}
	return g
}

// inService reads a command, or a word of one, that runs in a container.
func (s *scanner) inService(v *manifest.Value) {
	before := len(s.mentions)
	s.words(v.Span.Start, v.Span.End)
	s.sift(before, func(m *lang.Mention) bool {
		fromRoot := path.IsAbs(m.Text)
		return !isPath(m) || (fromRoot || s.image.work != "") && s.image.place(m) || !fromRoot
	})
	s.taken[v.Span.Start] = true
}
