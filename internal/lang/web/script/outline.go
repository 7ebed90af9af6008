package script

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// outliner collects what a file declares at its top level, while the scanner reads it.
type outliner struct {
	lang.Outline
	marks    []string // decorators that stand before a declaration to come
	until    int      // words before this place belong to a statement that has been read
	elements bool     // the file has elements
}

// outlined is called on every word at which a statement begins at the file's top level.
func (s *scanner) outlined(text []byte, start int) {
	o := s.outline
	if start < o.until {
		return
	}
	d := lang.Declaration{Marks: o.marks}
	i, word := start, string(text)
	if word == "export" {
		i = s.skipTrivia(start + len(text))
		if !s.exported(&d, &i) {
			return
		}
		word = string(s.src[i:s.wordEnd(i)])
	}
	if word == "import" {
		s.imported(i)
		return
	}
	o.Own = true
	for word == "declare" || word == "abstract" || word == "async" {
		next := s.skipTrivia(i + len(word))
		if classes[s.at(next)] != cWord {
			break
		}
		i, word = next, string(s.src[next:s.wordEnd(next)])
	}
	s.declaration(d, word, i)
}

// exported reads what follows export: a list of names, an export from another file, or a default. It reports whether a
// declaration follows at i.
func (s *scanner) exported(d *lang.Declaration, i *int) bool {
	o := s.outline
	d.Exported = true
	switch c := s.at(*i); {
	case c == '{' || c == '*':
		o.until = s.exportList(*i)
		return false
	case c == '=': // export = name
		*i = s.skipTrivia(*i + 1)
		s.exportDefault(*i)
		return false
	}
	end := s.wordEnd(*i)
	switch string(s.src[*i:end]) {
	case "type":
		if next := s.skipTrivia(end); s.at(next) == '{' || s.at(next) == '*' {
			o.until = s.exportList(next)
			return false
		}
	case "default":
		d.Default = true
		*i = s.skipTrivia(end)
		switch string(s.src[*i:s.wordEnd(*i)]) {
		case "class", "function", "async", "abstract", "interface":
		default:
			s.exportDefault(*i)
			return false
		}
	}
	return true
}

// exportDefault reads the value of a default export that is no declaration.
func (s *scanner) exportDefault(i int) {
	o := s.outline
	end := s.wordEnd(i)
	next := s.at(s.skipTrivia(end))
	// a name alone
	if classes[s.at(i)] == cWord && end > i && (next == ';' || next == 0 || s.endsLine(end, s.skipTrivia(end))) {
		o.Exports = append(o.Exports, lang.Binding{Name: string(s.src[i:end]), Local: lang.DefaultName})
		o.until = end
		return
	}
	o.Own = true
	d := lang.Declaration{Exported: true, Default: true, Offset: i}
	s.value(&d, i)
	o.Declarations = append(o.Declarations, d)
}

// exportList reads { a, b as c } and notes the names unless they come from another file. It gives the place behind.
func (s *scanner) exportList(i int) int {
	o := s.outline
	if s.at(i) == '*' {
		return s.clauseEnd(i)
	}
	end, ok := s.namesEnd(i)
	if !ok {
		return end
	}
	next := s.skipTrivia(end)
	if string(s.src[next:s.wordEnd(next)]) == "from" {
		return s.clauseEnd(next)
	}
	o.Exports = append(o.Exports, names(s.src[i+1:end-1])...)
	return end
}

// clauseEnd gives the place behind the string that ends an import or export clause, within the statement.
func (s *scanner) clauseEnd(i int) int {
	for i < len(s.src) {
		switch c := s.src[i]; {
		case c == '\'' || c == '"':
			return s.stringEnd(i)
		case c == ';':
			return i
		case classes[c] == cWord:
			i = max(s.wordEnd(i), i+1)
		default:
			i++
		}
		i = s.skipTrivia(i)
	}
	return i
}

// imported passes over an import, unless it is an expression.
func (s *scanner) imported(i int) {
	next := s.skipTrivia(i + len("import"))
	if c := s.at(next); c == '(' || c == '.' {
		s.outline.Own = true
		return
	}
	s.outline.until = s.clauseEnd(next)
}

// declaration reads the head of one declaration whose word stands at i. What is none may be a route.
func (s *scanner) declaration(d lang.Declaration, word string, i int) {
	o := s.outline
	name := s.skipTrivia(i + len(word))
	if word == "function" && s.at(name) == '*' {
		name = s.skipTrivia(name + 1)
	}
	if word == "const" && string(s.src[name:s.wordEnd(name)]) == "enum" {
		word, name = "enum", s.skipTrivia(name+len("enum"))
	}
	end := s.wordEnd(name)
	d.Name, d.Offset = string(s.src[name:end]), name
	switch word {
	case "class":
		if d.Name == "extends" {
			d.Name, end = "", name
		}
		d.Kinds = lang.IsClass
		d.Extends = s.bases(end)
		o.marks = nil
	case "function":
		d.Kinds = lang.IsFunction
	case "interface", "type", "enum", "namespace":
		if d.Name == "" || s.dialect&TypeScript == 0 {
			return
		}
		d.Kinds = lang.IsType
		d.Extends = s.bases(end)
	case "const", "let", "var":
		if d.Name == "" {
			return
		}
		d.Kinds = lang.IsConstant
		if value := s.assigned(end); value > 0 {
			s.value(&d, value)
		}
	case "module", "exports":
		s.commonExport(word, i)
		return
	default:
		s.route(i, i+len(word))
		return
	}
	s.judge(&d)
	o.until = max(end, name)
	o.Declarations = append(o.Declarations, d)
}

// judge adds the kinds that follow from the name.
func (s *scanner) judge(d *lang.Declaration) {
	if d.Kinds&lang.IsFunction == 0 {
		return
	}
	if rest, ok := strings.CutPrefix(d.Name, "use"); ok && rest != "" && capital(rest[0]) {
		d.Kinds |= lang.IsHook
	}
}

// assigned gives the place of the value that a variable is given, past a type; 0 for none on the next few lines.
func (s *scanner) assigned(i int) int {
	const far = 512
	depth := 0
	for end := min(len(s.src), i+far); i < end; i++ {
		switch s.src[i] {
		case '(', '[', '{', '<':
			depth++
		case ')', ']', '}':
			depth--
		case '>':
			if s.src[i-1] != '=' {
				depth--
			}
		case ';':
			if depth == 0 {
				return 0
			}
		case '=':
			if depth == 0 && s.at(i+1) != '>' && s.at(i+1) != '=' {
				return s.skipTrivia(i + 1)
			}
		}
	}
	return 0
}

// value says what a variable or default export is by the beginning of its value: a function, a class, or a call that is
// given one.
func (s *scanner) value(d *lang.Declaration, i int) {
	if s.isFunction(i) {
		d.Kinds = d.Kinds&^lang.IsConstant | lang.IsFunction
		s.judge(d)
		return
	}
	end := s.wordEnd(i)
	switch word := string(s.src[i:end]); word {
	case "class":
		d.Kinds = d.Kinds&^lang.IsConstant | lang.IsClass
		next := s.skipTrivia(end)
		if name := s.wordEnd(next); string(s.src[next:name]) != "extends" {
			next = name
		}
		d.Extends = s.bases(next)
		return
	case "", "new", "await":
		return
	}
	for s.at(end) == '.' {
		end = s.wordEnd(end + 1)
	}
	next := s.skipTrivia(end)
	if s.at(next) == '<' {
		next = s.skipTrivia(s.typeArgumentsEnd(next))
	}
	if s.at(next) == '(' {
		inner := s.skipTrivia(next + 1)
		if s.isFunction(inner) || capital(s.at(inner)) && s.at(s.skipTrivia(s.wordEnd(inner))) == ')' {
			// a wrapped one: memo(Card), forwardRef((props, ref) => ...)
			d.Kinds = d.Kinds&^lang.IsConstant | lang.IsFunction
			s.judge(d)
		}
	}
}

// isFunction says whether a function begins at i: by its word, or as parameters with an arrow.
func (s *scanner) isFunction(i int) bool {
	end := s.wordEnd(i)
	switch string(s.src[i:end]) {
	case "function":
		return true
	case "async":
		return s.isFunction(s.skipTrivia(end))
	}
	if end > i {
		next := s.skipTrivia(end)
		return s.at(next) == '=' && s.at(next+1) == '>'
	}
	if s.at(i) == '<' {
		i = s.skipTrivia(s.typeArgumentsEnd(i))
	}
	if s.at(i) != '(' {
		return false
	}
	const far = 2048
	depth := 0
	for k, stop := i, min(len(s.src), i+far); k < stop; k++ {
		switch s.src[k] {
		case '(':
			depth++
		case ')':
			if depth--; depth == 0 {
				next := s.skipTrivia(k + 1)
				return s.at(next) == ':' || s.at(next) == '=' && s.at(next+1) == '>'
			}
		}
	}
	return false
}

// bases reads what a class or type extends.
func (s *scanner) bases(i int) []string {
	i = s.skipTrivia(i)
	if s.at(i) == '<' {
		i = s.skipTrivia(s.typeArgumentsEnd(i))
	}
	end := s.wordEnd(i)
	if string(s.src[i:end]) != "extends" {
		return nil
	}
	i = s.skipTrivia(end)
	var out []string
	for {
		end = s.wordEnd(i)
		for s.at(end) == '.' {
			end = s.wordEnd(end + 1)
		}
		if end == i {
			return out
		}
		out = append(out, string(s.src[i:end]))
		i = s.skipTrivia(end)
		if s.at(i) == '<' {
			i = s.skipTrivia(s.typeArgumentsEnd(i))
		}
		if s.at(i) != ',' {
			return out
		}
		i = s.skipTrivia(i + 1)
	}
}

// commonExport reads module.exports = x and exports.x = y.
func (s *scanner) commonExport(word string, i int) {
	o := s.outline
	dot := s.skipTrivia(i + len(word))
	if s.at(dot) != '.' {
		return
	}
	name := s.skipTrivia(dot + 1)
	end := s.wordEnd(name)
	d := lang.Declaration{Name: string(s.src[name:end]), Kinds: lang.IsConstant, Exported: true, Offset: name}
	if word == "module" {
		if d.Name != "exports" {
			return
		}
		d.Name, d.Default = "", true
	}
	next := s.skipTrivia(end)
	if word == "module" && s.at(next) == '.' { // module.exports.x
		name = s.skipTrivia(next + 1)
		end = s.wordEnd(name)
		d.Name, d.Default, d.Offset = string(s.src[name:end]), false, name
		next = s.skipTrivia(end)
	}
	if s.at(next) != '=' || s.at(next+1) == '=' {
		return
	}
	s.value(&d, s.skipTrivia(next+1))
	o.Declarations = append(o.Declarations, d)
}

// routeVerbs are the calls by which a module answers addresses.
var routeVerbs = map[string]bool{"get": true, "post": true, "put": true, "patch": true, "delete": true, "head": true,
	"options": true, "all": true, "route": true, "use": true}

// route notes a call such as router.get('/nights', ...).
func (s *scanner) route(start, end int) {
	dot := s.skipTrivia(end)
	if s.at(dot) != '.' {
		return
	}
	verb := s.skipTrivia(dot + 1)
	end = s.wordEnd(verb)
	open := s.skipTrivia(end)
	if !routeVerbs[string(s.src[verb:end])] || s.at(open) != '(' {
		return
	}
	at := s.skipTrivia(open + 1)
	span, _, ok := s.literal(at)
	if !ok || !bytes.HasPrefix(s.src[span.Start:span.End], []byte("/")) {
		return
	}
	s.outline.Declarations = append(s.outline.Declarations, lang.Declaration{
		Name: string(s.src[span.Start:span.End]), Kinds: lang.IsRoute, Offset: start,
	})
}

// mark notes a decorator whose name begins at i.
func (s *scanner) mark(i int) {
	end := s.wordEnd(i)
	for s.at(end) == '.' {
		end = s.wordEnd(end + 1)
	}
	s.outline.marks = append(s.outline.marks, string(s.src[i:end]))
	s.outline.until = end
}

// draws says whether a declaration is a component in a file with elements: what has a capital name and is a function,
// or a class that is built on another. A default export without a name bears that of the file.
func draws(d *lang.Declaration, p string) bool {
	name := d.Name
	if name == "" && d.Default {
		name = strings.TrimSuffix(path.Base(p), path.Ext(p))
	}
	return name != "" && capital(name[0]) &&
		(d.Kinds&lang.IsFunction != 0 || d.Kinds&lang.IsClass != 0 && len(d.Extends) > 0)
}

// mayDraw says whether a declaration is a component if the file has elements.
func (o *outliner) mayDraw(p string) bool {
	return slices.ContainsFunc(o.Declarations, func(d lang.Declaration) bool { return draws(&d, p) })
}

// finish gives the outline.
func (o *outliner) finish(p string) *lang.Outline {
	for i := range o.Declarations {
		d := &o.Declarations[i]
		if o.elements && draws(d, p) {
			d.Kinds |= lang.IsComponent
		}
		for _, e := range o.Exports {
			if e.Name == d.Name {
				d.Exported, d.Default = true, d.Default || e.Local == lang.DefaultName
			}
		}
	}
	return &o.Outline
}
