package spoken

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

var (
	errCelsius  = errors.New("a temperature: 18.5 °C or 65 °F")
	errPressure = errors.New("an air pressure: 1013 hPa, 29.92 inHg or 101.3 kPa")
	errGrams    = errors.New("a weight: 250 g, 1/4 lb or 3 oz")
	errPieces   = errors.New("how many? A whole number; or by weight, 1/4 lb, 20 weigh 6 g")
	errWeighed  = errors.New("what do some of them weigh? 1/4 lb, 20 weigh 6 g")
)

// measured is a figure with what stands behind it: a decimal with either mark, or a fraction with or without a whole.
var measured = regexp.MustCompile(`^([-−+]?\d{0,9}(?:[.,]\d{1,6})?|(?:(\d{1,6})[ -])?(\d{1,3})/(\d{1,3}))\s*([^\d\s/].*)?$`)

// figure parts a text into its figure and the unit behind it, in small letters and without blanks.
func figure(text string) (v float64, unit string, ok bool) {
	m := measured.FindStringSubmatch(strings.TrimSpace(vulgar.Replace(text)))
	if m == nil || m[1] == "" {
		return 0, "", false
	}
	unit = strings.ToLower(strings.Join(strings.Fields(m[5]), ""))
	if m[4] != "" {
		whole, _ := strconv.ParseFloat("0"+m[2], 64)
		over, _ := strconv.ParseFloat(m[3], 64)
		under, _ := strconv.ParseFloat(m[4], 64)
		return whole + over/under, unit, under > 0
	}
	v, err := strconv.ParseFloat(strings.Replace(strings.Replace(m[1], ",", ".", 1), "−", "-", 1), 64)
	return v, unit, err == nil
}

// Celsius reads a temperature in °C: "18.5", "12,5 °C", "68 F".
func Celsius(text string) (float64, error) {
	v, unit, ok := figure(text)
	switch strings.TrimPrefix(strings.TrimPrefix(unit, "°"), "deg") {
	case "f", "fahrenheit":
		v = (v - 32) / 1.8
	case "", "c", "celsius":
	default:
		ok = false
	}
	if !ok || v < -273.15 {
		return 0, errCelsius
	}
	return v, nil
}

// pressures are units of air pressure in hPa. A column of mercury is the conventional one, at 0 °C (ISO 80000-4).
var pressures = map[string]float64{"": 1, "hpa": 1, "mbar": 1, "mb": 1, "kpa": 10, "pa": 0.01, "inhg": 33.86389, "in.hg": 33.86389, `"hg`: 33.86389, "inchesofmercury": 33.86389, "mmhg": 1.333224}

// Hectopascals reads an air pressure: "1013", "29.92 inHg", "101.3 kPa". A bare figure is in hPa; one that can only
// be meant in inches of mercury is asked about.
func Hectopascals(text string) (float64, error) {
	v, unit, ok := figure(text)
	by, known := pressures[unit]
	switch {
	case !ok || !known || v <= 0:
		return 0, errPressure
	case unit == "" && v > 20 && v < 34:
		return 0, fmt.Errorf("%s hPa or %[1]s inHg? Write the unit with it", strings.TrimSpace(text))
	}
	return v * by, nil
}

// weights are units of weight in grams; the pound is the avoirdupois one.
var weights = map[string]float64{"g": 1, "gram": 1, "grams": 1, "kg": 1000, "mg": 0.001, "lb": 453.59237, "lbs": 453.59237, "pound": 453.59237, "pounds": 453.59237, "oz": 28.349523125, "ounce": 28.349523125, "ounces": 28.349523125}

// twoWeights are pounds with ounces behind them.
var twoWeights = regexp.MustCompile(`^(.*(?:lbs?|pounds?))\s+(.*(?:oz|ounces?))$`)

// Grams reads a weight with its unit: "250 g", "1/4 lb", "1 lb 4 oz".
func Grams(text string) (float64, error) {
	text = strings.ToLower(strings.TrimSpace(text))
	if m := twoWeights.FindStringSubmatch(text); m != nil {
		pounds, err := Grams(m[1])
		if err != nil {
			return 0, err
		}
		ounces, err := Grams(m[2])
		return pounds + ounces, err
	}
	v, unit, ok := figure(text)
	by, known := weights[unit]
	if !ok || !known || v <= 0 {
		return 0, errGrams
	}
	return v * by, nil
}

// sample is what is behind a weight: how many were weighed by themselves, and what they weigh.
var sample = regexp.MustCompile(`^(.+?)\s*[,;:]\s*(\d{1,6})\s*(?:pieces|of them)?\s*(?:weigh|=|are)\s*(.+)$`)

// Pieces reads how many there are: a whole number, below 0 where some are taken away, or a weight and what some of
// them weigh, "1/4 lb, 20 weigh 6 g", to the nearest piece; weighed tells which.
func Pieces(text string) (n int, weighed bool, err error) {
	text = strings.TrimSpace(strings.Replace(text, "−", "-", 1))
	if n, err := strconv.Atoi(text); err == nil {
		return n, false, nil
	}
	m := sample.FindStringSubmatch(text)
	if m == nil {
		if _, err := Grams(text); err == nil {
			return 0, false, errWeighed
		}
		return 0, false, errPieces
	}
	all, err := Grams(m[1])
	some, also := Grams(m[3])
	count, _ := strconv.Atoi(m[2])
	switch {
	case err != nil || also != nil || count == 0:
		return 0, false, errWeighed
	case all/some*float64(count) > most:
		return 0, false, errPieces
	}
	return int(math.Round(all / some * float64(count))), true, nil
}

// volumes are the units that a pot is measured in besides weights; nothing is turned from one into another.
var volumes = []string{"ml", "cl", "l", "cc", "cm3", "cm³", "floz", "pt", "pint", "pints", "qt", "quart", "quarts", "tsp", "tbsp", "cup", "cups", "drops"}

// Measure reads an amount that goes by weight or by volume with the unit as it was typed, "" for none: "250", "30 ml",
// "2 1/2 oz".
func Measure(text string, byVolume bool) (v float64, unit string, err error) {
	v, plain, ok := figure(text)
	_, mass := weights[plain]
	volume := slices.Contains(volumes, plain)
	switch {
	case !ok || plain != "" && !mass && !volume:
		return 0, "", errors.New("an amount: 250, 250 g or 30 ml")
	case mass && byVolume && plain != "oz":
		return 0, "", errors.New("that is a weight, and the ratio goes by volume")
	case volume && !byVolume:
		return 0, "", errors.New("that is a volume, and the ratio goes by mass")
	}
	at := strings.IndexFunc(text, func(r rune) bool {
		return r != '-' && r != '/' && (r > 0x2044 || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z')
	})
	if plain != "" && at > 0 {
		unit = strings.TrimSpace(text[at:])
	}
	return v, unit, nil
}
