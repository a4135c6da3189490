package measuring

import (
	"html/template"
	"math"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/say"
	"orpine/internal/measuring"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/web/drawing"
)

// scene is what a drawing of a check is made from.
type scene struct {
	setup measuring.Setup
	check measuring.Check
	now   check.Spot // the point in hand
	turn  bool       // the instrument is held the other way round there
}

// drawn is the registry of drawings: one line for each kind of check.
var drawn = map[string]func(scene) template.HTML{
	"bench":            rigScene,
	"twist":            rigScene,
	"separate":         lineScene,
	"straightness":     lineScene,
	"hinge-line":       lineScene,
	"incidence":        chordScene,
	"decalage":         chordScene,
	"square":           of(squareScene),
	"diagonals":        bayScene,
	"brackets":         of(bracketScene),
	"pairs":            of(pairScene),
	"upright":          of(finScene),
	"dihedral":         of(panelScene),
	"gap":              of(gapScene),
	"engine-mount":     of(mountScene),
	"travel":           of(travelScene),
	"level":            crossLevelScene,
	"zero-test":        spotScene,
	"shop-temperature": spotScene,
	"length":           spotScene,
	"hand":             of(handScene),
	"shim-stack":       of(stackScene),
	"pose":             joinScene,
	"join":             joinScene,
}

// of makes a drawing of a kind's input one of a scene; what is of another kind shows its
// spots.
func of[I any](draw func(scene, I) template.HTML) func(scene) template.HTML {
	return func(s scene) template.HTML {
		if input, ok := s.check.Input.(I); ok {
			return draw(s, input)
		}
		return spotScene(s)
	}
}

// draw draws the check; a kind without a drawing of its own shows its spots.
func (s scene) draw() template.HTML {
	if f, ok := drawn[s.check.Kind.Name]; ok {
		return f(s)
	}
	return spotScene(s)
}

func rigScene(s scene) template.HTML {
	r := rig(s.setup, s.check, s.now)
	if r.Turned = s.turn; s.turn {
		r.How += "; turned round now"
	}
	return r.Draw()
}

func (s scene) figure(title string) drawing.Figure {
	how := s.now.How
	if s.turn {
		how += "; turned round now"
	}
	return drawing.Figure{Title: title, How: how, Turned: s.turn}
}

// reading is the spot of that list, point and field as it is drawn.
func (s scene) reading(list, point, field string) drawing.Reading {
	for _, spot := range s.check.Spots {
		if spot.List == list && spot.Point == point && spot.Field == field {
			return s.spot(spot)
		}
	}
	return drawing.Reading{Name: field, Mark: drawing.Todo}
}

func (s scene) spot(spot check.Spot) drawing.Reading {
	counting := spot.Counting()
	r := drawing.Reading{Number: spot.Number, Name: spot.Label, Known: len(counting) > 0, Mark: mark(spot, s.now, true)}
	if r.Known {
		r.Value, r.Shown = check.Mean(counting), showMean(spot, counting)
		for _, tool := range s.check.Used {
			if tool.Name == counting[0].Instrument {
				r.Value = tool.True(r.Value, counting[0].Turned)
			}
		}
	}
	return r
}

// quantity is a result, if the readings so far give it.
func (s scene) quantity(name string) (v float64, known bool) {
	if s.check.Result == nil {
		return 0, false
	}
	q, ok := s.check.Result.Quantity(name)
	return q.Value, ok
}

// move is the move at a place in a few words; nothing while readings are lacking.
func (s scene) move(at string) (says string, m measure.Move) {
	if s.check.Result == nil || !s.check.Complete() || s.check.Result.Verdict == measure.Go {
		return "", m
	}
	for _, m := range s.check.Result.Moves {
		if m.At == at && m.Amount >= 0.05 {
			return say.Length(m.Amount).Bare().String() + " " + m.Direction, m
		}
	}
	return "", m
}

func lineScene(s scene) template.HTML {
	l := drawing.Line{Figure: s.figure(s.setup.AssemblyName), Says: "offsets"}
	add := func(list, name, field string, x quantity.Length) {
		p := drawing.LinePoint{Reading: s.reading(list, name, field), X: float64(x)}
		var m measure.Move
		p.Move, m = s.move(name)
		p.Up = m.Direction == "up" || m.Direction == "right"
		l.Points = append(l.Points, p)
	}
	switch input := s.check.Input.(type) {
	case *measure.Straightness:
		for _, p := range input.Points {
			add("points", p.Name, "offset", p.X)
		}
	case *measure.HingeLine:
		field := "z"
		if s.now.Field == "y" || input.Adjust == "y" {
			field = "y"
		}
		l.Title += ", hinges, " + map[string]string{"y": "across", "z": "up"}[field]
		for _, p := range input.Points {
			add("points", p.Name, field, p.X)
		}
	case *measure.Separate:
		round, series := "first", input.First
		if strings.HasPrefix(s.now.List, "second") {
			round, series = "second", input.Second
		}
		l.Title += ", " + round + " round"
		for _, p := range series.Points {
			add(round+".points", p.Name, "offset", p.X)
		}
		for _, p := range series.Stations {
			add(round+".stations", p.Name, "angle", p.Y)
			l.Says = "angles"
		}
	}
	return l.Draw()
}

func chordScene(s scene) template.HTML {
	c := drawing.Chords{Figure: s.figure(s.setup.AssemblyName + " from the left")}
	switch input := s.check.Input.(type) {
	case *measure.Incidence:
		datum := s.reading("", "", "datum")
		c.Datum = &datum
		for _, side := range []struct {
			field, end string
			slope      *measure.Slope
		}{{"single", "", input.Single}, {"left", "left ", input.Left}, {"right", "right ", input.Right}} {
			if (side.slope == nil) != (side.field == "single" || input.Single != nil || input.Left != nil || input.Right != nil) {
				c.Lines = append(c.Lines, s.chord(input, side.field, side.end, side.slope, datum))
			}
		}
	case *measure.Decalage:
		for _, which := range []string{"forward", "aft"} {
			c.Lines = append(c.Lines, drawing.Chord{Reading: s.reading("", "", which)})
		}
	}
	return c.Draw()
}

// chord is one side of an incidence check, read by an angle or by two heights.
func (s scene) chord(input *measure.Incidence, field, side string, slope *measure.Slope, datum drawing.Reading) drawing.Chord {
	l := drawing.Chord{Reading: s.reading("", "", field), Design: float64(input.Design)}
	if slope != nil && slope.Spacing != nil {
		front, rear := s.reading("", "", field+".front"), s.reading("", "", field+".rear")
		l.Reading = front
		l.Name = strings.TrimSuffix(front.Name, ", front height")
		l.Known = front.Known && rear.Known
		l.Value = math.Atan((front.Value-rear.Value)/float64(*slope.Spacing)) * 180 / math.Pi
		l.Front2, l.Rear2 = &front, &rear
	}
	l.Value -= float64(input.Board) + datum.Value
	end := "rear"
	if input.Fixed == "rear" {
		end, l.Front = "front", true
	}
	var m measure.Move
	l.Move, m = s.move(side + end)
	l.Up = m.Direction == "up"
	return l
}

func squareScene(s scene, input *measure.Square) template.HTML {
	d := drawing.Square{Figure: s.figure(s.setup.AssemblyName + " from above"), Station: float64(input.Station), HalfSpan: float64(input.HalfSpan), Chord: max(s.setup.Shape.Chord, float64(input.HalfSpan)/8)}
	d.Skew, d.Known = s.quantity("skew")
	for _, p := range input.From {
		d.From = append(d.From, drawing.FromPoint{Name: p.Name, X: float64(p.X), Left: s.reading("from", p.Name, "left"), Right: s.reading("from", p.Name, "right")})
	}
	var m measure.Move
	d.Move, m = s.move("right tip")
	d.MoveAft = m.Direction == "aft"
	return d.Draw()
}

func bayScene(s scene) template.HTML {
	d := drawing.Bay{Figure: s.figure(s.setup.AssemblyName), Near: s.reading("", "", "near"), Far: s.reading("", "", "far"), Length: s.reading("", "", "length"), D1: s.reading("", "", "d1"), D2: s.reading("", "", "d2")}
	d.Rack, d.Known = s.quantity("rack_offset")
	return d.Draw()
}

func bracketScene(s scene, input *measure.Brackets) template.HTML {
	title := s.setup.AssemblyName + ", brackets from behind"
	if input.Axis == "station" {
		title = s.setup.AssemblyName + ", brackets from above, aft upwards"
	}
	return drawing.Brackets{Figure: s.figure(title), Spacing: float64(input.Spacing), Span: float64(input.Span), Left: s.reading("", "", "left"), Right: s.reading("", "", "right")}.Draw()
}

func pairScene(s scene, input *measure.Pairs) template.HTML {
	d := drawing.Pairs{Figure: s.figure(s.setup.AssemblyName + ", left against right")}
	for _, p := range input.Pairs {
		d.Pairs = append(d.Pairs, drawing.PairOf{Name: p.Name, Left: s.reading("pairs", p.Name, "left"), Right: s.reading("pairs", p.Name, "right")})
	}
	return d.Draw()
}

func finScene(s scene, input *measure.Upright) template.HTML {
	d := drawing.Fin{Figure: s.figure(s.setup.AssemblyName + " from behind"), Height: float64(input.Height), Datum: s.reading("", "", "datum"), Left: s.reading("", "", "left_face"), Right: s.reading("", "", "right_face")}
	d.Lean, d.Known = s.quantity("lean")
	return d.Draw()
}

func panelScene(s scene, _ *measure.Dihedral) template.HTML {
	d := drawing.Panels{Figure: s.figure(s.setup.AssemblyName + " from behind"), Datum: s.reading("", "", "datum"), Left: s.reading("", "", "left"), Right: s.reading("", "", "right")}
	d.DihedralLeft, d.Known = s.quantity("dihedral_left")
	d.DihedralRight, _ = s.quantity("dihedral_right")
	return d.Draw()
}

func gapScene(s scene, input *measure.Gaps) template.HTML {
	d := drawing.Gaps{Figure: s.figure(s.setup.AssemblyName), Min: float64(input.Min), Max: float64(input.Max)}
	for _, g := range input.Gaps {
		r := drawing.GapAt{Reading: s.reading("gaps", g.Name, "gap")}
		r.Name = g.Name
		r.Move, _ = s.move(g.Name)
		d.Gaps = append(d.Gaps, r)
	}
	return d.Draw()
}

func mountScene(s scene, input *measure.EngineMount) template.HTML {
	d := drawing.Mount{Figure: s.figure(s.setup.AssemblyName)}
	d.Down, d.Known = s.quantity("down")
	d.Right, _ = s.quantity("right")
	for _, p := range input.Pads {
		pad := drawing.Pad{Reading: s.reading("pads", p.Name, "depth"), Y: float64(p.Y), Z: float64(p.Z)}
		if says, m := s.move(p.Name); says != "" {
			pad.Move = say.Length(m.Amount).Signed().Bare().String()
		}
		d.Pads = append(d.Pads, pad)
	}
	return d.Draw()
}

func travelScene(s scene, input *measure.Travel) template.HTML {
	d := drawing.Travel{Figure: s.figure(s.setup.AssemblyName + " from the left")}
	for _, t := range input.Surfaces {
		d.Surfaces = append(d.Surfaces, drawing.TravelOf{Name: t.Name, Up: s.reading("surfaces", t.Name, "up"), Down: s.reading("surfaces", t.Name, "down")})
	}
	return d.Draw()
}

func crossLevelScene(s scene) template.HTML {
	return drawing.CrossLevel{Figure: s.figure(s.setup.AssemblyName + " from behind"), Datum: s.reading("", "", "datum"), Part: s.reading("", "", "part")}.Draw()
}

func spotScene(s scene) template.HTML {
	d := drawing.OneSpot{Figure: s.figure(s.setup.AssemblyName)}
	for _, spot := range s.check.Spots[:min(2, len(s.check.Spots))] {
		d.Readings = append(d.Readings, s.spot(spot))
		d.Tape = spot.Dimension == measure.Length
	}
	return d.Draw()
}

// rig is the setup as it is drawn for a survey or a twist: rails and surface with
// what is read so far.
func rig(setup measuring.Setup, inHand measuring.Check, now check.Spot) drawing.Rig {
	r := drawing.Rig{Survey: inHand.Kind.Name == "bench", OnSupport: now.Field == "support", Title: "Rails and " + strings.ToLower(setup.AssemblyName), How: now.How}
	for _, c := range setup.Checks {
		switch input := c.Input.(type) {
		case *measure.Bench:
			r.Supports = supports(c, input, now, c.ID == inHand.ID)
		case *measure.Twist:
			r.Stations = stations(c, input, now, c.ID == inHand.ID)
			r.Chord = math.Max(setup.Shape.Chord, 200)
		}
	}
	if len(r.Supports) == 0 {
		r.Title = setup.AssemblyName
	}
	centre(&r)
	if inHand.Result != nil && inHand.Complete() && inHand.Result.Verdict != measure.Go {
		for _, m := range inHand.Result.Moves {
			says := drawing.Rise(m.Amount)
			if m.At == "tip rear support" {
				m.At, says = "", m.Direction+" "+say.Length(m.Amount).String()
			}
			r.Moves = append(r.Moves, drawing.RigMove{At: m.At, Up: m.Direction == "up", Says: says})
		}
	}
	return r
}

// handScene lays the part in question on the other: the points of both where they
// were found.
func handScene(s scene, input *measure.Hand) template.HTML {
	d := drawing.Hands{Figure: s.figure(s.setup.AssemblyName + ", the part that is right, and the one in question")}
	for _, p := range input.First {
		d.Points = append(d.Points, drawing.HandPoint{Name: p.Name,
			First:  [2]drawing.Reading{s.reading("first", p.Name, "x"), s.reading("first", p.Name, "y")},
			Second: [2]drawing.Reading{s.reading("second", p.Name, "x"), s.reading("second", p.Name, "y")}})
	}
	return d.Draw()
}

// stackScene draws the shims that come nearest.
func stackScene(s scene, input *measure.ShimStack) template.HTML {
	d := drawing.Stack{Figure: s.figure(s.setup.AssemblyName + ", shims"), Needed: float64(input.Needed)}
	if s.check.Result != nil {
		d.Pieces = s.check.Result.Stack
	}
	return d.Draw()
}

// DrawLast draws the last check of a setup, with nothing in hand.
func DrawLast(s measuring.Setup) template.HTML {
	return scene{setup: s, check: s.Checks[len(s.Checks)-1]}.draw()
}
