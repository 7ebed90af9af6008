package dart

import (
	"fmt"
	"strings"

	"crookedshelf/internal/lang"
)

// Said writes down the directives of a text, a line each with its place and quotes, so that it can be compared with what
// another reader says.
func Said(content []byte) (lines []string, err error) {
	found, err := scan(lang.Source{Content: content, Imports: true})
	for i := range found.Mentions {
		m := &found.Mentions[i]
		from, to := m.Span.Start-1, m.Span.End+1
		if from > 1 && content[from-1] == m.Quote && content[from-2] == m.Quote { // in three quotes
			from, to = from-2, to+2
		}
		if from > 0 && content[from-1] == 'r' {
			from--
		}
		lines = append(lines, fmt.Sprintf("%s\t%d\t%d\t%s", m.Kind.Name, from, to, strings.TrimSpace(string(content[from:to]))))
	}
	return lines, err
}
