package spoken

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// 68 °F are (68 − 32)·5/9 = 20 °C; 29.92 inHg are 29.92·33.86389 = 1013.2 hPa.
func TestTemperaturesAndPressuresAreReadAsSpoken(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]float64{"18.5": 18.5, "12,5 °C": 12.5, "68 F": 20, "68°f": 20, "-40 F": -40, "−5": -5, "6 C": 6, "32 deg F": 0} {
		v, err := Celsius(text)
		assert.NoError(t, err, text)
		assert.InDelta(t, want, v, 1e-9, text)
	}
	for text, want := range map[string]float64{"1013": 1013, "1013,2 hPa": 1013.2, "29.92 inHg": 1013.2076, "29.92 in Hg": 1013.2076, `30.1" Hg`: 1019.3031, "101.3 kPa": 1013, "760 mmHg": 1013.2502} {
		v, err := Hectopascals(text)
		assert.NoError(t, err, text)
		assert.InDelta(t, want, v, 1e-3, text)
	}
	for _, text := range []string{"", "warm", "20 K", "-500 F", "1/0"} {
		_, err := Celsius(text)
		assert.EqualError(t, err, "a temperature: 18.5 °C or 65 °F", text)
	}
	_, err := Hectopascals("29.92")
	assert.EqualError(t, err, "29.92 hPa or 29.92 inHg? Write the unit with it")
	for _, text := range []string{"", "0", "-3", "1013 psi"} {
		_, err := Hectopascals(text)
		assert.Error(t, err, text)
	}
}

// A quarter of a pound is 113.398 g; of which 20 weigh 6 g there are 378.
func TestPiecesAreCountedOrWeighed(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]int{"120": 120, " -3": -3, "1/4 lb, 20 weigh 6 g": 378, "¼ lb; 20 = 6 g": 378, "1 lb 4 oz, 100 weigh 50 g": 1134, "0,5 kg: 50 pieces weigh 25 g": 1000} {
		n, weighed, err := Pieces(text)
		assert.NoError(t, err, text)
		assert.Equal(t, want, n, text)
		assert.Equal(t, len(text) > 5, weighed, text)
	}
	for _, text := range []string{"", "some", "3.5", "1/4 lb, 0 weigh 6 g", "1/4 lb, 20 weigh 6 inches", "9000 kg, 1 weigh 1 mg"} {
		_, _, err := Pieces(text)
		assert.Error(t, err, text)
	}
	_, _, err := Pieces("1/4 lb")
	assert.EqualError(t, err, "what do some of them weigh? 1/4 lb, 20 weigh 6 g")
}

func TestAnAmountKeepsItsUnit(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		text     string
		byVolume bool
		v        float64
		unit     string
	}{{"250", false, 250, ""}, {"30 ml", true, 30, "ml"}, {"2 1/2 oz", false, 2.5, "oz"}, {"2½ fl oz", true, 2.5, "fl oz"}, {"1,5 kg", false, 1.5, "kg"}} {
		v, unit, err := Measure(c.text, c.byVolume)
		assert.NoError(t, err, c.text)
		assert.InDelta(t, c.v, v, 1e-9)
		assert.Equal(t, c.unit, unit, c.text)
	}
	_, _, err := Measure("30 ml", false)
	assert.EqualError(t, err, "that is a volume, and the ratio goes by mass")
	_, _, err = Measure("30 g", true)
	assert.EqualError(t, err, "that is a weight, and the ratio goes by volume")
	_, _, err = Measure("30 cubits", true)
	assert.Error(t, err)
}
