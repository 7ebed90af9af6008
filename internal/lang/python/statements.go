package python

import "strings"

// block is a scope whose lines stand deeper than its head.
type block struct {
	scope  *scope
	column int
}

// module reads line after line: the column of each says which blocks are over.
func (r *reader) module() {
	blocks := []block{{&scope{}, -1}}
	for i := 0; i < len(r.tokens); {
		if r.tokens[i].kind != lineToken {
			i++
			continue
		}
		column := r.tokens[i].end
		for blocks[len(blocks)-1].column >= column {
			blocks = blocks[:len(blocks)-1]
		}
		end := i + 1
		for end < len(r.tokens) && r.tokens[end].kind != lineToken {
			end++
		}
		if inner := r.line(i+1, end, blocks[len(blocks)-1].scope); inner != nil {
			blocks = append(blocks, block{inner, column})
		}
		i = end
	}
}

// line reads the statements of a logical line. It gives the scope that a head of a class or function opens.
func (r *reader) line(i, end int, s *scope) (opened *scope) {
	if r.depth++; r.depth > mostDepth {
		return nil
	}
	defer func() { r.depth-- }()
	for i < end {
		head := i
		if r.word(head) == "async" {
			head++
		}
		switch r.word(head) {
		case "def":
			colon, inner := r.function(head, end, s)
			r.line(colon+1, end, inner)
			return inner
		case "class":
			colon := r.until(head, end, ':')
			inner := &scope{parent: s, kind: classScope}
			r.bind(s, r.word(head+1), binding{})
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
func (r *reader) compound(head, colon, end int) bool {
	if w := r.word(head); w != "match" && w != "case" {
		return true
	}
	next := head + 1
	return next < colon && (r.tokens[next].kind != opToken || strings.IndexByte("([{-*", r.tokens[next].op) >= 0) && (colon == end-1 || r.word(head) == "case")
}

// until gives the place of an operator outside of brackets, and end if there is none. The colon of a lambda is none.
func (r *reader) until(i, end int, op byte) int {
	for lambdas := 0; i < end; i++ {
		t := r.tokens[i]
		switch {
		case t.kind == nameToken && r.word(i) == "lambda" && !r.is(i-1, '.'):
			lambdas++
		case t.kind != opToken:
		case r.opens(i):
			i = r.match[i]
		case t.op == ':' && lambdas > 0:
			lambdas--
		case t.op == op && lambdas == 0: // within its parameters nothing counts
			return i
		}
	}
	return end
}

// function reads the head of a function, whose def is here: what stands for its arguments is evaluated outside.
func (r *reader) function(i, end int, s *scope) (colon int, inner *scope) {
	inner = &scope{parent: s, kind: functionScope}
	r.bind(s, r.word(i+1), binding{})
	open := i + 2
	if r.is(open, '[') {
		open = r.closing(open, end) + 1
	}
	colon = r.until(open, end, ':')
	if !r.is(open, '(') {
		return colon, inner
	}
	shut := r.closing(open, end)
	r.parameters(open+1, shut, s, inner)
	r.expression(shut+1, colon, s)
	return colon, inner
}

// parameters binds the names of arguments in a scope; what they are by default, and their types, are read in the one
// around it.
func (r *reader) parameters(i, end int, s, inner *scope) {
	for i < end {
		stop := r.until(i, end, ',')
		for r.is(i, '*') || r.is(i, '/') {
			i++
		}
		r.bind(inner, r.word(i), binding{})
		r.expression(i+1, stop, s)
		i = stop + 1
	}
}

// closing gives the place of the bracket that closes the one which is here.
func (r *reader) closing(i, end int) int { return min(r.match[i], end) }

// head reads the head of a compound statement, up to its colon.
func (r *reader) head(i, colon int, s *scope) {
	switch r.word(i) {
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
		if r.is(first, '(') && r.closing(first, colon) == colon-1 {
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
func (r *reader) keyword(i, end int, word string) int {
	for ; i < end; i++ {
		if r.opens(i) {
			i = r.match[i]
		} else if r.word(i) == word && !r.is(i-1, '.') {
			return i
		}
	}
	return end
}

// pattern reads a pattern of a match: names that stand alone are given values.
func (r *reader) pattern(i, end int, s *scope) {
	for ; i < end; i++ {
		switch {
		case r.word(i) == "" || r.is(i-1, '.'):
		case r.is(i+1, '.') || r.is(i+1, '('):
			i = r.chain(i, end, s) - 1
		case r.is(i+1, '='):
		default:
			r.bind(s, r.word(i), binding{})
		}
	}
}

// simple reads a statement that holds no others.
func (r *reader) simple(i, end int, s *scope) {
	switch r.word(i) {
	case "":
	case "import", "from":
		r.imports(i, s)
		return
	case "global":
		if s.global == nil {
			s.global = map[string]bool{}
		}
		for i++; i < end; i++ {
			s.global[r.word(i)] = true
		}
		return
	case "nonlocal":
		return
	case "del":
		r.target(i+1, end, s)
		return
	case "type":
		if r.word(i+1) != "" {
			r.bind(s, r.word(i+1), binding{})
			i += 2
		}
	}
	if colon := r.until(i, end, ':'); colon < end && !r.is(i, '@') { // a: int = 1
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
func (r *reader) imports(i int, s *scope) {
	read := &scanner{src: r.src, pos: r.tokens[i].end}
	if r.word(i) == "import" {
		read.importNames(func(i item) {
			first := i.local()
			if i.alias != "" {
				first = i.text
			}
			r.bind(s, i.local(), binding{from: first})
		})
		return
	}
	module := ""
	read.fromImport(func(f from) { module = f.text }, func(i item) { r.bind(s, i.local(), binding{from: appended(module, "."+i.text), module: module}) })
}
