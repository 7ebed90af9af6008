package convention

import (
	"bytes"
	"encoding/json"
	"os"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// valid holds a convention against the schema.
func valid(t *testing.T, text []byte) error {
	t.Helper()
	schema, err := jsonschema.UnmarshalJSON(bytes.NewReader(Schema()))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("crooked.json", schema))
	compiled, err := c.Compile("crooked.json")
	require.NoError(t, err)
	asJSON, err := yaml.YAMLToJSON(text)
	require.NoError(t, err)
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(asJSON))
	require.NoError(t, err)
	return compiled.Validate(value)
}

// What the reader takes the schema takes, and an editor sees a wrong key or value.
func TestSchema(t *testing.T) {
	t.Parallel()
	for _, s := range Starters() {
		assert.NoError(t, valid(t, s.Text), s.Name)
	}
	for _, file := range []string{"../../crooked.yaml", "../../demo/hilltop/crooked.yaml"} {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		_, err = Read(file, text)
		require.NoError(t, err)
		assert.NoError(t, valid(t, text), file)
	}
	const head = "crooked: 1\n"
	for text, right := range map[string]bool{
		head +
			"shelves: { a: { at: x/, takes: { name: y } } }\n": true,
		head +
			"shelves: { a: { at: x/, inside: { b: {}, c: c/ } }, d: null }\nstarts_from: layered\n": true,
		head + "shelves: { a: { at: x/<y>/, apart: { but: z }, must: [a, { file: b, write: empty }] } }\n" +
			"levels: { loop: warn }\n": true,
		head + "shelves: { a: { att: x/ } }\n":                     false,
		head + "shelves: { a: x/ }\nlevels: { loops: warn }\n":     false,
		head + "shelves: { a: x/ }\nlevels: { loop: grave }\n":     false,
		head + "shelves: { a: { at: x/, takes: [{ nam: y }] } }\n": false,
		"shelves: { a: x/ }\n":                                     false,
	} {
		assert.Equal(t, right, valid(t, []byte(text)) == nil, text)
		if right {
			_, err := Read("crooked.yaml", []byte(text))
			assert.NoError(t, err, text)
		}
	}
	var schema struct{ Properties map[string]any }
	require.NoError(t, json.Unmarshal(Schema(), &schema))
	shipped, err := os.ReadFile("../../docs/crooked.schema.json")
	require.NoError(t, err)
	assert.Equal(t, string(shipped), string(Schema()),
		"docs/crooked.schema.json is what crooked explain --schema writes")
}
