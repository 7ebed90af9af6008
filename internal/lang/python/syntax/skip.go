package syntax

import (
	"bytes"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/early"
)

// skips says whether a mention of a file can be known by what is around it, so that what stands behind the last that
// may be one need not be read, unless for its outline.
func (t *texts) skips(declared *lang.Declared) bool {
	return declared != nil && !t.settings && !t.exports && t.stated == nil
}

// lastMention gives the place behind the last place of a file that may hold a mention, or lead to one that stands
// behind it; 0 if there is none. certain: those do not count that only look like names of modules.
func lastMention(src []byte, certain bool) int {
	last := candidates.Last(src)
	if certain {
		return last
	}
	role, session, typed := early.LastMark(src, ":`", 1), early.LastMark(src, ">>> from", 0),
		early.LastMark(src, "# type: ", 0)
	return max(last, role, session, typed, lastName(src), lastPath(src))
}

// lastPath gives the place behind the last text in quotes that looks like a path; 0 if there is none.
func lastPath(src []byte) int {
	return early.LastInQuotes(src, '/', &noPath, &stringQuotes, longestText)
}

// stringQuotes are the bytes around strings.
var stringQuotes = [256]bool{'\'': true, '"': true}

// lastName gives the place behind the last name of several parts in quotes; 0 if there is none. Whether it is a string
// is not asked.
func lastName(src []byte) int {
	last := 0
	early.Backwards(src, '\'', '"', func(end int) bool {
		parts, start := false, end
		for start > 0 && (nameParts[src[start-1]] || src[start-1] == '.' || src[start-1] == ':') {
			start--
			parts = parts || src[start] == '.' || src[start] == ':'
		}
		if parts && start > 0 && src[start-1] == src[end] {
			last = end + 1
		}
		return last > 0
	})
	return last
}

// candidates are the words that may lead to a mention which is certain, or show that a file is Python 2: import in all
// its forms, a file's own place, loaders and resources with a string, settings by their name, and statements that are
// none any more.
var candidates = early.NewWords([]string{
	"mpor,ltip", "file,exec,kage", "dict,_mod,_MOD", "tatt,latt,xcep", "urce,_spe", "prin,nclu", "olve,patc",
	"_obj,_dat",
}, nil, "pfdvaujckMx", candidateAt)

// anchored are the words of candidates by their anchors, with how many bytes stand before that.
var anchored = [256][]struct {
	word   string
	before int
}{
	'p': {{"import", 2}, {"find_spec", 6}, {"patch", 0}, {"multiple", 5}, {"print", 0}},
	'f': {{"__file__", 2}, {"files", 0}},
	'd': {{"run_module", 6}, {"load_module", 7}, {"dict", 0}, {"get_data", 4}},
	'v': {{"resolve_name", 5}},
	'a': {{"setattr", 3}, {"delattr", 3}},
	'u': {{"include", 4}},
	'j': {{"from_object", 7}},
	'c': {{"resource_filename", 6}, {"resource_string", 6}, {"resource_stream", 6}, {"resource_exists", 6}},
	'k': {{"PackageLoader", 3}},
	'M': {{"_SETTINGS_MODULE", 10}},
	'x': {{"exec", 1}, {"except", 1}},
}

// candidateAt gives the end of the word that has its anchor at i, if it is a candidate by what is around it; else 0.
func candidateAt(src []byte, i int) int {
	for _, a := range anchored[src[i]] {
		start := i - a.before
		if start < 0 || !bytes.HasPrefix(src[start:], []byte(a.word)) {
			continue
		}
		end := start + len(a.word)
		s := Scanner{Src: src, Pos: end}
		switch a.word {
		case "import", "__file__", "_SETTINGS_MODULE":
			return end
		case "print", "exec":
			if s.printed(a.word); s.old != "" {
				return end
			}
		case "except":
			if s.caught(); s.old != "" {
				return end
			}
		default:
			if s.takesString() {
				return end
			}
		}
	}
	return 0
}

// takesString says whether a call begins here whose first argument is a string or the file's own package, or stands
// behind a comment.
func (s *Scanner) takesString() bool {
	s.space()
	if s.at(s.Pos) != '(' {
		return false
	}
	s.Pos++
	s.space()
	if nameStart(s.at(s.Pos)) {
		if word := s.word(); !prefixed(word) {
			return ownPackage(word)
		}
	}
	c := s.at(s.Pos)
	return c == '\'' || c == '"' || c == '#'
}

// space passes over white space and line ends of every kind.
func (s *Scanner) space() {
	for bytes.IndexByte([]byte(" \t\f\r\n\\"), s.at(s.Pos)) >= 0 && s.Pos < len(s.Src) {
		s.Pos++
	}
}
