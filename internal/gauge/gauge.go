// Package gauge listens to an instrument that speaks: a level, tape, laser or caliper that
// sends what it shows over the small open protocol of docs/instruments.md. Whatever it sends,
// noise and floods included, and however often its plug is pulled, nothing here waits for it.
package gauge

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"
)

// Protocol is the version of the protocol.
const Protocol = 1

// Identity is the first line of an instrument.
type Identity struct {
	Instrument string `json:"instrument"` // its sort
	Serial     string `json:"serial"`
	Protocol   int    `json:"protocol"`
	Unit       string `json:"unit"` // deg or mm
	Resolution string `json:"resolution"`
}

// Shown is what it shows: a reading as its display has it, or why there is none.
type Shown struct {
	Reading string `json:"reading,omitempty"`
	Unit    string `json:"unit,omitempty"`
	Steady  bool   `json:"steady,omitempty"`
	N       int64  `json:"n"`                 // counts from 1
	Battery *int   `json:"battery,omitempty"` // percent
	Error   string `json:"error,omitempty"`
}

// Spot is where it is held, as the screen names it. A real instrument passes over it.
type Spot struct {
	List    string `json:"list"`
	Point   string `json:"point"`
	Field   string `json:"field"`
	Turned  bool   `json:"turned"`
	Placing int    `json:"placing"`
}

// Hold tells it where it is.
type Hold struct {
	At Spot `json:"at"`
}

// State is what is known of an instrument now.
type State struct {
	Is Identity
	Shown
	Connected bool
	Why       string // it is not, or shows nothing
	Nonsense  int    // lines that could not be read
	Garbled   int    // the last so many lines were such
	At        time.Time
	Line      string // the last reading as it came
}

// Ready tells whether its reading can be taken.
func (s State) Ready() bool { return s.Connected && s.Steady && s.Reading != "" && s.Error == "" }

// Bounds of what is listened to.
const (
	mostLine    = 4096
	mostASpell  = 50 // lines that are looked at in a spell; more come too fast
	spell       = 250 * time.Millisecond
	silence     = 3 * time.Second
	dialling    = 2 * time.Second
	mostGarbled = 3                      // lines one after another that cannot be read, before a reading is taken for gone
	underway    = 400 * time.Millisecond // how long a reading of the spot before may be on its way
)

// Gauge is an instrument that is listened to. It is dialled again whenever its line is cut,
// until it is closed.
type Gauge struct {
	address string
	serial  string // of the one that belongs to it; "" for the first that answers
	stop    context.CancelFunc
	done    chan struct{}

	mu       sync.Mutex
	state    State
	hold     *Hold
	line     net.Conn
	changed  chan struct{} // closed at every change, and made anew
	placings map[Spot]int
	held     time.Time // when it was told where it is
}

// Connect begins to listen to the instrument of that serial number; "" for whichever answers, which
// it stays then. The error says why an address is none, that nothing there speaks the protocol, or
// that another instrument does.
func Connect(address, serial string) (*Gauge, error) {
	host, port, err := net.SplitHostPort(strings.TrimSpace(address))
	if err != nil {
		return nil, fmt.Errorf("“%s” is no address; 127.0.0.1:7001 would be one", short(address))
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("“%s” is another machine; instruments are listened to on this one only (127.0.0.1)", short(host))
	}
	if n, err := strconv.Atoi(port); err != nil || n < 1 || n > 65535 {
		return nil, fmt.Errorf("“%s” is no port", short(port))
	}
	g := &Gauge{serial: serial, address: net.JoinHostPort(host, port), done: make(chan struct{}), changed: make(chan struct{}), placings: map[Spot]int{}}
	line, err := net.DialTimeout("tcp", g.address, dialling)
	if err != nil {
		return nil, fmt.Errorf("nothing answers at %s; is the instrument switched on?", g.address)
	}
	in := bufio.NewReaderSize(line, mostLine)
	if err := g.greet(line, in); err != nil {
		return nil, errors.Join(err, line.Close())
	}
	ctx, stop := context.WithCancel(context.Background())
	g.stop = stop
	go g.run(ctx, line, in)
	return g, nil
}

func short(text string) string {
	if r := []rune(text); len(r) > 60 {
		return string(r[:59]) + "…"
	}
	return text
}

// greet reads the identity.
func (g *Gauge) greet(line net.Conn, in *bufio.Reader) error {
	_ = line.SetReadDeadline(time.Now().Add(dialling))
	text, err := readLine(in)
	if err != nil {
		return fmt.Errorf("what answers at %s does not say what it is", g.address)
	}
	var id Identity
	if json.Unmarshal(text, &id) != nil || id.Instrument == "" || id.Unit != "mm" && id.Unit != "deg" {
		return fmt.Errorf("what answers at %s is no instrument that speaks this protocol (docs/instruments.md)", g.address)
	}
	if id.Protocol != Protocol {
		return fmt.Errorf("the instrument at %s speaks version %d of the protocol, and this program version %d", g.address, id.Protocol, Protocol)
	}
	id.Instrument, id.Serial, id.Resolution = short(id.Instrument), short(id.Serial), short(id.Resolution)
	if g.serial == "" {
		g.serial = id.Serial
	} else if id.Serial != g.serial {
		return fmt.Errorf("this is not the %s that was proven: that one is %s, and this one says %s", id.Instrument, g.serial, id.Serial)
	}
	g.set(func(s *State) { *s = State{Is: id, Connected: true, Nonsense: s.Nonsense, At: time.Now()} })
	g.mu.Lock()
	g.line = line
	g.mu.Unlock()
	g.tell()
	return nil
}

// readLine reads a line of the protocol; a longer one is passed over to its end.
func readLine(in *bufio.Reader) ([]byte, error) {
	text, err := in.ReadSlice('\n')
	if errors.Is(err, bufio.ErrBufferFull) {
		for errors.Is(err, bufio.ErrBufferFull) {
			_, err = in.ReadSlice('\n')
		}
		return nil, err
	}
	return text, err
}

// run listens until it is closed, and dials again.
func (g *Gauge) run(ctx context.Context, line net.Conn, in *bufio.Reader) {
	defer close(g.done)
	wait := 200 * time.Millisecond
	for {
		if line != nil {
			cut := context.AfterFunc(ctx, func() { line.Close() })
			err := g.listen(ctx, line, in)
			cut()
			_ = line.Close()
			g.set(func(s *State) { s.Connected, s.Steady, s.Reading, s.Why = false, false, "", lost(err) })
			g.mu.Lock()
			g.line = nil
			g.mu.Unlock()
			wait = 200 * time.Millisecond
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
		wait = min(2*wait, 5*time.Second)
		var err error
		if line, err = (&net.Dialer{Timeout: dialling}).DialContext(ctx, "tcp", g.address); err != nil {
			line = nil
			continue
		}
		in = bufio.NewReaderSize(line, mostLine)
		if err := g.greet(line, in); err != nil {
			_ = line.Close()
			line = nil
			g.set(func(s *State) { s.Why = err.Error() })
		}
	}
}

func lost(err error) string {
	var timeout net.Error
	if errors.As(err, &timeout) && timeout.Timeout() {
		return "it fell silent"
	}
	if err == nil || errors.Is(err, io.EOF) {
		return "its line was cut"
	}
	return "its line was cut"
}

// listen takes what comes. What comes too fast waits in the line, which fills: the sender
// waits then, and nothing grows here.
func (g *Gauge) listen(ctx context.Context, line net.Conn, in *bufio.Reader) error {
	looked, began := 0, time.Now()
	for ctx.Err() == nil {
		if looked >= mostASpell {
			time.Sleep(time.Until(began.Add(spell)))
		}
		if time.Since(began) >= spell {
			looked, began = 0, time.Now()
		}
		looked++
		_ = line.SetReadDeadline(time.Now().Add(silence))
		text, err := readLine(in)
		if err != nil {
			return err
		}
		g.take(text)
	}
	return ctx.Err()
}

// take understands a line.
func (g *Gauge) take(text []byte) {
	var s Shown
	if json.Unmarshal(text, &s) != nil || !s.plausible() {
		g.set(func(state *State) {
			state.Nonsense++
			if state.Garbled++; state.Garbled >= mostGarbled {
				state.Reading, state.Steady = "", false // what it showed before may be gone
			}
		})
		return
	}
	s.Error = short(s.Error)
	g.set(func(state *State) {
		s.Steady = s.Steady && time.Since(g.held) > underway // else it may be of the spot before
		state.Shown, state.Connected, state.At, state.Why, state.Garbled = s, true, time.Now(), s.Error, 0
		if s.Reading != "" {
			state.Line = strings.TrimSpace(string(text))
		}
	})
}

// plausible tells whether it is a reading, or says why there is none.
func (s Shown) plausible() bool {
	if s.Battery != nil && (*s.Battery < 0 || *s.Battery > 100) {
		return false
	}
	if s.Error != "" {
		return s.Reading == ""
	}
	v, err := strconv.ParseFloat(s.Reading, 64)
	return err == nil && len(s.Reading) <= 16 && !strings.ContainsAny(s.Reading, "xXpP_eEnN+") && v > -1e6 && v < 1e6 && (s.Unit == "mm" || s.Unit == "deg")
}

func (g *Gauge) set(change func(s *State)) {
	g.mu.Lock()
	defer g.mu.Unlock()
	change(&g.state)
	close(g.changed)
	g.changed = make(chan struct{})
}

// State is what is known now, and a channel that is closed at the next change.
func (g *Gauge) State() (State, <-chan struct{}) {
	g.mu.Lock()
	defer g.mu.Unlock()
	return g.state, g.changed
}

// Address is where it is listened to.
func (g *Gauge) Address() string { return g.address }

// HeldAt tells the instrument where it is; the same spot again is a further placing.
func (g *Gauge) HeldAt(s Spot) {
	g.mu.Lock()
	s.Placing = 0
	g.placings[s]++
	if len(g.placings) > 10_000 {
		clear(g.placings)
	}
	s.Placing = max(g.placings[s], 1)
	g.hold = &Hold{s}
	g.state.Reading, g.state.Steady, g.held = "", false, time.Now()
	g.mu.Unlock()
	g.tell()
}

func (g *Gauge) tell() {
	g.mu.Lock()
	line, hold := g.line, g.hold
	g.mu.Unlock()
	if line == nil || hold == nil {
		return
	}
	data, err := json.Marshal(hold)
	if err != nil {
		return
	}
	_ = line.SetWriteDeadline(time.Now().Add(500 * time.Millisecond))
	_, _ = line.Write(append(data, '\n')) // where it is cut, the reader notices
}

// Close stops listening.
func (g *Gauge) Close() {
	g.stop()
	<-g.done
}
