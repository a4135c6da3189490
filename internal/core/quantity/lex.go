package quantity

import (
	"errors"
	"fmt"
	"math/big"
	"strings"
	"unicode"
	"unicode/utf8"
)

// maxCharacters is the longest text that is read, before trimming.
const maxCharacters = 64

// A token is a number, a word of letters, or one symbol.
type token struct {
	kind   tokenKind
	text   string
	spaced bool // white space stands in front of it
}

type tokenKind int

const (
	end tokenKind = iota
	number
	vulgar // one of ½ ¼ ⅞ …; text is its "7/8"
	word   // folded to lower case
	symbol // - + / : ° ' "
)

// vulgarFractions are the single characters that stand for a fraction.
var vulgarFractions = map[rune]string{
	'½': "1/2", '⅓': "1/3", '⅔': "2/3", '¼': "1/4", '¾': "3/4",
	'⅕': "1/5", '⅖': "2/5", '⅗': "3/5", '⅘': "4/5", '⅙': "1/6", '⅚': "5/6",
	'⅐': "1/7", '⅛': "1/8", '⅜': "3/8", '⅝': "5/8", '⅞': "7/8", '⅑': "1/9", '⅒': "1/10",
}

// sameAs folds the characters that phones and word processors put in place of
// the plain ones.
var sameAs = map[rune]rune{
	'−': '-', '′': '\'', '’': '\'', '″': '"', '”': '"', 'º': '°', '⁄': '/', '∕': '/',
}

// lex cuts text into tokens, ending with one of kind end. It refuses text that
// is empty, too long, or holds characters that no quantity has.
func lex(text string) ([]token, error) {
	if utf8.RuneCountInString(text) > maxCharacters {
		return nil, fmt.Errorf("longer than %d characters; one length or angle is wanted", maxCharacters)
	}
	if !utf8.ValidString(text) {
		return nil, errors.New("not readable text")
	}
	for _, r := range text {
		if unicode.IsControl(r) {
			return nil, fmt.Errorf("holds the control character %U; type it again", r)
		}
	}
	runes := []rune(strings.TrimSpace(text))
	if len(runes) == 0 {
		return nil, errors.New("nothing is typed yet")
	}
	var tokens []token
	spaced := false
	for i := 0; i < len(runes); {
		r := runes[i]
		if folded, ok := sameAs[r]; ok {
			r = folded
		}
		if unicode.IsSpace(r) {
			spaced = true
			i++
			continue
		}
		t := token{spaced: spaced}
		next := i + 1
		switch {
		case isDigit(r) || r == '.' || r == ',':
			for next < len(runes) && (isDigit(runes[next]) || runes[next] == '.' || runes[next] == ',') {
				next++
			}
			t.kind, t.text = number, string(runes[i:next])
		case unicode.IsLetter(r):
			for next < len(runes) && unicode.IsLetter(runes[next]) && sameAs[runes[next]] == 0 {
				next++
			}
			t.kind, t.text = word, strings.ToLower(string(runes[i:next]))
		case vulgarFractions[r] != "":
			t.kind, t.text = vulgar, vulgarFractions[r]
		case strings.ContainsRune("-+/:°'\"", r):
			t.kind, t.text = symbol, string(r)
			if r == '\'' && next < len(runes) && (runes[next] == r || sameAs[runes[next]] == r) {
				t.text = "\""
				next++
			}
		default:
			return nil, fmt.Errorf("the character %q is not part of a length or an angle", r)
		}
		tokens = append(tokens, t)
		i, spaced = next, false
	}
	return append(tokens, token{kind: end}), nil
}

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

// reader walks the tokens of one text.
type reader struct {
	tokens []token
	at     int
}

func (r *reader) peek() token { return r.tokens[r.at] }
func (r *reader) ahead(n int) token {
	if r.at+n < len(r.tokens) {
		return r.tokens[r.at+n]
	}
	return token{}
}

// take steps over the next token when it is of that kind and has one of those
// texts (any text when none is given).
func (r *reader) take(kind tokenKind, texts ...string) (token, bool) {
	t := r.peek()
	if t.kind != kind {
		return t, false
	}
	if len(texts) == 0 {
		r.at++
		return t, true
	}
	for _, text := range texts {
		if t.text == text {
			r.at++
			return t, true
		}
	}
	return t, false
}

// sign reads an optional + or - in front.
func (r *reader) sign() (negative, given bool) {
	t, ok := r.take(symbol, "-", "+")
	return ok && t.text == "-", ok
}

// rest is what stands from here on, for a message.
func (r *reader) rest() string {
	var b strings.Builder
	for i, t := range r.tokens[r.at:] {
		if t.spaced && i > 0 {
			b.WriteByte(' ')
		}
		b.WriteString(t.text)
	}
	return b.String()
}

// An amount is an unsigned number as typed.
type amount struct {
	value    *big.Rat
	fraction bool // 7/8, 64 5/16, 64⅝
	decimal  bool // 92.5, 92,5
}

// amount reads a whole number, a decimal, a fraction or a mixed number.
func (r *reader) amount() (amount, error) {
	if t, ok := r.take(vulgar); ok {
		return amount{value: ratio(t.text), fraction: true}, r.noSecondFraction()
	}
	t, ok := r.take(number)
	if !ok {
		return amount{}, r.noNumber()
	}
	value, decimal, err := readNumber(t.text)
	if err != nil {
		return amount{}, err
	}
	if n := r.peek(); n.kind == word && n.text == "e" && !n.spaced {
		return amount{}, errors.New("an exponent is not read; write the number out")
	}
	a := amount{value: value, decimal: decimal}
	// A fraction of its own, 7/8, or the top of one when a unit does not follow: 1/16 in, 5 mm/m.
	if r.fractionBar(0) {
		den := r.ahead(1)
		r.at += 2
		a.value, err = divide(t.text, den.text)
		a.fraction = true
		if err != nil {
			return a, err
		}
		return a, r.noSecondFraction()
	}
	r.and()
	part, skip := r.fractionPart()
	if part == nil {
		return a, nil
	}
	if decimal {
		return a, fmt.Errorf("a decimal (%s) and a fraction together; use one of them", t.text)
	}
	value, err = divide(part[0], part[1])
	if err != nil {
		return a, err
	}
	r.at += skip
	a.value, a.fraction = new(big.Rat).Add(a.value, value), true
	return a, r.noSecondFraction()
}

// and steps over the word where a fraction follows: 5 and 3/8.
func (r *reader) and() {
	if t := r.peek(); t.kind == word && t.text == "and" && (r.ahead(1).kind == vulgar || r.ahead(1).kind == number && r.ahead(2).kind == symbol && r.ahead(2).text == "/") {
		r.at++
	}
}

// noNumber explains why no number could be read here.
func (r *reader) noNumber() error {
	t := r.peek()
	switch {
	case t.kind == word && (t.text == "nan" || t.text == "inf" || t.text == "infinity"):
		return fmt.Errorf("%q is not a number", t.text)
	case t.kind == end:
		return errors.New("a number is missing")
	}
	return fmt.Errorf("a number is missing before %q", r.rest())
}

// fractionBar tells whether a slash and a number stand n tokens on.
func (r *reader) fractionBar(n int) bool {
	return r.ahead(n).kind == symbol && r.ahead(n).text == "/" && r.ahead(n+1).kind == number
}

// fractionPart finds the fraction of a mixed number that follows its whole
// part (64 5/16, 64-5/16, 64⅝), and how many tokens it takes.
func (r *reader) fractionPart() (part []string, tokens int) {
	t := r.peek()
	switch {
	case t.kind == vulgar:
		return strings.Split(t.text, "/"), 1
	case t.kind == number && t.spaced && r.fractionBar(1):
		return []string{t.text, r.ahead(2).text}, 3
	case t.kind == symbol && t.text == "-" && !t.spaced && r.ahead(1).kind == number && !r.ahead(1).spaced && r.fractionBar(2):
		return []string{r.ahead(1).text, r.ahead(3).text}, 4
	case t.kind == symbol && t.text == "-" && !t.spaced && r.ahead(1).kind == vulgar && !r.ahead(1).spaced:
		return strings.Split(r.ahead(1).text, "/"), 2
	}
	return nil, 0
}

func (r *reader) noSecondFraction() error {
	t := r.peek()
	if t.kind == vulgar || (t.kind == symbol && t.text == "/" && r.ahead(1).kind != word) {
		return fmt.Errorf("%q after a fraction; one fraction is read, as in 64 5/16", r.rest())
	}
	return nil
}

// readNumber reads digits with at most one decimal mark.
func readNumber(s string) (value *big.Rat, decimal bool, err error) {
	marks := strings.Count(s, ".") + strings.Count(s, ",")
	if marks > 1 {
		return nil, false, fmt.Errorf("%s has more than one decimal mark; write 1234.5", s)
	}
	if strings.Trim(s, ".,") == "" {
		return nil, false, fmt.Errorf("%q has no digits", s)
	}
	if before, after, ok := strings.Cut(s, ","); ok && len(after) == 3 && len(before) >= 1 && len(before) <= 3 && before[0] != '0' {
		return nil, false, fmt.Errorf("%s: %s.%s or %s%s? Write it with a point or without the comma", s, before, after, before, after)
	}
	value, ok := new(big.Rat).SetString(strings.Replace(s, ",", ".", 1))
	if !ok {
		return nil, false, fmt.Errorf("%s is not a number", s)
	}
	return value, marks == 1, nil
}

// divide makes a fraction of two whole numbers as typed.
func divide(top, bottom string) (*big.Rat, error) {
	for _, s := range []string{top, bottom} {
		if strings.ContainsAny(s, ".,") {
			return nil, fmt.Errorf("%s/%s: a fraction is made of whole numbers", top, bottom)
		}
	}
	den, ok := new(big.Rat).SetString(bottom)
	if !ok || den.Sign() == 0 {
		return nil, fmt.Errorf("%s/%s has a zero below the line", top, bottom)
	}
	num, _ := new(big.Rat).SetString(top)
	return num.Quo(num, den), nil
}

func ratio(s string) *big.Rat {
	r, _ := new(big.Rat).SetString(s)
	return r
}

// float rounds an exact value, its sign applied, to the nearest float64.
func float(r *big.Rat, negative bool) float64 {
	f, _ := r.Float64()
	if negative && f != 0 {
		return -f
	}
	return f
}
