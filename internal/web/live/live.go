// Package live connects instruments that speak and shows what they send, as it comes.
package live

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/gauge"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/web/ui"
)

type sheets struct{ *ui.UI }

// Routes registers the lines to instruments.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.GET("/level", s.level)
	u.POST("/level", s.makeLevel)
	u.POST("/instruments/:id/connect", s.connect)
	u.POST("/instruments/:id/disconnect", s.disconnect)
	u.GET("/instruments/:id/live", s.live)
}

// instrument is the one that the address names.
func (s sheets) instrument(ctx context.Context, id string) (instrument.Instrument, error) {
	list, err := s.Instruments.List(ctx)
	for _, in := range list {
		if in.ID == id && in.Withdrawn == "" && in.Reads() {
			return in, err
		}
	}
	if err == nil {
		err = ledger.ErrNotFound
	}
	return instrument.Instrument{}, err
}

func (s sheets) connect(c *gin.Context) {
	in, err := s.instrument(c.Request.Context(), c.Param("id"))
	if err == nil {
		err = s.join(c.Request.Context(), in, c.PostForm("address"))
	}
	s.Done(c, err, "/instruments#"+in.ID, func(r ui.Refused) {
		r.Of = in.ID
		s.ShowAt(c, "instruments", "", r)
	})
}

// join connects an instrument; one that shows another quantity is not it.
func (s sheets) join(ctx context.Context, in instrument.Instrument, address string) error {
	if err := s.Gauges.Connect(in.ID, address, in.Serial); err != nil {
		return ledger.Problems{"address": err.Error()}
	}
	state, _ := s.Gauges.Of(in.ID).State()
	if (state.Is.Unit == measure.Angle.Unit() || state.Is.Unit == "deg") != in.Angle {
		s.Gauges.Disconnect(in.ID)
		return ledger.Problems{"address": fmt.Sprintf("what answers there is a %s in %s, and %s shows %ss", state.Is.Instrument, state.Is.Unit, in.Name, map[bool]string{true: "angle", false: "length"}[in.Angle])}
	}
	err := s.Instruments.Spoke(ctx, instrument.Spoke{Form: ledger.Form{ID: uuid.NewString()}, Instrument: in.ID, Serial: state.Is.Serial, Step: state.Is.Resolution, Unit: state.Is.Unit})
	if err != nil {
		s.Gauges.Disconnect(in.ID)
	}
	return err
}

func (s sheets) disconnect(c *gin.Context) {
	s.Gauges.Disconnect(c.Param("id"))
	s.Done(c, nil, "/instruments", nil)
}

// event is what a page is told.
type event struct {
	Ready   bool   `json:"ready"`
	Shows   string `json:"shows"`   // as its display has it, with the unit
	Display string `json:"display"` // without
	Value   string `json:"value"`   // as it would be typed: what the part does, not the display
	Says    string `json:"says"`
	Sent    string `json:"sent"`
}

func told(state gauge.State, turned bool) event {
	e := event{Ready: state.Ready(), Shows: "–", Display: state.Reading, Sent: sent(state)}
	unit := map[string]string{"deg": "°", "mm": " " + quantity.Millimetre.String()}[state.Unit] // of its own display
	if state.Reading != "" {
		e.Shows, e.Value = state.Reading+unit, state.Reading+unit
		if turned {
			e.Value = strings.TrimPrefix("-"+e.Value, "--")
		}
	}
	words := []string{state.Is.Instrument + " " + state.Is.Serial}
	switch {
	case !state.Connected:
		words = append(words, state.Why+": dialling again; type what it shows meanwhile")
	case state.Error != "":
		words = append(words, state.Error)
	case state.Reading == "" && state.Garbled > 0:
		words = append(words, "what it sends cannot be read: type what it shows, or look at its plug")
	case state.Steady:
		words = append(words, "steady")
	default:
		words = append(words, "coming to rest")
	}
	if state.Battery != nil {
		words = append(words, fmt.Sprintf("battery %d %%", *state.Battery))
	}
	e.Says = strings.Join(words, " · ")
	return e
}

// sent is what is kept with a reading: who sent it, and the line.
func sent(state gauge.State) string {
	if state.Line == "" {
		return ""
	}
	data, err := json.Marshal(struct {
		Instrument string          `json:"instrument"`
		Serial     string          `json:"serial"`
		Line       json.RawMessage `json:"line"`
	}{state.Is.Instrument, state.Is.Serial, json.RawMessage(state.Line)})
	if err != nil || len(data) > 900 {
		return ""
	}
	return string(data)
}

// pace is how often a page is told at most, and breath how often at least.
const (
	pace   = 150 * time.Millisecond
	breath = 5 * time.Second
)

// live tells a page what an instrument shows, until the page goes or the program stops.
func (s sheets) live(c *gin.Context) {
	g := s.Gauges.Of(c.Param("id"))
	if g == nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	spot := gauge.Spot{List: short(c.Query("list")), Point: short(c.Query("point")), Field: short(c.Query("field")), Turned: c.Query("turned") == "true"}
	g.HeldAt(spot)
	stream := http.NewResponseController(c.Writer)
	_ = stream.SetWriteDeadline(time.Time{}) // it stays open
	c.Header("Content-Type", "text/event-stream")
	c.Status(http.StatusOK)
	for {
		state, changed := g.State()
		data, err := json.Marshal(told(state, spot.Turned))
		if err == nil {
			_, err = fmt.Fprintf(c.Writer, "data: %s\n\n", data)
		}
		if err != nil || stream.Flush() != nil {
			return
		}
		select {
		case <-time.After(pace):
		case <-c.Request.Context().Done():
			return
		case <-s.Gauges.Closed():
			return
		}
		select {
		case <-changed:
		case <-time.After(breath):
		case <-c.Request.Context().Done():
			return
		case <-s.Gauges.Closed():
			return
		}
	}
}

func short(text string) string {
	if len(text) > 200 {
		return text[:200]
	}
	return text
}
