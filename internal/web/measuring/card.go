package measuring

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/paper"
	"orpine/internal/web/kinds"
	"orpine/internal/web/ui"
)

// cardNumber is what a spot has on the card: its check's place, from A, and its own number.
func cardNumber(checkAt, number int) int { return 100*checkAt + number }

// cardOf is the bench card of a setup.
func (s sheets) cardOf(c *gin.Context, setup measuring.Setup) paper.Card {
	reader := s.Reader(c, setup.Airframe.Unit)
	title := setup.AssemblyName
	if title == "" {
		title = setup.Name
	}
	card := paper.Card{Heading: s.Heading(title, setup.Name, strings.Trim(setup.Airframe.Name+", "+setup.AssemblyName, ", "), "/setups/"+setup.ID+"/card")}
	for i, inHand := range setup.Checks {
		one := paper.CardCheck{Name: inHand.Name, Kind: inHand.Kind.Title, Drawing: reader.Text(string(kinds.Scene{Setup: setup, Check: blank(inHand)}.Draw()))}
		if s.Origin != nil && s.Origin() != "" {
			one.URL = s.Origin() + s.Base + "/setups/" + setup.ID + "?check=" + inHand.ID
		}
		for _, l := range inHand.Kind.Limits {
			if low, high := inHand.LimitTexts(l.Name); low != "" || high != "" {
				one.Limits = append(one.Limits, reader.Text(limitSays(inHand.Kind, l, low, high)))
			}
		}
		if inHand.Held {
			one.Notes = append(one.Notes, "It is flexible, or held down to its supports: leave it so.")
		}
		for _, spot := range inHand.Spots {
			line := paper.CardLine{Number: cardNumber(i, spot.Number), Place: spot.Place(), How: reader.Text(spot.How)}
			if counting := spot.Counting(); len(counting) > 0 {
				line.Was = reader.Text(kinds.ShowMean(spot, counting))
			}
			one.Lines = append(one.Lines, line)
		}
		card.Checks = append(card.Checks, one)
	}
	return card
}

// blank is a check as it is drawn before anything is read.
func blank(c measuring.Check) measuring.Check {
	if _, join := c.Joined(); join { // what is read is drawn on where it is thought to be
		return c
	}
	c.Result = nil
	c.Spots = slices.Clone(c.Spots)
	for i := range c.Spots {
		c.Spots[i].Readings, c.Spots[i].Gone = nil, nil
	}
	return c
}

// limitSays is a limit in words, with its unit.
func limitSays(kind measure.Kind, l measure.Limitable, low, high string) string {
	unit := check.UnitOf(l.Dimension)
	if l.Dimension == measure.Length {
		unit = " " + unit
	}
	with := func(text string) string {
		if strings.ContainsAny(text[len(text)-1:], "0123456789") {
			return text + unit
		}
		return text
	}
	said := check.SayLimited(kind, l.Name)
	switch {
	case low == "":
		return said + " at most " + with(high)
	case high == "":
		return said + " at least " + with(low)
	}
	return fmt.Sprintf("%s %s to %s", said, with(low), with(high))
}

func (s sheets) printCard(c *gin.Context) {
	setup, err := s.Measuring.Setup(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	data, err := s.cardOf(c, setup).Print(ui.PaperSize(c))
	s.PDF(c, "card "+setup.Title(), data, err)
}

// cardView is a bench card to be typed in.
type cardView struct {
	Setup       measuring.Setup
	Checks      []cardCheck
	Conditions  []string
	Condition   string
	Instruments []instrument.Instrument
	Taken       int
}

type cardCheck struct {
	measuring.Check
	Instrument string
	Lines      []cardField
}

type cardField struct {
	Spot   check.Spot
	Number int
	Field  string // of the form
	Value  string
	Shown  string // what is read there already
	Last   string
	Sent   string // the id that the reading is given
}

func cardFieldName(checkAt int, spot check.Spot) string {
	return fmt.Sprintf("spot.%d", cardNumber(checkAt, spot.Number))
}

func (s sheets) card(c *gin.Context) { s.showCard(c, cardView{}, ui.Refused{}) }

func (s sheets) showCard(c *gin.Context, v cardView, r ui.Refused) {
	sheet, err := s.Setup(c.Request.Context(), c.Param("id"), "", 0)
	if err != nil {
		s.Fail(c, err)
		return
	}
	setup, err := s.Measuring.Setup(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v.Setup, v.Conditions, v.Instruments = setup, check.Conditions, sheet.Instruments
	if v.Condition = c.PostForm("condition"); v.Condition == "" {
		v.Condition = check.Conditions[0]
	}
	for i, inHand := range setup.Checks {
		one := cardCheck{Check: inHand}
		if one.Instrument = c.PostForm(fmt.Sprintf("instrument.%d", i)); one.Instrument == "" && len(inHand.Spots) > 0 {
			one.Instrument = offered(setup, inHand, inHand.Spots[0], sheet.Instruments)
		}
		for _, spot := range inHand.Spots {
			f := cardField{Spot: spot, Number: cardNumber(i, spot.Number), Field: cardFieldName(i, spot)}
			if counting := spot.Counting(); len(counting) > 0 {
				f.Shown, f.Last = kinds.ShowMean(spot, counting), counting[len(counting)-1].ID
			}
			if r.Wrong[f.Field] != "" {
				f.Value = r.Typed[f.Field]
			}
			one.Lines = append(one.Lines, f)
		}
		v.Checks = append(v.Checks, one)
	}
	p := s.Page(c, "setup", setup.Title()+": a card typed in", v, setupFooting(setup, nil)...)
	p.Path, p.Problem, p.Unit = "/setups/"+setup.ID+"/card", r.Wrong, setup.Airframe.Unit
	s.Render(c, r.Status, "card", p)
}

// typeCard takes what was written on a card: each figure is a reading of its own, with an id that
// follows from the form's, so that the same card twice is once. What is refused stays in its
// field.
func (s sheets) typeCard(c *gin.Context) {
	setup, err := s.Measuring.Setup(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	wrong, taken := ledger.Problems{}, 0
	for i, inHand := range setup.Checks {
		for _, spot := range inHand.Spots {
			name := cardFieldName(i, spot)
			text := strings.TrimSpace(c.PostForm(name))
			if text == "" {
				continue
			}
			n := measuring.NewReading{Form: ledger.Form{ID: ledger.Child(c.PostForm("id"), name+"\x00"+c.PostForm("last."+name))}, Check: inHand.ID, Spot: spot.Key(), State: number64(c.PostForm("state")), Last: c.PostForm("last." + name), Text: text,
				Instrument: c.PostForm(fmt.Sprintf("instrument.%d", i)), Condition: c.PostForm("condition"), AsMeasured: c.PostForm("sure."+name) != ""}
			err := s.Measuring.Take(c.Request.Context(), n)
			var problems ledger.Problems
			switch {
			case errors.As(err, &problems):
				wrong[name] = strings.TrimPrefix(problems.Error(), "text: ")
			case err != nil:
				s.Fail(c, err)
				return
			default:
				taken++
			}
		}
	}
	if len(wrong) > 0 {
		s.showCard(c, cardView{Taken: taken}, ui.Refused{Status: 422, Wrong: wrong, Typed: ui.Typed(c)})
		return
	}
	c.Redirect(303, s.Base+"/setups/"+setup.ID)
}

func number64(text string) (n int64) {
	if _, err := fmt.Sscan(text, &n); err != nil {
		return 0
	}
	return n
}
