package photo

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"strings"
	"testing"
)

// noise is a picture that compresses badly; its left half is dark.
func noise(w, h int) image.Image {
	r := rand.New(rand.NewPCG(1, 1))
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			v := uint8(r.IntN(60))
			if x >= w/2 {
				v += 190
			}
			m.Set(x, y, color.RGBA{v, uint8(r.IntN(40)) + v/2, v, 255})
		}
	}
	return m
}

// turned is a JPEG with an orientation of 6 in its header: to be turned a
// quarter clockwise.
func turned(t *testing.T, m image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		t.Fatal(err)
	}
	exif := append([]byte("Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x01"), 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0, 0, 0, 0)
	head := binary.BigEndian.AppendUint16([]byte{0xff, 0xd8, 0xff, 0xe1}, uint16(len(exif)+2))
	return append(append(head, exif...), b.Bytes()[2:]...)
}

func TestShrink(t *testing.T) {
	var large bytes.Buffer
	if err := png.Encode(&large, noise(2400, 1200)); err != nil {
		t.Fatal(err)
	}
	out, err := Shrink(t.Context(), &large)
	if err != nil {
		t.Fatal(err)
	}
	size, format, err := image.DecodeConfig(bytes.NewReader(out))
	if err != nil || format != "jpeg" || size.Width != 1600 || size.Height != 800 {
		t.Errorf("%s %+v %v", format, size, err)
	}
	t.Logf("%d kB kept", len(out)>>10)

	out, err = Shrink(t.Context(), bytes.NewReader(turned(t, noise(300, 200))))
	if err != nil {
		t.Fatal(err)
	}
	m, err := jpeg.Decode(bytes.NewReader(out))
	if err != nil || m.Bounds().Dx() != 200 || m.Bounds().Dy() != 300 {
		t.Fatalf("not turned: %v %v", m.Bounds(), err)
	}
	if top, _, _, _ := m.At(100, 30).RGBA(); top>>8 > 110 {
		t.Error("turned the wrong way: the dark half is not on top")
	}
	if bytes.Contains(out, []byte("Exif")) {
		t.Error("what the camera wrote into the file was kept")
	}
}

func TestWhatIsNoPicture(t *testing.T) {
	head := []byte("IHDR\x00\x01\x86\xa0\x00\x01\x86\xa0\x08\x02\x00\x00\x00") // 100,000 pixels square
	bomb := append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\r"), binary.BigEndian.AppendUint32(head, crc32.ChecksumIEEE(head))...)
	for name, test := range map[string]struct {
		data string
		want error
	}{
		"text":     {"<script>alert(1)</script>", ErrNotAPicture},
		"empty":    {"", ErrNotAPicture},
		"gif":      {"GIF89a\x01\x00\x01\x00\x00\x00\x00;", ErrNotAPicture},
		"cut off":  {string(turned(t, noise(50, 50))[:200]), ErrNotAPicture},
		"huge":     {string(bomb), ErrTooLarge},
		"too long": {strings.Repeat("x", MaxUpload+1), ErrTooLarge},
	} {
		if _, err := Shrink(t.Context(), strings.NewReader(test.data)); !errors.Is(err, test.want) {
			t.Errorf("%s: %v, want %v", name, err, test.want)
		}
	}
}
