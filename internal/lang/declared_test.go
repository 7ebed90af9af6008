package lang_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
)

// Which kinds of declaration are asked of a file follows from where it lies and what it is called.
func TestAsked(t *testing.T) {
	t.Parallel()
	c, err := convention.Read("crooked.yaml", []byte(`crooked: 1
pools: { widgets: [src/widgets/**] }
shelves:
  screens: src/screens/<screen>/
  parts: { at: src/parts/, takes: [{ pool: widgets, declares: component }, { pool: widgets }] }
  hooks: { at: src/hooks/, from: [src/lib/**], takes: [{ declares: [hook, { type: "<a>Props" }] }] }
  stores: { at: src/stores/, takes: [{ name: "*Store.ts", extends: Store }] }
  loaders: { at: src/loaders/, from: [src/lib/**], takes: [{ name: "*.loader.ts", declares: function, marked: Loads }] }
`))
	require.NoError(t, err)
	declared := lang.NewDeclared(c, false, nil)
	for file, want := range map[string]lang.DeclarationKinds{
		"src/widgets/Card.tsx":          lang.IsComponent,
		"src/parts/night/Card.tsx":      lang.IsComponent, // what stands on a shelf that takes from the pool is of it
		"src/lib/use.ts":                lang.IsHook | lang.IsType,
		"src/hooks/use.ts":              lang.IsHook | lang.IsType,
		"src/lib/nights.loader.ts":      lang.IsHook | lang.IsType | lang.IsFunction,
		"src/screens/night/Page.tsx":    0,
		"src/screens/night/SkyStore.ts": lang.AnyKind,
		"src/widgets/SkyStore.ts":       lang.AnyKind,
		"src/loaders/nights.ts":         0,
	} {
		assert.Equal(t, want, declared.Asked(file), file)
	}
}
