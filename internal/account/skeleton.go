package account

import (
	"strings"
	"unicode"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// alike are letters of other scripts that look like Latin ones, after folding.
var alike = strings.NewReplacer(
	"а", "a", "в", "b", "с", "c", "ԁ", "d", "е", "e", "һ", "h", "і", "i", "ј", "j", "к", "k", "ӏ", "l", "м", "m", "н", "h", "о", "o", "р", "p", "ԛ", "q", "ѕ", "s", "т", "t", "у", "y", "х", "x", "ԝ", "w", "г", "r", "ь", "b", "з", "3", // Cyrillic
	"α", "a", "β", "b", "ε", "e", "η", "n", "ι", "i", "κ", "k", "ν", "v", "ο", "o", "ρ", "p", "σ", "o", "ς", "c", "τ", "t", "υ", "u", "χ", "x", "γ", "y", "ω", "w", "ϲ", "c", "ϳ", "j", // Greek
	"օ", "o", "ѵ", "v", "հ", "h", "ո", "n", "ս", "u", "ց", "g", // Armenian and older
	"ı", "i", "ł", "l", "ø", "o", "đ", "d", "ħ", "h", "ɑ", "a", "ɡ", "g", "ɩ", "i", "ʟ", "l", "ʀ", "r", // Latin beside the usual
	"0", "o", "1", "l", "|", "l",
	"rn", "m", "vv", "w",
)

// Skeleton is a name as an eye takes it: compatible forms made one (NFKC), case folded, accents and
// what is invisible left out, and letters of other scripts read as the Latin ones that they look
// like. Two names of one skeleton are one name here. After Unicode Technical Standard 39, with a
// table of its own that is smaller.
func Skeleton(name string) string {
	folded := cases.Fold().String(norm.NFKC.String(name))
	var b strings.Builder
	for _, r := range norm.NFD.String(folded) {
		switch {
		case unicode.Is(unicode.Mn, r), unicode.Is(unicode.Cf, r), unicode.IsControl(r), r == 'ㅤ', r == 'ﾠ', r == '⠀':
		case unicode.IsSpace(r), unicode.Is(unicode.Pd, r), r == '.', r == '_', r == '’', r == '\'':
			b.WriteByte(' ')
		default:
			b.WriteRune(r)
		}
	}
	return alike.Replace(strings.Join(strings.Fields(b.String()), " "))
}

// SameName tells whether two names are one to an eye.
func SameName(a, b string) bool { return Skeleton(a) == Skeleton(b) }
