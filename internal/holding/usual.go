package holding

// UsualHold is a hold that an assembly of a kind usually has.
type UsualHold struct {
	Name, Step, Permanent, Why string
	Bay                        string // what a closing step closes
	Tasks                      []string
	Second                     bool
}

// beforeClosing is the hold before a space is closed.
func beforeClosing(what, bay, why string, tasks ...string) UsualHold {
	return UsualHold{Name: "Close " + what, Step: "close", Permanent: what + ", closed over " + bay, Why: why, Bay: bay, Tasks: tasks}
}

// beforeRiveting is the hold before a skin or its like is riveted; its rows bring what they ask.
func beforeRiveting(what, why string) UsualHold {
	return UsualHold{Name: "Rivet " + what, Step: "rivet", Permanent: "the rivets of " + what, Why: why}
}

// UsualHolds are the holds that go with the usual checks of an assembly, by the id of
// those.
var UsualHolds = map[string][]UsualHold{
	"main-spar": {beforeRiveting("the spar caps", "A rivet too long or too short in a cap is drilled out of a spar."), {Name: "Ream the root brackets", Step: "ream", Permanent: "the bolt holes of the root brackets", Why: "A reamed hole cannot be moved or made smaller.", Second: true}},
	"tailplane": {beforeRiveting("the tailplane skin", "The skin locks in whatever twist is in it."), beforeClosing("the tailplane", "the tailplane bay", "Nobody sees its spar again without drilling.", "primer on cut edges", "photos of the spar and brackets")},
	"fin":       {beforeRiveting("the fin skin", "The skin locks in whatever lean is in it."), beforeClosing("the fin", "the fin bay", "The aerial lead and the rudder cable run inside.", "aerial lead", "conduit for the rudder cable")},
	"elevator":  {beforeRiveting("the elevator skin", "A twisted elevator cannot be untwisted."), beforeClosing("the elevator", "the elevator", "The balance weight and its bolts stay inside.", "balance weight bolted and marked")},
	"wing-panel": {beforeRiveting("the top skin", "Washout that is closed in cannot be changed."), beforeClosing("the bottom skin", "the wing bays", "Wiring, conduit and tank fittings are out of reach afterwards.", "wiring conduit", "pitot line", "control pushrods pass freely", "inspection of the tank seams"),
		beforeClosing("the tank", "the tank", "A leak found later is a tank cut open.", "leak test", "finger strainer", "vent line")},
	"aileron": {beforeRiveting("the aileron skin", "A twisted aileron rolls the aircraft for ever."), beforeClosing("the aileron", "the aileron", "Balance weight and hinge nuts stay inside.", "balance weight bolted and marked")},
	"boom": {beforeRiveting("the boom skins", "Tail and wing are square to what is riveted here."), beforeClosing("the boom", "the boom bay", "Cables, rods and the tail light's wires run inside.", "control rod guides", "wires for the tail light", "primer touched up"),
		beforeClosing("the floor", "the underfloor", "The floor closes over fuel line, wiring and rudder cables.", "fuel line fixed and tested", "wiring run is decided", "rudder cable guides")},
	"canard": {{Name: "Bond the foreplane", Step: "bond", Permanent: "the bond of the foreplane", Why: "The foreplane must stall first; its angle is bonded here.", Second: true}},
	"mount":  {{Name: "Close the cowl", Step: "close", Permanent: "the cowl", Why: "A tool left on the engine comes out through the propeller.", Bay: "the engine bay", Tasks: []string{"torque marks on every nut", "control ends locked"}}},
	"other":  {{Name: "Trim the edge", Step: "trim", Permanent: "the trimmed edge", Why: "Trimmed away cannot be put back."}, {Name: "Cover the frame", Step: "cover", Permanent: "the covering", Why: "What it covers is seen by nobody until it is cut open.", Bay: "the frame", Tasks: []string{"inspection by the inspector"}}},
}

// UsualHoldOf returns one of the usual holds by the id of the kind of assembly and its
// number.
func UsualHoldOf(kind string, number int) (UsualHold, bool) {
	list := UsualHolds[kind]
	if number < 0 || number >= len(list) {
		return UsualHold{}, false
	}
	return list[number], true
}
