package java

// This file reads annotations, and the strings in them and elsewhere.

// annotation reads @A(…), and gives its name as it is written.
func (p *parser) annotation() string {
	p.i++
	if !p.isName(p.i) {
		p.err = p.fail(p.here(), "the name of an annotation is expected here")
		return ""
	}
	at := len(p.f.uses)
	p.newChain()
	u := &p.f.uses[at]
	u.mark = true
	name := u.text
	if p.kind(p.i) == '(' {
		p.elements(name, at)
	}
	return name
}

// elements reads the elements of an annotation: (a = 1, b = { "x" }).
func (p *parser) elements(mark string, at int) {
	p.i++
	if wide := scanning[last(mark)]; wide {
		one := annotated{from: len(p.f.uses)}
		defer func() {
			one.to = len(p.f.uses)
			if p.f.wide == nil {
				p.f.wide = map[int]annotated{}
			}
			p.f.wide[at] = one
		}()
		p.each(mark, at, &one.labels)
		return
	}
	var none []string
	p.each(mark, at, &none)
}

// each reads the elements of an annotation, and gives their names.
func (p *parser) each(mark string, at int, labels *[]string) {
	for p.err == nil && p.kind(p.i) != ')' && p.kind(p.i) != tEnd {
		label := ""
		if p.isName(p.i) && p.kind(p.i+1) == '=' && p.kind(p.i+2) != '=' {
			label = p.name(p.i)
			*labels = append(*labels, label)
			p.i += 2
		}
		p.element(mark, label, at)
		if p.kind(p.i) != ',' {
			break
		}
		p.i++
	}
	if p.kind(p.i) == ')' {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "a ) is missing")
	}
}

// element reads the value of an element, also a list of values.
func (p *parser) element(mark, label string, at int) {
	switch {
	case p.kind(p.i) == '{':
		for p.i++; p.err == nil && p.kind(p.i) != '}' && p.kind(p.i) != tEnd; {
			p.element(mark, label, at)
			if p.kind(p.i) == ',' {
				p.i++
			} else if p.kind(p.i) != '}' {
				p.err = p.fail(p.here(), "a } is missing")
			}
		}
		if p.kind(p.i) == '}' {
			p.i++
		}
	case (p.kind(p.i) == tString || p.kind(p.i) == tText) &&
		(p.kind(p.i+1) == ',' || p.kind(p.i+1) == ')' || p.kind(p.i+1) == '}'):
		p.text(mark, "@", label, int32(at))
	default:
		p.expression()
	}
}

// text notes a string.
func (p *parser) text(call, on, label string, mark int32) {
	t := p.t[p.i]
	at := span(t)
	width := 1
	if t.kind == tText {
		width = 3
	}
	at.Start, at.End = at.Start+width, at.End-width
	p.f.texts = append(p.f.texts, javaText{at: at, from: int(t.start), call: call, on: on, label: label, mark: mark,
		joins: p.kind(p.i-1) == '+' || p.kind(p.i+1) == '+',
		folds: p.kind(p.i-1) == '+' && (p.kind(p.i-2) == tString || p.kind(p.i-2) == tText)})
	p.i++
}
