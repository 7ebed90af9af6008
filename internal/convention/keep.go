package convention

import (
	"slices"
	"strings"
	"time"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/finding"
)

// Exception lets files be crooked for a while.
type Exception struct {
	File    *Template
	Rule    string // empty for all
	Shelf   string // the shelf on which the files belong; empty for any
	Because string
	Until   time.Time // the last day, UTC; zero for no end
	Line    int
}

// Expired says whether the exception's last day is over.
func (e *Exception) Expired(today time.Time) bool { return !e.Until.IsZero() && today.After(e.Until) }

// Where says which values a placeholder may take. All are known by their words.
type Where struct {
	only, except map[string]bool
	now          map[string]string // today's names for a value: what is called models or store today shall be core
}

// allows says whether a placeholder may take a value, and gives the value that it stands for.
func (w *Where) allows(value string) (string, bool) {
	if w == nil {
		return value, true
	}
	words := wordsKey(value)
	if name, ok := w.now[words]; ok {
		return name, true
	}
	return value, (len(w.only) == 0 || w.only[words]) && !w.except[words]
}

// wordsKey is the same for two names that have the same words.
func wordsKey(name string) string { return strings.Join(Words(name), " ") }

func (r *reader) readWhere(n ast.Node) {
	r.where = map[string]*Where{}
	for _, pair := range r.pairs(n, "where") {
		w := &Where{only: map[string]bool{}, except: map[string]bool{}, now: map[string]string{}}
		for _, entry := range r.pairs(pair.Value, "an entry of where") {
			key := r.text(entry.Key)
			for _, v := range r.list(entry.Value) {
				switch words := wordsKey(r.text(v)); key {
				case "only":
					w.only[words] = true
				case "except":
					w.except[words] = true
				default:
					if _, taken := w.now[words]; !taken {
						w.now[words] = key
					}
				}
			}
		}
		r.where[r.text(pair.Key)] = w
	}
}

func (r *reader) rule(n ast.Node) string {
	name := r.text(n)
	var names []string
	for _, rule := range finding.Rules() {
		names = append(names, rule.ID)
	}
	if !slices.Contains(names, name) {
		r.fail(position(n), "the rules are "+strings.Join(names, ", "), "there is no rule %q%s", name, nearest(name, names))
	}
	return name
}

func (r *reader) readExceptions(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an exception", exceptionKeys)
		file, because := fields["file"], fields["because"]
		if file == nil || because == nil {
			r.fail(position(v), "write { file: src/old/**, rule: misplaced, because: goes away with the old scheduler, until: 2027-03-01 }",
				"an exception needs the file and the reason")
			continue
		}
		for _, t := range r.templates(file) {
			e := &Exception{File: t, Because: r.text(because), Line: position(v).Line}
			if rule := fields["rule"]; rule != nil {
				e.Rule = r.rule(rule)
			}
			if until := fields["until"]; until != nil {
				e.Until = r.day(until)
			}
			c.Exceptions = append(c.Exceptions, e)
		}
	}
}

func (r *reader) readLevels(c *Convention, n ast.Node) {
	c.Levels = map[string]finding.Level{}
	for _, pair := range r.pairs(n, "levels") {
		level := finding.Level(r.text(pair.Value))
		if level != finding.Error && level != finding.Warn && level != finding.Off {
			r.fail(position(pair.Value), "write error, warn or off", "%q is no level", string(level))
		}
		c.Levels[r.rule(pair.Key)] = level
	}
}

func (r *reader) readTop(c *Convention, n ast.Node) {
	c.Top = r.templates(n)
}
