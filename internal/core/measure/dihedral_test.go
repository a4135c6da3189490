package measure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Panels at 3.1° and 2.9° on an airframe 0.2° right low: the left reads 0.2° more and the
// right 0.2° less. The level's zero of 0.05° adds to the left and to the datum, and takes
// from the right, which it sees the other way round.
func dihedralOf(zero float64, turned bool) *Dihedral {
	level := &Instrument{Name: "level 2", Measures: Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015), Zero: zero}
	right := 2.7 - zero
	if turned {
		right = 2.7 + zero
	}
	c := &Dihedral{Left: one(level, 3.3+zero), Right: one(level, right), Datum: one(level, 0.2+zero)}
	c.Right.Turned = turned
	return c
}

func TestDihedralOfEachPanelAndTheirDifference(t *testing.T) {
	t.Parallel()
	r := Solve(dihedralOf(0.05, false), nil, plane)
	assert.InDelta(t, 3.1, quantityOf(t, r, "dihedral_left").Value, 1e-12)
	assert.InDelta(t, 2.9, quantityOf(t, r, "dihedral_right").Value, 1e-12)
	assert.InDelta(t, -0.2, quantityOf(t, r, "dihedral_difference").Value, 1e-12, "right − left")
	// The datum enters each panel once and their difference twice, whole; the level's
	// constant error leaves all three.
	single := 0.01*0.01/12 + 0.015*0.015
	assert.InDelta(t, math.Sqrt(2*single), quantityOf(t, r, "dihedral_left").U, 1e-12)
	assert.InDelta(t, math.Sqrt(2*single), quantityOf(t, r, "dihedral_right").U, 1e-12)
	assert.InDelta(t, math.Sqrt(6*single), quantityOf(t, r, "dihedral_difference").U, 1e-12)

	r = Solve(dihedralOf(0.05, true), nil, plane)
	assert.InDelta(t, 2.9, quantityOf(t, r, "dihedral_right").Value, 1e-12, "the level turned with the panel")
	assert.InDelta(t, math.Sqrt(2*single+4*0.05*0.05/3), quantityOf(t, r, "dihedral_right").U, 1e-12, "its error and the datum's now add")

	c := dihedralOf(0, false)
	c.Datum = nil
	r = Solve(c, nil, plane)
	assert.InDelta(t, 3.3, quantityOf(t, r, "dihedral_left").Value, 1e-12, "without a datum the airframe is taken as level")
}

func TestDihedralIsJudgedPanelByPanel(t *testing.T) {
	t.Parallel()
	within := func(low, high float64) Limit { return Limit{Low: &low, High: &high} }
	limits := map[string]Limit{"dihedral_left": within(2.8, 3.2), "dihedral_right": within(2.8, 3.2), "dihedral_difference": within(-0.1, 0.1)}
	r := Solve(dihedralOf(0, false), limits, plane)
	assert.Equal(t, Stop, r.Verdict, "each is right, and they differ")
	assert.Equal(t, Go, quantityOf(t, r, "dihedral_left").Verdict)
	delete(limits, "dihedral_difference")
	assert.Equal(t, Go, Solve(dihedralOf(0, false), limits, plane).Verdict)
}

func TestADihedralThatIsNoneIsRefused(t *testing.T) {
	t.Parallel()
	c := dihedralOf(0, false)
	c.Left.Values[0] = 91
	var at []string
	c.Validate(func(path, _ string) { at = append(at, path) })
	assert.Equal(t, []string{"left"}, at)
	assert.Len(t, c.Walk(), 3)
}
