package php

// This file says what a word or a name is, by what stands before and behind it.

// types reads a type from the token at hand on, and leaves the last token of it at hand.
func (p *parser) types() {
	last, named := p.i-1, false
	for i := p.i; ; i++ {
		k := p.kind(i)
		if isName(k) && named { // a word behind the type
			p.i = last
			return
		}
		named = isName(k)
		switch {
		case isName(k):
			if k != tWord || !pseudoTypes.has(p.text(i)) {
				p.use(i, class)
			}
		case k == '?' || k == '|' || k == '(' || k == tDoc:
		case k == ')' && p.parted(i): // of (A&B)|null
		case k == '&':
			if after := p.kind(p.next(i)); after == tVariable || after == tEllipsis {
				p.i = last
				return
			}
		default:
			p.i = max(last, 0)
			return
		}
		last = i
	}
}

// parted says whether a bracket that closes ends a part of a type, and not the list around it.
func (p *parser) parted(i int) bool {
	open := 0
	for i--; i >= p.i; i-- {
		switch p.t[i].kind {
		case '(':
			open++
		case ')':
			open--
		}
	}
	return open > 0
}

// use notes a name that stands for something.
func (p *parser) use(i int, s space) {
	p.f.uses = append(p.f.uses, use{at: span(p.t[i]), text: p.named(i), space: s, block: p.block, late: p.functions > 0})
}

// pseudoTypes are words in the place of a class that are none.
var pseudoTypes = words(`self static parent int float bool string array callable iterable object mixed void null never
	false true resource integer boolean double`)

// reserved are the words of the language, which are no names (php.net/manual/en/reserved.keywords.php).
var reserved = words(`abstract and array as break callable case catch class clone const continue declare default do
	echo else elseif empty enddeclare endfor endforeach endif endswitch endwhile eval exit die extends final finally fn
	for foreach function global goto if implements include include_once instanceof insteadof interface isset list
	namespace new or print private protected public require require_once return static switch throw trait try unset use
	var while xor yield self parent true false null match __class__ __dir__ __file__ __function__ __line__ __method__
	__namespace__ __trait__ __halt_compiler from`)

// word reads a word: of the language, or a name.
func (p *parser) word() {
	before := p.previous(p.i)
	switch p.kind(before) {
	case tArrow, tColons: // a member, whatever it is called
		p.member(before)
		return
	}
	if l := p.list(); l != nil && l.list == attributes && l.expect {
		p.attribute()
		return
	}
	if w := p.text(p.i); mayBeReserved(w) && p.keyword(w, before) {
		return
	}
	p.name()
}

// mayBeReserved says whether a word has the length and the first letter of one of the language. Most have not.
func mayBeReserved(w []byte) bool {
	c := w[0] | 0x20
	if w[0] == '_' { // __CLASS__
		return true
	}
	return len(w) < len(firstLetters) && c >= '_' && c <= 'z' && firstLetters[len(w)]&(1<<(c-'_')) != 0
}

// firstLetters are those of the words of the language, by the length of the words.
var firstLetters = func() (out [20]uint32) {
	for _, set := range []*wordSet{reserved, pseudoTypes, modifiers, words("enum readonly from match")} {
		for length, list := range set.byLength {
			for _, w := range list {
				out[length] |= 1 << ((w[0] | 0x20) - '_')
			}
		}
	}
	return out
}()

// attribute notes the class of an attribute.
func (p *parser) attribute() {
	p.list().expect = false
	p.use(p.i, class)
	p.marks = append(p.marks, p.named(p.i))
	if n := len(p.f.declared); n > 0 && short(p.named(p.i)) == "Route" && p.inClassOf(n-1) {
		p.f.declared[n-1].route = true
	}
}

// inClassOf says whether the place lies in the body of a declared class.
func (p *parser) inClassOf(i int) bool {
	return p.f.declared[i].space == class && len(p.braces) > 0 && p.braces[len(p.braces)-1].scope >= inClass
}

// keyword reads what a word of the language begins. It reports false for a word that may be a name.
func (p *parser) keyword(w []byte, before int) bool {
	switch {
	case sameWord(w, "namespace"):
		p.namespace()
	case sameWord(w, "use"):
		p.useStatement(before)
	case sameWord(w, "class"), sameWord(w, "interface"), sameWord(w, "trait"), sameWord(w, "enum"):
		return p.classLike(w, before)
	case sameWord(w, "function"), sameWord(w, "fn"):
		p.function()
	case sameWord(w, "const"):
		p.constants()
	case sameWord(w, "case"):
		if p.inMembers() && p.braces[len(p.braces)-1].scope == inEnum {
			p.i = p.next(p.i) // its name
		}
	case sameWord(w, "new"), sameWord(w, "instanceof"):
		p.classBehind()
	case sameWord(w, "extends"), sameWord(w, "implements"):
		p.classList()
	case sameWord(w, "catch"):
		if p.kind(p.next(p.i)) == '(' {
			p.i = p.next(p.i)
			p.open('(')
			p.i++
			p.types()
		}
	case sameWord(w, "goto"):
		p.i = p.next(p.i)
	case sameWord(w, "declare"):
		p.declare()
	case sameWord(w, "static"):
		// static $a, static function, static::x, and a type
	case sameWord(w, "from"):
		return p.is(before, "yield")
	case sameWord(w, "match"):
		return true
	case sameWord(w, "eval"):
		p.note(asCode)
	case sameWord(w, "__class__"):
		p.ownName()
	case sameWord(w, "readonly"):
		return p.kind(p.next(p.i)) != '('
	case reserved.has(w), pseudoTypes.has(w) && p.typeBegins():
		if p.typeBegins() && !modifiers.has(w) && pseudoTypes.has(w) {
			p.types()
		}
	default:
		return false
	}
	return true
}

// truths are constants that nobody can declare.
var truths = words(`true false null`)

// modifiers are words before a member of a class or a promoted parameter.
var modifiers = words(`public protected private static abstract final readonly var`)

// declare passes over declare(strict_types=1).
func (p *parser) declare() {
	for i := p.i; p.kind(i) != tEnd; i++ {
		if p.kind(i) == ')' {
			p.i = i
			return
		}
	}
}

// name says what a name stands for, and notes it.
func (p *parser) name() {
	i := p.i
	before, after := p.kind(p.previous(i)), p.kind(p.next(i))
	if l := p.list(); l != nil && l.list == attributes && l.expect {
		p.attribute()
		return
	}
	if p.typeBegins() && !modifiers.has(p.text(i)) {
		if p.inMembers() && after != tVariable && after != '|' && after != '&' && after != ')' && after != tWord {
			return // the name of a method in a list of traits, or a mistake
		}
		p.types()
		return
	}
	// the order matters: a member is none of the others, whatever follows it, and new A() is no call of a function
	switch {
	case before == tArrow, before == tColons:
	case after == tColons:
		p.use(i, class)
	case after == '(':
		p.use(i, function)
		if ofOwn.has(p.text(i)) {
			p.ownName()
		}
	case after == ':' && p.kind(i) == tWord && p.isLabel(i):
	case p.kind(i) == tWord && reserved.has(p.text(i)), p.kind(i) == tFull && truths.has(p.text(i)[1:]):
	default:
		p.use(i, constant)
	}
}

// isLabel says whether a word with a colon behind it is the name of an argument or a place to go to.
func (p *parser) isLabel(i int) bool {
	switch before := p.kind(p.previous(i)); before {
	case '(', ',':
		return p.list() != nil && p.list().list != parameters
	case ';', '{', '}', tOpen, tEnd:
		return true
	case ':':
		return !p.isTernary(p.previous(i))
	}
	return false
}

// isTernary says whether a colon belongs to a ? before it.
func (p *parser) isTernary(colon int) bool {
	for i := colon - 1; i >= 0; i-- {
		switch p.t[i].kind {
		case '?':
			return true
		case ';', '{', '}':
			return false
		}
	}
	return false
}
