// Command big makes a large workshop, entry by entry as people would: 60 setups, one of
// them with 2,000 readings that count; 100,000 readings; 50,000 holes, one row of 1,000;
// 5,000 zero tests; 1,000 slips; 5,000 photos.
package main

import (
	"bytes"
	"context"
	"errors"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"log"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"orpine/cmd/wiring"
	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/internal/store"
	"orpine/test/loft"
)

// The shape of it, which --share makes smaller.
const (
	assemblies = 20
	setups     = 60
	large      = 2000 // readings that count in the first setup, in ten checks
)

var (
	readings  = 100_000
	rows      = 491 // one of 1,000 holes, the others of 100
	zeroTests = 5000
	slips     = 1000
	photos    = 5000
)

func main() {
	dir := flag.String("data", "", "directory of the workshop's data")
	share := flag.Float64("share", 1, "how large a part of it, 0.1 to 1")
	flag.Parse()
	for _, n := range []*int{&readings, &rows, &zeroTests, &slips, &photos} {
		*n = int(float64(*n) * *share)
	}
	start := time.Now()
	if err := fill(context.Background(), *dir); err != nil {
		log.Fatal(err)
	}
	fmt.Printf("made in %s\n", time.Since(start).Round(time.Second))
}

// shop is the workshop that is being made.
type shop struct {
	*overview.Workshop
	last map[string]string // reading, by check and point
}

func fill(ctx context.Context, dir string) (err error) {
	release, err := store.Own(dir, "the maker of a big workshop")
	if err != nil {
		return err
	}
	s, err := store.Open(ctx, dir)
	if err != nil {
		return errors.Join(err, release())
	}
	defer func() { err = errors.Join(err, s.Close(), release()) }()
	w, err := wiring.Open(ctx, s, time.Now, time.Local)
	if err != nil {
		return err
	}
	big := shop{w, map[string]string{}}
	for _, part := range []func(context.Context) error{big.frames, big.rows, big.setups, big.tests, big.slips, big.photos} {
		if err := part(ctx); err != nil {
			return err
		}
	}
	return nil
}

func form() ledger.Form { return ledger.Form{ID: uuid.NewString()} }

func name(what string, i int) string { return fmt.Sprintf("%s %d", what, i) }

func (s shop) frames(ctx context.Context) error {
	err := errors.Join(
		s.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("rule"), Name: "600 mm rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.1 mm", Spread: "0.1 mm"}),
		s.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("level"), Name: "level 1", Sort: "level", Resolution: "0.01", Offset: "0.05", Spread: "0.015"}),
		s.Airframes.Add(ctx, airframe.NewAirframe{Form: loft.Named("airframe"), Name: "Samphire S2", Unit: "mm"}),
	)
	for i := range assemblies {
		shape := airframe.Shape{Form: "surface", X: float64(200 * i), Z: 100, Inner: 450, Outer: 6200, Chord: 400, Tip: 300}
		err = errors.Join(err, s.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: loft.Named(name("assembly", i)), Airframe: loft.ID("airframe"), Name: name("Assembly", i), Shape: shape}))
	}
	return err
}

// stations is a check of straightness at so many points.
func stations(title string, n int) measuring.NewCheck {
	points := make([]any, n)
	for i := range points {
		points[i] = map[string]any{"name": name("p", i), "x": 10 * i}
	}
	return measuring.NewCheck{Name: title, Instrument: loft.ID("rule"), Definition: map[string]any{"kind": "straightness", "points": points, "limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}
}

func (s shop) setups(ctx context.Context) error {
	taken := 0
	for i := range setups {
		n := measuring.NewSetup{Form: loft.Named(name("setup", i)), Assembly: loft.ID(name("assembly", i%assemblies)), Name: name("on the bench", i)}
		checks, points := 2, 10
		if i == 0 {
			checks, points = 10, large/10
		}
		n.Hold = &gate.NewHold{Name: name("Drill it", i), Step: "drill to size", Permanent: "its holes", Why: "w"}
		for c := range checks {
			n.Checks = append(n.Checks, stations(name("Bow", c), points))
			n.Hold.Required = append(n.Hold.Required, hold.Requirement{Need: hold.Shown, Check: fmt.Sprint(c)})
		}
		if err := s.Measuring.Begin(ctx, n); err != nil {
			return err
		}
		each := (readings - large) / (setups - 1)
		if i == 0 {
			each = large
		}
		if i == setups-1 {
			each = readings - taken
		}
		for r := range each {
			if err := s.read(ctx, ledger.Child(n.ID, name("check", r/points%checks)), r%points, 10+r%3); err != nil {
				return err
			}
			taken++
		}
	}
	return nil
}

// read takes a reading in place of the last one there.
func (s shop) read(ctx context.Context, id string, point, mm int) error {
	n := measuring.NewReading{Form: form(), Check: id, Spot: check.Key{List: "points", Point: name("p", point), Field: "offset"}, State: 1, Text: fmt.Sprint(mm), Instrument: loft.ID("rule"), Condition: "clamped"}
	at := id + n.Spot.Point
	if n.Last = s.last[at]; n.Last != "" {
		n.InPlace = "misread"
	}
	s.last[at] = n.ID
	return s.Measuring.Take(ctx, n)
}

func (s shop) rows(ctx context.Context) error {
	for i := range rows {
		holes := 100
		if i == 0 {
			holes = 1000
		}
		n := riveting.NewRow{Form: loft.Named(name("row", i)), Assembly: loft.ID(name("assembly", i%assemblies)), Name: name("row", i), Values: loft.With(loft.RowOf(holes), "pitch", "25")}
		if err := s.Riveting.Lay(ctx, n); err != nil {
			return err
		}
		numbers := make([]int, holes/2)
		for h := range numbers {
			numbers[h] = h + 1
		}
		for _, what := range []row.Operation{row.Drill, row.Clean} {
			r, err := s.Riveting.Row(ctx, n.ID)
			if err != nil {
				return err
			}
			if err := s.Riveting.Operate(ctx, riveting.HoleOperation{Form: form(), Row: n.ID, Seen: r.Revised, Numbers: numbers, What: what, By: "builder"}); err != nil {
				return err
			}
		}
	}
	return s.releaseRow(ctx, loft.ID(name("row", 1)))
}

// releaseRow releases the riveting of a row, so that a rivet can be set in it.
func (s shop) releaseRow(ctx context.Context, id string) error {
	r, err := s.Riveting.Row(ctx, id)
	if err != nil {
		return err
	}
	err = errors.Join(s.Gate.Look(ctx, gate.LookAt{Form: form(), Need: hold.Marked, Of: id, By: "builder"}), s.Gate.Look(ctx, gate.LookAt{Form: form(), Need: hold.Prepared, Of: id, By: "builder", What: hold.Preparations}))
	if err != nil {
		return err
	}
	h, err := s.Holding.Hold(ctx, r.Rivets.ID)
	if err != nil {
		return err
	}
	return s.Holding.Release(ctx, holding.NewRelease{Form: form(), Hold: h.ID, Shown: h.Judgement.Digest(), By: "builder", Reason: "seen"})
}

func (s shop) tests(ctx context.Context) error {
	for i := range zeroTests {
		if err := s.Instruments.Test(ctx, instrument.EndForEnd{Form: form(), Instrument: loft.ID("level"), First: fmt.Sprintf("0.%02d", i%20), Turned: "-0.15"}); err != nil {
			return err
		}
	}
	return nil
}

func (s shop) slips(ctx context.Context) error {
	for i := range slips {
		n := logbook.NewSlip{Form: form(), Assembly: loft.ID(name("assembly", i%assemblies)), Step: "rivet", Place: name("row", i), Cause: "tool slipped"}
		if err := s.Logbook.Log(ctx, n); err != nil {
			return err
		}
		list, err := s.Workshop.Slips(ctx, 0)
		if err != nil {
			return err
		}
		if err := s.Logbook.Tell(ctx, logbook.SlipCost{Form: form(), Slip: n.ID, Seen: list.Slips[0].Revised, Minutes: "10", Lesson: name("lesson", i)}); err != nil {
			return err
		}
	}
	return nil
}

// photos are pictures of holds, none like another.
func (s shop) photos(ctx context.Context) error {
	picture := image.NewRGBA(image.Rect(0, 0, 640, 480))
	dice := rand.New(rand.NewPCG(1, 2))
	for i := range photos {
		for y := range 60 {
			for x := range 80 {
				c := color.RGBA{uint8(dice.UintN(256)), uint8(120 + x), uint8(90 + y), 255}
				draw.Draw(picture, image.Rect(8*x, 8*y, 8*x+8, 8*y+8), image.NewUniform(c), image.Point{}, draw.Src)
			}
		}
		var b bytes.Buffer
		if err := jpeg.Encode(&b, picture, nil); err != nil {
			return err
		}
		if err := s.Photos.Add(ctx, photo.NewPhoto{Form: form(), Of: ledger.Child(loft.Named(name("setup", i%setups)).ID, "hold"), Caption: name("photo", i), Data: b.Bytes()}); err != nil {
			return err
		}
	}
	return nil
}
