package planning

import (
	"encoding/json"
	"net/http"
	"os"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
)

// document is the order of work as a plan in the open format (docs/plan.md).
func (s sheets) document(c *gin.Context) {
	sheet, err := s.Order(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	data, err := json.MarshalIndent(sheet.Plan.Document(zoneName(s.Ledger.Now().Location())), "", "  ")
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="plan.json"`)
	c.Data(http.StatusOK, "application/json; charset=utf-8", data)
}

// zoneName is how the database of zones calls the machine's own zone: by the environment, or by
// where its clock's file leads; UTC where neither says.
func zoneName(zone *time.Location) string {
	if zone.String() != "Local" && zone.String() != "" {
		return zone.String()
	}
	link, _ := os.Readlink("/etc/localtime")
	_, after, _ := strings.Cut(link, "zoneinfo/")
	for _, name := range []string{strings.TrimPrefix(os.Getenv("TZ"), ":"), after} {
		if _, err := time.LoadLocation(name); err == nil && name != "" {
			return name
		}
	}
	return "UTC"
}
