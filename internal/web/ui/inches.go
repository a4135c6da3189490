package ui

import (
	"bytes"
	"context"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
)

// untouched are the elements whose text is as someone typed it, or no text at all.
var untouched = []string{"script", "style", "textarea", "option", "s", "code", "title"}

// spoken are the attributes that are read aloud or shown.
var spoken = []string{"aria-label", "title", "placeholder"}

// inInches writes the lengths of a page in inches: of its texts and of what is read aloud,
// but not what someone typed (class typed) and not the names of things.
func inInches(page []byte, names []string) []byte {
	var out bytes.Buffer
	out.Grow(len(page))
	z := html.NewTokenizer(bytes.NewReader(page))
	var skip []string // the elements that are open inside one that is left as it is
	for {
		kind := z.Next()
		raw := slices.Clone(z.Raw())
		switch kind {
		case html.ErrorToken:
			return out.Bytes()
		case html.TextToken:
			if len(skip) == 0 && bytes.Contains(raw, []byte(" mm")) {
				raw = []byte(html.EscapeString(inchesBut(html.UnescapeString(string(raw)), names)))
			}
		case html.StartTagToken, html.SelfClosingTagToken:
			t := z.Token()
			typed := slices.Contains(untouched, t.Data) || slices.ContainsFunc(t.Attr, func(a html.Attribute) bool {
				return a.Key == "class" && slices.Contains(strings.Fields(a.Val), "typed")
			})
			if kind == html.StartTagToken && !voids[t.Data] && (len(skip) > 0 || typed) {
				skip = append(skip, t.Data)
			}
			raw = spokenInInches(raw, t, names)
		case html.EndTagToken:
			if name, _ := z.TagName(); len(skip) > 0 && skip[len(skip)-1] == string(name) {
				skip = skip[:len(skip)-1]
			}
		}
		out.Write(raw)
	}
}

// voids have no end.
var voids = map[string]bool{"input": true, "br": true, "img": true, "meta": true, "link": true, "hr": true}

// spokenInInches converts the attributes of a tag that are shown or read aloud.
func spokenInInches(raw []byte, t html.Token, names []string) []byte {
	for _, a := range t.Attr {
		if slices.Contains(spoken, a.Key) && strings.Contains(a.Val, " mm") {
			if now := inchesBut(a.Val, names); now != a.Val {
				for _, was := range []string{html.EscapeString(a.Val), strings.ReplaceAll(html.EscapeString(a.Val), "+", "&#43;"), a.Val} {
					raw = bytes.Replace(raw, []byte(`"`+was+`"`), []byte(`"`+html.EscapeString(now)+`"`), 1)
				}
			}
		}
	}
	return raw
}

// inchesBut converts a sentence, but for the names in it.
func inchesBut(sentence string, names []string) string {
	var kept []string
	for _, name := range names {
		if strings.Contains(sentence, name) {
			sentence = strings.ReplaceAll(sentence, name, "\x00"+string(rune('A'+len(kept)))+"\x00")
			kept = append(kept, name)
		}
	}
	sentence = quantity.Inches(sentence)
	for i, name := range kept {
		sentence = strings.ReplaceAll(sentence, "\x00"+string(rune('A'+i))+"\x00", name)
	}
	return sentence
}

// names are those of instruments that hold a length in millimetres: a name is a name.
func (u *UI) names(ctx context.Context) (out []string) {
	list, err := u.Instruments.List(ctx)
	if err != nil {
		return nil
	}
	for _, in := range list {
		if strings.Contains(in.Name, " mm") {
			out = append(out, in.Name)
		}
	}
	return out
}

// ShopUnit is the unit of a sheet that shows all aircraft: inches where every one has them.
func (u *UI) ShopUnit(ctx context.Context) quantity.Unit {
	list, err := u.Airframes.List(ctx)
	if err != nil || len(list) == 0 || slices.ContainsFunc(list, func(f airframe.Airframe) bool { return f.Unit != quantity.Inch }) {
		return quantity.Millimetre
	}
	return quantity.Inch
}
