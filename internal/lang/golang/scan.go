// Package golang is Go: which packages a file imports, which names of its own package and of others it uses, what it
// embeds and declares. It is made on the language's own parser, and knows no types: where these would be needed it
// blocks a move.
//
// scan.go finds what a file's bytes say by themselves, file.go what it declares and uses; index.go joins the files of
// packages, resolve.go says where mentions lead. moves.go works out what becomes of the packages, judge.go and
// circles.go what the language forbids, settle.go and imports.go what is written.
package golang

import (
	"bytes"
	"go/ast"
	"go/parser"
	"go/token"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Family is Go.
func Family() lang.Family {
	return lang.Family{
		Name:   "Go",
		InText: lang.BehindQuote, Declares: true, Requires: requires,
		Reads: func(p string) bool { return strings.HasSuffix(p, ".go") || isModuleFile(p) },
		Scan:  func(s lang.Source) (lang.Scanned, error) { return Scan(s.As, s.Content, s.Declared) },
		Index: func(_ string, content []byte) (any, error) { return read(content) },
		Fixed: fixed,
		Rules: func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		Facts: lang.Facts{Manifest: manifestName, Called: map[string]string{".go": "Go"}, Programs: []string{".go"},
			Tests: lang.Marks{Stems: []string{"_test"}}},
	}
}

// Scan finds the imports and embedded files of a Go file. It reads the imports alone, and the rest only where it is
// asked for what the file declares.
func Scan(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
	if isModuleFile(p) {
		return lang.Scanned{Mentions: scanModule(p, content)}, nil
	}
	mode := parser.ImportsOnly | parser.SkipObjectResolution
	if declared.WantsOutlines() {
		mode = parser.SkipObjectResolution
	}
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, "", content, mode)
	if file == nil || err != nil && mode&parser.ImportsOnly != 0 {
		return lang.Scanned{}, &lang.ScanError{Message: "it can't be read: " + message(err)}
	}
	var found lang.Scanned
	embeds := false
	for _, spec := range file.Imports {
		text, err := strconv.Unquote(spec.Path.Value)
		start := set.Position(spec.Path.Pos()).Offset
		if err != nil || start < 0 || start+len(spec.Path.Value) > len(content) {
			continue
		}
		embeds = embeds || text == "embed"
		found.Mentions = append(found.Mentions, lang.Mention{
			Span: source.Span{Start: start + 1, End: start + len(spec.Path.Value) - 1}, Text: text, Kind: PackageImport,
			Form: lang.InScript, Quote: spec.Path.Value[0],
		})
	}
	if embeds {
		found.Mentions = append(found.Mentions, embedded(content)...)
	}
	if declared == nil || !declared.Certain {
		imports := map[int]bool{}
		for i := range found.Mentions {
			imports[found.Mentions[i].Span.Start] = true
		}
		found.Mentions = append(found.Mentions, texts(p, content, func(at int) bool { return imports[at] })...)
		found.Mentions = append(found.Mentions, generated(content)...)
		found.Mentions = append(found.Mentions, sources(content)...)
		slices.SortFunc(found.Mentions, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	}
	if declared.WantsOutlines() {
		found.Outline = outline(file, set)
	}
	return found, nil
}

func message(err error) string {
	if err == nil {
		return "it is no Go file"
	}
	return err.Error()
}

// embedded finds the patterns of embed directives, which stand at the beginning of a line.
func embedded(content []byte) []lang.Mention {
	var out []lang.Mention
	for at := range directives(content, embedMark) {
		out = append(out, patterns(content, at.Start, at.End)...)
	}
	return out
}

// patterns splits the rest of a directive into its patterns; one in quotes may hold blanks.
func patterns(content []byte, start, end int) []lang.Mention {
	var out []lang.Mention
	for i := start; i < end; {
		switch c := content[i]; {
		case c == ' ' || c == '\t' || c == '\r':
			i++
		case c == '"' || c == '`':
			n := bytes.IndexByte(content[i+1:end], c)
			if n < 0 {
				return out
			}
			span := source.Span{Start: i + 1, End: i + 1 + n}
			out = append(out, lang.Mention{Span: span, Text: string(content[span.Start:span.End]), Kind: Embed,
				Form: lang.Plain, Quote: c})
			i = span.End + 1
		default:
			n := bytes.IndexAny(content[i:end], " \t\r")
			if n < 0 {
				n = end - i
			}
			out = append(out, lang.Mention{Span: source.Span{Start: i, End: i + n}, Text: string(content[i : i+n]),
				Kind: Embed, Form: lang.Plain})
			i += n
		}
	}
	return out
}

// outline is what the file declares. A struct counts as a class, since both are what methods hang on.
func outline(file *ast.File, set *token.FileSet) *lang.Outline {
	o := &lang.Outline{Own: true}
	add := func(name *ast.Ident, kinds lang.DeclarationKinds, extends ...string) {
		o.Declarations = append(o.Declarations, lang.Declaration{
			Name: name.Name, Kinds: kinds, Exported: name.IsExported(), Extends: extends,
			Offset: set.Position(name.Pos()).Offset,
		})
	}
	for _, d := range file.Decls {
		switch d := d.(type) {
		case *ast.FuncDecl:
			if d.Recv == nil {
				add(d.Name, lang.IsFunction)
			}
		case *ast.GenDecl:
			for _, spec := range d.Specs {
				switch s := spec.(type) {
				case *ast.TypeSpec:
					kinds := lang.IsType
					if body, ok := s.Type.(*ast.StructType); ok {
						kinds |= lang.IsClass
						add(s.Name, kinds, bases(body)...)
						continue
					}
					add(s.Name, kinds)
				case *ast.ValueSpec:
					for _, name := range s.Names {
						if name.Name != "_" {
							add(name, lang.IsConstant)
						}
					}
				}
			}
		}
	}
	return o
}

// bases are the types that a struct embeds.
func bases(body *ast.StructType) []string {
	var out []string
	for _, f := range body.Fields.List {
		if len(f.Names) > 0 {
			continue
		}
		t := f.Type
		if star, ok := t.(*ast.StarExpr); ok {
			t = star.X
		}
		switch t := t.(type) {
		case *ast.Ident:
			out = append(out, t.Name)
		case *ast.SelectorExpr:
			if x, ok := t.X.(*ast.Ident); ok {
				out = append(out, x.Name+"."+t.Sel.Name)
			}
		}
	}
	return out
}
