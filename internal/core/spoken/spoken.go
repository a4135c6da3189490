// Package spoken reads durations and amounts of money as people say and write them.
package spoken

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

var (
	errDuration = errors.New("minutes or hours: 45, 2 h, 2 3/4 h, 2 h 30 or 1:40")
	errMoney    = errors.New("an amount: 12.50, $18 or 7,50 EUR")

	clock  = regexp.MustCompile(`^(\d{1,5}):([0-5]\d)$`)
	hours  = regexp.MustCompile(`^(\d{1,5}(?:[.,]\d{1,2})?)\s*(?:h|hr|hrs|hour|hours)(?:\s*(\d{1,2})\s*(?:m|min|mins|minutes)?)?$`)
	parts  = regexp.MustCompile(`^(?:(\d{1,4})[ +])?([1-3])/([2-4])\s*(?:h|hr|hrs|hour|hours)$`)
	whole  = regexp.MustCompile(`^(\d{1,7})\s*(?:m|min|mins|minute|minutes|′|')?$`)
	amount = regexp.MustCompile(`^(\d{1,10})(?:[.,](\d{1,2}))?$`)
	parted = regexp.MustCompile(`^(\d{1,3})(?:,(\d{3}))+(?:\.\d{1,2})?$|^(\d{1,3})(?:\.(\d{3}))+(?:,\d{1,2})?$|^(\d{1,3})(?:['’  ](\d{3}))+(?:[.,]\d{1,2})?$`)
)

const most = 1_000_000 // minutes

// vulgar are fractions of one sign, as they are written out.
var vulgar = strings.NewReplacer("½", " 1/2", "¼", " 1/4", "¾", " 3/4")

// Minutes reads a duration: "45", "45 min", "2 h", "1.5 h", "2 3/4 h", "2 h 30", "1:40" (hours and
// minutes). A bare number is minutes.
func Minutes(text string) (int, error) {
	text = strings.ToLower(strings.TrimSpace(vulgar.Replace(text)))
	total := 0
	switch {
	case clock.MatchString(text):
		m := clock.FindStringSubmatch(text)
		h, _ := strconv.Atoi(m[1])
		rest, _ := strconv.Atoi(m[2])
		total = 60*h + rest
	case hours.MatchString(text):
		m := hours.FindStringSubmatch(text)
		h, _ := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
		rest, _ := strconv.Atoi(m[2])
		if rest > 59 || m[2] != "" && strings.ContainsAny(m[1], ".,") {
			return 0, errDuration
		}
		total = int(60*h+0.5) + rest
	case parts.MatchString(text):
		m := parts.FindStringSubmatch(text)
		h, _ := strconv.Atoi("0" + m[1])
		over, _ := strconv.Atoi(m[2])
		under, _ := strconv.Atoi(m[3])
		if over >= under {
			return 0, errDuration
		}
		total = 60*h + 60*over/under
	case whole.MatchString(text):
		total, _ = strconv.Atoi(whole.FindStringSubmatch(text)[1])
	default:
		return 0, errDuration
	}
	if total > most {
		return 0, errDuration
	}
	return total, nil
}

// signs are the signs of currencies, with their codes (ISO 4217).
var signs = map[string]string{"$": "USD", "€": "EUR", "£": "GBP", "¥": "JPY"}

var code = regexp.MustCompile(`^[A-Z]{3}$`)

// Money reads an amount in hundredths, and its currency where one is named, before or after
// it: "12.50", "$18", "7,50 EUR". Thousands may be parted as anybody does, "$10,000", "1.234,50": an amount has no
// three decimals.
func Money(text string) (hundredths int64, currency string, err error) {
	text = strings.TrimSpace(text)
	for sign, of := range signs {
		if rest, ok := strings.CutPrefix(text, sign); ok {
			text, currency = rest, of
		} else if rest, ok := strings.CutSuffix(text, sign); ok {
			text, currency = rest, of
		}
	}
	if words := strings.Fields(text); len(words) == 2 && currency == "" {
		for i, w := range words {
			if w = strings.ToUpper(w); code.MatchString(w) {
				text, currency = words[1-i], w
			}
		}
	}
	if text = strings.TrimSpace(text); parted.MatchString(text) {
		text = together(text)
	}
	m := amount.FindStringSubmatch(text)
	if m == nil {
		return 0, "", errMoney
	}
	hundredths, err = strconv.ParseInt(m[1]+(m[2] + "00")[:2], 10, 64)
	return hundredths, currency, err
}

// together takes the marks out that part thousands.
func together(text string) string {
	cents := ""
	if i := strings.LastIndexAny(text, ".,"); i >= 0 && len(text)-i <= 3 {
		text, cents = text[:i], "."+text[i+1:]
	}
	return strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' {
			return r
		}
		return -1
	}, text) + cents
}

// Amount writes hundredths as they are read: "12.50".
func Amount(hundredths int64) string { return fmt.Sprintf("%d.%02d", hundredths/100, hundredths%100) }
