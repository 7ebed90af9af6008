package leftover

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Unread is a file that no language reads, and that moves.
type Unread struct {
	Content  []byte
	From, To string
	Known    []source.Span // texts of which it is known where they lead, in their order
}

// Loses gives the first text of a file that no language reads which leads to something from the file's own folder, and
// would not lead to it from the folder that the file moves to. There is none in what is not text. now gives the new
// path of a file or folder of the tree.
func (u *Unread) Loses(tree *project.Project, now func(old string) string) (text string, line int, found bool) {
	if binary(u.Content) || len(u.Content) > Most {
		return "", 0, false
	}
	from, to := project.Dir(u.From), project.Dir(u.To)
	for at := 0; at < len(u.Content); {
		if !inPath(u.Content[at]) {
			at++
			continue
		}
		start := at
		for at < len(u.Content) && inPath(u.Content[at]) {
			at++
		}
		word := strings.TrimRight(string(u.Content[start:at]), ".*/")
		relative := strings.HasPrefix(word, "./") || strings.HasPrefix(word, "../")
		if len(word) > 300 || strings.Trim(word, "./") == "" || strings.HasPrefix(word, "/") ||
			!relative && !strings.Contains(word, "/") && path.Ext(word) == "" {
			continue
		}
		old := path.Join(from, word)
		if _, is := tree.Lookup(old); !is && !(tree.IsDir(old) && (relative || strings.Contains(word, "/"))) ||
			old == u.From || u.known(start) {
			continue
		}
		if now(old) != path.Join(to, word) {
			return word, source.PositionAt(u.Content, start).Line, true
		}
	}
	return "", 0, false
}

// known says whether a place lies in a text of which it is known where it leads.
func (u *Unread) known(at int) bool {
	return slices.ContainsFunc(u.Known, func(s source.Span) bool { return s.Start <= at && at < s.End })
}
