package row

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/rivet"
)

// Listed is one row of a call-out list as plans print it: so many holes of each code, one after another.
type Listed struct {
	Line  int    // of the list, from 1
	Name  string // as it is written, and the size behind it where a line has more than one
	Row   Row    // its fastener and call-outs; nothing is known of its layers
	Holes []Hole // with Along in mm where pitches are given, else evenly from 0 to 1
}

// Unread is a line of a list that cannot be read, and why.
type Unread struct {
	Line int // from 1
	Says string
}

// MaxListed is how many rows a list may have.
const MaxListed = 60

// ReadList reads a call-out list, a line for each row:
//
//	rib 4: 12 AD4-5, 3 AD4-6 flush at the spar; pitch 25; open 14, 15 for fin fairing
//
// Before the colon stands what it is called. Then come, parted by commas, how many and the code, domed or flush, and
// where it is, in words. Behind semicolons may stand the pitch, all pitches one after another ("pitches 20 3x25 30"),
// and which holes stay open for which later part. Rivets of another size or sort are a row of their own. What has no
// pitch is laid as it comes. Lengths are bare in unit.
func ReadList(text string, unit quantity.Unit) (rows []Listed, unread []Unread) {
	for i, line := range strings.Split(text, "\n") {
		if line = strings.TrimSpace(line); line == "" {
			continue
		}
		of, says := readLine(line, unit)
		if says != "" {
			unread = append(unread, Unread{i + 1, says})
			continue
		}
		for _, r := range of {
			r.Line = i + 1
			if slices.ContainsFunc(rows, func(o Listed) bool { return strings.EqualFold(o.Name, r.Name) }) {
				unread = append(unread, Unread{i + 1, "“" + r.Name + "” stands there twice: which is which?"})
			}
			rows = append(rows, r)
		}
	}
	if len(rows) > MaxListed {
		unread = append(unread, Unread{rows[MaxListed].Line, fmt.Sprintf("more than %d rows: lay the rest with the next list", MaxListed)})
	}
	return rows, unread
}

// readLine reads one line of a list; says is why it cannot.
func readLine(line string, unit quantity.Unit) (rows []Listed, says string) {
	name, rest, named := strings.Cut(line, ":")
	if name = strings.TrimSpace(name); !named || name == "" {
		return nil, "which row is it? Its name, a colon, and what goes in: rib 4: 12 AD4-5"
	}
	items, clauses, _ := strings.Cut(rest, ";")
	for _, item := range strings.Split(items, ",") {
		n, c, f, says := readItem(item)
		if says != "" {
			return nil, says
		}
		at := slices.IndexFunc(rows, func(r Listed) bool { return r.Row.Fastener.Sort == f.Sort && r.Row.Fastener.Size == f.Size })
		if at < 0 {
			at, rows = len(rows), append(rows, Listed{Name: name, Row: Row{Fastener: f, How: AsItComes, Works: Works[0], Sample: 1}})
		}
		rows[at].add(n, c, f.Head)
	}
	for i := range rows {
		if len(rows[i].Holes) > MaxHoles {
			return nil, fmt.Sprintf("1 to %d holes in a row", MaxHoles)
		}
		if size := strings.TrimSpace(rows[i].Row.Fastener.Sort + " " + rows[i].Row.Fastener.Size); i > 0 {
			rows[i].Name = name + ", " + size
		}
		rows[i].spread()
	}
	for _, clause := range strings.Split(clauses, ";") {
		if clause = strings.TrimSpace(clause); clause == "" {
			continue
		}
		if len(rows) > 1 {
			return nil, fmt.Sprintf("“%s”: of which of its sizes? Write a line for each", clause)
		}
		if says := rows[0].clause(clause, unit); says != "" {
			return nil, says
		}
	}
	return rows, ""
}

var (
	listed = regexp.MustCompile(`^\s*(\d{1,4})\s*(?:[x×]\s*|of\s+|pcs\.?\s+|off\s+)?([#A-Za-z0-9][^\s]*(?:\s+\d{1,2}-\d{1,2}(?:[.,]5)?)?)\s*(.*)$`)
	repeat = regexp.MustCompile(`^(\d{1,3})[x×](.+)$`)
)

// readItem reads how many of which rivet: "3 AD4-6 flush at the spar".
func readItem(item string) (n int, c CallOut, f Fastener, says string) {
	m := listed.FindStringSubmatch(item)
	if m == nil {
		return 0, c, f, fmt.Sprintf("“%s”: how many, and which? As in 12 AD4-5", strings.TrimSpace(item))
	}
	n, _ = strconv.Atoi(m[1])
	if n < 1 || n > MaxHoles {
		return 0, c, f, fmt.Sprintf("1 to %d holes in a row", MaxHoles)
	}
	f.Material = Materials[0]
	if code, ok := rivet.ParseCode(m[2]); ok {
		f.Sort, f.Head = "solid", code.Lies()
		f.Diameter = measure.Diameter{MM: float64(code.Diameter)}
		f.Size, _ = strings.CutSuffix(code.Diameter.Text(quantity.Inch), " in")
		c.Text = code.Length.Text(quantity.Inch)
	} else if strings.ContainsFunc(m[2], isLetter) && strings.ContainsAny(m[2], "0123456789") && !strings.ContainsAny(m[2], "/#.") {
		f.Sort, c.Text = "blind", m[2]
	} else {
		return 0, c, f, fmt.Sprintf("“%s” is no code of a rivet: AD4-5 or 470-4-5 is 1/8 by 5/16 in; a blind one has letters, as in B32-6", m[2])
	}
	for _, word := range strings.Fields(strings.ToLower(m[3])) {
		if word == "flush" || word == "domed" {
			if f.Head != "" && f.Head != word {
				return 0, c, f, fmt.Sprintf("“%s” is a %s one", m[2], f.Head)
			}
			f.Head = word
		}
	}
	if f.Head == "" {
		f.Head = "domed"
	}
	return n, c, f, ""
}

func isLetter(r rune) bool { return r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' }

// add puts n holes of one code behind those that stand there.
func (r *Listed) add(n int, c CallOut, head string) {
	c.From, c.To = len(r.Holes)+1, len(r.Holes)+n
	if head != r.Row.Fastener.Head {
		c.Head = head
	}
	r.Row.CallOuts = append(r.Row.CallOuts, c)
	for range n {
		r.Holes = append(r.Holes, Hole{Number: len(r.Holes) + 1, State: Pilot})
	}
}

// spread lays the holes evenly, from 0 to 1.
func (r *Listed) spread() {
	for i := range r.Holes {
		r.Holes[i].Along = float64(i) / float64(max(len(r.Holes)-1, 1))
	}
}

// clause reads what stands behind a semicolon; says is why it cannot.
func (r *Listed) clause(text string, unit quantity.Unit) (says string) {
	word, rest, _ := strings.Cut(text, " ")
	rest = strings.TrimSpace(rest)
	switch strings.ToLower(word) {
	case "pitch":
		return r.pitches([]string{rest}, unit)
	case "pitches":
		return r.pitches(apart(rest), unit)
	case "open":
		return r.open(rest)
	}
	return fmt.Sprintf("“%s”: pitch 25, pitches 20 3x25 30, or open 4, 5 for a later part", text)
}

// apart parts lengths: by commas where there are any, so that "1 1/2, 3/4" is two, else by blanks.
func apart(text string) (out []string) {
	if strings.Contains(text, ",") {
		return strings.Split(text, ",")
	}
	for _, word := range strings.Fields(text) {
		if len(out) > 0 && !strings.ContainsAny(word, "0123456789") { // a unit
			out[len(out)-1] += " " + word
			continue
		}
		out = append(out, word)
	}
	return out
}

// pitches lays the holes: one pitch for all, or each in turn.
func (r *Listed) pitches(texts []string, unit quantity.Unit) (says string) {
	var each []float64
	for _, one := range texts {
		one = strings.TrimSpace(one)
		times := 1
		if m := repeat.FindStringSubmatch(one); m != nil {
			times, _ = strconv.Atoi(m[1])
			one = m[2]
		}
		v, err := quantity.ParseLength(one, unit)
		switch {
		case err != nil:
			return one + ": " + err.Error()
		case v <= 0:
			return one + ": a pitch must be above 0"
		}
		for range min(times, MaxHoles) {
			each = append(each, float64(v))
		}
	}
	wanted := len(r.Holes) - 1
	if len(each) == 1 {
		each = slices.Repeat(each, wanted)
	}
	if len(each) != wanted {
		return fmt.Sprintf("%d holes have %d pitches between them: %d stand there", len(r.Holes), wanted, len(each))
	}
	r.Row.How = ""
	for i := 1; i < len(r.Holes); i++ {
		r.Holes[i].Along = r.Holes[i-1].Along + each[i-1]
	}
	r.Holes[0].Along = 0
	return ""
}

// open keeps holes open: "14, 15 for fin fairing", and after which step, "at fit the fairing".
func (r *Listed) open(text string) (says string) {
	numbers, part, found := strings.Cut(text, " for ")
	part, step, _ := strings.Cut(part, " at ")
	if part = strings.TrimSpace(part); !found || part == "" {
		return "which holes stay open, and for which later part? open 14, 15 for fin fairing"
	}
	if step = strings.TrimSpace(step); step == "" {
		step = "fit the " + part
	}
	list, err := ParseNumbers(numbers)
	if err != nil {
		return err.Error()
	}
	for _, n := range list {
		if n > len(r.Holes) {
			return fmt.Sprintf("there is no hole %d: the row has %d", n, len(r.Holes))
		}
		r.Holes[n-1].Keep = Keep{Part: part, Step: step}
	}
	return ""
}
