package stock

import (
	"slices"
	"strings"

	"orpine/internal/core/quantity"
)

// Sheet reads the name of a sheet, "aluminium 0.8 mm" or "0.032 in aluminium sheet": its
// material, one of those given, and its thickness. ok is false for what is none.
func Sheet(name string, materials []string) (material string, thickness quantity.Length, ok bool) {
	lower := strings.ToLower(name)
	byLength := slices.SortedFunc(slices.Values(materials), func(a, b string) int { return len(b) - len(a) }) // "stainless steel" before "steel"
	i := slices.IndexFunc(byLength, func(m string) bool { return strings.Contains(lower, m) })
	if i < 0 {
		return "", 0, false
	}
	text := strings.TrimSpace(size.FindString(strings.Replace(lower, byLength[i], " ", 1)))
	unit := quantity.Millimetre
	if strings.Contains(text, "/") {
		unit = quantity.Inch
	}
	thickness, err := quantity.ParseLength(text, unit)
	return byLength[i], thickness, err == nil && thickness > 0
}
