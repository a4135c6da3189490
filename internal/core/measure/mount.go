package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// engineMountKind is how the check is called, limited, disturbed and told.
var engineMountKind = Kind{
	Name: "engine-mount", Title: "Engine mount pads and thrust line", New: func() Walker { return new(EngineMount) },
	Limits:    []Limitable{{"down_error", Angle}, {"right_error", Angle}, {"coplanarity", Length}, {"down", Angle}, {"right", Angle}, {"off_right", Length}, {"off_down", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"down_error": "thrust line down, off the design", "right_error": "thrust line right, off the design", "coplanarity": "the pads out of one plane", "down": "thrust line down", "right": "thrust line right", "off_right": "the propeller right of where it should stand", "off_down": "the propeller below where it should stand"},
}

// EngineMount is the pads of a mount against the firewall, and the thrust line
// that they set. Depth is forward of the reference plane; down and right are
// positive for a thrust line that points so.
type EngineMount struct {
	Pads        []Pad             `ws:"pads"`
	DesignDown  quantity.Angle    `ws:"design_down,optional"`
	DesignRight quantity.Angle    `ws:"design_right,optional"`
	Stock       []quantity.Length `ws:"stock,optional"`
	Propeller   *Propeller        `ws:"propeller,optional"`
	Pieces      *int              `ws:"pieces,optional"`
}

// Propeller is where its middle should stand, and where the shaft leaves the mount.
type Propeller struct {
	Forward quantity.Length `ws:"forward"` // square to the reference plane, from the pads
	Y       quantity.Length `ws:"y,optional"`
	Z       quantity.Length `ws:"z,optional"`
	Shaft   *Shaft          `ws:"shaft,optional"`
}

// Shaft is where a shaft leaves the mount, from the pads' mean.
type Shaft struct {
	Y quantity.Length `ws:"y"`
	Z quantity.Length `ws:"z"`
}

// Pad is one pad: y to the right, z up.
type Pad struct {
	Name  string          `ws:"name"`
	Y     quantity.Length `ws:"y"`
	Z     quantity.Length `ws:"z"`
	Depth Reading         `ws:"depth" as:"length"`
}

// Validate refuses fewer than three pads and pads that lie in a line.
func (c *EngineMount) Validate(report func(path, message string)) {
	validateStock(c.Stock, c.Pieces, report)
	for path, a := range map[string]quantity.Angle{"design_down": c.DesignDown, "design_right": c.DesignRight} {
		if math.Abs(float64(a)) >= 90 {
			report(path, "must be below 90°")
		}
	}
	if c.Propeller != nil && c.Propeller.Forward <= 0 {
		report("propeller.forward", "must be above 0")
	}
	if len(c.Pads) < 3 {
		report("pads", "fewer than three pads make no plane")
		return
	}
	y, z := c.layout()
	if !planar(y, z) {
		report("pads", "the pads lie in a line; one to the side of it is needed")
	}
}

func (c *EngineMount) layout() (y, z scaled) {
	ys, zs := make([]float64, len(c.Pads)), make([]float64, len(c.Pads))
	for i, p := range c.Pads {
		ys[i], zs[i] = float64(p.Y), float64(p.Z)
	}
	return scale(ys), scale(zs)
}

// Solve fits the plane depth = a + by + cz: down = atan(c), right = −atan(b);
// coplanarity is the span of the residuals of four pads or more.
func (c *EngineMount) Solve(w *Work) {
	depths := make([]Estimate, len(c.Pads))
	for i, p := range c.Pads {
		depths[i] = w.Read(p.Depth)
	}
	y, z := c.layout()
	plane, _ := w.fitColumns(depths, func(i int) []float64 { return []float64{1, y.at[i], z.at[i]} })
	down := plane.param(2).Times(1 / z.size).Atan()
	right := plane.param(1).Times(-1 / y.size).Atan()
	if len(c.Pads) >= 4 {
		span, front, back := plane.spreadOfResiduals()
		w.Extreme("coplanarity", nil, Length, span, plane.differences())
		w.explain("coplanarity", fmt.Sprintf("from the best plane, %s %s, %s %s", c.Pads[front].Name, mm(plane.left[front]), c.Pads[back].Name, mm(plane.left[back])), mm(span))
	}
	w.Quantity("down", Angle, down)
	w.Quantity("right", Angle, right)
	w.Quantity("down_error", Angle, down.Minus(Exact(float64(c.DesignDown))))
	w.Quantity("right_error", Angle, right.Minus(Exact(float64(c.DesignRight))))
	w.explain("thrust line down", "atan of the depth gained upwards", deg(down.Value))
	w.explain("thrust line right", "minus the atan of the depth gained to the right", deg(right.Value))
	if c.Propeller != nil {
		c.propeller(w, down, right)
	}
	c.moves(w, depths)
}

// propeller says by how much the propeller's middle stands right of and below where it should:
// off_right = ȳ + shaft y + forward·tan(right) − y, off_down = z − (z̄ + shaft z − forward·tan(down)), ȳ and
// z̄ the pads' mean.
func (c *EngineMount) propeller(w *Work, down, right Estimate) {
	var y, z float64
	for _, p := range c.Pads {
		y, z = y+float64(p.Y)/float64(len(c.Pads)), z+float64(p.Z)/float64(len(c.Pads))
	}
	p := c.Propeller
	if p.Shaft != nil {
		y, z = y+float64(p.Shaft.Y), z+float64(p.Shaft.Z)
	}
	ahead := float64(p.Forward)
	offRight := right.Tan().Times(ahead).Plus(Exact(y - float64(p.Y)))
	offDown := down.Tan().Times(ahead).Plus(Exact(float64(p.Z) - z))
	w.Quantity("off_right", Length, offRight)
	w.Quantity("off_down", Length, offDown)
	w.explain("the propeller right", fmt.Sprintf("shaft + forward × tan(right) − where it should stand = %s + %s × tan %s − %s", mm(y), mm(ahead), deg(right.Value), mm(float64(p.Y))), mm(offRight.Value))
	w.explain("the propeller down", fmt.Sprintf("where it should stand − (shaft − forward × tan(down)) = %s − (%s − %s × tan %s)", mm(float64(p.Z)), mm(z), mm(ahead), deg(down.Value)), mm(offDown.Value))
}

// moves are the washers that put every pad on the plane of the design angles
// through the pad furthest forward of it.
func (c *EngineMount) moves(w *Work, depths []Estimate) {
	b, k := -math.Tan(c.DesignRight.Radians()), math.Tan(c.DesignDown.Radians())
	ahead, most := make([]float64, len(c.Pads)), math.Inf(-1)
	for i, p := range c.Pads {
		ahead[i] = depths[i].Value - b*float64(p.Y) - k*float64(p.Z)
		most = max(most, ahead[i])
	}
	for i, p := range c.Pads {
		w.Move(p.Name, "forward", most-ahead[i])
	}
	w.stackMoves(c.Stock, c.Pieces)
}

// Walk goes round the pads.
func (c *EngineMount) Walk() []Spot {
	spots := make([]Spot, len(c.Pads))
	for i, p := range c.Pads {
		spots[i] = Spot{"pads", p.Name, "depth", "depth", Length, "length", "from the reference plane forward to the face of the pad"}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*EngineMount) Disturbed(e Event) bool { return Shaped(e) }

// Form is what is asked for the check before anything is read.
func (*EngineMount) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "pads", Label: "Pads: name; butt line; waterline", Columns: []string{"name", "y", "z"}, As: "length"},
			{Key: "design_down", Label: "Thrust line down", As: "plain", Optional: true},
			{Key: "design_right", Label: "Thrust line right", As: "plain", Optional: true},
			{Key: "stock", Label: "Washers in stock, parted by ;", Columns: []string{""}, As: "length", Optional: true},
		},
		Now: "Engine mount pads",
	}
}
