package project

import (
	"bytes"
	"strings"

	"github.com/bmatcuk/doublestar/v4"
)

// ruleSet is one ignore file's rules, and those of the files before it, which are weaker. The rules are git's
// (gitignore, section PATTERN FORMAT); a test asks git itself.
type ruleSet struct {
	weaker *ruleSet
	folder string // the rules speak of what lies below; empty or with a slash at the end
	prefix string // of the root as seen from the rules, where they come from outside
	outer  bool   // they come from outside
	rules  []rule
}

type rule struct {
	pattern  string
	negated  bool
	dirOnly  bool
	anchored bool // the pattern is of the path, not of the name
	kind     ruleKind
}

// ruleKind has the frequent shapes of patterns that need no globbing.
type ruleKind uint8

const (
	ruleGlob   ruleKind = iota
	ruleExact           // no special characters
	ruleEnding          // * and then no special characters; pattern holds what follows the *
)

func parseIgnore(weaker *ruleSet, folder, prefix string, text []byte) *ruleSet {
	set := &ruleSet{weaker: weaker, folder: folder, prefix: prefix}
	text = bytes.TrimPrefix(text, []byte("\xEF\xBB\xBF"))
	for line := range strings.SplitSeq(string(text), "\n") {
		if r, ok := parseRule(strings.TrimSuffix(line, "\r")); ok {
			set.rules = append(set.rules, r)
		}
	}
	if len(set.rules) == 0 {
		return weaker
	}
	return set
}

func parseRule(line string) (rule, bool) {
	for strings.HasSuffix(line, " ") && !strings.HasSuffix(line, `\ `) {
		line = line[:len(line)-1]
	}
	if line == "" || line[0] == '#' {
		return rule{}, false
	}
	var r rule
	if line[0] == '!' {
		r.negated = true
		line = line[1:]
	}
	if strings.HasSuffix(line, "/") {
		r.dirOnly = true
		line = line[:len(line)-1]
	}
	r.anchored = strings.Contains(line, "/")
	line = strings.TrimPrefix(line, "/")
	if line == "" {
		return rule{}, false
	}
	switch {
	case !strings.ContainsAny(line, `*?[\`):
		r.kind, r.pattern = ruleExact, line
	case !r.anchored && line[0] == '*' && !strings.ContainsAny(line[1:], `*?[\`):
		r.kind, r.pattern = ruleEnding, line[1:]
	default:
		// The library reads {a,b} and lets a final /** match the folder itself; git does neither.
		r.pattern = strings.NewReplacer("{", `\{`, "}", `\}`).Replace(line)
		if strings.HasSuffix(r.pattern, "/**") {
			r.pattern += "/*"
		}
	}
	return r, true
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
		below := s.prefix + strings.TrimPrefix(path, s.folder)
		for i := len(s.rules) - 1; i >= 0; i-- {
			r := s.rules[i]
			if r.dirOnly && !dir {
				continue
			}
			subject := name
			if r.anchored {
				subject = below
			}
			if r.matches(subject) {
				return s, r.negated
			}
		}
	}
	return nil, false
}

// Ignoring says of places whether a file that came there would be left out of the tree, and by which ignore file; the name of
// one outside the tree is empty. What git tracks there counts for nothing: a file that comes is new to it.
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
		}
		if !w.ignored {
			if text, err := p.ReadOutside(folder + ".gitignore"); err == nil { // it may be ignored itself
				w.rules = parseIgnore(w.rules, folder, "", text)
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

func (r rule) matches(subject string) bool {
	switch r.kind {
	case ruleExact:
		return r.pattern == subject
	case ruleEnding:
		return strings.HasSuffix(subject, r.pattern)
	}
	ok, err := doublestar.Match(r.pattern, subject)
	return ok && err == nil
}
