package csharp

import "crookedshelf/internal/source"

// merge adds what another reading of the same text found in branches that this one has not.
func (f *file) merge(other *file) {
	spaces, types := make([]int, len(other.spaces)), make([]int, len(other.types))
	for i, s := range other.spaces {
		spaces[i] = at(f.spaces, func(o *space) bool { return o.at == s.at })
		if spaces[i] < 0 {
			spaces[i] = len(f.spaces)
			if s.owner >= 0 {
				s.owner = spaces[s.owner]
			}
			f.spaces = append(f.spaces, s)
		}
	}
	f.first = min(f.first, other.first)
	f.spaces[0].first = f.first
	uses := finder(f.uses, func(u *use) source.Span { return u.at })
	fresh := make([]int, len(other.uses)) // where its uses are then
	for i, d := range other.types {
		types[i] = at(f.types, func(o *typeDecl) bool { return o.at == d.at })
		if types[i] >= 0 {
			continue
		}
		types[i] = len(f.types)
		if d.owner >= 0 {
			d.owner = types[d.owner]
		}
		d.space = spaces[d.space]
		d.supers = nil // they are added below
		f.types = append(f.types, d)
	}
	for i := range other.uses {
		u := other.uses[i]
		if k := uses(u.at); k >= 0 {
			fresh[i] = k
			f.uses[k].hidden = f.uses[k].hidden && u.hidden
			f.uses[k].sure = f.uses[k].sure || u.sure
			continue
		}
		fresh[i] = len(f.uses)
		first := int32(len(f.ends))
		f.ends = append(f.ends, other.ends[u.ends:u.ends+u.parts]...)
		u.ends = first
		if u.owner >= 0 {
			u.owner = int32(types[u.owner])
		}
		u.space = int32(spaces[u.space])
		f.uses = append(f.uses, u)
	}
	for i := range other.types {
		d := &f.types[types[i]]
		for _, s := range other.types[i].supers {
			if at(d.supers, func(o *int) bool { return *o == fresh[s] }) < 0 {
				d.supers = append(d.supers, fresh[s])
			}
		}
	}
	for _, one := range other.usings {
		if at(f.usings, func(o *using) bool { return o.whole == one.whole }) < 0 {
			if one.space = spaces[one.space]; one.use >= 0 {
				one.use = fresh[one.use]
			}
			f.usings = append(f.usings, one)
		}
	}
	members := finder(f.members, func(m *member) int { return m.at })
	for _, m := range other.members {
		if members(m.at) < 0 {
			m.owner = types[m.owner]
			f.members = append(f.members, m)
		}
	}
	selects := finder(f.selects, func(s *selected) int { return s.at })
	for _, s := range other.selects {
		if selects(s.at) < 0 {
			s.space = int32(spaces[s.space])
			f.selects = append(f.selects, s)
		}
	}
	texts := finder(f.texts, func(t *csText) int { return t.from })
	for _, t := range other.texts {
		if texts(t.from) < 0 {
			f.texts = append(f.texts, t)
		}
	}
	f.friends = append(f.friends, other.friends...)
	f.top = f.top || other.top
}

// finder gives a function that finds an item by its place; -1 for none. It is quick where they are asked for in their
// order.
func finder[T any, K comparable](items []T, place func(*T) K) func(K) int {
	next := 0
	var places map[K]int
	return func(at K) int {
		if next < len(items) && place(&items[next]) == at {
			next++
			return next - 1
		}
		if places == nil {
			places = make(map[K]int, len(items))
			for i := range items {
				places[place(&items[i])] = i
			}
		}
		k, there := places[at]
		if !there {
			return -1
		}
		next = k + 1
		return k
	}
}

// at gives the place of the first item that a function picks; -1 for none.
func at[T any](items []T, picks func(*T) bool) int {
	for i := range items {
		if picks(&items[i]) {
			return i
		}
	}
	return -1
}
