package photo_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/ledger"
	"orpine/internal/photo"
	"orpine/test/loft"
)

// A photograph as a telephone writes it: turned by its Exif orientation (6: a quarter
// turn), and with a place in it.
func photograph(t *testing.T) []byte {
	t.Helper()
	picture := image.NewRGBA(image.Rect(0, 0, 60, 20))
	for x := range 60 {
		picture.Set(x, 3, color.RGBA{200, 30, 30, 255})
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, picture, nil))
	exif := []byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00GPSLatitude 54 19 N")
	segment := append([]byte{0xff, 0xe1}, binary.BigEndian.AppendUint16(nil, uint16(len(exif)+2))...) //nolint:gosec // short
	return append(append(append([]byte{}, b.Bytes()[:2]...), append(segment, exif...)...), b.Bytes()[2:]...)
}

func TestOnlyThePictureOfAPhotoIsKept(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	bay := loft.BenchBay
	data := photograph(t)
	require.Contains(t, string(data), "GPSLatitude")
	once := l.Form()
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: once, Of: bay, Caption: "the bay", Data: data}))
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: once, Of: bay, Caption: "the bay", Data: data}), "sent twice")
	kind, kept, err := l.Photos.Content(l.Ctx(), once.ID, false)
	require.NoError(t, err)
	assert.Equal(t, "image/jpeg", kind)
	assert.NotContains(t, string(kept), "GPS")
	assert.NotContains(t, string(kept), "Exif")
	size, _, err := image.DecodeConfig(bytes.NewReader(kept))
	require.NoError(t, err)
	assert.Equal(t, []int{20, 60}, []int{size.Width, size.Height}, "turned upright")
	_, thumb, err := l.Photos.Content(l.Ctx(), once.ID, true)
	require.NoError(t, err)
	assert.NotEmpty(t, thumb)
	for says, data := range map[string][]byte{
		"choose a JPEG or PNG": nil, "neither a JPEG nor a PNG": []byte("<svg onload=alert(1)>"), "damaged": append([]byte("\x89PNG\r\n\x1a\n"), 1, 2, 3), "larger than 40 MB": make([]byte, photo.MaxBytes+1),
		"million points": bigHeader(),
	} {
		assert.Contains(t, loft.Problems(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: bay, Data: data}))["photo"], says)
	}
	assert.ErrorIs(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: "nothing", Data: data}), ledger.ErrNotFound)
}

// bigHeader is a PNG that says it has 100,000 by 100,000 points.
func bigHeader() []byte {
	chunk := []byte("IHDR\x00\x01\x86\xa0\x00\x01\x86\xa0\x08\x00\x00\x00\x00")
	out := append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\r"), chunk...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(chunk))
}
