package rivet

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

func solve(c measure.Check) measure.Result {
	return measure.Solve(c, nil, measure.Decision{Coverage: 2})
}

func value(t *testing.T, r measure.Result, name string) float64 {
	t.Helper()
	q, ok := r.Quantity(name)
	require.True(t, ok, name)
	return q.Value
}

func codes(r measure.Result) (out []string) {
	for _, f := range r.Findings {
		out = append(out, f.Code)
	}
	return out
}

func mm(v float64) *quantity.Length { return (*quantity.Length)(&v) }

// A metric rivet of 4 mm: the shop head takes 1.5 D = 6 mm. A grip of 5.4 wants 11.4,
// so 11; 10.4 lies at the lower end (1.25 D), 12.4 at the upper (1.75 D).
func TestASolidRivetsLengthIsJudgedByWhatStandsOut(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		callout *quantity.Length
		out     float64
		verdict measure.Verdict
		code    []string
	}{
		{nil, 1.4, measure.Go, nil},
		{mm(10.4), 1.25, measure.Go, nil},
		{mm(10.3), 1.225, measure.Stop, []string{"too-short"}},
		{mm(12.4), 1.75, measure.Go, nil},
		{mm(12.5), 1.775, measure.Unsure, []string{"too-long"}},
	} {
		r := solve(&Solid{Diameter: measure.Diameter{MM: 4, Metric: true}, Stack: []quantity.Length{3, 1.6, 0.8}, Callout: test.callout})
		assert.InDelta(t, 11, value(t, r, "choice"), 1e-9)
		assert.InDelta(t, test.out, value(t, r, "protrusion"), 1e-9)
		assert.Equal(t, test.verdict, r.Verdict)
		assert.Equal(t, test.code, codes(r))
		assert.InDelta(t, 5.2, r.Rivet.ShopHead.DiameterMin, 1e-9)
	}
}

// A tie goes upward: 3/32 in rivets in a grip of 1.19063 mm want 4.7625 = 3/16 in
// plus or minus nothing; half a sixteenth more ties between 3/16 and 1/4 in.
func TestTiesAndSixteenths(t *testing.T) {
	t.Parallel()
	d := measure.Diameter{MM: 25.4 * 3 / 32}
	tie := 25.4*7/32 - 1.5*d.MM // needed = 7/32 in, half way from 3/16 to 1/4
	assert.InDelta(t, 25.4/4, value(t, solve(&Solid{Diameter: d, Stack: []quantity.Length{quantity.Length(tie)}}), "choice"), 1e-9)
}

// A thin rivet, 1 mm: whole millimetres stand out by 1.25 to 1.75 D only for some
// grips. At a grip of 2.0 neither 3 (1.0 D) nor 4 (2.0 D) does: 4 is cut to 3.5.
func TestBetweenTwoSizesTheNextLongerIsCutDown(t *testing.T) {
	t.Parallel()
	c := &Solid{Diameter: measure.Diameter{MM: 1, Metric: true}, Stack: []quantity.Length{2}}
	r := solve(c)
	assert.Equal(t, []string{"cut-down"}, codes(r))
	assert.InDelta(t, 4, value(t, r, "choice"), 1e-9)
	assert.InDelta(t, 3.5, *r.Rivet.CutTo, 1e-9)
	assert.InDelta(t, 1.5, value(t, r, "protrusion"), 1e-9)
	assert.Equal(t, measure.Go, r.Verdict)
	c.Callout = mm(4)
	assert.Equal(t, measure.Unsure, solve(c).Verdict, "the call-out as it is tends to tip over")
}

func TestABlindRivetIsChosenByItsGrip(t *testing.T) {
	t.Parallel()
	table := []Grip{{"a", 3.2, 0.5, 3.2}, {"b", 3.2, 2.8, 6.4}, {"c", 3.2, 6.3, 9.5}}
	r := solve(&Blind{Stack: []quantity.Length{0.8, 2.2}, Table: table, Callout: "b"})
	assert.Equal(t, []string{"a", "b"}, r.Rivet.Choices)
	assert.Equal(t, measure.Go, r.Verdict)
	assert.Equal(t, measure.Stop, solve(&Blind{Stack: []quantity.Length{0.8}, Table: table, Callout: "b"}).Verdict)
	none := solve(&Blind{Stack: []quantity.Length{12}, Table: table})
	assert.Equal(t, []string{}, none.Rivet.Choices)
	assert.Equal(t, measure.None, none.Verdict)
}

// Two diameters to the edge and three between holes; drilled over from 1/8 to 5/32 in
// 6.4 mm is 1.61 D.
func TestEdgesArePaidForByAnOversize(t *testing.T) {
	t.Parallel()
	c := &HoleEdge{Diameter: 3.175, Edges: []quantity.Length{6.4}, Pitches: []quantity.Length{20}}
	assert.Equal(t, measure.Go, solve(c).Verdict)
	c.Oversize = mm(3.96875)
	r := solve(c)
	assert.Equal(t, measure.Stop, r.Verdict)
	assert.InDelta(t, 6.4/3.96875, value(t, r, "edge_oversize"), 1e-9)
	least := 1.5
	c.MinEdge = &least
	assert.Equal(t, measure.Go, solve(c).Verdict)
}

func TestFlushLayersLieCloseOrDoNot(t *testing.T) {
	t.Parallel()
	verdict := func(holes ...string) []string {
		c := &FlushStack{HeadDepth: 0.9}
		for _, h := range holes {
			c.Layers = append(c.Layers, Layer{1, h})
		}
		return codes(solve(c))
	}
	assert.Empty(t, verdict("dimpled", "dimpled", "countersunk", "plain", "plain"))
	for _, pair := range [][2]string{{"dimpled", "plain"}, {"countersunk", "dimpled"}, {"countersunk", "countersunk"}, {"plain", "dimpled"}, {"plain", "countersunk"}} {
		assert.Equal(t, []string{"gap-under-flush-layer"}, verdict(pair[0], pair[1]), "%v", pair)
	}
	thin := &FlushStack{HeadDepth: 0.9, Layers: []Layer{{0.8, "countersunk"}}}
	assert.Equal(t, []string{"knife-edge"}, codes(solve(thin)))
	assert.Equal(t, measure.Stop, solve(thin).Verdict)
}

func TestUnusableRivetsAreRefused(t *testing.T) {
	t.Parallel()
	zero := 0.0
	for path, c := range map[string]measure.Check{
		"diameter":            &Solid{Stack: []quantity.Length{1}},
		"stack":               &Solid{Diameter: measure.Diameter{MM: 3}},
		"stack[1]":            &Solid{Diameter: measure.Diameter{MM: 3}, Stack: []quantity.Length{1, 0}},
		"callout":             &Solid{Diameter: measure.Diameter{MM: 3}, Stack: []quantity.Length{1}, Callout: mm(-1)},
		"table":               &Blind{Stack: []quantity.Length{1}},
		"table[1].code":       &Blind{Stack: []quantity.Length{1}, Table: []Grip{{"a", 3, 1, 2}, {"a", 3, 2, 3}}},
		"table[0].grip_min":   &Blind{Stack: []quantity.Length{1}, Table: []Grip{{"a", 3, 3, 2}}},
		"edges":               &HoleEdge{Diameter: 3},
		"min_edge":            &HoleEdge{Diameter: 3, Edges: []quantity.Length{6}, MinEdge: &zero},
		"oversize":            &HoleEdge{Diameter: 3, Edges: []quantity.Length{6}, Oversize: mm(0)},
		"layers":              &FlushStack{HeadDepth: 1},
		"layers[0].thickness": &FlushStack{HeadDepth: 1, Layers: []Layer{{0, "plain"}}},
		"head_depth":          &FlushStack{Layers: []Layer{{1, "plain"}}},
	} {
		var paths []string
		c.Validate(func(path, _ string) { paths = append(paths, path) })
		assert.Contains(t, paths, path)
	}
}
