package exchange_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/exchange"
)

// The same hours as people keep them: with commas, semicolons and tabs, points and commas, days
// the one way or the other, columns in any order and some that nobody knows.
func TestHoursAreReadAsPeopleKeepThem(t *testing.T) {
	want := []exchange.HoursLine{
		{Line: 2, Day: "2026-11-24", From: "19:00", To: "21:10", Who: "kit", Category: "build", Step: "ribs, left"},
		{Line: 3, Day: "2026-11-25", Minutes: 90, Who: "helper", Category: "research", Assembly: "Wing panel, left"},
	}
	for _, text := range []string{
		"date,from,to,hours,who,category,assembly,step\n2026-11-24,19:00,21:10,,kit,build,,\"ribs, left\"\n2026-11-25,,,1.5,helper,research,\"Wing panel, left\",\n",
		"\ufeffDate;From;To;Hours;Who;Category;Assembly;Step\r\n24.11.2026;19:00;21:10;;kit;Build;;ribs, left\r\n25.11.2026;;;1,5;helper;RESEARCH;Wing panel, left;\r\n\r\n",
		"who\thours\tdate\tmood\tto\tfrom\tcategory\tstep\tassembly\nkit\t\t2026-11-24\tgood\t21:10\t19:00\tbuild\tribs, left\t\nhelper\t1:30\t2026-11-25\tbad\t\t\tresearch\t\tWing panel, left\n",
	} {
		got, wrong := exchange.ReadHours(text)
		require.Empty(t, wrong, text)
		assert.Equal(t, want, got)
	}
}

func TestEveryLineOfHoursThatIsWrongIsNamed(t *testing.T) {
	_, wrong := exchange.ReadHours("date,from,to,hours\n2026-11-31,,,1\n2026-11-24,25:00,,1\n2026-11-24,,,0\n2026-11-24,,,25\n2026-11-24,,,-1\n2026-11-24,,,NaN\n2026-11-24,,,1:x\n2026-11-24,19:00,,\n")
	require.Len(t, wrong, 8)
	for i, says := range []string{"line 2: \"2026-11-31\" is no date", "line 3: from \"25:00\" is no time", "line 4: says neither", "line 5: says neither", "line 6: says neither", "line 7: says neither", "line 8: says neither", "line 9: says neither"} {
		assert.Contains(t, wrong[i], says)
	}
	_, wrong = exchange.ReadHours("date,hours\n" + strings.Repeat("2026-11-24,1\n", exchange.MostHours+1))
	assert.Contains(t, wrong[0], "more than 5000 lines")
	_, wrong = exchange.ReadHours("date,hours\n2026-11-24,\"1\n")
	assert.Contains(t, wrong[len(wrong)-1], "cannot be read as CSV")
}

// What is written is read again, whatever the names hold.
func TestHoursGoOutAndComeBack(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, exchange.Hours(&b, [][]string{{"2026-11-24", "19:00", "21:10", "2.17", "kit, \"the\" builder", "build", "Wing; left", "ribs\tand skins"}}))
	got, wrong := exchange.ReadHours(b.String())
	require.Empty(t, wrong)
	assert.Equal(t, []exchange.HoursLine{{Line: 2, Day: "2026-11-24", From: "19:00", To: "21:10", Who: "kit, \"the\" builder", Category: "build", Assembly: "Wing; left", Step: "ribs\tand skins"}}, got)
}

// Whatever is read is taken whole or refused whole.
func FuzzHours(f *testing.F) {
	for _, seed := range []string{"", "date,hours\n2026-11-24,1", "date;from;to\n1.1.2026;23:59;00:01", "date\thours\n\t", "\"", "date,hours\n,,,,\n2026-02-29,1e9"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		lines, wrong := exchange.ReadHours(text)
		if (len(lines) == 0) == (len(wrong) == 0) {
			t.Fatalf("%d lines and %d wrong ones", len(lines), len(wrong))
		}
		for _, l := range lines {
			if l.Day == "" || l.To == "" && (l.Minutes < 1 || l.Minutes > 24*60) || l.To != "" && l.From == "" {
				t.Fatalf("%+v", l)
			}
		}
	})
}

// A name that a spreadsheet would take for a formula goes out guarded and comes in as it was.
func TestHoursAreNoFormulas(t *testing.T) {
	var b strings.Builder
	require.NoError(t, exchange.Hours(&b, [][]string{{"2026-11-24", "19:00", "21:00", "2", "=1+1", "build", "-wing", "@step"}}))
	assert.Contains(t, b.String(), "'=1+1")
	lines, wrong := exchange.ReadHours(b.String())
	require.Empty(t, wrong)
	assert.Equal(t, "=1+1", lines[0].Who)
	assert.Equal(t, "-wing", lines[0].Assembly)
	assert.Equal(t, "@step", lines[0].Step)
}
