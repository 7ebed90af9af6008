// Package lang names the questions that each language family answers (see docs/architecture.md): scan, resolve, spell
// and settle. A family is a value of type Family; there is no registration, internal/lang/all lists them.
//
// The package holds no language's rules and reads no file.
package lang

import (
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Family is a group of languages that are read alike.
type Family struct {
	Name string
	// Reads says whether a file is one of the family, by its path.
	Reads func(path string) bool
	// Scan finds the mentions in a file: one pass over its bytes, with no knowledge of the project. It never panics; a
	// file that it can't make sense of gives a *ScanError beside what was found.
	Scan func(path string, content []byte) ([]Mention, error)
	// Resolver reads the settings in a tree that decide where mentions lead, and gives what answers for that tree.
	Resolver func(p *project.Project) Resolver
	// Encode writes a mention's decoded text as it must stand between its quotes.
	Encode func(text string, quote byte) string
}

// Resolver answers for one tree. It is safe for use by several goroutines.
type Resolver interface {
	// Resolve says where a mention leads: what the language's own tools would load.
	Resolve(from project.FileID, m Mention) Target
	// Spell writes a mention anew, in the manner of its old text, so that it leads to a file of this resolver's tree.
	Spell(request Respelling) (Spelling, bool)
	// Warnings are the settings that could not be read, one sentence each.
	Warnings() []string
}

// Respelling asks for a mention's new text. The resolver that is asked is the one of the new tree.
type Respelling struct {
	Old     Resolver // of the tree before
	OldFrom project.FileID
	From    project.FileID // the same file in the new tree
	Target  project.FileID // where the mention must lead, in the new tree
	Mention Mention
}

// Spelling is a mention's new text, decoded, and a remark where the manner of the old text could not be kept.
type Spelling struct {
	Text   string
	Remark string
}

// Kind says how a mention names its target.
type Kind uint8

// The kinds of mention.
const (
	Import         Kind = iota // import 'x', import a from 'x'
	ExportFrom                 // export * from 'x'
	DynamicImport              // import('x'), as an expression or as a type
	Require                    // require('x'), also in import a = require('x')
	RequireResolve             // require.resolve('x')
	DeclareModule              // declare module 'x'
	ReferencePath              // /// <reference path="x" />
	ReferenceTypes             // /// <reference types="x" />
	Setting                    // a value of a settings file that is a path
	StyleImport                // @import 'x', composes: a from 'x'
	StyleAsset                 // url(x)
)

func (k Kind) String() string {
	return [...]string{
		"import", "export", "dynamic import", "require", "require.resolve", "declare module", "reference path", "reference types",
		"setting", "style import", "style asset",
	}[k]
}

// Mention is a span of text that names another file, folder or package. Span holds the replaceable text only, without
// quotes; Text is that text with its escapes decoded.
type Mention struct {
	Span source.Span
	Text string
	Kind Kind
	// Quote is the character around the text; 0 for none.
	Quote byte
}

// ScanError says what in a file could not be read.
type ScanError struct {
	Offset  int
	Message string
}

func (e *ScanError) Error() string { return e.Message }

// TargetKind says what a mention leads to.
type TargetKind uint8

// The kinds of target.
const (
	ToNothing TargetKind = iota // nothing is there
	ToFile                      // a file of the tree
	ToPackage                   // an external package, or a part of the platform
	ToOutside                   // something below the root that is no part of the tree (ignored, generated, not yet written), or beyond it
)

// Target is where a mention leads.
type Target struct {
	Kind TargetKind
	File project.FileID // for ToFile; else project.None
	// Also is a second file that stands for the same thing, such as a script beside its declarations; else project.None.
	Also project.FileID
}

// File makes a target of one file.
func File(id project.FileID) Target { return Target{Kind: ToFile, File: id, Also: project.None} }

// No makes a target that is no file.
func No(kind TargetKind) Target { return Target{Kind: kind, File: project.None, Also: project.None} }
