package plan

// Remaining are the hours that are left of each step, by the builder's pace; 0 of a done one.
func (p Plan) Remaining() []float64 {
	_, worked := p.worked()
	w := p.left(p.network(), p.paces(worked), worked)
	out := make([]float64, len(p.Steps))
	for i, minutes := range w.remaining {
		out[i] = hours(minutes)
	}
	return out
}

// Worked are the hours of the clock in which each step was built, by one person or several.
func (p Plan) Worked() []float64 {
	_, worked := p.worked()
	return worked
}

// Hours are what was worked, by person, category, assembly and step.
func (p Plan) Hours() Hours {
	h, _ := p.worked()
	return h
}

// Weekly is how many hours of the week's own stretches there are.
func (p Plan) Weekly() float64 {
	minutes := 0
	for _, s := range p.Week {
		minutes += s.Minutes
	}
	return float64(minutes) / 60
}
