package settings

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// Items are the texts of the list at a key of a settings file.
func Items(p string, src []byte, key []string) (out []string, err error) {
	if hasRows(p) {
		rows, err := rowsAt(p, src, key)
		for _, one := range rows {
			out = append(out, one.text)
		}
		return out, err
	}
	list, _, err := listAt(p, src, key)
	if err != nil {
		return nil, err
	}
	for _, item := range list.Items {
		out = append(out, item.Text)
	}
	return out, nil
}

// EditList gives the edits by which the list at a key of a settings file gets some texts, in the manner of the file,
// and loses others. The outcome is tried first: if the file read again would not hold just that list, it is refused.
func EditList(p string, src []byte, key, add, drop []string) (edits []source.Edit, err error) {
	if hasRows(p) {
		return editRows(p, src, key, add, drop)
	}
	made := source.Chain{Text: src}
	want, err := Items(p, src, key)
	if err != nil {
		return nil, err
	}
	for _, item := range drop {
		list, _, err := listAt(p, made.Text, key)
		if err != nil {
			return nil, err
		}
		i := slices.IndexFunc(list.Items, func(v *manifest.Value) bool { return v.Text == item })
		if i < 0 {
			continue
		}
		want = slices.Delete(want, slices.Index(want, item), slices.Index(want, item)+1)
		if err := made.Add(manifest.DropItem(made.Text, list, i)); err != nil {
			return nil, err
		}
	}
	for _, item := range add {
		list, style, err := listAt(p, made.Text, key)
		if err != nil {
			return nil, err
		}
		want = append(want, item)
		if err := made.Add(style.AddItem(made.Text, list, item)); err != nil {
			return nil, err
		}
	}
	read, _, err := writable(p, src)
	if err != nil {
		return nil, err
	}
	before, err := read(src)
	if err != nil {
		return nil, err
	}
	after, err := read(made.Text)
	if got, listErr := Items(p, made.Text, key); err != nil || listErr != nil || !slices.Equal(got, want) ||
		!sameBut(before, after, key) {
		return nil, errors.New("it can't be put in without touching anything else; write it by hand")
	}
	return made.Edits, nil
}

// listAt gives the list at a key, with the manner in which the file writes texts.
func listAt(p string, src []byte, key []string) (*manifest.Value, manifest.Style, error) {
	read, style, err := writable(p, src)
	if err != nil {
		return nil, style, err
	}
	root, err := read(src)
	if err != nil {
		return nil, style, err
	}
	list := root.At(key...)
	if list == nil || list.Kind != manifest.List {
		return nil, style, fmt.Errorf("there is no list at %s", strings.Join(key, "."))
	}
	for _, item := range list.Items { // in the quotes that the list has
		if style.Quote = item.Quote; style.Format != "YAML" && style.Quote == 0 {
			style.Quote = '"'
		}
	}
	return list, style, nil
}

// DropItems gives the edits by which a settings file loses the items of lists that stand at some places, given in their
// order; false where one is no item of a list, or can't be taken out alone.
func DropItems(p string, src []byte, places []source.Span) (edits []source.Edit, ok bool) {
	if hasRows(p) {
		return dropRows(p, src, places)
	}
	if lineKind(p) == containers {
		return dropCopies(src, places)
	}
	read, _, err := writable(p, src)
	if err != nil {
		return nil, false
	}
	made := source.Chain{Text: src}
	for _, at := range slices.Backward(places) { // from the end: what stands before it stays where it is
		root, err := read(made.Text)
		if err != nil {
			return nil, false
		}
		list, item := itemAt(root, at)
		if list == nil {
			return nil, false
		}
		if err := made.Add(manifest.DropItem(made.Text, list, item)); err != nil {
			return nil, false
		}
		after, err := read(made.Text)
		if err != nil || countValues(root)-countValues(after) != 1 {
			return nil, false
		}
	}
	return made.Edits, true
}

// countValues counts the values of a file that hold no others.
func countValues(root *manifest.Value) (n int) {
	root.Walk(func([]string, *manifest.Value) { n++ })
	return n
}

// itemAt gives the list in which an item stands at a place; nil for none.
func itemAt(v *manifest.Value, at source.Span) (*manifest.Value, int) {
	for i, item := range v.Items {
		if item.Kind == manifest.String && item.Span == at {
			return v, i
		}
		if list, found := itemAt(item, at); list != nil {
			return list, found
		}
	}
	for _, m := range v.Members {
		if list, found := itemAt(m.Value, at); list != nil {
			return list, found
		}
	}
	return nil, 0
}
