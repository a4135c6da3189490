// Package stock counts what is used up: rivets set and spoilt, and what will be short.
package stock

import (
	"cmp"
	"math"
	"slices"
)

// Where no rivet of a kind was tried yet, one in twenty is taken to be spoilt; the
// builder's own record outweighs that after some twenty.
const (
	usualSpoilt = 1.0
	usualTries  = 20.0
)

// Stand is how one kind of fastener stands.
type Stand struct {
	Counted int // counted in
	Set     int // in holes now
	Spoilt  int
	ToSet   int // holes that still want one
}

// OnHand is what should be in the box.
func (s Stand) OnHand() int { return s.Counted - s.Set - s.Spoilt }

// Missing is how many more were used than were ever counted in.
func (s Stand) Missing() int { return max(0, -s.OnHand()) }

// SpoilRate is the share of rivets that are spoilt in setting.
func (s Stand) SpoilRate() float64 {
	return (float64(s.Spoilt) + usualSpoilt) / (float64(s.Set+s.Spoilt) + usualTries)
}

// Needed is how many rivets the holes that are left will take, with those that will be
// spoilt on the way: n / (1 − rate), rounded up.
func (s Stand) Needed() int {
	if s.ToSet == 0 {
		return 0
	}
	return int(math.Ceil(float64(s.ToSet)/(1-s.SpoilRate()) - 1e-9))
}

// Short is how many are lacking, 0 where there are enough.
func (s Stand) Short() int { return max(0, s.Needed()-s.OnHand()) }

// Try is one rivet that was set, and what became of it.
type Try struct {
	Cause  string // why it was bad; "" for one that is good
	Crew   string // who held what: solo, with a bucker
	Length string
	Row    string
}

// Yield is how many of a group were good.
type Yield struct {
	Name      string
	Good, Bad int
}

// Share is the good ones' share, in percent.
func (y Yield) Share() float64 {
	if y.Good+y.Bad == 0 {
		return 100
	}
	return 100 * float64(y.Good) / float64(y.Good+y.Bad)
}

// By tallies tries by what a name says of them, the worst yield first.
func By(tries []Try, name func(Try) string) []Yield {
	groups := map[string]*Yield{}
	for _, t := range tries {
		key := name(t)
		if key == "" {
			continue
		}
		if groups[key] == nil {
			groups[key] = &Yield{Name: key}
		}
		if t.Cause == "" {
			groups[key].Good++
		} else {
			groups[key].Bad++
		}
	}
	var out []Yield
	for _, y := range groups {
		out = append(out, *y)
	}
	slices.SortFunc(out, func(a, b Yield) int {
		return cmp.Or(cmp.Compare(a.Share(), b.Share()), cmp.Compare(a.Name, b.Name))
	})
	return out
}
