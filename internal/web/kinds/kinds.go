// Package kinds is what the sheets show of each kind of check, a file for each: the drawing that is read
// and typed at, the pictogram that it is chosen by, and the page of the guide that tells how.
package kinds

import (
	"html/template"

	"orpine/internal/web/drawing"
)

// Kind is what is shown of a kind of check. A kind that is worked out from figures alone has no drawing.
type Kind struct {
	Name      string
	Guide     string // the id of its page
	Pictogram drawing.Strokes
	Draw      func(Scene) template.HTML
}

// All are the kinds, one line for each.
var All = []Kind{
	benchKind,
	twistKind,
	washoutKind,
	separateKind,
	levelKind,
	incidenceKind,
	squareKind,
	uprightKind,
	straightnessKind,
	bracketsKind,
	pairsKind,
	gapKind,
	engineMountKind,
	diagonalsKind,
	dihedralKind,
	sweepKind,
	hingeLineKind,
	travelKind,
	decalageKind,
	handKind,
	lengthKind,
	zeroTestKind,
	shopTemperatureKind,
	shimStackKind,
	poseKind,
	joinKind,
	solidRivetKind,
	blindRivetKind,
	holeEdgeKind,
	flushStackKind,
	tankLeakKind,
	mixKind,
}

// Of is the kind of that name; ok is false where nothing is declared of it.
func Of(name string) (k Kind, ok bool) {
	for _, k := range All {
		if k.Name == name {
			return k, true
		}
	}
	return Kind{}, false
}

// Pictogram draws what a kind of check is of, to choose it by.
func Pictogram(name string) template.HTML {
	k, _ := Of(name)
	return k.Pictogram.Draw()
}

// GuideOf is the page of the guide about a kind of check.
func GuideOf(name string) string {
	if k, ok := Of(name); ok {
		return k.Guide
	}
	return "holds"
}

// GuideFor is the page about a verdict; where it is none of its own, about the check.
func GuideFor(verdict, name string) string {
	switch verdict {
	case "stop", "unsure":
		return verdict
	}
	return GuideOf(name)
}
