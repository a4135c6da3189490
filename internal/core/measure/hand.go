package measure

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// handKind is how the check is called, limited, disturbed and told.
var handKind = Kind{
	Name: "hand", Title: "Is it the mirror of the other?", New: func() Walker { return new(Hand) },
	Limits:    nil,
	Schools:   []string{},
	Headlines: map[string]string{"rms_same": "left over when laid on it as the same hand", "rms_mirrored": "left over when laid on it as its mirror"},
}

// Hand asks whether a part is the mirror of another, by the places of the same
// named points on both.
type Hand struct {
	First     []HandPoint     `ws:"first"`
	Second    []HandPoint     `ws:"second"`
	Tolerance quantity.Length `ws:"tolerance"`
	Expect    string          `ws:"expect,optional" oneof:"mirrored same"` // mirrored unless said
}

// HandPoint is a hole or corner; z on all points or on none.
type HandPoint struct {
	Name string           `ws:"name"`
	X    quantity.Length  `ws:"x,read"`
	Y    quantity.Length  `ws:"y,read"`
	Z    *quantity.Length `ws:"z,optional"`
}

// Validate refuses parts that do not name the same points, and heights on some
// points only.
func (c *Hand) Validate(report func(path, message string)) {
	if c.Tolerance <= 0 {
		report("tolerance", "must be above 0")
	}
	if len(c.First) == 0 {
		report("first", "is an empty list")
	}
	names := map[string]bool{}
	for i, p := range c.First {
		names[p.Name] = true
		if (p.Z == nil) != (c.First[0].Z == nil) {
			report(fmt.Sprintf("first[%d].z", i), "give z on all points or on none")
		}
	}
	for i, p := range c.Second {
		if !names[p.Name] {
			report(fmt.Sprintf("second[%d].name", i), fmt.Sprintf("%q is not a point of the first part", p.Name))
		}
		if len(c.First) > 0 && (p.Z == nil) != (c.First[0].Z == nil) {
			report(fmt.Sprintf("second[%d].z", i), "give z on all points or on none")
		}
	}
	if len(c.Second) < len(c.First) {
		report("second", "lacks points of the first part")
	}
}

// Solve fits one part onto the other with and without a reflection (Kabsch 1976)
// and compares the root mean square distances with the tolerance. A flat part
// given in two dimensions may not be turned over.
func (c *Hand) Solve(w *Work) {
	first, second := c.centred()
	n, dimensions := first.Dims()
	same, mirrored := fitRMS(first, second, false), fitRMS(first, second, true)
	w.Quantity("rms_same", Length, Exact(same))
	w.Quantity("rms_mirrored", Length, Exact(mirrored))
	tolerance := float64(c.Tolerance)
	answer := "neither"
	switch {
	case n < dimensions+1 || flat(first, tolerance) || flat(second, tolerance) || same <= tolerance && mirrored <= tolerance:
		answer = "cannot-tell"
	case same <= tolerance:
		answer = "same"
	case mirrored <= tolerance:
		answer = "mirrored"
	}
	expect := "mirrored"
	if c.Expect != "" {
		expect = c.Expect
	}
	w.result.Answer = answer
	w.result.Verdict = Stop
	if answer == "cannot-tell" {
		w.result.Verdict = Unsure
	} else if answer == expect {
		w.result.Verdict = Go
	}
	w.explain("as the same hand", "root mean square distance of the best fit", mm(same))
	w.explain("as the mirror", "the same, with one part reflected", mm(mirrored))
}

// centred returns the points of both parts about their centroids, in the order
// of the first.
func (c *Hand) centred() (first, second *mat.Dense) {
	dimensions := 2
	if c.First[0].Z != nil {
		dimensions = 3
	}
	byName := map[string]HandPoint{}
	for _, p := range c.Second {
		byName[p.Name] = p
	}
	first, second = mat.NewDense(len(c.First), dimensions, nil), mat.NewDense(len(c.First), dimensions, nil)
	for i, p := range c.First {
		for into, q := range map[*mat.Dense]HandPoint{first: p, second: byName[p.Name]} {
			into.Set(i, 0, float64(q.X))
			into.Set(i, 1, float64(q.Y))
			if dimensions == 3 {
				into.Set(i, 2, float64(*q.Z))
			}
		}
	}
	for _, m := range []*mat.Dense{first, second} {
		for j := range dimensions {
			mean := mat.Sum(m.ColView(j)) / float64(len(c.First))
			for i := range c.First {
				m.Set(i, j, m.At(i, j)-mean)
			}
		}
	}
	return first, second
}

// fitRMS turns the first onto the second by the rotation, or the rotation with a
// reflection, that fits best, and returns the root mean square distance left.
func fitRMS(first, second *mat.Dense, reflected bool) float64 {
	n, dimensions := first.Dims()
	var cross, u, v, turn, turned mat.Dense
	cross.Mul(first.T(), second)
	var svd mat.SVD
	if !svd.Factorize(&cross, mat.SVDFull) {
		return math.Inf(1)
	}
	svd.UTo(&u)
	svd.VTo(&v)
	turn.Mul(&v, u.T())
	if (mat.Det(&turn) < 0) != reflected {
		for i := range dimensions {
			v.Set(i, dimensions-1, -v.At(i, dimensions-1))
		}
		turn.Mul(&v, u.T())
	}
	turned.Mul(first, turn.T())
	turned.Sub(&turned, second)
	return mat.Norm(&turned, 2) / math.Sqrt(float64(n))
}

// flat tells whether all points of a part lie within the tolerance of its best
// line (in two dimensions) or plane (in three): then it has no hand.
func flat(part *mat.Dense, tolerance float64) bool {
	n, dimensions := part.Dims()
	var svd mat.SVD
	if n < dimensions || !svd.Factorize(part, mat.SVDThin) {
		return true
	}
	var v mat.Dense
	svd.VTo(&v)
	for i := range n {
		if math.Abs(mat.Dot(part.RowView(i), v.ColView(dimensions-1))) > tolerance {
			return false
		}
	}
	return true
}

// Walk takes the places of the points on one part, then on the other. A part is
// flat unless its first point has a height.
func (c *Hand) Walk() []Spot {
	var spots []Spot
	axes := [][2]string{{"x", "along"}, {"y", "across"}, {"z", "up"}}
	if len(c.First) > 0 && c.First[0].Z == nil {
		axes = axes[:2]
	}
	for _, part := range []struct {
		list, how string
		points    []HandPoint
	}{{"first", "on the part that is known to be right, from one corner and one edge", c.First}, {"second", "on the part in question, same face up, from the same corner and edge", c.Second}} {
		for _, p := range part.points {
			for _, axis := range axes {
				spots = append(spots, Spot{part.list, p.Name, axis[0], axis[1], Length, "figure", part.how})
			}
		}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Hand) Disturbed(e Event) bool { return Shaped(e) }

// Form is what is asked for the check before anything is read.
func (*Hand) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "points", Label: "Points that both parts have, one to a line", Columns: []string{"name"}, As: "length"},
			{Key: "shape", Label: "The part is", As: "word", Words: []string{"flat", "solid"}},
			{Key: "tolerance", Label: "Two parts are alike within", As: "length"},
			{Key: "expect", Label: "It should be", As: "word", Words: []string{"mirrored", "same"}},
		},
		Now:     "Left or right hand?",
		Made:    []string{"shape"},
		Example: map[string]string{"points": "corner\nhole\nnotch", "shape": "flat", "tolerance": "0.5", "expect": "mirrored"},
		Lists:   func(map[string]any) []string { return []string{"first", "second"} },
		Finish:  finishHand,
	}
}

// Both parts have the same points; a solid one has heights too.
func finishHand(d map[string]any) {
	points, _ := form.Take(d, "points").([]any)
	if form.Take(d, "shape") == "solid" {
		for _, p := range points {
			if item, ok := p.(map[string]any); ok {
				item["z"] = 0
			}
		}
	}
	d["first"], d["second"] = points, form.Clone(points)
}
