// Package lang names the four questions that each language family answers (see docs/architecture.md): scan, resolve,
// spell and settle. A family is a value of type Family; there is no registration, internal/lang/all lists them.
//
// The package holds no language's rules and reads no file.
package lang

import "crookedshelf/internal/source"

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
)

func (k Kind) String() string {
	return [...]string{"import", "export", "dynamic import", "require", "require.resolve", "declare module", "reference path", "reference types", "setting"}[k]
}

// Mention is a span of text that names another file, folder or package. Span holds the replaceable text only, without
// quotes; Text is that text with its escapes decoded.
type Mention struct {
	Span source.Span
	Text string
	Kind Kind
}
