package measuring

import (
	"slices"
	"strings"
)

// handsOff is for parts that a hand can bend straight.
var handsOff = []string{"hands off"}

// every are the checks that any part may want besides its own.
var every = []CheckForm{
	{"length", "A length against the plans", "Before it is cut, and before it is drilled to something else.", map[string]string{"design": "900"}, []LimitField{within("error", "off the design", "1 mm")}, nil},
	{"pairs", "Two readings, one less the other", "Left against right, front against rear, before against after.", map[string]string{"pairs": "left against right"}, []LimitField{within("difference", "right less left", "1 mm")}, nil},
	{"gap", "A gap or clearance", "What is trimmed away cannot be put back.", map[string]string{"gaps": "here"}, nil, nil},
}

// rails is the survey of what a part lies on: along its span, the front rail under the
// leading edge.
var rails = CheckForm{"bench", "Survey of the rails under it", "A flexible part takes the shape of what it lies on: from these heights the rails' slope is taken off at each station.", map[string]string{"points": "F1; 0; -150\nR1; 0; 150\nF2; 1900; -150\nR2; 1900; 150"}, nil, nil}

// within is a limit on both sides.
func within(quantity, label, usual string) LimitField {
	return LimitField{quantity, label, "±" + usual}
}

// UsualChecks are the kinds of assemblies, each with the checks that a careful
// builder makes there, in working order. Usual limits are offered, to be taken
// from the plans; none is in force until it is entered.
var UsualChecks = []Usual{
	{
		ID: "main-spar", Name: "Main spar", Step: "drill to size", Permanent: "the holes of the root brackets",
		Why: "The brackets set the wing's incidence and dihedral for good.",
		Checks: []CheckForm{
			{"straightness", "Straightness of the cap", "A bow riveted in stays in: every rib follows it.", map[string]string{"points": "root; 450\nrib 4; 2000\nrib 8; 4100\ntip; 6200"}, []LimitField{within("bow", "bow", "2 mm")}, nil},
			{"brackets", "Root brackets", "A tenth at the root is millimetres at the tip.", map[string]string{"spacing": "120", "span": "12400", "axis": "height"}, []LimitField{within("tip_difference", "tip difference", "6 mm")}, nil},
		},
	},
	{
		ID: "tailplane", Name: "Tailplane or stabilator", Step: "drill to size", Permanent: "the attachment holes of the tailplane",
		Why: "These holes set the tailplane's incidence and whether it sits crooked.",
		Checks: []CheckForm{
			{"incidence", "Incidence", "It decides how the aircraft trims; the board goes on both sides.", map[string]string{"design": "1.0 down", "attach_spacing": "420", "fixed": "front"}, []LimitField{within("incidence_error", "off the design", "0.15°"), within("incidence_difference", "right less left", "0.2°")}, nil},
			{"level", "Level with the fuselage", "A tailplane that leans rolls the aircraft in trim.", map[string]string{"span": "2880"}, []LimitField{within("roll", "roll", "0.10°")}, nil},
			{"brackets", "Brackets", "A small height error grows to the tips.", map[string]string{"spacing": "210", "span": "2880", "axis": "height"}, []LimitField{within("tip_difference", "tip difference", "5 mm")}, nil},
			{"square", "Square to the centreline", "Taken from two points, skew and side-shift are told apart.", map[string]string{"station": "5480", "half_span": "1440", "from": "firewall; 0; -1320\nboom root; 2350; -1180"}, []LimitField{within("skew", "skew", "0.10°")}, nil},
			{"pairs", "Tail against wing", "From each tip of the tail to the tip of the wing on its side.", map[string]string{"pairs": "tip to tip"}, []LimitField{within("difference", "right less left", "6 mm")}, nil},
		},
	},
	{
		ID: "fin", Name: "Fin", Step: "drill to size", Permanent: "the bolt holes of the fin's spar",
		Why: "A fin that leans or twists steers for ever.",
		Checks: []CheckForm{
			{"upright", "Upright by both faces", "The mean of two faces is the fin; one face is its taper too.", map[string]string{"height": "1310"}, []LimitField{within("lean", "lean", "0.10°")}, nil},
			{"straightness", "Straightness of the spar", "The rudder's hinges follow it.", map[string]string{"points": "foot; 0\nmiddle; 655\ntop; 1310"}, []LimitField{within("bow", "bow", "1 mm")}, nil},
		},
	},
	{
		ID: "rudder", Name: "Rudder", Step: "rivet", Permanent: "the skin of the rudder",
		Why: "A twisted rudder is a trim tab that nobody asked for.",
		Checks: []CheckForm{
			rails,
			{"twist", "Twist", "Pushed straight by hand it is not straight: hands off.", map[string]string{"stations": "foot; 0\nmiddle; 655\ntop; 1310"}, []LimitField{within("twist", "twist", "0.15°")}, handsOff},
			{"hinge-line", "Hinges in a line", "A hinge out of line binds, and wears its bearing.", map[string]string{"points": "hinge 1; 0\nhinge 2; 500\nhinge 3; 1000"}, []LimitField{{"worst", "furthest from the line", "at most 1 mm"}}, nil},
		},
	},
	{
		ID: "frame", Name: "Frame or bulkhead", Step: "rivet", Permanent: "the corners of the frame",
		Why: "What is square to it is only as square as it is.",
		Checks: []CheckForm{
			{"diagonals", "Diagonals", "Two equal diagonals make it square.", nil, []LimitField{within("rack_offset", "far side to the right", "2 mm")}, nil},
			{"pairs", "Left against right", "Edges and holes to the same line on both sides.", map[string]string{"pairs": "upper corner\nlower corner"}, []LimitField{within("difference", "right less left", "1 mm")}, nil},
		},
	},
	{
		ID: "tank", Name: "Tank", Step: "close", Permanent: "the tank",
		Why: "A tank that leaks is opened with the wing around it.",
		Checks: []CheckForm{
			{"diagonals", "Diagonals", "A racked tank does not go into its bay.", nil, []LimitField{within("rack_offset", "far side to the right", "3 mm")}, nil},
			{"length", "Length against its bay", "It must go in, and come out again.", map[string]string{"design": "900"}, []LimitField{within("error", "off the design", "2 mm")}, nil},
		},
	},
	{
		ID: "lever", Name: "Lever or bell crank", Step: "drill to size", Permanent: "the holes of the lever",
		Why: "Arms set the travel of what they move.",
		Checks: []CheckForm{
			{"length", "Arm, middle to middle", "A millimetre of arm is a degree of travel.", map[string]string{"design": "85"}, []LimitField{within("error", "off the design", "0.5 mm")}, nil},
		},
	},
	{
		ID: "elevator", Name: "Elevator", Step: "rivet", Permanent: "the skin of the elevator",
		Why: "A twisted elevator flies the aircraft; it cannot be trimmed out.",
		Checks: []CheckForm{
			rails,
			{"twist", "Twist", "Pushed straight by hand it is not straight: hands off.", map[string]string{"stations": "inboard; 0\nmiddle; 720\ntip; 1440"}, []LimitField{within("twist", "twist", "0.15°")}, handsOff},
			{"hinge-line", "Hinges in a line", "A hinge out of line binds, and wears its bearing.", map[string]string{"points": "hinge 1; 0\nhinge 2; 330\nhinge 3; 660\nhinge 4; 990\nhinge 5; 1320"}, []LimitField{{"worst", "furthest from the line", "at most 1 mm"}}, nil},
		},
	},
	{
		ID: "wing-panel", Name: "Wing panel", Step: "rivet", Permanent: "the skin of the wing panel",
		Why: "Washout that is closed in cannot be changed.",
		Checks: []CheckForm{
			{"twist", "Washout", "Root to tip, and the same on both panels.", map[string]string{"stations": "rib 1; 450\nrib 4; 2000\nrib 8; 4100\nrib 12; 6200", "design": "2.0 down", "tip_spacing": "410"}, []LimitField{within("twist_error", "off the design", "0.4°"), {"kink", "furthest from the line", "at most 0.3°"}}, nil},
			{"diagonals", "Diagonals of the root bay", "A racked bay is a swept wing.", nil, []LimitField{within("rack_offset", "far side to the right", "3 mm")}, nil},
		},
	},
	{
		ID: "wings", Name: "Both wings on the fuselage", Step: "drill to size", Permanent: "the attachment holes of the wings",
		Why: "Wings that differ roll the aircraft: after these holes only a trim tab is left.",
		Checks: []CheckForm{
			{"incidence", "Incidence, left and right", "The same board goes on both wings, at the same station.", map[string]string{"design": "2.0", "attach_spacing": "620", "fixed": "front"}, []LimitField{within("incidence_error", "off the design", "0.25°"), within("incidence_difference", "right less left", "0.2°")}, nil},
			{"washout", "Washout, left against right", "Level and rail errors that both have drop out of the difference.", map[string]string{"stations": "rib 1; 450\nrib 4; 2000\nrib 8; 4100\nrib 12; 6200", "design": "2.0 down"}, []LimitField{within("difference", "right less left", "0.3°")}, nil},
			{"dihedral", "Dihedral, left and right", "The level is turned with the panel, so that its own error drops out.", map[string]string{"design": "5.0"}, []LimitField{within("dihedral_error", "off the design", "0.25°"), within("dihedral_difference", "right less left", "0.25°")}, nil},
			{"sweep", "Sweep against a line square to the fuselage", "A string from tip to tip goes askew with the wings and hides what they differ by.", map[string]string{"span": "5600"}, []LimitField{within("sweep_difference", "right less left", "0.2°")}, nil},
		},
	},
	{
		ID: "aileron", Name: "Aileron or flap", Step: "rivet", Permanent: "the skin of the aileron",
		Why: "A twisted aileron rolls the aircraft; its gap and travel come from it too.",
		Checks: []CheckForm{
			rails,
			{"twist", "Twist", "It is flexible before the skin is closed: hands off.", map[string]string{"stations": "root; 0\nmiddle; 950\ntip; 1900"}, []LimitField{within("twist", "twist", "0.15°")}, handsOff},
			{"gap", "Gap to the wing", "Trimmed away cannot be put back: aim at the middle.", map[string]string{"gaps": "inboard\nmiddle\noutboard", "min": "3", "max": "6"}, nil, nil},
			{"travel", "Travel", "Stops before cables; direction is checked by a second person.", map[string]string{"surfaces": "aileron L; left\naileron R; right"}, []LimitField{{"up", "up", "20 to 24°"}, {"down", "down", "12 to 15°"}, within("mismatch", "right less left", "1°")}, nil},
		},
	},
	{
		ID: "boom", Name: "Tail boom or fuselage box", Step: "rivet", Permanent: "the skins of the boom",
		Why: "Tail and wing are square to what is riveted here.",
		Checks: []CheckForm{
			{"bench", "Survey of its stands", "A boom takes the shape of what it lies on.", map[string]string{"points": "fore left; 0; -300\nfore right; 0; 300\naft left; 2900; -110\naft right; 2900; 110"}, []LimitField{within("twist", "twist", "0.2°"), {"flatness", "out of one plane", "at most 2 mm"}}, nil},
			{"diagonals", "Diagonals of a frame bay", "Two equal diagonals make it square.", nil, []LimitField{within("rack_offset", "far side to the right", "3 mm")}, nil},
			{"straightness", "Straightness of a stringer", "The eye finds a bow of a millimetre afterwards.", map[string]string{"points": "frame 0; 2350\nframe 2; 3178\nframe 4; 4006\nframe 7; 5248"}, []LimitField{within("bow", "bow", "1 mm")}, nil},
			{"bench", "Level along and across", "What is measured from it later is measured from level.", map[string]string{"points": "fore left; 0; -300\nfore right; 0; 300\naft left; 2900; -110\naft right; 2900; 110"}, []LimitField{within("slope_along", "along", "0.1°"), within("slope_across", "across", "0.1°")}, nil},
		},
	},
	{
		ID: "canard", Name: "Canard", Step: "bond", Permanent: "the foreplane on the fuselage",
		Why: "The foreplane must stall first: its angle against the main wing is safety itself.",
		Checks: []CheckForm{
			{"decalage", "Foreplane against main wing", "A foreplane pushed down by hand shows what it will not keep: hands off.", map[string]string{"arrangement": "canard"}, []LimitField{{"decalage", "forward over aft", "at least 2.0°"}}, handsOff},
			{"level", "Level with the wing", "Both lean or neither does.", map[string]string{"span": "3100"}, []LimitField{within("roll", "roll", "0.10°")}, handsOff},
		},
	},
	{
		ID: "mount", Name: "Engine mount", Step: "drill to size", Permanent: "the four holes through the firewall",
		Why: "Pads out of plane crack the mount; the thrust line is drilled here.",
		Checks: []CheckForm{
			{"engine-mount", "Pads and thrust line", "Washers are cheap before the holes are drilled.", map[string]string{"pads": "UL; -190; 400\nUR; 190; 400\nLL; -190; 60\nLR; 190; 60", "design_down": "1.5", "design_right": "2.0", "stock": "0.4; 0.5; 0.8"}, []LimitField{within("down_error", "down, off the design", "0.25°"), within("right_error", "right, off the design", "0.25°"), {"coplanarity", "coplanarity", "at most 0.4 mm"}}, nil},
		},
	},
	{
		ID: "join", Name: "Join to the airframe", Step: "drill to size", Permanent: "the attachment holes",
		Why: "These holes set incidence, lean and skew at once; every tape and level that can be taken counts.",
		Checks: []CheckForm{
			{"pose", "Join", "Each reading alone is weak; together they say where the surface is, and which of them is wrong.", map[string]string{
				"datum":  "firewall; 0; 0; 300\nboom root; 2350; 0; 640\nsill L; 1800; -520; 420\nsill R; 1800; 520; 420",
				"points": "tip L; 5560; -1440; 1740\ntip R; 5560; 1440; 1740\nfore L; 5480; -105; 1730\nfore R; 5480; 105; 1730\naft L; 5830; -500; 1724\naft R; 5830; 500; 1724",
				"pivot":  "5480; 0; 1730", "attach": "bracket L; 5480; -105; 1730; free\nbracket R; 5480; 105; 1730; free", "level": "is read too",
				"readings": "distance; boom root; tip L\ndistance; boom root; tip R\ndistance; firewall; tip L\ndistance; firewall; tip R\nheight; sill L; tip L\nheight; sill L; tip R\nheight; sill L; aft L\nroll; fore L; fore R\npitch; aft L; fore L"}, []LimitField{within("roll", "roll", "0.10°"), within("pitch", "pitch", "0.15°"), within("yaw", "yaw, right tip aft", "0.10°")}, nil},
		},
	},
	{
		ID: "joins", Name: "Join several surfaces at once", Step: "drill to size", Permanent: "the attachment holes of both",
		Why: "A tailplane on a fin, two wings on a carry-through: each stands on what the other is.",
		Checks: []CheckForm{
			{"join", "Join", "What is known of one surface carries over to the other where they are pinned; their differences come out with their own ±.", map[string]string{
				"datum":  "firewall; 0; 0; 300\nboom root; 2350; 0; 640\nsill L; 1800; -520; 420\nsill R; 1800; 520; 420\nboom end; 5250; 0; 420",
				"pivots": "fin; 4800; 0; 430\ntailplane; 5480; 0; 1730",
				"points": "fin foot; 4800; 0; 430; fin\nfin top; 5480; 0; 1730; fin\nfin rear; 5400; 40; 900; fin\nfin face; 5100; -40; 900; fin\ntip L; 5560; -1440; 1740; tailplane\ntip R; 5560; 1440; 1740; tailplane\npin; 5480; 0; 1730; tailplane\naft L; 5830; -500; 1724; tailplane\naft R; 5830; 500; 1724; tailplane\nfore L; 5480; -105; 1730; tailplane",
				"attach": "fin bolt; 5250; 0; 430; fin; fixed\nbracket L; 5480; -105; 1730; tailplane; free\nbracket R; 5480; 105; 1730; tailplane; free",
				"pins":   "fin top; pin; 0.1", "bounds": "fin; roll; 0.30 L; 0.30 R\ntailplane; yaw; -0.10; 0.10", "derive": "tips, right over left; height; tip L; tip R; -5; 5\nchord; incidence; aft L; fore L; 0; 1.5", "level": "is true",
				"readings": "distance; firewall; tip L\ndistance; firewall; tip R\ndistance; boom root; tip L\ndistance; boom root; tip R\ndistance; boom root; fin top\ndistance; sill L; fin rear\ndistance; sill R; fin rear\ndistance; sill L; fin top\ndistance; sill R; fin top\ndistance; sill L; fin face\ndistance; sill R; fin face\ndistance; boom end; fin foot\nheight; sill L; tip L\nheight; sill L; tip R\nheight; sill L; aft L\nheight; sill L; fin foot\nheight; sill L; fin rear\nroll; aft L; aft R\npitch; aft L; fore L"}, nil, nil},
		},
	},
	{
		ID: "other", Name: "Another assembly", Step: "rivet", Permanent: "what is riveted here",
		Why: "Leave out what does not apply: the checks below are those that fit most parts.",
		Checks: []CheckForm{
			{"pairs", "Left against right", "Two sides that are alike are square; the string is always to hand.", map[string]string{"pairs": "tip to fin post\ntip to firewall"}, []LimitField{within("difference", "right less left", "8 mm")}, nil},
			{"diagonals", "Diagonals", "Two equal diagonals make it square.", nil, []LimitField{within("rack_offset", "far side to the right", "3 mm")}, nil},
			{"straightness", "Straightness", "A bow riveted in stays in.", map[string]string{"points": "left; 0\nmiddle; 500\nright; 1000"}, []LimitField{within("bow", "bow", "1 mm")}, nil},
			{"shop-temperature", "A length in the cold", "Aluminium grows by one part in four thousand from a cold shop to a warm one.", map[string]string{"temp_c": "6", "tape": "steel", "part": "aluminium"}, []LimitField{{"length", "length", "that of the plans"}}, nil},
		},
	},
}

// fits are the usual checks that a part of a shape may have, by its form, where it was not
// said which part it is.
var fits = map[string][]string{
	"surface": {"wing-panel", "wings", "tailplane", "canard", "elevator", "aileron", "join", "joins"},
	"fin":     {"fin", "rudder", "join", "joins"},
	"spar":    {"main-spar"},
	"body":    {"boom"},
	"box":     {"boom"},
	"tube":    {"boom"},
	"mount":   {"mount"},
	"frame":   {"frame"},
	"tank":    {"tank"},
	"lever":   {"lever"},
	"plate":   {},
}

// joined are the parts that are joined to an airframe.
var joined = []string{"tailplane", "fin", "wing-panel", "canard"}

// winged are the parts that both wings are measured for together.
var winged = []string{"wing-panel", "main-spar"}

// UsualFor are the usual checks of a part: those of what it is, or of what its shape may
// be; all where neither is said. Each ends with what any part may want.
func UsualFor(part, form string) (out []Usual) {
	for _, u := range UsualChecks {
		list, drawn := fits[form]
		switch {
		case u.ID == "other":
		case part != "" && u.ID != part && !(strings.HasPrefix(u.ID, "join") && slices.Contains(joined, part)) && !(u.ID == "wings" && slices.Contains(winged, part)):
			continue
		case part == "" && drawn && !slices.Contains(list, u.ID):
			continue
		}
		out = append(out, u)
	}
	return out
}
