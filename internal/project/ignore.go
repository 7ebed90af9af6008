package project

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"
)

// ruleSet is one ignore file's rules, and those of the files before it, which are weaker. The rules are git's
// (gitignore, section PATTERN FORMAT); a test asks git itself. A rule without wildcards, or with one at the head of a
// name, is looked up; only the others are tried one by one.
type ruleSet struct {
	weaker *ruleSet
	folder string // the rules speak of what lies below; empty or with a slash at the end
	prefix string // of the root as seen from the rules, where they come from outside
	outer  bool   // they come from outside

	names, paths, endings map[string]verdicts // by what the name is, what the path is, and what the name ends in
	lengths               []int               // of the endings
	globs                 []glob
}

// verdict is the number of a rule in its file, from 1, below 0 if it keeps what it matches; 0 for none. A later one is
// stronger.
type verdict int32

func (v verdict) strength() verdict { return max(v, -v) }

// verdicts are those of the last rule for files and of the last for folders.
type verdicts struct{ file, folder verdict }

// glob is a rule that is tried.
type glob struct {
	pattern  string
	literal  string // a part of all that it can match
	verdict  verdict
	dirOnly  bool
	anchored bool // the pattern is of the path, not of the name
}

// What is read of an ignore file. Beyond it nothing that people write was seen, and the time for each file of the tree
// would have no bound.
const (
	mostGlobs    = 1000 // that are tried one by one
	mostStars    = 32   // in one pattern
	longestRule  = 4096 // bytes
	largestRules = 16 << 20
)

// parseIgnore reads an ignore file. left says what was not read of it; empty for nothing.
func parseIgnore(weaker *ruleSet, folder, prefix string, text []byte) (set *ruleSet, left string) {
	set = &ruleSet{weaker: weaker, folder: folder, prefix: prefix}
	text = bytes.TrimPrefix(text, []byte("\xEF\xBB\xBF"))
	number, dropped := verdict(0), 0
	for line := range strings.SplitSeq(string(text), "\n") {
		number++
		if !set.add(strings.TrimSuffix(line, "\r"), number) {
			dropped++
		}
	}
	if dropped > 0 {
		left = fmt.Sprintf("%d of its rules are not read: it has more than %d with wildcards, or one with more than "+
			"%d stars or %d bytes", dropped, mostGlobs, mostStars, longestRule)
	}
	if len(set.names)+len(set.paths)+len(set.endings)+len(set.globs) == 0 {
		return weaker, left
	}
	for ending := range set.endings {
		if !slices.Contains(set.lengths, len(ending)) {
			set.lengths = append(set.lengths, len(ending))
		}
	}
	return set, left
}

// add reads one line; false if it is beyond what is read.
func (s *ruleSet) add(line string, number verdict) bool {
	for strings.HasSuffix(line, " ") && !strings.HasSuffix(line, `\ `) {
		line = line[:len(line)-1]
	}
	if line == "" || line[0] == '#' {
		return true
	}
	if len(line) > longestRule {
		return false
	}
	if line[0] == '!' {
		number = -number
		line = line[1:]
	}
	dirOnly := strings.HasSuffix(line, "/")
	line = strings.TrimSuffix(line, "/")
	anchored := strings.Contains(line, "/")
	line = strings.TrimPrefix(line, "/")
	if line == "" {
		return true
	}
	const special = `*?[\`
	switch {
	case !strings.ContainsAny(line, special) && anchored:
		put(&s.paths, line, number, dirOnly)
	case !strings.ContainsAny(line, special):
		put(&s.names, line, number, dirOnly)
	case !anchored && line[0] == '*' && !strings.ContainsAny(line[1:], special):
		put(&s.endings, line[1:], number, dirOnly)
	case len(s.globs) >= mostGlobs || strings.Count(line, "*") > mostStars:
		return false
	default:
		// The library reads {a,b} and lets a final /** match the folder itself; git does neither.
		pattern := strings.NewReplacer("{", `\{`, "}", `\}`).Replace(line)
		if strings.HasSuffix(pattern, "/**") {
			pattern += "/*"
		}
		s.globs = append(s.globs, glob{pattern, literalOf(line), number, dirOnly, anchored})
	}
	return true
}

func put(into *map[string]verdicts, key string, number verdict, dirOnly bool) {
	if *into == nil {
		*into = map[string]verdicts{}
	}
	v := (*into)[key]
	v.folder = number
	if !dirOnly {
		v.file = number
	}
	(*into)[key] = v
}

// literalOf gives the longest run of a pattern that stands in all that it matches as it is.
func literalOf(pattern string) string {
	if strings.ContainsAny(pattern, `[\`) {
		return ""
	}
	longest := ""
	for run := range strings.FieldsFuncSeq(pattern, func(r rune) bool { return r == '*' || r == '?' || r == '/' }) {
		if len(run) > len(longest) {
			longest = run
		}
	}
	return longest
}

// ignores decides by the last rule of the strongest file that matches.
func (s *ruleSet) ignores(path string, dir bool) bool {
	by, negated := s.matching(path, dir)
	return by != nil && !negated
}

// matching gives the rules that decide about a path, and whether they keep it; nil for none.
func (s *ruleSet) matching(path string, dir bool) (by *ruleSet, negated bool) {
	name := path[strings.LastIndexByte(path, '/')+1:]
	for ; s != nil; s = s.weaker {
		if v := s.judge(name, path, dir); v != 0 {
			return s, v < 0
		}
	}
	return nil, false
}

// judge gives the last rule of one file that matches; 0 for none.
func (s *ruleSet) judge(name, path string, dir bool) verdict {
	var last verdict
	take := func(v verdicts) {
		one := v.file
		if dir {
			one = v.folder
		}
		if one.strength() > last.strength() {
			last = one
		}
	}
	if len(s.names) > 0 {
		take(s.names[name])
	}
	for _, n := range s.lengths {
		if n <= len(name) {
			take(s.endings[name[len(name)-n:]])
		}
	}
	if len(s.paths)+len(s.globs) == 0 {
		return last
	}
	below := s.prefix + strings.TrimPrefix(path, s.folder)
	if len(s.paths) > 0 {
		take(s.paths[below])
	}
	for i := len(s.globs) - 1; i >= 0 && s.globs[i].verdict.strength() > last.strength(); i-- {
		g := &s.globs[i]
		if g.dirOnly && !dir {
			continue
		}
		subject := name
		if g.anchored {
			subject = below
		}
		if strings.Contains(subject, g.literal) {
			if ok, err := doublestar.Match(g.pattern, subject); ok && err == nil {
				return g.verdict
			}
		}
	}
	return last
}

// Ignoring says of places whether a file that came there would be left out of the tree, and by which ignore file, or by
// .git of a repository of its own; the name of one outside the tree is empty. What git tracks there counts for nothing:
// a file that comes is new to it.
func (p *Project) Ignoring() func(place string) (by string, ignored bool) {
	type within struct {
		rules   *ruleSet
		by      string
		ignored bool
	}
	judge := func(w within, place string, folder bool) (by string, ignored bool) {
		switch set, negated := w.rules.matching(place, folder); {
		case set == nil || negated:
			return "", false
		case set.outer:
			return "", true
		default:
			return set.folder + ".gitignore", true
		}
	}
	known := map[string]within{} // by folder, with a slash at the end
	var of func(folder string) within
	of = func(folder string) within {
		w, ok := known[folder]
		if ok {
			return w
		}
		w.rules = p.outer
		if folder != "" {
			place := folder[:len(folder)-1]
			if w = of(place[:strings.LastIndexByte(place, '/')+1]); !w.ignored {
				w.by, w.ignored = judge(w, place, true)
			}
			if p.own[place] && !w.ignored {
				w.by, w.ignored = folder+".git", true
			}
		}
		if !w.ignored {
			if text, err := p.ReadOutside(folder + ".gitignore"); err == nil { // it may be ignored itself
				w.rules, _ = parseIgnore(w.rules, folder, "", text)
			}
		}
		known[folder] = w
		return w
	}
	return func(place string) (string, bool) {
		w := of(place[:strings.LastIndexByte(place, '/')+1])
		if w.ignored {
			return w.by, true
		}
		return judge(w, place, false)
	}
}
