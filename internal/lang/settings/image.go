package settings

import (
	"fmt"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file follows what a container gets from the project (docs.docker.com/reference/dockerfile): COPY puts a folder of
// the project at a place of the image, WORKDIR says where commands run, and what these name is of the image. So main.js
// behind COPY server . is server/main.js of the project.

// ImagePath is a path that a command has from a place of the image.
var ImagePath = &lang.Kind{Name: "image path"}

// imageDetail is the folder of the project, from where the image is built, that is at the place from which a path counts.
type imageDetail struct{ Base string }

// image is what an image holds, as far as a container's file has been read.
type image struct {
	work   string // where commands run, with its slash
	copies []copied
}

// copied is a file or folder of the project in the image. mirrored: it is called there, from where commands run, as in
// the project.
type copied struct {
	from, to string
	mirrored bool
}

// workIn notes where commands run from here on.
func (g *image) workIn(place string) {
	if strings.HasPrefix(place, "/") {
		g.work = "/"
	}
	g.work = path.Join("/", g.work, place)
}

// take notes that a file or folder is put to a place. into: the place is a folder that gets it.
func (g *image) take(from, to string, into bool) {
	place := path.Join("/", g.work, to)
	if strings.HasPrefix(to, "/") {
		place = path.Clean(to)
	}
	if into && path.Ext(from) != "" {
		place = path.Join(place, path.Base(from))
	}
	g.copies = append(g.copies, copied{from: from, to: place, mirrored: path.Join("/", g.work, from) == place})
}

// inImage looks at what was found from a mention on in a command that runs in the image. What is there as in the project
// stays; what is elsewhere counts from where it was put; what was not put there is not of the project.
func (s *scanner) inImage(from int) {
	if len(s.image.copies) == 0 {
		return
	}
	kept := s.mentions[:from]
	for _, m := range s.mentions[from:] {
		if m.Kind == syntax.ModuleSetting || m.Kind == syntax.Program {
			kept = append(kept, m)
			continue
		}
		if m, ok := s.image.place(m); ok {
			kept = append(kept, m)
		}
	}
	s.mentions = kept
}

// place says what a path in the image is of the project; false for nothing.
func (g *image) place(m lang.Mention) (lang.Mention, bool) {
	p := path.Join("/", g.work, m.Text)
	var c copied // the one that reaches deepest, and of several the last
	for _, one := range g.copies {
		if (p == one.to || strings.HasPrefix(p, strings.TrimSuffix(one.to, "/")+"/")) && len(one.to) >= len(c.to) {
			c = one
		}
	}
	rest := strings.TrimPrefix(strings.TrimPrefix(p, c.to), "/")
	switch {
	case c.to != "" && c.mirrored:
		return m, true
	case c.to == "", rest == "", !strings.HasSuffix(m.Text, rest): // it is not of the project, or called otherwise there
		return lang.Mention{}, false
	}
	m.Span.Start = m.Span.End - len(rest)
	m.Text, m.Kind, m.Detail = rest, ImagePath, &lang.Detail{Own: imageDetail{c.from}}
	return m, true
}

// imageResolver answers for paths in images.
type imageResolver struct{ tree *lang.Tree }

// built gives the folder of the project from which a path of an image counts: the image is built from the folder of its
// file, or from one above.
func (r *imageResolver) built(from project.FileID, m *lang.Mention) (base string, t lang.Target) {
	for dir := path.Dir(r.tree.Path(from)); ; dir = path.Dir(dir) {
		base = path.Join(dir, lang.Own[imageDetail](m).Base)
		p := path.Join(base, m.Text)
		if id, there := r.tree.Lookup(p); there {
			return base, lang.File(id)
		}
		if r.tree.IsDir(p) {
			return base, lang.Folder(p)
		}
		if dir == "." {
			return base, lang.No(lang.ToOutside)
		}
	}
}

// Resolve implements lang.Resolver.
func (r *imageResolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	_, t := r.built(from, m)
	return t
}

// Spell implements lang.Resolver: paths in images are written together, since what they count from may move.
func (r *imageResolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	return lang.Spelling{Text: q.Mention.Text}, !q.Fails
}

// settle writes the paths of an image from where their folders are then.
func (r *imageResolver) settle(s lang.Settling) (edits []lang.Settled, failed []lang.Failed) {
	old, ok := s.Old.(*imageResolver)
	if !ok {
		return nil, nil
	}
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != ImagePath || !s.Before[i].Kind.Inside() {
			continue
		}
		base, _ := old.built(s.OldFrom, m)
		if to, whole := s.Folder(base); whole {
			base = to
		}
		to := s.Want[i].Folder()
		if s.Want[i].Kind == lang.ToFile {
			to = r.tree.Path(s.Want[i].File)
		}
		text, there := strings.CutPrefix(to, base+"/")
		if base == "." {
			text, there = to, true
		}
		switch {
		case !there:
			failed = append(failed, lang.Failed{Mention: i, Why: fmt.Sprintf("the image has %s, and %s would not be in it", base, to)})
		case text != m.Text:
			edits = append(edits, lang.Settled{Edit: source.Edit{Span: m.Span, New: text}, Mentions: []int{i}})
		}
	}
	return edits, failed
}

// mirrored gives a path of an image as it is in the project, where COPY gives it the same name: the place follows.
func (s *scanner) mirrored(f source.Span) lang.Mention {
	return lang.Mention{Span: s.inner(f), Text: s.text(f), Kind: paths.Setting, Form: lang.Plain, Quote: s.quote(f), Likely: true}
}
