// Package graph says who refers to whom: it scans every file that a language family reads and resolves each mention.
//
// A graph belongs to one tree. Scanning is a function of a file's bytes and name alone, so a graph of an overlay takes
// over the mentions of files whose bytes are the same and scans the others; every mention is resolved afresh.
package graph

import (
	"bytes"
	"errors"
	"fmt"
	"path"
	"slices"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Graph is the references of one tree.
type Graph struct {
	Tree      *project.Project
	Files     []FileNode // by FileID
	Languages lang.Languages
	Declared  *lang.Declared // what the convention says of this tree; may be nil
	Warnings  []string       // what could not be read, one sentence each, in the order of the paths

	known *lang.Tree // what the languages know of the tree

	part []bool                                  // of each file: it was read; nil where all of them are
	seen func(id project.FileID, content []byte) // is given the content of each file that is scanned; nil for nobody

	counted     sync.Once // works out withEndings
	withEndings bool      // most relative imports name endings

	handsOn sync.Once // works out hands
	hands   []bool    // of each file: it only re-exports

	handing   sync.Map // by file: *handed
	given     sync.Map // by file and name: what Gives says
	positions sync.Map // by file: []source.Position of its mentions
}

// FileNode is one file with its mentions and where each leads.
type FileNode struct {
	Family      int8   // index of the family that reads it; -1 for none
	Plain       bool   // the convention says that it holds no mention
	As          string // a path by whose ending it is read, where its own does not say it; empty for most
	Mentions    []lang.Mention
	outline     *lang.Outline // nil where nobody asked for it
	lateOutline *lateOutline  // instead of the outline; nil for most
	Targets     []lang.Target // beside Mentions
	Err         error         // why it could not be read or scanned
}

// Build scans and resolves a whole tree.
func Build(tree *project.Project, languages lang.Languages, declared *lang.Declared) *Graph {
	return newGraph(tree, languages, declared).build()
}

// Watch is Build that does not keep the contents of files: seen is called with that of each file that is scanned. It
// must be safe to call on all cores.
func Watch(tree *project.Project, languages lang.Languages, declared *lang.Declared,
	seen func(id project.FileID, content []byte)) *Graph {
	g := newGraph(tree, languages, declared)
	g.seen = seen
	return g.build()
}

func (g *Graph) build() *Graph {
	ids := make([]project.FileID, len(g.Files))
	for id := range ids {
		ids[id] = project.FileID(id)
	}
	// the order matters: rules may ask what any file declares, and resolving asks the rules of all languages
	g.scan(ids)
	g.readRules()
	g.resolve(ids)
	return g
}

// Part makes a graph that knows the whole tree and has read none of its files: Read does that, a few at a time.
func Part(tree *project.Project, languages lang.Languages, declared *lang.Declared) *Graph {
	g := newGraph(tree, languages, declared)
	g.part = make([]bool, len(g.Files))
	g.readRules()
	return g
}

// IsPart says whether files are read when Read is called for them.
func (g *Graph) IsPart() bool { return g.part != nil }

// Read reads some files of a part, and gives those of them that had not been read before.
func (g *Graph) Read(ids []project.FileID) (read []project.FileID) {
	for _, id := range ids {
		if !g.part[id] {
			g.part[id] = true
			read = append(read, id)
		}
	}
	g.scan(read)
	g.resolve(read)
	return read
}

// Rebuild makes the graph of an overlay. newID gives the new ID of each file of g's tree; changed are the new IDs of
// files whose bytes differ, declared is what the convention says of the new tree. Files that g's tree does not have are
// read.
func (g *Graph) Rebuild(tree *project.Project, newID []project.FileID, changed map[project.FileID]bool,
	declared *lang.Declared) *Graph {
	next := newGraph(tree, g.Languages, declared)
	var ids []project.FileID
	known := make([]bool, len(next.Files))
	for old := range g.Files {
		id := newID[old]
		known[id] = true
		n := &next.Files[id]
		// what a file is called may decide how it is read, and where it lies does not
		same := path.Base(g.Tree.Path(project.FileID(old))) == path.Base(tree.Path(id))
		switch {
		case n.Family < 0:
		case same && !changed[id]:
			n.Mentions, n.outline, n.lateOutline, n.Err = g.Files[old].Mentions, g.Files[old].outline,
				g.Files[old].lateOutline,
				g.Files[old].Err
		default:
			ids = append(ids, id)
		}
	}
	everything := make([]project.FileID, len(next.Files))
	for id := range next.Files {
		everything[id] = project.FileID(id)
		if !known[id] {
			ids = append(ids, project.FileID(id))
		}
	}
	slices.Sort(ids)
	next.scan(ids)
	next.readRules()
	next.resolve(everything)
	return next
}

// Ahead makes the graph of an overlay as far as new spellings need it: it says where names lead there, and holds no
// mentions.
func (g *Graph) Ahead(tree *project.Project, declared *lang.Declared) *Graph {
	next := newGraph(tree, g.Languages, declared)
	next.readRules()
	return next
}

func newGraph(tree *project.Project, languages lang.Languages, declared *lang.Declared) *Graph {
	g := &Graph{Tree: tree, Files: make([]FileNode, len(tree.Files)), Languages: languages, Declared: declared}
	parallel.Do(len(tree.Files), func(id int) {
		g.Files[id].Family = -1
		if tree.Files[id].Link {
			return
		}
		as, plain := languages.As(tree.Files[id].Path, declared, func() (head []byte) {
			tree.Peek(project.FileID(id), func(content []byte, err error) {
				head = slices.Clone(content[:min(len(content), longestFirstLine)])
			})
			return head
		})
		if plain {
			g.Files[id].Plain = true
			return
		}
		if as != tree.Files[id].Path {
			g.Files[id].As = as
		}
		for i, family := range languages.Families {
			if family.Reads(as) {
				g.Files[id].Family = int8(i)
				return
			}
		}
	})
	return g
}

// longestFirstLine is how much is read of a file to see which program runs it, in bytes.
const longestFirstLine = 200

// as is the path by whose ending a file is read.
func (g *Graph) as(id project.FileID) string {
	if as := g.Files[id].As; as != "" {
		return as
	}
	return g.Tree.Path(id)
}

// passing says whether the contents of files are looked at once and not kept: nobody edits them, or they are edits.
func (g *Graph) passing() bool {
	return g.seen != nil || g.Declared != nil && g.Declared.Certain || g.Tree.IsOverlay()
}

// look calls f with the content of a file, if that can be read.
func (g *Graph) look(id project.FileID, f func(content []byte)) {
	look := func(content []byte, err error) {
		if err == nil {
			f(content)
		}
	}
	if g.passing() {
		g.Tree.Peek(id, look)
	} else {
		look(g.Tree.Content(id))
	}
}

// scan scans those of some files that a family reads.
func (g *Graph) scan(ids []project.FileID) {
	ids = slices.DeleteFunc(slices.Clone(ids), func(id project.FileID) bool { return g.Files[id].Family < 0 })
	g.Tree.ForEach(ids, !g.passing(), func(id project.FileID, content []byte, err error) {
		n := &g.Files[id]
		if err != nil {
			n.Err = err
			return
		}
		if g.seen != nil {
			g.seen(id, content)
		}
		// spans count bytes of UTF-8: in another encoding every edit would be wrong
		if bytes.HasPrefix(content, []byte("\xff\xfe")) || bytes.HasPrefix(content, []byte("\xfe\xff")) {
			n.Err = &lang.ScanError{Message: "it is UTF-16, which is not read"}
			return
		}
		var found lang.Scanned
		found, n.Err = g.Languages.Scan(&g.Languages.Families[n.Family], g.Tree.Path(id), g.as(id), content, g.Declared)
		n.Mentions, n.outline = found.Mentions, found.Outline
		if found.Early != nil {
			n.lateOutline = &lateOutline{Early: *found.Early}
		}
	})
}

// lateOutline is an outline that is read when somebody asks for it.
type lateOutline struct {
	lang.Early
	once    sync.Once
	outline *lang.Outline
}

// Declarations gives all declarations of some kinds that a file has at its top level, and may give others.
func (g *Graph) Declarations(id project.FileID, kinds lang.DeclarationKinds) []lang.Declaration {
	if lateOutline := g.Files[id].lateOutline; lateOutline != nil && kinds&^lateOutline.Known == 0 {
		return lateOutline.Declarations
	}
	if outline := g.Outline(id); outline != nil {
		return outline.Declarations
	}
	return nil
}

// Outline is what a file declares; nil where nobody asked for outlines, or the file has none.
func (g *Graph) Outline(id project.FileID) *lang.Outline {
	n := &g.Files[id]
	if n.lateOutline == nil {
		return n.outline
	}
	n.lateOutline.once.Do(func() {
		whole := *g.Declared
		whole.Certain = false
		g.look(id, func(content []byte) {
			// what is wrong has been reported
			found, _ := g.Languages.Scan(&g.Languages.Families[n.Family], g.Tree.Path(id), g.as(id), content, &whole)
			n.lateOutline.outline = found.Outline
		})
	})
	return n.lateOutline.outline
}

// readRules reads the settings of the tree.
func (g *Graph) readRules() {
	g.known = g.Languages.Tree(g.Tree, g.Declared)
	for _, rules := range g.known.Rules() {
		g.Warnings = append(g.Warnings, rules.Warnings...)
	}
}

// resolve runs over files that were scanned, on all cores.
func (g *Graph) resolve(ids []project.FileID) {
	parallel.Do(len(ids), func(i int) { g.resolveFile(ids[i]) })
	for _, id := range ids {
		if err := g.Files[id].Err; err != nil {
			g.Warnings = append(g.Warnings, g.warning(id, err))
		}
	}
	// files are resolved in any order, and what is said of them must not depend on it
	slices.Sort(g.Warnings)
	g.Warnings = slices.Compact(g.Warnings)
}

func (g *Graph) warning(id project.FileID, err error) string {
	var scan *lang.ScanError
	if errors.As(err, &scan) {
		return fmt.Sprintf("%s: %s; it is passed over", g.Tree.Path(id), scan.Message)
	}
	return err.Error()
}

func (g *Graph) resolveFile(id project.FileID) {
	n := &g.Files[id]
	if len(n.Mentions) > 0 {
		n.Targets = make([]lang.Target, len(n.Mentions))
	}
	for i := range n.Mentions {
		m := &n.Mentions[i]
		n.Targets[i] = g.Resolver(m).Resolve(id, m)
	}
	all := g.known.Rules()
	for i := range all {
		if rules := &all[i]; rules.Asks != nil && (n.Family >= 0 || rules.AnyFile) && rules.Asks(id, n.Mentions, n.Targets) {
			g.lookAgain(id, rules)
		}
	}
}

// lookAgain adds what a language finds in a file when it is known where its mentions lead.
func (g *Graph) lookAgain(id project.FileID, rules *lang.Rules) {
	n := &g.Files[id]
	var found []lang.Mention
	g.look(id, func(content []byte) { found = rules.Second(id, content) })
	if len(found) == 0 {
		return
	}
	type resolved struct {
		mention lang.Mention
		target  lang.Target
	}
	all := make([]resolved, 0, len(n.Mentions)+len(found))
	for i, m := range n.Mentions {
		all = append(all, resolved{m, n.Targets[i]})
	}
	for _, m := range found {
		all = append(all, resolved{m, rules.Resolver.Resolve(id, &m)})
	}
	slices.SortStableFunc(all, func(a, b resolved) int { return a.mention.Span.Start - b.mention.Span.Start })
	n.Mentions, n.Targets = make([]lang.Mention, 0, len(all)), make([]lang.Target, 0, len(all))
	for _, r := range all {
		// of two that overlap the one that leads somewhere, and of two that do one that is certain
		if last := len(n.Mentions) - 1; last >= 0 && n.Mentions[last].Span.End > r.mention.Span.Start {
			surer := n.Mentions[last].Likely && !r.mention.Likely
			if n.Targets[last].Kind.Inside() && !surer || !r.target.Kind.Inside() {
				continue
			}
			n.Mentions, n.Targets = n.Mentions[:last], n.Targets[:last]
		}
		n.Mentions, n.Targets = append(n.Mentions, r.mention), append(n.Targets, r.target)
	}
}

// Rules are what answers for the mentions of this tree, by the kinds that each answers for.
func (g *Graph) Rules() []lang.Rules { return g.known.Rules() }

// RulesFor gives the rules that answer for a mention.
func (g *Graph) RulesFor(m *lang.Mention) *lang.Rules { return g.known.RulesFor(m.Kind) }

// Counterpart gives the rules of this graph's tree that answer for the kinds of those of another's.
func (g *Graph) Counterpart(rules *lang.Rules) *lang.Rules { return g.known.RulesFor(rules.Kinds[0]) }

// Resolver gives what answers for a mention.
func (g *Graph) Resolver(m *lang.Mention) lang.Resolver { return g.known.Resolver(m.Kind) }

// Links are the files to which a file belongs though no text says so: of which it is a part by their names, and those
// that its language knows of.
func (g *Graph) Links(from project.FileID) (out []lang.Link) {
	p := g.Tree.Path(from)
	if owner, is := g.Tree.Lookup(g.Languages.Owner(p,
		func(p string) bool { _, is := g.Tree.Lookup(p); return is })); is {
		out = append(out, lang.Link{To: owner, Why: "is a part of " + g.Tree.Path(owner) + ", by its name"})
	}
	for _, rules := range g.known.Rules() {
		if rules.Links != nil {
			out = append(out, rules.Links(from)...)
		}
	}
	return out
}

// Reference is a mention of a file that leads to a file of the tree.
type Reference struct {
	From    project.FileID
	Mention int // index in the file's mentions
}

// References gives, for each file, who refers to it, in the order of their paths.
func (g *Graph) References() [][]Reference {
	counts := make([]int, len(g.Files))
	total := 0
	each := func(f func(id project.FileID, mention int, to project.FileID)) {
		for id := range g.Files {
			for i, t := range g.Files[id].Targets {
				if t.Kind == lang.ToFile {
					f(project.FileID(id), i, t.File)
					if t.Twin != project.None {
						f(project.FileID(id), i, t.Twin)
					}
				}
			}
		}
	}
	each(func(_ project.FileID, _ int, to project.FileID) { counts[to]++; total++ })
	flat := make([]Reference, 0, total)
	out := make([][]Reference, len(g.Files))
	for id, n := range counts {
		start := len(flat)
		flat = flat[:start+n]
		out[id] = flat[start : start : start+n]
	}
	each(func(id project.FileID, mention int, to project.FileID) {
		out[to] = append(out[to], Reference{From: id, Mention: mention})
	})
	return out
}

// Position gives the line and column of a mention. Those of a file are worked out for all of its mentions at once:
// whoever asks for one often asks for the others, and in a long line each would take as long as all.
func (g *Graph) Position(r Reference) source.Position {
	if known, ok := g.positions.Load(r.From); ok {
		return known.([]source.Position)[r.Mention]
	}
	offsets := make([]int, len(g.Files[r.From].Mentions))
	for i := range offsets {
		offsets[i] = g.Files[r.From].Mentions[i].Span.Start
	}
	at := make([]source.Position, len(offsets))
	g.look(r.From, func(content []byte) { at = source.PositionsAt(content, offsets) })
	g.positions.Store(r.From, at)
	return at[r.Mention]
}
