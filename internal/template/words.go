package template

import (
	"slices"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"github.com/gertd/go-pluralize"
)

// Words splits a name where its case or punctuation changes: SeeingLog, seeing-log and seeing_log are all [seeing log];
// HTTPClient is [http client]. Digits stay with the letters before them.
func Words(s string) []string {
	var words []string
	start := 0 // of the word
	flush := func(end int) {
		if end > start {
			words = append(words, strings.ToLower(s[start:end]))
		}
	}
	last := rune(0)
	for i, r := range s {
		size := utf8.RuneLen(r)
		switch {
		case !unicode.IsLetter(r) && !unicode.IsDigit(r):
			if flush(i); r == utf8.RuneError {
				_, size = utf8.DecodeRuneInString(s[i:]) // it may stand for a single byte
			}
			start = i + size
		case unicode.IsUpper(r) && i > 0:
			next, _ := utf8.DecodeRuneInString(s[i+size:])
			if !unicode.IsUpper(last) || unicode.IsLower(next) { // it begins a word, or the acronym has ended
				flush(i)
				start = i
			}
		}
		last = r
	}
	flush(len(s))
	return words
}

// SameWords says whether two names are one name in different spellings.
func SameWords(a, b string) bool { return a == b || slices.Equal(Words(a), Words(b)) }

// Filters are the cases in which a placeholder may be written.
var Filters = map[string]func(string) string{
	"kebab":    func(s string) string { return strings.Join(Words(s), "-") },
	"snake":    func(s string) string { return strings.Join(Words(s), "_") },
	"pascal":   func(s string) string { return joinTitled(Words(s), 0) },
	"camel":    func(s string) string { return joinTitled(Words(s), 1) },
	"plural":   func(s string) string { return lastWord(s, func(s string) string { return plurals().Plural(s) }) },
	"singular": func(s string) string { return lastWord(s, func(s string) string { return plurals().Singular(s) }) },
	"dots":     func(s string) string { return strings.ReplaceAll(s, "/", ".") },
}

// chain parts several cases, which are applied one after the other.
func chain(filter string) []string {
	if filter == "" {
		return nil
	}
	return strings.Split(filter, "|")
}

// counts says whether a case says how many there are of what a name names.
func counts(filter string) bool {
	return slices.ContainsFunc(chain(filter), func(one string) bool { return one == "plural" || one == "singular" })
}

// IsCase says whether a text is a case, or several with | between, or nothing.
func IsCase(filter string) bool {
	return !slices.ContainsFunc(chain(filter), func(one string) bool { return Filters[one] == nil })
}

// InCase writes a name in a case, or in several one after the other, with | between. A case that is not known changes
// nothing.
func InCase(name, filter string) string {
	for _, one := range chain(filter) {
		if f := Filters[one]; f != nil {
			name = f(name)
		}
	}
	return name
}

// plurals compiles its rules once.
var plurals = sync.OnceValue(pluralize.NewClient)

// FilterNames is the order in which messages and the reference list the filters.
var FilterNames = []string{"kebab", "snake", "camel", "pascal", "plural", "singular", "dots"}

// joinTitled writes words together, each from index lower on with a capital.
func joinTitled(words []string, lower int) string {
	var out strings.Builder
	for i, w := range words {
		if i < lower {
			out.WriteString(w)
			continue
		}
		r, size := utf8.DecodeRuneInString(w)
		out.WriteRune(unicode.ToUpper(r))
		out.WriteString(w[size:])
	}
	return out.String()
}

// lastWord changes the last word of a name and leaves the rest as it is written.
func lastWord(s string, change func(string) string) string {
	words := Words(s)
	if len(words) == 0 {
		return s
	}
	last := words[len(words)-1]
	at := strings.LastIndex(strings.ToLower(s), last)
	if at < 0 || at+len(last) > len(s) {
		return change(s)
	}
	return s[:at] + change(s[at:at+len(last)]) + s[at+len(last):]
}

// WordsKey is the same for two names that have the same words.
func WordsKey(name string) string { return strings.Join(Words(name), " ") }
