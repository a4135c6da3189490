package gate

import (
	"strings"
	"time"

	"orpine/internal/core/spoken"
	"orpine/internal/ledger"
)

// Told is what a builder says of metal that was worked without a release, or before its joint had a
// hold here.
type Told struct{ How, By, Day, Reason *string }

// Read trims it, and finds what is wrong with it: problems are at "how", "by", "day" and "reason". day
// is the zero time where it is not known.
func (f Told) Read(now time.Time, wrong ledger.Problems) (day time.Time) {
	wrong.Text("by", f.By, ledger.MaxName, "who did it, as far as is known?")
	wrong.Text("reason", f.Reason, ledger.MaxNote, "")
	switch {
	case *f.How != Unreleased && *f.How != DoneBefore:
		wrong.Add("how", "was it done without a release, or before it was held here?")
	case *f.How == Unreleased && *f.Reason == "":
		wrong.Add("reason", "how did it come to be done without a release? It is shown here for ever")
	}
	if *f.Day = strings.TrimSpace(*f.Day); *f.Day == "" {
		return day
	}
	if on, err := spoken.Day(*f.Day, now); err == nil {
		*f.Day = on
	}
	day, err := time.ParseInLocation(time.DateOnly, *f.Day, now.Location())
	if err != nil || day.After(now) {
		wrong.Add("day", "on which day, as in 2026-04-30? Not after today")
	}
	return day
}
