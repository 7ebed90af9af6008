package python

import "crookedshelf/internal/source"

// target reads what a value is given to: names that stand alone are bound, all else is read.
func (r *reader) target(i, end int, s *scope) {
	for i < end {
		t := r.tokens[i]
		switch {
		case t.kind == nameToken && (r.is(i+1, '.') || r.is(i+1, '[') || r.is(i+1, '(')) && i+1 < end:
			stop := r.chain(i, end, s)
			for stop < end && (r.is(stop, '[') || r.is(stop, '(') || r.is(stop, '.')) {
				if r.is(stop, '.') {
					stop += 2
					continue
				}
				shut := r.closing(stop, end)
				r.expression(stop+1, shut, s)
				stop = shut + 1
			}
			i = max(stop, i+1)
		case t.kind == nameToken:
			r.bind(s, r.word(i), binding{})
			i++
		default:
			i++
		}
	}
}

// chain records a name with what follows it by dots, and gives the place behind. What follows may stand behind a
// parenthesis that closes: (a.b).c.
func (r *reader) chain(i, end int, s *scope) int {
	first := i
	c := chain{scope: s, parts: []source.Span{{Start: r.tokens[i].start, End: r.tokens[i].end}}}
	more := func(i, end int) int {
		for ; i+1 < end && r.is(i, '.') && r.word(i+1) != ""; i += 2 {
			c.parts = append(c.parts, source.Span{Start: r.tokens[i+1].start, End: r.tokens[i+1].end})
		}
		return i
	}
	i = more(i+1, end)
	for open, shut := first-1, i; r.is(open, '(') && r.is(shut, ')') && r.is(shut+1, '.') && !r.calls(open); open-- {
		shut = more(shut+1, len(r.tokens))
	}
	if r.wanted[r.word(first)] && !r.is(first-1, '.') {
		r.chains = append(r.chains, c)
	}
	return i
}

// calls says whether a parenthesis opens a call's arguments: behind a name that is no word of the language, or a
// bracket that closes.
func (r *reader) calls(i int) bool {
	if i == 0 {
		return false
	}
	if w := r.word(i - 1); w != "" {
		return !beforeValue[w] || r.is(i-2, '.')
	}
	return r.is(i-1, ')') || r.is(i-1, ']') || r.is(i-1, '}')
}

// beforeValue are the words of the language behind which a value begins.
var beforeValue = map[string]bool{
	"return": true, "in": true, "and": true, "or": true, "not": true, "if": true, "elif": true, "else": true, "is": true, "await": true, "yield": true, "assert": true,
	"del": true, "from": true, "raise": true, "while": true, "with": true, "for": true, "lambda": true, "except": true, "case": true, "match": true,
}

// expression reads the names of an expression.
func (r *reader) expression(i, end int, s *scope) {
	if r.depth++; r.depth > mostDepth {
		return
	}
	defer func() { r.depth-- }()
	for i < end {
		t := r.tokens[i]
		switch {
		case t.kind == nameToken && r.word(i) == "lambda" && !r.is(i-1, '.'):
			i = r.lambda(i, end, s)
		case t.kind == nameToken && r.is(i+1, opWalrus):
			outer := s
			for outer.kind == comprehensionScope {
				outer = outer.parent
			}
			r.bind(outer, r.word(i), binding{})
			i += 2
		case t.kind == nameToken && r.is(i+1, '=') && (r.is(i-1, '(') || r.is(i-1, ',')): // the name of an argument
			i += 2
		case t.kind == nameToken:
			i = r.chain(i, end, s)
		case t.kind == opToken && (t.op == '(' || t.op == '[' || t.op == '{'):
			shut := r.closing(i, end)
			r.group(i+1, shut, s)
			i = shut + 1
		default:
			i++
		}
	}
}

// lambda reads a lambda, which is here, and gives the place behind it.
func (r *reader) lambda(i, end int, s *scope) int {
	inner := &scope{parent: s, kind: functionScope}
	colon := r.until(i+1, end, ':')
	r.parameters(i+1, colon, s, inner)
	stop, lambdas := colon+1, 0
	for ; stop < end; stop++ {
		if r.opens(stop) {
			stop = r.match[stop]
			continue
		}
		word := r.word(stop)
		if word == "lambda" && !r.is(stop-1, '.') {
			lambdas++
		}
		if r.is(stop, ':') && lambdas > 0 {
			lambdas--
			continue
		}
		if word == "for" || word == "async" || lambdas == 0 && (r.is(stop, ',') || r.is(stop, '=') || r.is(stop, ':')) {
			break
		}
	}
	stop = min(stop, end)
	r.expression(colon+1, stop, inner)
	return stop
}

// group reads what stands in brackets, which may be a comprehension: its first source is evaluated outside.
func (r *reader) group(i, end int, s *scope) {
	loop := r.keyword(i, end, "for")
	if loop == end {
		r.expression(i, end, s)
		return
	}
	inner := &scope{parent: s, kind: comprehensionScope}
	in := r.keyword(loop, end, "in")
	next := min(r.keyword(in+1, end, "for"), r.keyword(in+1, end, "if"), r.keyword(in+1, end, "async"))
	r.expression(in+1, next, s)
	r.target(loop+1, in, inner)
	r.loops(next, end, inner)
	r.expression(i, loop, inner)
}

// loops reads the further loops and conditions of a comprehension.
func (r *reader) loops(i, end int, s *scope) {
	for i < end {
		stop := min(r.keyword(i+1, end, "for"), r.keyword(i+1, end, "async"))
		if r.word(i) == "for" {
			in := r.keyword(i, stop, "in")
			r.target(i+1, in, s)
			r.expression(in+1, stop, s)
		} else {
			r.expression(i, stop, s)
		}
		i = stop
	}
}
