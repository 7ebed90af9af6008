package carry

import (
	"fmt"
	"path"

	"crookedshelf/internal/lang"
)

// refuseFixed takes out what would leave a place that a tool fixes, or would be another thing in it. Where settings
// move the place along, it is the same in the new tree. It reports whether there are some.
func (w *worker) refuseFixed(d *Draft) bool {
	count := len(w.refused)
	for _, id := range w.moving() {
		from, to := w.tree.Path(id), w.moves[id]
		for _, rules := range w.Graph.Rules() {
			if rules.Place == nil {
				continue
			}
			was, fixed := rules.Place(from)
			if !fixed || was.Named || was.Public && (w.Addresses || w.Addressed(from)) {
				continue
			}
			is, still := d.After.Counterpart(&rules).Place(to)
			switch {
			case still && is.By == was.By && is.Why == was.Why && is.Rest == was.Rest:
			case was.Stored && (w.Stored || w.Remembered(from, to)):
			case was.Stored && was.Alone:
				w.refuse(id, was.Rest+" "+was.Why+", by "+was.By+"; --allow-stored lets it have another name")
			case was.Stored:
				// the application as a whole: a part of it would be another one
				w.refuseBelow(path.Dir(was.Folder), storedReason(was, is, still))
			case w.Addresses && still && is.By == was.By && is.Why == was.Why || w.Addressed(from):
			default:
				w.refuse(id, fixedReason(was, still && is.By == was.By && is.Why == was.Why))
			}
		}
	}
	return len(w.refused) > count
}

func storedReason(was, is lang.Place, still bool) string {
	now := "by nothing any more"
	if still {
		now = "by " + is.By
	}
	return fmt.Sprintf("each file of its kind in %s %s, by %s, and then %s: what is stored would be lost from sight; "+
		"--allow-stored lets it", was.Folder, was.Why, was.By, now)
}

func fixedReason(p lang.Place, within bool) string {
	by := p.By
	if p.Package != "" {
		by += fmt.Sprintf(" (the package %s is listed)", p.Package)
	}
	reason := fmt.Sprintf("each file of its kind in %s %s, by %s", p.Folder, p.Why, by)
	switch {
	case within:
		return reason + ", and it would be another one; --allow-addresses lets it"
	case p.Setting != "":
		return reason + "; the setting " + p.Setting + " would have to move with it"
	}
	return reason + ", and no setting moves that"
}
