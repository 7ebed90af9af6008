package settings

import (
	"bytes"
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/source"
)

// kindOfLines says how a file that is read line by line is read.
type kindOfLines uint8

const (
	noLines    kindOfLines = iota
	commands               // scripts, makefiles, server settings: words
	ignores                // patterns, one a line
	owners                 // a pattern, then words that are none
	containers             // a Dockerfile
	shipped                // a MANIFEST.in
	quotes                 // a schema: what stands in quotes behind a word that brings another file
)

func lineKind(p string) kindOfLines {
	base := strings.ToLower(path.Base(p))
	switch {
	case strings.HasSuffix(base, "ignore") && base[0] == '.':
		return ignores
	case base == "manifest.in":
		return shipped
	case base == "codeowners":
		return owners
	case base == "dockerfile" || strings.HasPrefix(base, "dockerfile.") || strings.HasSuffix(base, ".dockerfile") ||
		base == "containerfile":
		return containers
	case base == "makefile" || base == "gnumakefile" || base == "justfile" || base == "procfile" ||
		strings.HasSuffix(base, ".mk"),
		base == ".htaccess" || base == "nginx.conf" || base == "httpd.conf" || base == "caddyfile":
		return commands
	}
	switch path.Ext(base) {
	case ".sh", ".bash", ".zsh", ".conf":
		return commands
	case ".graphql", ".gql", ".proto", ".prisma", ".styl", ".stylus":
		return quotes
	}
	if strings.HasPrefix(p, ".husky/") && path.Ext(base) == "" {
		return commands
	}
	return noLines
}

func (s *scanner) lines(kind kindOfLines) {
	s.form = lang.Plain
	s.script = strings.HasSuffix(path.Ext(s.path), "sh")
	continued := false
	for at := 0; at < len(s.src); {
		end := bytes.IndexByte(s.src[at:], '\n')
		if end < 0 {
			end = len(s.src) - at
		}
		line := bytes.TrimRight(s.src[at:at+end], " \t\r")
		first := at + len(line) - len(bytes.TrimLeft(line, " \t"))
		last := at + len(line)
		if first < last && (s.src[first] != '#' || kind == quotes) {
			s.continues = continued || s.script
			switch kind {
			case commands:
				s.words(first, beforeComment(s.src, first, last))
			case ignores:
				s.pattern(first, last)
			case owners:
				if n := bytes.IndexAny(s.src[first:last], " \t"); n > 0 {
					s.pattern(first, first+n)
				}
			case containers:
				s.instruction(first, last, continued)
			case quotes:
				s.broughtFile(first, last)
			case shipped:
				s.shippedFiles(first, last)
			}
		}
		continued = bytes.HasSuffix(line, []byte("\\"))
		at += end + 1
	}
}

// beforeComment gives the place where a comment begins behind a command: a # after a blank and outside of quotes.
func beforeComment(src []byte, first, last int) int {
	var quote byte
	for i := first; i < last; i++ {
		switch c := src[i]; {
		case quote != 0:
			if c == quote {
				quote = 0
			}
		case c == '"' || c == '\'':
			quote = c
		case c == '#' && (src[i-1] == ' ' || src[i-1] == '\t'):
			return i
		}
	}
	return last
}

// pattern records a line of an ignore file that is bound to a folder: one with a slash that is not its last character
// (gitignore, section PATTERN FORMAT).
func (s *scanner) pattern(first, last int) {
	if s.src[first] == '!' {
		first++
	}
	text := string(s.src[first:last])
	if text == "" || !strings.Contains(strings.TrimSuffix(text, "/"), "/") || strings.HasPrefix(text, "**") ||
		strings.ContainsAny(text, "\\ ") {
		return
	}
	s.add(lang.Mention{Span: source.Span{Start: first, End: last}, Text: text, Kind: paths.IgnorePattern,
		Form: lang.Plain})
}

// brings are the words behind which the formats of schemas and a language of styles name a file in quotes.
var brings = regexp.MustCompile(`^(?:#\s*)?(?:import|@import|@require|output|url\s*=|extends)\b` +
	`[^'"]*(?:'([^'"\n]+)'|"([^'"\n]+)")`)

// broughtFile reads a line that brings another file: import "a/b.proto", #import "./a.graphql", output = "../made",
// @import 'a'.
func (s *scanner) broughtFile(first, last int) {
	m := brings.FindSubmatchIndex(s.src[first:last])
	if m == nil {
		return
	}
	from, to := m[2], m[3]
	if from < 0 {
		from, to = m[4], m[5]
	}
	text := string(s.src[first+from : first+to])
	if strings.Contains(text, ":") || strings.HasPrefix(text, "/") {
		return
	}
	s.add(lang.Mention{Span: source.Span{Start: first + from, End: first + to}, Text: text, Kind: paths.Include,
		Form: lang.Plain, Quote: s.src[first+from-1], Likely: true})
}

// shippedFiles reads a line of a MANIFEST.in: a command, then a folder or patterns of paths (setuptools documentation,
// Controlling files in the distribution).
func (s *scanner) shippedFiles(first, last int) {
	fields := fieldsOf(s.src, first, last)
	if len(fields) < 2 {
		return
	}
	switch string(s.src[fields[0].Start:fields[0].End]) {
	case "recursive-include", "recursive-exclude", "graft", "prune":
		fields = fields[1:2]
	case "include", "exclude":
		fields = fields[1:]
	default:
		return
	}
	for _, f := range fields {
		text := strings.TrimSuffix(s.text(f), "/")
		m := lang.Mention{Span: source.Span{Start: f.Start, End: f.Start + len(text)}, Text: text, Kind: paths.Setting,
			Form: lang.Plain}
		if strings.ContainsAny(text, "*?[") {
			m.Kind = paths.SettingGlob
		}
		s.add(m)
	}
}

// instruction reads a line of a Dockerfile. What COPY and ADD take from the project must be there; a place in the
// container that is called as in the project mirrors it.
func (s *scanner) instruction(first, last int, continued bool) {
	fields := fieldsOf(s.src, first, last)
	if continued || len(fields) == 0 {
		s.runs(first, last, s.running)
		return
	}
	s.running = false
	switch strings.ToUpper(string(s.src[fields[0].Start:fields[0].End])) {
	case "ENV": // paths there are of the container, names of modules are not
		for _, f := range fields[1:] {
			start := f.Start
			if equals := bytes.IndexByte(s.src[f.Start:f.End], '='); equals >= 0 {
				start += equals + 1
			}
			if text := string(s.src[start:f.End]); strings.Contains(text, ".") && s.namesModule(start, f.End, text) {
				s.add(lang.Mention{Span: source.Span{Start: start, End: f.End}, Text: text, Kind: syntax.ModuleSetting,
					Form: lang.Plain, Likely: true})
			}
		}
		return
	case "FROM": // another image, or what a stage has made
		s.stage(fields[1:])
		return
	case "WORKDIR":
		if len(fields) > 1 {
			f := fields[1]
			if m := s.mirrored(f); !strings.Contains(m.Text, "$") && s.image.place(&m) {
				s.add(m)
			}
			s.image.workIn(s.text(f))
		}
		return
	case "ARG", "LABEL", "EXPOSE", "USER", "VOLUME", "STOPSIGNAL", "MAINTAINER", "SHELL":
		return
	case "COPY", "ADD":
	default:
		s.running = true
		s.runs(fields[0].End, last, true)
		return
	}
	fields = fields[1:]
	from := ""
	for len(fields) > 0 && bytes.HasPrefix(s.src[fields[0].Start:], []byte("--")) {
		if stage, ok := strings.CutPrefix(s.text(fields[0]), "--from="); ok {
			from = stage
		}
		fields = fields[1:]
	}
	if len(fields) < 2 {
		return
	}
	if from != "" {
		stage := s.stages[strings.ToLower(from)]
		stage.made = true
		for _, f := range fields[:len(fields)-1] {
			if m := s.mirrored(f); !strings.ContainsAny(m.Text, "$*?[") && path.IsAbs(m.Text) && stage.place(&m) {
				s.add(m)
			}
		}
		s.image.takeFrom(s.stages[strings.ToLower(from)], s.text(fields[0]), s.text(fields[len(fields)-1]))
		return
	}
	place := s.text(fields[len(fields)-1])
	mirrors := false
	for _, f := range fields[:len(fields)-1] {
		text := s.text(f)
		if text == "" || strings.ContainsAny(text, "$<") || strings.Contains(text, "://") {
			continue
		}
		mirrors = s.image.take(text, place, len(fields) > 2) || mirrors
		m := lang.Mention{Span: s.inner(f), Text: text, Kind: paths.Setting, Form: lang.Plain, Quote: s.quote(f),
			Detail: &lang.Detail{Must: true}}
		if strings.ContainsAny(text, "*?[") {
			m.Kind, m.Detail = paths.SettingGlob, nil
		}
		s.add(m)
	}
	if f := fields[len(fields)-1]; mirrors && path.Clean(place) != "." {
		s.add(s.mirrored(f))
	}
}

func (s *scanner) text(f source.Span) string { in := s.inner(f); return string(s.src[in.Start:in.End]) }

func (s *scanner) quote(f source.Span) byte {
	if c := s.src[f.Start]; c == '"' || c == '\'' {
		return c
	}
	return 0
}

// inner is a field without its quotes.
func (s *scanner) inner(f source.Span) source.Span {
	if s.quote(f) != 0 && f.Len() >= 2 && s.src[f.End-1] == s.src[f.Start] {
		return source.Span{Start: f.Start + 1, End: f.End - 1}
	}
	return f
}

// fieldsOf parts a line at blanks outside of quotes; the brackets and commas of a list part as well.
func fieldsOf(src []byte, first, last int) []source.Span {
	parts := func(c byte) bool { return c == ' ' || c == '\t' || c == ',' || c == '[' || c == ']' }
	var out []source.Span
	for i := first; i < last; {
		for i < last && parts(src[i]) {
			i++
		}
		start := i
		if i < last && src[i] == '"' {
			for i++; i < last && src[i] != '"'; i++ {
			}
			i = min(i+1, last)
		}
		for i < last && !(parts(src[i]) && src[i] != '[') {
			i++
		}
		if i > start {
			out = append(out, source.Span{Start: start, End: i})
		}
	}
	return out
}

// apart are the characters that end a word of a command.
var apart = func() (t [256]bool) {
	for _, c := range []byte(" \t\r\n\"'`=;|&()<>:") {
		t[c] = true
	}
	return t
}()

// words records the words of a command, or of any text, that look like paths or patterns.
//
// What stands behind cd x && is read from x and is none: it is right as long as it moves with x, and is left over if it
// does not.
func (s *scanner) words(first, last int) {
	previous, named, away := "", false, false
	if !s.continues {
		s.where = ""
	}
	earlier := s.where != "" && s.script
	for i := first; i < last; {
		for i < last && (apart[s.src[i]] || s.src[i] == ',' || s.src[i] == '[' || s.src[i] == ']') {
			i++
		}
		start, braces := i, 0
		for i < last && !apart[s.src[i]] && (braces > 0 || s.src[i] != ',') {
			switch s.src[i] {
			case '{':
				braces++
			case '}':
				braces--
			case '\\':
				if i+1 < last && (s.src[i+1] == '"' || s.src[i+1] == 'n') {
					braces = -1 // an escaped quote ends the word
				}
			}
			if braces < 0 && s.src[i] == '\\' {
				break
			}
			i++
		}
		end := i
		if i < last && s.src[i] == '\\' {
			i += 2
		}
		word := string(s.src[start:end])
		before := len(s.mentions)
		switch {
		case away:
		case folderFlags[previous] && plainName(word):
			s.add(lang.Mention{Span: source.Span{Start: start, End: end}, Text: word, Kind: paths.Setting, Form: s.form,
				Likely: true})
		case strings.HasPrefix(word, "/") && start > 0 && s.src[start-1] == ':' && s.mounts(start, end, previous):
		case strings.HasPrefix(word, "/") && s.inside() && !strings.ContainsAny(word, "$*?[{~"):
			s.add(lang.Mention{Span: source.Span{Start: start, End: end}, Text: word, Kind: paths.Setting, Form: s.form,
				Likely: true})
		case named && plainName(word) && !namesNoPath[previous] && !s.namesModule(start, end, word):
			s.add(lang.Mention{Span: source.Span{Start: start, End: end}, Text: word, Kind: paths.Setting, Form: s.form,
				Likely: true})
		default:
			s.word(start, end)
		}
		if s.where != "" {
			s.within(before, earlier)
		}
		if previous == "cd" {
			s.where, away = goneTo(s.where, word, s.inside())
			earlier = false
		}
		if i < last && s.src[i] == ')' {
			s.where, away = "", false
		}
		if i < last && bytes.IndexByte([]byte("\n;"), s.src[min(i, len(s.src)-1)]) >= 0 {
			named = false
		} else if bytes.HasPrefix(s.src[min(i, len(s.src)):], []byte(" &&")) ||
			bytes.HasPrefix(s.src[min(i, len(s.src)):], []byte(" |")) {
			named = false
		}
		named = named || lang.TakesPaths[word]
		previous = word
	}
}

// goneTo gives the way that a command has gone after cd, as in server/../tools; away: nobody knows where it is.
// inside: there is a folder above, since it runs in an image.
func goneTo(way, word string, inside bool) (on string, away bool) {
	on = strings.TrimPrefix(way+"/"+strings.TrimSuffix(strings.TrimPrefix(word, "./"), "/"), "/")
	above := strings.HasPrefix(path.Clean(on), "..") && !inside
	if word == "-" || above && path.Base(on) == ".." { // as without cd: paths are looked for in all folders above
		return "", false
	}
	if path.IsAbs(word) || above || strings.ContainsAny(word, "$~*\\{(`%") {
		return "", true
	}
	return on, false
}

// folderFlags are words of commands behind which a folder stands.
var folderFlags = lang.Words("--prefix --watch --cwd --dir --directory --workdir -C")

// mounts records the end of a place in a container at which a folder of the project is mounted that it mirrors:
// ./server:/srv/server. It reports whether it does.
func (s *scanner) mounts(start, end int, folder string) bool {
	own := strings.Trim(strings.TrimPrefix(folder, "./"), "/")
	place := strings.TrimSuffix(string(s.src[start:end]), "/")
	if !lang.IsRelative(folder) || own == "" || strings.Contains(own, "..") || !strings.HasSuffix(place, "/"+own) {
		return false
	}
	from := start + len(place) - len(own)
	s.add(lang.Mention{Span: source.Span{Start: from, End: from + len(own)}, Text: own, Kind: paths.Setting, Form: s.form,
		Likely: true})
	return true
}

// namesNoPath are words of commands behind which a name stands that is no path.
var namesNoPath = map[string]bool{"run": true, "-p": true, "-m": true, "-k": true, "-e": true, "-n": true, "-s": true,
	"-c": true, "--ext": true, "-t": true, "install": true}

// plainName says whether a word could be the name of a folder, and is no option.
func plainName(word string) bool {
	for i := range len(word) {
		if c := word[i]; c|0x20 < 'a' || c|0x20 > 'z' {
			if i == 0 || c != '-' && c != '_' && (c < '0' || c > '9') {
				return false
			}
		}
	}
	return len(word) > 1
}

// programs are the endings of files that a command may name by one segment.
var programs = map[string]bool{
	".js": true, ".mjs": true, ".cjs": true, ".ts": true, ".mts": true, ".cts": true, ".tsx": true, ".jsx": true,
	".json": true, ".yml": true,
	".yaml": true, ".sh": true, ".py": true, ".toml": true, ".html": true, ".css": true, ".scss": true, ".less": true,
	".vue": true,
}

func (s *scanner) word(start, end int) {
	text := string(s.src[start:end])
	if len(text) < 3 || len(text) > 300 || strings.ContainsAny(text, "$\\@%^~!#") || strings.HasPrefix(text, "/") ||
		strings.HasPrefix(text, "-") || strings.Contains(text, "//") {
		return
	}
	m := lang.Mention{Span: source.Span{Start: start, End: end}, Text: text, Kind: paths.SettingWord, Form: s.form,
		Likely: true}
	switch {
	case strings.ContainsAny(text, "*{"):
		if !strings.Contains(text, "/") {
			return
		}
		m.Kind = paths.SettingGlob
	case !paths.Segments(text) && !programs[path.Ext(text)] && !strings.HasSuffix(text, "/"):
		if !s.namesModule(start, end, text) {
			return
		}
		m.Kind, m.Likely = syntax.ModuleSetting, true
	}
	s.add(m)
}

// moduleFlags are words of commands behind which the name of a module stands: python -m a, flask --app a:b, celery -A
// a, pytest --cov a.
var moduleFlags = map[string]bool{"-m": true, "--app": true, "-A": true, "--cov": true, "--pyargs": true,
	"--factory": true, "FLASK_APP": true}

// namesModule says whether a word may be the name of a module: one of several names, or one that stands where a command
// or the format expects a module.
func (s *scanner) namesModule(start, end int, text string) bool {
	segments, ok := lang.DottedName(text)
	if !ok {
		return false
	}
	if segments > 1 {
		return true
	}
	before := bytes.TrimRight(s.src[max(0, start-40):start], " \t=\"',")
	before = before[bytes.LastIndexAny(before, " \t\"'\n;&|")+1:]
	return moduleFlags[string(before)] || end < len(s.src) && s.src[end] == ':' && s.serves(start)
}

// servers are the programs that take a module and a name in it: gunicorn a:b.
var servers = regexp.MustCompile(`\b(gunicorn|uvicorn|hypercorn|daphne|waitress-serve|flask|celery)\b`)

// served is how far the words of a line are read, and whether one of them is such a program.
type served struct {
	from, to int
	program  bool
}

// serves says whether a program that takes a module stands in a line before a place. What was read for a place before
// is not read again.
func (s *scanner) serves(at int) bool {
	if at < s.served.to || at == 0 {
		s.served = served{}
	}
	part := s.src[s.served.to:at]
	if line := bytes.LastIndexByte(part, '\n') + 1; line > 0 {
		s.served = served{from: s.served.to + line}
		part = part[line:]
	}
	const longest = 20 // of the names, which may have been cut
	begin := max(s.served.from, at-len(part)-longest)
	for begin > s.served.from && begin < at && lang.IsWord(s.src[begin-1]) && lang.IsWord(s.src[begin]) {
		begin++
	}
	s.served.program = s.served.program || servers.Match(s.src[begin:at])
	s.served.to = at
	return s.served.program
}
