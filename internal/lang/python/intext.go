package python

import "bytes"

// inText says whether a place lies in a string or a comment, by what opens and closes those.
func inText(src []byte, at int) bool {
	for i := 0; i < at; {
		switch c := src[i]; c {
		case '#':
			end := bytes.IndexByte(src[i:], '\n')
			if end < 0 || i+end >= at {
				return true
			}
			i += end
		case '"', '\'':
			quote := src[i : i+1]
			if triple := bytes.Repeat(quote, 3); bytes.HasPrefix(src[i:], triple) {
				quote = triple
			}
			for i += len(quote); i < len(src) && !bytes.HasPrefix(src[i:], quote) && (len(quote) == 3 || src[i] != '\n'); i++ {
				if src[i] == '\\' {
					i++
				}
			}
			if i += len(quote); i > at {
				return true
			}
		default:
			i++
		}
	}
	return false
}
