package ui

import "strings"

// WhyRefused is the page of the guide about what was refused on this sheet; "" where nothing
// was.
func (p Page) WhyRefused() string {
	if len(p.Problem) == 0 {
		return ""
	}
	if strings.HasPrefix(p.Path, "/bays") {
		return "/closing"
	}
	return map[string]string{"rows": "/rows", "hold": "/holds", "setup": "/twist", "instruments": "/level"}[p.Tab] + ""
}
