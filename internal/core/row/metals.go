package row

import "slices"

// Materials are what layers and fasteners are made of.
var Materials = []string{"aluminium", "steel", "stainless steel", "titanium", "nickel alloy", "carbon", "glass", "plastic", "wood"}

// Meeting is two materials that corrode where they touch, with the usual barrier.
type Meeting struct{ A, B, Barrier string }

const (
	wet   = "primer on both faces, and the fastener set wet"
	glass = "a ply of glass between, and the fastener set wet with sealant"
)

// far are the pairs that lie far apart in the galvanic series.
var far = []Meeting{
	{"aluminium", "steel", wet}, {"aluminium", "stainless steel", wet}, {"aluminium", "titanium", wet}, {"aluminium", "nickel alloy", wet},
	{"aluminium", "carbon", glass}, {"steel", "carbon", glass}, {"steel", "titanium", wet},
}

// Meetings are the pairs of a row that lie far apart, its fastener with every layer and
// each layer with the next one.
func (r Row) Meetings() []Meeting {
	var out []Meeting
	meet := func(a, b string) {
		for _, m := range far {
			if (m.A == a && m.B == b || m.A == b && m.B == a) && !slices.Contains(out, m) {
				out = append(out, m)
			}
		}
	}
	for i, l := range r.Layers {
		meet(l.Material, r.Fastener.Material)
		if i > 0 {
			meet(r.Layers[i-1].Material, l.Material)
		}
	}
	return out
}
