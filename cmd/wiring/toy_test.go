package wiring_test

import (
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A capability more is folders of its own, a file of queries, a migration, and a line
// here: a copy of the program gets the files of testdata/weather, none of which is there
// already, and that line, and passes the tests of the layers, the tables and its own.
func TestACapabilityIsAddedByItsOwnFilesAndOneLine(t *testing.T) {
	if os.Getenv("ORPINE_TOY") == "" {
		t.Skip("it builds the whole program once more, which takes a minute: make toy")
	}
	dir := t.TempDir()
	root, err := filepath.Abs("../..")
	require.NoError(t, err)
	for _, name := range []string{"internal", "cmd", "test"} {
		require.NoError(t, os.CopyFS(filepath.Join(dir, name), os.DirFS(filepath.Join(root, name))))
	}
	for _, name := range []string{"go.mod", "go.sum"} {
		data, err := os.ReadFile(filepath.Join(root, name))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), data, 0o600))
	}
	var added []string
	toy := os.DirFS("testdata/weather")
	require.NoError(t, fs.WalkDir(toy, ".", func(path string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			_, there := os.Stat(filepath.Join(dir, path))
			assert.ErrorIs(t, there, fs.ErrNotExist, path)
			added = append(added, path)
		}
		return err
	}))
	require.Len(t, added, 7, "two folders, a file of queries with what sqlc makes of it, and a migration: %v", added)
	require.NoError(t, os.CopyFS(dir, toy))
	wiring := filepath.Join(dir, "cmd/wiring/wiring.go")
	data, err := os.ReadFile(wiring)
	require.NoError(t, err)
	text := strings.Replace(string(data), "var Parts = []Part{\n", "var Parts = []Part{\n\t{weather.Capability, weathersheet.Routes},\n", 1)
	text = strings.Replace(text, "import (\n", "import (\n\t\"orpine/internal/weather\"\n\tweathersheet \"orpine/internal/web/weather\"\n", 1)
	require.NoError(t, os.WriteFile(wiring, []byte(text), 0o600))
	// One run for all of it, without vet, which is run on the program itself.
	cmd := exec.Command("go", "test", "-vet=off", "-run", "NoteIsKept|OneWay|OnlyItsOwner|NeverImports|Declared", "./internal/weather", "./internal/core", "./internal/ledger")
	cmd.Dir = dir
	out, err := cmd.CombinedOutput()
	assert.NoError(t, err, string(out))
	assert.Equal(t, 3, strings.Count(string(out), "ok  \t"), "each of them ran: %s", out)
	assert.NotContains(t, string(out), "no tests to run")
}
