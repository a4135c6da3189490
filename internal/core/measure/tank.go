package measure

// TankLeak is a tank closed with a little air pressure in it, read by a water column
// at the start and at the end: whether it has lost air, or only followed the weather.
type TankLeak struct {
	Start     TankState `ws:"start"`
	End       TankState `ws:"end"`
	PressureU *float64  `ws:"pressure_u_hpa,optional"` // 0.5 where nothing is said
	TempU     *float64  `ws:"temp_u_c,optional"`       // 0.5
}

// TankState is one look at it. The head is one side of the column minus the other.
type TankState struct {
	Head     Reading `ws:"head" as:"length"`
	Pressure float64 `ws:"air_pressure_hpa"`
	Temp     float64 `ws:"air_temp_c"` // of the air in the tank
}

// The weight of a millimetre of water, in hPa (998.2 kg/m³, 9.80665 m/s²), and the
// zero of Celsius in kelvin.
const (
	waterHPa = 998.2 * 9.80665 / 1000 / 100
	kelvin   = 273.15
)

// Validate refuses air that cannot be, and uncertainties below 0.
func (c *TankLeak) Validate(report func(path, message string)) {
	for path, s := range map[string]TankState{"start": c.Start, "end": c.End} {
		if s.Pressure <= 0 {
			report(path+".air_pressure_hpa", "must be above 0")
		}
		if s.Temp <= -kelvin {
			report(path+".air_temp_c", "is below absolute zero")
		}
	}
	for path, u := range map[string]*float64{"pressure_u_hpa": c.PressureU, "temp_u_c": c.TempU} {
		if u != nil && *u < 0 {
			report(path, "must not be negative")
		}
	}
}

// Solve gives the head to be expected at the end, by the ideal gas at fixed volume,
// and what was lost against it. Pressure and temperature are uncertain at each end
// by themselves.
func (c *TankLeak) Solve(w *Work) {
	u := func(given *float64) float64 {
		if given == nil {
			return 0.5
		}
		return *given
	}
	read := func(s TankState) (head, pressure, temp Estimate) {
		return w.Read(s.Head), w.known(s.Pressure, u(c.PressureU)), w.known(s.Temp+kelvin, u(c.TempU))
	}
	h1, p1, t1 := read(c.Start)
	h2, p2, t2 := read(c.End)
	inside := p1.Plus(h1.Times(waterHPa)) // absolute, in hPa
	expected := inside.By(t2).Over(t1).Minus(p2).Times(1 / waterHPa)
	lost := expected.Minus(h2)
	w.Quantity("expected_head", Length, expected)
	w.Quantity("lost_head", Length, lost)
	w.explain("expected head", "((pressure + head) × end temperature/start temperature − end pressure) as water", mm(expected.Value))
	w.explain("lost", "expected − measured", mm(lost.Value))
}

// known takes in a figure with a standard uncertainty of its own.
func (w *Work) known(v, u float64) Estimate {
	w.readings = append(w.readings, used{given: u * u, placings: 1})
	return Estimate{Value: v, slopes: []slope{{len(w.readings) - 1, 1}}}
}
