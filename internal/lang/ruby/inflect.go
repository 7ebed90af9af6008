package ruby

import (
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/project"
)

// This file turns paths into names and names into paths, as autoloaders do: night_sky/star_map is NightSky::StarMap. A
// project may know acronyms and exceptions (inflect.acronym 'API', inflector.inflect 'html' => 'HTML').

// inflections are what a project says of names.
type inflections struct {
	acronyms map[string]string // by the word in small letters
	words    map[string]string // by the name of a file
}

var (
	acronym   = regexp.MustCompile(`\bacronym[ (]+['"]([A-Za-z0-9]+)['"]`)
	inflected = regexp.MustCompile(`['"]?([a-z0-9_]+)['"]?\s*(?:=>|:)\s*['"]([A-Z]\w*)['"]`)
	inflects  = regexp.MustCompile(`\.inflect[ (]+\{?([^)}]*)`)
)

// readInflections reads what the settings of a tree say.
func readInflections(tree *project.Project) (out inflections) {
	out.acronyms, out.words = map[string]string{}, map[string]string{}
	for id, f := range tree.Files {
		if !isRuby(f.Path) || f.Link {
			continue
		}
		if !strings.Contains(f.Path, "inflect") && !strings.Contains(f.Path, "initializers/") && !strings.Contains(f.Path, "config/") &&
			strings.Count(f.Path, "/") > 1 {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		for _, m := range acronym.FindAllSubmatch(content, -1) {
			out.acronyms[strings.ToLower(string(m[1]))] = string(m[1])
		}
		for _, m := range inflects.FindAllSubmatch(content, -1) {
			for _, pair := range inflected.FindAllSubmatch(m[1], -1) {
				out.words[string(pair[1])] = string(pair[2])
			}
		}
	}
	return out
}

// camelize gives the name of a file or a folder, without its ending.
func (x *inflections) camelize(name string) string {
	if word, known := x.words[name]; known {
		return word
	}
	var out strings.Builder
	for _, part := range strings.Split(name, "_") {
		if word, known := x.acronyms[part]; known {
			out.WriteString(word)
		} else if part != "" {
			out.WriteString(strings.ToUpper(part[:1]) + part[1:])
		}
	}
	return out.String()
}

// constant gives the name that a path below a root has.
func (x *inflections) constant(p string) string {
	var parts []string
	for _, part := range strings.Split(strings.TrimSuffix(p, path.Ext(p)), "/") {
		parts = append(parts, x.camelize(part))
	}
	return strings.Join(parts, "::")
}

var (
	ending = regexp.MustCompile(`([A-Z\d]+)([A-Z][a-z])`)
	begins = regexp.MustCompile(`([a-z\d])([A-Z])`)
)

// underscore gives the path that a name has.
func (x *inflections) underscore(name string) string {
	for small, word := range x.acronyms {
		if strings.Contains(name, word) && word != strings.ToUpper(small[:1])+small[1:] {
			name = strings.ReplaceAll(name, word, strings.ToUpper(small[:1])+small[1:])
		}
	}
	name = strings.ReplaceAll(name, "::", "/")
	name = ending.ReplaceAllString(name, "${1}_${2}")
	name = begins.ReplaceAllString(name, "${1}_${2}")
	return strings.ToLower(name)
}

// isConstant says whether a text may be the name of a constant.
func isConstant(name string) bool {
	for part := range strings.SplitSeq(name, "::") {
		if part == "" || !capital(part[0]) {
			return false
		}
		for i := range len(part) {
			if !ofName[part[i]] {
				return false
			}
		}
	}
	return true
}
