package planning

import (
	"fmt"
	"strings"

	"orpine/internal/core/plan"
	"orpine/internal/planning"
)

// weekOf says when a builder works: "tue and thu 19:00 for 2 h; sat 09:00 for 6 h".
func weekOf(week map[string]plan.Stretch) string {
	var out []string
	days := map[plan.Stretch][]string{}
	for _, day := range planning.Days {
		if st := week[day]; st.Minutes > 0 {
			days[st] = append(days[st], day)
		}
	}
	for _, day := range planning.Days {
		st := week[day]
		if list := days[st]; len(list) > 0 && st.Minutes > 0 {
			out = append(out, fmt.Sprintf("%s %02d:%02d for %s", strings.Join(list, ", "), st.From/60, st.From%60, spokenHours(float64(st.Minutes)/60)))
			delete(days, st)
		}
	}
	return strings.Join(out, "; ")
}
