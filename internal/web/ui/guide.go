package ui

import "strings"

// guides are the pages of the guide, by the kind of check that they are about.
var guides = map[string]string{
	"zero-test": "level", "level": "level", "bench": "bench", "separate": "bench", "shop-temperature": "bench", "shim-stack": "bench",
	"twist": "twist", "square": "square", "diagonals": "square", "dihedral": "square", "length": "square",
	"incidence": "incidence", "decalage": "incidence", "travel": "incidence", "upright": "fin", "straightness": "fin", "hinge-line": "fin",
	"pose": "tail", "join": "tail", "brackets": "tail", "pairs": "tail", "engine-mount": "holds", "hand": "holds",
	"gap": "stop", "tank-leak": "closing", "solid-rivet": "rows", "blind-rivet": "rows", "hole-edge": "rows", "flush-stack": "rows",
}

// GuideOf is the page of the guide about a kind of check.
func GuideOf(kind string) string {
	if page, ok := guides[kind]; ok {
		return page
	}
	return "holds"
}

// GuideFor is the page about a verdict; where it is none of its own, about the check.
func GuideFor(verdict, kind string) string {
	switch verdict {
	case "stop", "unsure":
		return verdict
	}
	return GuideOf(kind)
}

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
