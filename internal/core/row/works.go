package row

import (
	"slices"
	"strings"
)

// Works are what each hole of a row may be asked for: what its layers need (dimples and
// countersinks, each formed before it is cleaned), primer too, or no more than that it is
// cleaned, where parts come formed.
var Works = []string{"what its layers need", "that, and primer", "no more than cleaning"}

// Asks is what a hole is asked for beyond deburring and clearing.
type Asks struct {
	Form  string // "dimpled", "countersunk", "dimpled and countersunk"; "" for neither
	Prime bool
}

// AsksOf is what the layers at a hole, and the school of its row, need. Hardware other than
// rivets wants the same.
func (r Row) AsksOf(h Hole) Asks {
	a := Asks{Prime: r.Works == Works[1]}
	if r.Works == "" || r.Works == Works[2] {
		return a
	}
	var forms []string
	for _, l := range r.Layers {
		if l.at(h.Number) && l.Hole != "plain" && !slices.Contains(forms, l.Hole) {
			forms = append(forms, l.Hole)
		}
	}
	slices.SortFunc(forms, func(a, b string) int { return strings.Compare(b, a) })
	a.Form = strings.Join(forms, " and ")
	return a
}

// Steps are the operations between drilling and pinning that some hole of the row wants, in
// the order of work.
func (r Row) Steps(holes []Hole) []Operation {
	var form, prime bool
	for _, h := range holes {
		a := r.AsksOf(h)
		form, prime = form || a.Form != "", prime || a.Prime
	}
	out := []Operation{Drill}
	if form {
		out = append(out, Deburr, Form)
	}
	out = append(out, Clean)
	if prime {
		out = append(out, Prime)
	}
	return out
}

// Reach is what cannot be done to a hole any more once a later step is taken. The zero value
// is a hole that stays within reach.
type Reach struct {
	What string `json:"what,omitempty"` // one of Reaches
	Step string `json:"step,omitempty"` // the later step, in words
	Hold string `json:"hold,omitempty"` // the id of its hold, where one stands before it
}

// Reaches are what may become impossible.
var Reaches = []string{"set", "formed"}

// Unreached are the holes that a step would put out of reach: they cannot be set, or formed,
// once it is taken, and are not yet.
func Unreached(holes []Hole, of func(Reach) bool) []int {
	var out []int
	for _, h := range holes {
		if h.Reach.Step == "" || h.Done() || h.Filled() || h.Reach.What == "formed" && h.Formed || !of(h.Reach) {
			continue
		}
		out = append(out, h.Number)
	}
	return out
}

func shut(h Hole, a Asked, _ Leave) (Hole, error) {
	switch {
	case h.Done() || h.Filled():
		return h, refuse("", "hole %d is %s", h.Number, h.State)
	case strings.TrimSpace(a.Reach.Step) == "" && h.Reach.Step == "":
		return h, refuse("after", "after which step can hole %d not be reached?", h.Number)
	case strings.TrimSpace(a.Reach.Step) == "":
		h.Reach = Reach{} // it can be after all
		return h, nil
	case !slices.Contains(Reaches, a.Reach.What):
		return h, refuse("after", "can it not be set, or not be formed, after that?")
	}
	h.Reach = a.Reach
	return h, nil
}
