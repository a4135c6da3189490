package planning

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"time"

	"orpine/internal/core/plan"
	"orpine/internal/core/spoken"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// AwaySet is when the builder is away: all of it, said anew each time.
type AwaySet struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"` // id
	Away     string `json:"away" form:"away"`  // "24 Dec to 2 Jan, 10 to 20 July"
}

// AwayDays are a first and a last day, both away.
type AwayDays struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// away is what was understood of it.
type away struct {
	Name string     `json:"name"`
	Days []AwayDays `json:"days"`
}

var awaySet = &ledger.Kind[AwaySet, away]{
	Name: "plan-away", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n AwaySet, f away) error {
		days, err := json.Marshal(f.Days)
		if err != nil {
			return err
		}
		return q.SetPlanAway(ctx, query.SetPlanAwayParams{AirframeID: n.Airframe, Days: string(days), Entry: e.Seq})
	},
	Words: func(_ AwaySet, f away) ledger.Words {
		return ledger.Words{What: "away: " + f.Name, Detail: SayAway(f.Days)}
	},
}

// SayAway writes days away as they can be typed again.
func SayAway(days []AwayDays) string {
	var out []string
	for _, d := range days {
		if d.From == d.To {
			out = append(out, d.From)
			continue
		}
		out = append(out, d.From+" to "+d.To)
	}
	return strings.Join(out, ", ")
}

// mostAways is how many times away a builder may name.
const mostAways = 50

var (
	awayParts = regexp.MustCompile(`\s*[,;\n]\s*`)
	awayTo    = regexp.MustCompile(`(?i)^(.+?)\s+(?:to|until|–|—|-)\s+(.+)$`)
	bareDay   = regexp.MustCompile(`^\d{1,2}\.?$`)
	monthOf   = regexp.MustCompile(`[A-Za-z]{3,9}(?:\s+\d{4})?$`)
)

// ReadAway reads times away as people write them: "24 Dec to 2 Jan, 10 to 20 July, 2027-05-17". A day
// without a year is the nearest; the last day is the nearest to the first.
func ReadAway(text string, now time.Time) (out []AwayDays, err error) {
	for _, part := range awayParts.Split(strings.TrimSpace(text), -1) {
		if part == "" {
			continue
		}
		first, last := part, part
		if m := awayTo.FindStringSubmatch(part); m != nil {
			if first, last = m[1], m[2]; bareDay.MatchString(first) { // "10 to 20 July"
				first = strings.TrimSuffix(first, ".") + " " + monthOf.FindString(last)
			}
		}
		d := AwayDays{}
		if d.From, err = spoken.Day(first, now); err != nil {
			return nil, fmt.Errorf("“%s”: %w", part, err)
		}
		at, err := time.ParseInLocation(time.DateOnly, d.From, now.Location())
		if err != nil {
			return nil, err
		}
		if d.To, err = spoken.Day(last, at); err != nil {
			return nil, fmt.Errorf("“%s”: %w", part, err)
		}
		if d.To < d.From {
			return nil, fmt.Errorf("“%s” ends before it begins", part)
		}
		out = append(out, d)
	}
	if len(out) > mostAways {
		return nil, fmt.Errorf("more than %d times", mostAways)
	}
	return out, nil
}

// SetAway says when the builder is away. A problem is at "away".
func (p *Planning) SetAway(ctx context.Context, n AwaySet) error {
	wrong := ledger.Problems{}
	days, err := ReadAway(n.Away, p.ledger.Now())
	if err != nil {
		wrong.Add("away", err.Error())
	}
	_, err = ledger.Do(ctx, p.ledger, awaySet, n.Form, n, func(q *query.Queries) (f away, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		return away{frame.Name, append([]AwayDays{}, days...)}, nil
	})
	return err
}

// Away is when the builder of an airframe is away.
func Away(ctx context.Context, q *query.Queries, airframe string) (days []AwayDays, err error) {
	text, err := q.PlanAway(ctx, airframe)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(text), &days)
	}
	if err != nil {
		return nil, fmt.Errorf("reading the days away: %w", err)
	}
	return days, nil
}

// Planned are days away as a plan has them.
func Planned(days []AwayDays) (out [][2]plan.Date) {
	for _, d := range days {
		from, to := DateOf(d.From), DateOf(d.To)
		if from != nil && to != nil {
			out = append(out, [2]plan.Date{*from, *to})
		}
	}
	return out
}
