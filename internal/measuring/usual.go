package measuring

import (
	"fmt"

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

// UsualOf returns the usual checks of that id.
func UsualOf(id string) (Usual, bool) {
	for _, u := range UsualChecks {
		if u.ID == id {
			return u, true
		}
	}
	return Usual{}, false
}

// Setup makes a setup of the checks that were taken. Problems are by
// "NUMBER.FIELD".
func (u Usual) Setup(form ledger.Form, assembly, name string, unit quantity.Unit, filled []Filled) (NewSetup, ledger.Problems) {
	n, wrong := NewSetup{Form: form, Assembly: assembly, Name: name}, ledger.Problems{}
	h := &gate.NewHold{Name: say.Sentence(u.Step) + ": " + u.Permanent, Step: u.Step, Permanent: u.Permanent, Why: u.Why}
	for i, f := range filled {
		if !f.Take || i >= len(u.Checks) {
			continue
		}
		c := u.Checks[i]
		definition := c.Definition(i, f, unit, wrong)
		number := fmt.Sprint(len(n.Checks))
		n.Checks = append(n.Checks, NewCheck{Name: c.Name, Definition: definition, Accepts: c.Accepts})
		h.Required = append(h.Required, Requirements(c.Kind, number, definition["limits"] != nil)...)
	}
	n.Hold = h
	return n, wrong
}
