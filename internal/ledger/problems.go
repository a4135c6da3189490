package ledger

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Problems are what is wrong with a submission, by field; the field "" is the
// whole of it. Nothing was stored.
type Problems map[string]string

// Error lists the messages.
func (p Problems) Error() string {
	var all []string
	for field, message := range p {
		all = append(all, strings.TrimPrefix(field+": "+message, ": "))
	}
	slices.Sort(all)
	return strings.Join(all, "; ")
}

// Add notes a problem at a field, unless one is noted there already.
func (p Problems) Add(field, message string) {
	if _, ok := p[field]; !ok {
		p[field] = message
	}
}

// First notes the first of these problems at a field of another form, by the last
// word of where it is; always the same one, in the order of the fields.
func (p Problems) First(field string, into Problems) {
	for _, path := range slices.Sorted(maps.Keys(p)) {
		into.Add(field, strings.TrimPrefix(path[strings.LastIndex(path, ".")+1:]+": "+p[path], ": "))
	}
}

// Err returns the problems as an error, or nil when there are none.
func (p Problems) Err() error {
	if len(p) == 0 {
		return nil
	}
	return p
}

// Name and note lengths that a form may bring.
const (
	MaxName = 80
	MaxNote = 2000
)

// Text checks a free text: required, trimmed, not too long.
func (p Problems) Text(field string, value *string, most int, required string) {
	*value = strings.TrimSpace(*value)
	switch {
	case *value == "" && required != "":
		p.Add(field, required)
	case utf8.RuneCountInString(*value) > most:
		p.Add(field, fmt.Sprintf("longer than %d characters", most))
	}
}

// Moved says that what a form was filled in on is not there any more, with both: what
// was shown, and what is.
func Moved(shown, now string) Problems {
	return Problems{"": fmt.Sprintf("this page was made before something changed, and nothing was stored: it showed %s, and now it is %s. Look again, then send it once more", shown, now)}
}

// readable refuses a request with a text that is not UTF-8 or holds a control
// character; line ends are let through where the field is tagged text:"lines". A
// problem is at the field's name in JSON.
func readable(request any) error {
	wrong := Problems{}
	unreadable(reflect.ValueOf(request), "", false, wrong)
	return wrong.Err()
}

func unreadable(v reflect.Value, field string, lines bool, wrong Problems) {
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			unreadable(v.Elem(), field, lines, wrong)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			f := v.Type().Field(i)
			if !f.IsExported() {
				continue
			}
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			if field != "" || name == "" || name == "-" {
				name = field
			}
			unreadable(v.Field(i), name, lines || f.Tag.Get("text") == "lines", wrong)
		}
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			unreadable(v.Index(i), field, lines, wrong)
		}
	case reflect.Map:
		for _, key := range v.MapKeys() {
			unreadable(key, field, false, wrong)
			unreadable(v.MapIndex(key), field, lines, wrong)
		}
	case reflect.String:
		if says := unreadableText(v.String(), lines); says != "" {
			wrong.Add(field, says)
		}
	}
}

// hides tells whether a character ends a line or turns the text round without being seen.
func hides(r rune) bool {
	return unicode.IsControl(r) || unicode.In(r, unicode.Zl, unicode.Zp, unicode.Bidi_Control)
}

// Plain tells whether a text is one line that hides nothing: what is read out of a file is held to
// what a field is.
func Plain(text string) bool { return unreadableText(text, false) == "" }

func unreadableText(text string, lines bool) string {
	if !utf8.ValidString(text) {
		return "holds bytes that are no text (UTF-8)"
	}
	for _, r := range text {
		if hides(r) && !(lines && (r == '\n' || r == '\r' || r == '\t')) {
			return fmt.Sprintf("holds a control character (%U)", r)
		}
	}
	return ""
}
