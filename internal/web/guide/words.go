package guide

import (
	"html/template"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/web/kinds"
	"orpine/internal/web/ui"
)

// Word is a word that the sheets use, as they mean it.
type Word struct {
	Word, Means string
	Picture     string // kind of a check whose drawing shows it; "" for none
	Page        string // of the guide, that tells more; "" for none
}

// Words are the list, in the order of the alphabet; ± stands first.
var Words = []Word{
	{"±", "How far the true figure may lie from the one that is shown, nineteen times in twenty. It is worked out from the instruments, the placings and how well the points are known, and rounded up.", "", "unsure"},
	{"After check", "The same measurement once more, when the step is done: it shows what drilling, riveting or bonding did to the part.", "", "holds"},
	{"Assumed", "What is taken to be so because nobody said it: what is usual of such an instrument, how well a mark is known. It counts, and is named beside each answer that rests on it.", "", "unsure"},
	{"Bay", "A space that is closed in by a step. What lies inside is told beforehand: tasks, rows, tools, other bays.", "", "closing"},
	{"Blind", "A further reading that is typed while the earlier ones are covered, so that it is not drawn towards them.", "", "unsure"},
	{"Bow", "How far the middle stands off the straight line through the ends; plus is a hump.", "straightness", "fin"},
	{"Check", "One question about a part, with the points that are read for it and the limits that judge it.", "", "twist"},
	{"Cross-level", "How far the right side stands lower than the left: 0.08 R is plus.", "level", "level"},
	{"Datum", "The surface or the points of the airframe from which everything else is measured.", "level", "tail"},
	{"Decalage", "The angle between the chords of two surfaces, one against the other.", "decalage", "incidence"},
	{"Go", "The whole interval, figure and ±, lies inside the limits.", "gap", "holds"},
	{"Guarded", "The rule that go and stop are said only where the ± leaves no doubt; between them it is unsure. Plain looks at the figure alone.", "", "unsure"},
	{"Hold", "A stop before a step that cannot be undone. It lists what has to be shown, and is released by name.", "", "holds"},
	{"Incidence", "The angle of a chord against the airframe; leading edge up is plus.", "incidence", "incidence"},
	{"Join", "Several surfaces worked out at once from all that was read between them, with the moves that bring them right.", "", "tail"},
	{"Lapsed", "A release that ended because something moved before its step was done.", "", "holds"},
	{"Lie", "How a part lies while it is read: stiff and free; flexible or held down; or not yet fastened and taking the shape of its jig.", "twist", "bench"},
	{"Lot", "What was made or delivered together and carries one number: parts, rivets, sealant. Notices name lots.", "", "stores"},
	{"Move", "What to raise, lower or shim, where, by how much, and with which shims from the drawer.", "shim-stack", "stop"},
	{"Moved", "Of a placing: lifted off and set a little beside the last one. Of a setup: something shifted, and what was read before counts no more.", "", "unsure"},
	{"Placing", "Setting the instrument on a place once, and reading it. Several placings at one place are a mean.", "", "unsure"},
	{"Proven", "Of an instrument: turned end for end on one spot, or held against a known length, so that its own error is known.", "zero-test", "level"},
	{"Reach", "What of a bay can still be got at when it is closed.", "", "closing"},
	{"Released", "A hold whose step may be done now, with the name of whoever answers for it.", "", "holds"},
	{"Row", "A line of holes with its layers, fasteners and the holes that stay open.", "solid-rivet", "rows"},
	{"Set aside", "A reading that does not fit the others: it is kept, named, and read again.", "", "tail"},
	{"Setup", "One placing of a part, with the checks that are read in it until something moves.", "", "twist"},
	{"Square", "Two sides the same way from two points on the middle: skew is told from side-shift.", "square", "square"},
	{"Stale", "Read before something moved: it stays on the record, struck through, and counts no more.", "", "twist"},
	{"Stop", "The figure lies outside its limits by more than its ±.", "gap", "stop"},
	{"Superseded", "A reading that was taken back, with the reason, and stands on the record beside the new one.", "", "putting-right"},
	{"Twist", "The angle of the tip less that of the root; washout is minus.", "twist", "twist"},
	{"Unsure", "The interval reaches over a limit, or something that matters is not known.", "", "unsure"},
	{"Usual", "What holds where nobody said what the plans say: usual limits, usual proportions. It is never said to be your plans'.", "", "unsure"},
	{"Zero", "What an instrument shows where the truth is nothing.", "zero-test", "level"},
}

// wordView is a word with its drawing.
type wordView struct {
	Word
	Drawing template.HTML
}

// Slug is the word as an address has it.
func (w Word) Slug() string { return slug(w.Word) }

func slug(word string) string {
	if word == "±" {
		return "plus-minus"
	}
	return strings.ReplaceAll(strings.ToLower(word), " ", "-")
}

func showWords(u *ui.UI, c *gin.Context) {
	var v []wordView
	for _, w := range Words {
		one := wordView{Word: w}
		if w.Picture != "" {
			one.Drawing = kinds.Pictogram(w.Picture)
		}
		v = append(v, one)
	}
	p := u.Page(c, "", "Words", v, ui.Footing{Label: "guide", Text: "words"}, ui.Footing{Label: "sheet", Text: "G 2"})
	p.Unit = u.ShopUnit(c.Request.Context())
	u.Render(c, 0, "words", p)
}
