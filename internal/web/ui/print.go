package ui

import (
	"context"
	"html/template"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
	"orpine/internal/paper"
)

// PaperSize is the size of paper that an address asks for, or that was asked for last.
func PaperSize(c *gin.Context) paper.Size {
	text := c.Query("paper")
	if text == "" {
		text, _ = c.Cookie("paper")
	}
	size, err := paper.ParseSize(text)
	if err != nil {
		return paper.A4
	}
	return size
}

// PDF answers with a print.
func (u *UI) PDF(c *gin.Context, name string, data []byte, err error) {
	if err != nil {
		u.Fail(c, err)
		return
	}
	u.Remember(c, "paper", string(PaperSize(c)))
	c.Header("Content-Disposition", `inline; filename="`+FileName(name)+`.pdf"`)
	c.Data(http.StatusOK, "application/pdf", data)
}

// FileName is a name without anything that the name of a file may not have.
func FileName(name string) string {
	var out strings.Builder
	for _, r := range strings.ToLower(name) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			out.WriteRune(r)
		case out.Len() > 0 && !strings.HasSuffix(out.String(), "-"):
			out.WriteByte('-')
		}
	}
	if name = strings.Trim(out.String(), "-"); name == "" {
		return "orpine"
	}
	return name
}

// Heading is that of a print of a sheet.
func (u *UI) Heading(title, sub, of, path string) paper.Heading {
	if path != "" && u.Origin != nil {
		path = u.Origin() + u.Base + path
	}
	return paper.Heading{Title: title, Sub: sub, Of: of, Path: path, Made: u.Ledger.Now()}
}

// Printed writes lengths of a text as they are written on an aircraft's sheets.
func Printed(unit quantity.Unit, text string) string {
	if unit == quantity.Inch {
		return quantity.Inches(text)
	}
	return text
}

// PrintedDrawing is Printed for a drawing.
func (u *UI) PrintedDrawing(ctx context.Context, unit quantity.Unit, drawing template.HTML) string {
	if unit == quantity.Inch {
		return string(inInches([]byte(drawing), u.names(ctx)))
	}
	return string(drawing)
}

// WrongField makes a problem of an error at a field.
func WrongField(field string, err error) error { return ledger.Problems{field: err.Error()} }
