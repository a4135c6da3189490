package app

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	_ "image/jpeg" // so that a header is read
	_ "image/png"
	"net/http"
	"strings"
	"time"

	"github.com/disintegration/imaging"

	"orpine/internal/core/journal"
	"orpine/internal/store/query"
)

// The bounds of a photo.
const (
	MaxPhoto  = 15 << 20
	maxPixels = 40_000_000
	thumbSide = 320
)

// Photo is a kept picture.
type Photo struct {
	ID, Caption   string
	Width, Height int
	At            time.Time
}

// NewPhoto is a picture to be kept with something.
type NewPhoto struct {
	ID      string `json:"-"`
	Of      string `json:"of"` // id of the bay, part, hold or slip
	Caption string `json:"caption,omitempty"`
	Data    []byte `json:"-"`
}

// AddPhoto keeps a picture: it is told by its content, decoded, turned upright and
// written anew, so that nothing but the picture is kept (a telephone writes into it
// where it was taken). Problems are at "photo".
func (a *App) AddPhoto(ctx context.Context, n NewPhoto) error {
	a.developing.Lock() // a large picture takes memory: one at a time
	kept, err := readPhoto(n.Data)
	a.developing.Unlock()
	if err != nil {
		return Problems{"photo": err.Error()}
	}
	defer a.alone()()
	wrong := Problems{}
	wrong.text("caption", &n.Caption, maxName, "")
	if err := wrong.err(); err != nil {
		return err
	}
	sum := sha256.Sum256(kept.content)
	kept.Sha256 = hex.EncodeToString(sum[:])
	request := struct {
		NewPhoto
		Sha256 string `json:"sha256"`
	}{n, kept.Sha256}
	var name string
	err = a.view(ctx, func(q *query.Queries) (err error) {
		name, err = photographed(ctx, q, n.Of)
		return err
	})
	if err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Photo, "", request, map[string]any{"name": name, "says": n.Caption}}, func(q *query.Queries, entry int64) error {
		return q.AddPhoto(ctx, query.AddPhotoParams{ID: n.ID, Of: n.Of, Caption: n.Caption, Type: kept.kind, Width: int64(kept.size.X), Height: int64(kept.size.Y), Sha256: kept.Sha256,
			Content: kept.content, Thumb: kept.thumb, At: a.time(), Entry: entry})
	})
}

// photographed names what a photo is kept with, and finds out whether it is there.
func photographed(ctx context.Context, q *query.Queries, id string) (string, error) {
	if b, err := q.Bay(ctx, id); err == nil {
		return b.Name, nil
	}
	if p, err := q.Part(ctx, id); err == nil {
		return p.Name, nil
	}
	if s, err := q.Slip(ctx, id); err == nil {
		return "slip: " + s.Cause, nil
	}
	h, err := q.Hold(ctx, id)
	return h.Name, err
}

// newPhoto is a picture as it is kept.
type newPhoto struct {
	kind           string
	size           image.Point
	content, thumb []byte
	Sha256         string
}

// readPhoto decodes a JPEG or PNG and writes it anew.
func readPhoto(data []byte) (newPhoto, error) {
	var p newPhoto
	switch {
	case len(data) == 0:
		return p, fmt.Errorf("choose a picture")
	case len(data) > MaxPhoto:
		return p, fmt.Errorf("is larger than 15 MB")
	}
	p.kind = http.DetectContentType(data)
	format, ok := map[string]imaging.Format{"image/jpeg": imaging.JPEG, "image/png": imaging.PNG}[p.kind]
	if !ok {
		return p, fmt.Errorf("is neither a JPEG nor a PNG picture, whatever its name says")
	}
	header, named, err := image.DecodeConfig(bytes.NewReader(data))
	switch {
	case err != nil || named != strings.TrimPrefix(p.kind, "image/"):
		return p, fmt.Errorf("cannot be read: it is damaged")
	case header.Width <= 0 || header.Height <= 0 || header.Width > maxPixels/header.Height:
		return p, fmt.Errorf("has more than %d million points", maxPixels/1_000_000)
	}
	picture, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true))
	if err != nil {
		return p, fmt.Errorf("cannot be read: it is damaged")
	}
	p.size = picture.Bounds().Size()
	var content, thumb bytes.Buffer
	if err := imaging.Encode(&content, picture, format, imaging.JPEGQuality(90)); err != nil {
		return p, fmt.Errorf("cannot be written: %w", err)
	}
	if err := imaging.Encode(&thumb, imaging.Fit(picture, thumbSide, thumbSide, imaging.Box), imaging.JPEG, imaging.JPEGQuality(80)); err != nil {
		return p, fmt.Errorf("cannot be written: %w", err)
	}
	p.content, p.thumb = content.Bytes(), thumb.Bytes()
	return p, nil
}

func (a *App) photos(ctx context.Context, q *query.Queries, of string) ([]Photo, error) {
	rows, err := q.PhotosOf(ctx, of)
	var out []Photo
	for _, r := range rows {
		out = append(out, Photo{r.ID, r.Caption, int(r.Width), int(r.Height), a.when(r.At)})
	}
	return out, err
}

// PhotoContent is a picture, or its thumbnail, with its type.
func (a *App) PhotoContent(ctx context.Context, id string, thumb bool) (kind string, data []byte, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		if thumb {
			kind = "image/jpeg"
			data, err = q.Thumb(ctx, id)
			return err
		}
		row, err := q.Photo(ctx, id)
		kind, data = row.Type, row.Content
		return err
	})
	return kind, data, err
}
