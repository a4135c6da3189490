// Package wiring is the only list of capabilities, and opens a workshop with them.
package wiring

import (
	"context"
	"log/slog"
	"net/http"
	"path/filepath"
	"slices"
	"time"

	"orpine/internal/account"
	"orpine/internal/airframe"
	"orpine/internal/amending"
	"orpine/internal/archive"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/coating"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/planning"
	"orpine/internal/practice"
	"orpine/internal/riveting"
	"orpine/internal/store"
	"orpine/internal/stores"
	accountsheet "orpine/internal/web/account"
	airframesheet "orpine/internal/web/airframe"
	amendingsheet "orpine/internal/web/amending"
	askingsheet "orpine/internal/web/asking"
	closingsheet "orpine/internal/web/closing"
	coatingsheet "orpine/internal/web/coating"
	filessheet "orpine/internal/web/files"
	findingsheet "orpine/internal/web/finding"
	guidesheet "orpine/internal/web/guide"
	holdingsheet "orpine/internal/web/holding"
	instrumentsheet "orpine/internal/web/instrument"
	"orpine/internal/web/kinds"
	livesheet "orpine/internal/web/live"
	logbooksheet "orpine/internal/web/logbook"
	measuringsheet "orpine/internal/web/measuring"
	papersheet "orpine/internal/web/paper"
	photosheet "orpine/internal/web/photo"
	planningsheet "orpine/internal/web/planning"
	practicesheet "orpine/internal/web/practice"
	rivetingsheet "orpine/internal/web/riveting"
	storessheet "orpine/internal/web/stores"
	"orpine/internal/web/ui"
)

// Part is a capability with its sheets.
type Part struct {
	Capability ledger.Capability
	Routes     func(u *ui.UI) // nil for one without a sheet
}

// Parts are all of them.
var Parts = []Part{
	{airframe.Capability, airframesheet.Routes},
	{instrument.Capability, instrumentsheet.Routes},
	{gate.Capability, nil},
	{measuring.Capability, measuringsheet.Routes},
	{riveting.Capability, rivetingsheet.Routes},
	{closing.Capability, closingsheet.Routes},
	{stores.Capability, storessheet.Routes},
	{photo.Capability, photosheet.Routes},
	{logbook.Capability, logbooksheet.Routes},
	{planning.Capability, planningsheet.Routes},
	{asking.Capability, askingsheet.Routes},
	{coating.Capability, coatingsheet.Routes},
	{amending.Capability, amendingsheet.Routes},
	{archive.Capability, filessheet.Routes},
	{practice.Capability, nil},
	{account.Capability, nil},
	{ledger.Capability{Name: "live"}, livesheet.Routes},
	{ledger.Capability{Name: "paper"}, papersheet.Routes},
	{ledger.Capability{Name: "guide"}, guidesheet.Routes},
	{ledger.Capability{Name: "finding"}, findingsheet.Routes},
	{holding.Capability, holdingsheet.Routes(holdingsheet.Drawings{Setup: kinds.DrawLast, Rows: rivetingsheet.DrawLying})},
}

// Capabilities are those of some parts.
func Capabilities(parts []Part) []ledger.Capability {
	out := make([]ledger.Capability, len(parts))
	for i, p := range parts {
		out[i] = p.Capability
	}
	return out
}

// Open opens the workshop of a store. now tells the time, in whatever zone; zone is
// the workshop's.
func Open(ctx context.Context, s *store.Store, now func() time.Time, zone *time.Location) (*overview.Workshop, error) {
	return open(ctx, s, now, zone, Parts)
}

func open(ctx context.Context, s *store.Store, now func() time.Time, zone *time.Location, parts []Part) (*overview.Workshop, error) {
	l, err := ledger.Open(ctx, s, now, zone, Capabilities(parts)...)
	if err != nil {
		return nil, err
	}
	w := overview.New(l)
	w.FindIn = filepath.Join(filepath.Dir(s.Path()), "find.db")
	return w, w.Holding.Reckon(ctx)
}

// Verify looks at the workshop of a store as it lies there, whoever left it: nothing is brought up to
// date, and nothing is written.
func Verify(ctx context.Context, s *store.Store) (ledger.Report, error) {
	l, err := ledger.Aside(s, Capabilities(Parts)...)
	if err != nil {
		return ledger.Report{}, err
	}
	return overview.New(l).Ledger.Verify(ctx)
}

// Handler is the interface of a workshop, mounted under a prefix ("" for none).
func Handler(w *overview.Workshop, log *slog.Logger, build, prefix string) (http.Handler, error) {
	return handler(w, log, build, prefix, Parts)
}

// Beside is what a workshop has beside it: a trainer, and a door where people sign in.
type Beside struct {
	Trainer bool
	Door    *accountsheet.Door // nil for none
}

// HandlerBeside is Handler for a workshop with more beside it. Whoever is at the door is found out
// by the door's own Handler, around all of them.
func HandlerBeside(w *overview.Workshop, log *slog.Logger, build string, beside Beside) (http.Handler, error) {
	u, err := interfaceOf(w, log, build, "", append(slices.Clone(Parts), beside.part()))
	if err != nil {
		return nil, err
	}
	return u.Handler()
}

func (b Beside) part() Part {
	return Part{ledger.Capability{Name: "beside"}, func(u *ui.UI) {
		if b.Trainer {
			u.Trainer = ui.TrainerPath
		}
		if b.Door != nil {
			b.Door.Routes(u)
		}
	}}
}

// Routes are those of a workshop with all that may be beside it, as METHOD PATH.
func Routes(w *overview.Workshop, door *accountsheet.Door) ([]string, error) {
	u, err := interfaceOf(w, slog.New(slog.DiscardHandler), "", "", append(slices.Clone(Parts), Beside{true, door}.part(), Part{ledger.Capability{Name: "trainer"}, practicesheet.Routes(practice.New(w))}))
	if err != nil {
		return nil, err
	}
	return u.Routes(), nil
}

// Trainer is the interface of a trainer, over a workshop of its own.
func Trainer(ctx context.Context, w *overview.Workshop, log *slog.Logger, build string) (http.Handler, error) {
	p := practice.New(w)
	if err := p.Resume(ctx); err != nil {
		log.Error("letting the instruments of practice speak", "error", err)
	}
	return handler(w, log, build, ui.PracticeAt, append(slices.Clone(Parts), Part{ledger.Capability{Name: "trainer"}, practicesheet.Routes(p)}))
}

func handler(w *overview.Workshop, log *slog.Logger, build, prefix string, parts []Part) (http.Handler, error) {
	u, err := interfaceOf(w, log, build, prefix, parts)
	if err != nil {
		return nil, err
	}
	return u.Handler()
}

func interfaceOf(w *overview.Workshop, log *slog.Logger, build, prefix string, parts []Part) (*ui.UI, error) {
	u := ui.New(w, log, build, prefix)
	for _, p := range parts {
		if p.Routes != nil {
			p.Routes(u)
		}
	}
	return u, nil
}
