package ruby

import (
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file says what a constant means (docs.ruby-lang.org/en/3.1/Module.html, and the order in which the language looks:
// the modules around from the inside out, what the innermost is built on, the top).

// meaning is what a constant in code means.
type meaning struct {
	full  string // the longest beginning of it that the tree declares
	parts int    // how many parts of it that are
	// open: what the module around is built on is no part of the tree, and it may have the name
	open bool
}

// partsOf are the parts of a name, and whether it begins at the top.
func partsOf(name string) (parts []string, rooted bool) {
	name, rooted = strings.CutPrefix(name, "::")
	return strings.Split(name, "::"), rooted
}

// exists says whether the tree declares a constant.
func (r *Resolver) exists(full string) bool { return len(r.ix.consts[full]) > 0 || r.ix.autos[full] }

// alone stands for a module without those around it: const_get looks there, and at the top.
func alone(space int) int { return -1 - space }

// nesting gives the names of the modules around a place in a file, from the inside out.
func (e *entry) nesting(space int) (out []string) {
	if space < 0 {
		all := e.nesting(alone(space))
		return all[:min(1, len(all))]
	}
	for at := space; at > 0; at = e.file.spaces[at].owner {
		if !e.gone[at] && e.spaces[at] != "" {
			out = append(out, e.spaces[at])
		}
		out = append(out, e.around[at]...)
	}
	return out
}

// means says what a constant means in a file, as a text of its own or another that is tried.
func (r *Resolver) means(e *entry, text string, space int) meaning {
	parts, rooted := partsOf(text)
	if !r.ix.lasts[parts[0]] {
		return meaning{}
	}
	m := meaning{}
	if rooted {
		if !r.exists(parts[0]) {
			return m
		}
		m.full = parts[0]
	} else if m.full, m.open = r.lookup(parts[0], e.nesting(space)); m.full == "" {
		return m
	}
	m.parts = 1
	for _, part := range parts[1:] {
		next := r.inside(m.full, part)
		if next == "" {
			break
		}
		m.full = next
		m.parts++
	}
	return m
}

// lookup looks for a name from some modules on; empty for one that the tree does not declare.
func (r *Resolver) lookup(name string, nesting []string) (full string, open bool) {
	for _, around := range nesting {
		if r.exists(join(around, name)) {
			return join(around, name), false
		}
	}
	if len(nesting) > 0 {
		above, other := r.built(nesting[0])
		for _, base := range above {
			if r.exists(join(base, name)) {
				return join(base, name), false
			}
		}
		open = other
	}
	if r.exists(name) {
		return name, open
	}
	return "", open
}

// inside looks for a name in a module, and in what that is built on.
func (r *Resolver) inside(full, name string) string {
	if r.exists(join(full, name)) {
		return join(full, name)
	}
	above, _ := r.built(full)
	for _, base := range above {
		if r.exists(join(base, name)) {
			return join(base, name)
		}
	}
	return ""
}

// ancestry is what a constant is built on.
type ancestry struct {
	names []string // in the order in which they are asked
	other bool     // something among it is no part of the tree
}

// deepestBase is how far classes are followed that are built on others.
const deepestBase = 40

// built gives the names of all that a module or class is built on, in the order in which they are asked, and whether
// something of it is no part of the tree.
func (r *Resolver) built(full string) ([]string, bool) {
	if known, there := r.ix.above.Load(full); there {
		a := known.(ancestry)
		return a.names, a.other
	}
	var a ancestry
	r.build(full, full, &a, 0)
	r.ix.above.Store(full, a)
	return a.names, a.other
}

func (r *Resolver) build(full, of string, a *ancestry, depth int) {
	if depth > deepestBase {
		a.other = true
		return
	}
	add := func(e *entry, use, space int) {
		base := r.baseOf(e, e.uses[use].text, space, full)
		if base == "" {
			base = r.baseBefore(e, use, space)
		}
		switch {
		case base == "":
			a.other = true
		case base != of && !slices.Contains(a.names, base):
			a.names = append(a.names, base)
			r.build(base, of, a, depth+1)
		}
	}
	for _, d := range r.ix.consts[full] {
		if e := r.ix.files[d.file]; d.at > 0 {
			for _, use := range e.file.spaces[d.at].mixes {
				add(e, use, d.at)
			}
		}
	}
	for _, d := range r.ix.consts[full] {
		e := r.ix.files[d.file]
		if d.at < 0 {
			continue
		}
		s := &e.file.spaces[d.at]
		if s.super >= 0 {
			add(e, s.super, s.owner)
		}
		a.other = a.other || s.other
	}
}

// baseBefore is what a class was built on before the moves, as it is called now: its text may not be written anew yet.
func (r *Resolver) baseBefore(e *entry, use, space int) string {
	under := r.before()
	if under == nil {
		return ""
	}
	id, there := under.tree.Lookup(r.tree.Before(e.id))
	was := under.ix.files[id]
	if !there || was == nil || len(was.uses) != len(e.uses) || len(was.spaces) != len(e.spaces) ||
		was.uses[use].text != e.uses[use].text { // its text is written already
		return ""
	}
	base := under.baseOf(was, was.uses[use].text, space, "")
	if base == "" {
		return ""
	}
	return r.becomes(under, base)
}

// baseOf is the name in full of what a class is built on; empty for what the tree does not declare. What it inherits does
// not count: that is being asked for.
func (r *Resolver) baseOf(e *entry, text string, space int, but string) (base string) {
	parts, rooted := partsOf(text)
	if !r.ix.lasts[parts[0]] {
		return ""
	}
	if !rooted {
		for _, around := range e.nesting(space) {
			if name := join(around, parts[0]); name != but && r.exists(name) {
				base = name
				break
			}
		}
	}
	if base == "" && r.exists(parts[0]) {
		base = parts[0]
	}
	for _, part := range parts[1:] {
		if base == "" || !r.exists(join(base, part)) {
			return ""
		}
		base = join(base, part)
	}
	return base
}

// declaredBy gives the files that a constant leads to: the one that is found by its name, else those that say more of it
// than that something else stands in it.
func (r *Resolver) declaredBy(full string) []project.FileID {
	if known, is := r.ix.leads.Load(full); is {
		return known.([]project.FileID)
	}
	out := r.leadsTo(full)
	r.ix.leads.Store(full, out)
	return out
}

// leadsTo is declaredBy, worked out.
func (r *Resolver) leadsTo(full string) (out []project.FileID) {
	all := r.ix.consts[full]
	for _, d := range all {
		if e := r.ix.files[d.file]; e.wants != "" && e.label != nil && (e.wants == full || e.label.at == d.at) {
			return []project.FileID{d.file}
		}
	}
	if ofLanguage[full] {
		return nil
	}
	for _, d := range all {
		e := r.ix.files[d.file]
		if d.at >= 0 && !e.file.spaces[d.at].more && !e.file.spaces[d.at].class {
			continue
		}
		if d.at < 0 && e.file.values[-1-d.at].name == "" {
			continue
		}
		if len(out) == 0 || out[len(out)-1] != d.file { // they stand in the order of the files
			out = append(out, d.file)
		}
	}
	if len(out) > 1 { // the one that is called so
		name := r.inflect.underscore(last(full))
		var own []project.FileID
		for _, id := range out {
			if stem(r.tree.Path(id)) == name {
				own = append(own, id)
			}
		}
		if len(own) > 0 {
			return own
		}
	}
	return out
}

// ofLanguage are constants of the language and of its own library: a file that opens one of them adds to it, and does not
// define it (docs.ruby-lang.org/en/3.1).
var ofLanguage = lang.Words(`ARGF ARGV ArgumentError Array BasicObject Benchmark BigDecimal Bignum Binding Bundler CGI CSV Class
	ClosedQueueError Comparable Complex ConditionVariable Coverage DRb Date DateTime Delegator Digest Dir ENV
	EOFError ERB Encoding EncodingError Enumerable Enumerator Errno Etc Exception FalseClass Fiber FiberError Fiddle
	File FileTest FileUtils Find Fixnum Float FloatDomainError Forwardable FrozenError GC Hash IO IOError IPAddr IRB
	IndexError Integer Interrupt JSON Kernel KeyError LoadError LocalJumpError Logger Marshal MatchData Math Matrix
	Method Minitest Module Monitor Mutex NameError Net NilClass NoMatchingPatternError NoMatchingPatternKeyError
	NoMemoryError NoMethodError NotImplementedError Numeric Object ObjectSpace Observable Open3 OpenSSL OpenStruct
	OptionParser PStore Pathname Prime Proc Process Psych Queue RDoc REXML RSS RUBY_COPYRIGHT RUBY_DESCRIPTION
	RUBY_ENGINE RUBY_ENGINE_VERSION RUBY_PATCHLEVEL RUBY_PLATFORM RUBY_RELEASE_DATE RUBY_REVISION RUBY_VERSION Racc
	Ractor Rake Random Range RangeError Rational Readline Refinement Regexp RegexpError Reline Resolv Ripper RubyVM
	RuntimeError STDERR STDIN STDOUT ScriptError SecureRandom SecurityError Set Shellwords Signal SignalException
	SimpleDelegator Singleton SizedQueue Socket StandardError StopIteration String StringIO Struct Symbol
	SyntaxError SystemCallError SystemExit SystemStackError TOPLEVEL_BINDING TSort Tempfile Thread ThreadError
	ThreadGroup Time Timeout TracePoint Tracer TrueClass TypeError URI UnboundMethod UncaughtThrowError
	UnicodeNormalize WEBrick Warning WeakRef YAML ZeroDivisionError Zlib`)
