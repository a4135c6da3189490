package airframe

import (
	"fmt"
	"html/template"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/measuring"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

// historyView is a part through its life: a plot for each figure that its checks gave.
type historyView struct {
	Airframe airframe.Airframe
	Assembly airframe.Assembly
	Lives    []lifeView
	Alone    []measuring.Lived // figures that were found once
}

// lifeView is one figure through the life of a part.
type lifeView struct {
	Says  say.Text
	Plot  template.HTML
	Lines []measuring.Lived
}

// lives parts what the checks said by figure, those with most times first.
func lives(all []measuring.Lived) (out []lifeView) {
	for _, l := range all {
		i := slices.IndexFunc(out, func(v lifeView) bool { return v.Says == l.Says() })
		if i < 0 {
			i, out = len(out), append(out, lifeView{Says: l.Says()})
		}
		out[i].Lines = append(out[i].Lines, l)
	}
	slices.SortStableFunc(out, func(a, b lifeView) int { return len(b.Lines) - len(a.Lines) })
	return out
}

// Found is a figure with its ±.
func (lifeView) Found(l measuring.Lived) say.Text {
	return check.Figure(l.Figure.Dimension, l.Figure.Value).Signed().Within(check.Coverage * l.Figure.U).String()
}

// Since says what had happened before a figure was read.
func (lifeView) Since(l measuring.Lived) string {
	if l.Since == "" {
		return "at first"
	}
	return string(l.Since)
}

func (s sheets) life(c *gin.Context) (v historyView, ok bool) {
	var err error
	if v.Airframe, v.Assembly, err = s.Airframes.Assembly(c.Request.Context(), c.Param("id")); err != nil {
		s.Fail(c, err)
		return v, false
	}
	all, err := s.Measuring.Life(c.Request.Context(), v.Assembly.ID)
	if err != nil {
		s.Fail(c, err)
		return v, false
	}
	v.Lives = lives(all)
	return v, true
}

func (s sheets) history(c *gin.Context) {
	v, ok := s.life(c)
	if !ok {
		return
	}
	for i := range v.Lives {
		v.Lives[i].Plot = s.plot(v.Assembly.Name, v.Lives[i])
	}
	p := s.Page(c, "airframe", v.Assembly.Name+": through its life", v, ui.Footing{Label: "airframe", Text: v.Airframe.Name}, ui.Footing{Label: "assembly", Text: v.Assembly.Name}, ui.Footing{Label: "sheet", Text: "A 5"})
	p.Unit = v.Airframe.Unit
	s.Render(c, 0, "history", p)
}

// plot draws a figure through the life of a part, against the limits that it has now.
func (s sheets) plot(part string, v lifeView) template.HTML {
	last := v.Lines[len(v.Lines)-1]
	p := drawing.Plot{Title: fmt.Sprintf("%s: %s through its life", part, v.Says), Figure: func(x float64) say.Figure { return check.Figure(last.Figure.Dimension, x) }}
	if l := last.Figure.Limit; l != nil {
		p.Low, p.High, p.Says = l.Low, l.High, "its limits now"
	}
	for _, l := range v.Lines {
		p.Points = append(p.Points, drawing.PlotPoint{At: l.At, Name: v.Since(l), Value: l.Figure.Value, U: check.Coverage * l.Figure.U, Href: fmt.Sprintf("%s/setups/%s?check=%s", s.Base, l.SetupID, l.CheckID), Mark: l.Verdict.String(),
			Says: fmt.Sprintf("%s, %s: %s, %s", s.When(l.At), v.Since(l), v.Found(l), l.Verdict)})
	}
	return p.Draw()
}

func (s sheets) historyCSV(c *gin.Context) {
	v, ok := s.life(c)
	if !ok {
		return
	}
	records := [][]string{{"at", "since", "check", "figure", "value", "u", "unit", "verdict"}}
	for _, life := range v.Lives {
		for _, l := range life.Lines {
			unit, value, u := "mm", l.Figure.Value, check.Coverage*l.Figure.U
			switch {
			case l.Figure.Dimension == measure.Angle:
				unit = "deg"
			case v.Airframe.Unit == quantity.Inch:
				unit, value, u = "in", value/25.4, u/25.4
			}
			records = append(records, []string{l.At.Format("2006-01-02 15:04"), life.Since(l), l.Check, l.Figure.Name, strconv.FormatFloat(value, 'f', 4, 64), strconv.FormatFloat(u, 'f', 4, 64), unit, l.Verdict.String()})
		}
	}
	s.CSV(c, v.Assembly.Name+" through its life", records)
}
