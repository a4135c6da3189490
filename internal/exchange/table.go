package exchange

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
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
	r := openCSV(data)
	header, err := r.Read()
	if err != nil {
		return t, []string{"it is empty: a first line with the names of the columns is wanted: " + strings.Join(known, ", ")}
	}
	for _, name := range header {
		t.Columns = append(t.Columns, strings.ToLower(strings.TrimSpace(name)))
	}
	for _, name := range needed {
		if !slices.Contains(t.Columns, name) {
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
				row.cells[t.Columns[i]] = Unguard(strings.TrimSpace(cell))
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

// openCSV reads CSV as spreadsheets write it: parted by what the first line is parted by.
func openCSV(data string) *csv.Reader {
	data = strings.TrimPrefix(data, "\ufeff")
	r := csv.NewReader(strings.NewReader(data))
	r.FieldsPerRecord = -1
	first, _, _ := strings.Cut(data, "\n")
	for _, comma := range []rune{';', '\t'} {
		if strings.Count(first, string(comma)) > strings.Count(first, string(r.Comma)) {
			r.Comma = comma
		}
	}
	r.TrimLeadingSpace = r.Comma != '\t' // a tab is a space to it
	return r
}

// Guard puts an apostrophe before a text that a spreadsheet would take for a formula, and
// Unguard takes it away.
func Guard(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r'", rune(text[0])) {
		return "'" + text
	}
	return text
}

// Unguard is the text that Guard was given.
func Unguard(text string) string {
	if len(text) > 1 && text[0] == '\'' && Guard(text[1:]) == text {
		return text[1:]
	}
	return text
}
