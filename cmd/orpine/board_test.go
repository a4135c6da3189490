package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestBoardWritesEachFormat(t *testing.T) {
	dir := t.TempDir()
	for name, begins := range map[string]string{"b.dxf": "  0\r\nSECTION", "b.svg": "<svg ", "b.pdf": "%PDF-"} {
		file := filepath.Join(dir, name)
		_, err := run(t, "", "board", "--section", "4415", "--chord", "46 1/2 in", "--angle", "-1°30'", "-o", file, "--format", strings.TrimPrefix(filepath.Ext(name), "."))
		require.NoError(t, err)
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.True(t, strings.HasPrefix(string(data), begins), name)
	}
	out, err := run(t, "", "board", "--section", "0012", "--chord", "620", "--angle", "2.5", "--format", "dxf", "-o", "-")
	require.NoError(t, err)
	assert.NotContains(t, out, "BOARD", "only with cut-outs")
	out, err = run(t, "", "board", "--section", "0012", "--chord", "620", "--angle", "2.5", "--spar-at", "170", "--spar-width", "40", "--spar-depth", "5", "--format", "dxf", "-o", "-")
	require.NoError(t, err)
	assert.Contains(t, out, "BOARD")
}

func TestBoardSaysWhatIsWrong(t *testing.T) {
	bad := filepath.Join(t.TempDir(), "open.txt")
	require.NoError(t, os.WriteFile(bad, []byte("1 0.1\n0.5 0.2\n0.2 0.1\n0 0\n0.4 -0.1\n0.7 -0.1\n1 0\n"), 0o600))
	for _, c := range []struct {
		says string
		args []string
	}{
		{"not both", []string{"--chord", "1", "--angle", "1"}},
		{"--section", []string{"--section", "44", "--chord", "620", "--angle", "1"}},
		{"--chord", []string{"--section", "4415", "--chord", "long", "--angle", "1"}},
		{"--angle", []string{"--section", "4415", "--chord", "620", "--angle", "steep"}},
		{"chord", []string{"--section", "4415", "--chord", "6", "--angle", "1"}},
		{"not closed", []string{"--coordinates", bad, "--chord", "620", "--angle", "1"}},
		{"no such file", []string{"--coordinates", bad + "x", "--chord", "620", "--angle", "1"}},
		{"dxf, svg or pdf", []string{"--section", "4415", "--chord", "620", "--angle", "1", "--format", "png"}},
		{"a4 or letter", []string{"--section", "4415", "--chord", "620", "--angle", "1", "--format", "pdf", "--paper", "b5"}},
		{"spar-width", []string{"--section", "4415", "--chord", "620", "--angle", "1", "--spar-at", "100", "--format", "svg"}},
	} {
		out, err := run(t, "", append([]string{"board", "-o", "-"}, c.args...)...)
		assert.ErrorContains(t, err, c.says)
		assert.Empty(t, out)
	}
}
