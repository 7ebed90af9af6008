package convention

import (
	"slices"
	"strings"
	"time"

	"github.com/goccy/go-yaml/ast"

	"crookedshelf/internal/finding"
	"crookedshelf/internal/template"
)

// Exception lets files be crooked for a while.
type Exception struct {
	File    *template.Template
	Rule    string // empty for all
	Shelf   string // the shelf on which the files belong; empty for any
	Because string
	Until   time.Time // the last day, UTC; zero for no end
	Line    int
}

// Expired says whether the exception's last day is over.
func (e *Exception) Expired(today time.Time) bool { return !e.Until.IsZero() && today.After(e.Until) }

// readWhere reads the values that placeholders may take: a list of them, or a mapping with a word for each wish.
func (r *reader) readWhere(n ast.Node) {
	r.where = map[string]*template.Where{}
	for _, pair := range r.pairs(n, "where") {
		w := &template.Where{Only: map[string]bool{}, Except: map[string]bool{}, Now: map[string]string{}}
		r.where[r.text(pair.Key)] = w
		if _, is := pair.Value.(*ast.SequenceNode); is {
			r.wordsOf(w.Only, pair.Value)
			continue
		}
		for _, entry := range r.pairs(pair.Value, "an entry of where") {
			switch key := r.text(entry.Key); key {
			case "only":
				r.wordsOf(w.Only, entry.Value)
			case "except":
				r.wordsOf(w.Except, entry.Value)
			case "today":
				r.readToday(w, entry.Value)
			default:
				r.fail(position(entry.Key), "for a limit write only: [a, b] or except: [a, b]; for values that are "+
					"called otherwise today write today: { "+key+": [a, b] }", "where has no word %q%s", key,
					template.Closest(key, allNames(whereKeys)))
			}
		}
	}
}

func (r *reader) wordsOf(out map[string]bool, n ast.Node) {
	for _, v := range r.list(n) {
		out[template.WordsKey(r.text(v))] = true
	}
}

// readToday reads the names that values have today: those of one value become that value.
func (r *reader) readToday(w *template.Where, n ast.Node) {
	for _, value := range r.pairs(n, "today") {
		for _, v := range r.list(value.Value) {
			if words := template.WordsKey(r.text(v)); w.Now[words] == "" {
				w.Now[words] = r.text(value.Key)
			}
		}
	}
}

func (r *reader) rule(n ast.Node) string {
	name := r.text(n)
	var names []string
	for _, rule := range finding.Rules() {
		names = append(names, rule.ID)
	}
	if !slices.Contains(names, name) {
		r.fail(position(n), "the rules are "+strings.Join(names, ", "), "there is no rule %q%s", name,
			template.Closest(name, names))
	}
	return name
}

func (r *reader) readExceptions(c *Convention, n ast.Node) {
	for _, v := range r.list(n) {
		fields := r.fields(v, "an exception", exceptionKeys)
		file, because := fields["file"], fields["because"]
		if file == nil || because == nil {
			r.fail(position(v), "write { file: src/old/**, rule: misplaced, because: goes away with the old "+
				"scheduler, until: 2027-03-01 }",
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

func (r *reader) readThin(c *Convention, n ast.Node) { c.Thin = r.templates(n) }

func (r *reader) readTop(c *Convention, n ast.Node) {
	c.Top = r.templates(n)
}
