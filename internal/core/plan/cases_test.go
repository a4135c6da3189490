package plan_test

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/plan"
)

// The worked cases: hours and ratios to a millionth, held lists and findings as sets, texts
// free, all else exact.
func TestTheWorkedCases(t *testing.T) {
	t.Parallel()
	files, err := filepath.Glob("testdata/cases/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		t.Run(filepath.Base(file), func(t *testing.T) {
			data, err := os.ReadFile(file)
			require.NoError(t, err)
			var c struct {
				Plan   json.RawMessage `json:"plan"`
				Expect map[string]any  `json:"expect"`
			}
			require.NoError(t, json.Unmarshal(data, &c))
			p, errs := plan.Read(c.Plan)
			require.Empty(t, errs)
			answer, err := json.Marshal(p.Solve())
			require.NoError(t, err)
			var got map[string]any
			require.NoError(t, json.Unmarshal(answer, &got))
			assert.Equal(t, settled(c.Expect), settled(got))

			written, err := json.Marshal(p.Document(""))
			require.NoError(t, err)
			again, errs := plan.Read(written)
			require.Empty(t, errs, "what is written can be read")
			said, err := json.Marshal(again.Solve())
			require.NoError(t, err)
			assert.JSONEq(t, string(answer), string(said), "and says the same")
		})
	}
}

// settled rounds numbers, orders sets, and leaves texts out.
func settled(v any) any {
	switch v := v.(type) {
	case float64:
		return math.Round(v*1e6) / 1e6
	case map[string]any:
		out := map[string]any{}
		for key, item := range v {
			item = settled(item)
			if list, ok := item.([]any); ok && (key == "by" || key == "findings") {
				slices.SortFunc(list, func(a, b any) int {
					x, _ := json.Marshal(a)
					y, _ := json.Marshal(b)
					return slices.Compare(x, y)
				})
			}
			if key != "text" {
				out[key] = item
			}
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i, item := range v {
			out[i] = settled(item)
		}
		return out
	}
	return v
}

func TestUnusablePlansNameEveryError(t *testing.T) {
	t.Parallel()
	files, err := filepath.Glob("testdata/cases/bad/*.json")
	require.NoError(t, err)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		var c struct {
			Why, Text string
			Paths     []string
			Steps     [][]string
		}
		require.NoError(t, json.Unmarshal(data, &c))
		_, errs := plan.Read([]byte(c.Text))
		var paths []string
		var steps [][]string
		for _, e := range errs {
			paths = append(paths, e.Path)
			if len(e.Steps) > 0 {
				steps = append(steps, e.Steps)
			}
		}
		for _, want := range c.Paths {
			assert.Contains(t, paths, want, c.Why)
		}
		assert.Equal(t, c.Steps, steps, c.Why)
	}
}
