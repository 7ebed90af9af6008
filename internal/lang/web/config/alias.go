package config

import (
	"slices"
	"strings"
)

// PathAlias is one entry of paths. Targets are paths from the root; a single * in the pattern and the target stand for
// the same text.
type PathAlias struct {
	Pattern string
	Targets []string
	Scope   string // the folder in whose files it is known, with a slash at its end; empty for all
}

// StarMatch gives what * stands for when pattern matches text.
func StarMatch(pattern, text string) (string, bool) {
	head, tail, has := strings.Cut(pattern, "*")
	if !has || len(text) < len(head)+len(tail) || !strings.HasPrefix(text, head) || !strings.HasSuffix(text, tail) {
		return "", false
	}
	return text[len(head) : len(text)-len(tail)], true
}

// StarHead is how many bytes of a pattern stand before its star.
func StarHead(pattern string) int {
	if i := strings.IndexByte(pattern, '*'); i >= 0 {
		return i
	}
	return len(pattern) + 1
}

// Spell writes a path by the alias, if one of its targets covers the path.
func (a PathAlias) Spell(p string) (string, bool) {
	for _, t := range a.Targets {
		if t == p {
			return a.Pattern, !strings.Contains(a.Pattern, "*")
		}
		if star, ok := StarMatch(t, p); ok && star != "" {
			return strings.Replace(a.Pattern, "*", star, 1), true
		}
	}
	return "", false
}

// Reach is how much of the way the alias's first target says.
func (a PathAlias) Reach() int {
	if len(a.Targets) == 0 {
		return 0
	}
	return StarHead(a.Targets[0])
}

// InOrder sorts numbers and leaves each once.
func InOrder(numbers []int) []int {
	slices.Sort(numbers)
	return slices.Compact(numbers)
}
