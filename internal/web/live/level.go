package live

import (
	"embed"

	"github.com/gin-gonic/gin"

	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

// phoneStep is the step that a phone is read in: what its sensor is good for at best.
const phoneStep = "0.1"

// levelView is a phone as a level.
type levelView struct {
	In       instrument.Instrument // its id is "" before it is one
	Others   []instrument.Instrument
	Name     string
	Placings []int
}

func (s sheets) level(c *gin.Context) { s.showLevel(c, ui.Refused{}) }

func (s sheets) showLevel(c *gin.Context, r ui.Refused) {
	v := levelView{Name: r.Typed["name"]}
	list, err := s.Instruments.List(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	for _, in := range list {
		switch {
		case in.Withdrawn != "" || !in.Angle || !in.Reads() || in.Resolution != phoneStep:
		case in.ID == c.Query("instrument"):
			v.In = in
		default:
			v.Others = append(v.Others, in)
		}
	}
	for i := range instrument.Placings("spread") {
		v.Placings = append(v.Placings, i+1)
	}
	p := s.Page(c, "instruments", "This phone as a level", v, ui.Footing{Label: "instrument", Text: v.In.Name}, ui.Footing{Label: "sheet", Text: "I 2"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Problem = r.Wrong
	s.Render(c, r.Status, "level", p)
}

// makeLevel makes a phone an instrument. Nothing is known of it but its step: its spread and its
// zero are found by what follows.
func (s sheets) makeLevel(c *gin.Context) {
	n := instrument.NewInstrument{Form: ledger.Form{ID: c.PostForm("id")}, Name: c.PostForm("name"), Type: "phone", Resolution: phoneStep}
	err := s.Instruments.Add(c.Request.Context(), n)
	s.Done(c, err, "/level?instrument="+n.ID, func(r ui.Refused) { s.showLevel(c, r) })
}
