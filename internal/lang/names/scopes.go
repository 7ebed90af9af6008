package names

// Scopes are the variables and the types that are known at a place of code, by how many of a name there are: type
// parameters, and types that are declared in code.
type Scopes struct {
	vars, types map[string]int32
	undo        []string // in the order in which they were declared: those of types begin with a blank
}

// Clear forgets all.
func (s *Scopes) Clear() {
	if s.vars == nil {
		s.vars, s.types = map[string]int32{}, map[string]int32{}
	}
	clear(s.vars)
	clear(s.types)
	s.undo = s.undo[:0]
}

// Enter begins a part of code, and gives what Leave wants to end it.
func (s *Scopes) Enter() int { return len(s.undo) }

// Leave forgets what was declared since.
func (s *Scopes) Leave(mark int) {
	for _, name := range s.undo[mark:] {
		if name[0] == ' ' {
			s.types[name[1:]]--
		} else {
			s.vars[name]--
		}
	}
	s.undo = s.undo[:mark]
}

// Variable notes a variable.
func (s *Scopes) Variable(name string) {
	s.vars[name]++
	s.undo = append(s.undo, name)
}

// Type notes a type.
func (s *Scopes) Type(name string) {
	s.types[name]++
	s.undo = append(s.undo, " "+name)
}

// Hides says whether a name stands for one of them. sure: a type must stand there.
func (s *Scopes) Hides(name string, sure bool) bool {
	return s.types[name] > 0 || !sure && s.vars[name] > 0
}
