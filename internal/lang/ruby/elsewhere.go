package ruby

import (
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file finds constants in strings, and in files that are no Ruby: settings, templates, documents.

// longestName is how long a name in a text may be, in bytes.
const longestName = 300

// naming are methods whose argument is the name of a constant.
var naming = lang.Words(`const_get const_defined? const_source_location constantize safe_constantize stub_const
	const_missing qualified_const_get hide_const remove_const`)

// keys are keys of arguments whose values are names of constants.
var keys = lang.Words(`class_name source_type class anonymous_class serializer polymorphic_class job_class model_name
	class_names extend`)

// asked is the end of a text in which a constant is asked for by its name, with what is asked.
var asked = regexp.MustCompile(`([\w:.@]*?)\.?\bconst_(?:get|defined\?|source_location)\s*\(?\s*:?['"]?$`)

// receiverOf is what stands before the method that is given the name of a constant: Object in Object.const_get('A'). For
// other methods it is Object, since they look at the top.
func receiverOf(content []byte, at int) string {
	if m := asked.FindSubmatch(content[max(0, at-100):at]); m != nil {
		return string(m[1])
	}
	return "Object"
}

// topLevel are the modules whose constants are those of the top.
var topLevel = lang.Words("Object ::Object Kernel ::Kernel")

// relativeKeys are those whose values are looked for from the module of the place.
var relativeKeys = lang.Words(`class_name`)

// textsIn finds the strings of a file that are names of constants, and those that look like paths.
func (r *Resolver) textsIn(from project.FileID, e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.texts {
		t := &e.texts[i]
		if t.at.Len() == 0 || t.at.Len() > longestName {
			continue
		}
		raw := string(content[t.at.Start:t.at.End])
		if coded[t.call] && t.quote != 0 || strings.Contains(raw, "::") && !isConstant(strings.TrimSuffix(strings.TrimPrefix(raw, "::"), "::")) {
			out = r.constantsIn(e, t, raw, out)
			continue
		}
		if strings.ContainsAny(raw, "\\\n ") {
			continue
		}
		if name, is := strings.CutSuffix(raw, "::"); is && t.quote != 0 && isConstant(strings.TrimPrefix(name, "::")) {
			out = r.headsOf(&entry{file: &file{heads: []head{{source.Span{Start: t.at.Start, End: t.at.End - 2}, t.space}}}}, content, out)
			continue
		}
		if !t.whole {
			continue
		}
		if isConstant(strings.TrimPrefix(raw, "::")) {
			certain := naming[t.call] && t.number == 0 || keys[t.key] || behindText(content, t.at.End, "constantize") ||
				behindText(content, t.at.End, "safe_constantize")
			space := 0
			if relativeKeys[t.key] {
				space = int(t.space)
			} else if receiver := receiverOf(content, t.at.Start); naming[t.call] && !topLevel[receiver] {
				space = alone(int(t.space))
				certain = certain && (receiver == "" || strings.HasPrefix(receiver, "self"))
			}
			if t.quote == 0 && !certain {
				continue
			}
			if full := r.named(e, raw, space); full == "" || !r.target(full).Kind.Inside() {
				continue
			}
			out = append(out, lang.Mention{Span: t.at, Text: raw, Kind: ClassText, Form: lang.Plain, Quote: t.quote, Deferred: t.late,
				Likely: !certain, Evident: strings.Contains(raw, "::"), Detail: &lang.Detail{Own: own{space: space, text: raw}}})
			continue
		}
		if t.quote == 0 || !strings.Contains(raw, "/") && !listed[t.call] {
			continue
		}
		if strings.Contains(raw, "://") || strings.ContainsAny(raw, "%<>|$\\#") || strings.HasPrefix(raw, "/") || strings.Contains(raw, "//") {
			continue
		}
		if isBuilder(e.path) {
			x := &pathExpr{place: place{base: fromRoot, text: "/" + raw}, before: place{base: fromRoot}, texts: []source.Span{t.at}, quote: t.quote}
			if r.resolvePath(from, e, x).Kind.Inside() {
				out = append(out, lang.Mention{Span: t.at, Text: raw, Kind: FilePath, Form: lang.InScript, Quote: t.quote, Deferred: true,
					Detail: &lang.Detail{Own: own{expr: x}}})
			}
			continue
		}
		m := lang.Mention{Span: t.at, Text: raw, Kind: paths.Text, Form: lang.InScript, Quote: t.quote, Likely: true, Deferred: true}
		if trimmed := strings.TrimSuffix(raw, "/"); trimmed != raw {
			m.Text, m.Span.End = trimmed, t.at.Start+len(trimmed)
		}
		if strings.ContainsAny(raw, "*?[{") {
			m.Kind = paths.TextGlob
		}
		m.Evident = takers[t.call]
		out = append(out, m)
	}
	return out
}

// coded are methods whose texts are code.
var coded = lang.Words(`assert_difference assert_no_difference assert_changes assert_no_changes eval class_eval module_eval
	instance_eval`)

// constantsIn finds the constants in a text that is code, or that only looks so.
func (r *Resolver) constantsIn(e *entry, t *rbText, raw string, out []lang.Mention) []lang.Mention {
	code, err := read("x.rb", []byte(raw))
	if err != nil {
		return out
	}
	for i := range code.uses {
		u := &code.uses[i]
		m := r.means(e, u.text, int(t.space))
		if m.full == "" || !r.target(m.full).Kind.Inside() {
			continue
		}
		text := firstParts(u.text, m.parts)
		if !coded[t.call] && !strings.Contains(text, "::") {
			continue
		}
		at := source.Span{Start: t.at.Start + u.at.Start, End: t.at.Start + u.at.Start + len(text)}
		out = append(out, lang.Mention{Span: at, Text: text, Kind: ClassText, Form: lang.Plain, Quote: t.quote, Deferred: true,
			Likely: !coded[t.call], Detail: &lang.Detail{Own: own{space: int(t.space), text: text}}})
	}
	return out
}

// headsOf finds the texts that names of constants begin with.
func (r *Resolver) headsOf(e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for _, h := range e.heads {
		raw := string(content[h.at.Start:h.at.End])
		if len(r.inModule(r.named(e, raw, 0))) == 0 {
			continue
		}
		out = append(out, lang.Mention{Span: h.at, Text: raw, Kind: Head, Form: lang.Plain, Quote: '"', Deferred: true,
			Detail: &lang.Detail{Own: own{}}})
	}
	return out
}

// inModule gives the files whose constants stand in a module: those that are found by their paths, if there are such.
func (r *Resolver) inModule(full string) []project.FileID {
	if full == "" {
		return nil
	}
	if known, asked := r.modules.Load(full); asked {
		return known.([]project.FileID)
	}
	out := r.findInModule(full)
	r.modules.Store(full, out)
	return out
}

func (r *Resolver) findInModule(full string) []project.FileID {
	var found, others []project.FileID
	for _, id := range r.ix.ids {
		e := r.ix.files[id]
		switch {
		case e == nil:
		case e.wants != "":
			if e.label != nil && strings.HasPrefix(e.wants, full+"::") {
				found = append(found, id)
			}
		case slices.ContainsFunc(e.spaces, func(name string) bool { return strings.HasPrefix(name, full+"::") }):
			others = append(others, id)
		}
	}
	if len(found) > 0 {
		return found
	}
	return others
}

// spellHead writes a text anew that names of constants begin with: all that they can name must go as one.
func (r *Resolver) spellHead(q lang.Respelling, old *Resolver) (lang.Spelling, bool) {
	m := q.Mention
	full := old.named(old.ix.files[q.OldFrom], m.Text, 0)
	goal := ""
	for _, id := range old.inModule(full) {
		was := old.ix.files[id]
		now, here := r.tree.Came(id)
		if !here || r.ix.files[now] == nil {
			return lang.Spelling{}, false
		}
		for i := 1; i < len(was.spaces); i++ {
			rest, in := strings.CutPrefix(was.spaces[i], full+"::")
			if !in {
				continue
			}
			head, keeps := strings.CutSuffix(r.ix.files[now].spaces[i], "::"+rest)
			if !keeps || goal != "" && head != goal {
				return lang.Spelling{}, false
			}
			goal = head
		}
	}
	if strings.HasPrefix(m.Text, "::") && goal != "" {
		goal = "::" + goal
	}
	return lang.Spelling{Text: goal}, goal != ""
}

// takers are methods whose arguments are paths.
var takers = lang.Words(`open read readlines foreach write exist? file? directory? glob load load_file copy_file cp cp_r mv
	rm rm_rf mkdir_p include exclude file_fixture fixture_file_upload eval_gemfile gemspec path pattern libs`)

// listed are methods whose arguments are folders, also of one part.
var listed = lang.Words(`libs require_paths bindir`)

// isBuilder says whether a file builds or tests its library: its paths count from the folder of that.
func isBuilder(p string) bool {
	return named[path.Base(p)] || path.Ext(p) == ".gemspec" || path.Ext(p) == ".rake"
}

// isStored says whether a file says what was done to a database once, which is never written anew.
func isStored(p string) bool {
	return strings.Contains("/"+p, "/db/migrate/") || strings.HasSuffix("/"+p, "/db/schema.rb")
}

// behindText says whether a method is called on a string that ends at a place.
func behindText(content []byte, end int, method string) bool {
	rest := content[min(end+1, len(content)):]
	return strings.HasPrefix(string(rest[:min(len(rest), len(method)+1)]), "."+method)
}

// wordsIn finds the names of the tree in a file that is no Ruby.
func (r *Resolver) wordsIn(from project.FileID, content []byte) (out []lang.Mention) {
	p := r.tree.Path(from)
	if isRuby(p) || isStored(p) { // one that can't be read
		return nil
	}
	prose := r.tree.IsProse(p)
	view := isView(p)
	for i := 0; i < len(content); {
		c := content[i]
		if !capital(c) {
			if ofName[c] {
				for i < len(content) && ofName[content[i]] {
					i++
				}
				continue
			}
			i++
			continue
		}
		start := i
		for i < len(content) && (ofName[content[i]] || content[i] == ':' && i+2 < len(content) && content[i+1] == ':' && capital(content[i+2])) {
			if content[i] == ':' {
				i++
			}
			i++
		}
		if i-start > longestName || start > 0 && (content[start-1] == '/' || content[start-1] == '.' || content[start-1] == '-') {
			continue
		}
		text := string(content[start:i])
		if !strings.Contains(text, "::") && !view && !keyed(content, start) {
			continue
		}
		parts, _ := partsOf(text)
		if !r.ix.lasts[parts[0]] {
			continue
		}
		full, n := "", 0
		for k, part := range parts {
			if !r.exists(join(full, part)) {
				break
			}
			full, n = join(full, part), k+1
		}
		if full == "" || !r.target(full).Kind.Inside() {
			continue
		}
		name := strings.Join(parts[:n], "::")
		at := source.Span{Start: start, End: start + len(name)}
		if at.Start >= 2 && content[at.Start-1] == ':' && content[at.Start-2] == ':' {
			if at.Start >= 3 && ofName[content[at.Start-3]] {
				continue
			}
		}
		m := lang.Mention{Span: at, Text: name, Kind: ClassWord, Form: lang.Plain, Deferred: true, Likely: prose || !view && !keyed(content, start),
			Detail: &lang.Detail{Own: own{text: name}}}
		m.Evident = m.Likely
		out = append(out, m)
	}
	return out
}

// keyed says whether a word is the value of a key that holds the name of a constant: class: A.
func keyed(content []byte, at int) bool {
	line := strings.TrimRight(string(content[max(0, at-40):at]), " \t\"'")
	for _, key := range []string{"class:", "class_name:", "job_class:", "job:", "worker:", "class="} {
		if strings.HasSuffix(line, key) {
			return true
		}
	}
	return false
}

// spellText writes the name of a constant in a text anew.
func (r *Resolver) spellText(q lang.Respelling, old *Resolver) (lang.Spelling, bool) {
	m, o := q.Mention, lang.Own[own](q.Mention)
	full := old.named(old.ix.files[q.OldFrom], m.Text, o.space)
	goal := r.becomes(old, full)
	if goal == "" {
		return lang.Spelling{}, false
	}
	if still := r.named(r.ix.files[q.From], m.Text, o.space) == goal; goal == full || still && o.space != 0 {
		return lang.Spelling{Text: m.Text}, still
	}
	text := goal
	if strings.HasPrefix(m.Text, "::") || m.Quote != 0 && r.named(r.ix.files[q.From], text, o.space) != goal {
		text = "::" + goal
	}
	if m.Quote == 0 && m.Kind == ClassText && strings.Contains(text, "::") {
		return lang.Spelling{}, false // a symbol can't hold it
	}
	return lang.Spelling{Text: text}, true
}

// becomes is the name that a constant of the old tree has in this one; empty for one that is not known, since it parts.
func (r *Resolver) becomes(old *Resolver, full string) (goal string) {
	files := old.declaredBy(full)
	for _, d := range old.ix.consts[full] {
		if !slices.Contains(files, d.file) {
			continue
		}
		name := full
		if id, here := r.tree.Came(d.file); here && r.ix.files[id] != nil {
			e := r.ix.files[id]
			switch {
			case d.at < 0 && -1-d.at < len(e.values):
				name = e.values[-1-d.at]
			case d.at > 0 && d.at < len(e.spaces) && !e.gone[d.at]:
				name = e.spaces[d.at]
			}
		}
		if goal != "" && name != goal {
			return ""
		}
		goal = name
	}
	if goal == "" && r.exists(full) {
		return full
	}
	return goal
}
