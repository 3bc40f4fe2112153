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
	"runtime"
	"runtime/debug"
	"strings"
	"sync"
	"testing"
	"time"
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
		t.Run(name, func(t *testing.T) {
			if _, err := Shrink(t.Context(), strings.NewReader(test.data)); !errors.Is(err, test.want) {
				t.Errorf("%s: %v, want %v", name, err, test.want)
			}
		})
	}
}

// pngOf is the head of a PNG: enough to be told its size.
func pngOf(w, h uint32, depth, colour byte) []byte {
	head := binary.BigEndian.AppendUint32([]byte("IHDR"), w)
	head = append(binary.BigEndian.AppendUint32(head, h), depth, colour, 0, 0, 0)
	return append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\r"), binary.BigEndian.AppendUint32(head, crc32.ChecksumIEEE(head))...)
}

// TestPicturesThatUnpackWithoutEnd are refused by their head: each side and the
// memory they would take is bounded, not only the number of pixels.
func TestPicturesThatUnpackWithoutEnd(t *testing.T) {
	for name, c := range map[string]struct {
		data []byte
		want error
	}{
		"a line across":           {pngOf(39_999_999, 1, 8, 0), ErrTooLarge},
		"a line down":             {pngOf(1, 39_999_999, 8, 0), ErrTooLarge},
		"a side beyond":           {pngOf(12_001, 10, 8, 0), ErrTooLarge},
		"sixteen bits a colour":   {pngOf(4_000, 4_000, 16, 6), ErrTooLarge},
		"sixteen bits, small":     {pngOf(1_000, 1_000, 16, 6), ErrNotAPicture}, // it may be decoded, and has no pixels
		"as large as may be":      {pngOf(12_000, 8_000, 8, 0), ErrNotAPicture},
		"no width":                {pngOf(0, 100, 8, 0), ErrNotAPicture},
		"four bytes a pixel, big": {pngOf(6_000, 6_000, 8, 6), ErrTooLarge},
	} {
		t.Run(name, func(t *testing.T) {
			if _, err := Shrink(t.Context(), bytes.NewReader(c.data)); !errors.Is(err, c.want) {
				t.Errorf("%v, want %v", err, c.want)
			}
		})
	}
}

// TestMemoryStaysSmall whatever is sent at once: below 300 MB for the whole
// program.
func TestMemoryStaysSmall(t *testing.T) {
	var large bytes.Buffer
	if err := png.Encode(&large, image.NewGray(image.Rect(0, 0, 11_000, 9_000))); err != nil {
		t.Fatal(err)
	}
	large2 := bytes.Clone(large.Bytes())
	large.Reset()
	debug.FreeOSMemory()
	var wait sync.WaitGroup
	stop := make(chan struct{})
	peak := make(chan uint64)
	go func() {
		var most uint64
		for {
			var m runtime.MemStats
			runtime.ReadMemStats(&m)
			most = max(most, m.Sys-m.HeapReleased)
			select {
			case <-stop:
				peak <- most
				return
			case <-time.After(5 * time.Millisecond):
			}
		}
	}()
	said := make([]error, 8)
	for n := range said {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, said[n] = Shrink(t.Context(), bytes.NewReader(large2))
		}()
	}
	wait.Wait()
	close(stop)
	if most := <-peak; most > 300<<20 {
		t.Errorf("eight large pictures took %d MB", most>>20)
	} else {
		t.Logf("eight large pictures took %d MB", most>>20)
	}
	busy := 0
	for _, err := range said {
		if errors.Is(err, ErrBusy) {
			busy++
		} else if err != nil {
			t.Error(err)
		}
	}
	if busy == 0 {
		t.Error("none was told to come again")
	}
}
