// Package measure turns readings into what the metal is: twist, slope, roll,
// bow, with the standard uncertainty of each, a verdict against limits, and the
// move or reading that comes next.
//
// There is one file for each kind of check. A kind is a struct of its inputs
// with struct tags that say how a worksheet spells them (see package worksheet),
// a Validate method for what makes its inputs unusable, a Solve method, and a
// Kind that says how it is called, limited, disturbed and told. It becomes known
// by one line in Kinds.
//
// Lengths are millimetres, angles degrees. Signs: roll and cross-level right
// side low positive; pitch, incidence and twist leading edge up positive; a bow
// is positive where the middle stands on the positive side of the ends.
package measure

// Dimension says what an instrument measures or a quantity is.
type Dimension int

// The dimensions of readings and quantities.
const (
	Length    Dimension = iota // mm
	Angle                      // deg
	Rate                       // deg/m
	Ratio                      // 1
	Diameters                  // of a rivet
)

// Unit returns the unit that quantities of the dimension are given in.
func (d Dimension) Unit() string { return [...]string{"mm", "deg", "deg/m", "1", "D"}[d] }

// Instrument is what a reading was taken with. Its figures are in millimetres
// or degrees.
type Instrument struct {
	Name       string
	Measures   Dimension // Length or Angle
	Resolution float64   // step of the display or scale
	Offset     float64   // bound of a constant error common to all readings
	PerMetre   float64   // of lengths: bound of an error in proportion, mm in a metre
	PerDegree  float64   // of angles: bound of an error in proportion to what is read
	Spot       float64   // standard uncertainty of where it stands; 0 where it is neither stated nor usual
	Spread     *float64  // standard deviation of one placing; nil when not known
	SpreadFrom int       // the placings that Spread was found from; 0 when it is simply known
	Zero       float64   // shown on a true reference; subtracted from readings
	ZeroU      float64   // standard uncertainty of Zero, common to all readings as the offset is

	Type    string   // what kind of instrument it is; "" where that was not said
	Assumed []string // which of its figures are what is usual of its type, in the order of Columns

	StepUnknown   bool // Resolution was not stated
	OffsetUnknown bool // neither Offset nor ZeroU was
}

// Reading is one value, or the placings of one repeated reading, in canonical
// units as the instrument showed them.
type Reading struct {
	Values      []float64    // one or more
	Moved       bool         // each placing was lifted off and set a little beside the last
	Between     *[2]float64  // what is measured lies between these, and Values holds their middle
	Instrument  *Instrument  // nil: a plain figure, taken as exact
	Turned      bool         // the instrument was turned round in the typed sense
	Zero        *float64     // in place of the instrument's, for one that drifts
	Corrections []Correction // added to what was read
	Where       string       // its place in the check, such as stations[2].angle; may be empty
}

// Correction is added to what was read, for sag, temperature, drift or parallax.
type Correction struct {
	Why    string
	Value  float64
	U      float64 // its standard uncertainty
	Common string  // those of one name share one error; "" for an error of its own
}

// MaxCorrections is the most of one reading.
const MaxCorrections = 10

// zero is what is taken off as read on a true reference.
func (r Reading) zero() float64 {
	switch {
	case r.Zero != nil:
		return *r.Zero
	case r.Instrument != nil:
		return r.Instrument.Zero
	}
	return 0
}

// corrected is the mean with its zero off and its corrections added.
func (r Reading) corrected() float64 {
	v, sign := r.Mean(), 1.0
	if r.Turned {
		sign = -1
	}
	v -= sign * r.zero()
	for _, c := range r.Corrections {
		v += c.Value
	}
	return v
}

// Mean returns the mean of the placings, before any zero is applied.
func (r Reading) Mean() float64 {
	sum := 0.0
	for _, v := range r.Values {
		sum += v
	}
	return sum / float64(len(r.Values))
}

// Diameter is a rivet's or hole's, in mm, and whether it was given in metric units.
type Diameter struct {
	MM     float64
	Metric bool
}

// Figure is a length or an angle, in mm or degrees, as something beside it says.
type Figure float64

// Limit bounds a quantity; either end may be absent.
type Limit struct{ Low, High *float64 }

// Holds tells whether v lies inside the limit, bounds included.
func (l Limit) Holds(v float64) bool {
	return (l.Low == nil || v >= *l.Low) && (l.High == nil || v <= *l.High)
}

// Decision is the rule by which a verdict is reached.
type Decision struct {
	Plain    bool    // limits alone decide; else they are guarded by U
	Coverage float64 // U = Coverage × u
}

// Check is the input of one kind of check.
type Check interface {
	// Validate reports what makes the inputs unusable, by a path below the
	// check such as "stations[2].y".
	Validate(report func(path, message string))
	// Solve works the check out. It is called only when Validate is content.
	Solve(w *Work)
}

// Kind is one kind of check.
type Kind struct {
	Name   string
	Title  string        // what it measures, for people
	Survey bool          // it says how that lies which parts are measured on
	Join   bool          // it joins surfaces to the airframe, by readings between points
	New    func() Walker // nil for one that is worked out from figures alone
	Figure func() Check  // of such a one
	Limits []Limitable   // the quantities that may be limited, the one that matters most first; nil: none

	// Schools are the questions of package school, besides that of the limits, whose
	// answers change the check.
	Schools []string
	// Headlines say what the large figure is, in words, by the name of the quantity.
	Headlines map[string]string
}

// Limitable names a quantity that may carry a limit.
type Limitable struct {
	Name      string
	Dimension Dimension
}

// Kinds is the registry: one name for each kind of check, declared in its own file.
var Kinds = []Kind{
	benchKind,
	twistKind,
	washoutKind,
	separateKind,
	levelKind,
	incidenceKind,
	squareKind,
	uprightKind,
	straightnessKind,
	bracketsKind,
	pairsKind,
	gapKind,
	engineMountKind,
	diagonalsKind,
	dihedralKind,
	sweepKind,
	hingeLineKind,
	travelKind,
	decalageKind,
	handKind,
	lengthKind,
	zeroTestKind,
	shopTemperatureKind,
	shimStackKind,
}

// Surveys tells whether a kind is a survey of what parts are measured on.
func Surveys(kind string) bool {
	k, _ := KindNamed(kind)
	return k.Survey
}

// ComparesHands tells whether a kind shows of which hand a part is.
func ComparesHands(kind string) bool { return kind == handKind.Name }

// Form is what is asked for a check of the kind before anything is read.
func (k Kind) Form() Form {
	if k.New == nil {
		return Form{}
	}
	return k.New().Form()
}

// Make makes an empty check of the kind; nil for the zero kind.
func (k Kind) Make() Check {
	switch {
	case k.New == nil && k.Figure == nil:
		return nil
	case k.New == nil:
		return k.Figure()
	}
	return k.New()
}

// KindNamed returns the kind of that name.
func KindNamed(name string) (Kind, bool) {
	for _, k := range Kinds {
		if k.Name == name {
			return k, true
		}
	}
	return Kind{}, false
}

// Limitable returns the dimension of a quantity of this kind that may be limited.
func (k Kind) Limitable(name string) (Dimension, bool) {
	for _, l := range k.Limits {
		if l.Name == name {
			return l.Dimension, true
		}
	}
	return 0, false
}

// Spot is one place where a reading of a check is taken, in walking order.
// List, Point and Field say where it stands in the check: field angle of the
// point "rib 4" in the list stations. Outside a list List and Point are empty.
type Spot struct {
	List, Point, Field string
	Label              string // what is read, for people: "rails under it"
	Dimension          Dimension
	Sense              string // cross-level, pitch, either, length, or figure: a length that is taken as exact
	How                string // how the instrument sits
}

// Aid is a thing between an instrument and the part that is not straight, or does not lie,
// as well as the instrument shows.
type Aid string

// The aids. A board that may be bowed is turned round for a second look, which shows its
// bow; a string, or a line of light, that an offset is read from is set up no better than
// by eye.
const (
	Board  Aid = "board"
	String Aid = "string"
)

// Aided is a Walker that knows which of its readings have an aid.
type Aided interface{ Aid(at Spot) Aid }

// Walker is a check whose readings are entered one by one on a screen.
type Walker interface {
	Check
	// Walk lists the spots in walking order, from the check's definition
	// alone (its readings may be missing).
	Walk() []Spot
	// Form is what is asked for the check before anything is read.
	Form() Form
	// Disturbed tells whether an event makes the earlier readings of the check stale, from
	// its definition alone. There is no default, for what nobody thought of must not count
	// as undisturbed: a kind that does not declare it does not build.
	Disturbed(e Event) bool
}

// Expecter is a Walker that knows what a reading ought to be near, from the
// check's definition alone, so that a slip of the tape shows at once.
type Expecter interface {
	// Expect returns the nominal value at a spot; ok is false where there is none.
	Expect(at Spot) (nominal float64, ok bool)
}

// Arithmetic is the number of the arithmetic. It goes up with every change after which
// the same readings may say something else, so that what was worked out before is
// worked out anew.
const Arithmetic = 6
