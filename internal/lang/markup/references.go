package markup

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/style"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// addresses are the attributes that hold an address, by element (HTML, section 4 and its list of attributes of URLs).
var addresses = map[string][]string{
	"img": {"src"}, "source": {"src"}, "video": {"src", "poster"}, "audio": {"src"}, "track": {"src"}, "embed": {"src"},
	"iframe": {"src"},
	"input":  {"src"}, "object": {"data"}, "link": {"href"}, "script": {"src"}, "a": {"href"}, "area": {"href"},
	"use":   {"href", "xlink:href"},
	"image": {"href", "xlink:href", "src"}, "body": {"background"},
}

// assets are those that a component's compiler turns into imports.
var assets = map[string][]string{
	"img": {"src"}, "source": {"src"}, "video": {"src", "poster"}, "image": {"href", "xlink:href"},
	"use": {"href", "xlink:href"},
}

// markup reads tags from a place on.
func (s *scanner) markup(from int) {
	t := tokenizer{src: s.src, pos: from, dialect: s.dialect, onTag: s.tag, onRaw: s.raw, onCode: s.code}
	if s.dialect == astro {
		t.pos = s.frontScript()
	}
	t.run()
}

func (s *scanner) tag(t *tag) {
	s.component(t)
	if t.closing {
		return
	}
	name := strings.ToLower(t.name)
	table := addresses
	if s.dialect == vue {
		table = assets
	}
	seen := map[string]bool{}
	for _, a := range t.attrs {
		if seen[a.name] || !a.given {
			continue
		}
		seen[a.name] = true
		s.attribute(name, a, table)
	}
}

func (s *scanner) attribute(name string, a attribute, table map[string][]string) {
	if s.dialect.code() && s.dialect != vue && strings.Contains(a.text, "{%") {
		s.codeWithin(a.value)
		return
	}
	switch {
	case a.name == "srcset" && (name == "img" || name == "source"), a.name == "imagesrcset" && name == "link":
		s.sourceSet(a)
	case a.name == "style":
		if a.quote != 0 && strings.Contains(a.text, "url(") && !computed(a.text) {
			s.embed(a.value, "x.css")
		}
	case a.name == "page" && (name == "jsp:include" || name == "jsp:forward"):
		if a.quote != 0 && !computed(a.text) && !strings.Contains(a.text, "://") {
			s.include(a.value, a.quote)
		}
	case contains(table[name], a.name):
		s.address(a, paths.Asset, false)
	case s.dialect == vue && (name == "script" || name == "style" || name == "template") && a.name == "src":
		s.address(a, paths.Asset, false)
	case s.dialect == vue && (a.name[0] == ':' || strings.HasPrefix(a.name, "v-bind:")):
		if a.quote != 0 && (strings.Contains(a.text, "require(") || strings.Contains(a.text, "import(")) {
			s.embed(a.value, "x.ts")
		}
	case a.name == "src" || a.name == "href" || a.name == "poster":
		s.address(a, paths.Text, true)
	}
}

// codeWithin reads the pieces of template code in an attribute's value.
func (s *scanner) codeWithin(value source.Span) {
	for at := value.Start; at < value.End; {
		open := bytes.Index(s.src[at:value.End], []byte("{%"))
		if open < 0 {
			return
		}
		start := at + open + 2
		shut := bytes.Index(s.src[start:value.End], []byte("%}"))
		if shut < 0 {
			return
		}
		s.code(source.Span{Start: start, End: start + shut})
		at = start + shut
	}
}

func contains(list []string, name string) bool {
	for _, n := range list {
		if n == name {
			return true
		}
	}
	return false
}

// computed says whether template code stands in a value.
func computed(text string) bool {
	return strings.Contains(text, "{{") || strings.Contains(text, "<%") || strings.Contains(text, "{%") ||
		strings.Contains(text, "${")
}

// address records the value of an attribute. Addresses of other places, fragments and data are none.
func (s *scanner) address(a attribute, kind *lang.Kind, likely bool) {
	raw := s.src[a.value.Start:a.value.End]
	start := a.value.Start + len(raw) - len(strings.TrimLeft(string(raw), " \t\r\n"))
	end := a.value.Start + len(strings.TrimRight(string(raw), " \t\r\n"))
	text := strings.TrimSpace(a.text)
	if !local(text) || s.dialect.braces() && strings.Contains(text, "{") {
		return
	}
	s.add(source.Span{Start: start, End: end}, text, kind, a.quote, likely)
}

// local says whether an address may lead into the project.
func local(text string) bool {
	if text == "" || text[0] == '#' || text[0] == '?' || strings.HasPrefix(text, "//") || computed(text) ||
		strings.ContainsAny(text, "\n\r\t") {
		return false
	}
	colon := strings.IndexByte(text, ':')
	return colon < 0 || strings.ContainsAny(text[:colon], "/.?#")
}

// sourceSet records each address of a srcset (HTML, section 4.8.4.2.1): up to a blank or a comma at its end.
func (s *scanner) sourceSet(a attribute) {
	if computed(a.text) || s.dialect.braces() && strings.Contains(a.text, "{") {
		return
	}
	i, end := a.value.Start, a.value.End
	for i < end {
		for i < end && (text.Space(s.src[i]) || s.src[i] == ',') {
			i++
		}
		start := i
		for i < end && !text.Space(s.src[i]) {
			i++
		}
		stop := i
		ended := false
		for stop > start && s.src[stop-1] == ',' {
			stop--
			ended = true
		}
		if text := unescape(string(s.src[start:stop])); local(text) {
			s.add(source.Span{Start: start, End: stop}, text, paths.Asset, a.quote, false)
		}
		for depth := 0; !ended && i < end; i++ { // the descriptors, up to a comma outside of parentheses
			switch s.src[i] {
			case '(':
				depth++
			case ')':
				depth--
			case ',':
				ended = depth <= 0
			}
		}
	}
}

// raw leaves a script or style sheet that stands in the text to its language.
func (s *scanner) raw(t *tag, content source.Span) {
	language, _ := t.get("lang")
	switch strings.ToLower(t.name) {
	case "script":
		s.script(t, language.text, content)
	case "style":
		if language.text == "" {
			language.text = "css"
		}
		if as := "x." + language.text; style.Is(as) {
			s.embed(content, as)
		}
	}
}

func (s *scanner) script(t *tag, language string, content source.Span) {
	text := s.src[content.Start:content.End]
	kind := ""
	if a, ok := t.get("type"); ok && !s.dialect.component() { // a component's script is one whatever its type
		kind = strings.ToLower(strings.TrimSpace(a.text))
	}
	switch kind {
	case "", "module", "text/javascript", "application/javascript", "text/babel", "text/jsx", "text/typescript",
		"application/x-javascript":
	case "importmap":
		s.importMap(text, content.Start)
		return
	default:
		return
	}
	if s.dialect.code() && s.dialect != vue && computed(string(text)) {
		return
	}
	switch _, known := script.DialectOf("x." + language); {
	case s.dialect == astro || s.dialect == svelte && language == "" || language == "typescript":
		language = "ts"
	case !known:
		language = "js"
	}
	part := s.embed(content, "x."+language)
	if s.dialect.component() {
		part.Declares = true
		return
	}
	part.Imports, part.Keep = true, inPage
}

// inPage takes the imports of a script in a page as addresses: a browser reads them from the page.
func inPage(m *lang.Mention) bool {
	if m.Kind != script.Import && m.Kind != script.ExportFrom && m.Kind != script.DynamicImport {
		return false
	}
	if strings.HasPrefix(m.Text, "/") {
		m.Kind = paths.Asset
	}
	return true
}

// importMap records the addresses of an import map (HTML, section 8.1.6.2).
func (s *scanner) importMap(text []byte, offset int) {
	root, err := manifest.ParseJSON(text)
	if err != nil {
		return
	}
	var found []lang.Mention
	record := func(v *manifest.Value) {
		if local(v.Text) {
			found = append(found, lang.Mention{Span: v.Span, Text: v.Text, Kind: paths.Asset, Form: lang.InJSON,
				Quote: '"'})
		}
	}
	root.Get("imports").Strings(record)
	root.Get("scopes").Strings(record)
	s.within(offset, found)
}
