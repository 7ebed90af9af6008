package config

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/project/projecttest"
)

// Whether the compiler writes scripts is said by several keys, each with what it extends.
func TestWhatTheCompilerWrites(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		name, base, own string
		writes          bool
	}{
		{"no folder", `{}`, `{}`, false},
		{"a folder", `{}`, `{ "outDir": "dist" }`, true},
		{"a folder of what it extends", `{ "outDir": "dist" }`, `{}`, true},
		{"nothing", `{}`, `{ "outDir": "dist", "noEmit": true }`, false},
		{"types alone", `{}`, `{ "outDir": "dist", "emitDeclarationOnly": true }`, false},
		{"nothing, though it would not be types alone", `{}`, `{ "outDir": "dist", "noEmit": true, "emitDeclarationOnly": false }`, false},
		{"types alone by what it extends", `{ "emitDeclarationOnly": true }`, `{ "outDir": "dist", "noEmit": false }`, false},
		{"after all", `{ "noEmit": true }`, `{ "outDir": "dist", "noEmit": false }`, true},
	} {
		tree := projecttest.Load(t, "-- base.json --\n{ \"compilerOptions\": "+c.base+" }\n-- tsconfig.json --\n"+
			"{ \"extends\": \"./base.json\", \"compilerOptions\": "+c.own+" }\n")
		assert.Equal(t, c.writes, NewReader(tree).Compiler("tsconfig.json").Writes(), c.name)
	}
}
