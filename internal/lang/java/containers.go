package java

import (
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file keeps containers finding what they found: they look through packages for classes with annotations, and no
// text names these.

// scanned is a package through which a container looks, with those below it.
type scanned struct {
	file        project.FileID // where that is said
	at          int
	before, now string
}

// implicit are annotations that mean the package of their class where they name none.
var implicit = lang.Words(`SpringBootApplication ComponentScan EntityScan EnableJpaRepositories EnableMongoRepositories
	EnableJdbcRepositories ConfigurationPropertiesScan ServletComponentScan EnableFeignClients EnableAutoConfiguration
	MapperScan`)

// sliced are annotations of tests that look for the application upwards from their own package.
var sliced = lang.Words(`SpringBootTest WebMvcTest WebFluxTest DataJpaTest DataJdbcTest JdbcTest DataMongoTest JsonTest
	RestClientTest SpringJUnitConfig`)

// containers finds classes that a container finds before the moves and not after them.
func (o *owing) containers() {
	var all []scanned
	for _, id := range o.old.ix.ids {
		if e := o.old.ix.files[id]; e != nil {
			all = append(all, o.scans(id, e)...)
		}
	}
	if len(all) == 0 {
		return
	}
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil || o.moves[e.path] == "" && !slices.ContainsFunc(all, func(s scanned) bool { return s.before != s.now }) {
			continue
		}
		o.application(id, e)
		if !e.isFound() {
			continue
		}
		before := slices.IndexFunc(all, func(s scanned) bool { return covers(s.before, e.pkg) })
		if before < 0 || slices.ContainsFunc(all, func(s scanned) bool { return covers(s.now, o.then(id)) }) {
			continue
		}
		s := all[before]
		o.lost([]project.FileID{id, s.file}, "%s:%d has a container look through the package %s, and %s would be in none "+
			"that it looks through", o.old.tree.Path(s.file), o.line(s.file, s.at), s.before, e.path)
	}
}

// covers says whether a package is another or lies below it.
func covers(around, pkg string) bool {
	return around == "" || pkg == around || strings.HasPrefix(pkg, around+".")
}

// isFound says whether a file has a type that a container may look for: one with an annotation, or an interface that is
// built on another.
func (e *entry) isFound() bool {
	for i := range e.types {
		d := &e.types[i]
		if d.owner < 0 && (len(d.marks) > 0 || d.kind == "interface" && len(d.supers) > 0) {
			return true
		}
	}
	return false
}

// scans are the packages that a file has a container look through.
func (o *owing) scans(id project.FileID, e *entry) (out []scanned) {
	for i := range e.uses {
		u := &e.uses[i]
		if !u.mark || u.doc || !scanning[last(u.text)] {
			continue
		}
		stated := false
		for k := range e.texts {
			t := &e.texts[k]
			if int(t.mark) != i || t.label != "" && !strings.HasSuffix(t.label, "ackages") && t.label != "value" {
				continue
			}
			stated = true
			text := o.text(id, t)
			now := text
			if goal, whole := o.spaceGoal(o.old, text, false); whole {
				now = goal
			}
			out = append(out, scanned{id, u.at.Start, text, now})
		}
		inside, wide := e.wide[i]
		for k := inside.from; wide && k < inside.to; k++ {
			if !slices.ContainsFunc(inside.labels, func(l string) bool { return strings.HasSuffix(l, "Classes") }) {
				break
			}
			if f := o.old.means(id, e, &e.uses[k], int(e.uses[k].owner)); len(f.all) > 0 {
				stated = true
				of := f.all[0].file
				out = append(out, scanned{id, u.at.Start, o.old.ix.files[of].pkg, o.then(of)})
			}
		}
		if !stated && implicit[last(u.text)] {
			out = append(out, scanned{id, u.at.Start, e.pkg, o.then(id)})
		}
	}
	return out
}

// text is what a string of the old tree says.
func (o *owing) text(id project.FileID, t *javaText) string {
	content, err := o.old.tree.Content(id)
	if err != nil || t.at.End > len(content) {
		return ""
	}
	return string(content[t.at.Start:t.at.End])
}

// application keeps tests where they find the application that they found: it is looked for in their package and in
// those around.
func (o *owing) application(id project.FileID, e *entry) {
	if !slices.ContainsFunc(e.uses, func(u use) bool { return u.mark && sliced[last(u.text)] }) {
		return
	}
	started := func(at map[string]project.FileID, from string) project.FileID {
		for {
			if id, there := at[from]; there || from == "" {
				if !there {
					id = project.None
				}
				return id
			}
			from = parent(from)
		}
	}
	was, now := o.applications()
	before := started(was, e.pkg)
	if before == project.None || started(now, o.then(id)) == before {
		return
	}
	o.lost([]project.FileID{id, before}, "%s looks for the application in its package and in those around, and would "+
		"not find %s there", e.path, o.old.tree.Path(before))
}

// applications are the files that start an application, by their packages before and in the end.
func (o *owing) applications() (was, now map[string]project.FileID) {
	if o.startsBefore == nil {
		o.startsBefore, o.startsThen = map[string]project.FileID{}, map[string]project.FileID{}
		for _, id := range o.old.ix.ids {
			if e := o.old.ix.files[id]; e != nil && e.starts() {
				o.startsBefore[e.pkg], o.startsThen[o.then(id)] = id, id
			}
		}
	}
	return o.startsBefore, o.startsThen
}

// starts says whether a file has the class of an application.
func (e *entry) starts() bool {
	return slices.ContainsFunc(e.types, func(d typeDecl) bool {
		return slices.ContainsFunc(d.marks, func(mark string) bool {
			return last(mark) == "SpringBootApplication" || last(mark) == "SpringBootConfiguration"
		})
	})
}
