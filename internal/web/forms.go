package web

import "strings"

// list reads a field of several quantities, one to a line or parted by semicolons
// (commas may be decimal).
func list(text string) []string {
	var out []string
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == '\n' }) {
		if part = strings.TrimSpace(part); part != "" {
			out = append(out, part)
		}
	}
	return out
}

// fieldOf finds the field of the setup form that a problem in a check is about.
func fieldOf(path string) string {
	for _, known := range []struct{ in, field string }{{"points", "supports"}, {"stations", "stations"}, {"tip_spacing", "apart"}, {"limits", "high"}} {
		if strings.Contains(path, known.in) {
			return known.field
		}
	}
	return path
}
