// Package practice is the sheets of the trainer, in its own workshop.
package practice

import (
	"embed"
	"fmt"
	"html/template"
	"math"
	"math/rand/v2"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	core "orpine/internal/core/practice"
	"orpine/internal/core/say"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/practice"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct {
	*ui.UI
	trainer *practice.Practice
}

// Routes registers the sheets of a trainer, and what is practised on every other sheet.
func Routes(p *practice.Practice) func(u *ui.UI) {
	return func(u *ui.UI) {
		s := sheets{u, p}
		u.Trainer = ui.TrainerPath
		u.Practising = s.practising
		u.Pages(templates)
		u.GET("/exercises", func(c *gin.Context) { s.show(c, ui.Refused{}) })
		u.POST("/exercises/:exercise/begin", s.begin)
		u.GET("/attempts/:id", s.attempt)
		u.POST("/attempts/:id/decide", s.decide)
		u.Shows("exercises", func(c *gin.Context, _ string, r ui.Refused) { s.show(c, r) })
	}
}

// practising is the exercise in hand: that of the setup that is shown, else the last one begun.
func (s sheets) practising(c *gin.Context) *ui.Practising {
	open, err := s.trainer.Open(c.Request.Context())
	if err != nil || len(open) == 0 {
		return &ui.Practising{}
	}
	a := open[len(open)-1]
	for _, o := range open {
		if id := c.Param("id"); id != "" && (o.SetupID == id || o.RowID() == id || o.HoldID() == id) {
			a = o
		}
	}
	if err := s.trainer.Play(c.Request.Context(), a); err != nil {
		s.Log(c, err)
	}
	return &ui.Practising{Title: a.Exercise.Title, Task: strings.TrimSpace(a.Exercise.Task + " " + a.Scene.Story), Attempt: a.ID, Path: a.Path(), Step: a.Scene.Step, Verb: verb(a)}
}

// view is the list of exercises.
type view struct {
	Exercises []exercise
	Who       string
}

type exercise struct {
	core.Exercise
	Number int
	Score  string
}

func (s sheets) show(c *gin.Context, r ui.Refused) {
	v := view{Who: ui.Who(c)}
	if who, said := c.GetQuery("who"); said && len(who) <= ledger.MaxName {
		v.Who = strings.TrimSpace(who)
		s.Remember(c, "who", v.Who)
	}
	done, err := s.trainer.Progress(c.Request.Context(), v.Who)
	if err != nil {
		s.Fail(c, err)
		return
	}
	for i, e := range core.Exercises {
		score := "–"
		if d := done[e.ID]; d[1] > 0 {
			score = fmt.Sprintf("%d of %d", d[0], d[1])
		}
		v.Exercises = append(v.Exercises, exercise{e, i + 1, score})
	}
	p := s.Page(c, "practice", "Practice", v, ui.Footing{Label: "exercises", Text: fmt.Sprint(len(core.Exercises))}, ui.Footing{Label: "sheet", Text: "T 1"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Path, p.Problem = "/exercises", r.Wrong
	s.Render(c, r.Status, "exercises", p)
}

func (s sheets) begin(c *gin.Context) {
	n := practice.Begin{Form: ledger.Form{ID: c.PostForm("id")}, Exercise: c.Param("exercise"), Seed: rand.Uint64N(1 << 40), Who: c.PostForm("who")}
	if text := c.PostForm("seed"); text != "" {
		if _, err := fmt.Sscan(text, &n.Seed); err != nil || n.Seed >= 1<<40 {
			s.Done(c, ledger.Problems{"seed": "a number is wanted, or nothing"}, "", func(r ui.Refused) { s.show(c, r) })
			return
		}
	}
	s.Remember(c, "who", n.Who)
	a, err := s.trainer.Begin(c.Request.Context(), n)
	if err == nil {
		err = s.trainer.Play(c.Request.Context(), a)
	}
	to := a.Path()
	if a.Ended() {
		to = "/attempts/" + a.ID
	}
	s.Done(c, err, to, func(r ui.Refused) { s.show(c, r) })
}

func (s sheets) decide(c *gin.Context) {
	_, err := s.trainer.Decide(c.Request.Context(), practice.Decide{Attempt: c.Param("id"), Drill: c.PostForm("decide") == "drill"})
	s.Done(c, err, "/attempts/"+c.Param("id"), func(r ui.Refused) { s.show(c, r) })
}

// attemptView is what was true, once it is decided.
type attemptView struct {
	practice.Attempt
	Word, Says string
	Mark       string
	Drawing    template.HTML
	Missed     []string
}

func (s sheets) attempt(c *gin.Context) {
	ctx := c.Request.Context()
	a, err := s.trainer.Attempt(ctx, c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	if !a.Ended() {
		c.Redirect(303, s.Base+a.Path())
		return
	}
	var setup measuring.Setup
	if len(a.Scene.Checks) > 0 {
		setup, err = s.Measuring.Setup(ctx, a.SetupID)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	tools, err := s.Instruments.List(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := attemptView{Attempt: a, Missed: a.Said()}
	if t := truth(a, setup, tools); len(t.Strips) > 0 {
		v.Drawing = t.Draw()
	}
	v.Mark, v.Word, v.Says = outcome(a)
	p := s.Page(c, "practice", a.Exercise.Title+": what was true", v, ui.Footing{Label: "exercise", Text: a.Exercise.Title}, ui.Footing{Label: "readings", Text: fmt.Sprint(a.Readings)}, ui.Footing{Label: "sheet", Text: "T 2"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Path = "/attempts/" + a.ID
	s.Render(c, 0, "attempt", p)
}

// verb is what is done with a good one.
func verb(a practice.Attempt) string {
	switch {
	case a.Scene.Cure != nil:
		return "Take"
	case a.Scene.Row != nil:
		return "Close up"
	case a.Scene.Night != nil:
		return "Do"
	case a.Exercise.ID == "wrong-hand":
		return "Rivet"
	}
	return "Drill"
}

func outcome(a practice.Attempt) (mark, word, says string) {
	switch plain := len(a.Scene.Checks) == 0; {
	case a.Outcome() == practice.Guess:
		return "unsure", "Right, by luck", "What was read did not bear it, so it counts for nothing: the next one like it goes the other way."
	case a.Outcome() == practice.Waited && !plain:
		return "unsure", "Left, while nothing was decided", "It was inside its limits. No harm is done where readings cannot decide: more of them would have."
	case plain && a.Well():
		return "go", "Decided right", ""
	case plain:
		return "stop", "Decided wrong", ""
	case a.Drilled == 1 && a.Good == 1:
		return "go", "Drilled, and right", "It was inside its limits."
	case a.Drilled == 1:
		return "stop", "Drilled outside its limits", "A hole cannot be undrilled."
	case a.Good == 0:
		return "go", "Left, and right", "It was outside its limits."
	}
	return "stop", "A good part was refused", "It was inside its limits, and might have been drilled."
}

// truth draws the hidden part over what was read, spot by spot.
func truth(a practice.Attempt, setup measuring.Setup, tools []instrument.Instrument) drawing.Truth {
	zero := map[string]float64{}
	for _, t := range tools {
		zero[t.Name] = float64(t.Zero)
	}
	t := drawing.Truth{Label: "what was believed of the part, and what was true"}
	for i, c := range setup.Checks {
		var order []string
		strips := map[string]*drawing.TruthStrip{}
		for _, spot := range c.Spots {
			for _, h := range a.Scene.Spots {
				if h.Check != i || h.List != spot.List || h.Point != spot.Point || h.Field != spot.Field {
					continue
				}
				name := c.Name + ": " + spot.Label
				if spot.Field == "" || spot.Point == "" {
					name = c.Name
				}
				s, ok := strips[name]
				if !ok {
					s, order = &drawing.TruthStrip{Name: name, Unit: map[bool]string{true: "angle", false: "length"}[h.Angle], Figure: map[bool]func(float64) say.Figure{true: say.Angle, false: func(mm float64) say.Figure { return say.Length(mm).Fine(2) }}[h.Angle]}, append(order, name)
					strips[name] = s
				}
				place := spot.Point
				if place == "" {
					place = spot.Label
				}
				s.Places, s.True, s.Believed = append(s.Places, place), append(s.True, h.True), append(s.Believed, believed(spot, zero))
			}
		}
		for _, name := range order {
			t.Strips = append(t.Strips, *strips[name])
		}
	}
	return t
}

func believed(spot check.Spot, zero map[string]float64) float64 {
	counting := spot.Counting()
	if len(counting) == 0 {
		return math.NaN()
	}
	sum := 0.0
	for _, r := range counting {
		v := r.Value - zero[r.Instrument]
		if r.Turned {
			v = r.Value + zero[r.Instrument]
		}
		sum += v / float64(len(counting))
	}
	return sum
}
