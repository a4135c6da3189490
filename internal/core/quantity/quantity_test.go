package quantity

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestLengthsAsTyped(t *testing.T) {
	t.Parallel()
	// Expected millimetres worked out by hand: 25.4 mm to the inch, 304.8 to the foot.
	tests := []struct {
		text string
		unit Unit
		want float64
	}{
		{"64 5/16", Inch, 1633.5375}, {"64-5/16", Inch, 1633.5375}, {"64⅝", Inch, 1641.475}, {"-64-5/16", Inch, -1633.5375},
		{"9/8", Inch, 28.575}, {"7/8", Inch, 22.225}, {".032", Inch, 0.8128}, {"-1/16", Inch, -1.5875}, {"−1/16", Inch, -1.5875},
		{`64 5/16"`, Millimetre, 1633.5375}, {"64 5/16 in", Millimetre, 1633.5375}, {"64.3125in", Millimetre, 1633.5375},
		{"64 5/16″", Millimetre, 1633.5375}, {"64 5/16''", Millimetre, 1633.5375}, {"64 5/16 INCHES", Millimetre, 1633.5375}, {"1 inch", Millimetre, 25.4},
		{`5' 4 5/16"`, Millimetre, 1633.5375}, {`5'-4 5/16"`, Millimetre, 1633.5375}, {"5 ft 4 5/16", Millimetre, 1633.5375}, {"5′ 4⅝″", Millimetre, 1641.475},
		{"7' 8’’", Millimetre, 2336.8}, {"7.5 ft", Millimetre, 2286}, {"7 1/2 ft", Millimetre, 2286}, {"8 feet", Millimetre, 2438.4}, {"1 foot", Inch, 304.8},
		{"6' 14\"", Millimetre, 2184.4}, {"-7' 8\"", Millimetre, -2336.8}, {"7' 7/8", Millimetre, 2155.825}, {"7' 8.5", Millimetre, 2349.5},
		{"32 thou", Millimetre, 0.8128}, {"73.5", Millimetre, 73.5}, {"73.5 MM", Inch, 73.5}, {"73,5 mm", Inch, 73.5}, {"7.35 cm", Inch, 73.5}, {"0.0735 m", Inch, 73.5},
		{"0,050", Millimetre, 0.05}, {"1234,567", Millimetre, 1234.567}, {"+3", Millimetre, 3}, {"  3 mm ", Inch, 3}, {"-0", Millimetre, 0}, {",5", Millimetre, 0.5},
		{"1000 m", Millimetre, 1e6},
		{"5 and 3/8", Inch, 136.525}, {"5 and ⅜ in", Millimetre, 136.525}, {"11 7/8 in.", Millimetre, 301.625}, {"5 ft 4 and 5/16", Millimetre, 1633.5375}, {"7' and 7/8", Millimetre, 2155.825},
		{"10 millimetres", Inch, 10}, {"1.2 meters", Inch, 1200}, {"3 centimeter", Inch, 30},
		{"47 less 1/32", Inch, 1193.00625}, {"3' 11\" minus 1/8", Millimetre, 1190.625}, {"2 m less 3 mm", Inch, 1997}, {"5 ft less 1/2", Millimetre, 1511.3}, {"2 less 2", Inch, 0},
	}
	for _, test := range tests {
		t.Run(test.text, func(t *testing.T) {
			got, err := ParseLength(test.text, test.unit)
			require.NoError(t, err)
			assert.Equal(t, test.want, float64(got))
			assert.False(t, math.Signbit(float64(got)) && got == 0, "no negative zero")
		})
	}
}

func TestLengthsRefusedWithAMessageThatNamesWhatWasRead(t *testing.T) {
	t.Parallel()
	tests := []struct{ text, says string }{
		{"", "nothing is typed"}, {"   ", "nothing is typed"}, {`3 mm 1/4"`, "second number"}, {"3 mm in", "two units"}, {`1/0 in`, "zero below"}, {"5 1/0 in", "zero below"},
		{"2899 1/2 mm", "fraction in mm"}, {"1/2 cm", "fraction in cm"}, {"1/2 m", "fraction in m"}, {"1/2 thou", "fraction in thou"}, {"1/2", "fraction in mm"}, {"⅞", "fraction in mm"},
		{"7 1/2 ft 3", "parts of a foot"}, {"7.5' 3\"", "parts of a foot"}, {"1/2/3 in", "one fraction"}, {"64.5 1/2 in", "decimal"}, {"64.5⅝ in", "decimal"},
		{"1.234,5", "decimal mark"}, {"1,5,3", "decimal mark"}, {"1,234 mm", "1.234 or 1234?"}, {"-12,345", "12.345 or 12345?"}, {"2,899 mm", "2.899 or 2899?"},
		{"40 mil", "thou or mm?"}, {"1000.1 m", "beyond"}, {"-40000 in 1", "second number"}, {"NaN", "not a number"}, {"Inf", "not a number"}, {"+inf", "not a number"},
		{"2.9e3", "exponent"}, {"2e3 mm", "exponent"}, {"3\tmm", "control"}, {"3\x00", "control"}, {strings.Repeat(" ", 64) + "3", "longer than 64"},
		{"3 yd", "not a unit"}, {"3 mm/m", "not understood"}, {"mm", "number is missing"}, {"--3", "number is missing"}, {".", "no digits"}, {"7' 8'", "only inches"}, {"7 ft 8 mm", "only inches"},
		{"8\" 7'", "second number"}, {"3 $", "not part"}, {"1.5/2 in", "whole numbers"}, {"64 - 5/16 in", "less 5/16 in, or and 5/16 in?"}, {"47 -1/32 in", "less 1/32 in"}, {"1/32 in less 47 in", "more is taken off"}, {"-47 in less 1/32 in", "more is taken off"}, {"47 in less", "number is missing"}, {"47 in less 1 in less 1 in", "not understood"}, {"5 and 3", "not a unit"}, {"47 less 1/32", "fraction in mm"}, {"½ ½ in", "one fraction"}, {"\xff3", "not readable"}, {"7' +8\"", "not understood"},
	}
	for _, test := range tests {
		t.Run(test.text, func(t *testing.T) {
			_, err := ParseLength(test.text, Millimetre)
			require.Error(t, err)
			assert.Contains(t, err.Error(), test.says)
		})
	}
}

func TestAnglesAsTyped(t *testing.T) {
	t.Parallel()
	tests := []struct {
		text  string
		sense Sense
		want  float64
	}{
		{"0.05", Plain, 0.05}, {"0.05°", Plain, 0.05}, {"0,05 deg", Plain, 0.05}, {"-1.2", Pitch, -1.2}, {"−1.2°", CrossLevel, -1.2},
		{"2° 30'", Plain, 2.5}, {"2°30′15″", Plain, 2.5041666666666667}, {"-0° 12'", Plain, -0.2}, {"0° 3'", Plain, 0.05}, {"2° 30.5'", Plain, 2.5083333333333333},
		{"0.08 R", CrossLevel, 0.08}, {"R 0.08", CrossLevel, 0.08}, {"0.08 right low", CrossLevel, 0.08}, {"0.08 L", CrossLevel, -0.08}, {"left low 0.08", CrossLevel, -0.08}, {"0.05° l", Either, -0.05}, {"0° 12' L", CrossLevel, -0.2},
		{"0.6 up", Pitch, 0.6}, {"0.6 down", Pitch, -0.6}, {"0.6 Nose Up", Pitch, 0.6}, {"nose down 0.6", Either, -0.6}, {"0 L", CrossLevel, 0},
		{"5 mm/m", Plain, 0.28647651027707449}, {"1/16 in/ft", Plain, 0.29841281999488256}, {"1:200", Plain, 0.28647651027707449}, {"-1:200", Pitch, -0.28647651027707449}, {"5 mm/m down", Pitch, -0.28647651027707449},
		{"360", Plain, 360},
		{"0.3 leading edge up", Pitch, 0.3}, {"0.3 LE down", Pitch, -0.3}, {"0.3 TE low", Pitch, 0.3}, {"0.3 trailing edge high", Either, -0.3}, {"le high 0.3", Pitch, 0.3},
		{"3/16 in 24", Plain, 0.4476141708605531}, {"3/16\" over 24\"", Plain, 0.4476141708605531}, {"3/16 in in 24 in R", CrossLevel, 0.4476141708605531}, {"3 mm in 600 mm TE high", Pitch, -0.2864765102770745}, {"3 mm in 600", Plain, 0.2864765102770745},
		{"5 mm per metre", Plain, 0.2864765102770745}, {"1/8 in per foot", Plain, 0.5968094512291771},
	}
	for _, test := range tests {
		t.Run(test.text, func(t *testing.T) {
			got, err := ParseAngle(test.text, test.sense)
			require.NoError(t, err)
			assert.InDelta(t, test.want, float64(got), 1e-15)
		})
	}
}

func TestAnglesRefused(t *testing.T) {
	t.Parallel()
	tests := []struct {
		text  string
		sense Sense
		says  string
	}{
		{"", Plain, "nothing is typed"}, {"0.08 R", Pitch, "up or down"}, {"0.6 up", CrossLevel, "R or L"}, {"0.6 nose down", CrossLevel, "R or L"}, {"0.08 R", Plain, "plain angle"}, {"0.6 up", Plain, "plain angle"},
		{"-0.08 R", CrossLevel, "two things"}, {"+0.08 R", CrossLevel, "two things"}, {"-0.1 L", CrossLevel, "two things"}, {"-0.6 up", Pitch, "two things"}, {"R 0.08 L", CrossLevel, "twice"},
		{"1/2", Plain, "fraction in degrees"}, {"1/2°", Plain, "fraction in degrees"}, {"1 1/2 deg", Plain, "fraction in degrees"}, {"2° 60'", Plain, "below 60"}, {"2° 3' 60\"", Plain, "below 60"}, {"2.5° 3'", Plain, "decimal degrees"},
		{"2° 3.5' 6\"", Plain, "decimal minutes"}, {"12'", Plain, "minutes without degrees"}, {"1:0", Plain, "zero"}, {"5 mm", Plain, "a length"}, {"1/2 mm/m", Plain, "fraction in mm"}, {"5 mm/", Plain, "unit of the run"}, {"3 mm in 0 mm", Plain, "over nothing"}, {"3 mm in", Plain, "a length"}, {"3 mm in 1/2 mm", Plain, "fraction in mm"}, {"0.3 TE low", CrossLevel, "R or L"}, {"0.3 LE up", Plain, "plain angle"}, {"-0.3 LE up", Pitch, "two things"},
		{"361", Plain, "beyond"}, {"1e2", Plain, "exponent"}, {"NaN", Plain, "not a number"}, {"1,234", Plain, "1.234 or 1234?"}, {"0.05 X", CrossLevel, "not understood"}, {"5 mm/yd", Plain, "not a unit"}, {"2° 30", Plain, "minutes"},
	}
	for _, test := range tests {
		t.Run(test.text, func(t *testing.T) {
			_, err := ParseAngle(test.text, test.sense)
			require.Error(t, err)
			assert.Contains(t, err.Error(), test.says)
		})
	}
}

func TestEverySixtyFourthAndEveryHundredthSurvivesTheRoundTrip(t *testing.T) {
	t.Parallel()
	for n := -64 * 10; n <= 50_000*64*10/254+1; n++ {
		want := Length(float64(n*127) / 320) // 0.396875 mm, rounded once
		got, err := ParseLength(want.Text(Inch), Millimetre)
		if err != nil || got != want {
			require.Failf(t, "lost", "%d/64 in: %q came back as %v (%v)", n, want.Text(Inch), got, err)
		}
	}
	for n := -1000; n <= 5_000_000; n += 1 {
		if n > 200_000 && n%97 != 0 {
			continue
		}
		text := fmt.Sprintf("%d.%02d mm", n/100, n%100)
		if n < 0 {
			text = fmt.Sprintf("-%d.%02d mm", -n/100, -n%100)
		}
		first, err := ParseLength(text, Inch)
		require.NoError(t, err)
		again, err := ParseLength(first.Text(Millimetre), Inch)
		if err != nil || again != first {
			require.Failf(t, "lost", "%s", text)
		}
	}
}

func TestLengthsAreShownAsABuilderWritesThem(t *testing.T) {
	t.Parallel()
	assert.Equal(t, "64 5/16 in", Length(1633.5375).Text(Inch))
	assert.Equal(t, "92 57/64 in, 92.8894", Length(92.8894*25.4).Text(Inch))
	assert.Equal(t, "-1/16 in", Length(-1.5875).Text(Inch))
	assert.Equal(t, "0 in", Length(0).Text(Inch))
	assert.Equal(t, "73.5 mm", Length(73.5).Text(Millimetre))
	assert.Equal(t, "+0.03", Signed(0.028, 2))
	assert.Equal(t, "0.00", Signed(0.004, 2))
	for v, want := range map[float64]string{0.001: "0.01", 0.05: "0.05", 0.0501: "0.06", 0: "0.00", 0.3: "0.30"} {
		assert.Equal(t, want, Up(v, 2), "%v", v)
	}
}

func FuzzLength(f *testing.F) {
	for _, s := range []string{"64 5/16", `5' 4 5/16"`, "1,234 mm", "0.0735 m", "-64-5/16", "3 mm 1/4\"", "½", "1e9", "5′-4⅝″", "32 thou", "47 less 1/32", "5 and ⅜ in."} {
		f.Add(s, false)
		f.Add(s, true)
	}
	f.Fuzz(func(t *testing.T, text string, inch bool) {
		unit := Millimetre
		if inch {
			unit = Inch
		}
		l, err := ParseLength(text, unit)
		if err != nil {
			return
		}
		if math.IsNaN(float64(l)) || math.Abs(float64(l)) > float64(MaxLength) {
			t.Fatalf("%q gave %v", text, l)
		}
		if back, err := ParseLength(l.Text(Millimetre), Inch); len(l.Text(Millimetre)) <= maxCharacters && (err != nil || back != l) {
			t.Fatalf("%q gave %v, and back %v (%v)", text, l, back, err)
		}
	})
}

func FuzzAngle(f *testing.F) {
	for _, s := range []string{"0.08 R", "2°30′15″", "-0° 12'", "5 mm/m", "1:200", "0.6 nose up", "1/16 in/ft", "L 3", "3/16 in 24 R", "0.3 TE low"} {
		f.Add(s, 3)
	}
	f.Fuzz(func(t *testing.T, text string, sense int) {
		a, err := ParseAngle(text, Sense(sense&3))
		if err == nil && !(math.Abs(float64(a)) <= float64(MaxAngle)) {
			t.Fatalf("%q gave %v", text, a)
		}
	})
}
