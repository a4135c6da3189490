package sim

import (
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"time"

	"orpine/internal/core/quantity"
)

// Hidden is a part as it truly is: what an instrument without any error would show at each of
// its spots.
type Hidden struct {
	Name  string
	spots map[string]float64 // mm or degrees
}

// HiddenFormat is what a file of a hidden part says that it is.
const HiddenFormat = "orpine.part"

// hiddenFile is a hidden part as a file.
type hiddenFile struct {
	Format  string       `json:"format"`
	Version int          `json:"version"`
	Name    string       `json:"name"`
	Spots   []HiddenSpot `json:"spots"`
}

// HiddenSpot is one spot of a hidden part: where it stands in a check, as the screen names it,
// and its true value as it would be typed.
type HiddenSpot struct {
	List  string `json:"list,omitempty"`
	Point string `json:"point,omitempty"`
	Field string `json:"field,omitempty"`
	True  string `json:"true"`
	Unit  string `json:"unit"` // mm or deg
}

// EndForEnd is the spot at which a level is turned end for end; any part has it.
const EndForEnd = "end for end"

func spotKey(list, point, field string) string { return list + "\x00" + point + "\x00" + field }

// NewHidden is a part with these spots.
func NewHidden(name string, spots []HiddenSpot) (Hidden, []byte, error) {
	data, err := json.MarshalIndent(hiddenFile{HiddenFormat, 1, name, spots}, "", "  ")
	if err != nil {
		return Hidden{}, nil, err
	}
	h, err := ReadHidden(data)
	return h, append(data, '\n'), err
}

// ReadHidden reads a hidden part (docs/instruments.md). The error names the spot.
func ReadHidden(data []byte) (h Hidden, err error) {
	var f hiddenFile
	if err := json.Unmarshal(data, &f); err != nil || f.Format != HiddenFormat {
		return h, errors.New("this is no hidden part: its format is to be \"orpine.part\"")
	}
	if f.Version != 1 {
		return h, fmt.Errorf("the hidden part is of version %d, and this program knows version 1", f.Version)
	}
	h = Hidden{Name: f.Name, spots: map[string]float64{}}
	for i, s := range f.Spots {
		var v float64
		switch s.Unit {
		case "mm":
			l, e := quantity.ParseLength(s.True, quantity.Millimetre)
			v, err = float64(l), e
		case "deg":
			a, e := quantity.ParseAngle(s.True, quantity.Either)
			v, err = float64(a), e
		default:
			err = fmt.Errorf("“%s” is no unit; mm or deg is wanted", s.Unit)
		}
		if err != nil {
			return h, fmt.Errorf("spot %d (%s): %w", i+1, strings.TrimSpace(s.Point+" "+s.Field), err)
		}
		h.spots[spotKey(s.List, s.Point, s.Field)] = v
	}
	if len(h.spots) == 0 {
		return h, errors.New("the hidden part has no spots")
	}
	return h, nil
}

// At is the true value at a spot.
func (h Hidden) At(list, point, field string) (v float64, ok bool) {
	if point == EndForEnd {
		return 0.12, true // some spot of the bench, as level as it is
	}
	v, ok = h.spots[spotKey(list, point, field)]
	return v, ok
}

// Device is a simulated instrument with its hidden errors.
type Device struct {
	Sort       string // level, tape, laser, caliper
	Unit       string // deg or mm
	Resolution float64
	decimals   int
	zero       float64 // what a level shows where it is level
	drift      float64 // of that, a day
	constant   float64 // the same in every reading
	spread     float64 // of setting it down once
	backwards  float64 // what is added when it is read from its wrong end; a level shows the other sign
	wrong      float64 // how often it is held the wrong way round
	seed       uint64
}

// Devices are the sorts that can be played.
var Devices = []string{"level", "tape", "laser", "caliper"}

// wrongWay is how often it is held the wrong way round without anyone noticing, and dropped
// how often a reading fails for a moment.
const (
	wrongWay = 0.04
	dropped  = 0.02
)

// NewDevice draws the errors of an instrument of a sort.
func NewDevice(sort string, seed uint64) (d Device, err error) {
	r := rand.New(rand.NewPCG(seed, 0x1457))
	d = Device{Sort: sort, Unit: "mm", seed: seed, wrong: wrongWay}
	switch sort {
	case "level":
		d.Unit, d.Resolution, d.decimals, d.spread = "deg", 0.01, 2, 0.015
		d.zero, d.drift = 0.15*r.NormFloat64(), 0.1*r.NormFloat64()
	case "tape":
		d.Resolution, d.spread, d.constant, d.backwards = 1, 0.4, 0.3*(2*r.Float64()-1), 100
	case "laser":
		d.Resolution, d.decimals, d.spread, d.constant, d.backwards = 0.5, 1, 0.3, 0.6*(2*r.Float64()-1), 60
	case "caliper":
		d.Resolution, d.decimals, d.spread, d.constant, d.backwards = 0.01, 2, 0.02, 0.02*(2*r.Float64()-1), 10
	default:
		return d, fmt.Errorf("“%s” is no instrument that can be played; %s can", sort, strings.Join(Devices, ", "))
	}
	return d, nil
}

// Careful is an instrument with these errors that nobody holds the wrong way round: unit deg or mm,
// sizes in that.
func Careful(sort, unit string, resolution, zero, constant, spread float64, seed uint64) Device {
	decimals := 0
	for r := resolution; r < 1 && decimals < 3 && math.Abs(r-math.Round(r)) > 1e-9; r *= 10 {
		decimals++
	}
	return Device{Sort: sort, Unit: unit, Resolution: resolution, decimals: decimals, zero: zero, constant: constant, spread: spread, seed: seed}
}

// Rests is what a held device shows once it has come to rest.
func (h Held) Rests() string {
	v := math.Round((h.settled+h.device.zero)/h.device.Resolution) * h.device.Resolution
	return strconv.FormatFloat(v+0, 'f', h.device.decimals, 64)
}

// Held is an instrument set down once on a spot: its error there is drawn.
type Held struct {
	device  Device
	settled float64 // what it comes to rest at, before rounding
	turned  bool
	Wrong   bool // it is held the wrong way round, and does not know
	random  *rand.Rand
}

// Hold sets a device down for the nth time on a spot whose true value is true. The same again
// gives the same.
func (d Device) Hold(true float64, spot string, placing int, turned bool) Held {
	sum := fnv.New64a()
	fmt.Fprintf(sum, "%s\x00%d\x00%t", spot, placing, turned)
	r := rand.New(rand.NewPCG(d.seed, sum.Sum64()))
	h := Held{device: d, turned: turned, random: r, Wrong: r.Float64() < d.wrong && !strings.Contains(spot, EndForEnd)}
	v := true
	if turned && d.Sort == "level" {
		v = -v
	}
	if h.Wrong && d.Sort == "level" {
		v = -v
	} else if h.Wrong {
		v += d.backwards
	}
	h.settled = v + d.constant + d.spread*r.NormFloat64()
	return h
}

// settles is how long an instrument takes until it shows its last figure.
const settles = 1200 * time.Millisecond

// Show is what a held device shows so long after it was set down, and on a day of its life: as its
// display has it. It is steady once it has come to rest; failed is what it says where it has no
// reading.
func (h Held) Show(since, life time.Duration) (text string, steady bool, failed string) {
	if h.random.Float64() < dropped {
		return "", false, "no contact"
	}
	v := h.settled + h.device.zero + h.device.drift*life.Hours()/24
	if since < settles {
		share := 1 - float64(since)/float64(settles)
		v += 20 * h.device.spread * share * math.Sin(float64(since.Milliseconds())/70)
	}
	v = math.Round(v/h.device.Resolution) * h.device.Resolution
	return strconv.FormatFloat(v+0, 'f', h.device.decimals, 64), since >= settles, ""
}
