package cli

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestProgress(t *testing.T) {
	t.Parallel()
	assert.Equal(t, "planning: 3 of 40 files read, 2s", progress("planning", 3, 40, "", 2300*time.Millisecond))
	assert.Equal(t, "planning: 40 of 40 files read, still at data/long.json, 3s",
		progress("planning", 40, 40, "data/long.json", 3*time.Second))
	assert.Equal(t, "surveying, 2s", progress("surveying", 0, 0, "", 2*time.Second))
	assert.Equal(t, "checking: 40 files read, working it out, 1m1s", progress("checking", 40, 40, "", 61*time.Second))
}
