package measuring

import (
	"fmt"
	"html/template"
	"net/url"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/measuring"
	"orpine/internal/web/drawing"
)

// answer is the band below the drawing: what the part is, how sure that is, and
// the one thing to do next.
type answer struct {
	check.Answer
	Scale     template.HTML
	Href      string
	Doubt     []doubtPart // what the ± is made of, the greatest first
	DoubtHead string      // what most of it is, in a line
	WeakHref  string      // the reading that contributes most
	LacksHref string
	Here      bool // Href is another place of this sheet

	PointsHref string
}

// doubtPart is a part of the ±, drawn.
type doubtPart struct {
	check.DoubtPart
	Bar template.HTML
}

// mostParts is how many parts of the doubt are drawn.
const mostParts = 4

// leastPart is the share from which on a part is drawn.
const leastPart = 0.01

// viewAnswer draws the scale of an answer, and finds where its goals are.
func viewAnswer(setup string, c measuring.Check, a check.Answer, unit quantity.Unit) answer {
	v := answer{Answer: a, Href: goal(setup, a.Goal), LacksHref: goal(setup, a.LacksGoal), PointsHref: goal(setup, a.PointsGoal)}
	v.Here = strings.HasPrefix(v.Href, "/setups/"+setup+"?")
	if a.Weak.Spot.Number > 0 {
		v.WeakHref = href(setup, c.ID, a.Weak.Spot.Number)
	}
	for i, part := range a.Weak.Parts {
		if i < mostParts && part.Share >= leastPart {
			v.Doubt = append(v.Doubt, doubtPart{part, drawing.Share(part.Share)})
		}
	}
	v.DoubtHead = doubtHead(a.Weak.Parts)
	if q := a.Headline; a.Shown && (q.U > 0 || q.Limit != nil) {
		v.Scale = scaleOf(q, unit).Draw()
	}
	return v
}

// doubtHead says what most of the ± is made of; where several have the same part in it, that they do.
func doubtHead(parts []check.DoubtPart) string {
	if len(parts) == 0 {
		return ""
	}
	alike := []string{}
	for _, p := range parts {
		if p.Percent() == parts[0].Percent() {
			alike = append(alike, p.Says)
		}
	}
	switch n := len(alike); {
	case n == 1:
		return fmt.Sprintf("Most of the doubt: %s (%s)", alike[0], parts[0].Percent())
	case n > 3:
		return fmt.Sprintf("The doubt: %s and %d others alike (%s each)", alike[0], n-1, parts[0].Percent())
	}
	return fmt.Sprintf("The doubt: %s alike (%s each)", say.And(alike...), parts[0].Percent())
}

func scaleOf(q measure.Quantity, unit quantity.Unit) drawing.Scale {
	figure := func(v float64) say.Figure { return check.Figure(q.Dimension, v) }
	scale := drawing.Scale{Value: q.Value, U: check.Coverage * q.U, Figure: figure, Round: 1}
	if unit == quantity.Inch && q.Dimension == measure.Length {
		scale.Round = 25.4
	}
	if q.Limit != nil {
		scale.Low, scale.High, scale.Of = q.Limit.Low, q.Limit.High, q.Name
	}
	return scale
}

// goal is where a next action is done; "" for nowhere in particular.
func goal(setup string, g check.Goal) string {
	switch {
	case g.Hold != "":
		return "/holds/" + g.Hold
	case g.Tools:
		return "/instruments"
	case g.Point && g.Add != nil:
		return checkHref(setup, g.Check) + "?" + url.Values{"type": {g.Add.Type}, "from": {g.Add.From}, "to": {g.Add.To}}.Encode() + "#point"
	case g.Point:
		return checkHref(setup, g.Check) + "#point"
	case g.Check != "":
		return href(setup, g.Check, g.Spot)
	}
	return ""
}

// checkHref is the sheet on which the check itself is changed.
func checkHref(setup, checkID string) string { return "/setups/" + setup + "/checks/" + checkID }
