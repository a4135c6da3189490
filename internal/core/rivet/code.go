package rivet

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
)

// Code is a call-out by numbers, as plans have them: the head, the alloy, the diameter in
// thirty-seconds of an inch and the length in sixteenths, halves of a sixteenth behind a point:
// "470-4-6" is a head 470, 1/8 in thick and 3/8 in long, "470-4-6.5" is 13/32 in long; "AD4-6" and
// "AN470AD4-6" are the same of an alloy.
type Code struct {
	Head             string // as it is written: "470", "AN426"; "" where only the alloy or the size stands there
	Alloy            string // "AD"; "" for none
	Diameter, Length quantity.Length
}

// Lies is how the head of the code's rivet lies, domed or flush; "" where the code does not say it, or says it by a
// number that is none of the usual two.
func (c Code) Lies() string {
	switch {
	case strings.HasSuffix(c.Head, "426"):
		return "flush"
	case strings.HasSuffix(c.Head, "470"):
		return "domed"
	}
	return ""
}

var (
	code   = regexp.MustCompile(`^\s*(?:([A-Za-z]{0,3}\d{3,5})[ -]?)?(?:([A-Za-z]{1,2})[ -]?)?(\d{1,2})-(\d{1,2}(?:[.,]5)?)\s*$`)
	number = regexp.MustCompile(`^\s*#\s*(\d{1,2})\s*$`)
)

// ParseCode reads a call-out by numbers; ok is false for what is none.
func ParseCode(text string) (c Code, ok bool) {
	m := code.FindStringSubmatch(text)
	if m == nil {
		return c, false
	}
	thick, err := strconv.Atoi(m[3])
	long, errLong := strconv.ParseFloat(strings.Replace(m[4], ",", ".", 1), 64)
	if err != nil || errLong != nil || thick < 2 || thick > 16 || long <= 0 {
		return c, false
	}
	return Code{m[1], strings.ToUpper(m[2]), quantity.Length(float64(thick) * 25.4 / 32), quantity.Length(long * 25.4 / 16)}, true
}

// drills are the diameters of numbered twist drills in thousandths of an inch, from 1 to 60
// (the usual series of the trade).
var drills = [...]float64{228, 221, 213, 209, 205.5, 204, 201, 199, 196, 193.5, 191, 189, 185, 182, 180, 177, 173, 169.5, 166, 161, 159, 157, 154, 152, 149.5, 147, 144, 140.5, 136, 128.5,
	120, 116, 113, 111, 110, 106.5, 104, 101.5, 99.5, 98, 96, 93.5, 89, 86, 82, 81, 78.5, 76, 73, 70, 67, 63.5, 59.5, 55, 52, 46.5, 43, 42, 41, 40}

// Drill is the diameter of a numbered drill, "#30"; ok is false for what is none. The error
// says which there are.
func Drill(text string) (d quantity.Length, ok bool, err error) {
	m := number.FindStringSubmatch(text)
	if m == nil {
		return 0, false, nil
	}
	n, err := strconv.Atoi(m[1])
	if err != nil || n < 1 || n > len(drills) {
		return 0, true, fmt.Errorf("drills are numbered from #1 to #%d", len(drills))
	}
	return quantity.Length(drills[n-1] * 25.4 / 1000), true, nil
}

// ErrNegative is what a thickness or a length below nothing is refused with.
var ErrNegative = errors.New("cannot be below 0")
