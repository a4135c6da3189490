package drawing

import (
	"html/template"
	"time"
)

// Forecast is when something is finished, as it may turn out, and by how many days each thing that
// is doubtful moves that by itself, to the same scale.
type Forecast struct {
	Title               string // in words, for who does not see it
	Now, Plain          time.Time
	Early, Likely, Late time.Time // Plain, Likely and Late may be zero, for none
	Hangs               []Hang
	wide                float64
}

// Hang is one thing that is doubtful.
type Hang struct {
	Name, Says string
	Days       float64
}

const (
	forecastSide = 16.0
	forecastAxis = 58.0
	hangHeight   = 34.0
)

// Draw draws it twice, for a desk and for a phone.
func (f Forecast) Draw() template.HTML {
	wide, narrow := f, f
	wide.wide, narrow.wide = plotWide, plotNarrow
	return wide.draw("plot for-desk") + narrow.draw("plot for-phone")
}

// last is the latest day that is drawn.
func (f Forecast) last() time.Time {
	last := f.Early
	for _, t := range []time.Time{f.Plain, f.Likely, f.Late} {
		if t.After(last) {
			last = t
		}
	}
	return last
}

func (f Forecast) draw(class string) template.HTML {
	days := func(t time.Time) float64 { return t.Sub(f.Now).Hours() / 24 }
	whole := max(days(f.last())*1.04, 1)
	scale := (f.wide - 2*forecastSide) / whole
	x := func(t time.Time) float64 { return forecastSide + scale*days(t) }
	c := &canvas{}
	c.line("thin", point{forecastSide, forecastAxis}, point{f.wide - forecastSide, forecastAxis})
	f.calendar(c, x, whole)
	end := f.wide - forecastSide // where it is open
	if !f.Late.IsZero() {
		end = x(f.Late)
	}
	c.raw(`<rect class="bar ahead" x="%s" y="%s" width="%s" height="20"/>`, n(x(f.Early)), n(forecastAxis-28), n(max(end-x(f.Early), 2)))
	if !f.Likely.IsZero() {
		c.line("limit", point{x(f.Likely), forecastAxis - 36}, point{x(f.Likely), forecastAxis})
		c.text("note middle", point{min(max(x(f.Likely), 60), f.wide-60), forecastAxis - 42}, "as likely as not")
	}
	if !f.Plain.IsZero() {
		c.circle("unsure-dot", point{x(f.Plain), forecastAxis - 18}, 5.5)
	}
	y := forecastAxis + 50
	for _, h := range f.Hangs {
		wide := max(h.Days*scale, 2)
		c.text("note", point{forecastSide, y}, h.Name+": "+h.Says)
		c.raw(`<rect class="bar" x="%s" y="%s" width="%s" height="8"/>`, n(forecastSide), n(y+5), n(min(wide, f.wide-2*forecastSide)))
		y += hangHeight
	}
	return c.svg(class, f.wide, y-12, f.Title)
}

// calendar writes years, or months where there are few of them, below the axis.
func (f Forecast) calendar(c *canvas, x func(time.Time) float64, days float64) {
	months := 1
	for _, step := range []int{1, 2, 3, 6, 12, 24, 60} {
		if months = step; days/30.4/float64(step)*58 <= f.wide-2*forecastSide {
			break
		}
	}
	first := time.Date(f.Now.Year(), f.Now.Month(), 1, 0, 0, 0, 0, f.Now.Location()).AddDate(0, 1, 0)
	for (int(first.Month())-1)%min(months, 12) != 0 {
		first = first.AddDate(0, 1, 0)
	}
	for t := first; x(t) <= f.wide-forecastSide; t = t.AddDate(0, months, 0) {
		name := t.Format("Jan")
		if t.Month() == time.January {
			name = t.Format("2006")
		}
		c.line("hair", point{x(t), forecastAxis}, point{x(t), forecastAxis + 6})
		if x(t) < f.wide-forecastSide-14 && x(t) > forecastSide+14 {
			c.text("note middle", point{x(t), forecastAxis + 20}, name)
		}
	}
}
