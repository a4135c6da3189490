package spoken

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"
)

var (
	errDay   = errors.New("a day: 2026-11-24, 24 Nov, 24.11.2026, today or yesterday")
	errClock = errors.New("a time of the day: 19:00, 7pm or 7:30 pm")

	ago    = regexp.MustCompile(`^(\d{1,3}) days? ago$`)
	ahead  = regexp.MustCompile(`^in (\d{1,3}) days?$`)
	dotted = regexp.MustCompile(`^(\d{1,2})\.\s*(\d{1,2})\.\s*(\d{4})?$`)
	slash  = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})/(\d{4})$`)
	named  = regexp.MustCompile(`^(?:(\d{1,2})\.?\s+([a-z]{3,9})|([a-z]{3,9})\s+(\d{1,2}))(?:,?\s+(\d{4}))?$`)
	hour   = regexp.MustCompile(`^(\d{1,2})(?:[:.](\d{2}))?\s*([ap])\.?m\.?$`)
	wall   = regexp.MustCompile(`^(\d{1,2})[:.](\d{2})(?:\s*h)?$`)
)

// Day reads a day as people say and write it, as in 2026-11-24: the day itself, with a point or a month's name between,
// today, yesterday, tomorrow, "3 days ago". A day without a year is the nearest. Two numbers with a stroke between
// that may be day and month either way are asked about. With a zero now a day must name its year.
func Day(text string, now time.Time) (day string, err error) {
	text = strings.ToLower(strings.Join(strings.Fields(text), " "))
	on := func(days int) (string, error) {
		if now.IsZero() {
			return "", errDay
		}
		return now.AddDate(0, 0, days).Format(time.DateOnly), nil
	}
	switch text {
	case "today":
		return on(0)
	case "yesterday":
		return on(-1)
	case "tomorrow":
		return on(1)
	}
	if m := ago.FindStringSubmatch(text); m != nil {
		n, _ := strconv.Atoi(m[1])
		return on(-n)
	}
	if m := ahead.FindStringSubmatch(text); m != nil {
		n, _ := strconv.Atoi(m[1])
		return on(n)
	}
	if at, err := time.Parse(time.DateOnly, text); err == nil {
		return at.Format(time.DateOnly), nil
	}
	if m := dotted.FindStringSubmatch(text); m != nil {
		return dated(m[3], m[2], m[1], now)
	}
	if m := slash.FindStringSubmatch(text); m != nil {
		first, _ := strconv.Atoi(m[1])
		second, _ := strconv.Atoi(m[2])
		switch {
		case first > 12 || first == second:
			return dated(m[3], m[2], m[1], now)
		case second > 12:
			return dated(m[3], m[1], m[2], now)
		}
		return "", fmt.Errorf("%s: is the day first, or the month? Write %s-%02d-%02d or %s-%02d-%02d", text, m[3], first, second, m[3], second, first)
	}
	if m := named.FindStringSubmatch(text); m != nil {
		of, err := time.Parse("Jan", strings.ToUpper((m[2] + m[3])[:1])+(m[2] + m[3])[1:3])
		if err != nil || !strings.HasPrefix(strings.ToLower(of.Month().String()), m[2]+m[3]) {
			return "", errDay
		}
		return dated(m[5], fmt.Sprint(int(of.Month())), m[1]+m[4], now)
	}
	return "", errDay
}

// dated is a day of a month that there is; without a year the one that lies nearest to now.
func dated(year, month, day string, now time.Time) (string, error) {
	m, _ := strconv.Atoi(month)
	d, _ := strconv.Atoi(day)
	y := now.Year()
	if year == "" && now.IsZero() {
		return "", errDay
	}
	if year != "" {
		y, _ = strconv.Atoi(year)
	}
	at := time.Date(y, time.Month(m), d, 12, 0, 0, 0, now.Location())
	if at.Day() != d || int(at.Month()) != m {
		return "", errDay
	}
	if year == "" {
		const half = 183 * 24 * time.Hour
		switch away := at.Sub(now); {
		case away > half:
			at = at.AddDate(-1, 0, 0)
		case away < -half:
			at = at.AddDate(1, 0, 0)
		}
	}
	return at.Format(time.DateOnly), nil
}

// Clock reads a time of the day, as in 19:00: "19:00", "19.00", "7pm", "7:30 pm". A bare number is none: 7 may be
// morning or evening.
func Clock(text string) (string, error) {
	text = strings.ToLower(strings.TrimSpace(text))
	if text == "noon" {
		return "12:00", nil
	}
	m, half := wall.FindStringSubmatch(text), ""
	if m == nil {
		if m = hour.FindStringSubmatch(text); m == nil {
			return "", errClock
		}
		half = m[3]
	}
	h, _ := strconv.Atoi(m[1])
	minute, _ := strconv.Atoi("0" + m[2])
	switch {
	case half != "" && (h < 1 || h > 12), h > 23, minute > 59:
		return "", errClock
	case half == "p" && h < 12:
		h += 12
	case half == "a" && h == 12:
		h = 0
	}
	return fmt.Sprintf("%02d:%02d", h, minute), nil
}

var (
	between = regexp.MustCompile(`(?i)^(.*?)\s*(?:\bto\b|\buntil\b|–|—|-)\s*(.*)$`)
	from    = regexp.MustCompile(`(?i)^from\s+`)
)

// Between reads two times of a day: "7pm to 9pm", "19:00-21:10", "from 7 to 9pm". Where only the later one says which
// half of the day it is, the earlier is of the same, or of the morning before where that comes first.
func Between(text string) (begin, end string, err error) {
	m := between.FindStringSubmatch(from.ReplaceAllString(strings.TrimSpace(text), ""))
	if m == nil {
		return "", "", errClock
	}
	if end, err = Clock(m[2]); err != nil {
		return "", "", err
	}
	begin, err = Clock(m[1])
	if half := hour.FindStringSubmatch(strings.ToLower(strings.TrimSpace(m[2]))); err != nil && half != nil {
		if begin, err = Clock(m[1] + half[3] + "m"); err == nil && half[3] == "p" && begin >= end {
			begin, err = Clock(m[1] + "am")
		}
	}
	return begin, end, err
}
