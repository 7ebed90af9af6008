package convention

import (
	"bytes"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"crookedshelf/internal/source"
	"crookedshelf/internal/template"
)

// Limits on a convention's text: the YAML parser is slow on deep nesting.
const (
	maxBytes = 1 << 20
	maxDepth = 64
)

// Read reads a convention. path is only for messages. The error, if there is one, is an *Error.
func Read(path string, src []byte) (*Convention, error) { return ReadFrom(path, src, nil) }

// ReadFrom is Read for a convention that may start from another file; load reads that by its path from the project's
// root.
func ReadFrom(path string, src []byte, load func(path string) ([]byte, error)) (*Convention, error) {
	return ReadBelow("", path, src, load)
}

// ReadBelow is ReadFrom for the convention of a folder, given with a slash at its end: its paths are written from
// there.
func ReadBelow(base, path string, src []byte, load func(path string) ([]byte, error)) (*Convention, error) {
	return (&reader{base: base, path: path, src: src, load: load}).parsed()
}

func (r *reader) parsed() (*Convention, error) {
	c := r.read()
	if len(r.problems) == 0 {
		c.lookUp()
		r.judge(c)
	}
	if len(r.problems) > 0 {
		return nil, &Error{Path: r.path, Source: r.src, Problems: r.problems}
	}
	return c, nil
}

type reader struct {
	base  string // the folder that the paths are written from, with a slash at its end; empty for the root
	path  string
	src   []byte
	load  func(path string) ([]byte, error) // of a file that the convention starts from; may be nil
	depth int                               // how many conventions start from this one
	vars  map[string]string
	where map[string]*template.Where
	pools map[string]*Pool
	named []ast.Node // names of shelves, to be judged when all are read
	// neededBys are waiting for the shelves that they name.
	neededBys []pendingNeed
	partners  []pendingPartner
	beside    *Beside // of all shelves that say nothing of theirs
	problems  []Problem
	started   []byte // the texts that it starts from
}

func (r *reader) fail(at source.Position, hint, format string, args ...any) {
	if n := len(r.problems); n > 0 && r.problems[n-1].Position == at && hint == "" ||
		n > 0 && r.problems[n-1].Position == at && forms[mappingOf(r.problems[n-1].Message)] != "" {
		return // it follows from what is wrong there already
	}
	r.problems = append(r.problems, Problem{Position: at, Message: fmt.Sprintf(format, args...), Hint: hint})
}

func (r *reader) read() *Convention {
	c := &Convention{Path: r.path, Source: r.src, Base: r.base}
	root := r.parse()
	if root == nil {
		return c
	}
	if root = r.inherit(root, r.depth); len(r.problems) > 0 {
		return c
	}
	c.started = r.started
	fields := r.fields(root, "the convention", format)
	if v, ok := fields["crooked"]; !ok {
		r.fail(source.Position{Line: 1, Column: 1}, "begin the file with: crooked: 1",
			"the key crooked is missing: it gives the version of the format")
	} else if text := r.text(v); text != "1" {
		r.fail(position(v), "this program reads version 1: write crooked: 1", "the format's version is %q", text)
	}
	for _, v := range r.list(fields["verify"]) {
		c.Verify = append(c.Verify, r.text(v))
	}
	if v, ok := fields["title"]; ok {
		c.Title = r.text(v)
	}
	if v, ok := fields["vars"]; ok {
		r.readVars(v)
	}
	if v, ok := fields["where"]; ok {
		r.readWhere(v)
	}
	if v, ok := fields["leave"]; ok {
		leave := r.fields(v, "leave", leaveKeys)
		c.Leave = Leave{Stay: r.templates(leave["stay"]), Untouched: r.templates(leave["untouched"]),
			Generated: r.templates(leave["generated"]), AsIs: r.templates(leave["as_is"]),
			Outside: r.templates(leave["outside"])}
	}
	c.Stored = r.templates(fields["stored"])
	c.Data = r.names(fields["data"])
	if v, ok := fields["read_as"]; ok {
		r.readReadAs(c, v)
	}
	if v, ok := fields["pools"]; ok {
		r.readPools(v)
	}
	if v, ok := fields["beside"]; ok {
		r.beside = r.companionsOf(v)
		c.Beside = r.beside
	}
	if v, ok := fields["shelves"]; ok {
		r.readShelves(c, v, nil)
		c.nameShelves()
		r.lookUpNeeders(c)
		if v, ok := fields["generated"]; ok {
			r.readGenerated(c, v)
		}
		r.layOut(c)
	} else {
		r.fail(source.Position{Line: 1, Column: 1}, "name at least one shelf: shelves: { parts: src/parts/ }",
			"the key shelves is missing")
	}
	for _, n := range r.named {
		r.usable(c, n)
	}
	r.lookUpPartners(c)
	for _, part := range []struct {
		key  string
		read func(*Convention, ast.Node)
	}{
		{"aliases", r.readAliases}, {"mentions", r.readMentions}, {"public", r.readPublic}, {"needs", r.readNeeds},
		{"settings", r.readSettings}, {"roots", r.readRoots}, {"coming_from", r.readDay}, {"at_once", r.readAtOnce},
		{"top", r.readTop}, {"private", r.readPrivate}, {"discard", r.readDiscard}, {"thin", r.readThin},
		{"exceptions", r.readExceptions}, {"levels", r.readLevels}, {"workspace", r.readWorkspace},
	} {
		if v, ok := fields[part.key]; ok {
			part.read(c, v)
		}
	}
	return c
}

// parse gives the top mapping, or nil where the text is no YAML mapping.
func (r *reader) parse() ast.Node {
	start := source.Position{Line: 1, Column: 1}
	switch {
	case len(r.src) > maxBytes:
		r.fail(start, "", "the convention is larger than %d KB", maxBytes>>10)
		return nil
	case !utf8.Valid(r.src):
		r.fail(source.PositionAt(r.src, validPrefix(r.src)), "save the file as UTF-8", "this is not valid UTF-8")
		return nil
	}
	if at, deep := tooDeep(r.src); deep {
		r.fail(source.PositionAt(r.src, at), "", "brackets are nested more than %d deep", maxDepth)
		return nil
	}
	if at := bytes.Index(r.src, []byte("\n\t")); at >= 0 {
		r.fail(source.PositionAt(r.src, at+1), "indent with spaces", "a tab begins the line: YAML does not allow it")
		return nil
	}
	file, err := parser.ParseBytes(r.src, 0)
	if err != nil {
		r.syntax(err)
		return nil
	}
	if len(file.Docs) != 1 || file.Docs[0].Body == nil {
		r.fail(start, "begin the file with: crooked: 1", "the convention is empty, or holds several documents")
		return nil
	}
	return file.Docs[0].Body
}

func (r *reader) syntax(err error) {
	at := source.Position{Line: 1, Column: 1}
	var syntax *yaml.SyntaxError
	var duplicate *yaml.DuplicateKeyError
	message := err.Error()
	switch {
	case errors.As(err, &duplicate):
		at = source.Position{Line: duplicate.Token.Position.Line, Column: duplicate.Token.Position.Column}
		message = fmt.Sprintf("%s stands here for the second time", duplicate.Token.Value)
	case errors.As(err, &syntax):
		at = source.Position{Line: syntax.Token.Position.Line, Column: syntax.Token.Position.Column}
		message = "this is not valid YAML: " + syntax.Message
		if strings.HasPrefix(strings.TrimSpace(syntax.Token.Value), "*") || strings.Contains(syntax.Message, "alias") {
			r.fail(at, `a text that begins with * needs quotes: "*Service.ts"`, "%s", message)
			return
		}
		if strings.Contains(syntax.Message, "already defined") {
			message = strings.TrimSpace(syntax.Token.Value) + " stands here for the second time"
			r.fail(at, "give it another name, or put the two together", "%s", message)
			return
		}
	}
	r.fail(at, syntaxHint(message), "%s", message)
}

// syntaxHint says what would be right where the parser only says what is wrong.
func syntaxHint(message string) string {
	for _, hint := range []struct{ says, hint string }{
		{"end character of", "close the quotes"},
		{"reserved character", "a text that begins with @ or ` needs quotes"},
		{"must be specified", `a bracket is not closed, or a text that holds [ ] { } or , needs quotes: "src/[id]/"`},
		{"corresponding to", "a bracket is not opened, or a text that begins with & * or holds { } needs quotes"},
		{"not allowed in this context", "indent the keys of one mapping alike"},
	} {
		if strings.Contains(message, hint.says) {
			return hint.hint
		}
	}
	return ""
}

// afterComma says whether a key is the rest of a text that was cut by a comma: it has no colon.
func afterComma(p *ast.MappingValueNode, src []byte) bool {
	if !isNull(p.Value) {
		return false
	}
	line := source.Line(src, position(p.Key).Line)
	_, rest, found := strings.Cut(line, keyText(p))
	return found && !strings.HasPrefix(strings.TrimSpace(rest), ":")
}

func validPrefix(src []byte) int {
	at := 0
	for at < len(src) {
		c, size := utf8.DecodeRune(src[at:])
		if c == utf8.RuneError && size == 1 {
			break
		}
		at += size
	}
	return at
}

// tooDeep counts brackets; quotes are not looked at, since a text with sixty-four open brackets is no template either.
func tooDeep(src []byte) (int, bool) {
	depth := 0
	for i, c := range src {
		switch c {
		case '[', '{':
			if depth++; depth > maxDepth {
				return i, true
			}
		case ']', '}':
			depth = max(0, depth-1)
		}
	}
	return 0, false
}

func position(n ast.Node) source.Position {
	if m, ok := n.(*ast.MappingNode); ok && len(m.Values) > 0 {
		return position(m.Values[0].Key)
	}
	if m, ok := n.(*ast.MappingValueNode); ok {
		return position(m.Key)
	}
	p := n.GetToken().Position
	return source.Position{Line: p.Line, Column: p.Column}
}

// pairs gives the keys and values of a mapping in their order.
func (r *reader) pairs(n ast.Node, what string) []*ast.MappingValueNode {
	switch m := n.(type) {
	case *ast.MappingNode:
		return m.Values
	case *ast.MappingValueNode:
		return []*ast.MappingValueNode{m}
	}
	r.fail(position(n), forms[what], "%s must be a mapping of keys to values", what)
	return nil
}

// forms show how what must be a mapping is written.
var forms = map[string]string{
	"shelves":                `write shelves: { parts: { at: src/parts/, takes: [{ name: "*.tsx" }] } }`,
	"an entry of takes":      `write takes: [{ name: "*.ts" }]`,
	"leave":                  "write leave: { stay: [src/main.ts], generated: [dist/**] }",
	"aliases":                `write aliases: { "@/*": src/* }`,
	"an alias":               `write aliases: { "@/*": { now: src/*, then: app/* } }`,
	"an entry of mentions":   "write mentions: [{ call: [render], like: <view>, file: views/<view>.pug }]",
	"an entry of public":     "write public: [{ folder: public/, at: / }]",
	"an entry of needs":      `write needs: [{ package: vite, at_least: "5.0" }]`,
	"an entry of settings":   "write settings: [{ in: tsconfig.json, set: { compilerOptions: { strict: true } } }]",
	"set":                    "write set: { compilerOptions: { strict: true } }",
	"roots":                  "write roots: { python: src/ }",
	"read_as":                `write read_as: { "*.csp": xml, "bin/*": by first line }`,
	"an entry of generated":  "write generated: [{ files: src/api/made/**, goes_with: data }]",
	"named_by":               "write named_by: { in: gen.yaml, key: out }",
	"an entry of private":    "write private: [{ file: .env, example: .env.example }]",
	"an entry of discard":    "write discard: [{ file: src/old/**, because: nobody uses it }]",
	"listed":                 "write listed: { in: package.json, key: workspaces }",
	"an entry of partner":    "write partner: { shelf: controllers, as: <name|plural> }",
	"an entry of from":       "write from: [{ grain/**: { part: grain } }]",
	"where":                  "write where: { part: [bookings, telescopes] }",
	"an entry of where":      "write where: { part: [bookings, telescopes] }, or { part: { except: [shared] } }",
	"coming_from":            "write coming_from: { shelves: { parts: src/components/** } }",
	"shelves of coming_from": "write shelves: { parts: src/components/** }",
	"aliases of coming_from": `write aliases: { "~/*": "*" }`,
	"roots of coming_from":   "write roots: { sass: styles/ }",
	"today":                  "write where: { part: { today: { core: [model, store] } } }",
	"an exception":           "write exceptions: [{ file: src/old/**, rule: misplaced, because: goes away }]",
	"levels":                 "write levels: { loop: error }",
	"beside":                 "write beside: { must: [<name>.test.ts] }",
	"libraries":              "write libraries: { never: [axios] }",
	"names":                  "write names: { files: kebab }",
	"vars":                   "write vars: { app: src }",
	"pools":                  "write pools: { loose: [src/*] }",
	"an entry of also_at":    "write also_at: [{ at: src/old/ }]",
}

// mappingOf gives what a problem says must be a mapping; empty for another problem.
func mappingOf(message string) string {
	what, ok := strings.CutSuffix(message, " must be a mapping of keys to values")
	if !ok {
		return ""
	}
	return what
}

// fields reads a mapping with fixed keys. Unknown keys are problems.
func (r *reader) fields(n ast.Node, what string, keys []key) map[string]ast.Node {
	found := map[string]ast.Node{}
	for _, pair := range r.pairs(n, what) {
		name := r.text(pair.Key)
		at := position(pair.Key)
		known := slices.Contains(allNames(keys), name)
		switch {
		case !known && afterComma(pair, r.src):
			r.fail(at, `a comma parts keys here: put the whole text in quotes, as in for: "small, shared parts"`,
				"%q is no key, and has no value", name)
		case !known:
			r.fail(at, "the keys here are "+strings.Join(allNames(keys), ", "), "%s has no key %q%s", what, name,
				template.Closest(name, allNames(keys)))
		default:
			found[name] = pair.Value
		}
	}
	return found
}

func allNames(keys []key) []string {
	names := make([]string, len(keys))
	for i, k := range keys {
		names[i] = k.name
	}
	return names
}

// text reads a scalar as it is written.
func (r *reader) text(n ast.Node) string {
	switch v := n.(type) {
	case *ast.StringNode:
		return v.Value
	case *ast.LiteralNode:
		return strings.TrimSpace(v.Value.Value)
	case *ast.IntegerNode, *ast.FloatNode, *ast.BoolNode:
		return v.GetToken().Value
	case *ast.NullNode:
		r.fail(position(n), "write a value behind the colon", "a value is missing")
	case *ast.AliasNode, *ast.AnchorNode, *ast.TagNode:
		r.fail(position(n), `a text that begins with * or & needs quotes: "*Service.ts"`,
			"YAML anchors, aliases and tags are not read here")
	default:
		r.fail(position(n), "write one text, in quotes if it begins with * or has a comma: src/parts/",
			"a text is expected here")
	}
	return ""
}

// list gives the elements of a list, or a single value as a list of one; nil for nil.
func (r *reader) list(n ast.Node) []ast.Node {
	if n == nil {
		return nil
	}
	if s, ok := n.(*ast.SequenceNode); ok {
		return s.Values
	}
	return []ast.Node{n}
}

// names reads templates of names, which do not say where files lie.
func (r *reader) names(n ast.Node) []*template.Template {
	base := r.base
	r.base = ""
	defer func() { r.base = base }()
	return r.templates(n)
}

// templates reads one or many paths.
func (r *reader) templates(n ast.Node) []*template.Template { return r.each(n, r.template) }

// each reads one or many templates, and leaves out what is none.
func (r *reader) each(n ast.Node, read func(ast.Node) *template.Template) []*template.Template {
	var out []*template.Template
	for _, v := range r.list(n) {
		if t := read(v); t != nil {
			out = append(out, t)
		}
	}
	return out
}

func (r *reader) template(n ast.Node) *template.Template {
	before := len(r.problems)
	text := r.text(n)
	if len(r.problems) > before {
		return nil
	}
	return r.templateText(text, n)
}

// templateText compiles a text that stands at a node.
func (r *reader) templateText(text string, n ast.Node) *template.Template {
	at := position(n)
	if text == "" {
		r.fail(at, "write a path from the root, such as src/parts/", "the path is empty")
		return nil
	}
	t, err := template.ParsePath(r.base, text, r.vars)
	if err != nil {
		r.fail(at, "", "%q is no path: %s", text, err)
		return nil
	}
	t.Line, t.Column = at.Line, at.Column
	for _, name := range t.Names() {
		if like := r.slip(name); like != "" {
			r.fail(at, "a placeholder needs a name that is less like a variable's",
				"there is no variable <%s> (did you mean <%s>?)", name, like)
		}
	}
	for i := range t.Tokens {
		t.Tokens[i].Where = r.where[t.Tokens[i].Text]
	}
	return t
}

// slip gives the variable that a placeholder's name differs from by one letter: it would be a placeholder that nothing
// binds, or one that takes anything.
func (r *reader) slip(name string) string {
	for _, known := range slices.Sorted(maps.Keys(r.vars)) {
		if template.OneOff(name, known) {
			return known
		}
	}
	return ""
}

// oneFile reads the path of a file, of which like is an example; empty where it is none.
func (r *reader) oneFile(n ast.Node, like string) string {
	t := r.template(n)
	switch {
	case t == nil:
		return ""
	case !t.Plain():
		r.fail(position(n), "write one file: "+like, "%q is no one file", t.Text)
		return ""
	}
	return t.Fill(nil)
}

func (r *reader) readReadAs(c *Convention, n ast.Node) {
	for _, pair := range r.pairs(n, "read_as") {
		text := r.text(pair.Key)
		one := ReadAs{As: strings.TrimPrefix(r.text(pair.Value), "."), Line: position(pair.Key).Line}
		if one.File = r.template(pair.Key); !strings.Contains(text, "/") {
			one.File, _ = template.ParseName(text, r.vars)
		}
		if one.File != nil {
			c.ReadAs = append(c.ReadAs, one)
		}
	}
}

func (r *reader) readVars(n ast.Node) {
	r.vars = map[string]string{}
	for _, pair := range r.pairs(n, "vars") {
		name, value := r.text(pair.Key), r.text(pair.Value)
		if strings.ContainsAny(value, "<>*?") {
			r.fail(position(pair.Value), "write plain text",
				"the value of the variable %s has placeholders or wildcards", name)
		}
		r.vars[name] = strings.TrimSuffix(value, "/")
	}
}
