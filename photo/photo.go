// Package photo makes pictures of findings small enough to keep: checked before
// they are decoded, turned upright, re-encoded.
package photo

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // the other format that is taken
	"io"
	"runtime/debug"
	"time"

	"golang.org/x/image/draw"
)

const (
	// MaxUpload is how many bytes a picture may have as it comes.
	MaxUpload = 12 << 20
	// maxSide is the longest side, in pixels: no camera here has more.
	maxSide = 12_000
	// maxMemory is what decoding one picture may take, in bytes.
	maxMemory = 100 << 20
	longSide  = 1600 // pixels, of what is kept
	wanted    = 200 << 10
	// patience is how long a picture waits for those before it.
	patience = 6 * time.Second
)

// What can be wrong with a picture.
var (
	ErrNotAPicture = errors.New("photo: neither JPEG nor PNG")
	ErrTooLarge    = errors.New("photo: too many pixels or bytes")
	ErrBusy        = errors.New("photo: too many pictures at once")
)

// busy: one picture is decoded at a time, so that the program's memory stays
// bounded whatever is sent; few wait.
var (
	busy    = make(chan struct{}, 1)
	waiting = make(chan struct{}, 4)
)

// Shrink reads a JPEG or PNG and returns it as an upright JPEG of at most 1600
// pixels and about 200 kB, without anything else that was in the file. Where too
// many pictures come at once it says ErrBusy.
func Shrink(ctx context.Context, r io.Reader) ([]byte, error) {
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
	if size.Width < 1 || size.Height < 1 || size.Width > maxSide || size.Height > maxSide || memory(size, format, data) > maxMemory {
		return nil, ErrTooLarge
	}
	leave, err := enter(ctx)
	if err != nil {
		return nil, err
	}
	defer leave()
	picture, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNotAPicture
	}
	return encode(upright(fit(picture), orientation(data)))
}

// enter waits for the picture before this one, for a while.
func enter(ctx context.Context) (leave func(), err error) {
	select {
	case waiting <- struct{}{}:
		defer func() { <-waiting }()
	default:
		return nil, ErrBusy
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	select {
	case busy <- struct{}{}:
		return func() { debug.FreeOSMemory(); <-busy }, nil
	case <-ctx.Done():
		return nil, ErrBusy
	}
}

// memory is what decoding takes, in bytes, at the most.
func memory(size image.Config, format string, data []byte) int {
	pixels := size.Width * size.Height
	switch {
	case format == "jpeg" && progressive(data):
		return pixels * 16 // its coefficients are all held before the first pixel
	case format == "jpeg":
		return pixels * 3
	}
	switch size.ColorModel {
	case color.GrayModel:
		return pixels
	case color.Gray16Model:
		return pixels * 2
	case color.NRGBA64Model, color.RGBA64Model:
		return pixels * 8
	}
	if _, indexed := size.ColorModel.(color.Palette); indexed {
		return pixels
	}
	return pixels * 4
}

// progressive reports whether a JPEG is sent in passes.
func progressive(data []byte) bool {
	found := false
	segments(data, func(marker byte, _ []byte) bool {
		found = marker == 0xC2
		return !found && marker != 0xC0 && marker != 0xC1
	})
	return found
}

// fit makes a picture no longer than longSide. Straight from the decoded form,
// so that no second large one is made.
func fit(picture image.Image) *image.RGBA {
	b := picture.Bounds()
	w, h := b.Dx(), b.Dy()
	if long := max(w, h); long > longSide {
		w, h = max(1, w*longSide/long), max(1, h*longSide/long)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.White, image.Point{}, draw.Src) // under what is see-through
	draw.ApproxBiLinear.Scale(out, out.Bounds(), picture, b, draw.Over, nil)
	return out
}

// encode writes a JPEG of about the wanted size.
func encode(picture image.Image) ([]byte, error) {
	for quality := 82; ; quality -= 12 {
		var out bytes.Buffer
		if err := jpeg.Encode(&out, picture, &jpeg.Options{Quality: quality}); err != nil {
			return nil, err
		}
		if out.Len() <= wanted || quality < 40 {
			return out.Bytes(), nil
		}
	}
}
