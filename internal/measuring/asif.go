package measuring

import (
	"slices"
	"time"

	"orpine/internal/core/check"
	"orpine/internal/ledger"
)

// AsIf is the setup as it would be with a reading that stands in a field and is not kept: what it says is no verdict.
// ok is false where it cannot be understood there, and where the spot was read already: what is read again is not
// to be steered by the answer.
func (s Setup) AsIf(at, number int, n NewReading, now time.Time) (as Setup, ok bool) {
	as = s
	as.Checks = slices.Clone(s.Checks)
	c := &as.Checks[at]
	if number < 1 || number > len(c.Spots) || len(c.Spots[number-1].Counting()) > 0 {
		return s, false
	}
	c.Spots = slices.Clone(c.Spots)
	spot := &c.Spots[number-1]
	wrong := ledger.Problems{}
	in := s.instrumentFor(n.Instrument, *spot, wrong)
	heard, err := listen(n.Text, spot.Sense, s.unit(), in.Tool().Step)
	if err != nil || len(wrong) > 0 {
		return s, false
	}
	spot.Readings = append(slices.Clone(spot.Readings), check.Reading{Text: n.Text, Value: heard.value, Instrument: in.Name, Turned: n.Turned && in.Angle, Condition: check.Conditions[0], At: now})
	if !slices.ContainsFunc(c.Used, func(t check.Tool) bool { return t.ID == in.ID }) {
		c.Used = append(slices.Clone(c.Used), in.Tool())
	}
	c.Tally()
	as.Solve(at)
	_, shown := as.Checks[at].Headline()
	return as, shown
}
