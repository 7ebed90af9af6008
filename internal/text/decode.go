package text

import (
	"bytes"
	"strconv"
	"strings"
	"unicode/utf8"
)

// DecodeScript gives the value of the text of a script's string literal. A malformed escape stands for itself.
func DecodeScript(text []byte) string {
	if bytes.IndexByte(text, '\\') < 0 {
		return string(text)
	}
	var out strings.Builder
	for i := 0; i < len(text); i++ {
		if text[i] != '\\' || i+1 == len(text) {
			out.WriteByte(text[i])
			continue
		}
		i++
		switch c := text[i]; c {
		case 'n':
			out.WriteByte('\n')
		case 't':
			out.WriteByte('\t')
		case 'r':
			out.WriteByte('\r')
		case 'b':
			out.WriteByte('\b')
		case 'f':
			out.WriteByte('\f')
		case 'v':
			out.WriteByte('\v')
		case '0':
			out.WriteByte(0)
		case '\n':
		case '\r':
			if i+1 < len(text) && text[i+1] == '\n' {
				i++
			}
		case 'x', 'u':
			r, width := escapedRune(text[i:])
			if width == 0 {
				out.WriteByte(c)
				continue
			}
			out.WriteRune(r)
			i += width - 1
		default:
			out.WriteByte(c)
		}
	}
	return out.String()
}

// escapedRune reads x41, u0041 or u{41}; a width of 0 means that it is none of these.
func escapedRune(text []byte) (r rune, width int) {
	digits := text[1:]
	switch {
	case text[0] == 'x' && len(digits) >= 2:
		digits, width = digits[:2], 3
	case text[0] == 'u' && len(digits) > 0 && digits[0] == '{':
		end := bytes.IndexByte(digits, '}')
		if end < 0 {
			return 0, 0
		}
		digits, width = digits[1:end], end+2
	case text[0] == 'u' && len(digits) >= 4:
		digits, width = digits[:4], 5
	default:
		return 0, 0
	}
	n, err := strconv.ParseUint(string(digits), 16, 32)
	if err != nil || n > utf8.MaxRune {
		return 0, 0
	}
	return rune(n), width
}
