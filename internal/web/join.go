package web

import (
	"fmt"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/web/drawing"
)

// joins lists the setups that join a surface to its airframe.
func (s *server) joins(c *gin.Context) {
	var list []app.Setup
	for _, a := range s.everything(c) {
		for _, setup := range a.Setups {
			if slices.ContainsFunc(setup.Checks, func(check app.Check) bool { _, ok := check.Joined(); return ok }) {
				list = append(list, setup)
			}
		}
	}
	if c.IsAborted() {
		return
	}
	s.render(c, http.StatusOK, "joins", "layout.html", s.page(c, "join", "Joins", list, footing{"joins", fmt.Sprint(len(list))}, footing{"sheet", "J"}))
}

// joinScene draws a join with every reading as the line that it is.
func joinScene(s scene) template.HTML {
	p, _ := s.check.Joined()
	d := drawing.Join{Figure: s.figure(s.setup.AssemblyName)}
	number := map[string]int{}
	for _, q := range p.Everywhere() {
		number[q.Name] = len(d.Places)
		d.Places = append(d.Places, drawing.JoinPlace{Name: q.Name, At: q.At, Surface: q.Surface + 1})
	}
	net := network(s.check)
	for _, placed := range net.Places {
		at := &d.Places[number[placed.Name]]
		d.Known = true
		for axis := range 3 {
			at.Moved[axis], at.U[axis] = placed.Moved[axis], app.Coverage*placed.U[axis]
		}
	}
	for _, r := range p.Taken() {
		l := drawing.JoinLine{Reading: s.reading("readings", r.ID, "value"), From: -1, To: number[r.To], View: viewOf(r.Type)}
		l.Level = pose.Type(r.Type) == pose.Roll || pose.Type(r.Type) == pose.Pitch
		if r.From != "" {
			l.From = number[r.From]
		}
		if residual, ok := residualOf(net, r.ID); ok && l.Known {
			l.Suspect = residual.Suspect
			if len(p.Taken()) <= fewReadings || residual.Suspect || math.Abs(residual.W) >= 1 {
				l.Says = sayResidual(residual)
			}
		}
		d.Lines = append(d.Lines, l)
	}
	if next := bestNext(s.check); next != nil {
		d.Lines = append(d.Lines, drawing.JoinLine{From: number[next.From], To: number[next.To], View: viewOf(next.Type), Next: true})
	}
	return d.Draw()
}

// fewReadings is up to how many the drawing has room for every residual; of more it
// shows those that stand out, and the lane has them all.
const fewReadings = 14

func viewOf(kind string) drawing.JoinView {
	return map[pose.Type]drawing.JoinView{pose.Height: drawing.FromBehind, pose.Roll: drawing.FromBehind, pose.Pitch: drawing.FromLeft}[pose.Type(kind)]
}

// network is what the adjustment says; nothing while it says nothing.
func network(c app.Check) measure.Network {
	if c.Result == nil || c.Result.Network == nil {
		return measure.Network{}
	}
	return *c.Result.Network
}

func residualOf(n measure.Network, id string) (measure.Residual, bool) {
	i := slices.IndexFunc(n.Readings, func(r measure.Residual) bool { return r.ID == id })
	if i < 0 {
		return measure.Residual{}, false
	}
	return n.Readings[i], true
}

func sayResidual(r measure.Residual) string {
	decimals, unit := app.Decimals(r.Dimension)
	return quantity.Signed(r.Value, decimals) + unit
}

// bestNext is the reading that would tell most, where the readings so far do not
// decide; nil where they do, or one that is planned is still to be taken.
func bestNext(c app.Check) *measure.NextReading {
	n := network(c)
	suspect := slices.ContainsFunc(n.Readings, func(r measure.Residual) bool { return r.Suspect })
	if !c.Complete() || suspect || c.Result.Verdict == measure.Go || c.Result.Verdict == measure.Stop || len(n.Next) == 0 {
		return nil
	}
	return &n.Next[0]
}

// joinNote says for a row of the lane what the adjustment says of its reading.
func joinNote(c app.Check, spot app.Spot) string {
	r, ok := residualOf(network(c), spot.Point)
	if !ok || len(spot.Counting()) == 0 {
		return ""
	}
	switch {
	case r.Suspect:
		return "does not fit the others by " + sayResidual(r) + ": take it again"
	case !r.Checked:
		return "checked by no other"
	}
	return "fits to " + sayResidual(r)
}

// sayReached says where the moves that may be made bring a surface; "" where all may.
func sayReached(n measure.Network) string {
	var parts []string
	for _, q := range n.Reached {
		if q.Limit != nil {
			decimals, unit := app.Decimals(q.Dimension)
			name := q.Name
			if at, ok := q.At.(string); ok {
				name = at + " " + name
			}
			parts = append(parts, name+" "+quantity.Signed(q.Value, decimals)+unit)
		}
	}
	if parts == nil {
		return ""
	}
	return "after the moves that may be made: " + strings.Join(parts, ", ")
}

// joined adds to the band what a join says: what nothing shows, what is suspect, and
// the reading to take next.
func (a *answer) joined(setup app.Setup, c app.Check) {
	n := network(c)
	if len(n.Unseen) > 0 {
		a.Lacks, a.LacksHref = "Nothing that was read shows "+strings.Join(n.Unseen, ", "), ""
	}
	for _, r := range n.Readings {
		if !r.Suspect {
			continue
		}
		for _, spot := range c.Spots {
			if spot.Point == r.ID {
				a.Next, a.Then, a.Href = "Take "+spot.Label+" again", "it does not fit the others by "+sayResidual(r), href(setup, c, spot.Number)
				return
			}
		}
	}
	if next := bestNext(c); next != nil {
		decimals, unit := app.Decimals(measure.Angle)
		if word := n.Want[strings.LastIndex(n.Want, " ")+1:]; slices.Contains([]string{"x", "y", "z", "height", "fore_aft", "lateral"}, word) {
			decimals, unit = app.Decimals(measure.Length)
		}
		a.Next = fmt.Sprintf("Read the %s %s to %s too", next.Type, next.From, next.To)
		a.Then = fmt.Sprintf("with the %s: %s is then known to ± %s%s", next.Instrument, n.Want, quantity.Fixed(app.Coverage*next.U, decimals+1), unit)
		a.Href = checkHref(setup, c) + "?" + url.Values{"type": {next.Type}, "from": {next.From}, "to": {next.To}}.Encode() + "#point"
	}
}
