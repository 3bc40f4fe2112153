// Package photo makes pictures of findings small enough to keep: checked before
// they are decoded, turned upright, re-encoded.
package photo

import (
	"bytes"
	"errors"
	"image"
	_ "image/jpeg" // the formats that are taken
	_ "image/png"
	"io"

	"github.com/disintegration/imaging"
)

const (
	// MaxUpload is how many bytes a picture may have as it comes.
	MaxUpload = 12 << 20
	maxPixels = 40_000_000
	longSide  = 1600 // pixels, of what is kept
	wanted    = 200 << 10
)

// What can be wrong with a picture.
var (
	ErrNotAPicture = errors.New("photo: neither JPEG nor PNG")
	ErrTooLarge    = errors.New("photo: too many pixels or bytes")
)

// busy: one picture is decoded at a time, because one can take 160 MB.
var busy = make(chan struct{}, 1)

// Shrink reads a JPEG or PNG and returns it as an upright JPEG of at most 1600
// pixels and about 200 kB, without anything else that was in the file.
func Shrink(r io.Reader) ([]byte, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxUpload+1))
	if err != nil {
		return nil, err
	}
	if len(data) > MaxUpload {
		return nil, ErrTooLarge
	}
	size, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || format != "jpeg" && format != "png" {
		return nil, ErrNotAPicture
	}
	if size.Width < 1 || size.Height < 1 || size.Width*size.Height > maxPixels {
		return nil, ErrTooLarge
	}
	busy <- struct{}{}
	defer func() { <-busy }()
	picture, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true))
	if err != nil {
		return nil, ErrNotAPicture
	}
	if b := picture.Bounds(); max(b.Dx(), b.Dy()) > longSide {
		picture = imaging.Fit(picture, longSide, longSide, imaging.Box)
	}
	for quality := 82; ; quality -= 12 {
		var out bytes.Buffer
		if err := imaging.Encode(&out, picture, imaging.JPEG, imaging.JPEGQuality(quality)); err != nil {
			return nil, err
		}
		if out.Len() <= wanted || quality < 40 {
			return out.Bytes(), nil
		}
	}
}
