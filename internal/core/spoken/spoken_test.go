package spoken

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDurationsAreReadAsSpoken(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]int{
		"45": 45, "45 min": 45, "2 h": 120, "2h": 120, "1:40": 100, "0:05": 5, "2 h 30": 150, "2 h 30 min": 150, "1.5 h": 90, "1,25 hours": 75, " 15 Min ": 15, "12:00": 720, "0": 0, "2 3/4 h": 165, "1/2 h": 30, "2½ h": 150, "1/3 hour": 20, "14 h": 840,
	} {
		got, err := Minutes(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "ages", "-5", "1:60", "1:4", "2 h 75", "1.5 h 30", "2 days", "99999999", "20000 h", "1e3", "3/2 h", "1/4"} {
		_, err := Minutes(text)
		assert.ErrorContains(t, err, "1:40", text)
	}
}

func TestMoneyIsReadAsSpoken(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]struct {
		hundredths int64
		currency   string
	}{
		"12.50": {1250, ""}, "7,5": {750, ""}, "$18": {1800, "USD"}, "18 $": {1800, "USD"}, "€ 7.05": {705, "EUR"}, "7,50 EUR": {750, "EUR"}, "chf 20": {2000, "CHF"}, "0": {0, ""},
		"$10,000": {1000000, "USD"}, "1,250.50": {125050, ""}, "1.234,50": {123450, ""}, "1.234": {123400, ""}, "1 000": {100000, ""}, "1'000'000.5": {100000050, ""}, "10,000 EUR": {1000000, "EUR"},
	} {
		got, currency, err := Money(text)
		require.NoError(t, err, text)
		assert.Equal(t, want.hundredths, got, text)
		assert.Equal(t, want.currency, currency, text)
	}
	for _, text := range []string{"", "some", "-3", "$", "1,00,000", "1.2345", "1,234.567", "12 50", "$5 EUR", "99999999999"} {
		_, _, err := Money(text)
		assert.ErrorContains(t, err, "an amount", text)
	}
}
