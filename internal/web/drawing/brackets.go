package drawing

import "html/template"

// Brackets is a pair of brackets seen from behind, with how a small mismatch
// grows to the tips of what they carry.
type Brackets struct {
	Figure
	Spacing, Span float64
	Left, Right   Reading
}

// Draw draws the pair and the line to the tips.
func (b Brackets) Draw() template.HTML {
	half := 340.0
	near := max(28, half*b.Spacing/max(b.Span, 1))
	mismatch := 0.0
	if b.Left.Known && b.Right.Known {
		mismatch = b.Left.Value - b.Right.Value
	}
	scale := 2 * half / max(b.Span, 1)
	tips := mismatch / max(b.Spacing, 1) * b.Span
	factor := factorFor(abs(tips) * scale / 2)
	rise := tips * scale / 2 * factor // of the left tip
	middle := point{figureWidth / 2, 150}
	c := b.sheet(factor, "mismatch")
	c.line("true", middle.plus(-half-20, 0), middle.plus(half+20, 0))
	c.strokes("edge", middle.plus(-half, -rise), middle.plus(half, rise))
	for _, side := range []struct {
		sign float64
		r    Reading
	}{{-1, b.Left}, {1, b.Right}} {
		head := middle.plus(side.sign*near, side.sign*rise*near/half)
		foot := point{head.x, 262}
		c.polygon("support", head.plus(-7, 0), head.plus(7, 0), foot.plus(13, 0), foot.plus(-13, 0))
		c.circle("display", head.plus(0, 10), 3)
		c.line("station "+string(side.r.Mark), foot.plus(side.sign*26, 0), point{head.x + side.sign*26, head.y + 10})
		c.balloon(string(side.r.Mark), foot.plus(side.sign*26, 22), side.r.Number)
		if side.r.Shown != "" {
			class := "figure"
			if side.sign < 0 {
				class += " end"
			}
			c.text(class, foot.plus(side.sign*46, 26), side.r.Shown)
		}
	}
	c.text("note", middle.plus(-half, -rise-14), "left tip")
	c.text("note end", middle.plus(half, rise-14), "right tip")
	c.line("thin", point{middle.x - 90, 262}, point{middle.x + 90, 262})
	c.dimension(middle.plus(-half, 190), middle.plus(half, 190), "span "+long(b.Span))
	return b.done(c)
}

func abs(v float64) float64 { return max(v, -v) }
