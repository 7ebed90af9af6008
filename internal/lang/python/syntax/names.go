package syntax

import "crookedshelf/internal/source"

// target reads what a value is given to: names that stand alone are bound, all else is read.
func (r *Reader) target(i, end int, s *scope) {
	for i < end {
		t := r.Tokens[i]
		switch {
		case t.Kind == nameToken && (r.Is(i+1, '.') || r.Is(i+1, '[') || r.Is(i+1, '(')) && i+1 < end:
			stop := r.chain(i, end, s)
			for stop < end && (r.Is(stop, '[') || r.Is(stop, '(') || r.Is(stop, '.')) {
				if r.Is(stop, '.') {
					stop += 2
					continue
				}
				shut := r.closing(stop, end)
				r.expression(stop+1, shut, s)
				stop = shut + 1
			}
			i = max(stop, i+1)
		case t.Kind == nameToken:
			r.bind(s, r.Word(i), Binding{})
			i++
		default:
			i++
		}
	}
}

// chain records a name with what follows it by dots, and gives the place behind. What follows may stand behind a
// parenthesis that closes: (a.b).c.
func (r *Reader) chain(i, end int, s *scope) int {
	first := i
	c := chain{scope: s, parts: []source.Span{{Start: r.Tokens[i].Start, End: r.Tokens[i].End}}}
	more := func(i, end int) int {
		for ; i+1 < end && r.Is(i, '.') && r.Word(i+1) != ""; i += 2 {
			c.parts = append(c.parts, source.Span{Start: r.Tokens[i+1].Start, End: r.Tokens[i+1].End})
		}
		return i
	}
	i = more(i+1, end)
	for open, shut := first-1, i; r.Is(open, '(') && r.Is(shut, ')') && r.Is(shut+1, '.') && !r.calls(open); open-- {
		shut = more(shut+1, len(r.Tokens))
	}
	if r.wanted[r.Word(first)] && !r.Is(first-1, '.') {
		r.chains = append(r.chains, c)
	}
	return i
}

// calls says whether a parenthesis opens a call's arguments: behind a name that is no word of the language, or a
// bracket that closes.
func (r *Reader) calls(i int) bool {
	if i == 0 {
		return false
	}
	if w := r.Word(i - 1); w != "" {
		return !beforeValue[w] || r.Is(i-2, '.')
	}
	return r.Is(i-1, ')') || r.Is(i-1, ']') || r.Is(i-1, '}')
}

// beforeValue are the words of the language behind which a value begins.
var beforeValue = map[string]bool{
	"return": true, "in": true, "and": true, "or": true, "not": true, "if": true, "elif": true, "else": true,
	"is": true, "await": true, "yield": true, "assert": true,
	"del": true, "from": true, "raise": true, "while": true, "with": true, "for": true, "lambda": true, "except": true,
	"case": true, "match": true,
}

// expression reads the names of an expression.
func (r *Reader) expression(i, end int, s *scope) {
	if r.depth++; r.depth > mostDepth {
		return
	}
	defer func() { r.depth-- }()
	for i < end {
		t := r.Tokens[i]
		switch {
		case t.Kind == nameToken && r.Word(i) == "lambda" && !r.Is(i-1, '.'):
			i = r.lambda(i, end, s)
		case t.Kind == nameToken && r.Is(i+1, opWalrus):
			outer := s
			for outer.kind == comprehensionScope {
				outer = outer.parent
			}
			r.bind(outer, r.Word(i), Binding{})
			i += 2
		case t.Kind == nameToken && r.Is(i+1, '=') && (r.Is(i-1, '(') || r.Is(i-1, ',')): // the name of an argument
			i += 2
		case t.Kind == nameToken:
			i = r.chain(i, end, s)
		case t.Kind == opToken && (t.op == '(' || t.op == '[' || t.op == '{'):
			shut := r.closing(i, end)
			r.group(i+1, shut, s)
			i = shut + 1
		default:
			i++
		}
	}
}

// lambda reads a lambda, which is here, and gives the place behind it.
func (r *Reader) lambda(i, end int, s *scope) int {
	inner := &scope{parent: s, kind: functionScope}
	colon := r.until(i+1, end, ':')
	r.parameters(i+1, colon, s, inner)
	stop, lambdas := colon+1, 0
	for ; stop < end; stop++ {
		if r.Opens(stop) {
			stop = r.Match[stop]
			continue
		}
		word := r.Word(stop)
		if word == "lambda" && !r.Is(stop-1, '.') {
			lambdas++
		}
		if r.Is(stop, ':') && lambdas > 0 {
			lambdas--
			continue
		}
		if word == "for" || word == "async" || lambdas == 0 && (r.Is(stop, ',') || r.Is(stop, '=') || r.Is(stop, ':')) {
			break
		}
	}
	stop = min(stop, end)
	r.expression(colon+1, stop, inner)
	return stop
}

// group reads what stands in brackets, which may be a comprehension: its first source is evaluated outside.
func (r *Reader) group(i, end int, s *scope) {
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
func (r *Reader) loops(i, end int, s *scope) {
	for i < end {
		stop := min(r.keyword(i+1, end, "for"), r.keyword(i+1, end, "async"))
		if r.Word(i) == "for" {
			in := r.keyword(i, stop, "in")
			r.target(i+1, in, s)
			r.expression(in+1, stop, s)
		} else {
			r.expression(i, stop, s)
		}
		i = stop
	}
}
