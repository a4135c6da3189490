package kinds

import (
	"html/template"
	"math"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

func chordScene(s Scene) template.HTML {
	c := drawing.Chords{Figure: s.figure(s.Setup.AssemblyName + " from the left")}
	switch input := s.Check.Input.(type) {
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
func (s Scene) chord(input *measure.Incidence, field, side string, slope *measure.Slope, datum drawing.Reading) drawing.Chord {
	l := drawing.Chord{Reading: s.reading("", "", field), Design: float64(input.Design)}
	if slope != nil && slope.Spacing != nil {
		front, rear := s.reading("", "", field+".front"), s.reading("", "", field+".rear")
		l.Reading = front
		l.Name = strings.TrimSuffix(front.Name, ", front height")
		l.Known = front.Known && rear.Known
		l.Value = math.Atan((front.Value-rear.Value)/float64(*slope.Spacing)) * 180 / math.Pi
		l.Front2, l.Rear2 = &front, &rear
	}
	l.Value -= input.BoardAngle() + datum.Value
	end := "rear"
	if input.Fixed == "rear" {
		end, l.Front = "front", true
	}
	var m measure.Move
	l.Move, m = s.move(side + end)
	l.Up = m.Direction == "up"
	return l
}
