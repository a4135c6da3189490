package holding

import (
	"fmt"
	"html/template"

	"github.com/gin-gonic/gin"

	"orpine/internal/paper"
	"orpine/internal/web/ui"
)

// print is the hold sheet on paper.
func (s sheets) print(c *gin.Context) {
	h, err := s.UI.Hold(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	reader := s.Reader(c, h.Airframe.Unit)
	p := paper.HoldSheet{Heading: s.Heading(h.Name, h.Step, h.Airframe.Name+", "+h.AssemblyName, "/holds/"+h.ID), Permanent: h.Permanent, Why: h.Why, State: h.Judgement.Standing.String()}
	for _, l := range h.Judgement.Lines {
		p.Lines = append(p.Lines, paper.HoldLine{Standing: l.Standing.String(), What: reader.Text(l.What), Why: reader.Text(l.Why)})
	}
	for _, b := range h.Closes {
		p.Closes = append(p.Closes, b.Name)
	}
	for _, r := range h.Releases {
		says := fmt.Sprintf("%s, %s: evidence %s", r.By, r.At.Format("2 January 2006 15:04"), r.Standing)
		switch {
		case r.Wrong != "":
			says += "; rested on what was wrong: " + r.Wrong
		case r.Done != nil:
			says += "; done"
		case r.Lapsed != "":
			says += fmt.Sprintf("; lapsed: %s", r.Lapsed)
		case r.Withdrawn != "":
			says += "; withdrawn: " + r.Withdrawn
		}
		if r.Answer != "" {
			says += fmt.Sprintf("; %s answered: “%s”", r.AnsweredBy, r.Answer)
		}
		p.Releases = append(p.Releases, reader.Text(says))
	}
	var drawn template.HTML
	switch {
	case len(h.Setup.Checks) > 0:
		drawn = s.draw.Setup(h.Setup)
	case len(h.Lying) > 0:
		drawn = s.draw.Rows(s.Base, h)
	}
	p.Drawing = reader.Text(string(drawn))
	data, err := p.Print(ui.PaperSize(c))
	s.PDF(c, "hold "+h.Name, data, err)
}
