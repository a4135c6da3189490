package gauge_test

import (
	"fmt"
	"net"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/sim"
	"orpine/internal/gauge"
	"orpine/internal/gauge/simulated"
)

const identity = `{"instrument":"level","serial":"T-1","protocol":1,"unit":"deg","resolution":"0.01"}` + "\n"

// speaker is something at the other end of a line: each that dials is sent what say writes.
func speaker(t *testing.T, say func(line net.Conn)) string {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { listener.Close() })
	go func() {
		for {
			line, err := listener.Accept()
			if err != nil {
				return
			}
			go func() {
				defer line.Close()
				say(line)
			}()
		}
	}()
	return listener.Addr().String()
}

// until waits for a state.
func until(t *testing.T, g *gauge.Gauge, what string, is func(s gauge.State) bool) gauge.State {
	t.Helper()
	end := time.After(15 * time.Second)
	for {
		s, changed := g.State()
		if is(s) {
			return s
		}
		select {
		case <-changed:
		case <-end:
			require.Fail(t, "it never was "+what, "%+v", s)
		}
	}
}

func connect(t *testing.T, address string) *gauge.Gauge {
	t.Helper()
	g, err := gauge.Connect(address, "")
	require.NoError(t, err)
	t.Cleanup(g.Close)
	return g
}

func TestASteadyReadingIsReady(t *testing.T) {
	g := connect(t, speaker(t, func(line net.Conn) {
		fmt.Fprint(line, identity, `{"reading":"0.30","unit":"deg","steady":false,"n":1,"battery":80}`, "\n", `{"reading":"-0.31","unit":"deg","steady":true,"n":2,"battery":79}`, "\n")
		time.Sleep(5 * time.Second)
	}))
	s := until(t, g, "ready", gauge.State.Ready)
	assert.Equal(t, "-0.31", s.Reading)
	assert.Equal(t, "T-1", s.Is.Serial)
	assert.Equal(t, 79, *s.Battery)
	assert.Contains(t, s.Line, `"n":2`)
}

func TestAPulledPlugIsDialledAgain(t *testing.T) {
	g := connect(t, speaker(t, func(line net.Conn) {
		fmt.Fprint(line, identity, `{"reading":"1","unit":"deg","steady":true,"n":1}`, "\n")
		time.Sleep(50 * time.Millisecond) // and it is cut
	}))
	until(t, g, "cut", func(s gauge.State) bool { return !s.Connected && s.Why == "its line was cut" })
	until(t, g, "back", gauge.State.Ready)
}

func TestNonsenseIsCountedAndNothingElse(t *testing.T) {
	junk := []string{"", "hello", "{", `{"reading":"NaN","unit":"deg","n":1}`, `{"reading":"1e9","unit":"deg","n":1}`, `{"reading":"0x1p4","unit":"mm","n":1}`, `{"reading":"1","unit":"furlong","n":1}`,
		`{"reading":"1","unit":"mm","battery":900,"n":1}`, `{"reading":"1","error":"both","unit":"mm","n":1}`, strings.Repeat("x", 9000), `[1,2]`, "\x00\xff\xfe"}
	g := connect(t, speaker(t, func(line net.Conn) {
		fmt.Fprint(line, identity, strings.Join(junk, "\n"), "\n", `{"reading":"7","unit":"deg","steady":true,"n":3}`, "\n")
		time.Sleep(5 * time.Second)
	}))
	s := until(t, g, "ready", gauge.State.Ready)
	assert.Equal(t, "7", s.Reading)
	assert.GreaterOrEqual(t, s.Nonsense, len(junk)-1)
}

// A flood is waited out: what is looked at in a second is bounded, and asking for the state never
// waits.
func TestAFloodBlocksNothing(t *testing.T) {
	g := connect(t, speaker(t, func(line net.Conn) {
		fmt.Fprint(line, identity)
		text := []byte(strings.Repeat(`{"reading":"1","unit":"deg","steady":true,"n":1}`+"\n", 1000))
		for {
			if _, err := line.Write(text); err != nil {
				return
			}
		}
	}))
	until(t, g, "ready", gauge.State.Ready)
	seen := 0
	end := time.Now().Add(time.Second)
	for time.Now().Before(end) {
		_, changed := g.State()
		select {
		case <-changed:
			seen++
		case <-time.After(100 * time.Millisecond):
		}
	}
	assert.LessOrEqual(t, seen, 400)
}

func TestWhatIsNoInstrument(t *testing.T) {
	deaf := speaker(t, func(net.Conn) { time.Sleep(4 * time.Second) })
	web := speaker(t, func(line net.Conn) { fmt.Fprint(line, "HTTP/1.1 400 Bad Request\r\n\r\n") })
	newer := speaker(t, func(line net.Conn) { fmt.Fprint(line, strings.Replace(identity, `"protocol":1`, `"protocol":2`, 1)) })
	for address, says := range map[string]string{"": "no address", "127.0.0.1": "no address", "192.168.1.20:7001": "another machine", "example.org:80": "another machine", "127.0.0.1:0": "no port", "127.0.0.1:x": "no port",
		"127.0.0.1:1": "nothing answers", deaf: "does not say what it is", web: "no instrument that speaks", newer: "version 2"} {
		_, err := gauge.Connect(address, "")
		assert.ErrorContains(t, err, says, address)
	}
}

func TestADeskHoldsSoMany(t *testing.T) {
	address := speaker(t, func(line net.Conn) { fmt.Fprint(line, identity); time.Sleep(5 * time.Second) })
	var d gauge.Desk
	for i := range 8 {
		require.NoError(t, d.Connect(fmt.Sprint(i), address, ""))
	}
	assert.ErrorIs(t, d.Connect("one more", address, ""), gauge.ErrFull)
	require.NoError(t, d.Connect("3", address, ""), "in place of its own")
	d.Disconnect("3")
	assert.Nil(t, d.Of("3"))
	d.Close()
	<-d.Closed()
	assert.Nil(t, d.Of("1"))
}

const part = `{"format":"orpine.part","version":1,"name":"a bar","spots":[{"list":"stations","point":"1","field":"angle","true":"0.31","unit":"deg"},{"point":"length","true":"1200.4 mm","unit":"mm"}]}`

func TestASimulatedLevelIsReadOverTheWire(t *testing.T) {
	hidden, err := sim.ReadHidden([]byte(part))
	require.NoError(t, err)
	device, err := sim.NewDevice("level", 5)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	done := make(chan error)
	go func() { done <- simulated.Serve(t.Context(), listener, device, hidden, 5) }()
	g := connect(t, listener.Addr().String())
	until(t, g, "unheld", func(s gauge.State) bool { return s.Error == "it is not held anywhere yet" })
	g.HeldAt(gauge.Spot{List: "stations", Point: "9", Field: "angle"})
	until(t, g, "elsewhere", func(s gauge.State) bool { return strings.Contains(s.Error, "nothing of that name") })
	read := func(turned bool) float64 {
		g.HeldAt(gauge.Spot{Point: sim.EndForEnd, Turned: turned})
		var v float64
		_, err := fmt.Sscan(until(t, g, "steady", gauge.State.Ready).Reading, &v)
		require.NoError(t, err)
		return v
	}
	// turned end for end on one spot, half the sum is its zero and half the difference the slope
	first, turned := read(false), read(true)
	assert.InDelta(t, 0.12, (first-turned)/2, 0.06)
	zero := (first + turned) / 2
	g.HeldAt(gauge.Spot{List: "stations", Point: "1", Field: "angle"})
	var v float64
	_, err = fmt.Sscan(until(t, g, "steady", gauge.State.Ready).Reading, &v)
	require.NoError(t, err)
	assert.InDelta(t, 0.31, v-zero, 0.1)
}

// A line belongs to one instrument, also after it was cut; and what cannot be read is told apart from
// what is still moving.
func TestAnotherInstrumentAtTheSamePlugIsNotIt(t *testing.T) {
	n := atomic.Int32{}
	g := connect(t, speaker(t, func(line net.Conn) {
		who := identity
		if n.Add(1) > 1 {
			who = strings.Replace(identity, "T-1", "ZZZ-1", 1)
		}
		fmt.Fprint(line, who, `{"reading":"1","unit":"deg","steady":true,"n":1}`, "\n")
		time.Sleep(50 * time.Millisecond)
	}))
	s := until(t, g, "another", func(s gauge.State) bool { return !s.Connected && strings.Contains(s.Why, "ZZZ-1") })
	assert.Contains(t, s.Why, "this is not the level that was proven")
	assert.False(t, s.Ready())
	_, err := gauge.Connect(speaker(t, func(line net.Conn) { fmt.Fprint(line, identity); time.Sleep(time.Second) }), "T-2")
	assert.ErrorContains(t, err, "T-2")

	g = connect(t, speaker(t, func(line net.Conn) {
		fmt.Fprint(line, identity, `{"reading":"1","unit":"deg","steady":true,"n":1}`, "\n", "?\n?\n?\n")
		time.Sleep(5 * time.Second)
	}))
	s = until(t, g, "garbled", func(s gauge.State) bool { return s.Garbled >= 3 })
	assert.Empty(t, s.Reading, "what it showed before is no reading of now")
}
