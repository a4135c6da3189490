// Package simulated plays an instrument that speaks the protocol of docs/instruments.md: it
// reads a hidden part at the spot that it is told, with an instrument's errors.
package simulated

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"time"

	"orpine/internal/core/quantity"
	"orpine/internal/core/sim"
	"orpine/internal/gauge"
)

// every is how often it sends what it shows.
const every = 200 * time.Millisecond

// Serve plays a device on a listener until the context ends. Several may listen to it.
func Serve(ctx context.Context, listener net.Listener, device sim.Device, part sim.Hidden, seed uint64) error {
	defer context.AfterFunc(ctx, func() { listener.Close() })()
	born := time.Now()
	for {
		line, err := listener.Accept()
		if errors.Is(err, net.ErrClosed) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("waiting for a reader: %w", err)
		}
		p := &player{device: device, part: part, born: born, battery: 60 + int(seed%40), spots: make(chan gauge.Spot, 1)}
		p.serial = fmt.Sprintf("SIM-%04d", seed%10000)
		go p.play(ctx, line)
	}
}

// player is the device as one reader hears it.
type player struct {
	device  sim.Device
	part    sim.Hidden
	serial  string
	born    time.Time
	battery int
	spots   chan gauge.Spot
}

func (p *player) play(ctx context.Context, line net.Conn) {
	defer line.Close()
	go p.hear(line)
	out := json.NewEncoder(line)
	err := out.Encode(gauge.Identity{Instrument: p.device.Sort, Serial: p.serial, Protocol: gauge.Protocol, Unit: p.device.Unit, Resolution: quantity.Fixed(p.device.Resolution, 2)})
	var held *sim.Held
	var since time.Time
	says := "it is not held anywhere yet"
	tick := time.NewTicker(every)
	defer tick.Stop()
	for n := int64(1); err == nil; n++ {
		select {
		case <-ctx.Done():
			return
		case spot, ok := <-p.spots:
			if !ok {
				return
			}
			held, says = p.hold(spot)
			since = time.Now()
			n--
			continue
		case now := <-tick.C:
			s := gauge.Shown{N: n, Battery: &p.battery, Error: says}
			if held != nil {
				s.Reading, s.Steady, s.Error = held.Show(now.Sub(since), now.Sub(p.born))
				s.Unit = p.device.Unit
			}
			_ = line.SetWriteDeadline(now.Add(2 * time.Second))
			err = out.Encode(s)
		}
	}
}

// hold sets the device down; says is why it has nothing to read there.
func (p *player) hold(spot gauge.Spot) (held *sim.Held, says string) {
	v, ok := p.part.At(spot.List, spot.Point, spot.Field)
	if !ok {
		return nil, "there is nothing of that name on this part"
	}
	h := p.device.Hold(v, spot.List+"\x00"+spot.Point+"\x00"+spot.Field, spot.Placing, spot.Turned)
	return &h, ""
}

// hear reads where it is held; what cannot be read is passed over.
func (p *player) hear(line net.Conn) {
	defer close(p.spots)
	in := bufio.NewScanner(line)
	in.Buffer(make([]byte, 4096), 4096)
	for in.Scan() {
		var h gauge.Hold
		if json.Unmarshal(in.Bytes(), &h) != nil || h.At == (gauge.Spot{}) {
			continue
		}
		select { // only the last one counts
		case <-p.spots:
		default:
		}
		p.spots <- h.At
	}
}
