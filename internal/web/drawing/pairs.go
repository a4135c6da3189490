package drawing

import (
	"html/template"
	"math"
)

// Pairs is lengths taken on the left and the right, fanned out about the
// centreline from behind.
type Pairs struct {
	Figure
	Pairs []PairOf
}

// PairOf is one length on both sides.
type PairOf struct {
	Name        string
	Left, Right Reading
}

// Draw draws each pair as two tapes to mirrored places.
func (p Pairs) Draw() template.HTML {
	c := p.sheet(1, "")
	post := point{figureWidth / 2, 318}
	c.line("centre", post.plus(0, 20), point{post.x, 40})
	c.text("note", point{60, 60}, "left")
	c.text("note end", point{figureWidth - 60, 60}, "right")
	for i, pair := range p.Pairs {
		degrees := 14 + 56*float64(i)/float64(max(1, len(p.Pairs)-1))
		if len(p.Pairs) == 1 {
			degrees = 35
		}
		sin, cos := math.Sincos(degrees * math.Pi / 180)
		reach := min(330/cos, 250/max(sin, 0.2), 340)
		c.tape(post, post.plus(-reach*cos, -reach*sin), pair.Left, 0.72)
		c.tape(post, post.plus(reach*cos, -reach*sin), pair.Right, 0.72)
		c.text("note end roomy", post.plus(-reach*cos, -reach*sin-8), pair.Name)
	}
	c.circle("spot taken", post, 6)
	return p.done(c)
}
