package worksheet

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
)

// The worked cases were computed apart from this code, every u by numeric
// differentiation.
type workedCase struct {
	Worksheet json.RawMessage `json:"worksheet"`
	Expect    struct {
		Results []caseResult `json:"results"`
	} `json:"expect"`
	Paths   []string `json:"paths"`
	AtLeast int      `json:"at_least"`
}

type caseResult struct {
	Name, Kind, Verdict string
	Quantities          []quantityJSON
	Moves               []moveJSON
	Findings            []findingJSON
	Stack               *[]float64
	Answer              string
	Readings            []residualJSON
	Unseen              []string
	Want                string
	Next                []nextJSON
	Choices             *[]string
	CutTo               *float64      `json:"cut_to"`
	ShopHead            *shopHeadJSON `json:"shop_head"`
	Amounts             *[]float64
	Assumed             []assumedJSON
}

func loadCase(t *testing.T, path string) workedCase {
	t.Helper()
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	var c workedCase
	require.NoError(t, json.Unmarshal(data, &c))
	return c
}

func TestWorkedCases(t *testing.T) {
	t.Parallel()
	paths, err := filepath.Glob("testdata/cases/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	for _, path := range paths {
		t.Run(filepath.Base(path), func(t *testing.T) {
			c := loadCase(t, path)
			doc, errs := Parse(c.Worksheet)
			require.Empty(t, errs)
			data, err := EncodeResults(doc.Solve())
			require.NoError(t, err)
			var got struct{ Results []caseResult }
			require.NoError(t, json.Unmarshal(data, &got))
			require.Len(t, got.Results, len(c.Expect.Results))
			for i, want := range c.Expect.Results {
				compareResult(t, want, got.Results[i])
			}
		})
	}
}

func compareResult(t *testing.T, want, got caseResult) {
	t.Helper()
	assert.Equal(t, want.Name, got.Name)
	assert.Equal(t, want.Verdict, got.Verdict)
	assert.Len(t, got.Quantities, len(want.Quantities))
	for _, q := range want.Quantities {
		found := false
		for _, g := range got.Quantities {
			if g.Name == q.Name && assert.ObjectsAreEqual(q.At, g.At) {
				found = true
				comparePointer(t, q.Value, g.Value, 1e-6, 1e-7, q.Name)
				comparePointer(t, q.U, g.U, 1e-5, 1e-9, "u of "+q.Name)
				compareBound(t, q.Low, g.Low)
				compareBound(t, q.High, g.High)
				compareDoubt(t, q, g)
				q.Value, q.U, q.Low, q.High, q.Doubt = g.Value, g.U, g.Low, g.High, g.Doubt
				assert.Equal(t, q, g)
			}
		}
		assert.True(t, found, "quantity %s at %v", q.Name, q.At)
	}
	assert.Equal(t, codes(want.Findings), codes(got.Findings))
	assert.Len(t, got.Moves, len(want.Moves))
	for _, m := range want.Moves {
		found := false
		for _, g := range got.Moves {
			if g.At == m.At && g.Direction == m.Direction {
				found = true
				assert.True(t, near(m.Amount, g.Amount, 1e-6, 1e-7), "%s: want %v, got %v", m.At, m.Amount, g.Amount)
				compareStack(t, m.Stack, g.Stack)
			}
		}
		assert.True(t, found, "move at %s %s", m.At, m.Direction)
	}
	compareStack(t, want.Stack, got.Stack)
	assert.Equal(t, want.Assumed, got.Assumed)
	assert.Equal(t, want.Answer, got.Answer)
	compareNetwork(t, want, got)
	assert.Equal(t, want.Choices, got.Choices)
	comparePointer(t, want.CutTo, got.CutTo, 1e-6, 1e-7, "cut_to")
	compareStack(t, want.Amounts, got.Amounts)
	if assert.Equal(t, want.ShopHead == nil, got.ShopHead == nil, "shop head") && want.ShopHead != nil {
		assert.InDelta(t, want.ShopHead.DiameterMin, got.ShopHead.DiameterMin, 1e-9)
		assert.InDelta(t, want.ShopHead.Height, got.ShopHead.Height, 1e-9)
	}
}

// compareDoubt compares what u² is made of, by name, and that it is all of it.
func compareDoubt(t *testing.T, want, got quantityJSON) {
	t.Helper()
	shares, whole := map[string]float64{}, 0.0
	for i, d := range got.Doubt {
		shares[d.Of] = d.Share
		whole += d.Share
		assert.True(t, i == 0 || d.Share <= got.Doubt[i-1].Share+1e-9, "%s: the greatest first", got.Name)
	}
	if len(got.Doubt) > 0 {
		assert.InDelta(t, 1, whole, 1e-6, got.Name)
	}
	for _, d := range want.Doubt {
		assert.InDelta(t, d.Share, shares[d.Of], 1e-6, "%s: %s", got.Name, d.Of)
	}
	if want.Doubt != nil {
		assert.Len(t, got.Doubt, len(want.Doubt), got.Name)
	}
}

func comparePointer(t *testing.T, want, got *float64, relative, absolute float64, what string) {
	t.Helper()
	if want == nil || got == nil {
		assert.Equal(t, want == nil, got == nil, what)
		return
	}
	assert.True(t, near(*want, *got, relative, absolute), "%s: want %v, got %v", what, *want, *got)
}

// compareNetwork compares what an adjustment adds: values to 1e-6, the redundancies
// and what follows from them, which rest on uncertainties, to 1e-4.
func compareNetwork(t *testing.T, want, got caseResult) {
	t.Helper()
	assert.Equal(t, want.Unseen, got.Unseen)
	assert.Equal(t, want.Want, got.Want)
	require.Len(t, got.Readings, len(want.Readings))
	for i, r := range want.Readings {
		g := got.Readings[i]
		assert.Equal(t, r.ID, g.ID)
		assert.Equal(t, r.Suspect, g.Suspect, r.ID)
		assert.True(t, near(r.Residual, g.Residual, 1e-6, 1e-7), "residual of %s: want %v, got %v", r.ID, r.Residual, g.Residual)
		assert.True(t, near(r.U, g.U, 1e-6, 1e-9), "u of %s", r.ID)
		assert.True(t, near(r.Redundancy, g.Redundancy, 1e-4, 1e-7), "redundancy of %s: want %v, got %v", r.ID, r.Redundancy, g.Redundancy)
		comparePointer(t, r.W, g.W, 1e-4, 1e-6, "w of "+r.ID)
		comparePointer(t, r.Detectable, g.Detectable, 1e-4, 1e-7, "smallest detectable of "+r.ID)
	}
	require.Len(t, got.Next, len(want.Next))
	for i, n := range want.Next {
		g := got.Next[i]
		assert.True(t, near(n.U, g.U, 1e-4, 1e-9), "next %v: want %v, got %v", g, n.U, g.U)
		n.U = g.U
		assert.Equal(t, n, g)
	}
}

func compareBound(t *testing.T, want, got *float64) {
	t.Helper()
	if assert.Equal(t, want == nil, got == nil, "a bound") && want != nil {
		assert.InDelta(t, *want, *got, 1e-9)
	}
}

func compareStack(t *testing.T, want, got *[]float64) {
	t.Helper()
	if want == nil || got == nil {
		assert.Equal(t, want == nil, got == nil, "stack")
		return
	}
	assert.InDeltaSlice(t, *want, *got, 1e-9)
}

func codes(findings []findingJSON) map[string]bool {
	set := map[string]bool{}
	for _, f := range findings {
		set[f.Code] = true
	}
	return set
}

func near(want, got, relative, absolute float64) bool {
	return math.Abs(want-got) <= max(absolute, relative*math.Abs(want))
}

func TestUnusableCasesNameEveryError(t *testing.T) {
	t.Parallel()
	paths, err := filepath.Glob("testdata/cases/bad/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	for _, path := range paths {
		t.Run(filepath.Base(path), func(t *testing.T) {
			c := loadCase(t, path)
			_, errs := Parse(c.Worksheet)
			require.NotEmpty(t, errs)
			assert.GreaterOrEqual(t, len(errs), c.AtLeast)
			var got []string
			for _, e := range errs {
				got = append(got, e.Path)
			}
			for _, p := range c.Paths {
				assert.Contains(t, got, p)
			}
		})
	}
}

func TestTheExamplesInTheDocumentationAreSolved(t *testing.T) {
	t.Parallel()
	paths, err := filepath.Glob("../../docs/examples/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	shown := map[string]bool{}
	for _, path := range paths {
		data, err := os.ReadFile(path)
		require.NoError(t, err)
		doc, errs := Parse(data)
		require.Empty(t, errs, path)
		for _, solved := range doc.Solve() {
			if solved.Kind != "mix" && solved.Kind != "flush-stack" {
				assert.NotEmpty(t, solved.Quantities, solved.Name)
			}
			shown[solved.Kind] = true
		}
	}
	for _, kind := range slices.Concat(measure.Kinds, Joined, Set) {
		assert.True(t, shown[kind.Name], "no example of %s", kind.Name)
	}
}
