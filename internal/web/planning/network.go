package planning

import (
	"fmt"
	"html/template"
	"slices"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/overview"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

// glance is how many steps are read at a glance; more are walked.
const glance = 40

// networkView is the steps as a network: those ahead at a glance, or one with what is near it.
type networkView struct {
	overview.OrderSheet
	Net, Map    template.HTML
	Here        *Line
	Why         []string
	After, Next []Line // of the one in hand
	More        int    // steps that are not drawn
	Shown       int
}

func (s sheets) network(c *gin.Context) {
	sheet, err := s.Order(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := networkView{OrderSheet: sheet}
	w := web{sheet: sheet, base: s.Base, state: map[string]string{}, says: map[string]string{}}
	w.read()
	list := w.ahead()
	if here := w.at(c.Query("step")); here >= 0 {
		list = w.near(here)
		line := w.line(here)
		v.Here = &line
		for _, b := range sheet.Plan.Steps[here].After {
			v.After = append(v.After, w.line(b))
		}
		for i, step := range sheet.Plan.Steps {
			if slices.Contains(step.After, here) {
				v.Next = append(v.Next, w.line(i))
			}
		}
		for _, h := range sheet.Answer.Held {
			if h.ID == line.ID {
				for _, by := range h.By {
					v.Why = append(v.Why, sheet.Why(by))
				}
			}
		}
	}
	v.Net = w.draw(list, c.Query("step")).Draw()
	v.Shown, v.More = len(list), len(sheet.Plan.Steps)-len(list)
	if v.More > 0 {
		all := make([]int, len(sheet.Plan.Steps))
		for i := range all {
			all[i] = i
		}
		v.Map = w.draw(all, c.Query("step")).Map()
	}
	p := s.Page(c, "order", "The order as a network", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "steps", Text: fmt.Sprint(len(sheet.Plan.Steps))}, ui.Footing{Label: "sheet", Text: "O 9"})
	p.Unit = sheet.Airframe.Unit
	s.Render(c, 0, "network", p)
}

// web is the network of a plan, to be drawn in part.
type web struct {
	sheet       overview.OrderSheet
	base        string
	state, says map[string]string
	start       map[string]int // place in the schedule
}

func (w *web) read() {
	w.start = map[string]int{}
	for i, job := range w.sheet.Answer.Schedule {
		w.start[job.ID], w.says[job.ID] = i, w.sheet.At(job.Start).Format("Mon 2 Jan 15:04")
	}
	for _, id := range append(slices.Clone(w.sheet.Answer.Now), w.sheet.Answer.WithHelper...) {
		w.state[id] = "now"
	}
	for _, h := range w.sheet.Answer.Held {
		w.state[h.ID] = "held"
		if len(h.By) > 0 && w.says[h.ID] == "" {
			w.says[h.ID] = w.sheet.Why(h.By[0])
		}
	}
	for _, s := range w.sheet.Plan.Steps {
		if s.State == plan.Done {
			w.state[s.ID], w.says[s.ID] = "done", "done"
		}
	}
}

func (w *web) at(id string) int {
	return slices.IndexFunc(w.sheet.Plan.Steps, func(s plan.Step) bool { return s.ID == id })
}

func (w *web) line(i int) Line {
	id := w.sheet.Plan.Steps[i].ID
	return Line{OrderStep: w.sheet.Steps[id], When: w.says[id]}
}

// ahead are the steps that are not done: all, or the first by the schedule.
func (w *web) ahead() (out []int) {
	for i, s := range w.sheet.Plan.Steps {
		if s.State != plan.Done {
			out = append(out, i)
		}
	}
	place := func(i int) int {
		if at, ok := w.start[w.sheet.Plan.Steps[i].ID]; ok {
			return at
		}
		return len(w.sheet.Plan.Steps)
	}
	slices.SortStableFunc(out, func(a, b int) int { return place(a) - place(b) })
	return out[:min(len(out), glance)]
}

// near are the steps around one: what it comes after, and what comes after it, two deep.
func (w *web) near(here int) []int {
	steps := w.sheet.Plan.Steps
	out := []int{here}
	add := func(list []int) {
		for _, i := range list {
			if !slices.Contains(out, i) && len(out) < glance {
				out = append(out, i)
			}
		}
	}
	follows := func(of int) (list []int) {
		for i, s := range steps {
			if slices.Contains(s.After, of) {
				list = append(list, i)
			}
		}
		return list
	}
	before, after := steps[here].After, follows(here)
	add(before)
	add(after)
	for _, b := range before {
		add(steps[b].After)
	}
	for _, f := range after {
		add(follows(f))
	}
	return out
}

func (w *web) draw(list []int, here string) drawing.Network {
	net := drawing.Network{Title: fmt.Sprintf("%d steps, each to the right of what it comes after", len(list))}
	place := map[int]int{}
	for k, i := range list {
		place[i] = k
	}
	for _, i := range list {
		s := w.sheet.Plan.Steps[i]
		state := w.state[s.ID]
		if state == "" {
			state = "open"
		}
		node := drawing.NetNode{Name: w.sheet.Steps[s.ID].Name, Href: w.base + "/order/network?airframe=" + w.sheet.Airframe.ID + "&step=" + s.ID, Says: w.says[s.ID], State: state, Here: s.ID == here}
		for _, b := range s.After {
			if k, ok := place[b]; ok {
				node.After = append(node.After, k)
			}
		}
		net.Nodes = append(net.Nodes, node)
	}
	return net
}
