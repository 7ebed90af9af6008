package settings

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file follows what a container gets from the project (docs.docker.com/reference/dockerfile): COPY puts a folder
// of the project at a place of the image, WORKDIR says where commands run, and what these name is of the image. So
// main.js behind COPY server . is server/main.js of the project. A command behind cd counts from elsewhere too.

// imageDetail is what may have put a path where it is, the most particular first, and where commands run.
type imageDetail struct {
	work   string
	copies []copied
	all    []copied // what else is in the image
	made   bool     // a build may have made it: then it follows the folder that it is made in
	start  string   // where the command was before it went a way by cd
	way    string
}

// image is what an image holds, as far as a container's file has been read.
type image struct {
	work   string // where commands run, from /
	copies []copied
	made   bool // it is asked for what commands made in it
}

// copied is a file or folder of the project in an image.
type copied struct {
	from, to string
	mirrored bool   // the place is called as in the project, from where commands run, and follows when that moves
	into     bool   // the place is a folder that got it: a file keeps its name there
	back     bool   // it is the project's own root, for a command that may have come back to it
	like     string // of what is in the folder from only the files whose names fit; empty for all
}

// workIn notes where commands run from here on.
func (g *image) workIn(place string) { g.work = g.at(place) }

// at gives the place from / of a path of the image.
func (g *image) at(place string) string {
	if path.IsAbs(place) {
		return path.Clean(place)
	}
	return path.Join("/", g.work, place)
}

// take notes that a file or folder is put to a place, and says whether the place is called as in the project. A folder
// gives what is in it; a pattern what is in its folder, and its place stays when that moves.
func (g *image) take(from, place string, several bool) (mirrored bool) {
	c := copied{from: path.Clean(from), to: g.at(place)}
	if strings.ContainsAny(path.Base(from), "*?[") {
		c.from, c.like, several = path.Dir(c.from), path.Base(from), false
	}
	if c.into = several || strings.HasSuffix(place, "/") || path.Clean(place) == "."; c.into && path.Ext(c.from) != "" {
		c.to = path.Join(c.to, path.Base(c.from))
	}
	c.mirrored = c.like == "" && (c.from == path.Clean(place) ||
		c.into && path.Ext(c.from) != "" && path.Dir(c.from) == path.Clean(place) && path.Clean(place) != ".")
	g.copies = append(g.copies, c)
	return c.mirrored
}

// mostCopies is how much of an image is followed: stages that take from one another can double it each time.
const mostCopies = 1000

// takeFrom notes what another stage of the build has at a place, and gives.
func (g *image) takeFrom(stage image, from, place string) {
	from = path.Join("/", from)
	for _, c := range stage.copies[:min(len(stage.copies), max(0, mostCopies-len(g.copies)))] {
		if inside, ok := below(c.to, from); ok {
			c.to, c.mirrored = path.Join(g.at(place), inside), false
			g.copies = append(g.copies, c)
		} else if inside, ok := below(from, c.to); ok {
			g.copies = append(g.copies, copied{from: path.Join(c.from, inside), to: g.at(place)})
		}
	}
}

// below gives the path of a place from a folder: nothing for the folder itself.
func below(p, folder string) (string, bool) {
	if p == folder || folder == "." {
		return strings.TrimPrefix(p, folder), true
	}
	return strings.CutPrefix(p, strings.TrimSuffix(folder, "/")+"/")
}

// inImage looks at what was found from a mention on in a command that runs in the image. What is there as in the
// project stays; what is elsewhere counts from where it was put; what was not put there is not of the project.
func (s *scanner) inImage(from int) {
	if len(s.image.copies) == 0 {
		return
	}
	s.sift(from, func(m *lang.Mention) bool {
		named := m.Kind == syntax.ModuleSetting || m.Kind == syntax.Program || m.Kind == ImagePath
		return named || s.image.place(m)
	})
}

// sift keeps of the mentions from one on those of which keep says so.
func (s *scanner) sift(from int, keep func(m *lang.Mention) bool) {
	kept := s.mentions[:from]
	for _, m := range s.mentions[from:] {
		if keep(&m) {
			kept = append(kept, m)
		}
	}
	s.mentions = kept
}

// inside says whether the command that is read runs in an image that has something of the project.
func (s *scanner) inside() bool { return s.running && len(s.image.copies) > 0 }

// isPath says whether a mention is a path, and no pattern of some.
func isPath(m *lang.Mention) bool { return m.Kind == paths.Setting || m.Kind == paths.SettingWord }

// place says what a path in the image may be of the project; false for nothing.
func (g *image) place(m *lang.Mention) bool {
	var copies []copied
	mirrored := !path.IsAbs(m.Text)
	for _, c := range slices.Backward(g.copies) {
		inside, ok := below(g.at(m.Text), c.to)
		if fits, _ := path.Match(c.like, inside); ok && (c.like == "" || fits) {
			copies = append(copies, c)
			mirrored = mirrored && c.mirrored && c.to == path.Join("/", g.work, c.from)
		}
	}
	if len(copies) > 0 && !mirrored {
		slices.SortStableFunc(copies, func(a, b copied) int { return len(b.to) - len(a.to) })
		m.Kind, m.Detail = ImagePath, &lang.Detail{
			Own: imageDetail{work: g.work, copies: copies, all: g.copies, made: g.made, start: g.at("")},
		}
	}
	return len(copies) > 0
}

// resolver answers for paths in images, and for projects of builds.
type resolver struct{ tree *lang.Tree }

// built gives what put a path into the image, the folder from which it is built, that of its file or one above, and what
// of the path is not of the project: what a build makes.
func (r *resolver) built(from project.FileID, m *lang.Mention) (c copied, dir, rest string, t lang.Target) {
	d := lang.Own[imageDetail](m)
	dir = path.Dir(r.tree.Path(from))
	// a file that has moved is built from where it was built before
	if under, old := r.tree.Origin(from); under != nil && old != project.None && under.Path(old) != r.tree.Path(from) {
		if _, was, _, t := d.from(under, path.Dir(under.Path(old)), m.Text); t.Kind.Inside() &&
			was != path.Dir(under.Path(old)) && (was == "." || r.tree.IsDir(was)) {
			dir = was
		}
	}
	return d.from(r.tree.Project, dir, m.Text)
}

// from looks for what put a path into the image when it is built from a folder, or from one above.
func (d *imageDetail) from(tree *project.Project, dir, text string) (c copied, at, rest string, t lang.Target) {
	g := image{work: d.work}
	for place := g.at(text); place != "/"; place = path.Dir(place) {
		for at = dir; ; at = path.Dir(at) {
			for _, c := range d.copies {
				inside, ok := below(place, c.to)
				if !ok {
					continue
				}
				p := path.Join(at, c.from, inside)
				rest = strings.TrimPrefix(g.at(text), place)
				if id, there := tree.Lookup(p); there && rest == "" {
					return c, at, rest, lang.File(id)
				}
				if tree.IsDir(p) && (rest == "" || p != at) {
					return c, at, rest, lang.Folder(p)
				}
			}
			if at == "." {
				break
			}
		}
		if !d.made {
			break
		}
	}
	return copied{}, ".", "", lang.No(lang.ToOutside)
}

// Resolve implements lang.Resolver.
func (r *resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	if m.Kind == BuildProject {
		return r.resolveProject(from, m)
	}
	_, _, _, t := r.built(from, m)
	return t
}

// Spell implements lang.Resolver: paths in images are written together, since what they count from may move.
func (r *resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	return lang.Spelling{Text: q.Mention.Text}, !q.Fails
}

// settle writes where the projects of a build are, and the paths of an image from where their folders are then.
func (r *resolver) settle(s lang.Settling) (edits []lang.Settled, failed []lang.Failed) {
	edits = r.settleProjects(s)
	old, ok := s.Old.(*resolver)
	if !ok {
		return nil, nil
	}
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != ImagePath || !s.Before[i].Kind.Inside() {
			continue
		}
		to := s.Want[i].Folder()
		if s.Want[i].Kind == lang.ToFile {
			to = r.tree.Path(s.Want[i].File)
		}
		text, why := r.place(s, old, m, to)
		switch {
		case why != "":
			failed = append(failed, lang.Failed{Mention: i, Why: why})
		case text != m.Text:
			edits = append(edits, lang.Settled{Edit: source.Edit{Span: m.Span, New: text}, Mentions: []int{i}})
		}
	}
	return edits, failed
}

// place gives how a command names a file or folder of the project that is at to; else why it can't.
func (r *resolver) place(s lang.Settling, old *resolver, m *lang.Mention, to string) (text, why string) {
	d := lang.Own[imageDetail](m)
	c, dir, rest, _ := old.built(s.OldFrom, m)
	p, why := old.placeOf(s, c, dir, to)
	p += rest
	switch {
	case why != "":
		return "", why
	case !path.IsAbs(m.Text):
		work := c.to
		if !c.back {
			work = old.workAfter(s, d)
		}
		text = lang.Relative(strings.TrimPrefix(work, "/"), strings.TrimPrefix(p, "/"))
		if path.Clean(text) == path.Clean(m.Text) {
			return m.Text, ""
		}
		if !strings.HasPrefix(m.Text, "./") {
			text = strings.TrimPrefix(text, "./")
		}
	case p == path.Clean(m.Text):
		return m.Text, ""
	default:
		text = p
	}
	if strings.HasSuffix(m.Text, "/") {
		text += "/"
	}
	return text, ""
}

// placeOf gives the place, from the image's root, of a file or folder of the project that is at to, and which a copy
// put there that is built from a folder of the old tree.
func (r *resolver) placeOf(s lang.Settling, c copied, dir, to string) (p, why string) {
	base := path.Join(dir, c.from)
	switch _, file := r.tree.Lookup(base); {
	case file && c.into:
		return path.Join(path.Dir(c.to), path.Base(to)), ""
	case file: // it has a name of its own there
		return c.to, ""
	}
	if moved, whole := s.Folder(base); whole {
		base = moved
	}
	inside, there := below(to, base)
	switch {
	case !there:
		return "", fmt.Sprintf("the image has %s, and %s would not be in it", base, to)
	case c.mirrored:
		own, _ := below(to, dir)
		return path.Join(strings.TrimSuffix(c.to, c.from), own), ""
	}
	return path.Join(c.to, inside), ""
}

// workAfter gives the place where a command runs: its folders may have moved, and it may have gone back from one.
func (r *resolver) workAfter(s lang.Settling, d imageDetail) string {
	down, up, back := strings.Cut(d.way+"/", "/../")
	work := path.Join(d.start, down)
	m := lang.Mention{Text: work}
	g := image{work: "/", copies: d.all}
	if g.place(&m) {
		if c, dir, _, t := r.built(s.OldFrom, &m); t.Kind == lang.ToFolder {
			if moved, whole := s.Folder(t.Folder()); whole {
				if p, why := r.placeOf(s, c, dir, moved); why == "" {
					work = p
				}
			}
		}
	}
	if back {
		work = path.Join(work, "..", up)
	}
	return work
}

// mirrored gives a path of an image as it is in the project, where COPY gives it the same name: the place follows.
func (s *scanner) mirrored(f source.Span) lang.Mention {
	return lang.Mention{Span: s.inner(f), Text: s.text(f), Kind: paths.Setting, Form: lang.Plain, Quote: s.quote(f),
		Likely: true}
}

// stage begins a stage of a build, which has what the stage has that it is made from: FROM build AS final.
func (s *scanner) stage(fields []source.Span) {
	if s.stages == nil {
		s.stages = map[string]image{}
	}
	for _, name := range s.named {
		s.stages[name] = s.image
	}
	if len(s.named) > 0 {
		s.count++
	}
	s.image, s.named = image{}, []string{strconv.Itoa(s.count)}
	for len(fields) > 0 && strings.HasPrefix(s.text(fields[0]), "--") {
		fields = fields[1:]
	}
	if len(fields) > 0 {
		made := s.stages[strings.ToLower(s.text(fields[0]))]
		s.image = image{work: made.work, copies: slices.Clone(made.copies)}
	}
	if len(fields) > 2 && strings.EqualFold(s.text(fields[1]), "as") {
		s.named = append(s.named, strings.ToLower(s.text(fields[2])))
	}
}

// runs reads a command; inside: it runs in the image.
func (s *scanner) runs(first, last int, inside bool) {
	before := len(s.mentions)
	s.words(first, last)
	if inside {
		s.inImage(before)
	}
}

// within looks at what was found from a mention on behind cd: it counts from the folder to which the command went.
// Where that was in an earlier line of a script, it may have come back since.
func (s *scanner) within(from int, earlier bool) {
	g := image{copies: []copied{{from: ".", to: "/"}}} // the project itself
	if s.inside() {
		g = s.image
	}
	start := g.at("")
	g.work = g.at(s.where)
	s.sift(from, func(m *lang.Mention) bool {
		if !isPath(m) || !g.place(m) {
			return false
		}
		if d := lang.Own[imageDetail](m); m.Kind == ImagePath {
			d.start, d.way = start, s.where
			if earlier {
				d.copies = append(d.copies, copied{from: ".", to: g.work, back: true})
			}
			m.Detail.Own = d
		}
		return true
	})
}

// dropCopies gives the edits by which an image gets some files or folders no more: each is all that a line copies.
func dropCopies(src []byte, places []source.Span) (edits []source.Edit, ok bool) {
	for _, at := range places {
		line := source.Span{Start: text.LineStart(src, at.Start), End: text.LineEnd(src, at.Start)}
		fields := fieldsOf(src, line.Start, line.End)
		if len(fields) < 3 || bytes.HasSuffix(bytes.TrimRight(src[line.Start:line.End], " \t\r"), []byte("\\")) {
			return nil, false
		}
		word := strings.ToUpper(string(src[fields[0].Start:fields[0].End]))
		fields = slices.DeleteFunc(fields[1:], func(f source.Span) bool { return bytes.HasPrefix(src[f.Start:], []byte("--")) })
		if word != "COPY" && word != "ADD" || len(fields) != 2 || at.Start < fields[0].Start || at.End > fields[0].End {
			return nil, false
		}
		edits = append(edits, source.Edit{Span: source.Span{Start: line.Start, End: min(line.End+1, len(src))}})
	}
	return edits, true
}
