// Package simulated is a supplier that ships with the program: it quotes, confirms, delays, and
// now and then sends the wrong hand or too few. All of it follows from its seed and the order,
// so that it needs no memory: what is ordered stands in the number that it gives.
package simulated

import (
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"
	"math/rand/v2"
	"net/http"
	"strings"
	"time"

	"orpine/internal/supplier"
)

// Supplier is one.
type Supplier struct{ Seed uint64 }

// The shares of what goes wrong.
const (
	wrongHand = 0.25 // of parts with a hand
	tooFew    = 0.15 // of several
	isLate    = 0.5
)

// creditDays is how long it takes until what was sent back is credited.
const creditDays = 9

// draw is a source of chance of its own for an order, or for an item.
func (s Supplier) draw(what string) *rand.Rand {
	h := fnv.New64a()
	_, _ = h.Write([]byte(what)) // never fails
	return rand.New(rand.NewPCG(s.Seed, h.Sum64()))
}

// Quote is what it costs.
func (s Supplier) Quote(a supplier.Asked) (supplier.Quote, error) {
	if strings.TrimSpace(a.Item) == "" || a.Count < 0 || a.Count > 100_000 || len(a.Item) > 200 {
		return supplier.Quote{}, errors.New("an item and a count from 1 to 100,000 are wanted")
	}
	r := s.draw("item " + strings.ToLower(a.Item))
	return supplier.Quote{Price: int64(max(a.Count, 1)) * int64(20+r.IntN(4_000)), Currency: "EUR", LeadDays: 4 + r.IntN(24)}, nil
}

// Order confirms an order.
func (s Supplier) Order(a supplier.Asked) (supplier.Standing, error) {
	q, err := s.Quote(a)
	if err != nil {
		return supplier.Standing{}, err
	}
	day, err := time.Parse(time.DateOnly, a.Day)
	if err != nil || a.ID == "" || len(a.ID) > 64 {
		return supplier.Standing{}, errors.New("an id and the day are wanted")
	}
	if a.Hand != "" && a.Hand != "left" && a.Hand != "right" {
		return supplier.Standing{}, errors.New("the hand is left or right")
	}
	data, err := json.Marshal(a)
	if err != nil {
		return supplier.Standing{}, err
	}
	return supplier.Standing{Quote: q, Ref: base64.RawURLEncoding.EncodeToString(data), Promised: day.AddDate(0, 0, q.LeadDays).Format(time.DateOnly), Says: "confirmed"}, nil
}

// fate is what becomes of an order.
type fate struct {
	supplier.Asked
	supplier.Quote
	promised, sent, delivered time.Time
	told                      time.Time // when it says that it is late
	parcel                    supplier.Parcel
}

func (s Supplier) fate(ref string) (f fate, err error) {
	data, err := base64.RawURLEncoding.DecodeString(ref)
	if err == nil {
		err = json.Unmarshal(data, &f.Asked)
	}
	day, dated := time.Parse(time.DateOnly, f.Day)
	if err != nil || dated != nil {
		return f, errors.New("there is no such order")
	}
	if f.Quote, err = s.Quote(f.Asked); err != nil {
		return f, err
	}
	r := s.draw("order " + f.ID)
	late := 0
	if r.Float64() < isLate {
		late = 2 + r.IntN(18)
	}
	f.promised = day.AddDate(0, 0, f.LeadDays)
	f.delivered = f.promised.AddDate(0, 0, late)
	f.sent, f.told = f.delivered.AddDate(0, 0, -2), f.promised.AddDate(0, 0, -1)
	f.parcel = supplier.Parcel{Label: strings.TrimSpace(f.Item + " " + f.Hand), Pieces: max(f.Count, 1)}
	hand := f.Hand
	if hand != "" && r.Float64() < wrongHand {
		hand = map[string]string{"left": "right", "right": "left"}[hand]
	}
	if f.parcel.Pieces > 4 && r.Float64() < tooFew {
		f.parcel.Pieces -= 1 + r.IntN(f.parcel.Pieces/4)
	}
	if hand != "" {
		f.parcel.Looks = "laid with its flange up, its nose points to the " + hand
	}
	return f, nil
}

// Standing is how far an order is on a day.
func (s Supplier) Standing(ref, day, returned string) (supplier.Standing, error) {
	f, err := s.fate(ref)
	if err != nil {
		return supplier.Standing{}, err
	}
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return supplier.Standing{}, errors.New("on which day?")
	}
	out := supplier.Standing{Quote: f.Quote, Ref: ref, Promised: f.promised.Format(time.DateOnly), Says: "in hand"}
	if !at.Before(f.told) && f.delivered.After(f.promised) {
		out.Promised, out.Says = f.delivered.Format(time.DateOnly), fmt.Sprintf("late by %d days", int(f.delivered.Sub(f.promised).Hours()/24))
	}
	if !at.Before(f.sent) {
		out.Sent, out.Says = f.sent.Format(time.DateOnly), "sent"
	}
	if !at.Before(f.delivered) {
		out.Delivered, out.Says = f.delivered.Format(time.DateOnly), "delivered"
	}
	if back, err := time.Parse(time.DateOnly, returned); err == nil {
		out.Says = "sent back"
		if credit := back.AddDate(0, 0, creditDays); !at.Before(credit) {
			out.Credited, out.Says = credit.Format(time.DateOnly), "credited"
		}
	}
	return out, nil
}

// Parcel is what lies in the box, from the day on which it came.
func (s Supplier) Parcel(ref, day string) (supplier.Parcel, error) {
	f, err := s.fate(ref)
	if err != nil {
		return supplier.Parcel{}, err
	}
	if at, err := time.Parse(time.DateOnly, day); err != nil || at.Before(f.delivered) {
		return supplier.Parcel{}, errors.New("it has not come yet")
	}
	return f.parcel, nil
}

// Handler answers over HTTP.
func (s Supplier) Handler() http.Handler {
	mux := http.NewServeMux()
	answer := func(w http.ResponseWriter, v any, err error) {
		w.Header().Set("Content-Type", "application/json")
		if err != nil {
			w.WriteHeader(http.StatusUnprocessableEntity)
			v = map[string]string{"error": err.Error()}
		}
		_ = json.NewEncoder(w).Encode(v) // whoever asked may be gone
	}
	asked := func(w http.ResponseWriter, r *http.Request) (a supplier.Asked, err error) {
		if json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<16)).Decode(&a) != nil {
			err = errors.New("a JSON object is wanted")
		}
		return a, err
	}
	mux.HandleFunc("POST /quotes", func(w http.ResponseWriter, r *http.Request) {
		a, err := asked(w, r)
		q := supplier.Quote{}
		if err == nil {
			q, err = s.Quote(a)
		}
		answer(w, q, err)
	})
	mux.HandleFunc("POST /orders", func(w http.ResponseWriter, r *http.Request) {
		a, err := asked(w, r)
		st := supplier.Standing{}
		if err == nil {
			st, err = s.Order(a)
		}
		answer(w, st, err)
	})
	mux.HandleFunc("GET /orders/{ref}", func(w http.ResponseWriter, r *http.Request) {
		st, err := s.Standing(r.PathValue("ref"), r.URL.Query().Get("day"), r.URL.Query().Get("returned"))
		answer(w, st, err)
	})
	mux.HandleFunc("GET /parcels/{ref}", func(w http.ResponseWriter, r *http.Request) {
		p, err := s.Parcel(r.PathValue("ref"), r.URL.Query().Get("day"))
		answer(w, p, err)
	})
	return mux
}
