package lang

// Kind says how a mention names its target. It is data of its language: each language has its own, and compares them by
// their addresses. All others ask for roles, so that a language brings kinds that nobody else has heard of.
type Kind struct {
	Name string // as reports call it
	Role Role
	// Looks says what a likely mention only looks like.
	Looks string
	// Library gives the library's name where a mention leads to one; nil if that is its text.
	Library func(text string) string
}

func (k *Kind) String() string { return k.Name }

// Is says whether a kind has one of some roles.
func (k *Kind) Is(roles Role) bool { return k.Role&roles != 0 }

// LibraryOf gives the name of the library that a mention leads to.
func LibraryOf(m *Mention) string {
	if m.Kind.Library == nil {
		return m.Text
	}
	return m.Kind.Library(m.Text)
}

// Same says whether two kinds are one to those who look for a mention again: kinds of one name differ in what else the
// file says of the same thing, as an import of it.
func (k *Kind) Same(other *Kind) bool { return k == other || k.Name == other.Name }

// Role is what a kind of mention means to those who know no language.
type Role uint32

// The roles.
const (
	// Imports: the target is loaded with the file. Such a mention goes through doors, and is a use of the target's
	// shelf.
	Imports Role = 1 << iota
	// Loads: the text is looked up among modules or style sheets. Where it begins to lead to a file, it means something
	// else.
	Loads
	// ByName: a text that is no relative path may be a name that settings explain.
	ByName
	// Brings: the mention brings names of its target into the file.
	Brings
	// ReExports: what the target gives is given on.
	ReExports
	// Binds: the name that it brings must be brought again where its statement is written anew.
	Binds
	// Brought: a name that an import of the file brings, or the file's own package. The import is judged, and the name
	// follows it.
	Brought
	// Whole: it stands for its statement; the parts of that are judged one by one.
	Whole
	// Part: one name of a statement. What stands for the statement says what is wrong with the whole.
	Part
	// Packed: the files that it leads to are one package, so one of them stands for all.
	Packed
	// OwnName: the name that a file gives itself.
	OwnName
	// Decides: other mentions are resolved by it, so it is written first.
	Decides
	// Defines: it says what a name stands for.
	Defines
	// Pattern: it is meant for whatever is there, also for files that are to be written.
	Pattern
	// Ignores: it keeps files out. One that leads nowhere does no harm.
	Ignores
	// Based: it is read from a folder that other mentions name, so the same text may lead to another place.
	Based
	// InCode: a string of code that only looks like one.
	InCode
	// Doubtful: a string of code that may be anything, until its look and its place leave little doubt.
	Doubtful
	// Composed: a path that code puts together from a folder.
	Composed
	// Configures: it stands in settings.
	Configures
	// Runs: what it leads to is run.
	Runs
	// Starts: what it leads to is run, if it stands in a file that starts programs.
	Starts
	// Remarks: it stands in a comment, and nothing needs what it leads to.
	Remarks
)
