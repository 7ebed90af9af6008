package script

import (
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
)

const specifier = lang.Loads | lang.ByName // of a module

// The kinds of mention that name modules.
var (
	// import 'x', import a from 'x'
	Import = &lang.Kind{Name: "import", Role: specifier | lang.Imports | lang.Brings, Library: paths.Library}
	// export * from 'x'
	ExportFrom = &lang.Kind{Name: "export", Role: specifier | lang.Imports | lang.Brings | lang.ReExports,
		Library: paths.Library}
	// import('x'), as an expression or as a type
	DynamicImport = &lang.Kind{Name: "dynamic import", Role: specifier | lang.Imports, Library: paths.Library}
	// require('x'), also in import a = require('x')
	Require = &lang.Kind{Name: "require", Role: specifier | lang.Imports, Library: paths.Library}
	// require.resolve('x')
	RequireResolve = &lang.Kind{Name: "require.resolve", Role: lang.Loads, Library: paths.Library}
	// declare module 'x'
	DeclareModule = &lang.Kind{Name: "declare module", Role: lang.Loads, Library: paths.Library}
	// /// <reference path="x" />
	ReferencePath = &lang.Kind{Name: "reference path", Role: lang.Loads, Library: paths.Library}
	// /// <reference types="x" />
	ReferenceTypes = &lang.Kind{Name: "reference types", Role: lang.Loads, Library: paths.Library}
	// a test runner's mock('x')
	Mock = &lang.Kind{Name: "mock", Role: specifier | lang.Imports, Library: paths.Library}
)

// Kinds are the kinds of mention that the resolver answers for.
var Kinds = []*lang.Kind{Import, ExportFrom, DynamicImport, Require, RequireResolve, DeclareModule, ReferencePath,
	ReferenceTypes, Mock}
