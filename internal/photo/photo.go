// Package photo keeps pictures with bays, parts, holds and slips.
package photo

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	"sync"
	"time"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"

	"orpine/internal/core/hold"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Photo is a kept picture.
type Photo struct {
	ID, Caption   string
	Width, Height int
	At            time.Time
}

// Photos are those of a workshop.
type Photos struct {
	ledger     *ledger.Ledger
	developing sync.Mutex // held while a picture is decoded: a large one takes memory
}

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "photo",
	Tables: []ledger.Table{{Name: "photos", Class: ledger.Record, Files: []string{"sha256", "thumb"}}},
	Kinds:  ledger.Kinds(kept, mistaken),
}

// New returns them, and lets them provide their evidence.
func New(l *ledger.Ledger, g *gate.Gate) *Photos {
	p := &Photos{ledger: l}
	g.Register(gate.Provider{Needs: []hold.Need{hold.Inside}, Gather: p.inside})
	g.PicturedBy(p.counts)
	return p
}

// counts are how many photos there are of each thing.
func (p *Photos) counts(ctx context.Context, q *query.Queries, ids []string) (map[string]int, error) {
	out := map[string]int{}
	rows, err := q.PhotoCounts(ctx, ids)
	for _, r := range rows {
		out[r.Of] = int(r.Number)
	}
	return out, err
}

// inside counts the photos of bays.
func (p *Photos) inside(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	rows, err := q.PhotoCounts(ctx, gate.About(holds, hold.Inside))
	for _, r := range rows {
		into.Bay(r.Of).Photos = int(r.Number)
	}
	return err
}

// NewPhoto is a picture to be kept with something.
type NewPhoto struct {
	ledger.Form
	Of      string `json:"of" form:"of"` // id of the bay, part, hold or slip
	Caption string `json:"caption,omitempty" form:"caption"`
	SHA256  string `json:"sha256" form:"-"` // of what is kept
	Data    []byte `json:"-" form:"-"`
}

// pictured is a picture as it is kept.
type pictured struct {
	Name   string `json:"name"` // of what it is kept with
	Type   string `json:"type"`
	Width  int64  `json:"width"`
	Height int64  `json:"height"`
	Thumb  string `json:"thumb"` // SHA-256
}

var kept = &ledger.Kind[NewPhoto, pictured]{
	Name: "photo", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewPhoto, f pictured) error {
		return q.AddPhoto(ctx, query.AddPhotoParams{ID: e.ID, Of: n.Of, Caption: n.Caption, Type: f.Type, Width: f.Width, Height: f.Height, Sha256: n.SHA256, Thumb: f.Thumb, At: e.At, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewPhoto, f pictured) ledger.Words {
		return ledger.Words{What: "Photo: " + f.Name, Detail: n.Caption}
	},
}

// Add keeps a picture: it is told by its content, decoded, turned upright and
// written anew, so that nothing but the picture is kept (a telephone writes into it
// where it was taken). Problems are at "photo" and "caption".
func (p *Photos) Add(ctx context.Context, n NewPhoto) error {
	p.developing.Lock()
	f, picture, thumb, err := develop(ctx, n.Data)
	p.developing.Unlock()
	if err != nil {
		return ledger.Problems{"photo": err.Error()}
	}
	n.SHA256, f.Thumb = picture.SHA256, thumb.SHA256
	wrong := ledger.Problems{}
	wrong.Text("caption", &n.Caption, ledger.MaxName, "")
	_, err = ledger.Do(ctx, p.ledger, kept, n.Form, n, func(q *query.Queries) (pictured, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f.Name, err = q.Photographed(ctx, n.Of)
		return f, err
	}, picture, thumb)
	return err
}

func file(data []byte) ledger.File {
	sum := sha256.Sum256(data)
	return ledger.File{SHA256: hex.EncodeToString(sum[:]), Content: data}
}

// orientation is how a camera was held, by its own word: 1 to 8 as EXIF has it, 1 where
// it says nothing that can be read.
func orientation(data []byte, kind string) int {
	held := 1
	format := imagemeta.JPEG
	if kind == "image/png" {
		format = imagemeta.PNG
	}
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(data), ImageFormat: format, Sources: imagemeta.EXIF,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if v, ok := t.Value.(uint16); ok && v >= 1 && v <= 8 {
				held = int(v)
			}
			return nil
		},
		Warnf: func(string, ...any) {},
	})
	if err != nil {
		return 1
	}
	return held
}

// upright turns a picture as its orientation says.
func upright(img image.Image, held int) image.Image {
	if held <= 1 {
		return img
	}
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	size := image.Rect(0, 0, w, h)
	if held >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewRGBA(size)
	at := map[int]func(x, y int) (int, int){
		2: func(x, y int) (int, int) { return w - 1 - x, y },
		3: func(x, y int) (int, int) { return w - 1 - x, h - 1 - y },
		4: func(x, y int) (int, int) { return x, h - 1 - y },
		5: func(x, y int) (int, int) { return y, x },
		6: func(x, y int) (int, int) { return h - 1 - y, x },
		7: func(x, y int) (int, int) { return h - 1 - y, w - 1 - x },
		8: func(x, y int) (int, int) { return y, w - 1 - x },
	}[held]
	from := image.NewRGBA(image.Rect(0, 0, w, h)) // whose points are copied as they lie
	draw.Draw(from, from.Bounds(), img, b.Min, draw.Src)
	for y := range h {
		for x := range w {
			toX, toY := at(x, y)
			copy(out.Pix[out.PixOffset(toX, toY):], from.Pix[from.PixOffset(x, y):from.PixOffset(x, y)+4])
		}
	}
	return out
}

// fit shrinks a picture into a square; a smaller one stays as it is.
func fit(img image.Image, side int) image.Image {
	b := img.Bounds()
	longest := max(b.Dx(), b.Dy())
	if longest <= side {
		return img
	}
	out := image.NewRGBA(image.Rect(0, 0, max(1, b.Dx()*side/longest), max(1, b.Dy()*side/longest)))
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, b, draw.Src, nil)
	return out
}

// Of lists the photos that are kept with some things, by the id of each.
func (p *Photos) Of(ctx context.Context, q *query.Queries, ids ...string) (map[string][]Photo, error) {
	out := map[string][]Photo{}
	if len(ids) == 0 {
		return out, nil
	}
	rows, err := q.PhotosOf(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the photos: %w", err)
	}
	for _, r := range rows {
		out[r.Of] = append(out[r.Of], Photo{r.ID, r.Caption, int(r.Width), int(r.Height), p.ledger.When(r.At)})
	}
	return out, nil
}

// Content is a picture, or its thumbnail, with its type.
func (p *Photos) Content(ctx context.Context, id string, thumb bool) (kind string, data []byte, err error) {
	err = p.ledger.View(ctx, func(q *query.Queries) error {
		row, err := q.Photo(ctx, id)
		if err != nil {
			return err
		}
		name := row.Sha256
		if kind = row.Type; thumb {
			name, kind = row.Thumb, "image/jpeg"
		}
		data, err = q.File(ctx, name)
		return err
	})
	return kind, data, err
}
