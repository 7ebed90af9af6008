package resolve

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// Spell implements lang.Resolver: it writes candidates in the manner of the old text, the most alike first, and takes
// the first that this tree resolves to the target. So no spelling is ever given that was not resolved.
func (r *resolver) Spell(request lang.Respelling) (lang.Spelling, bool) {
	old, ok := request.Old.(*resolver)
	if !ok {
		return lang.Spelling{}, false
	}
	m := request.Mention
	if request.Target.Kind != lang.ToFile {
		return lang.Spelling{Text: old.keepPlace(r, request)}, true
	}
	if !request.Fails && r.leadsTo(request, m.Text) {
		return lang.Spelling{Text: m.Text}, true
	}
	before, how := old.resolveVia(request.OldFrom, m)
	if before.Kind != lang.ToFile {
		return lang.Spelling{}, false
	}
	prefix, core, suffix := affixes(m.Text)
	if core != m.Text {
		if t, _ := old.resolveVia(request.OldFrom, &lang.Mention{Text: core, Kind: m.Kind}); t.File != before.File {
			prefix, core, suffix = "", m.Text, "" // the marks are part of the file's name
		}
	}
	s := speller{
		resolver: r, asker: &r.askers[request.From], target: r.tree.Path(request.Target.File),
		core: core, kind: m.Kind, old: old.tree.Path(before.File), how: how,
	}
	if r.parts(old, &request) {
		s.how = via{kind: viaPackage}
	}
	for c := range s.candidates {
		if r.leadsTo(request, prefix+c.Text+suffix) {
			c.Text = prefix + c.Text + suffix
			return c, true
		}
	}
	return lang.Spelling{}, false
}

// keepPlace respells a path that leads to no file of the tree (ignored, generated later, or missing), so that it names
// the same place from the file's new folder.
func (r *resolver) keepPlace(next *resolver, request lang.Respelling) string {
	text := request.Mention.Text
	prefix, core, suffix := affixes(text)
	from, to := r.tree.Path(request.OldFrom), next.tree.Path(request.From)
	if !lang.IsRelative(text) {
		if place, alias, ok := r.Expand(from, core); ok && request.Goes != nil && request.Goes(place) != place {
			if named, ok := next.Contract(to, request.Goes(place), alias); ok {
				return prefix + named + suffix
			}
		}
		return text
	}
	place := path.Join(path.Dir(from), core)
	if lang.Leaves(place) {
		return text
	}
	goes := place
	if request.Goes != nil {
		goes = request.Goes(place)
	}
	if goes == place && path.Dir(from) == path.Dir(to) {
		return text
	}
	moved := lang.Relative(path.Dir(to), goes)
	if strings.HasSuffix(core, "/") {
		moved += "/"
	}
	return prefix + moved + suffix
}

func (r *resolver) leadsTo(request lang.Respelling, text string) bool {
	t := r.Resolve(request.From, &lang.Mention{Text: text, Kind: request.Mention.Kind})
	return t.Kind == lang.ToFile && t.File == request.Target.File
}

// speller has what one respelling goes by.
type speller struct {
	*resolver
	asker  *asker
	target string
	core   string
	kind   *lang.Kind
	old    string // the target's old path
	how    via
}

// form is the target's path as it may be written: whole, with the ending of the compiled file, without an ending, or as
// the folder whose index it is.
type form struct {
	path   string
	folder bool
}

// candidates gives the spellings, the most alike first, as long as they are asked for.
func (s *speller) candidates(yield func(lang.Spelling) bool) {
	forms := s.forms()
	add := func(remark string, spell func(form) (string, bool)) bool {
		for _, f := range forms {
			if text, ok := spell(f); ok && !yield(lang.Spelling{Text: text, Remark: remark}) {
				return false
			}
		}
		return true
	}
	more := true
	switch s.how.kind {
	case viaPaths:
		more = s.addPaths(forms, yield)
	case viaBase:
		more = add("", s.fromBase) && s.addPaths(forms, yield)
	case viaImports:
		more = add("", s.throughImports) && s.addPaths(forms, yield)
	case viaPackage:
		more = add("", s.throughPackage)
	}
	remark := ""
	if s.how.kind != viaRelative {
		remark = "no name leads there any more, so a relative path is used"
	}
	if more {
		add(remark, s.relative)
	}
}

// forms gives the ways to write the target's end, the manner of the old text first.
func (s *speller) forms() []form {
	whole := form{path: s.target}
	ext := script.Extension(s.target)
	if ext == "" {
		ext = path.Ext(s.target)
	}
	bare := form{path: strings.TrimSuffix(s.target, ext)}
	compiled := form{path: bare.path + CompiledEnding(ext, s.core)}
	folder := form{path: project.Dir(s.target), folder: true}
	isIndex := path.Base(bare.path) == "index"

	tail := path.Base(s.core)
	oldBase := path.Base(s.old)
	oldExt := script.Extension(s.old)
	if oldExt == "" {
		oldExt = path.Ext(s.old)
	}
	var out []form
	// the manifest says what stands for what
	written := s.how.kind == viaPackage || s.how.kind == viaImports
	// the compiler wants a flag for such an ending
	refused := !written && tail != oldBase && isTypeScript(ext) && (s.asker.options == nil || !s.asker.options.Endings)
	switch {
	case tail == oldBase:
		out = []form{whole, compiled, bare}
	case tail == strings.TrimSuffix(oldBase, oldExt) && !strings.HasSuffix(s.core, "/"):
		out = []form{bare, compiled, whole}
		if isIndex && tail != "index" { // it was written short and can stay short
			out = append([]form{folder}, out...)
		}
	case strings.TrimSuffix(oldBase, oldExt)+CompiledEnding(oldExt, s.core) == tail:
		out = []form{compiled, whole, bare}
	default: // the folder's name stands for its index
		if isIndex {
			out = []form{folder}
		}
		out = append(out, bare, compiled, whole)
	}
	if refused {
		out = slices.DeleteFunc(out, func(f form) bool { return f == whole })
	}
	if _, known := script.DialectOf(s.target); !known && (path.Ext(s.target) != componentEnding || tail == oldBase) {
		return []form{whole} // an ending that is not ours must be written
	}
	return out
}

func isTypeScript(ext string) bool {
	switch ext {
	case ".ts", ".tsx", ".mts", ".cts":
		return true
	}
	return false
}

// CompiledEnding gives the ending that a TypeScript file is imported by.
func CompiledEnding(ext, core string) string {
	switch ext {
	case ".mts", ".d.mts":
		return ".mjs"
	case ".cts", ".d.cts":
		return ".cjs"
	case ".tsx":
		if strings.HasSuffix(core, ".jsx") {
			return ".jsx"
		}
		return ".js"
	case ".ts", ".d.ts":
		return ".js"
	}
	return ext
}

// relative writes the path from the importing file's folder.
func (s *speller) relative(f form) (string, bool) {
	text := lang.Relative(s.asker.dir, f.path)
	if s.kind == script.ReferencePath && !strings.HasPrefix(s.core, ".") {
		text = strings.TrimPrefix(text, "./")
	}
	if f.folder && strings.HasSuffix(s.core, "/") {
		text += "/"
	}
	return text, true
}

// addPaths tries the aliases of the new place: of each form the best, then of each the next.
func (s *speller) addPaths(forms []form, yield func(lang.Spelling) bool) bool {
	const most = 3
	all := make([][]string, len(forms))
	for i := range most {
		for k, f := range forms {
			if i == 0 {
				all[k] = s.contractions(s.asker, f.path, s.how.alias)
			}
			if i < len(all[k]) && !yield(lang.Spelling{Text: all[k][i]}) {
				return false
			}
		}
	}
	return true
}

func (s *speller) fromBase(f form) (string, bool) {
	c := s.asker.options
	if c == nil || c.BaseURL == "" {
		return "", false
	}
	return below(c.BaseURL, f.path)
}

// throughImports writes the path by the imports pattern that was used, if it still covers it.
func (s *speller) throughImports(f form) (string, bool) {
	pkg := project.Nearest(s.packages, s.asker.dir)
	if pkg == nil {
		return "", false
	}
	v := pkg.Imports.Get(s.how.alias)
	if v == nil {
		return "", false
	}
	text := ""
	for _, p := range []string{f.path, s.target} {
		rest, ok := below(pkg.Dir, p)
		if !ok {
			continue
		}
		v.Strings(func(t *manifest.Value) {
			if star, ok := config.StarMatch(t.Text, "./"+rest); ok && text == "" {
				text = strings.Replace(s.how.alias, "*", star, 1)
			}
		})
	}
	return text, text != ""
}

// throughPackage writes the path by the name of the package it lies in now.
func (s *speller) throughPackage(f form) (string, bool) {
	pkg := project.Nearest(s.packages, project.Dir(s.target))
	if pkg == nil || pkg.Name == "" {
		return "", false
	}
	rest, ok := below(pkg.Dir, f.path)
	if !ok {
		return "", false
	}
	if pkg.Exports == nil {
		return pkg.Name + "/" + rest, true
	}
	for _, m := range pkg.Exports.Members {
		star, found := "", false
		m.Value.Strings(func(t *manifest.Value) {
			if found {
				return
			}
			if found = path.Clean(t.Text) == rest; !found {
				star, found = config.StarMatch(t.Text, "./"+rest)
			}
		})
		if found && (m.Key == "." || strings.HasPrefix(m.Key, "./")) {
			return pkg.Name + strings.Replace(m.Key, "*", star, 1)[1:], true
		}
	}
	return "", false
}

// parts says whether a package has come between a file and what it imports, and the file's own manifest asks for it: then
// it is imported by its name.
func (r *resolver) parts(old *resolver, request *lang.Respelling) bool {
	if request.Before.Kind != lang.ToFile || !byName[request.Mention.Kind] {
		return false
	}
	of := func(r *resolver, id project.FileID) *config.PackageFile {
		return project.Nearest(r.packages, r.askers[id].dir)
	}
	own, other := of(r, request.From), of(r, request.Target.File)
	return own != other && own != nil && other != nil && other.Name != "" && own.Listed[other.Name] &&
		r.member(r.askers[request.From].dir, other.Name) == other && of(old, request.OldFrom) == of(old, request.Before.File)
}

// byName are the kinds of mention that may name a package.
var byName = map[*lang.Kind]bool{script.Import: true, script.ExportFrom: true, script.DynamicImport: true, script.Require: true,
	script.RequireResolve: true, script.Mock: true}

// Parts says whether a mention must be written by the name of a package that has come between.
func (r *resolver) Parts(request *lang.Respelling) bool {
	old, ok := request.Old.(*resolver) // without new packages there are no new borders between files that stay
	return ok && (len(r.packages) != len(old.packages) || len(r.members) != len(old.members)) && r.parts(old, request)
}

// below gives the path of p as seen from a folder that it lies in.
func below(dir, p string) (string, bool) {
	if dir == "." {
		return p, true
	}
	return strings.CutPrefix(p, dir+"/")
}
