package plan

import (
	"fmt"
	"strings"
	"time"
	_ "time/tzdata" // the zones' rules ship with the program
)

// Date is a local day, counted from 1970-01-01.
type Date int

// dateOf is the day of a date.
func dateOf(year int, month time.Month, day int) Date {
	return Date(time.Date(year, month, day, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// parseDate reads YYYY-MM-DD, of the years 1970 to 2199.
func parseDate(text string) (Date, error) {
	t, err := time.Parse("2006-01-02", text)
	if err != nil {
		return 0, fmt.Errorf("%q is not a date, as in 2026-11-25", text)
	}
	if t.Year() < 1970 || t.Year() > 2199 {
		return 0, fmt.Errorf("%s is not of the years 1970 to 2199", text)
	}
	return dateOf(t.Date()), nil
}

// ParseDate reads YYYY-MM-DD.
func ParseDate(text string) (Date, error) { return parseDate(text) }

// time is the midnight of the day in UTC.
func (d Date) time() time.Time { return time.Unix(int64(d)*86400, 0).UTC() }

// String writes it as it is read.
func (d Date) String() string { return d.time().Format("2006-01-02") }

// Clock is the wall clock of a zone.
type Clock struct{ zone *time.Location }

// clockUTC is the clock of no place.
var clockUTC = Clock{time.UTC}

// ClockIn is the wall clock of a place.
func ClockIn(zone *time.Location) Clock { return Clock{zone} }

// Minute is the minute of a time.
func Minute(t time.Time) int64 { return floorMinute(t.Unix()) }

// Parse reads YYYY-MM-DDTHH:MM of the wall clock.
func (c Clock) Parse(text string) (int64, error) { return c.parse(text) }

// Time is a minute in the zone.
func (c Clock) Time(minute int64) time.Time { return time.Unix(minute*60, 0).In(c.zone) }

// clockOf is the clock of an IANA zone.
func clockOf(name string) (Clock, error) {
	if name == "" || name == "Local" || name == "localtime" || name == "posixrules" || strings.HasPrefix(name, "posix/") || strings.HasPrefix(name, "right/") {
		return Clock{time.UTC}, fmt.Errorf("%q is not a zone, as Europe/Oslo is", name)
	}
	zone, err := time.LoadLocation(name)
	if err != nil {
		return Clock{time.UTC}, fmt.Errorf("%q is not a zone, as Europe/Oslo is", name)
	}
	return Clock{zone}, nil
}

// at is the minute at which the wall clock shows a time of a day, in minutes after 00:00; the
// first where it shows it twice. Where a change of the clocks skips it, it is the first minute
// after the change, and ok is false.
func (c Clock) at(day Date, minutes int) (minute int64, ok bool) {
	wall := int64(day)*86400 + int64(minutes)*60 // as if the zone were UTC
	before, after := c.offset(wall-86400), c.offset(wall+86400)
	for _, offset := range []int64{max(before, after), min(before, after)} { // the greater offset comes first on the true line
		if s := wall - offset; c.offset(s) == offset {
			return floorMinute(s), true
		}
	}
	low, high := wall-86400, wall+86400 // the change lies between
	for high-low > 1 {
		if middle := low + (high-low)/2; c.offset(middle) == before {
			low = middle
		} else {
			high = middle
		}
	}
	return floorMinute(high), false
}

// offset is that of the zone at a second since 1970.
func (c Clock) offset(second int64) int64 {
	_, offset := time.Unix(second, 0).In(c.zone).Zone()
	return int64(offset)
}

// floorMinute is the minute of a second.
func floorMinute(s int64) int64 {
	if s < 0 {
		return -((-s + 59) / 60)
	}
	return s / 60
}

// parse reads YYYY-MM-DDTHH:MM.
func (c Clock) parse(text string) (int64, error) {
	t, err := time.Parse("2006-01-02T15:04", text)
	if err != nil || len(text) != len("2006-01-02T15:04") {
		return 0, fmt.Errorf("%q is not a time, as in 2026-11-25T18:00", text)
	}
	if t.Year() < 1970 || t.Year() > 2199 {
		return 0, fmt.Errorf("%s is not of the years 1970 to 2199", text)
	}
	minute, ok := c.at(dateOf(t.Date()), t.Hour()*60+t.Minute())
	if !ok {
		return 0, fmt.Errorf("the clocks are changed then: there is no %s in %s", text, c.zone)
	}
	return minute, nil
}

// date is the local day of a minute.
func (c Clock) date(minute int64) Date { return dateOf(time.Unix(minute*60, 0).In(c.zone).Date()) }

// print writes a minute as wall time; the second of two that look alike with its offset.
func (c Clock) print(minute int64) string {
	t := time.Unix(minute*60, 0).In(c.zone)
	text := t.Format("2006-01-02T15:04")
	if first, _ := c.at(dateOf(t.Date()), t.Hour()*60+t.Minute()); first != minute {
		text += t.Format("-07:00")
	}
	return text
}

// yearsOn is the same wall time some years later.
func (c Clock) yearsOn(minute int64, years int) int64 {
	return floorMinute(time.Unix(minute*60, 0).In(c.zone).AddDate(years, 0, 0).Unix())
}
