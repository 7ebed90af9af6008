package journal

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
)

// unmarked stands in place of a mark where there was no key.
const unmarked = "none"

// mark is what only the owner of a key can write below a text (RFC 2104). Where there is no key there is none.
func mark(key []byte, text string) string {
	if len(key) == 0 {
		return unmarked
	}
	h := hmac.New(sha256.New, key)
	h.Write([]byte(text))
	return hex.EncodeToString(h.Sum(nil))
}

// marked says whether a text has the mark of a key. Nothing has the mark of none.
func marked(key []byte, text, found string) bool {
	return len(key) > 0 && hmac.Equal([]byte(mark(key, text)), []byte(found))
}
