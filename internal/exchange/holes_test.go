package exchange

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
)

func TestHolesAreReadFromCSV(t *testing.T) {
	holes, err := ReadHoles("hole,along,across,keep for,keep until,pose\n1,10,,,,\n2,1 1/2 in,20 mm,fin fairing,fit it,on its back\n", quantity.Millimetre)
	require.NoError(t, err)
	assert.Equal(t, []row.Hole{{Number: 1, Along: 10, State: row.Pilot}, {Number: 2, Along: 38.1, Across: 20, State: row.Pilot, Pose: "on its back", Keep: row.Keep{Part: "fin fairing", Step: "fit it"}}}, holes)
	semicolons, err := ReadHoles("\ufeffalong;pose\r\n10,5;\r\n20;on its back\r\n", quantity.Millimetre)
	require.NoError(t, err)
	assert.InDelta(t, 10.5, semicolons[0].Along, 1e-12, "decimal commas, where columns are parted by semicolons")
}

func TestUnusableCSVIsRefusedByLine(t *testing.T) {
	for text, says := range map[string]string{
		"":                             "is empty",
		"hole,pose\n1,\n":              "no column “along”",
		"along,colour\n1,red\n":        `a column "colour"`,
		"along,along\n1,1\n":           "twice",
		"along\n":                      "no holes below",
		"along\n10\nten\n":             "line 3: along",
		"hole,along\n1,10\n3,20\n":     "line 3: hole 3 stands where hole 2 is next",
		"along,across\n10,wide\n":      "line 2: across",
		"along,keep for\n10,fairing\n": "names the later part (keep for) and the later step",
		"along\n\"10\n":                "cannot be read as CSV",
		"along,pose\n10\n":             "cannot be read as CSV",
		"along\n" + strings.Repeat("1\n", row.MaxHoles+1): "more than 1000 holes",
	} {
		_, err := ReadHoles(text, quantity.Millimetre)
		assert.ErrorContains(t, err, says, "%.40q", text)
	}
}

func TestHolesComeBackAsTheyWereWritten(t *testing.T) {
	holes := []row.Hole{{Number: 1, Along: 10.125, State: row.Pilot}, {Number: 2, Along: 40, Across: 20, State: row.Pilot, Pose: "turned, on its back", Keep: row.Keep{Part: "a, b", Step: "c"}}}
	again, err := ReadHoles(string(WriteHoles(holes)), quantity.Inch)
	require.NoError(t, err)
	assert.Equal(t, holes, again)
}

func FuzzHoles(f *testing.F) {
	for _, seed := range []string{"along\n10\n", "hole;along\n1;2,5\n", "along,keep for,keep until\n1,a,b\n", "\"", "along\n\"1\"\"\"\n"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		holes, err := ReadHoles(text, quantity.Millimetre)
		if err == nil {
			again, err := ReadHoles(string(WriteHoles(holes)), quantity.Millimetre)
			require.NoError(t, err)
			require.Len(t, again, len(holes))
		}
	})
}
