package java

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file finds names of types and packages in strings and in files that are no Java: settings of containers and
// loggers, lists of services, modules, Kotlin, documents. What is written there with dots and is declared in the tree
// is a name.

// longestName is how long a name in a text may be, in bytes.
const longestName = 400

// ofWord says whether a byte may stand in a name with dots. A $ parts the types that stand in one another.
func ofWord(c byte) bool { return ofName[c] && c < 0x80 || c == '.' }

// wordsIn finds the names of the tree in a file that is no Java.
func (r *Resolver) wordsIn(from project.FileID, content []byte) (out []lang.Mention) {
	p := r.tree.Path(from)
	// In a text for people a name may be one of the past, or of an example: there it is likely, and no more.
	prose := r.tree.IsProse(p)
	code := isKotlin(p) || isJava(p)
	for i := 0; i < len(content); {
		c := content[i]
		if !ofName[c] || digit(c) || c >= 0x80 {
			for i++; i < len(content) && (ofName[content[i-1]] || content[i-1] == '-') && ofWord(content[i]); i++ {
			}
			continue
		}
		start := i
		for i < len(content) && ofWord(content[i]) {
			i++
		}
		if i-start > longestName {
			continue
		}
		text := strings.TrimRight(string(content[start:i]), ".")
		m, known := r.word(from, text, start)
		if !known {
			continue
		}
		if m.Likely = prose; prose {
			m.Evident = true
		}
		if m.Kind == SpaceWord && code && declaresPackage(content, m.Span.Start) { // it says where that file is
			continue
		}
		out = append(out, m)
	}
	return out
}

// declaresPackage says whether a name stands behind the word package.
func declaresPackage(content []byte, at int) bool {
	line := strings.TrimSpace(string(content[max(0, at-40):at]))
	return strings.HasSuffix(line, "package")
}

// word says which type or package of the tree a text with dots names, or ends with: logging.level.a.b names a.b.
func (r *Resolver) word(from project.FileID, text string, start int) (lang.Mention, bool) {
	ix := r.index()
	for at := 0; ; {
		rest := text[at:]
		first := partsOf(rest, 1)
		if ids := ix.within[first]; len(ids) > 0 && strings.Contains(rest, ".") {
			m := lang.Mention{Form: lang.Plain, Kind: ClassWord, Deferred: true}
			if all, name := r.named(from, rest); len(all) > 0 {
				end := len(name)
				m.Span, m.Text = source.Span{Start: start + at, End: start + at + end}, rest[:end]
				return m, true
			}
			if len(ix.within[rest]) > 0 {
				m.Kind = SpaceWord
				m.Span, m.Text = source.Span{Start: start + at, End: start + at + len(rest)}, rest
				return m, true
			}
		}
		dot := strings.IndexByte(rest, '.')
		if dot < 0 {
			return lang.Mention{}, false
		}
		at += dot + 1
	}
}

func isKotlin(p string) bool {
	ext := path.Ext(p)
	return ext == ".kt" || ext == ".kts" || ext == ".groovy" || ext == ".scala"
}

// loading are methods whose argument is the name of a type.
var loading = lang.Words(`forName loadClass findClass findLoadedClass hasClass isPresent`)

// finding are methods whose argument is the path of a resource.
var finding = lang.Words(`getResource getResourceAsStream getResources getSystemResource getSystemResourceAsStream`)

// scanning are annotations whose strings are packages.
var scanning = lang.Words(`ComponentScan EntityScan MapperScan EnableJpaRepositories EnableMongoRepositories
	SpringBootApplication ConfigurationPropertiesScan ServletComponentScan EnableFeignClients EnableJdbcRepositories
	ComponentScans SelectPackages AnalyzeClasses EnableTransactionManagement`)

// naming are annotations whose strings are names of types.
var naming = lang.Words(`ConditionalOnClass ConditionalOnMissingClass AutoConfigureBefore AutoConfigureAfter
	AutoConfiguration EnableAutoConfiguration ConditionalOnBean ConditionalOnMissingBean JsonTypeName`)

// textsIn finds the strings of a file that are names of types or packages, and paths of resources.
func (r *Resolver) textsIn(from project.FileID, e *entry, content []byte, out []lang.Mention) []lang.Mention {
	for i := range e.texts {
		t := &e.texts[i]
		if t.at.Len() == 0 || t.at.Len() > longestName {
			continue
		}
		raw := string(content[t.at.Start:t.at.End])
		if strings.ContainsAny(raw, "\\\n") {
			continue
		}
		if m, is := r.resource(from, t, raw); is {
			out = append(out, m)
			continue
		}
		if strings.IndexByte(raw, '.') < 0 {
			continue
		}
		raw = withoutMethod(raw)
		if !dottedName(raw) {
			out = append(out, r.namesWithin(from, raw, t.at.Start, t.on == "@" && pointing[last(t.call)])...)
			continue
		}
		if name, open := strings.CutSuffix(raw, "."); open && t.joins && strings.Contains(name, ".") &&
			len(r.index().within[name]) > 0 {
			m := lang.Mention{Span: source.Span{Start: t.at.Start, End: t.at.End - 1}, Text: name, Kind: Head,
				Form: lang.Plain, Quote: '"', Deferred: true}
			// one that may begin any name of the project says too little to hold all of it back: it is shown
			m.Likely = len(r.ix.within[name]) == len(r.ix.files)
			m.Evident = m.Likely
			out = append(out, m)
			continue
		}
		m, known := r.word(from, raw, t.at.Start)
		if !known || m.Span.Start != t.at.Start || t.joins && m.Kind == ClassWord {
			continue
		}
		mark := last(t.call)
		m.Quote, m.Detail = '"', &lang.Detail{Own: own{}}
		if m.Kind == ClassWord {
			m.Kind = ClassText
			certain := loading[t.call] || t.on == "@" && naming[mark]
			m.Likely, m.Evident = !certain, m.Span.End == t.at.Start+len(raw) || !certain
		} else {
			if m.Span.End != t.at.Start+len(raw) {
				continue
			}
			m.Kind = SpaceText
			m.Likely = !(t.on == "@" && scanning[mark])
			m.Evident = m.Likely
		}
		out = append(out, m)
	}
	return out
}

// pointing are annotations whose strings pick methods by patterns over names: execution(* a.b..*.*(..)), within(a.b.*).
var pointing = lang.Words(`Pointcut Around Before After AfterReturning AfterThrowing DeclareParents`)

// namesWithin finds names in a longer text: T(a.B), new a.B(…) in a query, and packages in a pattern over names.
func (r *Resolver) namesWithin(from project.FileID, raw string, base int, pattern bool) (out []lang.Mention) {
	for i := 0; i < len(raw); {
		if !ofWord(raw[i]) || digit(raw[i]) || raw[i] == '.' {
			i++
			continue
		}
		start := i
		for i < len(raw) && ofWord(raw[i]) {
			i++
		}
		text := strings.TrimRight(raw[start:i], ".")
		m, known := r.word(from, text, base+start)
		if !known || m.Span.Start != base+start || m.Kind == SpaceWord && !pattern {
			continue
		}
		if pattern {
			if m.Quote = '"'; m.Kind == SpaceWord {
				m.Kind = Head
			} else {
				m.Kind = ClassText
			}
			out = append(out, m)
			continue
		}
		m.Kind, m.Likely, m.Quote = ClassText, true, '"'
		// T(a.B) and new a.B( are read as code by who reads the text
		before := raw[:start]
		m.Evident = strings.HasSuffix(before, "T(") || strings.HasSuffix(before, "new ")
		m.Detail = &lang.Detail{Own: own{}}
		out = append(out, m)
	}
	return out
}

// withoutMethod leaves the method behind a name out: of a.B#c and a.B#c(int) the name.
func withoutMethod(raw string) string {
	name, method, has := strings.Cut(raw, "#")
	method, _, _ = strings.Cut(method, "(")
	if has && dottedName(name) && isName(method) {
		return name
	}
	return raw
}

// dottedName says whether a text is a name with dots as a whole.
func dottedName(raw string) bool {
	for i := range len(raw) {
		if !ofWord(raw[i]) && raw[i] != ':' {
			return false
		}
	}
	return true
}

// resource says which file of the project a string names that code finds beside its classes.
func (r *Resolver) resource(from project.FileID, t *javaText, raw string) (lang.Mention, bool) {
	m := lang.Mention{Span: t.at, Text: raw, Kind: Resource, Form: lang.Plain, Quote: '"', Deferred: true}
	o := resourceOwn{}
	switch {
	case finding[t.call] && !t.joins:
		switch {
		case t.on == "class" || t.on == "getClass()" || t.on == "this": // of a class: beside it
			o.pkg = true
		case strings.HasSuffix(strings.TrimSuffix(t.on, "()"), "oader"), strings.HasPrefix(t.call, "getSystem"):
		default:
			m.Likely, m.Evident = true, true
		}
	case t.on == "@" && besides[last(t.call)] && !strings.Contains(raw, ":"):
		o.pkg = true
	case strings.HasPrefix(raw, "classpath:"), strings.HasPrefix(raw, "classpath*:"):
		scheme := raw[:strings.IndexByte(raw, ':')+1]
		m.Span.Start += len(scheme)
		m.Text = raw[len(scheme):]
	default:
		return m, false
	}
	m.Detail = &lang.Detail{Own: o}
	return m, m.Text != "" && r.resolveResource(from, &m).Kind.Inside()
}

// besides are annotations of tests whose strings are paths of resources beside their class.
var besides = lang.Words(`Sql TestPropertySource ContextConfiguration`)

// resourceOwn says from where the path of a resource counts.
type resourceOwn struct{ pkg bool }

// resolveResource finds a resource: beside a class, which means in the folder of its package below any root, or from a
// root on.
func (r *Resolver) resolveResource(from project.FileID, m *lang.Mention) lang.Target {
	e := r.index().files[from]
	if e == nil {
		return lang.No(lang.ToOutside)
	}
	place := strings.TrimPrefix(m.Text, "/")
	if lang.Own[resourceOwn](m).pkg && !strings.HasPrefix(m.Text, "/") {
		place = path.Join(folderOf(e.pkg), place)
	}
	for _, root := range r.resourceRoots(e) {
		if p := path.Join(root, place); !lang.Leaves(p) {
			if id, there := r.tree.Lookup(p); there {
				return lang.File(id)
			}
		}
	}
	return lang.No(lang.ToOutside)
}

// resourceRoots are the folders from which what lies beside a file's classes is copied: those of its sources, and
// resources beside these; of a test those of what it tests too.
func (r *Resolver) resourceRoots(e *entry) (out []string) {
	root := r.rootOf(e)
	if set, is := usual(root + "/x"); is && set == root {
		around := path.Dir(root) // src/main
		out = append(out, path.Join(around, "resources"), root)
		if path.Base(around) != "main" {
			out = append(out, path.Join(path.Dir(around), "main/resources"), path.Join(path.Dir(around), "main/java"))
		}
		return out
	}
	return []string{root, path.Join(path.Dir(root), "resources")}
}

// spellResource writes the path of a resource: beside the class if it lies there, else from the root on.
func (r *Resolver) spellResource(q lang.Respelling) (lang.Spelling, bool) {
	e := r.index().files[q.From]
	if e == nil || q.Target.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	p := r.tree.Path(q.Target.File)
	for _, root := range r.resourceRoots(e) {
		rest, below := strings.CutPrefix(p, root+"/")
		if !below {
			continue
		}
		text := rest
		if lang.Own[resourceOwn](q.Mention).pkg {
			if near, in := strings.CutPrefix(rest, folderOf(e.pkg)+"/"); in && e.pkg != "" {
				return lang.Spelling{Text: near}, true
			}
			return lang.Spelling{Text: "/" + rest}, true
		}
		if strings.HasPrefix(q.Mention.Text, "/") {
			text = "/" + rest
		}
		return lang.Spelling{Text: text}, true
	}
	return lang.Spelling{}, false
}

// Spell writes names in strings and in files that are no Java, and paths of resources.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	m := q.Mention
	old, ok := q.Old.(*Resolver)
	if !ok || !q.Target.Kind.Inside() {
		return lang.Spelling{Text: m.Text}, ok
	}
	old.index()
	r.index()
	switch m.Kind {
	case Resource:
		return r.spellResource(q)
	case Module:
		return r.spellModule(q)
	case ClassPath:
		return r.spellClassPath(old, q)
	case ClassText, ClassWord:
		all, name := old.named(q.OldFrom, m.Text)
		goal := r.goal(all, name)
		return lang.Spelling{Text: respelled(m.Text, name, goal)}, goal != name
	case SpaceText, SpaceWord:
		goal, whole := r.spaceGoal(old, m.Text, exact(old, q.OldFrom))
		switch {
		case whole:
			return lang.Spelling{Text: goal}, true
		case goal != "" && exact(old, q.OldFrom) && len(r.ix.own[m.Text]) == 0: // the others are added
			return lang.Spelling{Text: goal}, true
		}
		return lang.Spelling{Text: m.Text}, len(r.ix.within[m.Text]) > 0
	case Head:
		goal, whole := r.spaceGoal(old, m.Text, false)
		return lang.Spelling{Text: goal}, whole
	}
	return lang.Spelling{}, false
}

// respelled writes a name anew in a text: with $ where the old one had it, and with what stands behind.
func respelled(text, name, goal string) string {
	head := text[:len(name)]
	if at := strings.IndexByte(head, '$'); at >= 0 {
		// what stands behind the first $ are types in others: there are as many of them then
		inner := strings.Count(head[at:], "$") + strings.Count(head[at:], ".")
		parts := strings.Split(goal, ".")
		cut := max(1, len(parts)-inner)
		goal = strings.Join(parts[:cut], ".") + "$" + strings.Join(parts[cut:], "$")
	}
	return goal + text[len(name):]
}

// exact says whether a file speaks of packages without those below them: a module does.
func exact(r *Resolver, id project.FileID) bool {
	return path.Base(r.tree.Path(id)) == "module-info.java"
}

// spaceGoal gives what becomes of a package, with those below it unless it is meant alone: false where its files do not
// keep the rest of their names, or go to several; then it is the first of these.
func (r *Resolver) spaceGoal(old *Resolver, name string, alone bool) (goal string, whole bool) {
	ids := old.index().within[name]
	if alone {
		ids = old.index().own[name]
	}
	whole = len(ids) > 0
	for k, id := range ids {
		now, ok := r.tree.Came(id)
		if !ok || r.index().files[now] == nil {
			return "", false
		}
		head, same := strings.CutSuffix("."+r.ix.files[now].pkg, strings.TrimPrefix("."+old.ix.files[id].pkg, "."+name))
		if head = strings.TrimPrefix(head, "."); !same {
			return "", false
		}
		if k > 0 && head != goal {
			whole = false
			goal = min(goal, head)
			continue
		}
		goal = head
	}
	return goal, whole
}

// goal is the name in full that a type has in the end, given who declared it in the old tree.
func (r *Resolver) goal(all []declared, name string) string {
	for _, d := range all {
		id, ok := r.tree.Came(d.file)
		if !ok {
			continue
		}
		if e := r.index().files[id]; e != nil && d.at < len(e.types) {
			return e.nameOf(d.at)
		}
	}
	return name
}

// dotted is the name of the type that a file is called as, with its package: texts that no rule reads may hold it.
func (r *Resolver) dotted(p string) string {
	if !isJava(p) {
		return ""
	}
	dir, stem := path.Dir(p), strings.TrimSuffix(path.Base(p), ".java")
	if root, held := r.roots.of(dir); held {
		if pkg, below := names.Qualified(root, dir, "."); below {
			return pkg + "." + stem
		}
	}
	return ""
}
