package main

import (
	"bytes"
	"net"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/store"
)

func TestDataLieWhereASystemKeepsThem(t *testing.T) {
	t.Parallel()
	env := func(pairs ...string) func(string) string {
		return func(name string) string {
			for i := 0; i < len(pairs); i += 2 {
				if pairs[i] == name {
					return pairs[i+1]
				}
			}
			return ""
		}
	}
	assert.Equal(t, filepath.Join("/home/b", ".local", "share", "orpine"), dataPlace("linux", env(), "/home/b"))
	assert.Equal(t, filepath.Join("/data", "orpine"), dataPlace("linux", env("XDG_DATA_HOME", "/data"), "/home/b"))
	assert.Equal(t, filepath.Join("/home/b", ".local", "share", "orpine"), dataPlace("linux", env("XDG_DATA_HOME", "data"), "/home/b"), "a path that is not whole is not followed")
	assert.Equal(t, filepath.Join("/Users/b", "Library", "Application Support", "Orpine"), dataPlace("darwin", env(), "/Users/b"))
	assert.Equal(t, filepath.Join("L", "Orpine"), dataPlace("windows", env("LocalAppData", "L"), "U"))
	assert.Equal(t, filepath.Join("U", "AppData", "Local", "Orpine"), dataPlace("windows", env(), "U"))
}

// A second start finds the first by what it wrote beside its lock.
func TestASecondStartFindsTheFirst(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	assert.Empty(t, runsAt(store.Owner(dir)))
	release, err := store.Own(dir, "orpine at http://127.0.0.1:8083")
	require.NoError(t, err)
	assert.Equal(t, "http://127.0.0.1:8083", runsAt(store.Owner(dir)))
	require.NoError(t, release())
	assert.Empty(t, runsAt(store.Owner(dir)))
}

func TestATakenPortIsPassedBy(t *testing.T) {
	t.Parallel()
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer taken.Close()
	free, err := freeAddr(taken.Addr().String(), 20)
	require.NoError(t, err)
	assert.NotEqual(t, taken.Addr().String(), free)
	_, err = freeAddr(taken.Addr().String(), 0)
	assert.ErrorContains(t, err, "taken by other programs")
}

func TestWhatStartsItWithTheMachine(t *testing.T) {
	t.Parallel()
	for system, says := range map[string]string{"linux": `ExecStart="/opt/a & b/orpine" serve --data "/data"`, "darwin": "<string>/opt/a &amp; b/orpine</string>", "windows": `/tr "\"/opt/a & b/orpine\" serve --data \"/data\""`} {
		text, ok := serviceText(system, "/opt/a & b/orpine", "/data")
		assert.True(t, ok)
		assert.Contains(t, text, says, system)
		assert.NotEmpty(t, opener(system, "http://127.0.0.1:8080")[0])
	}
	var out bytes.Buffer
	cmd := root()
	cmd.SetOut(&out)
	cmd.SetArgs([]string{"service", "--for", "linux", "--data", "/data"})
	require.NoError(t, cmd.Execute())
	assert.Contains(t, out.String(), `serve --data "/data"`)
	cmd.SetArgs([]string{"service", "--for", "plan9"})
	assert.ErrorContains(t, cmd.Execute(), "linux, darwin or windows")
	assert.True(t, strings.HasPrefix(out.String(), "# ~/.config"))
}
