package drawing

import "html/template"

// Hands is two flat parts side by side, each with its points where they were found.
type Hands struct {
	Figure
	Points []HandPoint
}

// HandPoint is a hole or corner on both parts: along and across.
type HandPoint struct {
	Name          string
	First, Second [2]Reading
}

// Draw draws both parts to one scale, x along and y upwards.
func (h Hands) Draw() template.HTML {
	c := h.sheet(1, "")
	c.text("figure middle", point{figureWidth * 0.25, 46}, "this one is right")
	c.text("figure middle", point{figureWidth * 0.75, 46}, "is this its mirror?")
	box := h.box()
	for part, left := range []float64{30, figureWidth/2 + 30} {
		var at []point
		for i, p := range h.Points {
			r := [2][2]Reading{p.First, p.Second}[part]
			place := box.place(r, left, i, len(h.Points))
			at = append(at, place)
		}
		if len(at) > 2 {
			c.polygon("ghost", at...)
		}
		for i, p := range h.Points {
			r := [2][2]Reading{p.First, p.Second}[part]
			mark := r[0].Mark
			if r[1].Mark == Now || r[0].Mark == Taken {
				mark = r[1].Mark
			}
			c.circle("spot "+string(mark), at[i], 4)
			c.balloon(string(mark), at[i].plus(0, -20), i+1)
			c.text("small middle", at[i].plus(0, 20), p.Name)
		}
	}
	c.line("centre", point{figureWidth / 2, 56}, point{figureWidth / 2, figureHeight - 30})
	return h.done(c)
}

// extent is the box that holds the points of both parts, in millimetres.
type extent struct{ x, y, width, height float64 }

func (h Hands) box() extent {
	first := true
	var low, high [2]float64
	for _, p := range h.Points {
		for _, r := range [][2]Reading{p.First, p.Second} {
			if !r[0].Known || !r[1].Known {
				continue
			}
			for axis := range 2 {
				if first || r[axis].Value < low[axis] {
					low[axis] = r[axis].Value
				}
				if first || r[axis].Value > high[axis] {
					high[axis] = r[axis].Value
				}
			}
			first = false
		}
	}
	return extent{low[0], low[1], high[0] - low[0], high[1] - low[1]}
}

// place puts a point on the sheet; one that is not found yet lies in a row.
func (e extent) place(r [2]Reading, left float64, i, n int) point {
	const width, height = figureWidth/2 - 90, 190.0
	if !r[0].Known || !r[1].Known {
		return point{left + 30 + width*(float64(i)+0.5)/float64(max(1, n)), 310}
	}
	scale := min(width/max(e.width, 1), height/max(e.height, 1))
	return point{left + 30 + (r[0].Value-e.x)*scale, 270 - (r[1].Value-e.y)*scale}
}
