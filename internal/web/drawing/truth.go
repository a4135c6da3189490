package drawing

import (
	"html/template"
	"math"

	"orpine/internal/core/say"
)

// Truth draws what was believed of a part and what was true, one strip for each thing that was
// read along it.
type Truth struct {
	Strips []TruthStrip
	Label  string
}

// TruthStrip is one of them. Believed is NaN where nothing was read.
type TruthStrip struct {
	Name           string
	Places         []string
	Believed, True []float64
	Unit           string // strips of one are drawn to one scale
	Figure         func(float64) say.Figure
}

// Draw draws the strips below each other: ink for what was believed, dashed for what was true, both
// from the mean of the truth and to one scale.
func (t Truth) Draw() template.HTML {
	const width, each, left, right = 800.0, 150.0, 40.0, 40.0
	var c canvas
	c.text("note", point{left, 18}, "ink: what you believed")
	c.text("note truth-word", point{left + 190, 18}, "dashed: what was true")
	scale := map[string]float64{} // one for all that are in the same unit
	for _, s := range t.Strips {
		scale[s.Unit] = max(scale[s.Unit], s.most())
	}
	for i, s := range t.Strips {
		s.draw(&c, scale[s.Unit], 40+float64(i)*each, each-50, left, width-left-right)
	}
	return c.svg("truth-drawing", width, 50+float64(len(t.Strips))*each, t.Label)
}

func (s TruthStrip) mean() (mean float64) {
	for _, v := range s.True {
		mean += v / float64(len(s.True))
	}
	return mean
}

// most is how far anything lies from the mean of the truth.
func (s TruthStrip) most() float64 {
	most := 1e-6
	for i, v := range s.True {
		most = max(most, math.Abs(v-s.mean()))
		if !math.IsNaN(s.Believed[i]) {
			most = max(most, math.Abs(s.Believed[i]-s.mean()))
		}
	}
	return most
}

func (s TruthStrip) draw(c *canvas, most, top, height, left, wide float64) {
	mean := s.mean()
	at := func(i int, v float64) point {
		x := left + wide/2
		if len(s.True) > 1 {
			x = left + wide*float64(i)/float64(len(s.True)-1)
		}
		return point{x, top + 18 + height/2 - (v-mean)/most*(height/2-12)}
	}
	c.text("how", point{left, top + 4}, s.Name)
	c.text("small end", point{left + wide, top + 4}, "from the middle to the edge: "+s.Figure(most).String())
	c.line("hair", point{left, top + 18 + height/2}, point{left + wide, top + 18 + height/2})
	var believed, truth []point
	for i, v := range s.True {
		truth = append(truth, at(i, v))
		if !math.IsNaN(s.Believed[i]) {
			believed = append(believed, at(i, s.Believed[i]))
		}
	}
	if len(truth) > 1 {
		c.strokes("truth", truth...)
	}
	if len(believed) > 1 {
		c.strokes("edge", believed...)
	}
	for _, p := range believed {
		c.circle("dot", p, 3.5)
	}
	for i, p := range truth {
		c.circle("truth-dot", p, 5)
		c.text("small middle", point{p.x, top + 32 + height}, s.Places[i])
	}
}
