package photo

// Which way up a camera held a picture: the one thing of a JPEG's extra data that
// counts here.

import (
	"bytes"
	"encoding/binary"
	"image"
)

// segments goes through the parts of a JPEG before its pixels, until see has
// had enough.
func segments(data []byte, see func(marker byte, body []byte) (more bool)) {
	if len(data) < 4 || data[0] != 0xFF || data[1] != 0xD8 {
		return
	}
	for at := 2; at+4 <= len(data) && data[at] == 0xFF; {
		marker := data[at+1]
		if marker == 0xFF { // filling
			at++
			continue
		}
		length := int(binary.BigEndian.Uint16(data[at+2:]))
		if length < 2 || at+2+length > len(data) || !see(marker, data[at+4:at+2+length]) || marker == 0xDA {
			return
		}
		at += 2 + length
	}
}

// orientation is the camera's word for which way up it was, 1 to 8; 1 where it
// says nothing that can be read.
func orientation(data []byte) int {
	found := 1
	segments(data, func(marker byte, body []byte) bool {
		if marker != 0xE1 || !bytes.HasPrefix(body, []byte("Exif\x00\x00")) {
			return true
		}
		if n := fromTIFF(body[6:]); n >= 1 && n <= 8 {
			found = n
		}
		return false
	})
	return found
}

// orientationTag is the number of the entry that is looked for.
const orientationTag = 0x0112

func fromTIFF(tiff []byte) int {
	var order binary.ByteOrder
	switch {
	case len(tiff) < 8:
		return 0
	case bytes.HasPrefix(tiff, []byte("II*\x00")):
		order = binary.LittleEndian
	case bytes.HasPrefix(tiff, []byte("MM\x00*")):
		order = binary.BigEndian
	default:
		return 0
	}
	at := int(order.Uint32(tiff[4:]))
	if at < 8 || at+2 > len(tiff) {
		return 0
	}
	entries := int(order.Uint16(tiff[at:]))
	for i := range entries {
		entry := at + 2 + 12*i
		if entry+12 > len(tiff) {
			return 0
		}
		if order.Uint16(tiff[entry:]) == orientationTag {
			return int(order.Uint16(tiff[entry+8:]))
		}
	}
	return 0
}

// upright turns a picture the way it was seen.
func upright(p *image.RGBA, how int) *image.RGBA {
	if how == 1 {
		return p
	}
	w, h := p.Bounds().Dx(), p.Bounds().Dy()
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if how >= 5 {
		out = image.NewRGBA(image.Rect(0, 0, h, w))
	}
	for y := range h {
		for x := range w {
			toX, toY := x, y
			switch how {
			case 2:
				toX = w - 1 - x
			case 3:
				toX, toY = w-1-x, h-1-y
			case 4:
				toY = h - 1 - y
			case 5:
				toX, toY = y, x
			case 6:
				toX, toY = h-1-y, x
			case 7:
				toX, toY = h-1-y, w-1-x
			case 8:
				toX, toY = y, w-1-x
			}
			copy(out.Pix[out.PixOffset(toX, toY):][:4], p.Pix[p.PixOffset(x, y):][:4])
		}
	}
	return out
}
