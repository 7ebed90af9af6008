package carry

import (
	"errors"
	"fmt"
	"path"
	"strings"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// refuseUnreadable takes out what can't be moved because nothing reads it.
func (w *worker) refuseUnreadable() {
	for _, id := range w.moving() {
		f := w.tree.Files[id]
		node := w.Graph.Files[id]
		var scan *lang.ScanError
		switch {
		case f.Link:
			w.refuse(id, "it is a link, and links are not moved")
		case errors.As(node.Err, &scan) && !scan.Harmless:
			w.refuse(id, "it can't be read: "+scan.Message)
		case node.Err != nil && scan == nil:
			w.refuse(id, node.Err.Error())
		case node.Family < 0: // data is moved unread, but it must be readable for the record
			if _, err := w.tree.Content(id); err != nil {
				w.refuse(id, err.Error())
			}
		}
	}
}

// refuseUnexplained takes out what an import may mean that leads nowhere and by a name that nobody explains: an alias
// is in force that was not found, and its imports would not follow.
func (w *worker) refuseUnexplained() {
	var ends map[string][]project.FileID // what moves, by its last segment without endings
	for id := range w.Graph.Files {
		n := &w.Graph.Files[id]
		for i := range n.Mentions {
			m := &n.Mentions[i]
			if n.Targets[i].Kind != lang.ToNothing || m.Likely || !m.Kind.Is(lang.ByName) || lang.IsRelative(m.Text) ||
				strings.HasPrefix(m.Text, "/") {
				continue
			}
			// most projects have no such import, so what moves is sorted by its name only when there is one
			if ends == nil {
				ends = map[string][]project.FileID{}
				for _, moving := range w.moving() {
					p := withoutEndings(w.tree.Path(moving))
					if path.Base(p) == "index" {
						ends[path.Base(path.Dir(p))] = append(ends[path.Base(path.Dir(p))], moving)
					}
					ends[path.Base(p)] = append(ends[path.Base(p)], moving)
				}
			}
			head, rest, deeper := strings.Cut(m.Text, "/")
			if !deeper || rest == "" {
				continue
			}
			whole := withoutEndings(rest)
			if !strings.ContainsAny(head[:1], "@~#$") { // the first segment may be that of a folder
				whole = withoutEndings(m.Text)
			}
			for _, moving := range ends[path.Base(whole)] {
				if p := "/" + withoutEndings(w.tree.Path(moving)); strings.HasSuffix(p, "/"+whole) ||
					strings.HasSuffix(p, "/"+whole+"/index") {
					w.refuse(moving, fmt.Sprintf("%s:%s imports %q, which may mean it, and no alias, package or file "+
						"explains that; say in the convention what stands for what: aliases: { %q: … }",
						w.tree.Path(project.FileID(id)),
						w.Graph.Position(graph.Reference{From: project.FileID(id), Mention: i}), m.Text, head+"/*"))
				}
			}
		}
	}
}

// withoutEndings is a path without what follows the first dot of its last segment.
func withoutEndings(p string) string {
	base := p[strings.LastIndexByte(p, '/')+1:]
	if dot := strings.IndexByte(base, '.'); dot > 0 {
		return p[:len(p)-len(base)+dot]
	}
	return p
}
