package exchange

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"time"
)

// HoursHeader is the first line of a CSV file of hours. Date is as in 2026-11-24 or 24.11.2026;
// from and to are of the wall clock, and hours stand in place of to, or of both. Only date, and
// either hours or from and to, are needed. Columns that are not known are left out.
var HoursHeader = []string{"date", "from", "to", "hours", "who", "category", "assembly", "step"}

// MostHours is how many lines of hours are read at once.
const MostHours = 5_000

// HoursLine is one line of hours. From and To are of the wall clock, "" where the line says
// only how long it was.
type HoursLine struct {
	Line                          int
	Day                           string // 2026-11-24
	From, To                      string
	Minutes                       int // where To is ""
	Who, Category, Assembly, Step string
}

// ReadHours reads hours from CSV, parted by commas, semicolons or tabs, with a decimal point or
// comma. Every line that cannot be read is named, and then nothing is taken.
func ReadHours(data string) (lines []HoursLine, wrong []string) {
	r := openCSV(data)
	header, err := r.Read()
	if err != nil {
		return nil, []string{"is empty: a first line with the names of the columns is wanted: " + strings.Join(HoursHeader, ", ")}
	}
	at := map[string]int{}
	for i, name := range header {
		at[strings.ToLower(strings.TrimSpace(name))] = i
	}
	if _, ok := at["date"]; !ok {
		return nil, []string{"has no column “date” in its first line; known are " + strings.Join(HoursHeader, ", ")}
	}
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, append(wrong, fmt.Sprintf("cannot be read as CSV: %v", err))
		}
		n, _ := r.FieldPos(0)
		if len(lines) == MostHours {
			return nil, []string{fmt.Sprintf("has more than %d lines: bring it in parts", MostHours)}
		}
		if strings.TrimSpace(strings.Join(record, "")) == "" {
			continue
		}
		l, err := readHours(func(name string) string {
			if i, ok := at[name]; ok && i < len(record) {
				return Unguard(strings.TrimSpace(record[i]))
			}
			return ""
		})
		if err != nil {
			wrong = append(wrong, fmt.Sprintf("line %d: %v", n, err))
		}
		l.Line = n
		lines = append(lines, l)
	}
	switch {
	case len(wrong) > 0:
		return nil, wrong
	case len(lines) == 0:
		return nil, []string{"has no hours below its first line"}
	}
	return lines, nil
}

func readHours(of func(string) string) (l HoursLine, err error) {
	l = HoursLine{Who: of("who"), Category: strings.ToLower(of("category")), Assembly: of("assembly"), Step: of("step")}
	day, err := time.Parse("2006-01-02", of("date"))
	if err != nil {
		if day, err = time.Parse("2.1.2006", of("date")); err != nil {
			return l, fmt.Errorf("%q is no date: 2026-11-24 or 24.11.2026 is wanted", of("date"))
		}
	}
	l.Day = day.Format("2006-01-02")
	clock := func(name string) (string, error) {
		text := of(name)
		if text == "" {
			return "", nil
		}
		at, err := time.Parse("15:04", text)
		if err != nil {
			return "", fmt.Errorf("%s %q is no time of the day, as in 19:00", name, text)
		}
		return at.Format("15:04"), nil
	}
	if l.From, err = clock("from"); err != nil {
		return l, err
	}
	if l.To, err = clock("to"); err != nil {
		return l, err
	}
	if l.From != "" && l.To != "" {
		return l, nil
	}
	l.To = ""
	hours, err := strconv.ParseFloat(strings.Replace(of("hours"), ",", ".", 1), 64)
	if h, m, ok := strings.Cut(of("hours"), ":"); ok {
		whole, errH := strconv.Atoi(h)
		minutes, errM := strconv.Atoi(m)
		hours, err = float64(whole)+float64(minutes)/60, errors.Join(errH, errM)
	}
	if err != nil || !(hours > 0) || hours > 24 {
		return l, errors.New("says neither from and to, nor hours between 0 and 24")
	}
	l.Minutes = max(1, int(hours*60+0.5))
	return l, nil
}

// Hours writes hours as CSV: one record a session, in the columns of HoursHeader. A text that a
// spreadsheet would take for a formula is guarded.
func Hours(w io.Writer, records [][]string) error {
	out := csv.NewWriter(w)
	all := [][]string{HoursHeader}
	for _, r := range records {
		guarded := make([]string, len(r))
		for i, cell := range r {
			guarded[i] = Guard(cell)
		}
		all = append(all, guarded)
	}
	if err := out.WriteAll(all); err != nil {
		return fmt.Errorf("writing the hours: %w", err)
	}
	return nil
}
