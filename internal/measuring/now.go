package measuring

import (
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
)

// Now is something that is measured by itself, without an aircraft: its title is the
// question that one stands before.
type Now struct{ Kind, Title string }

// Nows are what may be measured at once, in the order of their kinds.
func Nows() (out []Now) {
	for _, k := range measure.Kinds {
		if n, ok := NowOf(k.Name); ok {
			out = append(out, n)
		}
	}
	return out
}

// NowOf is the one of that kind.
func NowOf(kind string) (Now, bool) {
	k, _ := worksheet.KindNamed(kind)
	title := k.Form().Now
	return Now{kind, title}, title != ""
}

// Form is the form of what is measured now: as few fields as will do, with the limits that
// are usual where one kind of part usually has them.
func (n Now) Form() CheckForm {
	t, _ := FormOf(n.Kind)
	t.Name = strings.TrimSuffix(n.Title, "?")
	for _, u := range UsualChecks {
		for _, c := range u.Checks {
			if c.Kind != n.Kind {
				continue
			}
			if t.Usual == nil {
				t.Usual = c.Usual
			}
			for i, l := range t.Limits {
				for _, usual := range c.Limits {
					if l.Quantity == usual.Quantity && l.Usual == "" {
						t.Limits[i].Usual = usual.Usual
					}
				}
			}
		}
	}
	if usual := formOf(n.Kind).Example; usual != nil {
		t.Usual = usual
	}
	return t
}

// Named are the values of the form that are names and words, ready to be kept: figures are
// what lies before one.
func (n Now) Named() map[string]string {
	t := n.Form()
	out := map[string]string{}
	for _, f := range t.Fields() {
		usual := t.Usual[f.Key]
		switch {
		case f.As == "word" && len(f.Columns) == 0, len(f.Columns) == 1 && f.Columns[0] == "name":
			out[f.Key] = usual
		case len(f.Columns) > 1 && f.Columns[0] == "name":
			var lines []string
			for i, cells := range Cells(usual, len(f.Columns)) {
				line := cells[0]
				if i == 0 && f.Columns[1] == "y" && len(f.Columns) == 3 {
					line += "; 0"
				}
				lines = append(lines, line)
			}
			out[f.Key] = strings.Join(lines, "\n")
		}
	}
	delete(out, "lies") // stiff or limp is said for each part
	return out
}

// Setup is a setup of its own for what is measured now, without a hold: nothing becomes
// permanent by it. Problems are by "0.FIELD".
func (n Now) Setup(form ledger.Form, unit string, f Filled) (NewSetup, ledger.Problems) {
	wrong := ledger.Problems{}
	t := n.Form()
	definition := t.Definition(0, f, unitOf(unit), wrong)
	check := NewCheck{Name: t.Name, Definition: definition, Instrument: f.Instrument, Assumed: f.assumedLimits(t)}
	return NewSetup{Form: form, Name: t.Name, Unit: unit, Checks: []NewCheck{check}}, wrong
}
