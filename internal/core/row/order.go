package row

import "slices"

// Work is a row with its holes, as it waits for its rivets.
type Work struct {
	ID, Name string
	Row
	Holes []Hole
}

// Leg is a stretch of riveting without turning the work or fetching a helper.
type Leg struct {
	Pose   string // "": as it lies
	Reach  string
	Bucker bool
	Rows   []Stretch
}

// Stretch is the holes of one row in a leg.
type Stretch struct {
	ID, Name string
	Holes    []int
}

// Count is how many rivets the leg has.
func (l Leg) Count() int {
	n := 0
	for _, s := range l.Rows {
		n += len(s.Holes)
	}
	return n
}

// Order puts the holes that are still to be set in the order of work: as the part
// lies before any other pose, all that faces one way before the work is turned, and
// within it what one person can set before what wants a bucker. Kept holes are left
// out.
func Order(rows []Work) []Leg {
	var legs []Leg
	var reaches []string
	for _, w := range rows {
		if !slices.Contains(reaches, w.Reach) {
			reaches = append(reaches, w.Reach)
		}
		byPose := map[string][]int{}
		var poses []string
		for _, h := range w.Holes {
			if h.Filled() || h.Done() || h.Kept() {
				continue
			}
			if byPose[h.Pose] == nil {
				poses = append(poses, h.Pose)
			}
			byPose[h.Pose] = append(byPose[h.Pose], h.Number)
		}
		for _, pose := range poses {
			i := slices.IndexFunc(legs, func(l Leg) bool { return l.Pose == pose && l.Reach == w.Reach && l.Bucker == w.Bucker })
			if i < 0 {
				i, legs = len(legs), append(legs, Leg{Pose: pose, Reach: w.Reach, Bucker: w.Bucker})
			}
			legs[i].Rows = append(legs[i].Rows, Stretch{w.ID, w.Name, byPose[pose]})
		}
	}
	slices.SortStableFunc(legs, func(a, b Leg) int {
		return order(a, reaches) - order(b, reaches)
	})
	return legs
}

// order ranks a leg: pose, then reach, then hands.
func order(l Leg, reaches []string) int {
	rank := slices.Index(reaches, l.Reach) * 2
	if l.Bucker {
		rank++
	}
	if l.Pose != "" {
		rank += 1 << 20
	}
	return rank
}

// ForHelper are the legs that want a second pair of hands: what to do while the
// helper is there.
func ForHelper(legs []Leg) []Leg {
	var out []Leg
	for _, l := range legs {
		if l.Bucker {
			out = append(out, l)
		}
	}
	return out
}
