package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
)

// Verified is what a look at one record found.
type Verified struct {
	Record *Record
	Wrong  []string // what is damaged or foreign, one sentence each
}

// Verify reads every record with all old contents. Nothing is changed.
func (j *Journal) Verify() ([]Verified, error) {
	records, err := j.Records()
	if err != nil {
		return nil, err
	}
	var out []Verified
	for _, r := range records {
		v := Verified{Record: r}
		if r.Damage != nil {
			v.Wrong = append(v.Wrong, r.Damage.Error())
		} else {
			_, damaged, err := r.readPack(j.disk)
			if err != nil {
				v.Wrong = append(v.Wrong, fmt.Sprintf("its old contents can't be read: %s", err))
			}
			for _, p := range damaged {
				v.Wrong = append(v.Wrong, fmt.Sprintf("the old content of %s is damaged", p))
			}
		}
		if r.Foreign && r.Damage == nil {
			v.Wrong = append(v.Wrong, "it was not made here by you")
		}
		out = append(out, v)
	}
	return out, nil
}

// ErrNoContent means that the journal has no old content of a path.
var ErrNoContent = errors.New("the journal has no whole old content of it")

// Extract gives the old content of a file, by its old or its new path, from the last record that has it whole. A
// damaged record is searched as well.
func (j *Journal) Extract(p string) ([]byte, error) {
	records, err := j.Records()
	if err != nil {
		return nil, err
	}
	for _, r := range slices.Backward(records) {
		if i := slices.IndexFunc(r.Files, func(f Entry) bool {
			return f.From == p ||
				f.From != "" && f.To == p
		}); i >= 0 && r.Damage == nil {
			if old, _, err := r.readPack(j.disk); err == nil && old[i] != nil {
				return old[i], nil
			}
			if held, err := j.disk.ReadFile(r.heldPath(i), noLimit); err == nil && sum(held) == r.Files[i].Before {
				return held, nil
			}
		}
		if pack, err := j.disk.ReadFile(path.Join(r.folder(), packFile), noLimit); err == nil {
			if content, found := findInPack(pack, p); found {
				return content, nil
			}
		}
	}
	return nil, ErrNoContent
}

// Forget deletes a record, so that it can't be taken back any more. One that can't be read is put aside instead, and
// the place is given. The lock must be held.
func (j *Journal) Forget(number int) (r *Record, aside string, err error) {
	records, err := j.Records()
	if err != nil {
		return nil, "", err
	}
	at := slices.IndexFunc(records, func(r *Record) bool { return r.Number() == number })
	if at < 0 {
		return nil, "", fmt.Errorf("the journal has no record %d; crooked undo --list shows those that it has", number)
	}
	r = records[at]
	if r.Damage == nil && r.Pending() {
		return nil, "", fmt.Errorf("record %d is of something that was stopped half way: crooked undo first", number)
	}
	if r.Damage == nil {
		return r, "", j.discard(r)
	}
	if err := j.disk.Mkdir(asideFolder, 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
		return nil, "", err
	}
	for n := 0; ; n++ {
		if aside = path.Join(asideFolder, r.Name); n > 0 {
			aside = fmt.Sprintf("%s-%d", aside, n+1)
		}
		if err := j.disk.Place(r.folder(), aside); !errors.Is(err, fs.ErrExist) {
			_ = j.disk.Remove(recordsFolder) // stays while there are other records
			return r, aside, err
		}
	}
}
