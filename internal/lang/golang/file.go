package golang

//lint:file-ignore SA1019 the parser's own scopes know one file without its types: that is all that is asked of them

import (
	"bytes"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/source"
)

// file is what a Go file declares and uses at the level of its package. It depends on the file's text alone, so it is
// read once for a text.
type file struct {
	clause   string // the package that the file says it is of
	clauseAt source.Span
	docAt    source.Span // the package's name in the comment above, which begins with Package and that; empty for none
	imports  []spec
	// block is where the list of a parenthesized import declaration ends, or 0; after is where an import declaration
	// may be added.
	block, after int
	declarations int // of imports

	declared []declaration
	// members are the unexported names of fields and methods that the file declares; selected are those that it
	// selects. Both with the types on which they are, as far as the file shows it; the empty one where it does not.
	members, selected map[member]bool
	uses              []use
	links             []use // names in comments
	printed           []use // names in comments that say what an example prints
	// locals are the names that are declared within functions, and of their parameters.
	locals map[string]bool
	// closed are structs with fields that are not exported; unkeyed are types of which there are literals without keys.
	closed, unkeyed map[string]bool
	cgo, linked     bool // it holds C, or names for the linker
	runs            bool // it does something when the program starts: by init, or by a value that nobody reads
}

// spec is one import.
type spec struct {
	name string // as written; empty where the package's own name is used
	path string
	at   source.Span // the path, without quotes
	all  source.Span // the import, with its name
	line source.Span // its line, where it stands alone on it; else the import declaration
	// doc: a comment above belongs to it; comment: one does. crowded: others stand on its line.
	doc, comment, crowded bool
}

// declaration is a name of the package that a file declares. Methods are not: they hang on their types.
type declaration struct {
	name string
	at   int
}

// use is a name of the package, or of an imported one, that a file uses and does not declare.
type use struct {
	name      string
	at        source.Span // with the qualifier
	qualifier string      // x of x.Name; empty where there is none
	// method: a method is declared on it. doubtful: a key in a literal, which may be a field's name.
	method, doubtful bool
}

// names are what the file declares for its package.
func (f *file) names() []string {
	out := make([]string, len(f.declared))
	for i, d := range f.declared {
		out[i] = d.name
	}
	return out
}

// exported says whether another package may use a name.
func exported(name string) bool { return ast.IsExported(name) }

// most is the size in bytes above which a file is not read for its names: a tree of a text takes seventy times its
// bytes.
const most = 8 << 20

// read reads a Go file.
func read(content []byte) (*file, error) {
	if len(content) > most {
		return nil, fmt.Errorf("it is larger than %d MB", most>>20)
	}
	set := token.NewFileSet()
	parsed, err := parser.ParseFile(set, "", content, parser.ParseComments)
	if err != nil {
		return nil, err
	}
	base := set.File(parsed.FileStart).Base()
	offset := func(p token.Pos) int { return int(p) - base }
	span := func(n ast.Node) source.Span { return source.Span{Start: offset(n.Pos()), End: offset(n.End())} }
	f := &file{
		clause: parsed.Name.Name, clauseAt: span(parsed.Name), members: map[member]bool{}, selected: map[member]bool{},
		closed: map[string]bool{}, unkeyed: map[string]bool{}, locals: map[string]bool{},
		linked: bytes.Contains(content, []byte("//go:linkname ")), after: offset(parsed.Name.End()),
	}
	if parsed.Doc != nil {
		f.docAt = documented(content, span(parsed.Doc), f.clause)
	}
	lines := set.File(parsed.FileStart)
	f.readImports(parsed, span, func(p token.Pos) source.Span { // with the newline
		n := lines.PositionFor(p, false).Line // a comment may say otherwise
		if n == lines.LineCount() {
			return source.Span{Start: offset(lines.LineStart(n)), End: len(content)}
		}
		return source.Span{Start: offset(lines.LineStart(n)), End: offset(lines.LineStart(n + 1))}
	})
	r := reader{file: f, span: span, selectors: map[*ast.Ident]*ast.SelectorExpr{}, receivers: map[*ast.Ident]bool{},
		top: map[*ast.Object]bool{}, owners: map[ast.Expr]string{}}
	for _, d := range parsed.Decls {
		r.declare(d)
	}
	for _, o := range parsed.Scope.Objects {
		r.top[o] = true
	}
	ast.Inspect(parsed, r.visit)
	for _, id := range parsed.Unresolved {
		u := use{name: id.Name, at: span(id), method: r.receivers[id]}
		if selector := r.selectors[id]; selector != nil {
			u = use{name: selector.Sel.Name, qualifier: id.Name, at: span(selector)}
		}
		f.uses = append(f.uses, u)
	}
	for _, group := range parsed.Comments {
		f.links = append(f.links, docLinks(content, span(group))...)
		f.printed = append(f.printed, printed(content, span(group))...)
	}
	slices.SortFunc(f.uses, func(a, b use) int { return a.at.Start - b.at.Start })
	return f, nil
}

// output begins a comment that says what an example prints (go.dev/pkg/testing, Examples); qualified is a name with
// that of its package, as the verbs %T and %#v print it.
var (
	output    = regexp.MustCompile(`(?i)^(?://|/\*)\s*(?:unordered )?output:`)
	qualified = regexp.MustCompile(`\b(\w+)\.(\w+)`)
)

// printed finds the names of packages in a comment that says what an example prints.
func printed(content []byte, comment source.Span) (out []use) {
	text := content[comment.Start:comment.End]
	if !output.Match(text) {
		return nil
	}
	for _, m := range qualified.FindAllSubmatchIndex(text, -1) {
		out = append(out, use{qualifier: string(text[m[2]:m[3]]), name: string(text[m[4]:m[5]]),
			at: source.Span{Start: comment.Start + m[0], End: comment.Start + m[1]}})
	}
	return out
}

// docLink is a name in brackets in a comment, with what stands before its dot (go.dev/doc/comment, doc links). A method
// or a field may stand behind it.
var docLink = regexp.MustCompile(`\[\*?(?:([\w./~-]*\w)\.)?([A-Z]\w*)(?:\.\w+)?\]`)

// docLinks finds the names of packages that a comment links to.
func docLinks(content []byte, comment source.Span) (out []use) {
	for _, m := range docLink.FindAllSubmatchIndex(content[comment.Start:comment.End], -1) {
		if end := comment.Start + m[1]; end < len(content) && (content[end] == '(' || content[end] == ':' ||
			content[end] == '[') {
			continue // a link of another kind
		}
		u := use{at: source.Span{Start: comment.Start + m[4], End: comment.Start + m[5]}}
		u.name = string(content[u.at.Start:u.at.End])
		if m[2] >= 0 {
			u.at.Start = comment.Start + m[2]
			u.qualifier = string(content[u.at.Start : comment.Start+m[3]])
		}
		out = append(out, u)
	}
	return out
}

// documented finds the name of a package in the comment that describes it, by the form that the language's tools ask
// for.
func documented(content []byte, comment source.Span, name string) source.Span {
	for _, mark := range []string{"// Package ", "/*\nPackage ", "/* Package "} {
		if head := mark + name; bytes.HasPrefix(content[comment.Start:comment.End], []byte(head)) {
			end := comment.Start + len(head)
			if end == comment.End || bytes.IndexByte([]byte(" \n.,:;"), content[end]) >= 0 {
				return source.Span{Start: end - len(name), End: end}
			}
		}
	}
	return source.Span{}
}

func (f *file) readImports(parsed *ast.File, span func(ast.Node) source.Span, line func(token.Pos) source.Span) {
	for _, d := range parsed.Decls {
		declared, is := d.(*ast.GenDecl)
		if !is || declared.Tok != token.IMPORT {
			break
		}
		f.declarations++
		whole := span(declared)
		cgo := false
		for _, s := range declared.Specs {
			s := s.(*ast.ImportSpec)
			text, err := strconv.Unquote(s.Path.Value)
			if err != nil {
				continue
			}
			cgo = cgo || text == "C"
			quoted := span(s.Path)
			one := spec{path: text, at: source.Span{Start: quoted.Start + 1, End: quoted.End - 1}, all: span(s),
				line: whole, doc: s.Doc != nil, comment: s.Doc != nil || s.Comment != nil}
			if s.Name != nil {
				one.name = s.Name.Name
			}
			if declared.Lparen.IsValid() {
				one.line = line(s.Pos())
			}
			f.imports = append(f.imports, one)
		}
		for i := 1; i < len(f.imports); i++ {
			if a, b := &f.imports[i-1], &f.imports[i]; a.line.Start < b.line.End && b.line.Start < a.line.End {
				a.crowded, b.crowded = true, true
			}
		}
		f.cgo = f.cgo || cgo
		if f.after = whole.End; declared.Lparen.IsValid() && !cgo {
			f.block = whole.End - 1
		}
	}
}

// reader gathers what a file says while its tree is walked.
type reader struct {
	*file
	span      func(ast.Node) source.Span
	selectors map[*ast.Ident]*ast.SelectorExpr // by what stands before the dot
	receivers map[*ast.Ident]bool              // the types on which methods are declared
	top       map[*ast.Object]bool             // what the file declares for its package
	owners    map[ast.Expr]string              // the names of the types that it declares
}

// declare notes the names that a declaration adds to the package.
func (r *reader) declare(d ast.Decl) {
	add := func(id *ast.Ident) {
		if id.Name != "_" {
			r.declared = append(r.declared, declaration{id.Name, r.span(id).Start})
		}
	}
	switch d := d.(type) {
	case *ast.FuncDecl:
		switch {
		case d.Recv == nil && d.Name.Name == "init":
			r.runs = true
		case d.Recv == nil:
			add(d.Name)
		case len(d.Recv.List) > 0: // a receiver may be missing in a text that the compiler refuses
			r.member(d.Name, typeName(d.Recv.List[0].Type))
			ast.Inspect(d.Recv, func(n ast.Node) bool {
				if id, is := n.(*ast.Ident); is {
					r.receivers[id] = true
				}
				return true
			})
		}
	case *ast.GenDecl:
		for _, s := range d.Specs {
			switch s := s.(type) {
			case *ast.TypeSpec:
				add(s.Name)
				r.owners[s.Type] = s.Name.Name
				if body, is := s.Type.(*ast.StructType); is && hides(body) {
					r.closed[s.Name.Name] = true
				}
			case *ast.ValueSpec:
				for i, name := range s.Names {
					add(name)
					r.runs = r.runs || name.Name == "_" && i < len(s.Values) && calls(s.Values[i])
				}
			}
		}
	}
}

// hides says whether a struct has fields that are not exported.
func hides(body *ast.StructType) bool {
	hidden := false
	for _, f := range body.Fields.List {
		names := f.Names
		if len(names) == 0 {
			t := f.Type
			if star, is := t.(*ast.StarExpr); is {
				t = star.X
			}
			if id, is := t.(*ast.Ident); is {
				names = []*ast.Ident{id}
			}
		}
		hidden = hidden || slices.ContainsFunc(names, func(id *ast.Ident) bool { return !exported(id.Name) })
	}
	return hidden
}

// calls says whether a value is that of a call, and not of a conversion such as (*T)(nil).
func calls(value ast.Expr) bool {
	call, is := value.(*ast.CallExpr)
	if !is {
		return false
	}
	_, converts := call.Fun.(*ast.ParenExpr)
	return !converts
}

// member is a field or a method, with the name of its type; that is empty where it is not known.
type member struct{ name, of string }

func (r *reader) member(id *ast.Ident, of string) {
	if !exported(id.Name) {
		r.members[member{id.Name, of}] = true
	}
}

// selects notes that a member is selected, or named by a key.
func (r *reader) selects(name, of string) {
	if !exported(name) {
		r.selected[member{name, of}] = true
	}
}

// typeName is the name of a type of the package, or of what a pointer to one points to; empty for any other.
func typeName(t ast.Expr) string {
	switch t := t.(type) {
	case *ast.Ident:
		if t.Obj == nil || t.Obj.Kind == ast.Typ && !isParameter(t.Obj) {
			return t.Name
		}
	case *ast.StarExpr:
		return typeName(t.X)
	case *ast.ParenExpr:
		return typeName(t.X)
	case *ast.IndexExpr:
		return typeName(t.X)
	case *ast.IndexListExpr:
		return typeName(t.X)
	}
	return ""
}

// isParameter says whether a type is the parameter of another, or of a function.
func isParameter(o *ast.Object) bool { _, is := o.Decl.(*ast.Field); return is }

// typeOf is the name of the type of a value, where the declaration of its name shows it: a receiver, a parameter, a
// variable with a type or with a literal. Empty where it does not.
func typeOf(x ast.Expr) string {
	id, is := x.(*ast.Ident)
	if !is || id.Obj == nil {
		return ""
	}
	switch d := id.Obj.Decl.(type) {
	case *ast.Field:
		return typeName(d.Type)
	case *ast.ValueSpec:
		if d.Type != nil {
			return typeName(d.Type)
		}
		for i, name := range d.Names {
			if name.Name == id.Name && len(d.Values) == len(d.Names) {
				return made(d.Values[i])
			}
		}
	case *ast.AssignStmt:
		for i, left := range d.Lhs {
			if name, is := left.(*ast.Ident); is && name.Name == id.Name && len(d.Rhs) == len(d.Lhs) {
				return made(d.Rhs[i])
			}
		}
	}
	return ""
}

// made is the name of the type of which an expression makes a value: T{}, &T{}, new(T).
func made(x ast.Expr) string {
	switch x := x.(type) {
	case *ast.UnaryExpr:
		if x.Op == token.AND {
			return made(x.X)
		}
	case *ast.CompositeLit:
		return typeName(x.Type)
	case *ast.CallExpr:
		if id, is := x.Fun.(*ast.Ident); is && id.Name == "new" && id.Obj == nil && len(x.Args) == 1 {
			return typeName(x.Args[0])
		}
	}
	return ""
}

// visit notes what stands in a node.
func (r *reader) visit(n ast.Node) bool {
	switch n := n.(type) {
	case *ast.SelectorExpr:
		if id, is := n.X.(*ast.Ident); is {
			r.selectors[id] = n
		}
		r.selects(n.Sel.Name, typeOf(n.X))
	case *ast.StructType:
		r.fields(n.Fields, r.owners[n])
	case *ast.InterfaceType:
		r.fields(n.Methods, r.owners[n])
		for _, m := range n.Methods.List { // a type that has them must be of the same package
			for _, name := range m.Names {
				r.selects(name.Name, "")
			}
		}
	case *ast.CompositeLit:
		r.keys(n)
		r.noteUnkeyed(n, n.Type)
	case *ast.Ident:
		if n.Obj != nil && n.Obj.Pos() == n.Pos() && !r.top[n.Obj] {
			r.locals[n.Name] = true
		}
	}
	return true
}

func (r *reader) fields(list *ast.FieldList, of string) {
	for _, f := range list.List {
		for _, name := range f.Names {
			r.member(name, of)
		}
		if len(f.Names) == 0 { // an embedded type is a field of its name
			ast.Inspect(f.Type, func(n ast.Node) bool {
				if id, is := n.(*ast.Ident); is {
					r.member(id, of)
				}
				return true
			})
		}
	}
}

// noteUnkeyed notes the type of a literal without keys, and of those within it that leave their types out.
func (r *reader) noteUnkeyed(literal *ast.CompositeLit, of ast.Expr) {
	var inner ast.Expr
	switch t := of.(type) {
	case *ast.StarExpr:
		r.noteUnkeyed(literal, t.X)
		return
	case *ast.IndexExpr:
		r.noteUnkeyed(literal, t.X)
		return
	case *ast.Ident:
		if len(literal.Elts) > 0 {
			if _, keyed := literal.Elts[0].(*ast.KeyValueExpr); !keyed {
				r.unkeyed[t.Name] = true
			}
		}
		return
	case *ast.ArrayType:
		inner = t.Elt
	case *ast.MapType:
		inner = t.Value
	default:
		return
	}
	for _, e := range literal.Elts {
		if pair, is := e.(*ast.KeyValueExpr); is {
			e = pair.Value
		}
		if below, is := e.(*ast.CompositeLit); is && below.Type == nil {
			r.noteUnkeyed(below, inner)
		}
	}
}

// keys notes names that stand as keys in a literal. Those of maps and arrays are values; of what has a name it is not
// known without types whether it is a struct, whose keys are its fields.
func (r *reader) keys(literal *ast.CompositeLit) {
	certain := false
	switch literal.Type.(type) {
	case *ast.MapType, *ast.ArrayType:
		certain = true
	case *ast.StructType:
		return
	}
	for _, e := range literal.Elts {
		pair, is := e.(*ast.KeyValueExpr)
		if !is {
			continue
		}
		id, is := pair.Key.(*ast.Ident)
		if !is {
			continue
		}
		if !certain {
			r.selects(id.Name, typeName(literal.Type))
		}
		if id.Obj == nil {
			r.uses = append(r.uses, use{name: id.Name, at: r.span(id), doubtful: !certain})
		}
	}
}

// isTest says whether a file is compiled for tests alone.
func isTest(p string) bool { return strings.HasSuffix(p, "_test.go") }

// external says whether a file of tests is of the package beside the one that it tests.
func (f *file) external(p string) bool { return isTest(p) && strings.HasSuffix(f.clause, "_test") }

// lastElement is the name that a package has by its path, if the path's last part can be one; empty if it can't.
func lastElement(p string) string {
	name := path.Base(p)
	if p == "." || !token.IsIdentifier(name) || name == "_" {
		return ""
	}
	return name
}

// version is the last part of a path that says only which version of a module it is (go.dev/ref/mod, major version
// suffixes).
var version = regexp.MustCompile(`^(.+)/v[0-9]+$`)

// importedName is the name that a package most likely has of which nothing is known but its import path.
func importedName(importPath string) string {
	return lastElement(version.ReplaceAllString(importPath, "$1"))
}
