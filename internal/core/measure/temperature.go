package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/say"
)

// shopTemperatureKind is how the check is called, limited, disturbed and told.
var shopTemperatureKind = Kind{
	Name: "shop-temperature", Title: "A length in the cold", New: func() Walker { return new(ShopTemperature) },
	Limits:    []Limitable{{"length", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"length": "length"},
}

// Expansion is a coefficient of linear expansion in 10⁻⁶ per kelvin, by the name
// of a material or as a figure.
type Expansion struct {
	Material string
	Alpha    float64 `ws:"alpha"`
}

// Expansions of the usual materials, in 10⁻⁶ per kelvin. Fibreglass and wood are
// along the fibre; carbon is of a laminate.
var Expansions = map[string]float64{"steel": 11.5, "fibreglass": 8, "aluminium": 23.1, "wood": 4, "carbon": 1}

// per returns 1 + α·ΔT.
func (e Expansion) per(rise float64) float64 {
	alpha := e.Alpha
	if e.Material != "" {
		alpha = Expansions[e.Material]
	}
	return 1 + alpha*1e-6*rise
}

// ShopTemperature is a length read away from 20 °C with a tape that stretched
// its own way.
type ShopTemperature struct {
	Reading Reading   `ws:"reading" as:"length"`
	TempC   float64   `ws:"temp_c"`
	Tape    Expansion `ws:"tape" oneof:"steel fibreglass aluminium"`
	Part    Expansion `ws:"part" oneof:"aluminium steel wood carbon"`
}

// referenceC is the temperature at which lengths are stated (ISO 1).
const referenceC = 20

// Validate refuses temperatures and coefficients at which nothing has a length.
func (c *ShopTemperature) Validate(report func(path, message string)) {
	if c.TempC < -273.15 || c.TempC > 1000 {
		report("temp_c", "is not the temperature of a shop")
		return
	}
	for path, e := range map[string]Expansion{"tape.alpha": c.Tape, "part.alpha": c.Part} {
		if f := e.per(c.TempC - referenceC); !(f > 0.5 && f < 2) {
			report(path, "is not the expansion of a material (10⁻⁶ per kelvin)")
		}
	}
}

// Solve gives the part's length at 20 °C: reading × (1 + α_tape ΔT)/(1 + α_part ΔT).
func (c *ShopTemperature) Solve(w *Work) {
	rise := c.TempC - referenceC
	read := w.Read(c.Reading)
	length := read.Times(c.Tape.per(rise) / c.Part.per(rise))
	w.Quantity("length", Length, length)
	w.explain("length at "+say.Temperature(20).String(), fmt.Sprintf("%s × (1 + α tape × %s K)/(1 + α part × %s K)", mm(read.Value), say.Number(rise, 1), say.Number(rise, 1)), mm(length.Value))
}

// Walk is the one reading.
func (c *ShopTemperature) Walk() []Spot {
	return []Spot{{Field: "reading", Label: "length", Dimension: Length, Sense: "length", How: "tape and part at the temperature of the shop"}}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*ShopTemperature) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*ShopTemperature) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "temp_c", Label: "Temperature in °C", As: "number"},
			{Key: "tape", Label: "Tape of", As: "word", Words: []string{"steel", "fibreglass", "aluminium"}},
			{Key: "part", Label: "Part of", As: "word", Words: []string{"aluminium", "steel", "wood", "carbon"}},
		},
	}
}
