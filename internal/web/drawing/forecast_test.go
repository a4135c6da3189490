package drawing

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// A band lies by its days on the axis: of 100 days to the last, 104 are drawn. What has no late end
// is open to the edge, and each doubt is to the same scale.
func TestAForecastIsDrawnToScale(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 12, 1, 0, 0, 0, 0, time.UTC)
	f := Forecast{Title: "finished", Now: now, Early: now.AddDate(0, 0, 52), Likely: now.AddDate(0, 0, 60), Late: now.AddDate(0, 0, 100), Hangs: []Hang{{"your pace", "26 days", 26}}}
	text := string(f.Draw())
	scale := (plotWide - 2*forecastSide) / 104
	assert.Contains(t, text, fmt.Sprintf(`x="%s" y="30" width="%s"`, n(forecastSide+52*scale), n(48*scale)))
	assert.Contains(t, text, fmt.Sprintf(`width="%s" height="8"`, n(26*scale)))
	assert.Equal(t, 2, strings.Count(text, "your pace: 26 days"), "for a desk and for a phone")
	assert.Contains(t, text, ">2027<")
	f.Late, f.Likely = time.Time{}, time.Time{}
	f.Plain = now.AddDate(0, 0, 40)
	open := string(f.Draw())
	assert.NotContains(t, open, "as likely as not")
	whole := (plotWide - 2*forecastSide) / (52 * 1.04)
	assert.Contains(t, open, fmt.Sprintf(`width="%s" height="20"`, n(plotWide-forecastSide-(forecastSide+52*whole))))
	assert.Contains(t, open, "unsure-dot")
}
