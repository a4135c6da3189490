package ui

import (
	"bytes"
	"cmp"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"orpine/internal/account"
)

// Others are who looks at which sheet, and which point or hole each has in hand.
type Others struct {
	mu  sync.Mutex
	all map[string]map[*Other]bool // by id of the setup, or row
}

// Other is someone who looks at a sheet.
type Other struct {
	Name string `json:"name"`
	At   string `json:"at"` // in hand
}

// pace is how often a page is told at most that something changed, and breath how often at least
// that the line stands.
const (
	pace   = 250 * time.Millisecond
	breath = 15 * time.Second
)

// newIDs are those of forms, which differ each time that a part is drawn.
var newIDs = regexp.MustCompile(`name="id" value="[^"]*"`)

// come says that someone looks at a sheet, until they leave.
func (o *Others) come(sheet string, who *Other) (leave func()) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.all == nil {
		o.all = map[string]map[*Other]bool{}
	}
	if o.all[sheet] == nil {
		o.all[sheet] = map[*Other]bool{}
	}
	o.all[sheet][who] = true
	return func() {
		o.mu.Lock()
		defer o.mu.Unlock()
		if delete(o.all[sheet], who); len(o.all[sheet]) == 0 {
			delete(o.all, sheet)
		}
	}
}

// beside are those who look at a sheet, but for one.
func (o *Others) beside(sheet string, me *Other) []Other {
	o.mu.Lock()
	defer o.mu.Unlock()
	out := []Other{}
	for who := range o.all[sheet] {
		if who != me {
			out = append(out, *who)
		}
	}
	slices.SortFunc(out, func(a, b Other) int { return cmp.Or(cmp.Compare(a.At, b.At), cmp.Compare(a.Name, b.Name)) })
	return out
}

// Watch tells a page what changes on its sheet, until the page goes or the program stops: who else
// looks at it, and the part of it that changed. things are what entries name that change it, and
// draw makes the part anew.
func (u *UI) Watch(c *gin.Context, sheet, at string, things []string, draw func() (name, part string, p Page, err error)) {
	me := &Other{Name: "another screen", At: at}
	if who := Signed(c); who != nil {
		me.Name = who.Name
	}
	seen := at + "|" + c.Query("check")
	if who := Signed(c); who != nil {
		seen += "|" + string(who.Role)
	}
	if chosen, err := c.Cookie("figures"); err == nil {
		seen += "|" + chosen
	}
	leave := u.others.come(sheet, me)
	changed, stop := u.Ledger.Watch(append(things, sheet)...)
	u.Ledger.Tell(sheet)
	defer func() {
		stop()
		if leave(); len(u.others.beside(sheet, me)) == 0 {
			u.drawings.drop(sheet)
		}
		u.Ledger.Tell(sheet)
	}()
	stream := http.NewResponseController(c.Writer)
	_ = stream.SetWriteDeadline(time.Time{}) // it stays open
	c.Header("Content-Type", "text/event-stream")
	c.Status(http.StatusOK)
	send := func(event string, data []byte) bool {
		if event == "" {
			_, _ = fmt.Fprint(c.Writer, ": here\n\n")
		} else {
			fmt.Fprintf(c.Writer, "event: %s\n", event)
			for line := range bytes.SplitSeq(data, []byte("\n")) {
				fmt.Fprintf(c.Writer, "data: %s\n", line)
			}
			fmt.Fprint(c.Writer, "\n")
		}
		return stream.Flush() == nil
	}
	var shown, others []byte
	since, _ := strconv.ParseInt(c.Query("since"), 10, 64)
	if u.Ledger.Seq() > since { // something may have come between the page and its line
		shown = []byte("older")
	}
	var now []byte
	drawn := int64(-1) // the last entry when it was
	for {
		// Somebody who only comes to look changes nothing of it. What is asked is the last entry that
		// is there, not one that is being written.
		if seq, _, err := u.Ledger.Head(c.Request.Context()); err != nil || seq != drawn {
			now, err = u.drawings.of(sheet, seen, seq, func() ([]byte, error) {
				name, part, p, err := draw()
				if err != nil {
					return nil, err
				}
				return u.drawn(c, name, part, p)
			})
			if err != nil {
				u.Log(c, err)
				return
			}
			drawn = seq
		}
		beside, _ := json.Marshal(u.others.beside(sheet, me)) // of plain texts
		if !bytes.Equal(beside, others) && !send("others", beside) {
			return
		}
		was := newIDs.ReplaceAll(now, nil)
		if shown != nil && !bytes.Equal(was, shown) && !send("changed", now) {
			return
		}
		shown, others = was, beside
		if !u.wait(c, changed, func() bool { return send("", nil) }) {
			return
		}
	}
}

// wait waits until something changed; false where the page or the program goes.
func (u *UI) wait(c *gin.Context, changed <-chan struct{}, breathe func() bool) bool {
	select {
	case <-time.After(pace):
	case <-c.Request.Context().Done():
		return false
	case <-u.Gauges.Closed():
		return false
	}
	for {
		select {
		case <-changed:
			return u.still(c)
		case <-time.After(breath):
			if !breathe() || !u.still(c) {
				return false
			}
		case <-c.Request.Context().Done():
			return false
		case <-u.Gauges.Closed():
			return false
		}
	}
}

// still tells whether who watches may still see what they watch.
func (u *UI) still(c *gin.Context) bool {
	seat, guarded := account.Sitting(c.Request.Context())
	return !guarded || u.Seated == nil || u.Seated(c.Request.Context(), seat)
}
