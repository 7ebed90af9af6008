package script

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/lang/style"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file judges strings and calls by what the convention states, and strings by their look.

// called looks at a call of which the convention may state that its first string is a mention.
func (s *scanner) called(start, end int) {
	if !s.calls {
		return
	}
	if rule := s.declared.Code(s.path, string(s.src[start:end])); rule != 0 && s.prev != pDot &&
		s.at(s.skipTrivia(end)) == '(' && s.prev != pFunction {
		s.mentions = append(s.mentions, lang.Mention{
			Span: source.Span{Start: start, End: end}, Text: string(s.src[start:end]), Kind: stated.Component,
			Form: lang.Plain, Detail: stated.By(rule),
		})
	}
	if !s.declared.Calls(string(s.src[start:end])) {
		return
	}
	open := s.skipTrivia(end)
	if s.at(open) != '(' {
		return
	}
	i := s.skipTrivia(open + 1)
	span, _, ok := s.literal(i)
	if !ok {
		return
	}
	chain, _ := s.callBefore(i)
	text := text.DecodeScript(s.src[span.Start:span.End])
	rule := s.declared.Call(s.path, chain, text)
	if rule == 0 || s.taken(i) {
		return
	}
	s.addStated(span, text, rule, s.src[i])
}

func (s *scanner) addStated(span source.Span, text string, rule int, quote byte) {
	kind := stated.Stated
	if s.declared.Entry(rule).NoPath {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.InScript, Quote: quote,
		Detail: stated.By(rule)})
}

// taken says whether a mention has been found at or behind i already.
func (s *scanner) taken(i int) bool {
	n := len(s.mentions)
	return n > 0 && s.mentions[n-1].Span.End > i
}

// quoted reads a string. One that looks like a path is likely a mention.
func (s *scanner) quoted() {
	start := s.pos
	end := s.stringEnd(start)
	if s.texts && !s.certain && end-start > 2 && end-start < 300 && s.mayTell(start+1, end-1) && !s.taken(start) {
		if span, _, ok := s.literal(start); ok {
			s.text(span, start, end)
		}
	}
	s.set(pOperand, end-start)
}

// plainTemplate looks at a template without pieces as at a string.
func (s *scanner) plainTemplate(start int) {
	if !s.texts || s.certain || s.taken(start) {
		return
	}
	const most = 300
	end := start + 1
	for limit := min(start+most, len(s.src)); end < limit && s.src[end] != '`' && s.src[end] != '$'; end++ {
	}
	if end > start+3 && s.at(end) == '`' && end < start+most && s.mayTell(start+1, end) {
		s.text(source.Span{Start: start + 1, End: end}, start, end+1)
	}
}

// mayTell says whether a string may be reported: unless the convention or the file's name says more, a path has a
// slash.
func (s *scanner) mayTell(start, end int) bool {
	return s.calls || s.settings || bytes.IndexByte(s.src[start:end], '/') >= 0
}

func (s *scanner) text(span source.Span, start, end int) {
	raw := s.src[span.Start:span.End]
	if s.calls {
		if text := text.DecodeScript(raw); true {
			if rule := s.declared.Like(s.path, text); rule != 0 {
				s.addStated(span, text, rule, s.src[start])
				return
			}
		}
	}
	if s.settings {
		s.settingText(span, start, end)
		return
	}
	if bytes.IndexByte(raw, '/') < 0 || !looksLikePath(raw) {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{
		Span: span, Text: string(raw), Kind: paths.Text, Form: lang.InScript, Quote: s.src[start], Likely: true,
		Evident: s.evident(string(raw), start),
	})
}

// evident says whether a string that looks like a path is one by what it looks like and by where it stands: it begins
// with a dot, ends with a slash or has an ending, and stands under a key or in a call that speaks of files.
func (s *scanner) evident(text string, start int) bool {
	if !lang.IsRelative(text) && !strings.HasSuffix(text, "/") && path.Ext(text) == "" {
		return false
	}
	if key := s.keyBefore(start); key != "" && paths.PathKey(key) {
		return true
	}
	call, _ := s.callBefore(start)
	return lang.SpeaksOfFiles[call[strings.LastIndexByte(call, '.')+1:]]
}

// looksLikePath turns down what no path looks like. Two slashes in a row are of an address.
func looksLikePath(raw []byte) bool {
	for i, c := range raw {
		if noPath[c] || c == '/' && i+1 < len(raw) && raw[i+1] == '/' {
			return false
		}
	}
	return raw[0] != '.' || len(raw) > 2
}

// IsConfiguration says whether code at a path is configuration, by its name.
func IsConfiguration(p string) bool {
	base := path.Base(p)
	name := strings.TrimSuffix(base, path.Ext(base))
	// .storybook/main.ts
	if dir := path.Base(path.Dir(p)); strings.HasPrefix(dir, ".") && len(dir) > 1 || settingNames[name] {
		return true
	}
	if strings.HasSuffix(name, "-config") || strings.HasPrefix(name, ".") && strings.HasSuffix(base, "js") {
		return true
	}
	return strings.HasSuffix(name, ".config") || strings.HasSuffix(name, ".conf") || strings.HasSuffix(name, "rc") &&
		strings.HasPrefix(name, ".") ||
		name == "gulpfile" || name == "Gruntfile" || strings.HasPrefix(name, "webpack.") ||
		strings.HasPrefix(name, "rollup.") || strings.HasPrefix(name, "karma.conf")
}

// settingNames are the names, without endings, of files of settings that have no word for it in them.
var settingNames = lang.Words("gulpfile Gruntfile Jakefile Brocfile brunch-config ember-cli-build config-overrides " +
	"gatsby-node gatsby-browser gatsby-ssr testem protractor wallaby next-sitemap sidebars")

// settingText records a string of configuration: a path or a pattern, by its value. The key of a property is one only
// if it says so itself, by ./ or by two segments.
func (s *scanner) settingText(span source.Span, start, end int) {
	text := text.DecodeScript(s.src[span.Start:span.End])
	if s.at(s.skipTrivia(end)) == ':' && (s.prev == pStart || s.prev == pOperator) && s.top().kind == fObject {
		if !paths.Segments(text) || !lang.IsRelative(text) && strings.ContainsAny(text[:1], "@~#/^") {
			return
		}
	}
	// what a bundler puts before each style sheet
	if strings.Contains(text, "@use ") || strings.Contains(text, "@import ") {
		for _, m := range style.Scan(s.src[span.Start:span.End], style.SCSS) {
			m.Span.Start, m.Span.End = m.Span.Start+span.Start, m.Span.End+span.Start
			s.mentions = append(s.mentions, m)
		}
		return
	}
	kind, ok := paths.SettingKind(text, s.keyBefore(start))
	if !ok {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.InScript,
		Quote: s.src[start], Likely: true})
}

// keyBefore gives the key of the property whose value, or a list in it, the string at i is.
func (s *scanner) keyBefore(i int) string {
	const window = 600
	from := max(0, i-window)
	depth := 0
	for j := i - 1; j >= from; j-- {
		switch c := s.src[j]; {
		case c == ']' || c == ')' || c == '}':
			depth++
		case c == '[' || c == '(':
			depth--
		case c == '{' && depth <= 0, c == ';':
			return ""
		case c == '{':
			depth--
		case c == ':' && depth <= 0:
			end := j
			for end > from && (s.src[end-1] == ' ' || s.src[end-1] == '\'' || s.src[end-1] == '"') {
				end--
			}
			start := end
			for start > from && (word[s.src[start-1]] || s.src[start-1] == '-') {
				start--
			}
			return string(s.src[start:end])
		}
	}
	return ""
}
