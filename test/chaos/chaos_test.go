package main

import (
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A short form of make chaos.
func TestNoEntryThatWasAnsweredForIsLostOrDoubledByKills(t *testing.T) {
	program := filepath.Join(t.TempDir(), "orpine")
	out, err := exec.Command("go", "build", "-o", program, "orpine/cmd/orpine").CombinedOutput()
	require.NoError(t, err, string(out))
	says, err := Run(t.Context(), program, t.TempDir(), 12, 14, func(int) {})
	require.NoError(t, err)
	assert.Contains(t, says, "each is there once")
	t.Log(says)
}
