package php

import (
	"path"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file writes paths anew: the text behind a base, or how far the base is above the file.

// pathSpelling asks for a path's new text.
type pathSpelling struct {
	old, now *Resolver
	oldFrom  project.FileID
	from     project.FileID
	expr     *pathExpr
	raw      string // the expression
	target   string // the path that it must lead to
	goes     func(folder string) string
}

// spell gives the new text of an expression.
func (q *pathSpelling) spell() (string, bool) {
	x := q.expr
	if p, ok := q.now.placeOf(q.from, x); ok && p == q.target && x.base == fromOwn && x.term == "" {
		return q.raw, true
	}
	switch x.base {
	case fromNothing:
		return q.fromOwnFolder()
	case fromOwn:
		if x.term == "" {
			return q.recount()
		}
	}
	// What a constant or a variable stands for goes with its folder: it has a mention of its own. So the text behind it is
	// counted from where the folder goes, and not from what the old text of the constant says in the new tree.
	base := x.place
	base.text = strings.TrimSuffix(x.text, q.literal())
	dir, more, ok := q.old.folder(q.oldFrom, base, x.block, 0)
	if !ok {
		return "", false
	}
	if x.literal.Len() == 0 {
		return q.raw, true
	}
	dir = q.goes(path.Join(dir, more))
	return q.withLiteral(q.behind(dir, strings.HasSuffix(more, "/"))), true
}

// literal is the text behind the base, as it was written.
func (q *pathSpelling) literal() string {
	x := q.expr
	if x.term == "" && x.base != fromConst {
		return strings.TrimPrefix(x.text, x.inside)
	}
	if x.term != "" {
		return strings.TrimPrefix(x.text, x.before.text)
	}
	return x.text
}

// behind is what must stand behind a folder. closed: the folder ends with a slash already.
func (q *pathSpelling) behind(dir string, closed bool) string {
	text := strings.TrimPrefix(lang.Relative(dir, q.target), "./")
	old := q.literal()
	if text == "." {
		text = ""
	}
	if strings.HasPrefix(old, "/") || !closed && text != "" {
		text = "/" + text
	}
	if text != "" && strings.HasSuffix(old, "/") && !strings.HasSuffix(text, "/") {
		text += "/"
	}
	return text
}

// withLiteral puts another text into the expression.
func (q *pathSpelling) withLiteral(text string) string {
	x := q.expr
	at := source.Span{Start: x.literal.Start - x.at.Start, End: x.literal.End - x.at.Start}
	if text == q.literal() {
		return q.raw
	}
	if x.unslashed {
		text = strings.TrimPrefix(text, "/")
	}
	if x.quote != 0 {
		text = string(x.quote) + text + string(x.quote)
	}
	return q.raw[:at.Start] + text + q.raw[at.End:]
}

// fromOwnFolder writes a bare path so that it counts from the file's own folder, wherever the program runs.
func (q *pathSpelling) fromOwnFolder() (string, bool) {
	x := q.expr
	text := strings.TrimPrefix(lang.Relative(path.Dir(q.now.tree.Path(q.from)), q.target), "./")
	if strings.HasSuffix(x.text, "/") && !strings.HasSuffix(text, "/") {
		text += "/"
	}
	if x.quote == 0 || x.term != "" {
		return "", false
	}
	literal := "__DIR__ . " + string(x.quote) + "/" + text + string(x.quote)
	start, end := x.literal.Start-x.at.Start, x.literal.End-x.at.Start
	return q.raw[:start] + literal + q.raw[end:], true
}

// recount writes a path that counts from the file's own folder: how far up the folder is that it counts from, and what
// stands behind it. The folder stays the one that it was while the file is below it.
func (q *pathSpelling) recount() (string, bool) {
	x := q.expr
	anchor, before := q.anchor()
	own := path.Dir(q.now.tree.Path(q.from))
	dir, ups := own, 0
	if before != 0 {
		was := path.Dir(q.old.tree.Path(q.oldFrom))
		for range x.up {
			was = path.Dir(was)
		}
		now := q.goes(path.Join(was, x.inside))
		switch {
		case now == "." || now == own || strings.HasPrefix(own, now+"/"):
			for dir != now {
				dir = path.Dir(dir)
				ups++
			}
		case before < 0: // it leads down again
			return "", false
		default:
			for range before {
				dir = path.Dir(dir)
				ups++
			}
		}
	}
	text := strings.TrimPrefix(lang.Relative(dir, q.target), "./")
	if text == "." {
		text = ""
	}
	raw := q.raw
	if x.literal.Len() > 0 {
		if text != "" || strings.HasSuffix(q.literal(), "/") {
			text = "/" + text
		}
		if strings.HasSuffix(q.literal(), "/") && !strings.HasSuffix(text, "/") {
			text += "/"
		}
		raw = q.withLiteral(q.sameDots(text))
	} else if text != "" {
		end := x.anchor.End - x.at.Start
		raw = raw[:end] + " . '/" + text + "'" + raw[end:]
	}
	if ups != before {
		at := source.Span{Start: x.anchor.Start - x.at.Start, End: x.anchor.End - x.at.Start}
		raw = raw[:at.Start] + counted(anchor, ups) + raw[at.End:]
	}
	return raw, true
}

// sameDots keeps the old text where it leads to the same.
func (q *pathSpelling) sameDots(text string) string {
	old := strings.TrimPrefix(q.literal(), ownFile)
	if path.Clean("."+text) == path.Clean("."+old) && strings.HasSuffix(text, "/") == strings.HasSuffix(q.literal(), "/") {
		return q.literal()
	}
	return text
}

// anchor gives the base of an expression as it is written, and how far above the file's own folder it is; -1 where that
// can't be written anew.
func (q *pathSpelling) anchor() (string, int) {
	x := q.expr
	text := q.raw[x.anchor.Start-x.at.Start : x.anchor.End-x.at.Start]
	if strings.HasPrefix(x.text, ownFile) && strings.EqualFold(text, "__FILE__") {
		return text, 0
	}
	if x.inside != "" { // realpath(__DIR__ . '/..')
		return text, -1
	}
	return text, x.up
}

// counted writes how far a folder is above the file, in the manner of an old text.
func counted(old string, ups int) string {
	lower := strings.ToLower(old)
	file := strings.Contains(lower, "__file__")
	real := strings.Contains(lower, "realpath(")
	out := "__DIR__"
	if file {
		out, ups = "__FILE__", ups+1
	}
	switch {
	case ups == 0:
	case ups == 1:
		out = "dirname(" + out + ")"
	case strings.Count(lower, "dirname(") > 1:
		out = strings.Repeat("dirname(", ups) + out + strings.Repeat(")", ups)
	default:
		out = "dirname(" + out + ", " + strconv.Itoa(ups) + ")"
	}
	if real {
		out = "realpath(" + out + ")"
	}
	return out
}
