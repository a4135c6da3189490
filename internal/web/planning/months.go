package planning

import (
	"fmt"
	"html/template"
	"strings"
	"time"

	"orpine/internal/overview"
	"orpine/internal/web/drawing"
)

// The months that are drawn: of the past, and at most of those ahead.
const (
	monthsBefore = 12
	monthsAhead  = 12
)

// months draws the hours of each month, against those that the builder's evenings make, and how the hours that are left
// fill the months ahead.
func months(s overview.HoursSheet) template.HTML {
	b := drawing.Bars{Title: "hours by month, and what is left", Unit: "hours; a frame is what the evenings make"}
	this := time.Date(s.Now.Year(), s.Now.Month(), 1, 0, 0, 0, 0, s.Now.Location())
	worked := map[string]float64{}
	first := this
	for _, one := range s.Sessions {
		month := time.Date(one.From.Year(), one.From.Month(), 1, 0, 0, 0, 0, s.Now.Location())
		worked[month.Format("2006-01")] += one.Hours(s.Now)
		if month.Before(first) {
			first = month
		}
	}
	if early := this.AddDate(0, -monthsBefore, 0); first.Before(early) {
		first = early
	}
	if len(worked) == 0 {
		return ""
	}
	left := s.Left
	for month := first; month.Before(this.AddDate(0, monthsAhead+1, 0)); month = month.AddDate(0, 1, 0) {
		can := evenings(s, month, month.AddDate(0, 1, 0))
		one := drawing.Bar{Name: month.Format("Jan"), Value: worked[month.Format("2006-01")], Expected: can}
		if month.Month() == time.January {
			one.Name = month.Format("2006")
		}
		one.Says = fmt.Sprintf("%s: %.0f h worked, the evenings make %.0f h", month.Format("January 2006"), one.Value, can)
		if month.After(this) {
			if left <= 0 || can == 0 {
				break
			}
			one.Value, one.ToGo = min(left, can), true
			left -= one.Value
			one.Says = fmt.Sprintf("%s: %.0f h to go, the evenings make %.0f h", month.Format("January 2006"), one.Value, can)
		}
		b.Bars = append(b.Bars, one)
	}
	return b.Draw()
}

// evenings is how many hours the builder's evenings make between two days.
func evenings(s overview.HoursSheet, from, to time.Time) (hours float64) {
	for day := from; day.Before(to); day = day.AddDate(0, 0, 1) {
		hours += float64(s.Week[strings.ToLower(day.Weekday().String()[:3])].Minutes) / 60
	}
	return hours
}
