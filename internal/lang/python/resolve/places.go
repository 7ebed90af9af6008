package resolve

import (
	"cmp"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
)

// This file has the folders that a framework of web applications looks into in each application: a package with an
// apps.py or with migrations.

// applicationFolders are what it looks for in an application, and what each file there is then.
var applicationFolders = []struct{ folder, why string }{
	{"management/commands", "is a command by its name"}, {"templatetags", "is loaded by its name"},
	{"migrations", "is remembered by the database under the label of its application"},
	{"templates", "is a template by its path"}, {"static", "is an address"}, {"locale", "is a translation by its path"},
}

// application is one of the project.
type application struct{ folder, label string }

// findApplications lists the applications of the tree.
func (r *Resolver) findApplications() []application {
	var out []application
	seen := map[string]bool{}
	add := func(folder, label string) {
		if !seen[folder] && folder != "." && r.regular(folder) {
			seen[folder] = true
			out = append(out, application{folder, label})
		}
	}
	for id, f := range r.tree.Files {
		dir := project.Dir(f.Path)
		switch base := path.Base(f.Path); {
		case base == "apps.py":
			given, err := lang.Index[*syntax.Given](r.tree, project.FileID(id))
			if err != nil || !given.Configures {
				continue
			}
			label := cmp.Or(given.Label, path.Base(dir))
			add(dir, label)
		case base == "__init__.py" && path.Base(dir) == "migrations":
			above := project.Dir(dir)
			if _, has := r.tree.Lookup(above + "/apps.py"); !has {
				add(above, path.Base(above))
			}
		}
	}
	return out
}

// Places are the fixed places of the tree.
func (r *Resolver) Places() []lang.Place {
	r.asked.Do(func() { r.applications = r.findApplications() })
	var out []lang.Place
	for _, a := range r.applications {
		for _, f := range applicationFolders {
			if folder := path.Join(a.folder, f.folder); r.tree.IsDir(folder) {
				out = append(out, lang.Place{Folder: folder, By: "the application " + a.label, Why: f.why,
					Stored: f.folder == "migrations"})
			}
		}
	}
	return out
}

// Place gives the fixed place that a file stands in.
func (r *Resolver) Place(p string) (lang.Place, bool) {
	for _, place := range r.Places() {
		if rest, inside := strings.CutPrefix(p, place.Folder+"/"); inside && path.Base(p) != "__init__.py" {
			place.Rest = rest
			return place, true
		}
	}
	return lang.Place{}, false
}
