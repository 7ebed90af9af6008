package convention

import (
	"path"
	"strconv"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/template"
)

// Alias is an import alias. Its pattern and targets hold one * each at the most, which stands for the same text in
// both.
type Alias struct {
	Pattern string
	Now     string // today's target, from the root; used if HasNow
	HasNow  bool
	Then    string // the target after the moves; used if HasThen
	HasThen bool
	Scope   string // the folder in whose files it is known, with a slash at its end; empty for all
	Line    int
}

// Mention is an entry of mentions: text that names files in a way that no language or format defines.
type Mention struct {
	In    []*template.Template // files that it speaks of; nil for all
	Keys  []KeyPath            // of a settings file
	Calls []string             // names of calls, with their receivers
	Like  *template.Template   // of the text
	File  *template.Template   // that the text names
	Now   *template.Template   // the same today, where names change; else nil
	Each  string               // what parts the items of a list in one text
	// Base is the folder that the text is read from: nil for the root.
	Base *NowThen
	// ByName: the files are loaded by a name built at run time, so they can't be renamed.
	ByName bool
	// NoPath: the text looks like a path and is none.
	NoPath bool
	// Tags: the text is the name of an element in a template.
	Tags bool
	// Code: the text is the name of a function that code calls without importing it.
	Code bool
	Line int
}

// indexNames are the placeholders that stand for names of the project's own: a path from the root, a package's name.
var indexNames = []string{"path", "package", "module", "namespace"}

// Index gives the placeholder by which the text is one of the project's names; empty if it is none.
func (m *Mention) Index() string {
	t := m.File
	if t == nil {
		t = m.Like
	}
	if t == nil || len(t.Names()) != 1 || m.File != nil && strings.Trim(m.File.Text, "/") != "<"+t.Names()[0]+">" {
		return ""
	}
	for _, name := range indexNames {
		if t.Names()[0] == name {
			return name
		}
	}
	return ""
}

// Part gives the place in a text of the name that it holds: all of it, or what the placeholder in like captures.
func (m *Mention) Part(text string) (start, end int, ok bool) {
	if name := m.Index(); name != "" && m.Like != nil {
		return m.Like.Locate(text, name)
	}
	return 0, len(text), true
}

// NowThen is a path that changes with the migration, or one that does not.
type NowThen struct{ Now, Then string }

// Public is a folder whose files have addresses.
type Public struct {
	Folder NowThen // without a slash at the end; "." for the root
	At     string  // the address of the folder, with a slash at both ends
	Routes bool    // the addresses are routes: without the file's ending, index for the folder
	Line   int
}

// Setting is a value that the convention requires.
type Setting struct {
	In    *template.Template
	Key   []string
	Value *manifest.Value
	Line  int
}

// Need is what the project must already be.
type Need struct {
	Package  string
	Language string // instead of a package
	AtLeast  string
	Line     int
}

// KeyPath is the place of a value in a settings file. A segment * stands for every key or element; [*] is written the
// same way.
type KeyPath []string

// Matches says whether the path of a value is one that the key names. A key that leads to a list means its elements.
func (k KeyPath) Matches(path []string) bool {
	if len(path) != len(k) && !(len(path) == len(k)+1 && IsIndex(path[len(path)-1])) {
		return false
	}
	for i, segment := range k {
		if segment != "*" && segment != path[i] {
			return false
		}
	}
	return true
}

// IsIndex says whether a segment of a key is a place in a list.
func IsIndex(s string) bool {
	_, err := strconv.Atoi(s)
	return err == nil
}

// parseKey reads a.b["any text"][*].c.
func parseKey(text string) (KeyPath, string) {
	var out KeyPath
	for rest := text; rest != ""; {
		if rest[0] == '[' {
			end := strings.IndexByte(rest, ']')
			if end < 0 {
				return nil, "the [ is never closed"
			}
			inner := rest[1:end]
			if unquoted, err := strconv.Unquote(inner); err == nil {
				inner = unquoted
			}
			out = append(out, inner)
			rest = strings.TrimPrefix(rest[end+1:], ".")
			continue
		}
		end := strings.IndexAny(rest, ".[")
		if end < 0 {
			end = len(rest)
		}
		if end == 0 {
			return nil, "a name is missing between two dots"
		}
		out = append(out, rest[:end])
		rest = strings.TrimPrefix(rest[end:], ".")
	}
	return out, ""
}

func (r *reader) readAliases(c *Convention, n ast.Node) {
	for _, pair := range r.pairs(n, "aliases") {
		a := Alias{Pattern: r.text(pair.Key), Scope: r.base, Line: position(pair.Key).Line}
		if strings.Count(a.Pattern, "*") > 1 {
			r.fail(position(pair.Key), "write one *", "the alias %s has more than one *", a.Pattern)
		}
		if _, plain := pair.Value.(*ast.StringNode); plain {
			a.Then, a.HasThen = r.aliasTarget(a, pair.Value)
		} else {
			fields := r.fields(pair.Value, "an alias", nowThenKeys)
			if v, ok := fields["now"]; ok {
				a.Now, a.HasNow = r.aliasTarget(a, v)
			}
			if v, ok := fields["then"]; ok {
				a.Then, a.HasThen = r.aliasTarget(a, v)
			}
		}
		c.Aliases = append(c.Aliases, a)
	}
}

func (r *reader) aliasTarget(a Alias, n ast.Node) (string, bool) {
	text, err := template.ExpandVars(r.text(n), r.vars)
	if err == nil {
		err = template.StaysInside(text)
	}
	if err != nil {
		r.fail(position(n), "", "%q is no target of an alias: %s", text, err)
		return "", false
	}
	if strings.Count(text, "*") != strings.Count(a.Pattern, "*") {
		r.fail(position(n), `write the * in both or in neither: "@/*": src/*`,
			"the alias %s and its target %s do not agree on the *", a.Pattern, text)
		return "", false
	}
	return r.base + text, true
}

// nowThen reads a path that may be given as now and then.
func (r *reader) nowThen(n ast.Node, what string) NowThen {
	read := func(n ast.Node) string {
		text, err := template.ExpandVars(r.text(n), r.vars)
		if err == nil {
			err = template.StaysInside(text)
		}
		if err != nil {
			r.fail(position(n), "", "%q is no folder: %s", text, err)
		}
		if text = strings.TrimSuffix(text, "/"); text == "" {
			text = "."
		}
		return path.Join(r.base, text)
	}
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
	default:
		text := read(n)
		return NowThen{text, text}
	}
	fields := r.fields(n, what, nowThenKeys)
	out := NowThen{".", "."}
	now, then := fields["now"], fields["then"]
	if now == nil && then == nil {
		r.fail(position(n), "write { now: ., then: src/ }", "%s says neither now nor then", what)
	}
	if now != nil {
		out.Now = read(now)
		out.Then = out.Now
	}
	if then != nil {
		out.Then = read(then)
		if now == nil {
			out.Now = out.Then
		}
	}
	return out
}

func (r *reader) readMentions(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of mentions", mentionKeys)
		m := &Mention{Line: position(v).Line, In: r.templates(fields["in"])}
		for _, k := range r.list(fields["key"]) {
			key, wrong := parseKey(r.text(k))
			if wrong != "" {
				r.fail(position(k), `write a.b, a["b.c"] or a[*]`, "this is no key: %s", wrong)
			}
			m.Keys = append(m.Keys, key)
		}
		for _, k := range r.list(fields["call"]) {
			m.Calls = append(m.Calls, r.text(k))
		}
		if v, ok := fields["like"]; ok {
			m.Like = r.textTemplate(v)
		}
		if v, ok := fields["file"]; ok {
			r.readFile(m, v)
		}
		if v, ok := fields["each"]; ok {
			m.Each = r.text(v)
		}
		if v, ok := fields["base"]; ok {
			base := r.nowThen(v, "base")
			m.Base = &base
		}
		if v, ok := fields["loaded"]; ok {
			if m.ByName = r.text(v) == "by name"; !m.ByName {
				r.fail(position(v), "write loaded: by name", "loaded can only be: by name")
			}
		}
		if v, ok := fields["is"]; ok {
			if m.NoPath = r.text(v) == "text"; !m.NoPath {
				r.fail(position(v), "write is: text", "is can only be: text")
			}
		}
		if v, ok := fields["in_templates"]; ok {
			m.Tags = r.text(v) == "true"
		}
		if v, ok := fields["in_code"]; ok {
			m.Code = r.text(v) == "true"
		}
		r.judgeMention(m, v)
		if r.base != "" && len(m.In) == 0 {
			if all, err := template.ParsePath(r.base, "**", nil); err == nil {
				m.In = []*template.Template{all}
			}
		}
		if r.base != "" && m.Base == nil && m.Index() != "" {
			m.Base = &NowThen{strings.TrimSuffix(r.base, "/"), strings.TrimSuffix(r.base, "/")}
		}
		c.Mentions = append(c.Mentions, m)
	}
}

// readFile reads the file that a text names: one template, or what it is now and then.
func (r *reader) readFile(m *Mention, n ast.Node) {
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		fields := r.fields(n, "file", nowThenKeys)
		if fields["now"] == nil || fields["then"] == nil {
			r.fail(position(n), "write { now: lib/<class>.js, then: app/<class>.js }", "file needs both now and then")
			return
		}
		m.Now, m.File = r.fileTemplate(fields["now"]), r.fileTemplate(fields["then"])
	default:
		m.File = r.fileTemplate(n)
	}
}

// fileTemplate reads the template of a path that a text names. One of the project's own names stands for itself.
func (r *reader) fileTemplate(n ast.Node) *template.Template {
	t := r.textTemplate(n)
	if t == nil || r.base == "" || (&Mention{File: t}).Index() != "" {
		return t
	}
	below, err := template.ParseText(r.base+t.Text, r.vars)
	if err != nil {
		return t
	}
	below.Line, below.Column = t.Line, t.Column
	return below
}

// judgeMention: an entry must say where the text stands and what it names.
func (r *reader) judgeMention(m *Mention, n ast.Node) {
	at := position(n)
	switch {
	case m.NoPath:
		if len(m.Keys) == 0 && len(m.Calls) == 0 && m.Like == nil {
			r.fail(at, "say which text: by key, call or like", "nothing says which text is no path")
		}
		return
	case m.File == nil && m.Like != nil && m.Index() != "":
		if name := m.Index(); name == "module" || name == "namespace" {
			r.fail(at, "use <path> or <package>",
				"<%s> names what languages define that this version does not read yet", name)
		}
		m.File, _ = template.ParseText("<"+m.Index()+">", nil)
		return
	case m.File == nil:
		r.fail(at, "say what the text names: file: <path>, or file: src/views/<view>.pug",
			"this entry of mentions names no file")
		return
	case m.ByName:
		return
	case len(m.Keys) == 0 && len(m.Calls) == 0 && m.Like == nil:
		r.fail(at, "say which text: by key, call or like", "nothing says which text names the file")
		return
	}
	if m.Like == nil {
		return
	}
	names := m.File.Names()
	if m.Now != nil {
		names = append(append([]string(nil), names...), m.Now.Names()...)
	}
	for _, name := range names {
		known := false
		for _, other := range m.Like.Names() {
			known = known || other == name
		}
		if !known {
			r.fail(at, "use <"+name+"> in like as well", "nothing in like binds <%s>, which the file has", name)
		}
	}
}

// textTemplate reads a template of a text, in which a placeholder may hold slashes.
func (r *reader) textTemplate(n ast.Node) *template.Template {
	before := len(r.problems)
	text := r.text(n)
	if len(r.problems) > before {
		return nil
	}
	t, err := template.ParseText(text, r.vars)
	if err != nil {
		r.fail(position(n), "", "%q can't be read: %s", text, err)
		return nil
	}
	t.Line, t.Column = position(n).Line, position(n).Column
	return t
}

func (r *reader) readPublic(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of public", publicKeys)
		p := Public{At: "/", Line: position(v).Line}
		folder, ok := fields["folder"]
		if !ok {
			r.fail(position(v), "write { folder: public/, at: / }", "this entry of public names no folder")
			continue
		}
		p.Folder = r.nowThen(folder, "folder")
		if v, ok := fields["at"]; ok {
			p.At = "/" + strings.Trim(r.text(v), "/") + "/"
			if p.At == "//" {
				p.At = "/"
			}
		}
		if v, ok := fields["routes"]; ok {
			p.Routes = r.text(v) == "true"
		}
		c.Public = append(c.Public, p)
	}
}

func (r *reader) readNeeds(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of needs", needKeys)
		need := Need{Line: position(v).Line}
		if name, ok := fields["package"]; ok {
			need.Package = r.text(name)
		}
		if name, ok := fields["language"]; ok {
			need.Language = r.text(name)
		}
		if (need.Package == "") == (need.Language == "") {
			r.fail(position(v), `write { package: some-framework, at_least: "3.12" } or { language: go, at_least: "1.24" }`,
				"an entry of needs names a package or a language")
		}
		if v, ok := fields["at_least"]; ok {
			need.AtLeast = r.text(v)
		}
		c.Needs = append(c.Needs, need)
	}
}

func (r *reader) readSettings(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an entry of settings", settingKeys)
		in, set := fields["in"], fields["set"]
		if in == nil || set == nil {
			r.fail(position(v), "write { in: app.config.ts, set: { sourceRoot: src/ } }",
				"an entry of settings needs in and set")
			continue
		}
		t := r.template(in)
		if t == nil {
			continue
		}
		r.settingValues(c, t, nil, set)
	}
}

// settingValues takes a nested mapping apart: one Setting for each value that is no mapping.
func (r *reader) settingValues(c *Convention, in *template.Template, key []string, n ast.Node) {
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		for _, pair := range r.pairs(n, "set") {
			below := append(append([]string(nil), key...), r.text(pair.Key))
			r.settingValues(c, in, below, pair.Value)
		}
		return
	}
	c.Settings = append(c.Settings, Setting{In: in, Key: key, Value: r.value(n), Line: position(n).Line})
}

func (r *reader) value(n ast.Node) *manifest.Value {
	switch v := n.(type) {
	case *ast.SequenceNode:
		out := &manifest.Value{Kind: manifest.List}
		for _, item := range v.Values {
			out.Items = append(out.Items, r.value(item))
		}
		return out
	case *ast.IntegerNode, *ast.FloatNode, *ast.BoolNode, *ast.NullNode:
		return &manifest.Value{Kind: manifest.Other, Text: n.GetToken().Value}
	}
	text, err := template.ExpandVars(r.text(n), r.vars)
	if err != nil {
		r.fail(position(n), "", "%s", err)
	}
	return &manifest.Value{Kind: manifest.String, Text: text}
}

func (r *reader) readRoots(c *Convention, n ast.Node) {
	c.Roots = map[string]NowThen{}
	for _, pair := range r.pairs(n, "roots") {
		c.Roots[r.text(pair.Key)] = r.nowThen(pair.Value, "a root")
	}
}

// readAtOnce reads one group of shelves, or a list of groups.
func (r *reader) readAtOnce(c *Convention, n ast.Node) {
	var single []string
	for _, v := range r.list(n) {
		group := []string{}
		if s, ok := v.(*ast.SequenceNode); ok {
			for _, name := range s.Values {
				group = append(group, r.shelfName(c, name))
			}
			c.AtOnce = append(c.AtOnce, group)
			continue
		}
		single = append(single, r.shelfName(c, v))
	}
	if len(single) > 0 {
		c.AtOnce = append(c.AtOnce, single)
	}
}

func (r *reader) shelfName(c *Convention, n ast.Node) string {
	name := r.text(n)
	if c.Shelf(name) == nil {
		r.noShelf(c, n, name)
	}
	return name
}

// usable reads what a shelf may use: a shelf, or an instance of one.
func (r *reader) usable(c *Convention, n ast.Node) {
	name := r.text(n)
	if c.Shelf(name) != nil {
		return
	}
	if dot := strings.LastIndexByte(name, '.'); dot > 0 {
		if around := c.Shelf(name[:dot]); around != nil && len(around.At.Names()) > 0 {
			return
		}
	}
	r.noShelf(c, n, name)
}

func (r *reader) noShelf(c *Convention, n ast.Node, name string) {
	names := make([]string, len(c.Shelves))
	for i, s := range c.Shelves {
		names[i] = s.Name
	}
	r.fail(position(n), "the shelves are "+strings.Join(names, ", "), "there is no shelf %q%s", name,
		template.Closest(name, names))
}
