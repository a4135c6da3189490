package photo_test

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"os"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/photo"
	"orpine/test/loft"
)

// TestMain lets this program develop a picture in a process of its own, as the real one does.
func TestMain(m *testing.M) {
	if os.Getenv("ORPINE_DEVELOPS") == "" {
		os.Exit(m.Run())
	}
	var data bytes.Buffer
	_, err := data.ReadFrom(os.Stdin)
	if err == nil {
		err = photo.Confine()
	}
	if err != nil || photo.Answer(os.Stdout, data.Bytes()) != nil {
		os.Exit(1)
	}
}

// inChild has pictures developed in a process of their own for a test.
func inChild(t *testing.T) {
	t.Helper()
	photo.Child = func(ctx context.Context) *exec.Cmd {
		cmd := exec.CommandContext(ctx, os.Args[0])
		cmd.Env = append(os.Environ(), "ORPINE_DEVELOPS=yes")
		return cmd
	}
	t.Cleanup(func() { photo.Child = nil })
}

// large is a picture of so many points: as a phone takes it, or of 16 bits a colour, which packs
// into little and unpacks into much.
func large(t *testing.T, w, h int, deep bool) []byte {
	t.Helper()
	var b bytes.Buffer
	if deep {
		require.NoError(t, (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, image.NewNRGBA64(image.Rect(0, 0, w, h))))
		return b.Bytes()
	}
	picture := image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio420)
	require.NoError(t, jpeg.Encode(&b, picture, nil))
	return b.Bytes()
}

// What was seen to take 19 s and 1.3 GB in the server itself, and phones' own 50 million points,
// are taken, and shrunk to what is kept.
func TestLargePicturesAreShrunkInAProcessOfTheirOwn(t *testing.T) {
	t.Parallel()
	inChild(t)
	l := loft.Bench(t, 2)
	for name, data := range map[string][]byte{"16 bits": large(t, 6000, 5000, true), "50 million points": large(t, 8160, 6120, false)} {
		once := l.Form()
		require.NoError(t, l.Photos.Add(t.Context(), photo.NewPhoto{Form: once, Of: loft.BenchBay, Data: data}), name)
		kind, kept, err := l.Photos.Content(t.Context(), once.ID, false)
		require.NoError(t, err)
		assert.Equal(t, "image/jpeg", kind)
		size, _, err := image.DecodeConfig(bytes.NewReader(kept))
		require.NoError(t, err)
		assert.LessOrEqual(t, size.Width*size.Height, 12_500_000, name)
		assert.Greater(t, size.Width*size.Height, 8_000_000, name)
	}
	l.Verify()
}

func TestAPictureThatEndsItsProcessIsRefusedAndNothingElse(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	for _, command := range []string{"false", "true"} { // it was ended; it said nothing
		photo.Child = func(ctx context.Context) *exec.Cmd { return exec.CommandContext(ctx, command) }
		t.Cleanup(func() { photo.Child = nil })
		says := loft.Problems(t, l.Photos.Add(t.Context(), photo.NewPhoto{Form: l.Form(), Of: loft.BenchBay, Data: photograph(t)}))["photo"]
		assert.Contains(t, []string{"takes more memory, or longer, to be read than a picture may: send it smaller, as a JPEG", "cannot be read: it is damaged"}, says)
	}
	inChild(t)
	require.NoError(t, l.Photos.Add(t.Context(), photo.NewPhoto{Form: l.Form(), Of: loft.BenchBay, Data: photograph(t)}))
}

func TestAPhonesOwnFormatIsNamedInTheRefusal(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	for _, brand := range []string{"heic", "mif1", "hevc"} {
		says := loft.Problems(t, l.Photos.Add(t.Context(), photo.NewPhoto{Form: l.Form(), Of: loft.BenchBay, Data: append([]byte("\x00\x00\x00\x18ftyp"+brand), make([]byte, 40)...)}))["photo"]
		assert.Contains(t, says, "HEIC")
		assert.Contains(t, says, "JPEG")
	}
}

// A picture lies the right way up whichever of the eight ways its camera was held.
func TestAPictureKeepsItsColoursWhenItIsTurned(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	picture := image.NewRGBA(image.Rect(0, 0, 60, 20))
	draw.Draw(picture, picture.Bounds(), image.NewUniform(color.RGBA{20, 160, 60, 255}), image.Point{}, draw.Src)
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, picture))
	once := l.Form()
	require.NoError(t, l.Photos.Add(t.Context(), photo.NewPhoto{Form: once, Of: loft.BenchBay, Data: b.Bytes()}))
	_, kept, err := l.Photos.Content(t.Context(), once.ID, false)
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(kept))
	require.NoError(t, err)
	r, g, blue, _ := img.At(30, 10).RGBA()
	assert.Equal(t, []uint32{20, 160, 60}, []uint32{r >> 8, g >> 8, blue >> 8})
}
