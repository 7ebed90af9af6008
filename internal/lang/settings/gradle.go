package settings

import (
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file reads builds that are scripts (docs.gradle.org, Working With Files; Multi-Project Build Basics): which
// projects a build has, and the paths that its methods take. Other strings there are left alone.

// projectOwn is the folder that a line of its own gives to a project, below that of the settings; empty for none.
type projectOwn struct{ at string }

func isBuildScript(p string) bool {
	return strings.HasSuffix(p, ".gradle") || strings.HasSuffix(p, ".gradle.kts")
}

// takesPath are the words behind which a build has a path from its own folder.
var takesPath = lang.Words(`srcDir srcDirs setSrcDirs from file files fileTree dir includeBuild mkdir projectDir`)

var (
	projectDir = regexp.MustCompile(`project\s*\(\s*['"]:?([\w:.-]+)['"]\s*\)\s*\.\s*projectDir\s*=\s*(?:new\s+File|file)\s*\(` +
		`\s*(?:(?:rootDir|settingsDir)\s*,\s*)?['"]([^'"\n]+)['"]`)
	lastWord = regexp.MustCompile(`([\w.]+)\s*(?:\+?=|:)?\s*[(\[]?\s*$`)
)

// buildScript reads a build.
func (s *scanner) buildScript() {
	s.form = lang.Plain
	ofBuild := strings.HasPrefix(path.Base(s.path), "settings.")
	folders := map[string]string{}
	for _, m := range projectDir.FindAllSubmatch(s.src, -1) {
		folders[string(m[1])] = string(m[2])
	}
	word := "" // behind which the strings stand
	for at := 0; at < len(s.src); {
		c := s.src[at]
		switch {
		case c == '/' && at+1 < len(s.src) && s.src[at+1] == '/':
			at = text.LineEnd(s.src, at)
		case c == '/' && at+1 < len(s.src) && s.src[at+1] == '*':
			end := strings.Index(string(s.src[at+2:]), "*/")
			if end < 0 {
				return
			}
			at += end + 4
		case c == '"' || c == '\'':
			if found := lastWord.FindSubmatch(s.src[text.LineStart(s.src, at):at]); found != nil {
				word = string(found[1])
			}
			in, end := text.Quoted(s.src, at)
			s.buildText(in, word, ofBuild, folders)
			at = max(end, at+1)
		case c == '\n' || c == ';' || c == '}':
			before := strings.TrimRight(string(s.src[text.LineStart(s.src, at):at]), " \t\r")
			switch {
			case strings.HasSuffix(before, "("), strings.HasSuffix(before, "["): // the strings stand on lines of their own
				if found := lastWord.FindStringSubmatch(before); found != nil {
					word = found[1]
				}
			case !strings.HasSuffix(before, ","):
				word = ""
			}
			at++
		default:
			at++
		}
	}
}

// buildText reads a string of a build, which stands behind a word.
func (s *scanner) buildText(in source.Span, word string, ofBuild bool, folders map[string]string) {
	if in.Len() == 0 || in.Len() > 300 {
		return
	}
	raw := string(s.src[in.Start:in.End])
	last := word[strings.LastIndexByte(word, '.')+1:]
	m := lang.Mention{Span: in, Text: raw, Kind: paths.Setting, Form: lang.Plain, Quote: s.src[in.Start-1]}
	head, rest := paths.Head(raw)
	switch {
	case head != "":
	case ofBuild && last == "include":
		m.Kind, m.Detail = BuildProject, &lang.Detail{Own: projectOwn{folders[strings.TrimPrefix(raw, ":")]}}
	case !takesPath[last]:
		return
	case strings.HasPrefix(word, "rootProject."):
		m.Detail = &lang.Detail{Own: paths.Detail{Root: true}}
	}
	if strings.ContainsAny(rest, "$\\ ") || strings.Contains(m.Text, "://") || path.IsAbs(m.Text) {
		return
	}
	if strings.ContainsAny(m.Text, "*?") {
		m.Kind = paths.SettingGlob
	}
	s.add(m)
}

// folderOfProject is the folder of a project of a build.
func folderOfProject(settings string, m *lang.Mention) string {
	if own := lang.Own[projectOwn](m); own.at != "" {
		return path.Join(path.Dir(settings), own.at)
	}
	return path.Join(path.Dir(settings), strings.ReplaceAll(strings.TrimPrefix(m.Text, ":"), ":", "/"))
}

// settleProjects writes where the projects of a build are whose folders have moved.
func (r *resolver) settleProjects(s lang.Settling) []lang.Settled {
	lines := ""
	var with []int
	quote := "'"
	if strings.HasSuffix(r.tree.Path(s.From), ".kts") {
		quote = `"`
	}
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != BuildProject || s.Before[i].Kind != lang.ToFolder || lang.Own[projectOwn](m).at != "" {
			continue
		}
		to := s.Want[i].Folder()
		if to == folderOfProject(r.tree.Path(s.From), m) {
			continue
		}
		place := strings.TrimPrefix(lang.Relative(path.Dir(r.tree.Path(s.From)), to), "./")
		lines += "project(" + quote + ":" + strings.TrimPrefix(m.Text, ":") + quote + ").projectDir = file(" +
			quote + place + quote + ")" + text.Newline(s.Content)
		with = append(with, i)
	}
	if len(with) == 0 {
		return nil
	}
	end := len(s.Content)
	if end > 0 && s.Content[end-1] != '\n' {
		lines = text.Newline(s.Content) + lines
	}
	return []lang.Settled{{Edit: source.Edit{Span: source.Span{Start: end, End: end}, New: lines}, Mentions: with}}
}

// resolveProject gives the folder of a project of a build.
func (r *resolver) resolveProject(from project.FileID, m *lang.Mention) lang.Target {
	if dir := folderOfProject(r.tree.Path(from), m); !lang.Leaves(dir) && r.tree.IsDir(dir) {
		return lang.Folder(dir)
	}
	return lang.No(lang.ToOutside)
}
