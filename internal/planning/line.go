package planning

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/spoken"
	"orpine/internal/exchange"
)

var together = regexp.MustCompile(`(?i)\s+(?:and|with)\s+|\s*[&+]\s*`)

// spokenHours reads an evening as one says it, in parts parted by commas: when, who, and what for.
//
//	yesterday 7pm to 9pm, BE and KM, build, fin
//
// The day may be left out where it is today, and a length stand in place of the times ("2 3/4 h"). A part that is a
// category, an assembly or a step is that; any other is people. It is a line for each of them, who where nobody is
// named.
func (r *bringing) spokenHours(text, who string) (lines []exchange.HoursLine, problem string) {
	parts := strings.Split(strings.TrimSpace(text), ",")
	l, problem := when(strings.TrimSpace(parts[0]), r.now)
	if problem != "" {
		return nil, problem
	}
	l.Line = 1
	var people []string
	for _, part := range parts[1:] {
		part = strings.TrimSpace(part)
		bare := strings.TrimPrefix(strings.ToLower(part), "the ")
		switch {
		case part == "":
		case slices.Contains(Categories, bare):
			l.Category = bare
		case r.assemblies[bare] != "":
			l.Assembly = bare
		case r.steps[bare] != "":
			l.Step = bare
		default:
			for _, name := range together.Split(part, -1) {
				if name = strings.TrimSpace(name); name != "" && !slices.Contains(people, name) {
					people = append(people, name)
				}
			}
		}
	}
	if len(people) == 0 {
		people = []string{who}
	}
	for _, name := range people {
		l.Who = name
		lines = append(lines, l)
	}
	return lines, ""
}

// when reads the day and the times, or how long it was: as many words from the left as make a day are the day.
func when(text string, now time.Time) (l exchange.HoursLine, problem string) {
	words := strings.Fields(text)
	for n := min(len(words), 4); n >= 0; n-- {
		day, err := spoken.Day(strings.Join(words[:n], " "), now)
		if n == 0 {
			day, err = now.Format(time.DateOnly), nil
		}
		if err != nil {
			continue
		}
		l, rest := exchange.HoursLine{Day: day}, strings.Join(words[n:], " ")
		if l.From, l.To, err = spoken.Between(rest); err == nil {
			return l, ""
		}
		l.From, l.To = "", ""
		if l.Minutes, err = spoken.Minutes(rest); err == nil && l.Minutes > 0 && strings.ContainsAny(rest, "hm:") {
			return l, ""
		}
	}
	return l, fmt.Sprintf("“%s”: when, as in yesterday 7pm to 9pm, 24 Nov 19:00-21:10, or today 2 3/4 h?", text)
}
