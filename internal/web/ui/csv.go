package ui

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"mime"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"orpine/internal/exchange"
)

// CSV sends records as a table to be kept, under a name without its ending. A text that a spreadsheet would take for a
// formula is guarded; a figure is not.
func (u *UI) CSV(c *gin.Context, name string, records [][]string) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	for _, r := range records {
		out := make([]string, len(r))
		for i, cell := range r {
			if _, err := strconv.ParseFloat(cell, 64); err != nil {
				cell = exchange.Guard(cell)
			}
			out[i] = cell
		}
		if err := w.Write(out); err != nil {
			u.Fail(c, fmt.Errorf("writing %s: %w", name, err))
			return
		}
	}
	w.Flush()
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name + ".csv"}))
	c.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
}
