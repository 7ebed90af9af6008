package script

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file finds what names a file and is no module specifier: paths from the script's own folder, addresses of
// workers, patterns, test runners' mocks.

// mockCalls are the calls on jest or vi whose first argument is a module.
var mockCalls = map[string]bool{
	"mock": true, "unmock": true, "doMock": true, "dontMock": true, "doUnmock": true, "setMock": true,
	"requireActual": true, "requireMock": true,
	"importActual": true, "importMock": true, "createMockFromModule": true, "genMockFromModule": true,
	"unstable_mockModule": true,
}

// fileCalls are the calls of Node's file system whose first argument is a path; a folder that is listed is a set of
// files.
var fileCalls = map[string]*lang.Kind{
	"readFile": paths.WorkPath, "readFileSync": paths.WorkPath, "writeFile": paths.WorkPath,
	"writeFileSync": paths.WorkPath, "appendFile": paths.WorkPath,
	"appendFileSync": paths.WorkPath, "existsSync": paths.WorkPath, "createReadStream": paths.WorkPath,
	"createWriteStream": paths.WorkPath,
	"stat":              paths.WorkPath, "statSync": paths.WorkPath, "access": paths.WorkPath,
	"accessSync": paths.WorkPath, "copyFile": paths.WorkPath,
	"copyFileSync": paths.WorkPath, "readdir": paths.FolderReadWork, "readdirSync": paths.FolderReadWork,
	"opendir": paths.FolderReadWork, "opendirSync": paths.FolderReadWork,
}

func listsFolder(call string) bool {
	switch call[strings.LastIndexByte(call, '.')+1:] {
	case "readdir", "readdirSync", "opendir", "opendirSync":
		return true
	}
	return false
}

// pathWord looks ahead from a word that may begin a path.
func (s *scanner) pathWord(text []byte, start int) {
	if !s.texts {
		return
	}
	end := start + len(text)
	next := s.skipTrivia(end)
	switch string(text) {
	case "jest", "vi":
		if call, open := s.member(next); mockCalls[call] {
			s.firstArgument(open, Mock)
		}
	case "define": // the module's own name, if a list or a function follows
		if span, end, ok := s.literal(s.skipTrivia(next + 1)); s.at(next) == '(' && ok &&
			s.at(s.skipTrivia(end)) == ',' {
			s.label(span)
		}
	case "URL":
		if s.prev == pNew && s.at(next) == '(' {
			s.moduleURL(next)
		}
	case "Worker", "SharedWorker":
		if s.prev == pNew && s.at(next) == '(' {
			s.firstArgument(next, paths.Asset)
		}
	case "serviceWorker":
		if call, open := s.member(next); call == "register" {
			s.firstArgument(open, paths.Asset)
		}
	case "importScripts":
		if s.at(next) == '(' {
			s.firstArgument(next, paths.Asset)
		}
	case "fs":
		if call, open := s.member(next); fileCalls[call] != nil {
			s.workPath(open, fileCalls[call])
		}
	case "path":
		switch call, open := s.member(next); call {
		case "resolve", "join":
			s.workPath(open, paths.WorkPath)
		case "dirname":
			s.dirname(start, open)
		}
	case "process":
		if call, open := s.member(next); call == "cwd" {
			if after := s.skipTrivia(open + 1); s.at(after) == ')' {
				s.fromFolder(start, after+1, paths.WorkPath)
			}
		}
	case "__dirname":
		s.ownFolder(start, end)
	case "dirname":
		s.dirname(start, next)
	}
}

// member reads .name( and gives the name and the place of the parenthesis.
func (s *scanner) member(i int) (name string, open int) {
	if s.at(i) == '?' {
		i++
	}
	if s.at(i) != '.' {
		return "", 0
	}
	j := s.skipTrivia(i + 1)
	end := s.wordEnd(j)
	name = string(s.src[j:end])
	if name == "promises" {
		return s.member(s.skipTrivia(end))
	}
	open = s.skipTrivia(end)
	if s.at(open) == '<' {
		open = s.skipTrivia(s.typeArgumentsEnd(open))
	}
	if s.at(open) != '(' {
		return "", 0
	}
	return name, open
}

// importMeta reads what follows import.meta: glob('x'), resolve('x'), dirname. i is the dot before meta.
func (s *scanner) importMeta(i, end int) {
	if !s.texts {
		return
	}
	next := s.skipTrivia(end)
	if name, open := s.member(next); name != "" {
		switch name {
		case "glob", "globEager":
			s.globs(open)
		case "resolve":
			s.firstArgument(open, Import)
		}
		return
	}
	if j := s.skipTrivia(next + 1); s.at(next) == '.' && string(s.src[j:s.wordEnd(j)]) == "dirname" {
		start := bytes.LastIndex(s.src[:i], []byte("import"))
		s.ownFolder(start, s.wordEnd(j))
	}
}

// globs records the patterns of import.meta.glob: a literal, or a list of them.
func (s *scanner) globs(open int) {
	i := s.skipTrivia(open + 1)
	if s.at(i) != '[' {
		s.firstArgument(open, paths.ImportGlob)
		return
	}
	for i = s.skipTrivia(i + 1); i < len(s.src); {
		_, end, ok := s.literal(i)
		if !ok {
			return
		}
		s.mention(i, paths.ImportGlob)
		if i = s.skipTrivia(end); s.at(i) != ',' {
			return
		}
		i = s.skipTrivia(i + 1)
	}
}

// moduleURL reads new URL('x', import.meta.url).
func (s *scanner) moduleURL(open int) {
	i := s.skipTrivia(open + 1)
	span, end, ok := s.literal(i)
	if !ok {
		end = s.templateEnd(i)
		if end == i {
			return
		}
	}
	j := s.skipTrivia(end)
	if s.at(j) != ',' {
		return
	}
	if j = s.skipTrivia(j + 1); !bytes.HasPrefix(s.src[j:], []byte("import.meta.url")) {
		return
	}
	switch {
	case !ok:
		s.head(i, paths.ImportFolder)
	case lang.IsRelative(string(s.src[span.Start:span.End])) || !strings.ContainsAny(string(s.src[span.Start:span.End]),
		":"):
		s.mention(i, paths.ModuleURL)
	}
}

// templateEnd gives the end of the template at i that has pieces, as far as its first piece shows; i for none.
func (s *scanner) templateEnd(i int) int {
	if s.at(i) != '`' {
		return i
	}
	depth := 0
	for j := i + 1; j < len(s.src) && s.budget > 0; j++ {
		s.budget--
		switch c := s.src[j]; {
		case c == '\\':
			j++
		case c == '$' && s.at(j+1) == '{':
			depth++
			j++
		case c == '}' && depth > 0:
			depth--
		case c == '`' && depth == 0:
			return j + 1
		}
	}
	return i
}

// head records the folder that a computed path begins with: the text up to the last slash before the first unknown
// piece.
func (s *scanner) head(i int, kind *lang.Kind) {
	if !s.texts || kind != DynamicImport && kind != Require && kind != paths.ImportFolder && kind != RequireResolve {
		return
	}
	s.headFrom(i, 0, paths.ImportFolder, "")
}

// headFrom records the fixed beginning of the template or string at i. skip is what stands before the path in it.
func (s *scanner) headFrom(i, skip int, kind *lang.Kind, join string) {
	quote := s.at(i)
	end := i + 1
	switch quote {
	case '`':
		for end < len(s.src) && s.src[end] != '`' && s.src[end] != '\\' && !(s.src[end] == '$' && s.at(end+1) == '{') {
			end++
		}
	case '\'', '"':
		end = s.stringEnd(i) - 1
	default:
		return
	}
	if end <= i+1+skip {
		return
	}
	text := string(s.src[i+1+skip : end])
	slash := strings.LastIndexByte(text, '/')
	if slash <= 0 || strings.ContainsAny(text, "\\\n ") || strings.Contains(text, "//") {
		return
	}
	span := source.Span{Start: i + 1 + skip, End: i + 1 + skip + slash + 1}
	m := lang.Mention{Span: span, Text: text[:slash+1], Kind: kind, Form: lang.InScript, Quote: quote}
	if join != "" {
		m.Detail = &lang.Detail{Join: join}
	}
	s.mentions = append(s.mentions, m)
}

// ownFolder reads what follows an expression that is the script's own folder.
func (s *scanner) ownFolder(start, end int) {
	if s.texts {
		s.fromFolder(start, end, paths.FilePath)
	}
}

// dirname reads dirname(fileURLToPath(import.meta.url)), and notes the name that it is given to.
func (s *scanner) dirname(start, next int) {
	if !bytes.HasPrefix(s.src[next:], []byte("(fileURLToPath(import.meta.url))")) {
		return
	}
	end := next + len("(fileURLToPath(import.meta.url))")
	before := bytes.TrimRight(s.src[:start], " \t")
	if name, ok := bytes.CutSuffix(before, []byte("=")); ok {
		name = bytes.TrimRight(name, " \t")
		from := len(name)
		for from > 0 && word[name[from-1]] {
			from--
		}
		if from < len(name) {
			if s.folders == nil {
				s.folders = map[string]bool{}
			}
			s.folders[string(name[from:])] = true
		}
	}
	s.ownFolder(start, end)
}

// fromFolder reads the path that follows a folder, which stands from start to end: the further arguments of join or
// resolve, a string that is added, or the rest of a template.
func (s *scanner) fromFolder(start, end int, kind *lang.Kind) {
	i := s.skipTrivia(end)
	switch s.at(i) {
	case ',':
		call, at := s.callBefore(start)
		switch call[strings.LastIndexByte(call, '.')+1:] {
		case "join", "resolve", "normalize":
			outer, _ := s.callBefore(at)
			s.pieces(s.skipTrivia(i+1), s.listed(kind, outer))
		}
	case '+':
		if j := s.skipTrivia(i + 1); s.at(j+1) == '/' {
			outer, _ := s.callBefore(start)
			s.added(j, s.listed(kind, outer))
		}
	case '}':
		if start >= 2 && s.src[start-1] == '{' && s.src[start-2] == '$' && s.at(i+1) == '/' {
			s.restOfTemplate(i+1, kind)
		}
	}
}

func (s *scanner) listed(kind *lang.Kind, call string) *lang.Kind {
	if !listsFolder(call) {
		return kind
	}
	if kind == paths.WorkPath {
		return paths.FolderReadWork
	}
	return paths.FolderRead
}

// callBefore gives the name of the call whose first argument begins at i, with what it is called on, and where it
// begins.
func (s *scanner) callBefore(i int) (name string, start int) {
	before := bytes.TrimRight(s.src[max(0, i-200):i], " \t\r\n")
	if len(before) == 0 || before[len(before)-1] != '(' {
		return "", i
	}
	before = before[:len(before)-1]
	from := len(before)
	for from > 0 && (word[before[from-1]] || before[from-1] == '.') {
		from--
	}
	return string(before[from:]), max(0, i-200) + from
}

// pieces records a path written as several arguments, from i up to the parenthesis. What is no literal ends its fixed
// part, which then names a folder with all that lies below.
func (s *scanner) pieces(i int, kind *lang.Kind) {
	first, last := i, -1
	var texts []string
	var quote byte
	join := ""
	for {
		span, end, ok := s.literal(i)
		if !ok {
			break
		}
		if last >= 0 {
			join = string(s.src[last-1 : span.Start])
		} else {
			quote = s.src[i]
		}
		texts = append(texts, text.DecodeScript(s.src[span.Start:span.End]))
		last = end
		i = s.skipTrivia(end)
		if s.at(i) != ',' {
			break
		}
		i = s.skipTrivia(i + 1)
	}
	if last < 0 {
		return
	}
	if c := s.at(s.skipTrivia(last)); c != ')' && c != ',' {
		return
	}
	if s.at(s.skipTrivia(last)) == ',' && s.at(i) != ')' { // an unknown piece follows
		switch kind {
		case paths.FilePath:
			kind = paths.FolderRead
		case paths.WorkPath:
			kind = paths.FolderReadWork
		}
	}
	text := path.Join(texts...)
	if strings.HasSuffix(texts[len(texts)-1], "/") && text != "/" {
		text += "/"
	}
	if len(texts) == 1 {
		text = texts[0]
	}
	if strings.HasPrefix(text, "/") || text == "" || strings.ContainsAny(text, "*\n") {
		return
	}
	m := lang.Mention{Span: source.Span{Start: first + 1, End: last - 1}, Text: text, Kind: kind, Form: lang.InScript,
		Quote: quote}
	if join != "" {
		m.Detail = &lang.Detail{Join: join}
	}
	s.mentions = append(s.mentions, m)
}

// added records the string that is added to a folder; it begins with a slash.
func (s *scanner) added(i int, kind *lang.Kind) {
	span, end, ok := s.literal(i)
	if !ok {
		return
	}
	text := text.DecodeScript(s.src[span.Start:span.End])[1:]
	if s.at(s.skipTrivia(end)) == '+' {
		slash := strings.LastIndexByte(text, '/')
		if slash < 0 {
			return
		}
		text = text[:slash+1]
		span.End = span.Start + slash + 2
		kind = s.listed(kind, "readdir")
	}
	if text == "" || text == "/" {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.InScript,
		Quote: s.src[i], Detail: &lang.Detail{Slash: true}})
}

// restOfTemplate records what follows ${folder} in a template, from the slash at i.
func (s *scanner) restOfTemplate(i int, kind *lang.Kind) {
	end := i
	for end < len(s.src) && s.src[end] != '`' && s.src[end] != '\\' && s.src[end] != '\n' &&
		!(s.src[end] == '$' && s.at(end+1) == '{') {
		end++
	}
	text := string(s.src[i+1 : end])
	if s.at(end) != '`' {
		slash := strings.LastIndexByte(text, '/')
		if slash < 0 || s.at(end) != '$' {
			return
		}
		text, end = text[:slash+1], i+1+slash+1
		kind = s.listed(kind, "readdir")
	}
	if text == "" || strings.ContainsAny(text, "*?") {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{
		Span: source.Span{Start: i, End: end}, Text: text, Kind: kind, Form: lang.InScript, Quote: '`',
		Detail: &lang.Detail{Slash: true},
	})
}

// workPath records the first argument of a call as a path from the folder in which the program is started.
func (s *scanner) workPath(open int, kind *lang.Kind) {
	i := s.skipTrivia(open + 1)
	if _, _, ok := s.literal(i); !ok {
		return
	}
	n := len(s.mentions)
	if call := s.at(open - 1); call == 'n' || call == 'e' { // join and resolve take pieces
		s.pieces(i, kind)
	} else {
		s.firstArgument(open, kind)
	}
	for ; n < len(s.mentions); n++ {
		s.mentions[n].Likely = !lang.IsRelative(s.mentions[n].Text)
	}
}
