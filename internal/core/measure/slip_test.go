package measure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

func TestSlipsAreQuestionedByName(t *testing.T) {
	t.Parallel()
	tests := []struct {
		value, twin float64
		text, other string
		says        string
	}{
		{1633.5, 1608.1, "1633.5", "1608.1", "one whole inch"},
		{1100, 1404.8, "1100", "1404.8", "one foot"},
		{1412, 1402, "1412", "1402", "10 mm"},
		{1502, 1402, "1502", "1402", "burnt 100 mm"},
		{1457, 1452, "1457", "1452", ""},
		{1463, 1436, "1463", "1436", "63 for 36"},
		{57.15, 44.45, "2 1/4 in", "1 3/4 in", "fraction misread"},
		{1418, 1402, "1418", "1402", "width of a tape"},
		{1478.2, 1402, "1478.2", "1402", "3 whole inches"},
		{1402.5, 1402, "1402.5", "1402", ""},
		{1433, 1402, "1433", "1402", ""},
	}
	for _, test := range tests {
		got := Slip(test.value, test.twin, test.text, test.other, 0.3)
		if test.says == "" {
			assert.Empty(t, got, "%+v", test)
			continue
		}
		assert.Contains(t, say.Plain(got), test.says, "%+v", test)
	}
}

func TestReadingsThatAgreeAreNeverQuestioned(t *testing.T) {
	t.Parallel()
	for off := -1.0; off <= 1; off += 0.05 {
		assert.Empty(t, Slip(1000+off, 1000, "1", "2", 0.1))
	}
	assert.Empty(t, Slip(1010, 1000, "1010", "1000", 4), "within what the instrument may scatter")
}

// A tape that should be 5817.8 mm long by the plans.
func TestSlipsFromThePlansAreQuestionedByName(t *testing.T) {
	t.Parallel()
	for text, says := range map[string]string{"5871": "71 for 17", "5792": "burnt inch", "5917.5": "burnt 100 mm", "5819": "", "5805": "half an inch", "5850": ""} {
		v, err := quantity.ParseLength(text, quantity.Millimetre)
		require.NoError(t, err)
		got := SlipFromPlan(float64(v), 5817.8, text, 0.4)
		if says == "" {
			assert.Empty(t, got, text)
			continue
		}
		assert.Contains(t, say.Plain(got), says, text)
	}
}

func TestAChecksOwnPlansAreWhatItsReadingsAreComparedWith(t *testing.T) {
	t.Parallel()
	square := &Square{Station: 5480, HalfSpan: 1440, From: []FromPoint{{Name: "firewall", Z: -1320}}}
	nominal, ok := square.Expect(Spot{Point: "firewall"})
	assert.True(t, ok)
	assert.InDelta(t, 5817.77, nominal, 0.01)
	_, ok = square.Expect(Spot{Point: "elsewhere"})
	assert.False(t, ok)
	nominal, _ = (&PartLength{Design: 1200}).Expect(Spot{})
	assert.Equal(t, 1200.0, nominal)
}
