package web

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"
)

// record is the record of one assembly, to be read and printed.
func (s *server) record(c *gin.Context) {
	r, err := s.app.Record(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.render(c, http.StatusOK, "record", "layout.html", s.page(c, "airframe", r.Assembly.Name+": the record", r, footing{"airframe", r.Airframe.Name}, footing{"assembly", r.Assembly.Name}, footing{"journal", fmt.Sprintf("%d entries", r.Entries)}, footing{"sheet", "A 4"}))
}
