package row_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
)

// By hand: AD4-5 is 4/32 = 1/8 in thick and 5/16 in long, AD4-6 3/8 in; 426 is flush, 470 domed.
func TestACallOutListIsReadAsPlansPrintIt(t *testing.T) {
	t.Parallel()
	rows, unread := row.ReadList("rib 4: 12 AD4-5, 3 AD4-6 at the spar; open 14, 15 for fin fairing\n\nRib 5: 4 x AN426AD4-5, 2 AN470AD4-6, 6 470-3-4 ; ", quantity.Inch)
	require.Empty(t, unread)
	require.Len(t, rows, 3)
	first := rows[0]
	assert.Equal(t, "rib 4", first.Name)
	assert.Len(t, first.Holes, 15)
	assert.Equal(t, "solid 1/8, domed", first.Row.Fastener.Says())
	assert.Equal(t, []row.CallOut{{Text: "5/16 in", From: 1, To: 12}, {Text: "3/8 in", From: 13, To: 15}}, first.Row.CallOuts)
	assert.Equal(t, row.Keep{Part: "fin fairing", Step: "fit the fin fairing"}, first.Holes[13].Keep)
	assert.False(t, first.Holes[12].Kept())
	assert.Equal(t, row.AsItComes, first.Row.How)
	assert.Equal(t, []float64{0, 1}, []float64{first.Holes[0].Along, first.Holes[14].Along})

	mixed, thin := rows[1].Row, rows[2]
	assert.Equal(t, 3, rows[1].Line)
	assert.Equal(t, []string{"flush", "domed"}, []string{mixed.HeadAt(4), mixed.HeadAt(5)}, "heads differ along it")
	assert.Equal(t, "Rib 5, solid 3/32", thin.Name, "another size is a row of its own")
	assert.Len(t, thin.Holes, 6)
}

func TestPitchesOfAListLieOneAfterAnother(t *testing.T) {
	t.Parallel()
	rows, unread := row.ReadList("spar: 6 AD4-5; pitches 1 2x1.5 3/4 1 in\ncap: 3 B32-6 flush; pitch 20 mm\nrear: 3 AD4-5; pitches 1 1/2, 3/4", quantity.Inch)
	require.Empty(t, unread)
	require.Len(t, rows, 3)
	assert.InDelta(t, 2.25*25.4, rows[2].Holes[2].Along, 1e-9)
	var at []float64
	for _, h := range rows[0].Holes {
		at = append(at, h.Along/25.4)
	}
	assert.InDeltaSlice(t, []float64{0, 1, 2.5, 4, 4.75, 5.75}, at, 1e-9)
	assert.Empty(t, rows[0].Row.How, "each lies where the plans say")
	assert.Equal(t, "blind, flush", rows[1].Row.Fastener.Says())
	assert.Equal(t, "B32-6", rows[1].Row.CalledOut(2))
	assert.InDelta(t, 40, rows[1].Holes[2].Along, 1e-9)
}

func TestALineThatCannotBeReadSaysWhy(t *testing.T) {
	t.Parallel()
	for line, says := range map[string]string{
		"12 AD4-5":                          "which row is it",
		"rib 4: AD4-5":                      "how many",
		"rib 4: 12 1/8":                     "is no code of a rivet",
		"rib 4: 12 #30":                     "is no code of a rivet",
		"rib 4: 0 AD4-5":                    "1 to 1000 holes",
		"rib 4: 12 AN470AD4-5 flush":        "is a domed one",
		"rib 4: 12 AD4-5; pitches 20 30":    "12 holes have 11 pitches between them: 2",
		"rib 4: 12 AD4-5; pitch 0":          "above 0",
		"rib 4: 12 AD4-5; open 13 for it":   "there is no hole 13",
		"rib 4: 12 AD4-5; open 3":           "for which later part",
		"rib 4: 12 AD4-5; sideways":         "pitch 25",
		"rib 4: 2 AD4-5, 2 AD3-5; pitch 20": "of which of its sizes",
		"a: 2 AD4-5\nA: 2 AD4-5":            "twice",
	} {
		_, unread := row.ReadList(line, quantity.Millimetre)
		if assert.NotEmpty(t, unread, line) {
			assert.Contains(t, unread[0].Says, says, line)
			assert.Equal(t, strings.Count(line, "\n")+1, unread[0].Line)
		}
	}
}

// Nobody knows what lies there: the length stands as the plans print it, and is not checked.
func TestALengthOfAnUnknownStackIsNotChecked(t *testing.T) {
	t.Parallel()
	rows, _ := row.ReadList("rib 4: 3 AD4-5", quantity.Millimetre)
	r, holes := rows[0].Row, rows[0].Holes
	r.Edge = 5
	a := r.Advise(holes[0], holes)
	assert.Equal(t, "5/16 in", a.Length)
	assert.Equal(t, measure.Unsure, a.Verdict(), "no go that rests on nothing")
	assert.Contains(t, a.Says(), "not checked")
	assert.Equal(t, "solid 1/8 × 5/16 in", r.Item(holes[0], a))
	over := holes[1]
	over.Over, over.Fit = true, row.Fit{Hole: 4.1, Rivet: 3.97, Size: "5/32"}
	a2 := r.Advise(over, holes)
	assert.Equal(t, measure.Unsure, a2.Verdict(), "what the plans print is for the size before")
	assert.Equal(t, "solid 5/32", r.Item(over, a2))
	_, pitch := a.Edges.Quantity("pitch")
	assert.False(t, pitch, "where each lies is not known")
	edge, ok := a.Edges.Quantity("edge")
	assert.True(t, ok)
	assert.InDelta(t, 5/3.175, edge.Value, 1e-9)
	r.Layers = []row.Layer{{Material: "aluminium", Thickness: 3, Hole: "plain"}}
	assert.Equal(t, measure.Go, r.Advise(holes[0], holes).Verdict(), "3 mm want 3 + 1.5 × 3.175 = 7.76 mm, and 5/16 in are 7.94 mm")
}
