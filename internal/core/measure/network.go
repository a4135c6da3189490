package measure

// Network is what an adjustment of many readings says besides its quantities.
type Network struct {
	Readings []Residual
	Places   []Placed      // where the points of the surface stand, when all is seen
	Unseen   []string      // degrees of freedom that nothing determines
	Want     string        // the one that the next readings are for; "" for none
	Reached  []Quantity    // the freedoms after the moves that may be made, where they are constrained
	Next     []NextReading // those that would leave it best known, the best first
	Doubts   []Doubt       // the points whose place makes what is wanted uncertain, the most first
	Tighten  *NextReading  // the distance between two points of the airframe that would tell most of it; nil for none
}

// Doubt is a point's part of the variance of what is wanted.
type Doubt struct {
	Point string
	Share float64 // between 0 and 1
	Datum bool    // it is on the airframe
}

// Residual is what an adjustment says of one reading.
type Residual struct {
	ID         string
	Dimension  Dimension
	Value      float64 // observed less predicted, mm or degrees
	U          float64 // standard uncertainty of the reading's own error
	Redundancy float64 // between 0 (nothing checks it) and 1
	Checked    bool    // W and Detectable are given
	W          float64 // residual/(u√redundancy)
	Detectable float64 // the smallest blunder that would be found, mm or degrees
	Suspect    bool
}

// Placed is by how far a point stands off where it should, and how sure that is:
// aft, right and up, in mm.
type Placed struct {
	Name     string
	Moved, U [3]float64
}

// NextReading is a reading that could still be taken.
type NextReading struct {
	Type, From, To, Instrument string
	U                          float64 // of what is wanted, afterwards; mm or degrees
}
