package csharp

// This file reads queries: from a in b where c select d (language specification, Query expressions).

// fromClause says whether a query begins here: from a in, from A a in.
func (p *parser) fromClause() bool {
	k := p.i + 1
	if !p.isName(k) && !(p.kind(k) == tWord && primitive(p.raw(k))) {
		return false
	}
	if p.isName(k) && p.is(k+1, "in") {
		return true
	}
	return p.is(p.typeAhead(k)+1, "in")
}

// typeAhead gives the token behind a type.
func (p *parser) typeAhead(k int) int {
	k++
	for p.kind(k) == '.' || p.kind(k) == tColons {
		k += 2
	}
	if p.kind(k) == '<' {
		if end := p.closes(k); end > 0 {
			k = end
		}
	}
	for {
		switch {
		case p.kind(k) == '?' || p.kind(k) == '*':
			k++
		case p.kind(k) == '[' && p.emptyBrackets(k) > 0:
			k = p.emptyBrackets(k)
		case p.kind(k) == '.' && p.isName(k+1):
			k += 2
		default:
			return k
		}
	}
}

// queryVariable reads from A a, join B b.
func (p *parser) queryVariable() {
	p.i++
	if !(p.isName(p.i) && p.is(p.i+1, "in")) {
		p.typeUse()
	}
	if p.isName(p.i) {
		p.known.Variable(p.name(p.i))
		p.i++
	}
}

// queryWord reads a word that a query has for itself. It reports false for all else.
// ordered says then whether commas part what is ordered by.
func (p *parser) queryWord(ordered *bool) bool {
	word := p.same.Of(p.raw(p.i))
	switch word {
	case "from":
		if !p.fromClause() {
			return false
		}
		p.queryVariable()
	case "join":
		p.queryVariable()
	case "let":
		if p.i++; p.isName(p.i) && p.kind(p.i+1) == '=' {
			p.known.Variable(p.name(p.i))
			p.i++
		}
	case "into":
		if p.i++; p.isName(p.i) {
			p.known.Variable(p.name(p.i))
			p.i++
		}
	case "where", "select", "orderby", "group", "by", "on", "equals", "ascending", "descending":
		p.i++
	default:
		return false
	}
	if word != "ascending" && word != "descending" {
		*ordered = word == "orderby"
	}
	return true
}
