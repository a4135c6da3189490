package worksheet

import (
	"encoding/json"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
)

type resultsJSON struct {
	Format  string       `json:"format"`
	Version int          `json:"version"`
	Results []resultJSON `json:"results"`
}

type resultJSON struct {
	Name       string         `json:"name"`
	Kind       string         `json:"kind"`
	Verdict    string         `json:"verdict"`
	Quantities []quantityJSON `json:"quantities"`
	Moves      []moveJSON     `json:"moves"`
	Findings   []findingJSON  `json:"findings"`
	Stack      *[]float64     `json:"stack,omitempty"`
	Answer     string         `json:"answer,omitempty"`
	Choices    *[]string      `json:"choices,omitempty"`
	CutTo      *float64       `json:"cut_to,omitempty"`
	ShopHead   *shopHeadJSON  `json:"shop_head,omitempty"`
	Amounts    *[]float64     `json:"amounts,omitempty"`
	Assumed    []assumedJSON  `json:"assumed,omitempty"`
	*networkJSON
}

type shopHeadJSON struct {
	Diameter    float64 `json:"diameter"`
	DiameterMin float64 `json:"diameter_min"`
	Height      float64 `json:"height"`
	HeightMin   float64 `json:"height_min"`
}

// networkJSON is what an adjustment adds to a result.
type networkJSON struct {
	Readings []residualJSON `json:"readings"`
	Unseen   []string       `json:"unseen"`
	Reached  []reachedJSON  `json:"reached,omitempty"`
	Want     string         `json:"want,omitempty"`
	Next     []nextJSON     `json:"next,omitempty"`
}

type residualJSON struct {
	ID         string   `json:"id"`
	Residual   float64  `json:"residual"`
	U          float64  `json:"u"`
	Redundancy float64  `json:"redundancy"`
	W          *float64 `json:"w"`
	Detectable *float64 `json:"smallest_detectable"`
	Suspect    bool     `json:"suspect"`
}

// reachedJSON is a freedom after the moves that may be made.
type reachedJSON struct {
	Name  string  `json:"name"`
	At    any     `json:"at,omitempty"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
}

type nextJSON struct {
	Type       string  `json:"type"`
	From       string  `json:"from"`
	To         string  `json:"to"`
	Instrument string  `json:"instrument"`
	U          float64 `json:"u"`
}

type quantityJSON struct {
	Name     string   `json:"name"`
	At       any      `json:"at,omitempty"`
	Value    *float64 `json:"value,omitempty"`
	Unit     string   `json:"unit"`
	U        *float64 `json:"u,omitempty"`
	Low      *float64 `json:"low,omitempty"`
	High     *float64 `json:"high,omitempty"`
	Verdict  string   `json:"verdict,omitempty"`
	Placings int      `json:"placings,omitempty"`

	Doubt []doubtJSON `json:"doubt,omitempty"`
}

// doubtJSON is a part of what a quantity's doubt is made of.
type doubtJSON struct {
	Of    string  `json:"of"`
	Share float64 `json:"share"`
}

// assumedJSON is what is usual of an instrument and was not stated.
type assumedJSON struct {
	Instrument string   `json:"instrument,omitempty"`
	Of         []string `json:"of"`
}

type moveJSON struct {
	At        string     `json:"at"`
	Direction string     `json:"direction"`
	Amount    float64    `json:"amount"`
	Unit      string     `json:"unit"`
	Stack     *[]float64 `json:"stack,omitempty"`
}

type findingJSON struct {
	Code string `json:"code"`
	Text string `json:"text"`
}

// EncodeResults writes the results document, unrounded.
func EncodeResults(solved []Solved) ([]byte, error) {
	doc := resultsJSON{ResultsFormat, Version, make([]resultJSON, len(solved))}
	for i, s := range solved {
		doc.Results[i] = encodeResult(s)
	}
	return json.MarshalIndent(doc, "", "  ")
}

func encodeResult(s Solved) resultJSON {
	out := resultJSON{Name: s.Name, Kind: s.Kind, Verdict: s.Verdict.String(), Quantities: []quantityJSON{}, Moves: []moveJSON{}, Findings: []findingJSON{}, Answer: s.Answer, networkJSON: encodeNetwork(s.Network)}
	if r := s.Rivet; r != nil {
		out.CutTo, out.ShopHead = r.CutTo, (*shopHeadJSON)(r.ShopHead)
		if r.Choices != nil {
			out.Choices = &r.Choices
		}
	}
	if s.Amounts != nil {
		out.Amounts = &s.Amounts
	}
	if s.Stack != nil {
		out.Stack = &s.Stack
	}
	for _, q := range s.Quantities {
		j := quantityJSON{Name: q.Name, At: q.At, Unit: q.Dimension.Unit(), Placings: q.Placings}
		if !q.Unseen {
			value, u := q.Value+0, q.U
			j.Value, j.U = &value, &u
		}
		if q.Limit != nil {
			j.Low, j.High, j.Verdict = q.Limit.Low, q.Limit.High, q.Verdict.String()
			for _, part := range q.Doubt() {
				j.Doubt = append(j.Doubt, doubtJSON(part))
			}
		}
		out.Quantities = append(out.Quantities, j)
	}
	for _, a := range s.Assumed {
		out.Assumed = append(out.Assumed, assumedJSON(a))
	}
	for _, m := range s.Moves {
		out.Moves = append(out.Moves, encodeMove(m))
	}
	for _, f := range s.Findings {
		out.Findings = append(out.Findings, findingJSON{f.Code, say.Plain(f.Text)})
	}
	return out
}

func encodeNetwork(n *measure.Network) *networkJSON {
	if n == nil {
		return nil
	}
	out := &networkJSON{Readings: []residualJSON{}, Unseen: append([]string{}, n.Unseen...), Want: n.Want}
	for _, r := range n.Readings {
		j := residualJSON{ID: r.ID, Residual: r.Value + 0, U: r.U, Redundancy: r.Redundancy, Suspect: r.Suspect}
		if r.Checked {
			w, detectable := r.W+0, r.Detectable
			j.W, j.Detectable = &w, &detectable
		}
		out.Readings = append(out.Readings, j)
	}
	for _, q := range n.Reached {
		out.Reached = append(out.Reached, reachedJSON{q.Name, q.At, q.Value + 0, q.Dimension.Unit()})
	}
	for _, next := range n.Next {
		out.Next = append(out.Next, nextJSON{next.Type, next.From, next.To, next.Instrument, next.U})
	}
	return out
}

func encodeMove(m measure.Move) moveJSON {
	out := moveJSON{m.At, m.Direction, m.Amount, "mm", nil}
	if m.Stacked {
		out.Stack = &m.Stack
	}
	return out
}

// EncodeErrors writes the errors document of an unusable worksheet.
func EncodeErrors(errs []Error) ([]byte, error) {
	return json.MarshalIndent(struct {
		Errors []Error `json:"errors"`
	}{errs}, "", "  ")
}
