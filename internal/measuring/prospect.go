package measuring

import (
	"fmt"
	"maps"
	"math"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/instrument"
	"orpine/internal/worksheet"
)

// mostReadings is how many readings of a check are ever asked of a builder before a finer instrument is.
const mostReadings = 20

// Prospect says, before anything is read, that the instrument at hand cannot decide the check, and which would;
// "" where it can, or where that is not known. It supposes a part as it should be, every reading placed and moved as
// often as twenty readings allow, and the instrument proven.
func (s Setup) Prospect(c Check) string {
	in, chosen := instrument.ByID(s.Instruments, c.Instrument)
	if _, join := c.Joined(); join {
		return "" // it names its next readings itself
	}
	if !chosen || c.Taken > 0 || c.Survey != "" && c.Held || len(c.Spots) == 0 {
		return ""
	}
	worst, ok := s.supposed(c, in)
	if !ok || worst.suffices() {
		return ""
	}
	says := fmt.Sprintf("%s cannot decide this: its ± would stay at %s within %d readings, and these limits want %s", in.Name, worst.figure(check.Coverage*worst.u).Up(), mostReadings, worst.figure(check.Coverage*worst.half/hold.Guard))
	for _, k := range instrument.Quicks {
		finer := instrument.Instrument{Name: k.Name, Sort: k.Sort, Angle: k.Angle, Type: k.Type, Resolution: k.Resolution}
		if k.Angle != in.Angle {
			continue
		}
		if would, ok := s.supposed(c, finer); ok && would.suffices() {
			return says + "; " + k.Name + " would"
		}
	}
	return says
}

// supposition is the limited quantity of a check that is the furthest from being decided.
type supposition struct {
	of      measure.Dimension
	u, half float64 // at best; half of its limit
}

func (p supposition) suffices() bool { return hold.Guard*p.u <= p.half }

func (p supposition) figure(v float64) say.Figure { return check.Figure(p.of, v) }

// supposed works a check out as if an instrument had read a part that is as it should be.
func (s Setup) supposed(c Check, in instrument.Instrument) (worst supposition, ok bool) {
	definition := maps.Clone(c.Definition)
	if t, is := c.Input.(*measure.Twist); is {
		definition["held"], definition["stiff"] = t.Held, c.Lies == check.LiesFree
	}
	expecter, _ := c.Input.(measure.Expecter)
	other := false
	filled, _ := fill(definition, c.Input.Walk(), func(at measure.Spot) (any, bool) {
		if at.Sense == "figure" {
			return "1 mm", true
		}
		if (at.Dimension == measure.Angle) != in.Angle {
			other = true
		}
		value := 0.0
		if expecter != nil {
			value, _ = expecter.Expect(at)
		}
		return map[string]any{"value": in.Exactly(value), "instrument": in.Name}, true
	})
	if other {
		return worst, false
	}
	usual(filled, nil)
	doc, errs := worksheet.Read(document(s.unit(), c.Judged, map[string]map[string]any{in.Name: in.Worksheet()}, filled))
	if len(errs) > 0 {
		return worst, false
	}
	placings := max(1, mostReadings/len(c.Spots))
	for _, q := range doc.Solve()[0].Result.Quantities {
		if q.Limit == nil || q.Limit.Low == nil || q.Limit.High == nil || q.U == 0 || q.Unseen {
			continue
		}
		p := supposition{q.Dimension, q.Best(placings), (*q.Limit.High - *q.Limit.Low) / 2}
		if !ok || p.u*worst.half > worst.u*p.half {
			worst, ok = p, true
		}
	}
	return worst, ok && !math.IsInf(worst.u, 0)
}
