package say_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/say"
)

// By hand: 1.6 mm = 0.06299 in, 1/16 in = 1.5875 mm, which is 1.6 mm to the tenth; 5.7 mm = 0.22441 in,
// 14/64 in = 5.55625 mm, which is not, but is to ±0.9 mm; 1219.2 mm = 48 in; 0.0045 in = 0.1143 mm;
// 0.15° is 1000·tan 0.15° = 2.618 mm in a metre, 12·tan 0.15° = 0.03142 in in a foot; 6 °C = 42.8 °F.
func TestAFigureIsWrittenForItsReader(t *testing.T) {
	t.Parallel()
	mm, in := say.Reader{}, say.Reader{Inches: true}
	for name, c := range map[string]struct {
		figure say.Figure
		reader say.Reader
		want   string
	}{
		"a tenth":                    {say.Length(1.63), mm, "1.6 mm"},
		"a fraction that it is":      {say.Length(1.6), in, "1/16 in"},
		"no fraction that it is not": {say.Length(5.7).Signed(), in, "+0.224 in"},
		"within its own ±":           {say.Length(5.7).Signed().Within(0.9), in, "+7/32 ± 0.036 in"},
		"in millimetres with its ±":  {say.Length(5.7).Signed().Within(0.91), mm, "+5.7 ± 1.0 mm"},
		"its ± elsewhere":            {say.Length(5.7).Signed().Known(0.9).Bare(), in, "+7/32"},
		"a ± is no fraction":         {say.Length(3.175).Up(), in, "0.125 in"},
		"whole feet":                 {say.Length(1219.2).Fine(0), in, "48 in"},
		"decimals are wished":        {say.Length(1219.2), say.Reader{Inches: true, Decimals: true}, "48.000 in"},
		"a small one":                {say.Length(0.1143).Fine(2), in, "0.0045 in"},
		"as it would be typed":       {say.Written(1633.5375), in, "64 5/16 in"},
		"as typed, between":          {say.Written(1633.8), in, "64.3228 in"},
		"as typed, in mm":            {say.Written(73.25), mm, "73.25 mm"},
		"below":                      {say.Length(-50.8), in, "−2 in"},
		"nothing":                    {say.Length(0), in, "0 in"},
		"nearly nothing":             {say.Length(-0.01), mm, "0.0 mm"},
		"parted":                     {say.Length(12400).Fine(0).Thousands(), mm, "12,400 mm"},
		"parted, with a comma":       {say.Length(12400.5).Fine(1).Thousands(), say.Reader{Comma: true}, "12 400,5 mm"},
		"an angle":                   {say.Angle(0.034).Signed().Within(0.051), mm, "+0.03° ± 0.06°"},
		"a comma":                    {say.Angle(-0.25), say.Reader{Comma: true}, "−0,25°"},
		"a slope":                    {say.Angle(0.15), say.Reader{Slopes: true}, "2.6 mm/m"},
		"a slope in inches":          {say.Angle(0.15), say.Reader{Slopes: true, Inches: true}, "0.031 in/ft"},
		"a rate":                     {say.Rate(0.0375), mm, "0.037°/m"},
		"a rate in inches":           {say.Rate(0.0375), in, "0.0114°/ft"},
		"warmth":                     {say.Temperature(6), mm, "6 °C"},
		"Fahrenheit":                 {say.Temperature(6), say.Reader{Fahrenheit: true}, "42.8 °F"},
		"a number":                   {say.Number(2.05, 2), say.Reader{Comma: true}, "2,05"},
		"an axis":                    {say.Length(12.7).Ticked().Bare(), in, "0.500"},
	} {
		assert.Equal(t, c.want, c.reader.Text("it is " + c.figure.String())[len("it is "):], name)
	}
}

func TestASentenceKeepsItsFiguresUntilItIsRead(t *testing.T) {
	t.Parallel()
	text := "raise the rear of the tip support " + say.Length(25.4).String() + " (" + say.Length(19.05).Bare().String() + " + " + say.Length(6.36).Bare().String() + "), as in " + say.Example("3.2 mm", "1/8 in")
	assert.Equal(t, "raise the rear of the tip support 25.4 mm (19.1 + 6.4), as in 3.2 mm", say.Plain(text))
	assert.Equal(t, "raise the rear of the tip support 1 in (3/4 + 1/4), as in 1/8 in", say.Reader{Inches: true}.Text(text))
	kept, err := json.Marshal(text)
	require.NoError(t, err)
	var again say.Text
	require.NoError(t, json.Unmarshal(kept, &again))
	assert.Equal(t, text, again)
	assert.Equal(t, []string{"nothing to draw", "mm"}, say.Reader{}.Texts([]string{"nothing to draw", say.UnitOf(say.InLength)}))
	assert.Equal(t, "a , b", say.Plain("a \x02Lx\x1f\x03, b"), "what is no place is nothing")
	assert.Equal(t, "a ", say.Plain("a \x02"))
}

func TestSentencesAreComparedByTheirValues(t *testing.T) {
	t.Parallel()
	words, figures := say.Split("twist " + say.Angle(0.31).Signed().Within(0.11).String() + " by " + say.Example("a", "b"))
	assert.Equal(t, "twist # by Ea\x1fb", words)
	require.Len(t, figures, 1)
	was, ok := say.OfCompared(figures[0].Compared())
	assert.True(t, ok)
	assert.Equal(t, "+0.31° ± 0.11°", say.Plain(was.String()))
	assert.Equal(t, say.Angle(0.1).Compared(), say.Angle(0.1+1e-9).Compared())
	assert.NotEqual(t, say.Angle(0.1).Compared(), say.Angle(0.1001).Compared(), "though it reads the same")
	plain, ok := say.OfCompared(say.Length(2).Compared())
	assert.True(t, ok)
	assert.Equal(t, "2.0 mm", say.Plain(plain.String()))
	_, ok = say.OfCompared("met")
	assert.False(t, ok)
}
