package riveting

import (
	"fmt"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/row"
	"orpine/internal/paper"
	"orpine/internal/web/ui"
)

// mapOf is a row as it is printed.
func (s sheets) mapOf(c *gin.Context) (m paper.RowMap, err error) {
	r, err := s.Row(c.Request.Context(), c.Param("id"))
	if err != nil {
		return m, err
	}
	m.Reader = s.Reader(c, r.Airframe.Unit)
	m.Heading = s.Heading(r.Name, r.AssemblyName, r.Airframe.Name+", "+r.AssemblyName, "/rows/"+r.ID)
	m.Plan = m.Reader.Text(fmt.Sprintf("%s %s, %s; %d holes: %s", r.Fastener.Sort, r.Fastener.Size, r.Fastener.Head, len(r.Holes), r.CountsSay()))
	for _, h := range r.Holes {
		a := r.Fit(h)
		goes := a.Length
		if goes != "" {
			goes = m.Reader.Text(r.Fastener.Sort + " " + goes)
		}
		state := string(h.Shown())
		if h.State == row.Set || h.State == row.Accepted {
			state = "set"
		}
		m.Holes = append(m.Holes, paper.MapHole{Number: h.Number, Along: h.Along, Across: h.Across, State: state, Kept: h.Kept(), Fastener: goes})
		if h.Kept() {
			m.Notes = append(m.Notes, fmt.Sprintf("Hole %d stays open for %s, until %s.", h.Number, h.Keep.Part, h.Keep.Step))
		}
	}
	return m, nil
}

func (s sheets) printMap(c *gin.Context) {
	m, err := s.mapOf(c)
	if err != nil {
		s.Fail(c, err)
		return
	}
	data, err := m.Print(ui.PaperSize(c))
	s.PDF(c, "row "+m.Title, data, err)
}

func (s sheets) printStrip(c *gin.Context) {
	m, err := s.mapOf(c)
	if err != nil {
		s.Fail(c, err)
		return
	}
	data, err := m.Strip(ui.PaperSize(c))
	s.PDF(c, "drill strip "+m.Title, data, err)
}
