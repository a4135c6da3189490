package archive

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"orpine/internal/core/journal"
)

// Forge writes an archive of what another holds, with other entries.
func Forge(t testing.TB, like *Archive, entries []journal.Entry) []byte {
	t.Helper()
	var out bytes.Buffer
	w := &writer{zip: zip.NewWriter(&out), manifest: Manifest{Format: Format, Version: Version, Scope: like.Scope, Aircraft: like.Manifest.Aircraft, Members: []Member{}}}
	require.NoError(t, w.journal(func(each func(journal.Entry) error) error {
		for _, e := range entries {
			if err := each(e); err != nil {
				return err
			}
		}
		return nil
	}))
	data, err := json.Marshal(w.manifest)
	require.NoError(t, err)
	last, err := w.zip.Create(manifestName)
	require.NoError(t, err)
	_, err = last.Write(data)
	require.NoError(t, err)
	require.NoError(t, w.zip.Close())
	return out.Bytes()
}
