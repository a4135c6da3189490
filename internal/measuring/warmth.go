package measuring

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Materials are those that parts are made of, in order.
var Materials = []string{"aluminium", "steel", "wood", "carbon", "fibreglass"}

// Warmth says what the part in a setup is made of and how warm the shop is, so that lengths
// can be brought to 20 °C. It names what was on screen.
type Warmth struct {
	ledger.Form
	Setup       string `json:"setup" form:"-"`           // id
	Material    string `json:"material" form:"material"` // "" for not said
	Temperature string `json:"temperature" form:"temperature"`
	Was         string `json:"was,omitempty" form:"was"` // Setup.Warmed of what the page showed
}

// warmed is a setup of which that is said.
type warmed struct {
	Title     string         `json:"title"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
}

var warmthSaid = &ledger.Kind[Warmth, warmed]{
	Name: "warmth", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Warmth, f warmed) error {
		if err := q.WarmthOfSetup(ctx, query.WarmthOfSetupParams{Material: n.Material, Temperature: n.Temperature, ID: n.Setup}); err != nil {
			return err
		}
		if err := q.ReviseChecksOfSetup(ctx, query.ReviseChecksOfSetupParams{Revised: e.Seq, SetupID: n.Setup}); err != nil {
			return err
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(n Warmth, f warmed) ledger.Words {
		return ledger.Words{What: f.Title + ": " + sayWarmth(n.Material, n.Temperature), Detail: say.After("before: ", sayWas(n.Was))}
	},
}

// Warmth puts what is said of the part and the shop into words.
func (s Setup) Warmth() string { return sayWarmth(s.Material, s.Temperature) }

// Warmed is what is said of the part and the shop by its values: the material, and °C.
func (s Setup) Warmed() string { return s.Material + "; " + s.Temperature }

// sayWas puts what Warmed returned into words; entries of before have words already.
func sayWas(was string) say.Text {
	if material, temperature, ok := strings.Cut(was, "; "); ok {
		return sayWarmth(material, temperature)
	}
	return was
}

func sayWarmth(material, temperature string) say.Text {
	if material == "" || temperature == "" {
		return "material or temperature not said"
	}
	if celsius, err := strconv.ParseFloat(temperature, 64); err == nil {
		return material + ", " + say.Temperature(celsius).String()
	}
	return material + ", " + temperature
}

// coldest and warmest bound the temperature of a shop, in °C.
const (
	coldest = -30
	warmest = 60
)

// celsius is a temperature as typed, "12,5 °C" or "68 F", in °C; what cannot be read stays.
func celsius(typed string) string {
	bare := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(strings.Replace(typed, ",", ".", 1)), "°C"))
	if _, err := strconv.ParseFloat(bare, 64); err == nil {
		return bare
	}
	if v, err := spoken.Celsius(typed); err == nil {
		return quantity.Fixed(v, 1)
	}
	return bare
}

// SayWarmth records what the part is made of and how warm the shop is. Lengths that differ
// for it are corrected from then on, and a release that rests on the setup is withdrawn.
func (m *Measuring) SayWarmth(ctx context.Context, n Warmth) error {
	n.Temperature = celsius(n.Temperature)
	_, err := ledger.Do(ctx, m.ledger, warmthSaid, n.Form, n, func(q *query.Queries) (f warmed, err error) {
		wrong := ledger.Problems{}
		if n.Material != "" && !slices.Contains(Materials, n.Material) {
			wrong.Add("material", "what is it made of? Choose one of the list")
		}
		if v, err := strconv.ParseFloat(n.Temperature, 64); n.Temperature != "" && (err != nil || !(v >= coldest && v <= warmest)) {
			wrong.Add("temperature", fmt.Sprintf("degrees Celsius between %d and %d, as 12.5", coldest, warmest))
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		row, err := q.Setup(ctx, n.Setup)
		if err != nil {
			return f, ledger.Found(err)
		}
		s := Setup{ID: row.Setup.ID, Name: row.Setup.Name, AssemblyName: row.Assembly, Material: row.Setup.Material, Temperature: row.Setup.Temperature}
		if n.Was != "" && n.Was != s.Warmed() {
			return f, ledger.Moved(sayWas(n.Was), s.Warmth())
		}
		f.Title = s.Title()
		f.Withdrawn = gate.Withdraw("") // which releases end by it, the gate finds
		return f, nil
	})
	return err
}
