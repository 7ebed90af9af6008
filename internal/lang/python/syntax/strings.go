package syntax

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/source"
)

// texts says which strings of a file are reported. The zero texts asks for modules that are imported by calls alone.
type texts struct {
	likely   bool // strings that only look like the name of a module
	settings bool // the file is settings: what resolves is certain
	file     bool // it is the settings of one application, which say its name
	setup    bool // it builds the project: it lists entry points, and the data of packages
	exports  bool // it makes a folder a package: what it exports may be modules
	stated   *lang.Declared
	path     string

	list bool // the statement lists modules, those of one name too
	all  bool // the statement lists what the package exports
	last bool // the string before says that the next one is a module
	from int  // strings before this place are reported already
}

// begins forgets what held for the statement before, and looks at what the new one gives a value to.
func (t *texts) begins(word []byte) {
	t.all = t.exports && string(word) == "__all__"
	t.list = t.settings && (bytes.HasSuffix(word, []byte("_APPS")) || bytes.HasSuffix(word, []byte("URLCONF")) ||
		t.file && string(word) == "name")
	t.last = false
}

// settingsFiles are files whose strings name modules by the habits of their frameworks.
var settingsFiles = map[string]bool{
	"settings.py": true, "urls.py": true, "wsgi.py": true, "asgi.py": true, "manage.py": true, "celery.py": true,
	"apps.py": true, "conf.py": true, "routing.py": true,
	"setup.py": true, "noxfile.py": true, "conftest.py": true,
}

func textsOf(p string, declared *lang.Declared) texts {
	base := path.Base(p)
	t := texts{
		likely:   declared == nil || !declared.Certain,
		settings: settingsFiles[base] || path.Base(path.Dir(p)) == "settings" || declared.SpeaksOfSettings(p),
		file:     base == "apps.py", setup: base == "setup.py", exports: base == "__init__.py", path: p,
	}
	if declared != nil && len(declared.Convention.Mentions) > 0 {
		t.stated = declared
	}
	return t
}

// loaders are calls whose first string is the name of a module or of something in one, in the standard library and in
// what tests and frameworks load by: importlib, pkgutil, runpy, unittest.mock, the settings and addresses of web
// applications.
var loaders = map[string]bool{
	"import_module": true, "find_spec": true, "run_module": true, "resolve_name": true, "import_string": true,
	"patch": true, "dict": true, "multiple": true,
	"setattr": true, "delattr": true, "include": true, "load_module": true, "get_importer": true,
	"import_from_string": true, "from_object": true,
}

// resources are calls whose first string is a package, and behind which a path from its folder stands:
// importlib.resources, pkgutil, pkg_resources, a loader of templates.
var resources = map[string]bool{"files": true, "resource_filename": true, "resource_string": true,
	"resource_stream": true, "resource_exists": true, "get_data": true, "PackageLoader": true}

// noPath are the characters that no path has which is written as a text.
var noPath = func() (out [256]bool) {
	for _, c := range []byte(" \\%{}<>*?:|\"'\n") {
		out[c] = true
	}
	return out
}()

// longestText is the length in bytes up to which a text is looked at.
const longestText = 200

// pathText reports a string that looks like a path and stands in a call that speaks of files, or is given to a name
// that does. It reports whether it is one.
func (s *Scanner) pathText(text []byte, inner source.Span, quote int, call bool, previous byte) bool {
	if bytes.IndexByte(text, '/') < 0 || slices.ContainsFunc(text, func(c byte) bool { return noPath[c] }) ||
		text[0] == '/' || bytes.Contains(text, []byte("//")) {
		return false
	}
	if !(call && lang.SpeaksOfFiles[string(s.called)] || previous == '=' && paths.PathKey(string(s.called)) ||
		previous == ',' && s.isRun(quote)) {
		return false
	}
	s.mentions = append(s.mentions, lang.Mention{
		Span: inner, Text: string(text), Kind: paths.Text, Form: lang.InScript, Quote: s.Src[quote], Likely: true,
		Evident: true, Deferred: true,
	})
	return true
}

// isRun says whether a string is the first argument of a program in a list that is run: [sys.executable, "a/b.py"].
func (s *Scanner) isRun(quote int) bool {
	before := bytes.TrimRight(s.Src[max(0, quote-60):quote], " \t\r\n")
	before = bytes.TrimRight(bytes.TrimSuffix(before, []byte(",")), " \t\r\n")
	return bytes.HasSuffix(before, []byte("sys.executable")) || bytes.HasSuffix(before, []byte("\"python\"")) ||
		bytes.HasSuffix(before, []byte("'python'")) ||
		bytes.HasSuffix(before, []byte("\"python3\"")) || bytes.HasSuffix(before, []byte("'python3'"))
}

// stringToken passes over a string, and notes what it names.
func (s *Scanner) stringToken(prefix []byte, previous byte) {
	start := s.Pos
	s.text(prefix)
	last := s.texts.last // the string before asks for the name of a module
	switch {
	case s.texts.setup && s.Pos-start > 2 && s.entryPoints(start+1, s.Pos-1):
	case s.texts.likely && s.at(start+1) == s.Src[start] && s.at(start+2) == s.Src[start] && s.Pos-start > 8:
		s.prose(start+3, s.Pos-3)
	default:
		s.texts.last = false
		if inner := (source.Span{Start: start + 1, End: s.Pos - 1}); s.plain(prefix, start, inner) {
			s.plainString(inner, start, previous, last)
		}
	}
}

// plain says whether a string is short, ends with the quote that it begins with, and has a prefix that changes nothing
// in what its characters mean: none, r or u.
func (s *Scanner) plain(prefix []byte, start int, inner source.Span) bool {
	if inner.Len() < 1 || inner.Len() > longestText || s.Src[inner.End] != s.Src[start] || len(prefix) > 1 {
		return false
	}
	return len(prefix) == 0 || prefix[0]|0x20 == 'r' || prefix[0]|0x20 == 'u'
}

// plainString notes what a plain string names: what the convention states, a path, or a module.
func (s *Scanner) plainString(inner source.Span, start int, previous byte, last bool) {
	text := s.Src[inner.Start:inner.End]
	call := previous == '(' && s.called != nil
	switch {
	case s.texts.stated != nil && s.statedCall(inner, start, call):
	case s.texts.likely && s.pathText(text, inner, start, call, previous):
	case !nameStart(text[0]) || inner.Start < s.texts.from:
	case previous == '=' && s.namesTask(start): // queues remember a task by it
	default:
		if segments, ok := lang.DottedName(text); ok && !(segments > 1 && endsLikeFile(text)) {
			s.moduleString(inner, start, segments, call, last)
		}
	}
}

// endsLikeFile says whether the last of several names is the ending of a file.
func endsLikeFile(text []byte) bool { return endings[string(text[bytes.LastIndexByte(text, '.')+1:])] }

// namesTask says whether a string is the name that a decorator of its line gives a task.
func (s *Scanner) namesTask(start int) bool {
	line := s.Src[bytes.LastIndexByte(s.Src[:start], '\n')+1 : start]
	return string(s.called) == "name" && bytes.Contains(line, []byte("task("))
}

// moduleString notes a string of names with dots, by what stands before it: a call that loads modules, one that asks
// for a package's data, a setting. Elsewhere one of several names is likely a module's.
func (s *Scanner) moduleString(inner source.Span, start, segments int, call, last bool) {
	called := string(s.called)
	loads := call && loaders[called] && segments > 1
	sets := s.texts.settings && (segments > 1 || s.texts.list)
	switch {
	case call && (called == "import_module" || called == "__import__"): // named notes these
	case bytes.HasSuffix(s.Src[inner.Start:inner.End], []byte("_SETTINGS_MODULE")):
		s.texts.last = true
	case call && resources[called]:
		s.addText(inner, start, false, "")
		s.resource(string(s.Src[inner.Start:inner.End]))
	case last, loads, sets:
		s.addText(inner, start, false, "")
	case s.texts.all && segments == 1:
		s.addText(inner, start, false, ".")
	case s.texts.likely && segments > 1:
		s.addText(inner, start, true, "")
	}
}

// crossReference is a name in a document of the language: :class:`a.b.C`, :func:`~a.b.c`, :mod:`title <a.b>`; example
// is an import in a session that a document shows (docs.python.org/3/library/doctest.html).
var (
	crossReference = regexp.MustCompile(":[a-z]+:`(?:[^`<]{1,200}<)?[~!]?([A-Za-z_][\\w.]*\\.\\w+)(?:\\(\\))?>?`")
	example        = regexp.MustCompile(`>>> (?:from|import) ([A-Za-z_][\w.]*\.\w+)`)
	typeComment    = regexp.MustCompile(`[A-Za-z_]\w*(?:\.\w+)+`)
)

// References finds the names of modules, and of what is in them, that a document refers to.
func References(text []byte) []lang.Mention {
	s := &Scanner{Src: text}
	s.prose(0, len(text))
	return s.mentions
}

// prose reads what the documentation of a module, class or function refers to.
func (s *Scanner) prose(start, end int) {
	text := s.Src[start:end]
	var found [][]int
	if bytes.Contains(text, []byte(":`")) {
		found = crossReference.FindAllSubmatchIndex(text, -1)
	}
	if bytes.Contains(text, []byte(">>> ")) {
		found = append(found, example.FindAllSubmatchIndex(text, -1)...)
		slices.SortFunc(found, func(a, b []int) int { return a[2] - b[2] })
	}
	for _, m := range found {
		s.addProse(start+m[2], start+m[3])
	}
}

// typed reads a comment that gives a type: # type: a.b.C
func (s *Scanner) typed(start, end int) {
	rest, ok := bytes.CutPrefix(s.Src[start:end], []byte("# type: "))
	if !ok || !s.texts.likely {
		return
	}
	for _, m := range typeComment.FindAllIndex(rest, -1) {
		s.addProse(end-len(rest)+m[0], end-len(rest)+m[1])
	}
}

func (s *Scanner) addProse(start, end int) {
	s.mentions = append(s.mentions, lang.Mention{
		Span: source.Span{Start: start, End: end}, Text: string(s.Src[start:end]), Kind: ModuleText, Form: lang.Plain,
		Likely: true, Deferred: true,
	})
}

func (s *Scanner) addText(inner source.Span, quote int, likely bool, from string) {
	m := lang.Mention{
		Span: inner, Text: string(s.Src[inner.Start:inner.End]), Kind: ModuleText, Form: lang.Plain,
		Quote: s.Src[quote], Likely: likely, Deferred: true,
	}
	if from != "" {
		m.Detail = &lang.Detail{Own: Detail{From: from}}
	}
	s.mentions = append(s.mentions, m)
}

// endings are last names that make a text the name of a file rather than of a module.
var endings = map[string]bool{
	"py": true, "html": true, "txt": true, "json": true, "css": true, "js": true, "csv": true, "xml": true, "yml": true,
	"yaml": true, "toml": true, "cfg": true,
	"ini": true, "md": true, "rst": true, "png": true, "log": true, "db": true, "sqlite3": true, "sql": true,
	"sh": true,
}

// statedCall reports a string that the convention states to be a mention.
func (s *Scanner) statedCall(inner source.Span, quote int, call bool) bool {
	text := string(s.Src[inner.Start:inner.End])
	rule := 0
	if call && s.texts.stated.Calls(string(s.called)) {
		rule = s.texts.stated.Call(s.texts.path, s.chain(), text)
	}
	if rule == 0 {
		rule = s.texts.stated.Like(s.texts.path, text)
	}
	if rule == 0 {
		return false
	}
	entry := s.texts.stated.Entry(rule)
	if entry.NoPath {
		return true
	}
	start, end, ok := entry.Part(text)
	if !ok {
		return false
	}
	s.mentions = append(s.mentions, lang.Mention{
		Span: source.Span{Start: inner.Start + start, End: inner.Start + end}, Text: text[start:end],
		Kind: stated.Stated, Form: lang.InScript, Quote: s.Src[quote],
		Detail: stated.By(rule), Deferred: true,
	})
	return true
}

// chain is the name of the call whose bracket has just opened, with what it is called on.
func (s *Scanner) chain() string {
	end := bytes.LastIndex(s.Src[:s.Pos], s.called) + len(s.called)
	start := end
	for start > 0 && (nameParts[s.Src[start-1]] || s.Src[start-1] == '.') {
		start--
	}
	return string(s.Src[start:end])
}

// named looks at a word within a statement: a call that imports a module, a file's own place, a name that stands for a
// folder.
func (s *Scanner) named(word []byte, start int, previous byte) {
	switch {
	case len(word) == 8 && string(word) == "__file__":
		s.anchor(start, 0)
	case s.anchors != nil && previous != '.':
		if up, ok := s.anchors[string(word)]; ok {
			s.anchor(start, up)
		}
	}
	if string(word) == "import_module" || string(word) == "__import__" && previous != '.' {
		s.loads()
	}
	if s.texts.setup && string(word) == "package_data" {
		s.packageData()
	}
}

// ownPackage says whether a word stands for the package that a file is of, where a package is asked for.
func ownPackage(word []byte) bool { return string(word) == "__package__" || string(word) == "__name__" }

// loads notes a module that is imported by a call with a literal: __import__('a'), importlib.import_module('a.b').
func (s *Scanner) loads() {
	at := s.Pos
	defer func() { s.Pos = at }()
	s.blank(true)
	if s.at(s.Pos) != '(' {
		return
	}
	s.Pos++
	s.blank(true)
	quote := s.Pos
	span, ok := s.literal()
	if !ok {
		return
	}
	s.blank(true)
	if c := s.at(s.Pos); c != ')' && c != ',' {
		return
	}
	if text := string(s.Src[span.Start:span.End]); ModuleName(text) {
		s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: ModuleCall, Form: lang.Plain,
			Quote: s.Src[max(quote, span.Start-1)], Deferred: s.deferred >= 0})
	}
}

// literal passes over a string that is no formatted one and stands on one line, and gives what is between its quotes.
func (s *Scanner) literal() (source.Span, bool) {
	var prefix []byte
	if nameStart(s.at(s.Pos)) {
		if prefix = s.word(); !prefixed(prefix) || bytes.ContainsAny(prefix, "fFbBtT") {
			return source.Span{}, false
		}
	}
	start := s.Pos
	quote := s.at(start)
	if quote != '\'' && quote != '"' {
		return source.Span{}, false
	}
	s.text(prefix)
	span := source.Span{Start: start + 1, End: s.Pos - 1}
	if span.Len() < 1 || s.at(start+1) == quote || s.Src[span.End] != quote ||
		strings.IndexByte(string(s.Src[span.Start:span.End]), '\\') >= 0 {
		return source.Span{}, false
	}
	return span, true
}
