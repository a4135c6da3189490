package check

import (
	"fmt"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// Weak is what the ± of a check's answer is made of, and what would lessen it, in words.
type Weak struct {
	Spot     Spot        // the reading that contributes most; its number is 0 where an instrument's constant error does
	Parts    []DoubtPart // the greatest first
	Remedies []Cure      // against them, in their order
}

// DoubtPart is a part of the doubt.
type DoubtPart struct {
	Says  string  // "the spread of level 2"
	Share float64 // of u²
}

// Cure is something that was tried, in words, with the ± that it would leave.
type Cure struct {
	Says, U say.Text
	Tools   bool // it is done on the sheet of the instruments
}

// Weak says what the doubt of the headline is made of; ok is false where nothing is uncertain.
func (c Check) Weak() (w Weak, ok bool) {
	q, found := c.Headline()
	if !found || q.U == 0 || q.Unseen {
		return w, false
	}
	for _, d := range q.Doubt() {
		w.Parts = append(w.Parts, DoubtPart{SayDoubt(d.Of), d.Share})
	}
	if weakness := q.Weakness(); weakness.Offset == "" {
		w.Spot, _ = c.Spot(c.Where[weakness.Reading])
	}
	for _, r := range q.Remedies() {
		w.Remedies = append(w.Remedies, Cure{sayRemedy(r), Figure(q.Dimension, Coverage*r.U).Up().String(), r.Do == measure.TurnEnds || r.Do == measure.KnownSize})
	}
	return w, len(w.Parts) > 0
}

func percent(share float64) string { return quantity.Fixed(100*share, 0) }

// Percent writes a share of the doubt.
func (d DoubtPart) Percent() string { return percent(d.Share) + " %" }

// doubts are what a part of the doubt is called; %s is the instrument.
var doubts = map[string]string{
	"resolution": "the step of %s", "spread": "how %s repeats", "spot": "where %s stands", "constant": "the constant error of %s", "proportion": "the scale of %s",
	"corrections": "what was corrected for", "given": "what was given with its u", "points": "where points and marks lie", "held": "what is held or pinned", "board": "the board", "datum": "the datum", "line": "the squareness of the line",
}

// SayDoubt says what a part of the doubt is of, by its name in a worksheet.
func SayDoubt(of string) string {
	cause, name, _ := strings.Cut(of, " ")
	words, ok := doubts[cause]
	switch {
	case !ok:
		return of
	case !strings.Contains(words, "%s"):
		return words
	case name == "":
		name = "the reading"
	}
	return fmt.Sprintf(words, name)
}

// sayRemedy says what to do.
func sayRemedy(r measure.Remedy) say.Text {
	switch r.Do {
	case measure.PlaceMoved:
		return fmt.Sprintf("%d more placings of %s at each place, lifted off and set a little beside", r.More, r.Of)
	case measure.FinerStep:
		step := say.Length(r.Step).Fine(2).String()
		if r.Measures == measure.Angle {
			step = say.Angle(r.Step).Fine(3).String()
		}
		return fmt.Sprintf("an instrument like %s in steps of %s", r.Of, step)
	case measure.TurnEnds:
		return fmt.Sprintf("%s turned end for end on one spot", r.Of)
	case measure.KnownSize:
		return fmt.Sprintf("%s tried on something known", r.Of)
	}
	return "the board turned round on its chord line"
}
