package photo

import (
	"bytes"
	"context"
	"encoding/gob"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"net/http"
	"os/exec"
	"runtime/debug"
	"strings"
	"time"

	"golang.org/x/image/draw"

	"orpine/internal/ledger"
)

// The bounds of a picture.
const (
	MaxBytes   = 40 << 20
	maxPixels  = 51_000_000 // that are decoded: a phone takes 48 or 50 million
	keptPixels = 12_500_000 // that are kept: 4,000 × 3,000 and a little
	pngPixels  = 3_000_000  // up to which a PNG stays one; a larger one is a photograph
	thumbSide  = 320        //
	developing = 30 * time.Second
	childBytes = 900 << 20 // of memory that a picture may take
)

// Child is the command that develops a picture in a process of its own, as the program's
// "develop"; nil develops it in this one, as tests do.
var Child func(ctx context.Context) *exec.Cmd

// developed is a picture as it is kept, with its thumbnail.
type developed struct {
	Facts          pictured
	Picture, Thumb []byte
	Wrong          string // why not; "" for one that was developed
}

// develop makes of a picture what is kept of it. The error is one for whoever sent it.
func develop(ctx context.Context, data []byte) (f pictured, picture, thumb ledger.File, err error) {
	if _, err := look(data); err != nil {
		return f, picture, thumb, err
	}
	d := developed{}
	if Child == nil {
		d = here(data)
	} else if d, err = inChild(ctx, data); err != nil {
		return f, picture, thumb, err
	}
	if d.Wrong != "" {
		return f, picture, thumb, errors.New(d.Wrong)
	}
	return d.Facts, file(d.Picture), file(d.Thumb), nil
}

func inChild(ctx context.Context, data []byte) (d developed, err error) {
	ctx, cancel := context.WithTimeout(ctx, developing)
	defer cancel()
	cmd := Child(ctx)
	var out bytes.Buffer
	cmd.Stdin, cmd.Stdout = bytes.NewReader(data), &out
	if err := cmd.Run(); err != nil {
		return d, errors.New("takes more memory, or longer, to be read than a picture may: send it smaller, as a JPEG")
	}
	if err := gob.NewDecoder(&out).Decode(&d); err != nil {
		return d, errors.New("cannot be read: it is damaged")
	}
	return d, nil
}

// Confine bounds the memory of this process, which develops one picture and ends.
func Confine() error {
	debug.SetMemoryLimit(childBytes * 2 / 3)
	if err := bound(childBytes); err != nil {
		return fmt.Errorf("bounding the memory: %w", err)
	}
	return nil
}

// Answer develops a picture and writes it as develop reads it.
func Answer(w io.Writer, data []byte) error { return gob.NewEncoder(w).Encode(here(data)) }

// here develops a picture in this process: it is shrunk, turned upright and written anew, so that
// nothing but the picture is kept (a telephone writes into it where it was taken).
func here(data []byte) (d developed) {
	kind, err := look(data)
	if err != nil {
		return developed{Wrong: err.Error()}
	}
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return developed{Wrong: "cannot be read: it is damaged"}
	}
	img = upright(shrunk(img), orientation(data, kind))
	size := img.Bounds().Size()
	if kind == "image/png" && size.X*size.Y > pngPixels {
		kind = "image/jpeg"
	}
	d.Facts = pictured{Type: kind, Width: int64(size.X), Height: int64(size.Y)}
	var content, small bytes.Buffer
	if kind == "image/png" {
		err = png.Encode(&content, img)
	} else {
		err = jpeg.Encode(&content, img, &jpeg.Options{Quality: 90})
	}
	err = errors.Join(err, jpeg.Encode(&small, fit(img, thumbSide), &jpeg.Options{Quality: 80}))
	if err != nil {
		return developed{Wrong: "cannot be written: " + err.Error()}
	}
	d.Picture, d.Thumb = content.Bytes(), small.Bytes()
	return d
}

// look tells the type of a picture by its content, and refuses what
// cannot be kept.
func look(data []byte) (kind string, err error) {
	switch {
	case len(data) == 0:
		return "", fmt.Errorf("choose a JPEG or PNG picture of %d MB at most", MaxBytes>>20)
	case len(data) > MaxBytes:
		return "", fmt.Errorf("is larger than %d MB", MaxBytes>>20)
	case len(data) > 12 && string(data[4:8]) == "ftyp" && strings.Contains("heic heix hevc heim heis mif1 msf1", string(data[8:12])):
		return "", errors.New("is a HEIC picture, which is not read here: set the phone’s camera to JPEG (“most compatible”), or send a screenshot of it")
	}
	kind = http.DetectContentType(data)
	if kind != "image/jpeg" && kind != "image/png" {
		return "", errors.New("is neither a JPEG nor a PNG picture, whatever its name says")
	}
	header, named, err := image.DecodeConfig(bytes.NewReader(data))
	switch {
	case err != nil || named != strings.TrimPrefix(kind, "image/"):
		return "", errors.New("cannot be read: it is damaged")
	case header.Width <= 0 || header.Height <= 0 || header.Width > maxPixels/header.Height:
		return "", fmt.Errorf("has more than %d million points", maxPixels/1_000_000-1)
	}
	return kind, nil
}

// shrunk is a picture with no more points than are kept.
func shrunk(img image.Image) image.Image {
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	if w*h <= keptPixels {
		return img
	}
	for w*h > keptPixels {
		w, h = w*9/10, h*9/10
	}
	out := image.NewRGBA(image.Rect(0, 0, max(w, 1), max(h, 1)))
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, b, draw.Src, nil)
	return out
}
