package lang

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/template"
)

// Declared is what a convention says that scanning and resolving must know. One belongs to the tree before the moves
// and one to the tree after. A nil *Declared says nothing.
type Declared struct {
	Convention *convention.Convention
	After      bool
	// Home gives where the file at a path belongs: the convention's paths are compared with that, so that they hold
	// before and after. In the tree after, a file's home is its path.
	Home func(path string) string
	// Followed gives, in the tree after, the targets of aliases that the convention names without saying what they will
	// be: they follow their folders.
	Followed map[string]string

	// Served are folders, in the tree after, whose files have addresses at the root: they had so by habit before they
	// moved, and what serves them follows.
	Served []string

	// Outlines: what files declare is asked for.
	Outlines bool
	// Certain: only mentions that a language or format defines, or the convention states, are asked for. Others may be
	// left out.
	Certain bool

	takes []outlined
	asked template.Owned // the places of takes

	calls    map[string][]int // rules by the last name of a call
	likes    rules            // for any text
	code     rules            // for names of functions
	keyed    map[string][]int // rules for a key, by its last name
	anyKey   []int            // those for any key
	settings *template.Index  // files whose settings the convention speaks of
	tagged   []int            // rules for elements of templates
}

// Entry is the detail of a mention that the convention states: the number of the entry of mentions, from 1.
type Entry int

// EntryOf gives the entry of the convention's mentions by which a text is one, from 1; 0 for a mention that a language
// or a format defines.
func EntryOf(m *Mention) int { return int(Own[Entry](m)) }

// rules are entries of mentions that ask for a look, found by it.
type rules struct {
	numbers []int
	looks   *template.Index
}

func newRules(c *convention.Convention, numbers []int) rules {
	looks := make([]*template.Template, len(numbers))
	for i, n := range numbers {
		looks[i] = c.Mentions[n].Like
	}
	return rules{numbers, template.NewIndex(looks)}
}

// NewDeclared makes the view of one tree. home may be nil: then every file is at home.
func NewDeclared(c *convention.Convention, after bool, home func(path string) string) *Declared {
	if home == nil {
		home = func(path string) string { return path }
	}
	d := &Declared{Convention: c, After: after, Home: home, calls: map[string][]int{}, Outlines: c.NeedsOutlines()}
	d.askTakes(c)
	var likes, code []int
	var settings []*template.Template
	for i, m := range c.Mentions {
		for _, call := range m.Calls {
			last := call[strings.LastIndexByte(call, '.')+1:]
			d.calls[last] = append(d.calls[last], i)
		}
		if m.Code && m.Like != nil {
			code = append(code, i)
		}
		if len(m.Calls) == 0 && len(m.Keys) == 0 && m.Like != nil && !m.Tags && !m.Code {
			likes = append(likes, i)
		}
		for _, key := range m.Keys {
			d.addKey(key, i)
		}
		if len(m.Keys) > 0 {
			settings = append(settings, m.In...)
		}
		if m.Tags {
			d.tagged = append(d.tagged, i)
		}
	}
	for _, s := range c.Settings {
		settings = append(settings, s.In)
	}
	d.likes, d.code, d.settings = newRules(c, likes), newRules(c, code), template.NewIndex(settings)
	return d
}

// Afterwards makes the view of the tree after moves: arrived says where files have come to, which are at home there,
// and goes gives where the files of a folder went.
func (d *Declared) Afterwards(arrived func(path string) bool, goes func(dir string) string) *Declared {
	after := NewDeclared(d.Convention, true, func(path string) string {
		if arrived(path) {
			return path
		}
		return d.Home(path)
	})
	after.Followed = map[string]string{}
	for _, a := range d.Convention.Aliases {
		if a.HasThen || !a.HasNow {
			continue
		}
		folder, rest, starred := strings.Cut(a.Now, "*")
		if starred {
			rest = "/*" + rest
		}
		after.Followed[a.Scope+a.Pattern] = path.Join(goes(path.Clean(folder)), rest)
	}
	return after
}

// Then gives the folder or file that an alias shall stand for after the moves, seen from a file, and whether a *
// follows it; false where the convention does not say.
func (d *Declared) Then(from, alias string) (place string, starred, ok bool) {
	if d == nil || alias == "" {
		return "", false, false
	}
	for _, a := range d.Convention.Aliases {
		if a.HasThen && strings.HasPrefix(from, a.Scope) && sameAlias(a.Pattern, alias) {
			place, _, starred = strings.Cut(a.Then, "*")
			return path.Clean(place), starred, true
		}
	}
	return "", false, false
}

// SaysThen says whether the convention says what an alias shall stand for, wherever it is used.
func (d *Declared) SaysThen(alias string) bool {
	return d != nil && slices.ContainsFunc(d.Convention.Aliases, func(a convention.Alias) bool {
		return a.HasThen && sameAlias(a.Pattern, alias)
	})
}

// sameAlias compares two patterns, of which one may leave out the star at its end.
func sameAlias(a, b string) bool { return strings.TrimSuffix(a, "/*") == strings.TrimSuffix(b, "/*") }

// addKey notes the rule for a key by the last of its names that is no place in a list.
func (d *Declared) addKey(key convention.KeyPath, rule int) {
	last := len(key) - 1
	for last >= 0 && (key[last] == "*" || convention.IsIndex(key[last])) {
		last--
	}
	if last < 0 {
		d.anyKey = append(d.anyKey, rule)
		return
	}
	if d.keyed == nil {
		d.keyed = map[string][]int{}
	}
	d.keyed[key[last]] = append(d.keyed[key[last]], rule)
}

// askTakes notes what files declare that entries of takes ask for.
func (d *Declared) askTakes(c *convention.Convention) {
	for _, one := range c.All() {
		// the places of shelves that take from a pool: they are of it
		pooled := map[*convention.Pool][]*template.Template{}
		for _, s := range one.Shelves {
			for _, t := range s.Takes {
				if t.Pool != nil {
					pooled[t.Pool] = append(pooled[t.Pool], s.At)
				}
			}
		}
		for _, s := range one.Shelves {
			for i := range s.Takes {
				t := &s.Takes[i]
				if !t.Outlined() {
					continue
				}
				in := []*template.Template{nil} // anywhere
				switch {
				case t.Pool != nil:
					in = slices.Concat(t.Pool.In, pooled[t.Pool])
				case len(s.From) > 0:
					in = append(slices.Clone(s.From), s.At)
				}
				for _, place := range in {
					d.asked.Add(place, len(d.takes))
				}
				d.takes = append(d.takes, outlined{AskedBy(t), t.Name})
			}
		}
	}
}

// AskAll asks for all that any file declares.
func (d *Declared) AskAll() {
	d.Outlines, d.takes, d.asked = true, []outlined{{kinds: AnyKind}}, template.Owned{}
	d.asked.Add(nil, 0)
}

// WantsOutlines says whether anybody asks what files declare.
func (d *Declared) WantsOutlines() bool { return d != nil && d.Outlines }

// outlined is an entry of takes that asks for declarations.
type outlined struct {
	kinds DeclarationKinds
	name  *template.Template // of the file's name; nil for any
}

// Asked gives the kinds of declaration by which shelves may take the file at a path. Others may be asked for as well.
func (d *Declared) Asked(file string) DeclarationKinds {
	var kinds DeclarationKinds
	for i := range d.asked.Matching(file) {
		t := d.takes[i]
		if kinds|t.kinds == kinds {
			continue
		}
		if t.name != nil {
			if _, ok := t.name.Match(path.Base(file)); !ok {
				continue
			}
		}
		kinds |= t.kinds
	}
	return kinds
}

// Entry gives an entry of the convention's mentions by its number from 1; nil for 0.
func (d *Declared) Entry(rule int) *convention.Mention {
	if d == nil || rule == 0 {
		return nil
	}
	return d.Convention.Mentions[rule-1]
}

// Calls says whether the convention states anything of calls of this name.
func (d *Declared) Calls(name string) bool {
	if d == nil {
		return false
	}
	_, any := d.calls[name]
	return any
}

// Call gives the entry by which the first string of a call is a mention, from 1; 0 for none. chain is the call's name
// with what it is called on: res.render.
func (d *Declared) Call(path, chain, text string) int {
	if d == nil {
		return 0
	}
	last := chain[strings.LastIndexByte(chain, '.')+1:]
	for _, i := range d.calls[last] {
		m := d.Convention.Mentions[i]
		named := slices.ContainsFunc(m.Calls, func(call string) bool {
			return call == last || chain == call || strings.HasPrefix(chain, call+".") ||
				strings.HasSuffix(chain, "."+call)
		})
		if named && d.speaksOf(m, path) && likes(m, text) {
			return i + 1
		}
	}
	return 0
}

// Like gives the entry by which any text of this look is a mention, from 1; 0 for none.
func (d *Declared) Like(path, text string) int {
	if d == nil {
		return 0
	}
	return d.first(d.likes, path, text)
}

// first gives the first rule that speaks of a file and asks for a text, from 1; 0 for none.
func (d *Declared) first(r rules, path, text string) int {
	var buf [32]int
	for _, i := range r.looks.Among(text, buf[:0]) {
		if r.looks.Matches(i, text) && d.speaksOf(d.Convention.Mentions[r.numbers[i]], path) {
			return r.numbers[i] + 1
		}
	}
	return 0
}

// Code gives the entry by which the name of a called function is a mention, from 1; 0 for none.
func (d *Declared) Code(path, name string) int {
	if d == nil {
		return 0
	}
	return d.first(d.code, path, name)
}

// Key gives the entry that speaks of a value of a settings file, from 1; 0 for none.
func (d *Declared) Key(path string, key []string) int {
	if d == nil {
		return 0
	}
	first := len(d.Convention.Mentions)
	try := func(rules []int) {
		for _, i := range rules {
			if m := d.Convention.Mentions[i]; i < first &&
				slices.ContainsFunc(m.Keys, func(k convention.KeyPath) bool { return k.Matches(key) }) &&
				d.speaksOf(m, path) {
				first = i
			}
		}
	}
	try(d.anyKey)
	for _, name := range key {
		try(d.keyed[name])
	}
	if first == len(d.Convention.Mentions) {
		return 0
	}
	return first + 1
}

// Tags says whether elements of a template at a path may be mentions, and by which entries.
func (d *Declared) Tags(path string) []int {
	var out []int
	if d == nil {
		return nil
	}
	for _, i := range d.tagged {
		if d.speaksOf(d.Convention.Mentions[i], path) {
			out = append(out, i+1)
		}
	}
	return out
}

// Settles says whether the convention speaks of the settings in a file, so that code in it is read as settings.
func (d *Declared) SpeaksOfSettings(path string) bool {
	if d == nil || len(d.Convention.Settings)+len(d.Convention.Mentions) == 0 {
		return false
	}
	return d.settings.Any(d.Home(path))
}

func (d *Declared) speaksOf(m *convention.Mention, path string) bool {
	if len(m.In) == 0 {
		return true
	}
	home := d.Home(path)
	return slices.ContainsFunc(m.In, template.Fits(home))
}

func likes(m *convention.Mention, text string) bool {
	if m.Like == nil {
		return true
	}
	_, ok := m.Like.Match(text)
	return ok
}
