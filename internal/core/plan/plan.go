// Package plan plans a build: what can be done now, what is held and by what, the schedule of
// the builder's own evenings and of helpers' visits, what closes soon, when to order, what can
// be paid when, and the hours that were worked. The format is orpine.plan (docs/plan.md).
//
// Time is counted in whole minutes of the true time line: 24 hours of cure are 24 hours,
// whatever the clocks do. Wall times are read and printed in the zone of the plan.
package plan

// Limits of a document.
const (
	MaxBytes    = 4 << 20
	maxSteps    = 10_000
	maxSessions = 20_000
	maxOrders   = 1_000
	maxAwaited  = 200 // orders that have not arrived
	maxStages   = 200
	maxVisits   = 500
	maxHours    = 100_000
	maxName     = 200 // characters of an id
	horizon     = 40  // years that are looked ahead
)

// Plan is a document as it was understood. Minutes are since 1970 began in UTC; dates are
// local ones. References are indices into the plan's own lists.
type Plan struct {
	Zone      Clock
	Now       int64
	Builder   string
	Week      [7]Stretch // by time.Weekday; zero for none
	Away      [][2]Date
	Visits    []Visit
	Warmth    *float64 // of the shop, °C
	Steps     []Step
	Bays      []string
	Suppliers []Supplier
	Orders    []Order
	Questions []Question
	Pace      []Pace
	Sessions  []Session
	Money     *Money
	Risk      Risk
}

// Stretch is the work of one day of the week.
type Stretch struct {
	From    int // minutes after 00:00 on the wall Clock
	Minutes int // 0 for none
}

// Visit is people in the shop.
type Visit struct {
	ID       string
	From, To int64
	People   int // in all, the builder included
}

// The states of a step.
const (
	Open  = "open"
	Begun = "begun"
	Done  = "done"
)

// Step is one piece of work.
type Step struct {
	ID, Name, Kind, Assembly string
	Low, Likely, High        float64 // hours of the clock with its people present
	People                   int
	Whole                    bool // it is not interrupted once begun
	After                    []int
	Inside, Closes           []int // bays
	Needs                    []int // orders
	WaitsFor                 []int // questions
	Cure                     *Cure
	State                    string
	Ended                    *int64 // when a done one was done
}

// Expected is the mean of the hours, (low + 4 likely + high)/6 (the three-point estimate of the
// beta distribution).
func (s Step) Expected() float64 { return (s.Low + 4*s.Likely + s.High) / 6 }

// Cure is the time after a step before its followers may begin.
type Cure struct {
	Hours float64
	At    *float64 // °C that the hours are for
	Table []CureAt
}

// CureAt is a line of the maker's table.
type CureAt struct{ At, Hours float64 }

// Supplier is whom things are ordered from.
type Supplier struct {
	ID     string
	Delays []int // days by which each of its deliveries was late
}

// Order is something that was, or will be, ordered.
type Order struct {
	ID, Name                       string
	Supplier                       string // its id
	Delay                          int    // days by which its supplier is late, on the mean, rounded up
	Lead                           *int
	Asked, Promised, Sent, Arrived *Date
}

// Question is something that steps may wait for.
type Question struct {
	ID, Text string
	Open     bool
}

// Pace is hours of a kind of work as they were estimated and turned out.
type Pace struct {
	Kind              string
	Estimated, Actual float64
}

// Session is time that someone worked.
type Session struct {
	Who      string
	From, To int64
	Category string
	Step     int // -1 for none
	Assembly string
}

// Money is what is saved and what is to be paid, in minor units of its currency.
type Money struct {
	Currency        string
	Saved, PerMonth int64
	Day             int // of the month on which PerMonth comes
	Total           *int64
	Stages          []Stage
}

// Stage is a part of the kit that is paid at once.
type Stage struct {
	ID, Name string
	Price    int64
	Lead     int // days from its payment
	NeededBy int // step; -1 for none
	Paid     bool
}

// Risk is what the builder says of his doubts, in place of what is known of them: standard
// deviations of logarithms from 0 to 2, and shares from 0 to 0.9. nil leaves what is known.
type Risk struct {
	Step      *float64 // σ of a step whose hours are one number
	Pace      *float64 // σ of the builder’s pace
	Kind      *float64 // σ of the pace of each kind of work
	Unplanned *float64 // share of work that no step has
	Visit     *float64 // share of visits that fall through
	Evening   *float64 // share of evenings that fall away
	Lead      *float64 // σ of the time that an order takes
	Savings   *float64 // σ of what is saved in a month
}

// Error is what makes a document unusable, with the path of the field.
type Error struct {
	Path    string   `json:"path"`
	Message string   `json:"message"`
	Steps   []string `json:"steps,omitempty"` // of a circle
}
