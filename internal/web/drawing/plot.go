package drawing

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"slices"
	"time"

	"orpine/internal/core/say"
)

// Plot is figures one after another, each with its ±, against what they should lie within. It is drawn by time, or
// where there is none in the order in which the figures come, each with its name below.
type Plot struct {
	Title  string // what it shows, in words, for who does not see it
	Points []PlotPoint
	Low    *float64 // limits, or what is believed
	High   *float64
	Says   string                   // of the limits: "what it is believed within"
	Figure func(float64) say.Figure // how a figure of it is said
	Named  string                   // of the whole: "seven in a row on one side: it drifts"
	wide   float64                  // of the sheet
	Events []PlotEvent              // by time only
}

// PlotPoint is one figure.
type PlotPoint struct {
	At    time.Time
	Name  string // below it, where it is not drawn by time
	Value float64
	U     float64 // 95 %; 0 for none
	Says  string  // in full
	Href  string
	Mark  string // stop, unsure, go, or "" for no verdict
}

// PlotEvent is something that happened between two figures.
type PlotEvent struct {
	At   time.Time
	Says string
}

// The sheet of a plot, what its frame leaves, and how wide it is where there is little room.
const (
	plotNarrow           = 400.0
	plotWide, plotHeight = 840.0, 300.0
	plotLeft, plotRight  = 74.0, 14.0
	plotTop, plotBottom  = 34.0, 46.0
	plotLetter           = 7.2 // about how wide a letter of a note is
	mostStops            = 12  // points that Tab stops at; of more at the last one
	mostPlotTicks        = 6
)

// Draw draws it twice, for a desk and for a phone; the stylesheet shows the one that is legible. "" for less than two
// figures.
func (p Plot) Draw() template.HTML {
	wide, narrow := p, p
	wide.wide, narrow.wide = plotWide, plotNarrow
	return wide.draw("plot for-desk") + narrow.draw("plot for-phone")
}

// Small draws it for little room.
func (p Plot) Small() template.HTML {
	p.wide = plotNarrow
	return p.draw("plot")
}

func (p Plot) draw(class string) template.HTML {
	if len(p.Points) < 2 {
		return ""
	}
	c := &canvas{}
	x, y := p.across(), p.scale(c)
	p.limits(c, x, y)
	for _, e := range p.Events {
		if at := x(e.At, -1); at > plotLeft && at < p.wide-plotRight {
			c.line("event", point{at, plotTop - 6}, point{at, plotHeight - plotBottom})
			anchor, to := "note", at+5
			if at > p.wide*0.6 {
				anchor, to = "note end", at-5
			}
			c.text(anchor, point{to, plotTop + 4}, e.Says)
		}
	}
	if p.Named != "" {
		c.text("note end named", point{p.wide - plotRight, plotTop - 14}, p.Named)
	}
	var below names
	for i, q := range p.Points {
		at := point{x(q.At, i), y(q.Value)}
		if q.U > 0 {
			c.line("doubt", point{at.x, y(q.Value - q.U)}, point{at.x, y(q.Value + q.U)})
		}
		stops := ""
		if len(p.Points) > mostStops && i < len(p.Points)-1 {
			stops = ` tabindex="-1"` // the numbers stand beside it
		}
		c.raw(`<a class="plotted %s"%s href="%s" aria-label="%s"><circle class="reach" cx="%s" cy="%s" r="22"/>`, html.EscapeString(q.Mark), stops, html.EscapeString(q.Href), html.EscapeString(q.Says), n(at.x), n(at.y))
		p.mark(c, q.Mark, at)
		c.raw(`</a>`)
		name := q.Name
		if name == "" {
			name = q.At.Format("2 Jan")
		}
		below.write(c, at.x, p.wide, name)
	}
	return c.svg(class, p.wide, plotHeight, p.Title)
}

// names are those below a plot, in two lines at most: where each line ends so far. What fits into neither is left out.
type names struct{ until [2]float64 }

func (n *names) write(c *canvas, x, wide float64, name string) {
	half := float64(len([]rune(name))) * plotLetter / 2
	x = min(max(x, half+2), wide-half-2)
	for line := range n.until {
		if x-half > n.until[line]+6 {
			c.text("note middle", point{x, plotHeight - plotBottom + 20 + 16*float64(line)}, name)
			n.until[line] = x + half
			return
		}
	}
}

// mark draws a figure: verdicts differ by shape, and not by colour alone.
func (p Plot) mark(c *canvas, verdict string, at point) {
	switch verdict {
	case "stop":
		c.raw(`<rect class="stopped" x="%s" y="%s" width="11" height="11"/>`, n(at.x-5.5), n(at.y-5.5))
	case "unsure":
		c.circle("unsure-dot", at, 5.5)
	default:
		c.circle("dot", at, 5.5)
	}
}

// across is where a figure lies from left to right, by its time or its number.
func (p Plot) across() func(at time.Time, i int) float64 {
	wide := p.wide - plotLeft - plotRight - 40
	first, last := p.Points[0].At, p.Points[len(p.Points)-1].At
	if p.Points[0].Name == "" && last.After(first) {
		return func(at time.Time, _ int) float64 {
			return plotLeft + 20 + wide*at.Sub(first).Seconds()/last.Sub(first).Seconds()
		}
	}
	return func(_ time.Time, i int) float64 {
		return plotLeft + 20 + wide*(float64(i)+0.5)/float64(len(p.Points))
	}
}

// scale draws the frame with its figures, and is where a value lies from top to bottom.
func (p Plot) scale(c *canvas) func(float64) float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, q := range p.Points {
		low, high = min(low, q.Value-q.U), max(high, q.Value+q.U)
	}
	for _, l := range []*float64{p.Low, p.High} {
		if l != nil {
			low, high = min(low, *l), max(high, *l)
		}
	}
	room := max((high-low)*0.08, 1e-6)
	low, high = low-room, high+room
	y := func(v float64) float64 {
		return plotTop + (plotHeight-plotTop-plotBottom)*(high-v)/(high-low)
	}
	for _, v := range ticks(low, high) {
		c.line("hair", point{plotLeft - 5, y(v)}, point{p.wide - plotRight, y(v)})
		c.text("figure end", point{plotLeft - 9, y(v) + 4}, p.Figure(v).Signed().Bare().String())
	}
	c.strokes("thin", point{plotLeft, plotTop - 6}, point{plotLeft, plotHeight - plotBottom}, point{p.wide - plotRight, plotHeight - plotBottom})
	return y
}

// limits draws what the figures should lie within.
func (p Plot) limits(c *canvas, x func(time.Time, int) float64, y func(float64) float64) {
	if p.Low != nil && p.High != nil {
		c.raw(`<rect class="within" x="%s" y="%s" width="%s" height="%s"/>`, n(plotLeft), n(y(*p.High)), n(p.wide-plotRight-plotLeft), n(y(*p.Low)-y(*p.High)))
	}
	for i, l := range []*float64{p.High, p.Low} {
		if l == nil {
			continue
		}
		c.line("limit", point{plotLeft, y(*l)}, point{p.wide - plotRight, y(*l)})
		if i == 0 && p.Says != "" {
			class, at := p.roomFor(x, y, *l)
			c.text(class, at, p.Says)
		}
	}
}

// roomFor is where the words of a limit hide least: above it or below, at the left or the right.
func (p Plot) roomFor(x func(time.Time, int) float64, y func(float64) float64, limit float64) (class string, at point) {
	long, fewest := float64(len([]rune(p.Says)))*plotLetter, math.MaxInt
	for _, try := range []struct {
		class string
		at    point
	}{{"note", point{plotLeft + 8, y(limit) - 6}}, {"note end", point{p.wide - plotRight - 4, y(limit) - 6}}, {"note end", point{p.wide - plotRight - 4, y(limit) + 16}}, {"note", point{plotLeft + 8, y(limit) + 16}}} {
		from := try.at.x
		if try.class != "note" {
			from -= long
		}
		hidden := 0
		for i, q := range p.Points {
			if at := x(q.At, i); at > from-8 && at < from+long+8 && y(q.Value+q.U) < try.at.y+8 && y(q.Value-q.U) > try.at.y-18 {
				hidden++
			}
		}
		if hidden < fewest {
			class, at, fewest = try.class, try.at, hidden
		}
	}
	return class, at
}

// ticks are round figures between two, a few of them.
func ticks(low, high float64) (out []float64) {
	step := math.Pow(10, math.Floor(math.Log10(high-low)))
	for _, s := range []float64{0.1, 0.2, 0.5, 1, 2} {
		if (high-low)/(s*step) <= mostPlotTicks {
			step *= s
			break
		}
	}
	for v := math.Ceil(low/step) * step; v <= high; v += step {
		out = append(out, v)
	}
	return slices.Clip(out)
}

// Bars are amounts side by side, each with its name below: hours by month. What was expected is a frame about each.
type Bars struct {
	Title string
	Bars  []Bar
	Unit  string

	wide float64
}

// Bar is one amount, and what was expected of it; 0 for nothing.
type Bar struct {
	Name            string
	Value, Expected float64
	Says            string
	Href            string
	ToGo            bool // it lies ahead
}

// Draw draws them twice, for a desk and for a phone; "" for none.
func (b Bars) Draw() template.HTML {
	wide, narrow := b, b
	wide.wide, narrow.wide = plotWide, plotNarrow
	return wide.draw("plot for-desk") + narrow.draw("plot for-phone")
}

func (b Bars) draw(class string) template.HTML {
	if len(b.Bars) == 0 {
		return ""
	}
	most := 1.0
	for _, one := range b.Bars {
		most = max(most, one.Value, one.Expected)
	}
	c := &canvas{}
	const low = plotHeight - plotBottom
	y := func(v float64) float64 { return low - (low-plotTop)*v/most }
	for _, v := range ticks(0, most*1.02) {
		c.line("hair", point{plotLeft - 5, y(v)}, point{b.wide - plotRight, y(v)})
		c.text("figure end", point{plotLeft - 9, y(v) + 4}, fmt.Sprintf("%g", math.Round(v*10)/10))
	}
	c.text("note", point{8, plotTop - 14}, b.Unit)
	step := (b.wide - plotLeft - plotRight) / float64(len(b.Bars))
	wide, below := min(step*0.7, 46), names{}
	for i, one := range b.Bars {
		x := plotLeft + step*(float64(i)+0.5)
		class := map[bool]string{true: "bar ahead", false: "bar"}[one.ToGo]
		c.raw(`<g class="barred" role="img" aria-label="%s"><rect class="%s" x="%s" y="%s" width="%s" height="%s"/>`, html.EscapeString(one.Says), class, n(x-wide/2), n(y(one.Value)), n(wide), n(low-y(one.Value)))
		if one.Expected > 0 {
			c.raw(`<rect class="frame" x="%s" y="%s" width="%s" height="%s"/>`, n(x-wide/2-3), n(y(one.Expected)), n(wide+6), n(low-y(one.Expected)))
		}
		c.raw(`</g>`)
		below.write(c, x, b.wide, one.Name)
	}
	c.line("thin", point{plotLeft, low}, point{b.wide - plotRight, low})
	return c.svg(class, b.wide, plotHeight, b.Title)
}
