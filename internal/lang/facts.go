package lang

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// Facts are what is known of a family's files, as data: endings with their dots, in lower case, and names of files in
// full. Those who know no language ask all families together.
type Facts struct {
	// Called are the names of the languages, by the endings of their files.
	Called map[string]string
	// Programs are the endings of files that are programs; Components those of files that hold a program and what it
	// draws.
	Programs, Components []string
	// Sources are the endings of what an application is made from.
	Sources []string
	// Dialects are the languages of which a project chooses one, the usual one first. Views are endings of what is
	// drawn, of all of them.
	Dialects []Dialect
	Views    []string
	// Declares is the ending of files that only declare what others hold.
	Declares string
	// Tests, Shows and Records say which files are tests, show a part to the people who build with it, or hold what was
	// recorded once.
	Tests, Shows, Records Marks
	// Snapshot is the ending of what a test has recorded.
	Snapshot string
	// Marker is the file that makes a folder a package.
	Marker string
	// Entry is the stem of files that stand for their folder.
	Entry string
	// Runs are programs by which a script's first line says in what it is written (execve(2), interpreter scripts), each
	// with an ending of files that are read alike.
	Runs map[string]string
	// Manifest is the file in which a project says what it is and needs.
	Manifest string
	// Starts are names or endings of files that say which programs are run.
	Starts []string
	// Unwritten are the endings that may be left out where a file is named.
	Unwritten []string
	// Aside are the endings of files that say nothing of the layout of an application.
	Aside []string
	// Made are the endings or names of files that programs write anew when what they speak of has moved, MadeBelow the
	// endings of folders of such files.
	Made, MadeBelow []string
	// Shown are the endings of languages by the names with which documents call them, where the imports of what they
	// show are known.
	Shown map[string]string
	// Mirror are parts of paths: the tests of what lies below the first lie in the same folders below the second.
	Mirror [2]string
	// Deep: what an application is made of lies below folders that hold nothing else, as those of a package's name.
	Deep bool
	// Prose are the endings of files that are written for people: a word in them is a word.
	Prose []string
}

// Dialect is a language with two endings, one for plain code and one for what is drawn.
type Dialect struct{ Plain, View string }

// Marks are what the names of files have that are meant for something: the ends of stems, and folders that they lie in.
type Marks struct{ Stems, Folders []string }

// on says whether a file bears one of the marks.
func (m *Marks) on(folders, stem string) bool {
	if len(m.Stems)+len(m.Folders) == 0 {
		return false
	}
	for _, end := range m.Stems {
		if strings.HasSuffix(stem, end) {
			return true
		}
	}
	for folder := range strings.SplitSeq(folders, "/") {
		if slices.Contains(m.Folders, folder) {
			return true
		}
	}
	return false
}

// marked says whether a file bears marks of any family.
func (l Languages) marked(p string, marks func(f *Facts) *Marks) bool {
	slash := strings.LastIndexByte(p, '/')
	folders, stem := p[:max(0, slash)], p[slash+1:]
	if dot := strings.LastIndexByte(stem, '.'); dot >= 0 {
		stem = stem[:dot]
	}
	for i := range l.Families {
		if marks(&l.Families[i].Facts).on(folders, stem) {
			return true
		}
	}
	return false
}

// IsTest says whether a file is a test, by its name or its folder.
func (l Languages) IsTest(p string) bool {
	return l.marked(p, func(f *Facts) *Marks { return &f.Tests })
}

// Shows says whether a file shows a part to the people who build with it.
func (l Languages) Shows(p string) bool {
	return l.marked(p, func(f *Facts) *Marks { return &f.Shows })
}

// Recorded says whether a file holds what was recorded once: database migrations and fixtures.
func (l Languages) Recorded(p string) bool {
	parts := strings.Split(p, "/")
	for i := range parts[:len(parts)-1] {
		parts[i] = strings.Trim(parts[i], "_")
	}
	return l.marked(strings.Join(parts, "/"), func(f *Facts) *Marks { return &f.Records })
}

// IsProgram says whether a file is a program, by its ending.
func (l Languages) IsProgram(p string) bool {
	return l.any(p, func(f *Facts) []string { return f.Programs })
}

// IsComponent says whether a file holds a program and what it draws, by its ending.
func (l Languages) IsComponent(p string) bool {
	return l.any(p, func(f *Facts) []string { return f.Components })
}

// IsSource says whether a file is a part of what an application is made from, by its ending.
func (l Languages) IsSource(p string) bool {
	return l.any(p, func(f *Facts) []string { return f.Sources })
}

// IsProse says whether a file is written for people.
func (l Languages) IsProse(p string) bool {
	return l.any(p, func(f *Facts) []string { return f.Prose })
}

// IsAside says whether a file says nothing of the layout of an application.
func (l Languages) IsAside(p string) bool {
	return l.any(p, func(f *Facts) []string { return f.Aside })
}

// IsMade says whether a file is written anew by programs when what it speaks of has moved.
func (l Languages) IsMade(p string) bool {
	if l.any(p, func(f *Facts) []string { return f.Made }) {
		return true
	}
	for folder := range strings.SplitSeq(project.Dir(p), "/") {
		if ext := path.Ext(folder); ext != "" &&
			slices.ContainsFunc(l.Families, func(f Family) bool { return slices.Contains(f.Facts.MadeBelow, ext) }) {
			return true
		}
	}
	return false
}

// Starts says whether a file says which programs are run.
func (l Languages) Starts(p string) bool {
	return l.any(p, func(f *Facts) []string { return f.Starts })
}

// any says whether the ending of a file, or its name, is in a list of any family.
func (l Languages) any(p string, list func(f *Facts) []string) bool {
	ext, name := strings.ToLower(path.Ext(p)), path.Base(p)
	for i := range l.Families {
		if names := list(&l.Families[i].Facts); slices.Contains(names, ext) || slices.Contains(names, name) {
			return true
		}
	}
	return false
}

// Unwritten are all endings that may be left out where a file is named.
func (l Languages) Unwritten() (out []string) {
	for _, f := range l.Families {
		out = append(out, f.Facts.Unwritten...)
	}
	return out
}

// As gives the path by whose ending a file is read: its own, or another that the convention or the file's first line
// says. plain: it holds no mention. head gives the beginning of the file; it is asked only where nothing else says it.
func (l Languages) As(file string, declared *Declared, head func() []byte) (as string, plain bool) {
	says := ""
	if declared != nil {
		c := declared.Convention.For(file)
		if says = c.Reads(file); says == "" && len(c.ReadAs) > 0 {
			says = c.Reads(declared.Home(file)) // what the convention says of paths holds before and after
		}
	}
	switch {
	case says == convention.Plain:
		return file, true
	case says != "" && says != convention.ByFirstLine:
		return file + "." + l.ending(says), false
	case says == "" && (path.Ext(file) != "" || l.FamilyOf(file) != nil || l.Inert != nil && l.Inert(file)):
		return file, false
	}
	if ending := l.runs(head()); ending != "" {
		return file + ending, false
	}
	return file, false
}

// ending is the ending that a word of read_as means: an ending itself, or the name of a language.
func (l Languages) ending(word string) string {
	for _, f := range l.Families {
		for ending, name := range f.Facts.Called {
			if strings.EqualFold(name, word) {
				return strings.TrimPrefix(ending, ".")
			}
		}
	}
	return word
}

// Knows says whether a family reads what read_as calls by a word.
func (l Languages) Knows(word string) bool {
	return word == convention.Plain || word == convention.ByFirstLine || l.FamilyOf("x."+l.ending(word)) != nil
}

// runs gives the ending of the language in which a script is written whose first line names the program that runs it;
// empty for none.
func (l Languages) runs(head []byte) string {
	line, is := bytes.CutPrefix(head, []byte("#!"))
	if !is {
		return ""
	}
	if end := bytes.IndexByte(line, '\n'); end >= 0 {
		line = line[:end]
	}
	for _, word := range strings.Fields(string(line)) {
		name := strings.TrimRight(path.Base(word), "0123456789.")
		for _, f := range l.Families {
			if ending := f.Facts.Runs[name]; ending != "" {
				return ending
			}
		}
	}
	return ""
}

// IsManifest says whether a file of a name says what a project or a package is and needs.
func (l Languages) IsManifest(name string) bool {
	return slices.ContainsFunc(l.Families, func(f Family) bool { return f.Facts.Manifest == name && name != "" })
}

// IsEntry says whether a stem is one of files that stand for their folder.
func (l Languages) IsEntry(stem string) bool {
	return slices.ContainsFunc(l.Families, func(f Family) bool { return f.Facts.Entry == stem && stem != "" })
}

// IsSnapshot says whether a file is what a test has recorded.
func (l Languages) IsSnapshot(p string) bool {
	return slices.ContainsFunc(l.Families, func(f Family) bool {
		return f.Facts.Snapshot != "" &&
			f.Facts.Snapshot == path.Ext(p)
	})
}

// ProjectName is the name that a manifest at the root gives the project; empty for none.
func (l Languages) ProjectName(tree *project.Project) string {
	for _, f := range l.Families {
		if f.ProjectName == nil {
			continue
		}
		if name := f.ProjectName(tree); name != "" {
			return name
		}
	}
	return ""
}

// ByName gives a family; nil for none.
func (l Languages) ByName(name string) *Family {
	for i := range l.Families {
		if l.Families[i].Name == name {
			return &l.Families[i]
		}
	}
	return nil
}

// IsLock says whether a file lists packages with their versions, as a manager of packages writes it.
func IsLock(p string) bool {
	switch base := path.Base(p); base {
	case "package-lock.json", "npm-shrinkwrap.json", "pnpm-lock.yaml", "bun.lockb", "packages.lock.json", "gradle.lockfile", "go.sum":
		return true
	default:
		return strings.HasSuffix(base, ".lock")
	}
}

// IsHistory says whether a file speaks of the past, by its name or its folder: what it says was so at its time.
func IsHistory(p string) bool {
	base := strings.ToLower(path.Base(p))
	for _, head := range []string{"changelog", "changes.", "history.", "news.", "release-notes", "releasenotes",
		"whats_new", "whatsnew"} {
		if strings.HasPrefix(base, head) {
			return true
		}
	}
	for part := range strings.SplitSeq(strings.ToLower(project.Dir(p)), "/") {
		switch part {
		case "changes", "changelog", "changelogs", "history", "news", "newsfragments", "whatsnew", "release-notes",
			"releases":
			return true
		}
	}
	return base == "changes" || base == "history" || base == "news"
}
