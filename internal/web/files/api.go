package files

import (
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"orpine/internal/archive"
	"orpine/internal/ledger"
)

// apiPath is where the API lies (docs/api.md).
const apiPath = "/api/v1"

// mostRows is how many rows or entries an answer of the API holds at most.
const mostRows = 1000

func (s sheets) api() {
	s.GET(apiPath, s.apiIndex)
	s.GET(apiPath+"/journal", s.apiJournal)
	s.GET(apiPath+"/tables/:name", s.apiTable)
	s.GET(apiPath+"/setups/:id/worksheet", s.apiWorksheet)
}

func (s sheets) apiIndex(c *gin.Context) {
	seq, hash, err := s.Ledger.Head(c.Request.Context())
	if err != nil && !errors.Is(err, ledger.ErrNotFound) {
		s.apiFail(c, err)
		return
	}
	list, err := s.Airframes.List(c.Request.Context())
	if err != nil {
		s.apiFail(c, err)
		return
	}
	aircraft := []gin.H{}
	for _, a := range list {
		aircraft = append(aircraft, gin.H{"id": a.ID, "name": a.Name, "unit": a.Unit.String()})
	}
	c.JSON(http.StatusOK, gin.H{"format": "orpine.api", "version": 1, "journal": apiPath + "/journal", "tables": archive.Tables(), "last": gin.H{"seq": seq, "hash": hash}, "aircraft": aircraft})
}

// window reads how many are wanted after which one; what is no number is an error.
func window(c *gin.Context) (after int64, most int, ok bool) {
	after, most = 0, 100
	if text := c.Query("after"); text != "" {
		n, err := strconv.ParseInt(text, 10, 64)
		if err != nil || n < 0 {
			return 0, 0, false
		}
		after = n
	}
	if text := c.Query("most"); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 1 || n > mostRows {
			return 0, 0, false
		}
		most = n
	}
	return after, most, true
}

func (s sheets) apiJournal(c *gin.Context) {
	after, most, ok := window(c)
	if !ok {
		s.apiWindow(c)
		return
	}
	lines, last, more, err := archive.Lines(c.Request.Context(), s.Ledger, after, most)
	if err != nil {
		s.apiFail(c, err)
		return
	}
	c.JSON(http.StatusOK, gin.H{"entries": lines, "after": last, "more": more})
}

func (s sheets) apiTable(c *gin.Context) {
	after, most, ok := window(c)
	if !ok {
		s.apiWindow(c)
		return
	}
	rows, more, err := archive.Rows(c.Request.Context(), s.Ledger, c.Param("name"), int(after), most)
	if err != nil {
		s.apiFail(c, err)
		return
	}
	c.JSON(http.StatusOK, gin.H{"rows": rows, "after": int(after) + len(rows), "more": more})
}

func (s sheets) apiWorksheet(c *gin.Context) {
	setup, err := s.Measuring.Setup(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.apiFail(c, err)
		return
	}
	data, err := setup.Worksheet()
	if err != nil {
		s.apiFail(c, err)
		return
	}
	c.Data(http.StatusOK, "application/json; charset=utf-8", data)
}

func (s sheets) apiWindow(c *gin.Context) {
	c.JSON(http.StatusBadRequest, gin.H{"error": "after is a number from 0, and most one from 1 to 1000"})
}

func (s sheets) apiFail(c *gin.Context, err error) {
	if errors.Is(err, ledger.ErrNotFound) {
		c.JSON(http.StatusNotFound, gin.H{"error": "there is nothing of that name here"})
		return
	}
	s.Log(c, err)
	c.JSON(http.StatusInternalServerError, gin.H{"error": "something in the program went wrong; nothing was lost"})
}
