package php

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file reads what gives pages out: PHP's own server, the settings of web servers, and those of PHP itself. They
// name folders and files as the machine has them that serves the project, so a path of theirs begins with what nobody
// here knows (/var/www/desk/web). It ends as a path of the project does.

// serverLine is a directive: something that settings say of a folder, a file or an address. One of its hints stands in
// each text that has it: they are looked for first, since few files have any.
type serverLine struct {
	hints []string
	find  *regexp.Regexp // the first group is the text
	kind  *lang.Kind
}

// directives are read in scripts, manifests and the settings of servers
// (php.net/manual/en/features.commandline.webserver.php, php.net/manual/en/ini.core.php,
// httpd.apache.org/docs/2.4/mod/directives.html, nginx.org/en/docs/dirindex.html).
var directives = []serverLine{
	{[]string{"-S"}, regexp.MustCompile(
		`\bphp"?,?\s+"?-S"?,?\s+"?[\w.:$\{\}-]+"?,?\s+"?-t"?,?\s+"?([\w./-]+)`), DocRoot},
	{[]string{"root", "Root", "<Directory"}, regexp.MustCompile(
		`(?m)^\s*(?:root|DocumentRoot|<Directory)\s+["']?(/[\w./@-]+)`), DocRoot},
	{[]string{"_ROOT"}, regexp.MustCompile(`\bAPACHE_DOCUMENT_ROOT["']?\s*[=:\s]\s*["']?(/[\w./@-]+)`), DocRoot},
	{[]string{"ErrorDocument", "FallbackResource", "error_page"}, regexp.MustCompile(
		`(?m)^\s*(?:ErrorDocument\s+\d+|FallbackResource|error_page\s[\d ]+(?:=\d*\s+)?)\s*(/[\w./-]+)`), Address},
	{[]string{"RewriteRule", "rewrite"}, regexp.MustCompile(
		`(?m)^\s*(?:RewriteRule|rewrite)\s+\S+\s+(/[\w./-]+)`), Address},
	{[]string{"try_files"}, regexp.MustCompile(`(?m)\btry_files\s[^;\n]*?\s(/[\w./-]*\w)`), Address},
	{[]string{"_file", "preload"}, regexp.MustCompile(
		`\b(?:auto_prepend_file|auto_append_file|opcache\.preload)["']?\s*[=\s]\s*["']?(/[\w./@-]+)`), OnServer},
	{[]string{"AuthUserFile", "SCRIPT_FILENAME"}, regexp.MustCompile(
		`\b(?:AuthUserFile|SCRIPT_FILENAME)\s+["']?(/[\w./@-]+)`), OnServer},
	{[]string{"include_path"}, regexp.MustCompile(`\binclude_path["']?\s*[=\s]\s*["']?(?:\.:)?(/[\w./@-]+)`), OnServer},
}

// mayServe says whether a file may hold directives, by its path: no code, no page and no data does.
func mayServe(p string) bool {
	base := strings.ToLower(path.Base(p))
	switch path.Ext(base) {
	case "", ".htaccess", ".conf", ".ini", ".yaml", ".yml", ".sh", ".md", ".env", ".dist", ".example", ".template",
		".dockerfile", ".mk", ".toml", ".vhost", ".nginx", ".apache":
		return true
	}
	return base == manifestName || base == "package.json" || strings.HasPrefix(base, "dockerfile.")
}

// directivesIn finds what a file says of what a server gives out.
func (r *Resolver) directivesIn(from project.FileID, content []byte) (out []lang.Mention) {
	if !mayServe(r.tree.Path(from)) {
		return nil
	}
	for i := range directives {
		d := &directives[i]
		if !slices.ContainsFunc(d.hints, func(hint string) bool { return bytes.Contains(content, []byte(hint)) }) {
			continue
		}
		for _, at := range d.find.FindAllSubmatchIndex(content, -1) {
			m := lang.Mention{Span: source.Span{Start: at[2], End: at[3]}, Text: string(content[at[2]:at[3]]), Kind: d.kind,
				Form: lang.Plain, Deferred: true, Likely: r.tree.IsProse(r.tree.Path(from)), Evident: true}
			// a folder to look in may lose some of what is in it
			m.Likely = m.Likely || d.kind == DocRoot && r.isGuess(from, m.Text) || d.hints[0] == "include_path"
			if r.Resolve(from, &m).Kind.Inside() {
				out = append(out, m)
			}
		}
	}
	return out
}

// firstPage is the page that a server gives out for a folder.
const firstPage = "index.php"

// placed is what a path of a server stands for: a folder of the project is at a place of the machine.
type placed struct {
	folder string // of the project
	head   string // the place of that folder on the machine; empty for a path of the project
	rest   string // from there on
}

// places gives what a path may stand for, the longest end of it that is one of the project first: from the folder of
// the file that names it, and from those above. One of the machine may also be the project itself.
func (r *Resolver) places(from project.FileID, text string) (out []placed) {
	ends := []int{0} // where a path of the project may begin in the text
	if path.IsAbs(text) {
		for i := range len(text) {
			if text[i] == '/' && i+1 < len(text) {
				ends = append(ends, i+1)
			}
		}
		ends = append(ends[1:], len(text))
	}
	for _, at := range ends {
		for dir := path.Dir(r.tree.Path(from)); ; dir = path.Dir(dir) {
			out = append(out, placed{folder: dir, head: text[:at], rest: text[at:]})
			if dir == "." {
				break
			}
		}
	}
	return out
}

// resolveRoot says which page the server gives out first: where that goes, the root goes. A folder without one is that
// folder, if it is called as in the project from the project's own folder on.
func (r *Resolver) resolveRoot(from project.FileID, text string) (lang.Target, placed) {
	for _, at := range r.places(from, text) {
		p := path.Join(at.folder, at.rest)
		if id, there := r.tree.Lookup(path.Join(p, firstPage)); there && (at.rest != "" || at.folder == ".") {
			return lang.File(id), at
		}
		if at.head == "" && r.tree.IsDir(p) && at.rest != "." {
			return lang.Folder(p), at
		}
	}
	return lang.No(lang.ToOutside), placed{}
}

// isGuess says whether a root of a machine is taken for the project's own folder, as nothing of its path shows.
func (r *Resolver) isGuess(from project.FileID, text string) bool {
	_, at := r.resolveRoot(from, text)
	return at.rest == "" && path.IsAbs(text)
}

// resolveOnServer says which file or folder a path of a machine is.
func (r *Resolver) resolveOnServer(from project.FileID, text string) (lang.Target, placed) {
	for _, at := range r.places(from, text) {
		p := path.Join(at.folder, at.rest)
		if id, there := r.tree.Lookup(p); there {
			return lang.File(id), at
		}
		if at.rest != "" && r.tree.IsDir(p) {
			return lang.Folder(p), at
		}
	}
	return lang.No(lang.ToOutside), placed{}
}

// spellServed writes a root, or another path of a machine: from where the old text began to be one of the project.
func (r *Resolver) spellServed(q lang.Respelling, old *Resolver) (lang.Spelling, bool) {
	resolve := (*Resolver).resolveOnServer
	target := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		target = r.tree.Path(q.Target.File)
	}
	if q.Mention.Kind == DocRoot {
		resolve = (*Resolver).resolveRoot
		if q.Target.Kind == lang.ToFile {
			target = path.Dir(target)
		}
	}
	old.index()
	_, at := resolve(old, q.OldFrom, q.Mention.Text)
	for dir := path.Dir(r.tree.Path(q.From)); ; dir = path.Dir(dir) {
		text := lang.Relative(dir, target)
		switch {
		case at.head != "":
			text = path.Join(at.head, lang.Relative(at.folder, target))
		case !strings.HasPrefix(q.Mention.Text, "./"):
			text = strings.TrimPrefix(text, "./")
		}
		if strings.HasSuffix(q.Mention.Text, "/") {
			text += "/"
		}
		if t, _ := resolve(r, q.From, text); t.Equal(q.Target) {
			return lang.Spelling{Text: text}, true
		}
		if dir == "." {
			return lang.Spelling{}, false
		}
	}
}
