package kinds

import (
	"html/template"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/measuring"
	"orpine/internal/web/drawing"
)

// Scene is what a drawing of a check is made from.
type Scene struct {
	Setup measuring.Setup
	Check measuring.Check
	Now   check.Spot // the point in hand
	Turn  bool       // the instrument is held the other way round there
}

// of makes a drawing of a kind's input one of a scene; what is of another kind shows its
// spots.
func of[I any](draw func(Scene, I) template.HTML) func(Scene) template.HTML {
	return func(s Scene) template.HTML {
		if input, ok := s.Check.Input.(I); ok {
			return draw(s, input)
		}
		return spotScene(s)
	}
}

// Draw draws the check; a kind without a drawing of its own shows its spots.
func (s Scene) Draw() template.HTML {
	if k, ok := Of(s.Check.Kind.Name); ok && k.Draw != nil {
		return k.Draw(s)
	}
	return spotScene(s)
}

func (s Scene) figure(title string) drawing.Figure {
	how := s.Now.How
	if s.Turn {
		how += "; turned round now"
	}
	return drawing.Figure{Title: title, How: how, Turned: s.Turn}
}

// reading is the spot of that list, point and field as it is drawn.
func (s Scene) reading(list, point, field string) drawing.Reading {
	for _, spot := range s.Check.Spots {
		if spot.List == list && spot.Point == point && spot.Field == field {
			return s.spot(spot)
		}
	}
	return drawing.Reading{Name: field, Mark: drawing.Todo}
}

func (s Scene) spot(spot check.Spot) drawing.Reading {
	counting := spot.Counting()
	r := drawing.Reading{Number: spot.Number, Name: spot.Label, Known: len(counting) > 0, Mark: mark(spot, s.Now, true)}
	if r.Known {
		r.Value, r.Shown = check.Mean(counting), ShowMean(spot, counting)
		for _, tool := range s.Check.Used {
			if tool.Name == counting[0].Instrument {
				r.Value = tool.True(r.Value, counting[0].Turned)
			}
		}
	}
	return r
}

// quantity is a result, if the readings so far give it.
func (s Scene) quantity(name string) (v float64, known bool) {
	if s.Check.Result == nil {
		return 0, false
	}
	q, ok := s.Check.Result.Quantity(name)
	return q.Value, ok
}

// move is the move at a place in a few words; nothing while readings are lacking.
func (s Scene) move(at string) (says string, m measure.Move) {
	if s.Check.Result == nil || !s.Check.Complete() || s.Check.Result.Verdict == measure.Go {
		return "", m
	}
	for _, m := range s.Check.Result.Moves {
		if m.At == at && m.Amount >= 0.05 {
			return say.Length(m.Amount).Bare().String() + " " + m.Direction, m
		}
	}
	return "", m
}

func spotScene(s Scene) template.HTML {
	d := drawing.OneSpot{Figure: s.figure(s.Setup.AssemblyName)}
	for _, spot := range s.Check.Spots[:min(2, len(s.Check.Spots))] {
		d.Readings = append(d.Readings, s.spot(spot))
		d.Tape = spot.Dimension == measure.Length
	}
	return d.Draw()
}

// DrawLast draws the last check of a setup, with nothing in hand.
func DrawLast(s measuring.Setup) template.HTML {
	return Scene{Setup: s, Check: s.Checks[len(s.Checks)-1]}.Draw()
}

// mark tells how far the spot is.
func mark(s check.Spot, now check.Spot, current bool) drawing.Mark {
	switch {
	case current && s.Number == now.Number:
		return drawing.Now
	case len(s.Counting()) > 0:
		return drawing.Taken
	case s.Stale() != "":
		return drawing.Stale
	}
	return drawing.Todo
}

// ShowMean writes the mean of the placings, one decimal finer when there are several.
func ShowMean(spot check.Spot, readings []check.Reading) string {
	decimals := check.Decimals(spot.Dimension)
	for _, r := range readings {
		decimals = max(decimals, typedDecimals(r.Text))
	}
	if len(readings) > 1 {
		decimals++
	}
	mean := check.Figure(spot.Dimension, check.Mean(readings)).Fine(decimals)
	if spot.Dimension == measure.Angle {
		mean = mean.Signed()
	}
	return mean.String()
}

// typedDecimals counts the decimals of a bare figure, two at most, so that a fine
// reading is shown as finely as it was typed.
func typedDecimals(text string) int {
	_, fraction, _ := strings.Cut(strings.TrimSuffix(strings.TrimSpace(text), " "+quantity.Millimetre.String()), ".")
	if strings.Trim(fraction, "0123456789") != "" {
		return 0
	}
	return min(len(fraction), 2)
}
