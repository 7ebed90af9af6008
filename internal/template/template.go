// Package template matches paths, names of files and texts with templates: a text with stars and placeholders, in which
// a name may be written in any case.
//
// template.go reads and matches one, where.go says which values a placeholder may take, words.go splits names into
// words and writes them in cases, cover.go says whether one template matches all that another does, index.go finds the
// few of many that a text can match.
package template

import (
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
)

// Template is a path, or the name of a file, with `*` (within a segment), `**` (any folders), `?` and placeholders
// `<name>` or `<name|case>`. All other characters stand for themselves.
type Template struct {
	Text   string // as written
	Line   int    // of the convention file, from 1
	Column int
	Vars   map[string]string // what variables it was written with; nil for none

	Expanded string // the text with variables put in
	base     string // the folder of the convention, with a slash at its end; empty for the root
	Tokens   []token
	prefix   string            // the literal text that every match begins with
	suffix   string            // and ends with
	inner    string            // the longest that every match has between them
	folder   bool              // it is the prefix alone, with all that lies below
	fixed    string            // what Fill gives, where there are no placeholders
	repeated bool              // a placeholder is used twice
	bound    map[string]string // values that every match has, whatever it looks like
	deep     bool              // a placeholder may hold slashes
	names    []string
	depth    int       // its slashes
	shown    [2]string // examples, once somebody has asked for them
}

type tokenKind uint8

const (
	literal     tokenKind = iota
	star                  // any characters but /, none allowed
	name                  // the same, at least one character
	anyOne                // one character but /
	dirs                  // any number of whole folders with their slashes
	placeholder           // at least one character but /, captured
)

type token struct {
	kind   tokenKind
	Text   string // of a literal; the name of a placeholder
	filter string // the case of a placeholder, or several that are applied one after the other, with | between
	Where  *Where // the values that a placeholder may take; nil for any
}

// Captures are the values that a match gave to placeholders, and what `**` matched.
type Captures struct {
	Values map[string]string
	Dirs   string // folders with a slash at the end, empty for none
}

// maxSteps bounds one match; only templates that use a placeholder twice can come near it. What has failed is
// remembered from fewSteps on, which most matches never reach.
const (
	maxSteps = 1 << 16
	fewSteps = 100
)

// choices are the braces that stand for one of several texts elsewhere. Taken as they are they would fit no file, and
// nobody would notice.
var choices = regexp.MustCompile(`\{[^{}/]*,[^{}]*\}`)

// ParseName compiles the template of a name. Variables are put in first. The error says what would be right.
func ParseName(text string, vars map[string]string) (*Template, error) {
	return ParsePath("", text, vars)
}

// ParsePath compiles the template of a path, which is written from a folder: empty for the root, else with a slash at
// its end.
func ParsePath(base, text string, vars map[string]string) (*Template, error) {
	t := &Template{Text: text, Vars: vars, base: base}
	if base != "" {
		t.literal(base)
	}
	expanded, err := ExpandVars(text, vars)
	if err != nil {
		return nil, err
	}
	if err := StaysInside(expanded); err != nil {
		return nil, err
	}
	if choice := choices.FindString(expanded); choice != "" {
		return nil, fmt.Errorf("braces do not choose between texts here; write one path for each of %s, or ? for a "+
			"brace that is part of a name", choice)
	}
	t.Expanded = expanded
	if strings.HasSuffix(expanded, "/") {
		expanded += "**"
	}
	segments := strings.Split(expanded, "/")
	for i, segment := range segments {
		last := i == len(segments)-1
		switch {
		case segment == "" && len(expanded) > 0:
			return nil, errors.New("two slashes in a row")
		case segment == "**" && last:
			t.Tokens = append(t.Tokens, token{kind: dirs}, token{kind: name})
		case segment == "**":
			t.Tokens = append(t.Tokens, token{kind: dirs})
		case segment == "*":
			t.Tokens = append(t.Tokens, token{kind: name})
		case strings.Contains(segment, "**"):
			return nil, fmt.Errorf("** stands for whole folders, so it must be alone between slashes; %q is not",
				segment)
		default:
			if err := t.segment(segment); err != nil {
				return nil, err
			}
		}
		if !last && segment != "**" {
			t.literal("/")
		}
	}
	t.note()
	return t, nil
}

// ParseText compiles the template of a text, in which a placeholder may hold slashes. A final slash of a path stays.
func ParseText(text string, vars map[string]string) (*Template, error) {
	t := &Template{Text: text, Vars: vars, deep: true}
	expanded, err := ExpandVars(text, vars)
	if err != nil {
		return nil, err
	}
	if err := t.segment(expanded); err != nil {
		return nil, err
	}
	t.note()
	return t, nil
}

// ExpandVars replaces <name> where name is a variable.
func ExpandVars(text string, vars map[string]string) (string, error) {
	var out strings.Builder
	for {
		open := strings.IndexByte(text, '<')
		if open < 0 {
			out.WriteString(text)
			return out.String(), nil
		}
		end := strings.IndexByte(text[open:], '>')
		if end < 0 {
			return "", fmt.Errorf("%q opens a placeholder that is never closed with >", text[open:])
		}
		end += open
		inner := text[open+1 : end]
		if value, ok := vars[inner]; ok {
			out.WriteString(text[:open] + value)
		} else {
			out.WriteString(text[:end+1])
		}
		text = text[end+1:]
	}
}

// StaysInside refuses what is no path below the root.
func StaysInside(path string) error {
	switch {
	case strings.HasPrefix(path, "/"):
		return errors.New("paths are written from the project's root without a leading slash")
	case len(path) > 1 && path[1] == ':' && (path[0]|0x20 >= 'a' && path[0]|0x20 <= 'z'):
		return errors.New("paths are written from the project's root, without a drive")
	case strings.Contains(path, `\`):
		return errors.New(`folders are parted by /, not by \`)
	}
	for segment := range strings.SplitSeq(path, "/") {
		if segment == ".." {
			return errors.New("the path leaves the project's root")
		}
		if segment == "." && path != "." {
			return errors.New("a path from the root needs no ./")
		}
	}
	return nil
}

func (t *Template) literal(s string) {
	if n := len(t.Tokens); n > 0 && t.Tokens[n-1].kind == literal {
		t.Tokens[n-1].Text += s
		return
	}
	t.Tokens = append(t.Tokens, token{kind: literal, Text: s})
}

func (t *Template) segment(s string) error {
	for s != "" {
		switch s[0] {
		case '*':
			t.Tokens = append(t.Tokens, token{kind: star})
		case '?':
			t.Tokens = append(t.Tokens, token{kind: anyOne})
		case '<':
			end := strings.IndexByte(s, '>')
			if end < 0 {
				return fmt.Errorf("%q opens a placeholder that is never closed with > in its folder or file name", s)
			}
			if err := t.placeholder(s[1:end]); err != nil {
				return err
			}
			s = s[end:]
		default:
			t.literal(s[:1])
		}
		s = s[1:]
	}
	return nil
}

func (t *Template) placeholder(inner string) error {
	word, filter, _ := strings.Cut(inner, "|")
	if word == "" || strings.ContainsAny(word, " \t<") {
		return fmt.Errorf("<%s> is no placeholder: a name must stand between the brackets", inner)
	}
	for _, one := range chain(filter) {
		if Filters[one] == nil {
			return fmt.Errorf("<%s> asks for a case that is not known%s; the cases are %s", inner,
				Closest(one, FilterNames), strings.Join(FilterNames, ", "))
		}
	}
	if n := len(t.Tokens); n > 0 && t.Tokens[n-1].kind == placeholder {
		return fmt.Errorf("<%s> stands right behind <%s>: nothing tells where one ends", inner, t.Tokens[n-1].Text)
	}
	t.repeated = t.repeated || slices.Contains(t.names, word)
	if !slices.Contains(t.names, word) {
		t.names = append(t.names, word)
	}
	t.Tokens = append(t.Tokens, token{kind: placeholder, Text: word, filter: filter})
	return nil
}

func (t *Template) note() {
	kinds := make([]tokenKind, len(t.Tokens))
	for i, tok := range t.Tokens {
		kinds[i] = tok.kind
	}
	t.folder = slices.Equal(kinds, []tokenKind{literal, dirs, name})
	t.depth = strings.Count(t.Canonical(), "/")
	t.fixed = ""
	if len(t.names) == 0 {
		t.fixed = t.Fill(nil)
	}
	if n := len(t.Tokens); n > 0 {
		if t.Tokens[0].kind == literal {
			t.prefix = t.Tokens[0].Text
		}
		if t.Tokens[n-1].kind == literal {
			t.suffix = t.Tokens[n-1].Text
		}
		for _, tok := range t.Tokens[1:max(1, n-1)] {
			if tok.kind == literal && len(tok.Text) > len(t.inner) {
				t.inner = tok.Text
			}
		}
	}
}

// Bind gives a placeholder that the template does not have a value for every match.
func (t *Template) Bind(name, value string) {
	if t.bound == nil {
		t.bound = map[string]string{}
	}
	t.bound[name] = value
	t.names = append(t.names, name)
}

// Names are the placeholders of the template, each once, in the order of their first use, and those that are bound.
func (t *Template) Names() []string { return t.names }

// Depth is the number of slashes in the template.
func (t *Template) Depth() int { return t.depth }

// Carriers counts the ** in the template.
func (t *Template) Carriers() int {
	n := 0
	for _, tok := range t.Tokens {
		if tok.kind == dirs {
			n++
		}
	}
	return n
}

// Plain says whether the template is one path or name, without wildcards and placeholders.
func (t *Template) Plain() bool { return len(t.Tokens) == 1 && t.Tokens[0].kind == literal }

// Bare says whether the template is one placeholder and nothing else.
func (t *Template) Bare() bool { return len(t.Tokens) == 1 && t.Tokens[0].kind == placeholder }

// Begins is the text that every match begins with.
func (t *Template) Begins() string { return t.prefix }

// Head is the folder that every match lies in, with a slash at the end; empty for the root.
func (t *Template) Head() string { return t.prefix[:strings.LastIndexByte(t.prefix, '/')+1] }

// Canonical is the template with its placeholders' names left out: two places are one if their canonical forms are.
func (t *Template) Canonical() string {
	var out strings.Builder
	for _, tok := range t.Tokens {
		switch tok.kind {
		case literal:
			out.WriteString(tok.Text)
		case placeholder:
			out.WriteString("<" + tok.filter + ">")
		default:
			out.WriteString([...]string{"", "*", "*", "?", "**/", ""}[tok.kind])
		}
	}
	return out.String()
}

// Fits says of templates whether a path fits them.
func Fits(path string) func(*Template) bool { return func(t *Template) bool { return t.Fits(path) } }

// Fits says whether a path fits the template.
func (t *Template) Fits(path string) bool {
	_, fits := t.Match(path)
	return fits
}

// Match matches the whole of path. Among several ways the one with the shortest captures, from the left, is taken.
func (t *Template) Match(path string) (Captures, bool) {
	if len(path) < len(t.prefix)+len(t.suffix) && len(t.Tokens) > 1 || !strings.HasPrefix(path, t.prefix) ||
		!strings.HasSuffix(path, t.suffix) {
		return Captures{}, false
	}
	// at the root, wildcards pass over names that begin with a dot
	if !t.deep && len(t.prefix) == len(t.base) && strings.HasPrefix(path[len(t.base):], ".") {
		return Captures{}, false
	}
	if t.folder {
		below := path[len(t.prefix):]
		name := strings.LastIndexByte(below, '/') + 1
		return Captures{Dirs: below[:name], Values: t.bound}, name < len(below)
	}
	if !strings.Contains(path[len(t.prefix):], t.inner) {
		return Captures{}, false
	}
	var buf [16][2]int
	m := matcher{t: t, path: path, spans: append(buf[:0], make([][2]int, len(t.Tokens))...)}
	if !m.match(0, 0) {
		return Captures{}, false
	}
	return m.captures(), true
}

type matcher struct {
	t      *Template
	path   string
	spans  [][2]int // what each token matched
	failed map[[2]int]bool
	steps  int
}

// match matches tokens from i on against path from at on.
func (m *matcher) match(i, at int) bool {
	if i == len(m.t.Tokens) {
		return at == len(m.path)
	}
	if m.steps++; m.steps > maxSteps || m.failed[[2]int{i, at}] {
		return false
	}
	if m.steps == fewSteps && !m.t.repeated {
		m.failed = map[[2]int]bool{}
	}
	tok := m.t.Tokens[i]
	ok := false
	switch tok.kind {
	case literal:
		ok = strings.HasPrefix(m.path[at:], tok.Text) && m.match(i+1, at+len(tok.Text))
	case anyOne:
		ok = at < len(m.path) && m.path[at] != '/' && m.match(i+1, at+runeLen(m.path, at))
	case dirs:
		ok = m.matchDirs(i, at)
	default:
		ok = m.matchWithin(i, at, tok)
	}
	if !ok && m.failed != nil {
		m.failed[[2]int{i, at}] = true
	}
	return ok
}

func (m *matcher) matchDirs(i, at int) bool {
	for end := at; ; {
		m.spans[i] = [2]int{at, end}
		if m.match(i+1, end) {
			m.spans[i] = [2]int{at, end}
			return true
		}
		slash := strings.IndexByte(m.path[end:], '/')
		if slash < 0 {
			return false
		}
		end += slash + 1
	}
}

// matchWithin matches characters of one segment, the fewest first.
func (m *matcher) matchWithin(i, at int, tok token) bool {
	end := at
	if tok.kind != star {
		if at >= len(m.path) || m.stops(at, tok) {
			return false
		}
		end += runeLen(m.path, at)
	}
	for {
		if tok.kind != placeholder || m.agrees(i, tok, m.path[at:end]) {
			m.spans[i] = [2]int{at, end}
			if m.match(i+1, end) {
				m.spans[i] = [2]int{at, end}
				return true
			}
		}
		if end >= len(m.path) || m.stops(end, tok) {
			return false
		}
		end += runeLen(m.path, end)
	}
}

// stops says whether a token can't take the character at a place.
func (m *matcher) stops(at int, tok token) bool {
	return m.path[at] == '/' && !(m.t.deep && tok.kind == placeholder)
}

// agrees: a value must be written in the placeholder's case, and be the same words as the values of that name before.
func (m *matcher) agrees(i int, tok token, value string) bool {
	if tok.filter != "" && !m.t.deep && InCase(value, tok.filter) != value {
		return false
	}
	value, allowed := tok.Where.allows(value, tok.filter)
	if !allowed {
		return false
	}
	for j, before := range m.t.Tokens[:i] {
		if before.kind != placeholder || before.Text != tok.Text {
			continue
		}
		first, _ := tok.Where.allows(m.path[m.spans[j][0]:m.spans[j][1]], tok.filter)
		if counts(before.filter) || counts(tok.filter) { // one says how many there are, the other need not
			first, value = Filters["singular"](first), Filters["singular"](value)
		}
		if !SameWords(first, value) {
			return false
		}
	}
	return true
}

func (m *matcher) captures() Captures {
	c := Captures{}
	if len(m.t.names) > 0 {
		c.Values = make(map[string]string, len(m.t.names))
	}
	maps.Copy(c.Values, m.t.bound)
	for i, tok := range m.t.Tokens {
		text := m.path[m.spans[i][0]:m.spans[i][1]]
		switch tok.kind {
		case dirs:
			c.Dirs = text
		case placeholder:
			if _, have := c.Values[tok.Text]; !have {
				c.Values[tok.Text], _ = tok.Where.allows(text, tok.filter)
			}
		}
	}
	return c
}

// Locate gives the place in a text of what a placeholder captures.
func (t *Template) Locate(text, name string) (start, end int, ok bool) {
	m := matcher{t: t, path: text, spans: make([][2]int, len(t.Tokens))}
	if !m.match(0, 0) {
		return 0, 0, false
	}
	for i, tok := range t.Tokens {
		if tok.kind == placeholder && tok.Text == name {
			return m.spans[i][0], m.spans[i][1], true
		}
	}
	return 0, 0, false
}

// Fill writes the template with values put in; a trailing / stays. Wildcards can't be filled and must not be there.
func (t *Template) Fill(values map[string]string) string {
	if t.fixed != "" {
		return t.fixed
	}
	var out strings.Builder
	for _, tok := range t.Tokens {
		switch tok.kind {
		case literal:
			out.WriteString(tok.Text)
		case placeholder:
			out.WriteString(InCase(values[tok.Text], tok.filter))
		}
	}
	return out.String()
}

func runeLen(s string, at int) int {
	n := 1
	for at+n < len(s) && s[at+n]&0xC0 == 0x80 {
		n++
	}
	return n
}
