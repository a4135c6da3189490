package exchange

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
)

// MostLines is how many lines of a table are read at once.
const MostLines = 5_000

// Table is a CSV file with its columns by name.
type Table struct {
	Columns []string
	Rows    []TableRow
}

// TableRow is a line of it.
type TableRow struct {
	Line  int
	cells map[string]string
}

// Get is what a line has in a column; "" where there is none.
func (r TableRow) Get(column string) string { return r.cells[column] }

// Text is the whole line, to tell it from others.
func (r TableRow) Text() string { return fmt.Sprint(r.cells) }

// ReadTable reads CSV, parted by commas, semicolons or tabs; the first line names the columns. An
// apostrophe that guards a formula is taken away. needed are columns that must be there. Every
// line that cannot be read is named, and then nothing is taken.
func ReadTable(data string, known, needed []string) (t Table, wrong []string) {
	data = strings.TrimPrefix(data, "\ufeff")
	r := csv.NewReader(strings.NewReader(data))
	r.FieldsPerRecord = -1
	first, _, _ := strings.Cut(data, "\n")
	for _, comma := range []rune{';', '\t'} {
		if strings.Count(first, string(comma)) > strings.Count(first, string(r.Comma)) {
			r.Comma = comma
		}
	}
	r.TrimLeadingSpace = r.Comma != '\t'
	header, err := r.Read()
	if err != nil {
		return t, []string{"it is empty: a first line with the names of the columns is wanted: " + strings.Join(known, ", ")}
	}
	for _, name := range header {
		t.Columns = append(t.Columns, strings.ToLower(strings.TrimSpace(name)))
	}
	for _, name := range needed {
		if !containsText(t.Columns, name) {
			wrong = append(wrong, fmt.Sprintf("there is no column “%s” in its first line; known are %s", name, strings.Join(known, ", ")))
		}
	}
	if len(wrong) > 0 {
		return t, wrong
	}
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			return t, wrong
		}
		line, _ := r.FieldPos(0)
		if err != nil {
			return t, append(wrong, fmt.Sprintf("line %d cannot be read: its quotes do not pair", line))
		}
		row := TableRow{Line: line, cells: map[string]string{}}
		filled := false
		for i, cell := range record {
			if i < len(t.Columns) {
				row.cells[t.Columns[i]] = unguarded(strings.TrimSpace(cell))
			}
			filled = filled || strings.TrimSpace(cell) != ""
		}
		if !filled {
			continue
		}
		if t.Rows = append(t.Rows, row); len(t.Rows) > MostLines {
			return t, append(wrong, fmt.Sprintf("there are more than %d lines", MostLines))
		}
	}
}

func containsText(list []string, text string) bool {
	for _, l := range list {
		if l == text {
			return true
		}
	}
	return false
}

// unguarded takes away the apostrophe that keeps a spreadsheet from taking a text for a formula.
func unguarded(text string) string {
	if len(text) > 1 && text[0] == '\'' && strings.ContainsRune("=+-@'\t\r", rune(text[1])) {
		return text[1:]
	}
	return text
}
