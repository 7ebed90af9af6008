package lang_test

import (
	"path"
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/lang"
)

func TestJoinIsThatOfPath(t *testing.T) {
	t.Parallel()
	for _, dir := range []string{".", "a", "a/b", "a/b/c", "..", "../a"} {
		for _, text := range []string{
			"", ".", "..", "./", "../", "./x", "../x", "../../x", "../../../x", "../../../../x", "./../x", "x", "x/y",
			"./x/", "./x//y", "./x/./y", "./x/../y", "./.x", "./x.", "/x",
			"./x/..", "./..", "../.", "./x/.y", "./[id]", "./x.test.ts", ".//x", "..//x",
		} {
			assert.Equal(t, path.Join(dir, text), lang.Join(dir, text), "%s and %s", dir, text)
		}
	}
}
