package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// washoutKind is how the check is called, limited and told.
var washoutKind = Kind{
	Name: "washout", Title: "Washout, left against right", New: func() Walker { return new(Washout) },
	Limits:    []Limitable{{"difference", Angle}, {"twist_error_left", Angle}, {"twist_error_right", Angle}, {"twist_left", Angle}, {"twist_right", Angle}},
	Schools:   []string{},
	Headlines: map[string]string{"difference": "twist, right less left", "twist_left": "twist of the left panel, tip over root", "twist_right": "twist of the right panel, tip over root", "twist_error_left": "twist of the left panel, off the design", "twist_error_right": "twist of the right panel, off the design"},
}

// Washout compares the twist of the left panel with that of the right. The constant error of an angle drops
// out of every figure.
type Washout struct {
	Left  Panel `ws:"left"`
	Right Panel `ws:"right"`
}

// Panel is one side, as a surface is that is measured for twist.
type Panel struct {
	Stations []TwistStation   `ws:"stations"`
	Design   quantity.Angle   `ws:"design,optional" as:"pitch"` // tip minus root
	Held     bool             `ws:"held,optional"`
	Extent   *quantity.Length `ws:"extent,optional"` // root to tip
}

// panels are both, the left first, with what their figures end in.
func (c *Washout) panels() [2]*panel {
	of := func(path string, p Panel) *panel {
		return &panel{stations: p.Stations, design: float64(p.Design), held: p.Held, extent: p.Extent, path: path + "."}
	}
	return [2]*panel{of("left", c.Left), of("right", c.Right)}
}

// Validate refuses what either panel refuses.
func (c *Washout) Validate(report func(path, message string)) {
	for _, p := range c.panels() {
		p.validate(report)
	}
}

// Solve gives the twist of each panel, what it is off its design, and difference = right less left of that.
func (c *Washout) Solve(w *Work) {
	panels := c.panels()
	for _, p := range panels {
		p.solve(w)
	}
	for _, q := range washedOut(panels) {
		w.Quantity(q.name, q.dimension, q.Estimate)
	}
	for i, side := range []string{"left", "right"} {
		p := panels[i]
		p.kinked(w, func(rest *panel) bool {
			both := panels
			both[i] = rest
			return w.wouldGo(washedOut(both))
		})
		p.shows(w)
		w.explain(side+" panel", fmt.Sprintf("slope of the best line × extent − design = %s per m × %s − %s", deg(p.slope.Value*1000), mm(p.length), deg(p.design)), deg(p.missed().Value))
	}
	left, right := panels[0].missed(), panels[1].missed()
	w.explain("difference", fmt.Sprintf("right − left = %s − %s", deg(right.Value), deg(left.Value)), deg(right.Value-left.Value))
}

func washedOut(panels [2]*panel) []figure {
	out := append(panels[0].figures("_left"), panels[1].figures("_right")...)
	return append(out, figure{panels[1].missed().Minus(panels[0].missed()), "difference", Angle})
}

// Walk goes outboard along the left panel, then along the right.
func (c *Washout) Walk() []Spot {
	var spots []Spot
	for _, side := range []struct {
		list string
		Panel
	}{{"left.stations", c.Left}, {"right.stations", c.Right}} {
		spots = append(spots, walkStations(side.list, side.Stations, side.Held)...)
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Washout) Disturbed(e Event) bool { return Shaped(e, ReClamped, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Washout) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "stations", Label: "Stations of either panel: name; distance outboard", Columns: []string{"name", "y"}, As: "length"},
			{Key: "design", Label: "Design twist, tip less root (washout is down)", As: "pitch", Optional: true},
			{Key: "extent", Label: "Root to tip", As: "length", Optional: true},
		},
		Now:     "Washout, left and right",
		Angles:  true,
		Made:    []string{"design", "extent"},
		Example: map[string]string{"stations": "root; 0\nmid; 1200\ntip; 2400"},
		Lists:   func(map[string]any) []string { return []string{"left.stations", "right.stations"} },
		Finish:  finishWashout,
	}
}

// Both panels have the same stations.
func finishWashout(d map[string]any) {
	side := map[string]any{"stations": form.Take(d, "stations")}
	for _, field := range []string{"design", "extent"} {
		if v := form.Take(d, field); v != nil {
			side[field] = v
		}
	}
	d["left"], d["right"] = side, form.Clone(side)
}
