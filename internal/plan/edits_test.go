package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/plan"
	"crookedshelf/internal/source"
)

func TestRewrites(t *testing.T) {
	t.Parallel()
	edits := plan.FileEdits{Changes: []plan.Change{{Span: source.Span{Start: 10, End: 20}}, {Span: source.Span{Start: 30, End: 30}},
		{Span: source.Span{Start: 40, End: 45}}}}
	for at, touched := range map[source.Span]bool{
		{Start: 0, End: 10}: false, {Start: 5, End: 11}: true, {Start: 12, End: 15}: true, {Start: 19, End: 25}: true,
		{Start: 20, End: 30}: false, {Start: 44, End: 60}: true, {Start: 45, End: 60}: false, {Start: 0, End: 99}: true,
	} {
		assert.Equal(t, touched, edits.Rewrites(at), at)
	}
	assert.False(t, plan.FileEdits{}.Rewrites(source.Span{End: 9}))
}
