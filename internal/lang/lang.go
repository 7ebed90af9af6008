// Package lang names the questions that each language family answers (see docs/architecture.md): scan, resolve and
// spell. A family says what mentions stand in a file; a set of rules says where mentions of some kinds lead and how
// they are spelled. The two are apart because one file can hold mentions of several kinds: a component has scripts,
// styles and markup. There is no registration, internal/lang/all lists both.
//
// The package holds no language's rules and reads no file.
package lang

import (
	"bytes"
	"slices"
	"sort"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Family is a group of languages that are read alike.
type Family struct {
	Name string
	// Reads says whether a file is one of the family, by its path.
	Reads func(path string) bool
	// Scan finds the mentions in a text, and its outline where the convention asks for what files declare: one pass
	// over its bytes, with no knowledge of the project beside what its convention declares. It never panics; a text
	// that it can't make sense of gives a *ScanError beside what was found.
	Scan func(s Source) (Scanned, error)
	// Index finds what the family's rules want to know of each of its files beside mentions: what it declares, what it
	// exports. It is asked when a rule first asks for the file, and once for each text. The content is gone when it
	// returns. Nil for a family whose rules want nothing.
	Index func(path string, content []byte) (any, error)
	// Rules reads the settings of a tree that decide where the family's mentions lead; nil where those of another
	// family answer for its kinds.
	Rules func(t *Tree) Rules
	// Fixed says what the name of a file means to the family's tools, where that binds it to its place; nil for none.
	Fixed func(path string) Fixture
	// Owner gives the file that another is a part of, by their names: they move as one. Empty for none; nil for a
	// family whose files are whole. there says whether the tree has a file.
	Owner func(path string, there func(path string) bool) string
	// InText says which places in a file lie in a string or a comment, and not in code; nil for a family whose files
	// are no code.
	InText func(content []byte) func(at int) bool
	// Omits: whoever names a file of the family may leave its ending out.
	Omits bool
	// States: a scan of the family finds what the convention states of any text.
	States bool
	// Declares: its scans say what files declare, where that is asked for.
	Declares bool
	// Words says whether a single word of a file, given by its path, may be the name of a folder or of a file; nil for a
	// family in whose files none is.
	Words func(path string) bool
	Facts Facts
	// Reexports writes and reads files that re-export; nil for a family that can't.
	Reexports *Reexports
	// ProjectName is the name that a manifest at the root gives the project; Requires gives, by the name of a file, the
	// function that adds what such a manifest asks for, and nil for a file that is none. Nil for a family that does not
	// know.
	ProjectName func(tree *project.Project) string
	Requires    func(name string) func(content []byte, out *Required)
}

// Required is what manifests ask for, as ranges of versions: of packages by their names, and of the languages that they
// are written in.
type Required struct{ Packages, Languages map[string]string }

// Reexports is how a file gives on what others export.
type Reexports struct {
	// Specifier writes the path of a file as it is imported from a folder, with the ending if endings are written.
	Specifier func(dir, to string, endings bool) string
	// Line writes what is given on of one file.
	Line func(out *bytes.Buffer, line EntryLine)
	// Gives says whether a text gives a name on, under that name, from a specifier.
	Gives func(text []byte, specifier, name string) bool
	// Endings: an import of a file may name its ending, or leave it out.
	Endings bool
}

// EntryLine is what a file gives on of another.
type EntryLine struct {
	Specifier string
	All       bool     // every name but the default, which are all that the file has
	Names     []string // those that no other file has given yet
	Default   string   // the name under which the default is given on; empty for none
}

// FamilyOf gives the family that reads a file; nil for none.
func (l Languages) FamilyOf(path string) *Family {
	for i := range l.Families {
		if l.Families[i].Reads(path) {
			return &l.Families[i]
		}
	}
	return nil
}

// Reexports gives what writes and reads a file that re-exports; nil where the file's language can't.
func (l Languages) Reexports(path string) *Reexports {
	if family := l.FamilyOf(path); family != nil {
		return family.Reexports
	}
	return nil
}

// Owner gives the file that another is a part of, by their names; empty for none.
func (l Languages) Owner(path string, there func(path string) bool) string {
	for i := range l.Families {
		if l.Families[i].Owner == nil {
			continue
		}
		if owner := l.Families[i].Owner(path, there); owner != "" {
			return owner
		}
	}
	return ""
}

// InText makes what says which places lie in strings or comments, from the tokens of a text: comments are none, so they
// stand between tokens. token gives where one begins and ends, and whether it is a string.
func InText(tokens int, token func(i int) (start, end int32, text bool)) func(at int) bool {
	return func(at int) bool {
		n := sort.Search(tokens, func(i int) bool { start, _, _ := token(i); return int(start) > at })
		if n == 0 {
			return true
		}
		_, end, text := token(n - 1)
		return at >= int(end) || text
	}
}

// BehindQuote says whether a quote stands right before a place: what every language can tell of where its strings
// begin.
func BehindQuote(content []byte) func(at int) bool {
	return func(at int) bool {
		return at > 0 && (content[at-1] == '"' || content[at-1] == '\'' || content[at-1] == '`')
	}
}

// Fixture is what binds a file to its place.
type Fixture struct {
	Why     string // a sentence's end: it ...; empty for a file that is bound by nothing
	Follows bool   // it is a part of its folder, and goes where the other files of the folder go
	Builds  bool   // it builds the project: what it reads must be where it looks
}

// Fixture says what the name of a file means to the tools of its language; the zero one, if it means nothing.
func (l Languages) Fixture(path string) Fixture {
	for _, f := range l.Families {
		if f.Fixed == nil {
			continue
		}
		if fixture := f.Fixed(path); fixture.Why != "" {
			return fixture
		}
	}
	return Fixture{}
}

// Rules answer for the mentions of some kinds, in one tree. All of them may be called by several goroutines. What a
// language does not have is nil.
type Rules struct {
	Kinds    []*Kind
	Resolver Resolver
	// Warnings are the settings that could not be read, one sentence each.
	Warnings []string

	// Settles says whether a mention is written together with the others of its statement, or of its file; all others
	// are spelled one by one.
	Settles func(m *Mention) bool
	// Settle gives the edits by which the mentions of one file lead where they must, in the order of the file, and the
	// mentions for which there are none. The rules that are asked are those of the new tree.
	Settle func(s Settling) (edits []Settled, failed []Failed)
	// Owes gives what moves owe to other files: what must be written, edited or removed so that all that moved is found
	// by whoever looks for it, and what the language forbids. before are the rules of the tree before the moves, and
	// those that are asked are of the tree after. They are asked again when a new file is there.
	Owes func(before *Rules, moves []Moved) []Duty
	// Links are the files to which a file of the tree belongs though no text says so.
	Links func(from project.FileID) []Link
	// Place gives the place that a file at a path of the tree stands in, if a tool fixes it, and Places all of the
	// tree: where a file stands there decides what it is, and no reference shows it.
	Place  func(path string) (Place, bool)
	Places func() []Place
	// Serves says whether the files of a folder have addresses by habit, which no setting gives them.
	Serves func(dir string) bool
	// Dotted is the name with dots of the file at a path of the tree, a.b of a/b.py; empty for none.
	Dotted func(path string) string
	// Loads adds the files that run when a target is imported: the packages around it too.
	Loads func(t Target, out []project.FileID) []project.FileID
	// Asks says whether a file is to be looked at once more, when it is known where its mentions lead, and Second gives
	// what else it mentions then, in its order. AnyFile: they are asked of files too that no family reads.
	AnyFile bool
	Asks    func(from project.FileID, mentions []Mention, targets []Target) bool
	Second  func(from project.FileID, content []byte) []Mention
	// Expects gives the paths of which one must be there if a mention that leads nowhere in the tree is whole; none where
	// that is not sure.
	Expects func(from project.FileID, m *Mention) []string
	// Tried gives where a mention was looked for: paths of the tree, those asked first in front.
	Tried func(from project.FileID, m *Mention) []string
	// Packages are the packages of the tree with what they ask for.
	Packages func() []Package
	// Unnamed: code names no package, so a use of a file is one of its package, and nothing is known of what code asks for.
	Unnamed bool
	// Part writes the packages that the convention wants; nil if none of them is of the language.
	Part func(q Parting) *Parted
	// Parts says whether a package has come between a file and what a mention of it leads to, so that the mention must be
	// written by the package's name though its text leads there. It is asked of the new tree.
	Parts func(request *Respelling) bool
	// Made gives the paths of what a compiler makes of a file and puts elsewhere; none where it makes nothing.
	Made func(id project.FileID) []string
	// Bindings are the names that a mention brings into its file. What it can't tell is Everything.
	Bindings func(content []byte, m *Mention) []Binding
	// Aliases are the names that stand for folders; mentions of all languages may use them.
	Aliases Aliases
	// Base is the folder from which a mention is read that stands in settings; false for one of which nothing is known.
	Base func(from string, m *Mention) (dir string, ok bool)
}

// Languages are the families and the rules that the program has.
type Languages struct {
	Families []Family // in the order in which they are asked
	// Shared are the rules for kinds of mention that are no language's own. Each kind belongs to one of the rules.
	Shared []func(t *Tree) Rules
	// Inert says whether a file of no family holds data alone.
	Inert func(path string) bool
	// Items are the texts of a list of a settings file, and EditList gives the edits by which it gets and loses some.
	Items    func(path string, src []byte, key []string) ([]string, error)
	EditList func(path string, src []byte, key, add, drop []string) ([]source.Edit, error)
	// DropItems gives the edits by which a settings file loses the items of lists that stand at some places, in their
	// order; false where one is none.
	DropItems func(path string, src []byte, places []source.Span) ([]source.Edit, bool)
	// Require gives the edit by which a settings file holds a value.
	Require func(path string, src []byte, key []string, value *manifest.Value) (source.Edit, bool, error)
}

// Aliases are the names that stand for folders in imports; other mentions may use them too.
type Aliases interface {
	// Expand gives the path from the root that a text stands for, and the alias that it uses.
	Expand(from, text string) (p, alias string, ok bool)
	// Contract writes a path by the alias, or by another that reaches it.
	Contract(from, p, alias string) (text string, ok bool)
}

// Resolver answers for one tree. It is safe for use by several goroutines.
type Resolver interface {
	// Resolve says where a mention leads: what the language's own tools would load.
	Resolve(from project.FileID, m *Mention) Target
	// Spell writes a mention anew, in the manner of its old text, so that it leads to a place of this resolver's tree.
	Spell(request Respelling) (Spelling, bool)
}

// Settling asks for the edits of one file.
type Settling struct {
	Old      Resolver // of the tree before
	OldFrom  project.FileID
	From     project.FileID // the same file in the new tree
	Content  []byte         // before
	Mentions []Mention
	Before   []Target // beside the mentions, in the old tree
	Want     []Target // beside them, in the new tree
	// Moves are all moves.
	Moves func() []Moved
	// Folder says where a folder of the old tree goes; false where its files go to several places.
	Folder func(dir string) (string, bool)
}

// Link is a reference without a text: by where two files stand, or what they are called. The files may move if it is
// there afterwards, or a mention leads where it led, or another file has taken the place of this one.
type Link struct {
	To  project.FileID
	Why string // what the file does, as the end of a sentence: is built with …
	As  string // another file may be there for the same afterwards, by this word; empty where none may
}

// Failed is a mention for which nothing can be written. Why says what stands against it; empty where that is plain.
// Lost are the moves at fault, by their old paths; where there are none, those of the target and of the file itself are.
type Failed struct {
	Mention int
	Why     string
	Lost    []string
}

// Settled is an edit of a file. Mentions are those that it is for; one whose place in the file it takes comes first.
type Settled struct {
	Edit     source.Edit
	Mentions []int
	Remark   string
}

// Duty is what moves owe to a file that names nothing of what moves.
type Duty struct {
	Path   string        // of the file, before the moves
	New    []byte        // what a file holds that must be there and is not, empty if need be; nil for none
	Edits  []source.Edit // of the file
	Remove bool          // the file is of no use any more, unless something refers to it
	// Why says what the edits are for. Where there are none it is the reason why the moves in Lost, given by their old
	// paths, can't be made; and without these, something that a reader should know of what stands at that byte.
	Why  string
	Lost []string
	At   int
}

// Moved is a file that has moved. Widen: declarations may be seen further than they were, where it would not compile else.
type Moved struct {
	From, To string
	Widen    bool
	Packaged bool // it comes to a package whose manifest was written for it
}

// Place is a folder that a tool looks into by itself.
type Place struct {
	Folder  string
	Rest    string // of a file: by what the tool knows it there
	By      string // the tool
	Package string // by which it is known that the tool is in use; empty where the folder itself shows it
	Why     string // a sentence's end: each file there …
	Setting string // the setting that moves the place; empty for none
	Stored  bool   // what is stored elsewhere remembers its files
	Named   bool   // a setting names the file, and follows it: only what comes there is asked for
	Alone   bool   // each file by itself, whatever becomes of the folder
	Public  bool   // its files are given out as they are: the convention may speak of their addresses
}

// Respelling asks for a mention's new text. The resolver that is asked is the one of the new tree.
type Respelling struct {
	Old     Resolver // of the tree before
	OldFrom project.FileID
	From    project.FileID // the same file in the new tree
	Before  Target         // in the old tree
	Target  Target         // where the mention must lead, in the new tree; ToNothing to keep the place that it names
	Mention *Mention
	Fails   bool // the old text is known to lead elsewhere in the new tree
	// Goes says where something that is no part of the tree will be, given by its place before: it goes with the folder
	// that it lies in.
	Goes func(place string) string
}

// Spelling is a mention's new text, decoded, and a remark where the manner of the old text could not be kept.
type Spelling struct {
	Text   string
	Remark string
}

// Mention is a span of text that names another file, folder or package. Span holds the replaceable text only, without
// quotes; Text is that text with its escapes decoded.
type Mention struct {
	Span source.Span
	Text string
	Kind *Kind
	Form Form
	// Quote is the character around the text; 0 for none.
	Quote byte
	// Likely: nothing defines the text as a reference, it only looks like one.
	Likely bool
	// Evident: the look of a likely mention and the place where it stands leave little doubt.
	Evident bool
	// Deferred: it is met when a function is called, or by type checkers alone, and not when the file is loaded.
	Deferred bool
	// Clause is how many bytes before Span the names of an import or export from another file begin, or the statement;
	// 0 for none.
	Clause int32
	// Group is how many bytes before Span the mention begins that stands for the statement of which this is a part; 0
	// for one that is no part.
	Group  int32
	Detail *Detail // nil for most
}

// StatementOf gives the mention that stands for the statement of another, by their indices in the order of the file:
// the other itself where it is no part of one.
func StatementOf(mentions []Mention, i int) int {
	m := &mentions[i]
	if m.Group == 0 {
		return i
	}
	at := m.Span.Start - int(m.Group)
	if n, found := slices.BinarySearchFunc(mentions[:i], at,
		func(m Mention, at int) int { return m.Span.Start - at }); found {
		return n
	}
	return i
}

// Detail is what few mentions have.
type Detail struct {
	// Join is the text that stands between the pieces of a path that is written in pieces, quotes included.
	Join string
	// Slash: the text follows a base without a slash between, so it begins with one: __dirname + '/x'.
	Slash bool
	// Must: it is an error of the project if the text leads nowhere.
	Must bool
	// Alias is the pattern that the mention defines the target of.
	Alias string
	// List: the text is an element of a list of folders and files, which may get more elements. It is the list's place.
	List int
	// Packaged: it says what a package gives out. A file that leaves the folder of a pattern is not meant any more.
	Packaged bool
	// Own is what only those know who answer for the mention's kind.
	Own any
}

// Alias is the pattern that the mention defines the target of; empty for none.
func (m *Mention) Alias() string {
	if m.Detail == nil {
		return ""
	}
	return m.Detail.Alias
}

// List is the place of the list of folders and files of which the mention is an element; 0 for none.
func (m *Mention) List() int {
	if m.Detail == nil {
		return 0
	}
	return m.Detail.List
}

// Must says whether it is an error of the project if the text leads nowhere.
func (m *Mention) Must() bool { return m.Detail != nil && m.Detail.Must }

// Own gives what only those know of a mention who answer for its kind; the zero value where there is nothing.
func Own[T any](m *Mention) T {
	if m.Detail != nil {
		if own, ok := m.Detail.Own.(T); ok {
			return own
		}
	}
	return *new(T)
}

// ScanError says what in a file could not be read.
type ScanError struct {
	Message string
	// Harmless: the file is taken to have no mentions, and can be moved.
	Harmless bool
}

func (e *ScanError) Error() string { return e.Message }

// TargetKind says what a mention leads to.
type TargetKind uint8

// The kinds of target.
const (
	ToNothing TargetKind = iota // nothing is there
	ToFile                      // a file of the tree
	ToFolder                    // a folder of the tree
	ToSet                       // the files that a pattern matches, or that lie in a folder that is listed
	ToPackage                   // an external package, or a part of the platform
	// something below the root that is no part of the tree (ignored, generated, not yet written), or beyond it
	ToOutside
)

// Inside says whether the target is a part of the tree.
func (k TargetKind) Inside() bool { return k == ToFile || k == ToFolder || k == ToSet }

// Target is where a mention leads.
type Target struct {
	Kind TargetKind
	File project.FileID // for ToFile; else project.None
	// Also is a second file that stands for the same thing, such as a script beside its declarations; else
	// project.None.
	Twin project.FileID
	wide *wide // nil for most
}

// wide is what few targets have.
type wide struct {
	folder string
	set    []project.FileID
}

// Folder is the folder; for ToSet the one that all files of the set lie in; else empty.
func (t Target) Folder() string {
	if t.wide == nil {
		return ""
	}
	return t.wide.folder
}

// Set has the files of a ToSet, in order.
func (t Target) Set() []project.FileID {
	if t.wide == nil {
		return nil
	}
	return t.wide.set
}

// Equal compares two targets of one tree. Sets are compared by their files, empty ones by their folder.
func (t Target) Equal(other Target) bool {
	if t.Kind != other.Kind {
		return false
	}
	switch t.Kind {
	case ToFile:
		return t.File == other.File && t.Twin == other.Twin
	case ToFolder:
		return t.Folder() == other.Folder()
	case ToSet:
		return t.wide == other.wide || slices.Equal(t.Set(), other.Set()) && (len(t.Set()) > 0 ||
			t.Folder() == other.Folder())
	}
	return true
}

// File makes a target of one file.
func File(id project.FileID) Target { return Target{Kind: ToFile, File: id, Twin: project.None} }

// Folder makes a target of a folder.
func Folder(dir string) Target {
	return Target{Kind: ToFolder, File: project.None, Twin: project.None, wide: &wide{folder: dir}}
}

// Set makes a target of the files that a pattern matches below a folder.
func Set(dir string, files []project.FileID) Target {
	return Target{Kind: ToSet, File: project.None, Twin: project.None, wide: &wide{dir, files}}
}

// FilesBelow makes a target of the files below a folder whose paths pass; one outside where none does.
func (t *Tree) FilesBelow(dir string, pass func(p string) bool) Target {
	var set []project.FileID
	for id, to := t.Below(dir); id < to; id++ {
		if pass(t.Path(id)) {
			set = append(set, id)
		}
	}
	if len(set) == 0 {
		return No(ToOutside)
	}
	return Set(dir, set)
}

// No makes a target that is no part of the tree.
func No(kind TargetKind) Target { return Target{Kind: kind, File: project.None, Twin: project.None} }
