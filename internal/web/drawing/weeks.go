package drawing

import (
	"fmt"
	"html"
	"html/template"
	"slices"
	"time"
)

// Weeks is a schedule as a strip of weeks: each step a bar from its begin to its end, with its
// cure behind it, and visits as bands.
type Weeks struct {
	From   time.Time // the Monday of the first week
	Jobs   []WeekJob
	Visits [][2]time.Time
	// Evenings are the builder's own stretches, and Due what is expected.
	Evenings []time.Time
	Due      []WeekDue
}

// WeekDue is something that is expected on a day.
type WeekDue struct {
	Name string
	At   time.Time
	Late bool
}

// WeekJob is a step in the strip.
type WeekJob struct {
	Name            string
	Href            string
	From, To, Cured time.Time
	Helper          bool // it wants several people
	Says            string
}

// mostWeeks is how many weeks the strip shows at most, and mostJobs how many steps.
const (
	mostWeeks = 16
	mostJobs  = 24
)

// mostDue is how many things that are expected are drawn, and dueHigh how high the line of each is.
const (
	mostDue = 6
	dueHigh = 16.0
)

// letterWide is about how wide a letter of a note is.
const letterWide = 7.0

// Draw draws it.
func (w Weeks) Draw() template.HTML {
	if len(w.Jobs) == 0 {
		return ""
	}
	jobs := w.Jobs[:min(len(w.Jobs), mostJobs)]
	last := w.From
	for _, j := range jobs {
		if j.Cured.After(last) {
			last = j.Cured
		}
	}
	weeks := min(max(int(last.Sub(w.From).Hours()/(24*7))+1, 2), mostWeeks)
	const top, line = 34.0, 26.0
	c := &canvas{}
	width := figureWidth - 20
	end := w.From.AddDate(0, 0, 7*weeks)
	due := slices.DeleteFunc(slices.Clone(w.Due), func(d WeekDue) bool { return d.At.Before(w.From) || !d.At.Before(end) })
	due = due[:min(len(due), mostDue)]
	height := top + line*float64(len(jobs)) + 10 + dueHigh*float64(len(due))
	x := func(t time.Time) float64 {
		share := t.Sub(w.From).Seconds() / end.Sub(w.From).Seconds()
		return 10 + width*min(max(share, 0), 1)
	}
	for _, v := range w.Visits {
		if v[0].Before(end) && v[1].After(w.From) {
			c.raw(`<rect class="visit" x="%s" y="%s" width="%s" height="%s"/>`, n(x(v[0])-3), n(top-4), n(max(x(v[1])-x(v[0]), 6)), n(height-top))
		}
	}
	for k := range weeks + 1 {
		at := w.From.AddDate(0, 0, 7*k)
		c.line("hair", point{x(at), top - 6}, point{x(at), height - 4})
		if k < weeks && (weeks <= 8 || k%2 == 0) {
			c.text("note", point{x(at) + 4, top - 12}, at.Format("2 Jan"))
		}
	}
	for _, e := range w.Evenings {
		if !e.Before(w.From) && e.Before(end) {
			c.line("evening", point{x(e), top - 6}, point{x(e), top - 1})
		}
	}
	for i, d := range due {
		y := top + line*float64(len(jobs)) + 10 + dueHigh*float64(i)
		kind := "due"
		if d.Late {
			kind += " late"
		}
		c.line(kind, point{x(d.At), top - 6}, point{x(d.At), y + 4})
		says := d.Name + ", due " + d.At.Format("2 Jan")
		if x(d.At) > figureWidth*0.62 {
			c.text("note end "+kind, point{x(d.At) - 5, y + 8}, says)
		} else {
			c.text("note "+kind, point{x(d.At) + 5, y + 8}, says)
		}
	}
	for i, j := range jobs {
		y := top + line*float64(i)
		kind := "job"
		if j.Helper {
			kind += " helper"
		}
		c.raw(`<a href="%s" class="%s" aria-label="%s"><title>%s</title>`, html.EscapeString(j.Href), kind, html.EscapeString(j.Name+", "+j.Says), html.EscapeString(j.Name+": "+j.Says))
		c.raw(`<rect class="bar" x="%s" y="%s" width="%s" height="14"/>`, n(x(j.From)), n(y+2), n(max(x(j.To)-x(j.From), 3)))
		if j.Cured.After(j.To) {
			c.strokes("cure", point{x(j.To), y + 9}, point{x(j.Cured), y + 9})
		}
		switch right := max(x(j.To), x(j.Cured)) + 6; {
		case right > figureWidth*0.62 && x(j.From) < letterWide*float64(len([]rune(j.Name)))+12:
			c.text("note in-bar", point{x(j.From) + 5, y + 13}, j.Name) // no room on either side
		case right > figureWidth*0.62:
			c.text("note end", point{x(j.From) - 6, y + 13}, j.Name)
		default:
			c.text("note", point{right, y + 13}, j.Name)
		}
		c.raw(`</a>`)
	}
	return c.svg("weeks", figureWidth, height, fmt.Sprintf("the schedule of the next %d weeks", weeks))
}
