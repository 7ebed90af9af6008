package syntax

import "strings"

// block is a scope whose lines stand deeper than its head.
type block struct {
	scope  *scope
	column int
}

// module reads line after line: the column of each says which blocks are over.
func (r *Reader) module() {
	blocks := []block{{&scope{}, -1}}
	for i := 0; i < len(r.Tokens); {
		if r.Tokens[i].Kind != lineToken {
			i++
			continue
		}
		column := r.Tokens[i].End
		for blocks[len(blocks)-1].column >= column {
			blocks = blocks[:len(blocks)-1]
		}
		end := i + 1
		for end < len(r.Tokens) && r.Tokens[end].Kind != lineToken {
			end++
		}
		if inner := r.line(i+1, end, blocks[len(blocks)-1].scope); inner != nil {
			blocks = append(blocks, block{inner, column})
		}
		i = end
	}
}

// line reads the statements of a logical line. It gives the scope that a head of a class or function opens.
func (r *Reader) line(i, end int, s *scope) (opened *scope) {
	if r.depth++; r.depth > mostDepth {
		return nil
	}
	defer func() { r.depth-- }()
	for i < end {
		head := i
		if r.Word(head) == "async" {
			head++
		}
		switch r.Word(head) {
		case "def":
			colon, inner := r.function(head, end, s)
			r.line(colon+1, end, inner)
			return inner
		case "class":
			colon := r.until(head, end, ':')
			inner := &scope{parent: s, kind: classScope}
			r.bind(s, r.Word(head+1), Binding{})
			r.expression(head+2, colon, s)
			r.line(colon+1, end, inner)
			return inner
		case "if", "elif", "while", "else", "try", "finally", "with", "for", "except", "match", "case":
			if colon := r.until(head, end, ':'); colon < end && r.compound(head, colon, end) {
				r.head(head, colon, s)
				i = colon + 1
				continue
			}
		}
		stop := r.until(i, end, ';')
		r.simple(i, stop, s)
		i = stop + 1
	}
	return nil
}

// compound says whether a line that begins with match or case is such a statement: they are names too.
func (r *Reader) compound(head, colon, end int) bool {
	if w := r.Word(head); w != "match" && w != "case" {
		return true
	}
	next := head + 1
	return next < colon && (r.Tokens[next].Kind != opToken || strings.IndexByte("([{-*", r.Tokens[next].op) >= 0) &&
		(colon == end-1 || r.Word(head) == "case")
}

// until gives the place of an operator outside of brackets, and end if there is none. The colon of a lambda is none.
func (r *Reader) until(i, end int, op byte) int {
	for lambdas := 0; i < end; i++ {
		t := r.Tokens[i]
		switch {
		case t.Kind == nameToken && r.Word(i) == "lambda" && !r.Is(i-1, '.'):
			lambdas++
		case t.Kind != opToken:
		case r.Opens(i):
			i = r.Match[i]
		case t.op == ':' && lambdas > 0:
			lambdas--
		case t.op == op && lambdas == 0: // within its parameters nothing counts
			return i
		}
	}
	return end
}

// function reads the head of a function, whose def is here: what stands for its arguments is evaluated outside.
func (r *Reader) function(i, end int, s *scope) (colon int, inner *scope) {
	inner = &scope{parent: s, kind: functionScope}
	r.bind(s, r.Word(i+1), Binding{})
	open := i + 2
	if r.Is(open, '[') {
		open = r.closing(open, end) + 1
	}
	colon = r.until(open, end, ':')
	if !r.Is(open, '(') {
		return colon, inner
	}
	shut := r.closing(open, end)
	r.parameters(open+1, shut, s, inner)
	r.expression(shut+1, colon, s)
	return colon, inner
}

// parameters binds the names of arguments in a scope; what they are by default, and their types, are read in the one
// around it.
func (r *Reader) parameters(i, end int, s, inner *scope) {
	for i < end {
		stop := r.until(i, end, ',')
		for r.Is(i, '*') || r.Is(i, '/') {
			i++
		}
		r.bind(inner, r.Word(i), Binding{})
		r.expression(i+1, stop, s)
		i = stop + 1
	}
}

// closing gives the place of the bracket that closes the one which is here.
func (r *Reader) closing(i, end int) int { return min(r.Match[i], end) }

// head reads the head of a compound statement, up to its colon.
func (r *Reader) head(i, colon int, s *scope) {
	switch r.Word(i) {
	case "for":
		in := r.keyword(i, colon, "in")
		r.target(i+1, in, s)
		r.expression(in+1, colon, s)
	case "case":
		guard := r.keyword(i, colon, "if")
		r.pattern(i+1, guard, s)
		r.expression(guard+1, colon, s)
	case "with", "except":
		first := i + 1
		if r.Is(first, '(') && r.closing(first, colon) == colon-1 {
			first, colon = first+1, colon-1
		}
		for first < colon {
			stop := r.until(first, colon, ',')
			as := r.keyword(first, stop, "as")
			r.expression(first, as, s)
			r.target(as+1, stop, s)
			first = stop + 1
		}
	default:
		r.expression(i+1, colon, s)
	}
}

// keyword gives the place of a word outside of brackets, and end if there is none.
func (r *Reader) keyword(i, end int, word string) int {
	for ; i < end; i++ {
		if r.Opens(i) {
			i = r.Match[i]
		} else if r.Word(i) == word && !r.Is(i-1, '.') {
			return i
		}
	}
	return end
}

// pattern reads a pattern of a match: names that stand alone are given values.
func (r *Reader) pattern(i, end int, s *scope) {
	for ; i < end; i++ {
		switch {
		case r.Word(i) == "" || r.Is(i-1, '.'):
		case r.Is(i+1, '.') || r.Is(i+1, '('):
			i = r.chain(i, end, s) - 1
		case r.Is(i+1, '='):
		default:
			r.bind(s, r.Word(i), Binding{})
		}
	}
}

// simple reads a statement that holds no others.
func (r *Reader) simple(i, end int, s *scope) {
	switch r.Word(i) {
	case "":
	case "import", "from":
		r.imports(i, s)
		return
	case "global":
		if s.global == nil {
			s.global = map[string]bool{}
		}
		for i++; i < end; i++ {
			s.global[r.Word(i)] = true
		}
		return
	case "nonlocal":
		return
	case "del":
		r.target(i+1, end, s)
		return
	case "type":
		if r.Word(i+1) != "" {
			r.bind(s, r.Word(i+1), Binding{})
			i += 2
		}
	}
	if colon := r.until(i, end, ':'); colon < end && !r.Is(i, '@') { // a: int = 1
		r.target(i, colon, s)
		r.expression(colon+1, end, s)
		return
	}
	for first := i; ; {
		equals := r.until(first, end, '=')
		if equals == end {
			if augmented := r.until(first, end, opAssign); augmented < end && first == i {
				r.target(first, augmented, s)
				first = augmented + 1
			}
			r.expression(first, end, s)
			return
		}
		r.target(first, equals, s)
		first = equals + 1
	}
}

// imports binds the names of an import.
func (r *Reader) imports(i int, s *scope) {
	read := &Scanner{Src: r.Src, Pos: r.Tokens[i].End}
	if r.Word(i) == "import" {
		read.ImportNames(func(i Item) {
			first := i.local()
			if i.alias != "" {
				first = i.text
			}
			r.bind(s, i.local(), Binding{From: first})
		})
		return
	}
	module := ""
	read.FromImport(func(f FromClause) { module = f.text },
		func(i Item) { r.bind(s, i.local(), Binding{From: Appended(module, "."+i.text), Module: module}) })
}
