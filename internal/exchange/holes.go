// Package exchange reads and writes the open formats that other programs and people
// bring and take: CSV of holes.
package exchange

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
)

// HolesHeader is the first line of a CSV file of holes. Along and across are lengths as
// typed, pose and keep may be empty; state and spoilt are written, and not read back.
var HolesHeader = []string{"hole", "along", "across", "pose", "keep for", "keep until", "state", "spoilt"}

// ReadHoles reads holes from CSV: a header, then one line a hole, in the order in which
// they are numbered from 1. Columns may stand in any order, and those that are not
// known are an error; only along is needed. Bare lengths are in the unit. Each error
// names its line.
func ReadHoles(data string, unit quantity.Unit) ([]row.Hole, error) {
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(data, "\ufeff")))
	r.TrimLeadingSpace = true
	if first, _, _ := strings.Cut(data, "\n"); strings.Count(first, ";") > strings.Count(first, ",") {
		r.Comma = ';'
	}
	header, err := r.Read()
	if errors.Is(err, io.EOF) {
		return nil, errors.New("is empty: a first line with the names of the columns is wanted")
	}
	if err != nil {
		return nil, fmt.Errorf("cannot be read as CSV: %w", err)
	}
	at := map[string]int{}
	for i, name := range header {
		name = strings.ToLower(strings.TrimSpace(name))
		if !known(name) {
			return nil, fmt.Errorf("has a column %q; known are %s", name, strings.Join(HolesHeader, ", "))
		}
		if _, twice := at[name]; twice {
			return nil, fmt.Errorf("has the column %q twice", name)
		}
		at[name] = i
	}
	if _, ok := at["along"]; !ok {
		return nil, errors.New("has no column “along”: how far each hole is along the row")
	}
	var holes []row.Hole
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("cannot be read as CSV: %w", err)
		}
		line, _ := r.FieldPos(0)
		if len(holes) == row.MaxHoles {
			return nil, fmt.Errorf("has more than %d holes", row.MaxHoles)
		}
		h, err := readHole(record, at, len(holes)+1, unit)
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		holes = append(holes, h)
	}
	if len(holes) == 0 {
		return nil, errors.New("has no holes below its first line")
	}
	return holes, nil
}

func known(name string) bool {
	for _, h := range HolesHeader {
		if h == name {
			return true
		}
	}
	return false
}

func readHole(record []string, at map[string]int, number int, unit quantity.Unit) (row.Hole, error) {
	cell := func(name string) string {
		if i, ok := at[name]; ok && i < len(record) {
			return strings.TrimSpace(record[i])
		}
		return ""
	}
	h := row.Hole{Number: number, State: row.Pilot, Pose: cell("pose"), Keep: row.Keep{Part: cell("keep for"), Step: cell("keep until")}}
	if text := cell("hole"); text != "" && text != strconv.Itoa(number) {
		return h, fmt.Errorf("hole %s stands where hole %d is next: holes are numbered from 1, in order", text, number)
	}
	along, err := quantity.ParseLength(cell("along"), unit)
	if err != nil {
		return h, fmt.Errorf("along: %w", err)
	}
	h.Along = float64(along)
	if text := cell("across"); text != "" {
		across, err := quantity.ParseLength(text, unit)
		if err != nil {
			return h, fmt.Errorf("across: %w", err)
		}
		h.Across = float64(across)
	}
	if (h.Keep.Part == "") != (h.Keep.Step == "") {
		return h, errors.New("a hole that stays open names the later part (keep for) and the later step (keep until)")
	}
	return h, nil
}

// WriteHoles writes holes as CSV, lengths in millimetres.
func WriteHoles(holes []row.Hole) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	rows := [][]string{HolesHeader}
	for _, h := range holes {
		rows = append(rows, []string{strconv.Itoa(h.Number), mm(h.Along), mm(h.Across), h.Pose, h.Keep.Part, h.Keep.Step, string(h.State), strconv.Itoa(h.Spoilt)})
	}
	_ = w.WriteAll(rows) // a bytes.Buffer takes everything
	return b.Bytes()
}

func mm(v float64) string {
	return quantity.Length(math.Round(v*1000) / 1000).Text(quantity.Millimetre)
}
