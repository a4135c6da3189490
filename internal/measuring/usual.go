package measuring

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
)

// Usual is the checks that an assembly of a kind usually has, in working order, and
// the step that they stand before.
type Usual struct {
	ID, Name        string
	Checks          []CheckForm
	Step, Permanent string
	Why             string
}

// UsualOf returns the usual checks of that id, with what any part may want after them.
func UsualOf(id string) (Usual, bool) {
	for _, u := range UsualChecks {
		if u.ID != id {
			continue
		}
		if id != "join" && id != "joins" {
			u.Checks = slices.Clone(u.Checks)
			for _, c := range every {
				if !slices.ContainsFunc(u.Checks, func(own CheckForm) bool { return own.Kind == c.Kind }) {
					u.Checks = append(u.Checks, c)
				}
			}
		}
		return u, true
	}
	return Usual{}, false
}

// Setup makes a setup of the checks that were taken, at an assembly whose shape offers some
// of their figures. Problems are by "NUMBER.FIELD".
func (u Usual) Setup(form ledger.Form, at airframe.Assembly, name string, unit quantity.Unit, filled []Filled) (NewSetup, ledger.Problems) {
	n, wrong := NewSetup{Form: form, Assembly: at.ID, Name: name}, ledger.Problems{}
	h := &gate.NewHold{Name: say.Sentence(u.Step) + ": " + u.Permanent, Step: u.Step, Permanent: u.Permanent, Why: u.Why}
	survey := ""
	for i, f := range filled {
		if !f.Take || i >= len(u.Checks) {
			continue
		}
		c := u.Checks[i]
		definition := c.Definition(i, f, unit, wrong)
		if says := c.Far(f, at.Shape, unit); says != "" {
			wrong.Add(fmt.Sprintf("%d.far", i), says)
		}
		number := fmt.Sprint(len(n.Checks))
		check := NewCheck{Name: c.Name, Definition: definition, Accepts: c.Accepts, Instrument: f.Instrument, Assumed: append(c.Assumes(f, at.Shape, unit), f.assumedLimits(c)...)}
		switch {
		case c.surveys():
			survey = number
		case definition["held"] == true:
			check.Survey = survey
		}
		n.Checks = append(n.Checks, check)
		h.Required = append(h.Required, Requirements(c.Kind, number, definition["limits"] != nil)...)
	}
	n.Hold = h
	return n, wrong
}

// assumedLimits says that limits were taken as they usually are.
func (f Filled) assumedLimits(t CheckForm) []string {
	if !f.Usual || !slices.ContainsFunc(t.Limits, func(l LimitField) bool { return f.takesUsual(l) }) {
		return nil
	}
	var names []string
	for _, l := range t.Limits {
		if f.takesUsual(l) {
			names = append(names, l.Quantity)
		}
	}
	return []string{usualLimitsOf + strings.Join(names, ", ")}
}

// takesUsual tells whether a limit is the usual one, for none was typed.
func (f Filled) takesUsual(l LimitField) bool {
	low, high := l.ends(quantity.Millimetre)
	return f.Usual && strings.TrimSpace(f.Low[l.Quantity]+f.High[l.Quantity]) == "" && low+high != ""
}

// ends are those of the usual limit, as they would be typed in a unit; both "" where it has none.
func (l LimitField) ends(unit quantity.Unit) (low, high string) {
	if v, ok := strings.CutSuffix(l.Usual, " "+quantity.Millimetre.String()); ok && unit == quantity.Inch {
		at := strings.IndexAny(v, "0123456789")
		if mm, err := strconv.ParseFloat(v[at:], 64); err == nil { // to the thousandth below
			l.Usual = v[:at] + strconv.FormatFloat(math.Floor(mm/25.4*1000)/1000, 'f', 3, 64) + " " + unit.String()
		}
	}
	if v, ok := strings.CutPrefix(l.Usual, "±"); ok {
		return "-" + v, v
	}
	if v, ok := strings.CutPrefix(l.Usual, "at most "); ok {
		return "", v
	}
	if v, ok := strings.CutPrefix(l.Usual, "at least "); ok {
		return v, ""
	}
	if a, b, ok := strings.Cut(l.Usual, " to "); ok {
		return a, b
	}
	return "", ""
}

// Says is the usual limit in words, "" for none.
func (l LimitField) Says() say.Text {
	at := strings.IndexAny(l.Usual, "0123456789")
	if at < 0 {
		return l.Usual
	}
	before, figures := l.Usual[:at], strings.Split(l.Usual[at:], " to ")
	for i, text := range figures {
		number := strings.TrimRight(text, "m° ")
		_, decimals, _ := strings.Cut(number, ".")
		v, err := strconv.ParseFloat(number, 64)
		if err != nil {
			return l.Usual
		}
		figure := say.Angle(v)
		if strings.HasSuffix(text, quantity.Millimetre.String()) {
			figure = say.Length(v)
		}
		if figure = figure.Fine(len(decimals)); i < len(figures)-1 {
			figure = figure.Bare()
		}
		figures[i] = figure.String()
	}
	return before + strings.Join(figures, " to ")
}

// HasUsual tells whether there is a usual limit.
func (l LimitField) HasUsual() bool {
	low, high := l.ends(quantity.Millimetre)
	return low+high != ""
}
