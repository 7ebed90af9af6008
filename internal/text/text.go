// Package text has what readers and writers of several languages share: characters, lines with their indentation and
// their manner of ending, marks that open and close, and how values are written in quotes. It knows no language: each
// function says which manner it follows.
//
// lines.go has lines, marks.go marks and quotes, encode.go and decode.go values in quotes.
package text

// Space says whether a byte is a blank, a tab, a form feed or a line end.
func Space(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' }
