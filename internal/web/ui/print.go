package ui

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
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

// Reader is whom a page of an aircraft with a unit is drawn for: figures are written as its builder chose.
func (u *UI) Reader(c *gin.Context, unit quantity.Unit) say.Reader {
	chosen, _ := c.Cookie("figures")
	return readerOf(unit, chosen)
}

// WrongField makes a problem of an error at a field.
func WrongField(field string, err error) error { return ledger.Problems{field: err.Error()} }
