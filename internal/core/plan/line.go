package plan

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/spoken"
)

// Line is a step as it is typed in one line: "rivet the left skin, 6 h, two people, after
// dimple, before the rear spar, bring bucking bar + lamp, whole, cures 24 h".
type Line struct {
	Name              string
	Low, Likely, High float64 // hours
	People            int
	After             []string // ids of what was named
	Needs             []string // ids of orders
	Before            []string // ids of steps after which it is impossible
	Bring             string   // tools and light
	Whole             bool
	Cure              float64 // hours; 0 for none
}

// Named is a step that a line may name.
type Named struct{ ID, Name string }

var (
	people    = regexp.MustCompile(`^(\d{1,2}|one|two|three|four|five) (?:people|persons|hands)$`)
	several   = regexp.MustCompile(`^(.+?)\s*(?:-|–|to|/)\s*(.+?)\s*(?:-|–|to|/)\s*(.+?)\s*(h|hours|min|minutes)$`)
	cures     = regexp.MustCompile(`^(?:cures?|dries|dry|wait) (.+)$`)
	numerals  = map[string]int{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5}
	errNoName = errors.New("what is to be done? As in: rivet left skin, 6 h, two people, after dimple")
	errHours  = errors.New("how long does it take: 6 h, 40 min, or low, likely and high as in 4-6-12 h")
)

// ParseLine reads a step. What it comes after, and the orders that it needs, are named by their
// beginnings, as far as they are told from the others.
func ParseLine(text string, steps, orders []Named) (Line, error) {
	parts := strings.Split(text, ",")
	l := Line{Name: strings.TrimSpace(parts[0]), People: 1}
	if l.Name == "" {
		return l, errNoName
	}
	for _, part := range parts[1:] {
		part = strings.Join(strings.Fields(part), " ")
		lower := strings.ToLower(part)
		switch name, after := strings.CutPrefix(lower, "after "); {
		case part == "":
		case after:
			for _, one := range strings.Split(name, " and ") {
				id, err := find(strings.TrimSpace(one), steps)
				if err != nil {
					return l, err
				}
				if !slices.Contains(l.After, id) {
					l.After = append(l.After, id)
				}
			}
		case strings.HasPrefix(lower, "before "):
			for _, one := range strings.Split(strings.TrimPrefix(lower, "before "), " and ") {
				id, err := find(strings.TrimSpace(one), steps)
				if err != nil {
					return l, fmt.Errorf("before %s: there is no such step; add that first, or its beginning is that of several", strings.TrimSpace(one))
				}
				if !slices.Contains(l.Before, id) {
					l.Before = append(l.Before, id)
				}
			}
		case strings.HasPrefix(lower, "bring "):
			l.Bring = strings.TrimSpace(part[len("bring "):])
		case strings.HasPrefix(lower, "needs "):
			for _, one := range strings.Split(strings.TrimPrefix(lower, "needs "), " and ") {
				id, err := find(strings.TrimSpace(one), orders)
				if err != nil {
					return l, fmt.Errorf("needs %s: order it first, on the Money sheet", strings.TrimSpace(one))
				}
				if !slices.Contains(l.Needs, id) {
					l.Needs = append(l.Needs, id)
				}
			}
		case lower == "whole" || lower == "in one go":
			l.Whole = true
		case lower == "with a helper" || lower == "helper":
			l.People = 2
		case people.MatchString(lower):
			word := people.FindStringSubmatch(lower)[1]
			if l.People = numerals[word]; l.People == 0 {
				l.People, _ = strconv.Atoi(word)
			}
		case cures.MatchString(lower):
			minutes, err := spoken.Minutes(cures.FindStringSubmatch(lower)[1])
			if err != nil {
				return l, fmt.Errorf("%q: how long does it cure? As in: cures 24 h", part)
			}
			l.Cure = hours(int64(minutes))
		default:
			if err := l.hours(lower); err != nil {
				return l, fmt.Errorf("%q is not understood: hours, people, after what, before what, bring which tools, whole, or cures so long", part)
			}
		}
	}
	switch {
	case l.Likely == 0:
		return l, errHours
	case l.People < 1:
		return l, fmt.Errorf("at least one person does it")
	}
	return l, nil
}

// hours reads "6 h", "40 min", "1:40" or "4-6-12 h".
func (l *Line) hours(text string) error {
	if m := several.FindStringSubmatch(text); m != nil {
		var three [3]float64
		for i := range three {
			minutes, err := spoken.Minutes(m[i+1] + " " + m[4])
			if err != nil {
				return err
			}
			three[i] = hours(int64(minutes))
		}
		if three[0] <= 0 || three[0] > three[1] || three[1] > three[2] {
			return errHours
		}
		l.Low, l.Likely, l.High = three[0], three[1], three[2]
		return nil
	}
	minutes, err := spoken.Minutes(text)
	if err != nil || minutes == 0 || !strings.ContainsAny(text, "hm:′'") {
		return errHours
	}
	l.Likely = hours(int64(minutes))
	l.Low, l.High = l.Likely, l.Likely
	return nil
}

// Find is the id of what a beginning names, or of the only one that holds it; whatever their
// case.
func Find(name string, among []Named) (string, error) {
	return find(strings.ToLower(strings.TrimSpace(name)), among)
}

// find is the step that a beginning names, or the only one that holds it.
func find(name string, steps []Named) (string, error) {
	for _, fits := range []func(of string) bool{
		func(of string) bool { return of == name },
		func(of string) bool { return strings.HasPrefix(of, name) },
		func(of string) bool { return strings.Contains(of, name) },
	} {
		var found []Named
		for _, s := range steps {
			if fits(strings.ToLower(s.Name)) {
				found = append(found, s)
			}
		}
		switch {
		case len(found) == 1:
			return found[0].ID, nil
		case len(found) > 1:
			return "", fmt.Errorf("after which: %s, or %s?", found[0].Name, found[1].Name)
		}
	}
	return "", fmt.Errorf("there is no step %q to come after", name)
}
