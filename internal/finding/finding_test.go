package finding

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestRulesAreDescribed(t *testing.T) {
	t.Parallel()
	seen := map[string]bool{}
	for _, r := range Rules() {
		assert.False(t, seen[r.ID], r.ID)
		seen[r.ID] = true
		for _, text := range []string{r.ID, r.Title, r.Why, r.Before, r.After, r.Fix} {
			assert.NotEmpty(t, text, r.ID)
		}
	}
}

func TestSort(t *testing.T) {
	t.Parallel()
	findings := []Finding{{Rule: Homeless, Path: "a"}, {Rule: Misplaced, Path: "c"}, {Rule: Misplaced, Path: "b"}}
	Sort(findings)
	assert.Equal(t, []Finding{{Rule: Misplaced, Path: "b"}, {Rule: Misplaced, Path: "c"}, {Rule: Homeless, Path: "a"}},
		findings)
}
