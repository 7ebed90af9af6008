package rust

import (
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/source"
)

// head is what stands before an item.
type head struct {
	start int // the first token: of an attribute, of the visibility, or the item itself
	from  int // of the visibility, or the item itself
	sees  visibility
	attrs []attribute
}

// attribute is what is known of one.
type attribute struct {
	name     string // path, macro_use, derive
	from, to int    // the tokens inside the brackets
}

// item reads an item, if one begins at a token, and gives the token behind it; the same token if none does.
func (p *parser) item(i, j int, b *body) int {
	before := len(p.attrs)
	next := p.itemWith(i, j, b)
	p.attrs = p.attrs[:before]
	return next
}

func (p *parser) itemWith(i, j int, b *body) int {
	h := head{start: i}
	for p.is(i, '#') {
		of := &h
		if p.is(i+1, '!') { // it speaks of what the item stands in
			of = nil
		}
		next := p.attribute(i, b.scope, of)
		if next == i {
			return i
		}
		if i = next; of == nil {
			h.start = next
		}
	}
	h.from = i
	i = p.visibility(i, j, &h)
	next := p.declaration(i, j, &h, b)
	if next == i {
		return h.from // the attributes of a statement
	}
	return next
}

// visibility reads pub, pub(crate), pub(in a::b).
func (p *parser) visibility(i, j int, h *head) int {
	if p.word(i) != "pub" {
		return i
	}
	h.sees = visibility{reach: public, at: source.Span{Start: int(p.tok[i].start), End: int(p.tok[i].end)}}
	if i++; !p.is(i, '(') || i+2 >= j {
		return i
	}
	end := int(p.tok[i].pair)
	switch word := p.word(i + 1); {
	case word == "crate" && end == i+2:
		h.sees.reach = inCrate
	case word == "super" && end == i+2:
		h.sees.reach = inSuper
	case word == "self" && end == i+2:
		h.sees.reach = inSelf
	case word == "in":
		h.sees.reach = inModule
		h.sees.path = strings.TrimPrefix(string(p.joined(i+2, end)), "::")
	default:
		return i
	}
	h.sees.at.End = int(p.tok[end].end)
	return end + 1
}

// joined are the tokens from i up to j, without what stands between them.
func (p *parser) joined(i, j int) []byte {
	var out []byte
	for ; i < j; i++ {
		out = append(out, p.src[p.tok[i].start:p.tok[i].end]...)
	}
	return out
}

// modifiers may stand before the word that says what an item is.
var modifiers = map[string]bool{"unsafe": true, "async": true, "default": true, "safe": true, "auto": true, "gen": true}

// declares are the words that may stand behind a modifier.
var declares = map[string]bool{"fn": true, "impl": true, "trait": true, "extern": true, "unsafe": true, "async": true,
	"const": true, "auto": true, "mod": true, "type": true, "static": true, "gen": true}

// declaration reads what stands behind attributes and visibility.
func (p *parser) declaration(i, j int, h *head, b *body) int {
	start := i
	for i < j && p.tok[i].kind == tName && p.tok[i].last > 0 {
		word := p.word(i)
		after := p.word(i + 1)
		switch {
		case modifiers[word] && declares[after], word == "const" && (after == "fn" || after == "unsafe" ||
			after == "async" || after == "extern"):
			i++
			continue
		case word == "extern" && after == "crate":
			return p.externCrate(i, j, h, b)
		case word == "extern":
			next := i + 1
			if next < j && p.tok[next].kind == tString {
				next++
			}
			if p.is(next, '{') && next < j {
				end := int(p.tok[next].pair)
				p.block(next+1, end, p.scopeOf(b), ofItems, "")
				return end + 1
			}
			if declares[p.word(next)] {
				i = next
				continue
			}
			return start
		}
		switch word {
		case "mod":
			return p.module(i, j, start, h, b)
		case "use":
			return p.use(i, j, start, h, b)
		case "fn":
			if p.named(i + 1) {
				return p.function(i, j, h, b)
			}
		case "struct", "union":
			if p.named(i+1) && (word == "struct" || i+2 < j && (p.is(i+2, '{') || p.is(i+2, '<') || p.word(i+2) == "where")) {
				return p.structure(i, j, word, h, b)
			}
		case "enum":
			if p.named(i + 1) {
				return p.enum(i, j, h, b)
			}
		case "trait":
			if p.named(i + 1) {
				return p.trait(i, j, h, b)
			}
		case "impl":
			if b.ctx != ofType && b.ctx != ofTrait {
				return p.impl(i, j, start, b)
			}
		case "type":
			if p.named(i + 1) {
				return p.plain(i+1, i+2, j, isAlias, h, b)
			}
		case "const":
			if p.named(i+1) || p.word(i+1) == "_" {
				return p.plain(i+1, i+2, j, isConst, h, b)
			}
		case "static":
			name := i + 1
			for p.word(name) == "mut" || p.word(name) == "ref" {
				name++
			}
			if p.named(name) && p.is(name+1, ':') {
				return p.plain(name, name+1, j, isStatic, h, b)
			}
		case "macro_rules":
			if p.is(i+1, '!') && i+3 < j && p.tok[i+2].kind == tName && p.tok[i+3].kind == tOpen {
				return p.macro(i+2, i+3, j, h, b)
			}
		case "macro":
			if p.named(i+1) && i+2 < j && p.tok[i+2].kind == tOpen {
				return p.macro(i+1, i+2, j, h, b)
			}
		}
		return start
	}
	return start
}

// add notes an item. The functions and constants of a type are members.
func (p *parser) add(name int, kind itemKind, end int, h *head, b *body) *item {
	if b.ctx == ofTrait || p.word(name) == "_" {
		return nil
	}
	at := p.span(name).Start
	if b.ctx == ofType {
		if h.sees.reach != public {
			p.f.members = append(p.f.members, member{name: p.name(name), scope: b.scope, sees: h.sees, at: int32(at),
				from: p.tok[h.from].start, owner: b.owner, inMacro: p.where != inCode})
		}
		return nil
	}
	p.f.items = append(p.f.items, item{name: p.name(name), kind: kind, scope: p.scopeOf(b), at: int32(at), sees: h.sees,
		from: p.tok[h.from].start, marks: marksOf(h.attrs), inMacro: p.where != inCode})
	if kind == isStruct || kind == isEnum {
		if p.types == nil {
			p.types = map[nameIn]int{}
		}
		p.types[nameIn{p.name(name), p.f.items[len(p.f.items)-1].scope}] = len(p.f.items) - 1
	}
	return &p.f.items[len(p.f.items)-1]
}

func marksOf(attrs []attribute) (out []string) {
	for _, a := range attrs {
		out = append(out, a.name)
	}
	return out
}

// plain reads an item that ends at a semicolon, from behind its name.
func (p *parser) plain(name, i, j int, kind itemKind, h *head, b *body) int {
	p.add(name, kind, j, h, b)
	end := i
	for end < j && !p.is(end, ';') {
		if p.tok[end].kind == tOpen {
			end = int(p.tok[end].pair)
		}
		end++
	}
	p.walk(i, min(end, j), &body{scope: b.scope, head: true})
	return min(end+1, j)
}

// header gives the token at which the head of an item ends: a brace, or a semicolon.
func (p *parser) header(i, j int) int {
	angles := 0
	for ; i < j; i++ {
		switch t := &p.tok[i]; {
		case t.kind == tOpen && (t.first != '{' || angles > 0):
			i = int(t.pair)
		case t.kind == tOpen || t.kind == tSign && t.first == ';' && angles <= 0:
			return i
		case t.kind == tSign && t.first == '<':
			angles++
		case t.kind == tSign && t.first == '>' && angles > 0:
			angles--
		}
	}
	return j
}

// function reads a function.
func (p *parser) function(i, j int, h *head, b *body) int {
	end := p.header(i+2, j)
	p.add(i+1, isFn, end, h, b)
	p.walk(i+2, end, &body{scope: b.scope, head: true})
	if end < j && p.is(end, '{') {
		close := int(p.tok[end].pair)
		p.block(end+1, close, b.scope, ofCode, "")
		return close + 1
	}
	return min(end+1, j)
}

// structure reads a struct or a union.
func (p *parser) structure(i, j int, word string, h *head, b *body) int {
	kind := isStruct
	if word == "union" {
		kind = isUnion
	}
	one := p.add(i+1, kind, j, h, b)
	owner := p.name(i + 1)
	angles, k := 0, i+2
	for ; k < j; k++ {
		t := &p.tok[k]
		if t.kind == tSign && t.first == '<' {
			angles++
		} else if t.kind == tSign && t.first == '>' && angles > 0 {
			angles--
		} else if angles == 0 && (t.kind == tOpen && t.first != '[' || t.kind == tSign && t.first == ';') {
			if t.first == '(' && p.inWhere(i+2, k) {
				k = int(t.pair)
				continue
			}
			break
		} else if t.kind == tOpen {
			k = int(t.pair)
		}
	}
	inside := &body{scope: b.scope, head: true}
	if k >= j || p.is(k, ';') {
		p.walk(i+2, min(k, j), inside)
		return min(k+1, j)
	}
	end := int(p.tok[k].pair)
	p.walk(i+2, k, inside)
	p.fields(k, end, owner, one, b.scope)
	next := end + 1
	if p.is(k, '(') {
		for next < j && !p.is(next, ';') {
			next = p.step(next, j, inside)
		}
		next++
	}
	return min(next, j)
}

// inWhere says whether a where clause begins between two tokens.
func (p *parser) inWhere(i, j int) bool {
	for ; i < j; i++ {
		if p.word(i) == "where" {
			return true
		}
	}
	return false
}

// fields reads what stands in the brackets of a struct.
func (p *parser) fields(open, end int, owner string, one *item, sc int32) {
	tuple := p.is(open, '(')
	least := visibility{reach: public}
	inside := &body{scope: sc}
	number := 0
	p.each(open+1, end, func(i, j int) {
		h := head{}
		for p.is(i, '#') {
			next := p.attribute(i, sc, &h)
			if next == i {
				break
			}
			i = next
		}
		from := i
		i = p.visibility(i, j, &h)
		if h.sees.reach != public && (least.reach == public || h.sees.reach == private) {
			least = h.sees
		}
		if !tuple && i < j && p.tok[i].kind == tName && p.is(i+1, ':') {
			if h.sees.reach != public {
				p.f.members = append(p.f.members, member{name: p.name(i), scope: sc, sees: h.sees, at: int32(p.span(i).Start),
					from: p.tok[from].start, owner: owner, field: true, inMacro: p.where != inCode})
			}
			i += 2
		}
		if tuple && h.sees.reach != public && one != nil {
			p.f.members = append(p.f.members, member{name: strconv.Itoa(number), scope: one.scope, sees: h.sees, at: p.tok[from].start,
				from: p.tok[from].start, owner: owner, field: true, part: true, inMacro: p.where != inCode})
		}
		number++
		p.walk(i, j, inside)
	})
	if one == nil || len(p.f.items) == 0 {
		return
	}
	if last := &p.f.items[len(p.f.items)-1]; last.name == owner && tuple && least.reach != public {
		p.f.members = append(p.f.members, member{name: owner + "(", scope: last.scope, sees: least, at: last.at, from: -1,
			owner: owner, field: true, part: true, inMacro: p.where != inCode})
	}
}

// each calls f with what stands between commas.
func (p *parser) each(i, end int, f func(i, j int)) {
	angles := 0
	from := i
	for ; i < end; i++ {
		switch t := &p.tok[i]; {
		case t.kind == tOpen:
			i = int(t.pair)
		case t.kind == tSign && t.first == '<':
			angles++
		case t.kind == tSign && t.first == '>' && angles > 0:
			angles--
		case t.kind == tSign && t.first == ',' && angles == 0:
			f(from, i)
			from = i + 1
		}
	}
	if from < end {
		f(from, end)
	}
}

// enum reads an enum.
func (p *parser) enum(i, j int, h *head, b *body) int {
	p.add(i+1, isEnum, j, h, b)
	at := len(p.f.items) - 1
	end := p.header(i+2, j)
	inside := &body{scope: b.scope, head: true}
	p.walk(i+2, end, inside)
	if end >= j || !p.is(end, '{') {
		return min(end+1, j)
	}
	var variants []string
	p.each(end+1, int(p.tok[end].pair), func(i, j int) {
		for p.is(i, '#') {
			next := p.attribute(i, b.scope, nil)
			if next == i {
				break
			}
			i = next
		}
		i = p.visibility(i, j, &head{})
		if i < j && p.tok[i].kind == tName {
			variants = append(variants, p.name(i))
			i++
		}
		p.walk(i, j, inside)
	})
	if b.ctx != ofTrait && b.ctx != ofType {
		p.f.items[at].variants = variants
	}
	return int(p.tok[end].pair) + 1
}

// trait reads a trait.
func (p *parser) trait(i, j int, h *head, b *body) int {
	p.add(i+1, isTrait, j, h, b)
	at := len(p.f.items) - 1
	end := p.header(i+2, j)
	if b.ctx != ofTrait && b.ctx != ofType && p.is(i+2, ':') {
		p.f.items[at].supers = p.bounds(i+3, end)
	}
	p.walk(i+2, end, &body{scope: b.scope, head: true})
	if end >= j || !p.is(end, '{') {
		return min(end+1, j)
	}
	p.block(end+1, int(p.tok[end].pair), b.scope, ofTrait, "")
	return int(p.tok[end].pair) + 1
}

// bounds are the names of the traits in a list of bounds.
func (p *parser) bounds(i, j int) (out []string) {
	angles := 0
	for last := ""; ; i++ {
		if i >= j || p.word(i) == "where" || angles == 0 && p.is(i, '+') {
			out = namesAt(out, last)
			if last = ""; i >= j || p.word(i) == "where" {
				return out
			}
			continue
		}
		switch t := &p.tok[i]; {
		case t.kind == tSign && t.first == '<':
			angles++
		case t.kind == tSign && t.first == '>' && angles > 0:
			angles--
		case t.kind == tOpen:
			i = int(t.pair)
		case t.kind == tName && angles == 0:
			last = p.name(i)
		}
	}
}

// impl reads an implementation.
func (p *parser) impl(i, j, start int, b *body) int {
	end := p.header(i+1, j)
	if end >= j || !p.is(end, '{') {
		return start
	}
	// what stands before for is a trait, and what stands behind it a type
	angles, forAt, where := 0, -1, end
	first := i + 1
	for k := i + 1; k < end; k++ {
		switch t := &p.tok[k]; {
		case t.kind == tOpen:
			k = int(t.pair)
		case t.kind == tSign && t.first == '<':
			angles++
		case t.kind == tSign && t.first == '>' && angles > 0:
			if angles--; angles == 0 && p.is(i+1, '<') && first == i+1 {
				first = k + 1 // behind the parameters
			}
		case angles == 0 && p.word(k) == "for" && forAt < 0 && !(p.is(k+1, '<') && k+2 < end &&
			(p.tok[k+2].kind == tLifetime || p.is(k+2, '>'))):
			forAt = k
		case angles == 0 && p.word(k) == "where" && where == end:
			where = k
		}
	}
	p.walk(i+1, end, &body{scope: b.scope, head: true})
	ctx, owner := ofType, ""
	if p.where == inCode {
		p.noteImpl(i, first, forAt, where, end, b.scope)
	}
	if forAt >= 0 {
		ctx, owner = ofTrait, p.typeName(forAt+1, where)
		p.implements(owner, p.typeName(first, forAt), b.scope)
	} else {
		owner = p.typeName(first, where)
	}
	p.block(end+1, int(p.tok[end].pair), b.scope, ctx, owner)
	return int(p.tok[end].pair) + 1
}

// noteImpl notes of what an implementation is.
func (p *parser) noteImpl(i, first, forAt, where, end int, sc int32) {
	one := implUse{at: p.tok[i].start, end: p.tok[p.tok[end].pair].end, scope: sc}
	from := first
	if forAt >= 0 {
		if p.is(first, '!') {
			first++
		}
		behind := 0
		if one.trait, behind = p.headPath(first, forAt); one.trait == "" {
			return
		}
		from = forAt + 1
		defer func() {
			if p.is(behind, '<') {
				p.each(behind+1, forAt-1, func(from, to int) {
					if name, _ := p.headPath(from, to); name != "" {
						one.types = append(one.types, name)
					}
				})
			}
			p.f.impls = append(p.f.impls, one)
		}()
	}
	if name, _ := p.headPath(from, where); name != "" {
		one.types = append(one.types, name)
	}
	if forAt < 0 {
		p.f.impls = append(p.f.impls, one)
	}
}

// fundamental are the types that are as local as what they hold (the reference, "Orphan rules").
var fundamental = map[string]bool{"Box": true, "Pin": true}

// headPath is the path with which a type begins, behind what makes it a reference, and where it ends; empty for another
// type.
func (p *parser) headPath(i, j int) (name string, end int) {
	for i < j && (p.is(i, '&') || p.tok[i].kind == tLifetime || p.word(i) == "mut" || p.word(i) == "dyn") {
		i++
	}
	from := i
	if i < j && p.tok[i].kind == tPath {
		i++
	}
	for i < j && p.tok[i].kind == tName {
		if fundamental[p.name(i)] && p.is(i+1, '<') {
			return p.headPath(i+2, j)
		}
		i++
		if i+1 >= j || p.tok[i].kind != tPath || p.tok[i+1].kind != tName {
			break
		}
		i++
	}
	return strings.ReplaceAll(strings.TrimPrefix(string(p.joined(from, i)), "::"), "r#", ""), i
}

// typeName is the last name of the path of a type, without its arguments; empty for other types.
func (p *parser) typeName(i, j int) (name string) {
	for ; i < j; i++ {
		switch {
		case p.tok[i].kind == tName && p.tok[i].end > 0 && !(p.word(i) == "dyn" || p.word(i) == "mut"):
			name = p.name(i)
		case p.tok[i].kind == tPath || p.is(i, '!') || p.is(i, '&') || p.tok[i].kind == tLifetime:
		default:
			return name
		}
	}
	return name
}

// implements notes that a type has a trait.
func (p *parser) implements(owner, trait string, sc int32) {
	if at, known := p.types[nameIn{owner, sc}]; known {
		p.f.items[at].impls = namesAt(p.f.items[at].impls, trait)
	}
}

// macro reads the rules of a macro.
func (p *parser) macro(name, open, j int, h *head, b *body) int {
	if one := p.add(name, isMacro, j, h, b); one != nil {
		one.exported = slices.Contains(one.marks, "macro_export")
	}
	end := int(p.tok[open].pair)
	for k := open; k+2 < end; k++ {
		if p.word(k) == "macro_rules" && b.ctx != ofTrait && b.ctx != ofType && len(p.f.items) > 0 {
			p.f.items[len(p.f.items)-1].makes = true
		}
		if p.word(k) == "mod" && p.named(k+1) && p.is(k+2, ';') {
			p.f.rules = append(p.f.rules, p.name(k+1))
		} else if p.word(k) == "mod" && p.is(k+1, '$') { // it is given the name
			p.f.rules = append(p.f.rules, "$")
		}
		if p.word(k) == "pub" && p.is(k+1, '(') {
			p.ruledMember(k, end, b)
		}
	}
	was := p.where
	p.where = inRule
	p.walk(open+1, end, &body{scope: b.scope})
	p.where = was
	if p.word(name-1) == "macro" && p.is(end+1, '{') && end+1 < j {
		p.where = inRule
		next := int(p.tok[end+1].pair)
		p.walk(end+2, next, &body{scope: b.scope, head: true})
		p.where = was
		return next + 1
	}
	if p.is(end+1, ';') && end+1 < j {
		end++
	}
	if len(p.f.items) > 0 && b.ctx != ofTrait && b.ctx != ofType {
		p.f.items[len(p.f.items)-1].end = p.tok[end].end
	}
	return end + 1
}

// ruledMember notes a function or a field that the rules of a macro make, and that not all see.
func (p *parser) ruledMember(i, end int, b *body) {
	h := head{}
	at := p.visibility(i, end, &h)
	for at < end && (modifiers[p.word(at)] || p.word(at) == "const") && declares[p.word(at+1)] {
		at++
	}
	one := member{scope: b.scope, sees: h.sees, from: p.tok[i].start, owner: "what a macro makes", rule: true}
	switch {
	case p.word(at) == "fn" && p.named(at+1):
		at++
	case p.named(at) && p.is(at+1, ':'):
		one.field = true
	default:
		return
	}
	one.name, one.at = p.name(at), int32(p.span(at).Start)
	p.f.members = append(p.f.members, one)
}

// externCrate reads extern crate a as b;
func (p *parser) externCrate(i, j int, h *head, b *body) int {
	name := i + 2
	if name >= j || p.tok[name].kind != tName {
		return i
	}
	original := p.name(name)
	end := name + 1
	if p.word(end) == "as" && end+1 < j {
		name, end = end+1, end+2
	}
	if one := p.add(name, isExternCrate, end, h, b); one != nil {
		one.original = original
	}
	return min(end+1, j)
}

// module reads a module in braces, or the line that says that a file is one.
func (p *parser) module(i, j, start int, h *head, b *body) int {
	if !p.named(i+1) || i+2 >= j || b.ctx == ofType || b.ctx == ofTrait {
		return start
	}
	name := p.name(i + 1)
	marks := marksOf(h.attrs)
	var paths []pathText
	always := false
	var conds []string
	for _, a := range h.attrs {
		switch a.name {
		case "path":
			if p.is(a.from+1, '=') && a.from+2 < a.to && p.tok[a.from+2].kind == tString {
				one := p.textAt(a.from+2, "")
				paths, always = append(paths, pathText{one.at, one.text}), true
			}
		case "cfg":
			conds = append(conds, string(p.joined(a.from, a.to)))
		case "cfg_attr":
			for k := a.from; k+2 < a.to; k++ {
				if p.tok[k].kind == tName && p.name(k) == "path" && p.is(k+1, '=') && p.tok[k+2].kind == tString {
					one := p.textAt(k+2, "")
					paths = append(paths, pathText{one.at, one.text})
				}
			}
		}
	}
	switch {
	case p.is(i+2, ';'):
		p.f.mods = append(p.f.mods, modLine{name: name, scope: p.scopeOf(b), at: p.span(i + 1), from: int(p.tok[h.from].start),
			whole: source.Span{Start: p.itemStart(h.start), End: int(p.tok[i+2].end)}, sees: h.sees, paths: paths,
			always: always, macroUse: slices.Contains(marks, "macro_use"), inMacro: p.where == inMacro, conds: conds})
		return i + 3
	case p.is(i+2, '{'):
		end := int(p.tok[i+2].pair)
		one := scope{parent: p.scopeOf(b), start: p.tok[i+2].end, end: p.tok[end].start, name: name, module: true,
			sees: h.sees, at: int32(p.span(i + 1).Start), macroUse: slices.Contains(marks, "macro_use"), inMacro: p.where != inCode, conds: conds}
		if len(paths) > 0 {
			one.pathed = paths[0].text
		}
		p.f.scopes = append(p.f.scopes, one)
		p.block(i+3, end, int32(len(p.f.scopes)-1), ofItems, "")
		return end + 1
	}
	return start
}

// use reads a use declaration.
func (p *parser) use(i, j, start int, h *head, b *body) int {
	end := i + 1
	for end < j && !p.is(end, ';') {
		if p.tok[end].kind == tOpen {
			end = int(p.tok[end].pair)
		}
		end++
	}
	if end >= j || end == i+1 || b.ctx == ofType || b.ctx == ofTrait || p.is(i+1, '<') {
		return start
	}
	stmt := useStmt{whole: source.Span{Start: p.itemStart(h.start), End: int(p.tok[end].end)}, from: int(p.tok[h.from].start),
		tree: int(p.tok[i+1].start), end: int(p.tok[end].end), sees: h.sees, scope: p.scopeOf(b), first: int32(len(p.f.uses)),
		inMacro: p.where == inMacro, inDoc: p.where == inDocCode}
	tree := i + 1
	if p.tok[tree].kind == tPath {
		stmt.global = true
		tree++
	}
	var path []string
	if !p.useTree(tree, end, path, int32(len(p.f.stmts))) {
		p.f.uses = p.f.uses[:stmt.first]
		return start
	}
	stmt.leaves = int32(len(p.f.uses)) - stmt.first
	p.f.stmts = append(p.f.stmts, stmt)
	return end + 1
}

// useTree reads a tree of names, with what stands before it; false where it is none.
func (p *parser) useTree(i, end int, path []string, stmt int32) bool {
	start := int(p.tok[i].start)
	for {
		if i >= end {
			return false
		}
		switch t := &p.tok[i]; {
		case t.kind == tSign && t.first == '$' && p.word(i+1) == "crate":
			path = append(path, "$crate")
			i += 2
		case t.kind == tName:
			path = append(path, p.name(i))
			i++
		case t.kind == tSign && t.first == '*':
			behind := int(t.end)
			if int(t.start) > start {
				behind = int(p.tok[i-2].end)
			}
			p.f.uses = append(p.f.uses, use{path: path, at: p.span(i), own: source.Span{Start: start, End: behind},
				glob: true, stmt: stmt})
			return i+1 == end
		case t.kind == tOpen && t.first == '{':
			good := true
			p.each(i+1, int(t.pair), func(from, to int) {
				if from < to {
					if p.tok[from].kind == tPath { // {::a}
						from++
					}
					good = p.useTree(from, to, slices.Clone(path), stmt) && good
				}
			})
			return good && int(t.pair)+1 == end
		default:
			return false
		}
		last := i - 1
		if i < end && p.tok[i].kind == tPath {
			i++
			continue
		}
		one := use{path: path, at: p.span(last), own: source.Span{Start: start, End: int(p.tok[last].end)}, bound: path[len(path)-1], stmt: stmt}
		if one.bound == "self" && len(path) > 1 {
			one.self, one.path = true, path[:len(path)-1]
			one.bound = one.path[len(one.path)-1]
		}
		if i < end && p.word(i) == "as" && i+1 < end {
			if one.bound = p.name(i + 1); one.bound == "_" {
				one.bound = ""
			}
			i += 2
		}
		p.f.uses = append(p.f.uses, one)
		return i == end
	}
}

// attribute reads #[…] or #![…], and gives the token behind it; the same token if none is there.
func (p *parser) attribute(i int, sc int32, h *head) int {
	open := i + 1
	if p.is(open, '!') {
		open++
	}
	if !p.is(open, '[') || open >= len(p.tok) || p.tok[open].pair < 0 {
		return i
	}
	end := int(p.tok[open].pair)
	from := open + 1
	if p.word(from) == "unsafe" && p.is(from+1, '(') {
		from += 2
	}
	name := ""
	for k := from; k < end && (p.tok[k].kind == tName || p.tok[k].kind == tPath); k++ {
		switch {
		case p.tok[k].kind == tPath:
			name += "::"
		case name == "":
			name = p.name(k)
		default:
			name += p.name(k)
		}
	}
	if h != nil {
		p.attrs = append(p.attrs, attribute{name, from, end})
		h.attrs = p.attrs[len(p.attrs)-len(h.attrs)-1:]
	}
	if name == "cfg" && p.is(i+1, '!') && sc == 0 && p.depth == 1 {
		p.f.conds = append(p.f.conds, string(p.joined(from, end)))
	}
	was := p.where
	if was == inCode {
		p.where = inAttr
	}
	p.readAttr(name, from, end, sc)
	p.where = was
	return end + 1
}

// readAttr notes the names and strings in an attribute.
func (p *parser) readAttr(name string, i, end int, sc int32) {
	inside := &body{scope: sc, ctx: ofCode, own: true}
	if name == "doc" && p.is(i+1, '=') {
		if p.tok[i+2].kind == tString && i+2 < end {
			p.docText(p.textAt(i+2, ""), sc)
		} else {
			p.walk(i+2, end, inside)
		}
		return
	}
	key := ""
	for k := i; k < end; {
		t := &p.tok[k]
		switch {
		case t.kind == tString:
			if p.where != inRule {
				one := p.textAt(k, "")
				p.f.attrs = append(p.f.attrs, attrText{at: one.at, text: one.text, attr: name, key: key, scope: sc,
					from: int(t.start), to: int(t.end), inMacro: p.where != inAttr})
			}
			k++
		case t.kind == tName && p.is(k+1, '=') && k+1 < end:
			key = p.name(k)
			k += 2
		case t.kind == tSign && t.first == ',':
			key = ""
			k++
		case t.kind == tOpen:
			k++
		default:
			k = p.step(k, end, inside)
		}
	}
}
