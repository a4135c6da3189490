package planning

import (
	"bytes"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/overview"
)

// evening is a stretch of work without a long break, and the steps that it holds.
type evening struct {
	from, to int64
	steps    []string
}

// shortBreak is how long nothing may be done, in minutes, and it is one evening still.
const shortBreak = 60

// eveningsOf are the stretches in which the schedule is worked on: what takes four weeks is not one
// block of four weeks.
func eveningsOf(stints []plan.Stint, name func(id string) string) (out []evening) {
	for _, s := range stints {
		last := len(out) - 1
		if last < 0 || s.From-out[last].to > shortBreak {
			out = append(out, evening{from: s.From})
			last++
		}
		if out[last].to = s.To; !slices.Contains(out[last].steps, name(s.Step)) {
			out[last].steps = append(out[last].steps, name(s.Step))
		}
	}
	return out
}

// calendar gives the order of work as a calendar reads it: evening by evening, with what cures, what
// is expected, who comes, and what runs out.
func (s sheets) calendar(c *gin.Context) {
	sheet, err := s.Order(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	cal := calendarOf(sheet)
	var b bytes.Buffer
	if err := cal.SerializeTo(&b, ics.WithNewLineWindows); err != nil { // CRLF, as RFC 5545 has it
		s.Fail(c, err)
		return
	}
	if c.Query("file") != "" {
		c.Header("Content-Disposition", `attachment; filename="order.ics"`)
	}
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
}

func calendarOf(sheet overview.OrderSheet) *ics.Calendar {
	cal := ics.NewCalendarFor("orpine")
	cal.SetName(sheet.Airframe.Name)
	cal.SetMethod(ics.MethodPublish)
	cal.SetRefreshInterval("PT1H")
	cal.SetXPublishedTTL("PT1H")
	zone := sheet.Now.Location()
	last := sheet.Now
	add := func(id, title string, from, to time.Time) *ics.VEvent {
		e := cal.AddEvent(id + "@orpine")
		e.SetSummary(title)
		e.SetDtStampTime(sheet.Now)
		at(e, ics.ComponentPropertyDtStart, from.In(zone))
		at(e, ics.ComponentPropertyDtEnd, to.In(zone))
		if to.After(last) {
			last = to
		}
		return e
	}
	minute := sheet.Plan.Zone.Time
	for _, ev := range eveningsOf(sheet.Answer.Stints, func(id string) string { return sheet.Steps[id].Name }) {
		from := minute(ev.from)
		add("evening-"+from.In(zone).Format("20060102T1504"), strings.Join(ev.steps, ", then "), from, minute(ev.to))
	}
	for _, job := range sheet.Answer.Schedule {
		if job.Cured != job.End {
			e := add("cure-"+job.ID, sheet.Steps[job.ID].Name+": cures", sheet.At(job.End), sheet.At(job.Cured))
			e.SetTimeTransparency(ics.TransparencyTransparent) // no hands are needed
			alarm(e, "PT0S", true)
		}
	}
	for _, o := range sheet.Answer.Orders {
		if day, err := time.ParseInLocation(time.DateOnly, o.Expected, zone); err == nil {
			e := cal.AddEvent("order-" + o.ID + "@orpine")
			e.SetSummary("Expected: " + sheet.OrderName(o.ID))
			e.SetDtStampTime(sheet.Now)
			e.SetAllDayStartAt(day)
			e.SetAllDayEndAt(day.AddDate(0, 0, 1))
			e.SetTimeTransparency(ics.TransparencyTransparent)
		}
	}
	for _, k := range sheet.Clocks {
		if d, ok := k.Next(sheet.Now); ok && k.Running() {
			alarm(add("clock-"+k.ID, k.What+": "+d.What, d.At, d.At.Add(15*time.Minute)), "-PT30M", false)
		}
	}
	for i, v := range sheet.Plan.Visits {
		if v.To > sheet.Plan.Now {
			alarm(add("visit-"+v.ID, "Visit: "+sheet.Visits[i].Who, minute(v.From), minute(v.To)), "-P1D", false)
		}
	}
	if named(zone) {
		observe(cal, zone, sheet.Now, last)
	}
	return cal
}

// named tells whether a zone has a name that a calendar knows; else times are in UTC.
func named(zone *time.Location) bool {
	return !slices.Contains([]string{"UTC", "Local", ""}, zone.String())
}

// at writes a time of an event, on the wall clock of its zone where that has a name.
func at(e *ics.VEvent, property ics.ComponentProperty, t time.Time) {
	if named(t.Location()) {
		e.SetProperty(property, t.Format("20060102T150405"), ics.WithTZID(t.Location().String()))
		return
	}
	e.SetProperty(property, t.UTC().Format("20060102T150405Z"))
}

// alarm reminds of an event so long before it begins, or of its end.
func alarm(e *ics.VEvent, before string, ofEnd bool) {
	a := e.AddAlarm()
	a.SetAction(ics.ActionDisplay)
	if ofEnd {
		a.SetTrigger(before, &ics.KeyValues{Key: "RELATED", Value: []string{"END"}})
	} else {
		a.SetTrigger(before)
	}
	a.SetProperty(ics.ComponentPropertyDescription, e.GetProperty(ics.ComponentPropertySummary).Value)
}

// observe writes when the clocks of a zone are changed, from a year before to a year after.
func observe(cal *ics.Calendar, zone *time.Location, from, to time.Time) {
	tz := cal.AddTimezone(zone.String())
	offset := func(t time.Time) int { _, seconds := t.In(zone).Zone(); return seconds }
	onset := func(t time.Time, before, after int) {
		o := tz.AddStandard()
		// The onset is written on the clock as it was before the change.
		o.SetProperty(ics.ComponentPropertyDtStart, t.UTC().Add(time.Duration(before)*time.Second).Format("20060102T150405"))
		o.SetProperty(ics.ComponentProperty(ics.PropertyTzoffsetfrom), offsetText(before))
		o.SetProperty(ics.ComponentProperty(ics.PropertyTzoffsetto), offsetText(after))
	}
	day := from.AddDate(-1, 0, 0).Truncate(24 * time.Hour)
	onset(day, offset(day), offset(day))
	for end := to.AddDate(1, 0, 0); day.Before(end); day = day.AddDate(0, 0, 1) {
		next := day.AddDate(0, 0, 1)
		if before, after := offset(day), offset(next); before != after {
			low, high := day, next // the change lies between
			for high.Sub(low) > time.Minute {
				if middle := low.Add(high.Sub(low) / 2).Truncate(time.Minute); offset(middle) == before {
					low = middle
				} else {
					high = middle
				}
			}
			onset(high, before, after)
		}
	}
}

// offsetText writes an offset as +0100.
func offsetText(seconds int) string {
	sign := "+"
	if seconds < 0 {
		sign, seconds = "-", -seconds
	}
	return fmt.Sprintf("%s%02d%02d", sign, seconds/3600, seconds/60%60)
}
