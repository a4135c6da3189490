package drawing

import (
	"cmp"
	"html/template"
	"math"

	"orpine/internal/core/say"
)

// Scale is a quantity against its limits: the limits as brackets on an axis, the
// interval value ± U as a band.
type Scale struct {
	Value, U  float64
	Low, High *float64
	Figure    func(float64) say.Figure
	Round     float64 // the ticks stand at round figures of so many of its unit
	Of        string  // the quantity whose limits are moved by pulling their marks; "" where they are not
}

// Draw draws the scale.
func (s Scale) Draw() template.HTML {
	const width, height, margin = 360.0, 74.0, 24.0
	if s.Figure == nil {
		s.Figure = func(v float64) say.Figure { return say.Number(v, 2) }
	}
	s.Round = cmp.Or(s.Round, 1)
	reach := math.Abs(s.Value) + s.U
	for _, l := range []*float64{s.Low, s.High} {
		if l != nil {
			reach = math.Max(reach, math.Abs(*l)*1.5)
		}
	}
	if reach == 0 {
		reach = 1
	}
	step := tickStep(reach/s.Round) * s.Round
	reach = math.Ceil(reach/step-1e-9) * step
	at := func(v float64) point { return point{width/2 + v/reach*(width/2-margin), 34} }
	c := &canvas{}
	left, right := at(s.Value-s.U), at(s.Value+s.U)
	c.line("thin", at(-reach), at(reach))
	c.polygon("interval", left.plus(0, -9), right.plus(0, -9), right.plus(0, 9), left.plus(0, 9))
	for v := -reach; v <= reach+step/2; v += step {
		c.line("thin", at(v).plus(0, -4), at(v).plus(0, 4))
		c.text("figure small middle", at(v).plus(0, 34), s.Figure(v).Signed().Bare().Ticked().String())
	}
	bracket := func(l *float64, side float64) {
		if l == nil {
			return
		}
		p := at(*l)
		if s.Of != "" {
			s.grip(c, p, *l, side, reach/(width/2-margin), step)
			defer c.raw("</g>")
		}
		c.strokes("bracket", p.plus(side*8, -20), p.plus(0, -20), p.plus(0, 20), p.plus(side*8, 20))
	}
	bracket(s.Low, 1)
	bracket(s.High, -1)
	c.line("needle", at(s.Value).plus(0, -14), at(s.Value).plus(0, 14))
	label := s.Figure(s.Value).Signed().Within(s.U).String() + " on a scale with its limits"
	return c.svg("scale", width, height, label)
}

// grip begins a mark that is pulled: what it stands at, how much a unit of the drawing is, and how finely it is set, as
// the field has it that says the same in figures.
func (s Scale) grip(c *canvas, p point, v, side, each, step float64) {
	decimals := int(math.Max(0, math.Ceil(-math.Log10(step/s.Round/10))))
	if s.Round > 1 { // of an inch a hundredth is much
		decimals++
	}
	end := map[bool]string{true: "low", false: "high"}[side > 0]
	c.raw(`<g class="grip" data-of="%s" data-end="%s" data-value="%.6g" data-each="%.6g" data-decimals="%d"><rect x="%.1f" y="%.1f" width="28" height="60" class="reach"/>`,
		template.HTMLEscapeString(s.Of), end, v/s.Round, each/s.Round, decimals, p.x-14-side*6, p.y-28)
}

// tickStep is a round step that cuts a reach into two or three parts, so that
// the figures below the ticks do not run into one another.
func tickStep(reach float64) float64 {
	power := math.Pow(10, math.Floor(math.Log10(reach)))
	for _, step := range []float64{0.5, 1, 2} {
		if reach/(step*power) <= 2.5 {
			return step * power
		}
	}
	return 5 * power
}
