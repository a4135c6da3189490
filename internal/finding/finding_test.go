package finding

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func filled(t testing.TB, path string) *Index {
	t.Helper()
	x, err := Open(path)
	require.NoError(t, err)
	t.Cleanup(func() { x.Close() })
	require.NoError(t, x.Put(t.Context(), []Doc{
		{Sort: "part", ID: "1", Title: "T-204 bracket left", More: "lot 77", Place: "box 4", Path: "/stores#1"},
		{Sort: "setup", ID: "2", Title: "tailplane on the rails", Path: "/setups/2"},
		{Sort: "row", ID: "3", Title: "rib 8", Place: "wing panel left", Path: "/rows/3"},
		{Sort: "log", ID: "4", Title: "Fläche gelötet", More: "tailplane", Path: "/log#4"},
	}, map[string]string{"seq": "9"}))
	return x
}

func paths(t *testing.T, x *Index, text string, sorts ...string) (out []string) {
	t.Helper()
	hits, err := x.Search(t.Context(), text, 10, sorts...)
	require.NoError(t, err)
	for _, h := range hits {
		out = append(out, h.Path)
	}
	return out
}

func TestItIsFoundFromTheFirstLetterAndMisspelt(t *testing.T) {
	t.Parallel()
	x := filled(t, "")
	assert.Equal(t, []string{"/stores#1"}, paths(t, x, "br"))
	assert.Equal(t, []string{"/stores#1"}, paths(t, x, "t-204"))
	assert.Equal(t, []string{"/stores#1"}, paths(t, x, "braket"), "braket shares bra, rak no; ket with bracket")
	assert.Equal(t, []string{"/setups/2"}, paths(t, x, "tailplain"))
	assert.Equal(t, []string{"/setups/2"}, paths(t, x, "tailplain", "setup"))
	assert.Equal(t, []string{"/rows/3"}, paths(t, x, "wing rib"), "all of the words, wherever they stand")
	hits, err := x.Search(t.Context(), "flache", 10, Log)
	require.NoError(t, err)
	assert.Equal(t, "Fläche gelötet", hits[0].Title, "without its dots, too")
	assert.Empty(t, paths(t, x, "zzz"))
	assert.Empty(t, paths(t, x, `"* OR ( NEAR`), "what a query would be is words")
	assert.Empty(t, paths(t, x, ""))
}

// "  bracket " has 8 trigrams, "  braket " 7; five are in both: 2 × 5 / 15.
func TestLikenessIsTheShareOfTrigrams(t *testing.T) {
	t.Parallel()
	assert.InDelta(t, 10./15, like("bracket", "braket"), 1e-9)
	assert.InDelta(t, 1, like("rib", "rib"), 1e-9)
	assert.Zero(t, like("rib", "oak"))
}

func TestWhatChangesIsFoundAsItIsAndWhatIsGoneIsNot(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "find.db")
	x := filled(t, path)
	require.NoError(t, x.Put(t.Context(), []Doc{{Sort: "row", ID: "3", Title: "rib 9", Path: "/rows/3"}, {Sort: "part", ID: "1", Gone: true}}, map[string]string{"seq": "11"}))
	assert.Empty(t, paths(t, x, "8"))
	assert.Equal(t, []string{"/rows/3"}, paths(t, x, "rib 9"))
	assert.Empty(t, paths(t, x, "bracket", "part"))
	require.NoError(t, x.Close())
	x, err := Open(path)
	require.NoError(t, err)
	assert.Equal(t, "11", x.State(t.Context(), "seq"), "it is there the next evening")
	require.NoError(t, x.Close())
	require.NoError(t, os.WriteFile(path, []byte("no index at all, but long enough to be taken for a file of some program"), 0o600))
	x, err = Open(path)
	require.NoError(t, err, "and made anew when it is lost")
	assert.Empty(t, x.State(t.Context(), "seq"))
	require.NoError(t, x.Close())
}

func BenchmarkSearchOfTwentyThousand(b *testing.B) {
	x, err := Open("")
	require.NoError(b, err)
	var docs []Doc
	for i := range 20000 {
		docs = append(docs, Doc{Sort: "log", ID: fmt.Sprint(i), Title: fmt.Sprintf("rib %d, angle: 0.%02d", i%40, i%100), More: fmt.Sprintf("wing panel %d, level %d", i%9, i%3)})
	}
	require.NoError(b, x.Put(b.Context(), docs, nil))
	for _, text := range []string{"r", "rib 12", "ancle pannel"} {
		b.Run(text, func(b *testing.B) {
			for b.Loop() {
				_, err := x.Search(b.Context(), text, 40)
				require.NoError(b, err)
				_, err = x.Search(b.Context(), text, 10, Log)
				require.NoError(b, err)
			}
		})
	}
	b.Run("an entry", func(b *testing.B) {
		for i := 0; b.Loop(); i++ {
			require.NoError(b, x.Put(b.Context(), []Doc{{Sort: "log", ID: fmt.Sprint(30000 + i), Title: "rib 4, angle: 0.15"}}, nil))
		}
	})
}
