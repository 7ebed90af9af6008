package convention

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/source"
)

// Each row is a convention, and what is left of it when the move is done.
func TestStrikes(t *testing.T) {
	t.Parallel()
	for name, c := range map[string][2]string{
		"in the middle": {"crooked: 1\n\n# of the move\ncoming_from:\n  shelves: { a: y/** }\n\n# of all\n\nshelves: { a: x/ }\n",
			"crooked: 1\n\n# of all\n\nshelves: { a: x/ }\n"},
		"at the end": {"crooked: 1\nshelves: { a: x/ }\ncoming_from: { shelves: { a: y/** } } # soon\n# the end\n",
			"crooked: 1\nshelves: { a: x/ }\n# the end\n"},
		"at the end of the text": {"crooked: 1\nshelves: { a: x/ }\n\ncoming_from: { shelves: { a: y/** } }",
			"crooked: 1\nshelves: { a: x/ }\n\n"},
		"at first": {"coming_from:\n  shelves:\n    a:\n      - y/**\n      - z/**\n\ncrooked: 1\nshelves: { a: x/ }\n",
			"crooked: 1\nshelves: { a: x/ }\n"},
		"in braces": {"{ crooked: 1, coming_from: { shelves: { a: y/** } }, shelves: { a: x/ } }\n",
			"{ crooked: 1,  shelves: { a: x/ } }\n"},
		"last in braces": {"{ crooked: 1, shelves: { a: x/ }, coming_from: { shelves: { a: y/** } } }\n",
			"{ crooked: 1, shelves: { a: x/ } }\n"},
		"carriage returns": {"crooked: 1\r\ncoming_from: { shelves: { a: y/** } }\r\nshelves: { a: x/ }\r\n",
			"crooked: 1\r\nshelves: { a: x/ }\r\n"},
		"now and then": {"crooked: 1\nshelves: { a: x/ }\naliases: { \"~/*\": { then: \"x/*\", now: \"*\" } }\n" +
			"public: [{ folder: { now: p, then: \"q\" }, at: / }]\nsettings: [{ in: a.json, set: { now: 1, then: 2 } }]\n",
			"crooked: 1\nshelves: { a: x/ }\naliases: { \"~/*\": \"x/*\" }\n" +
				"public: [{ folder: \"q\", at: / }]\nsettings: [{ in: a.json, set: { now: 1, then: 2 } }]\n"},
		"nothing": {"crooked: 1\nshelves: { a: x/ }\n", "crooked: 1\nshelves: { a: x/ }\n"},
	} {
		read, err := Read("crooked.yaml", []byte(c[0]))
		require.NoError(t, err, name)
		after, err := source.Apply([]byte(c[0]), read.Strikes(nil))
		require.NoError(t, err, name)
		assert.Equal(t, c[1], string(after), name)
		_, err = Read("crooked.yaml", after)
		assert.NoError(t, err, name)
	}
}
