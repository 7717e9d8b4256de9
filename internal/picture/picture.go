// Package picture takes photos in: it judges a file by its content, not by its name, and makes it anew, so that the
// place, the date and the camera that it carried are gone.
package picture

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	_ "image/png" // formats that are taken
	"iter"
	"runtime"
	"slices"

	xdraw "golang.org/x/image/draw"
	_ "golang.org/x/image/webp"

	"waryowl/internal/core/fault"
)

// MaxBytes is the largest file that is taken; longest and thumbnail are pixels of the longer side of what is stored.
// mostMemory is what a picture may take while it is opened, in bytes (see [memory]).
const (
	MaxBytes   = 12 << 20
	mostPixels = 60_000_000
	mostMemory = 200 << 20
	longest    = 2400
	thumbnail  = 240
)

// one lets a single picture be opened at a time: each may take [mostMemory].
var one = make(chan struct{}, 1)

// Picture is a photo as it is stored.
type Picture struct {
	Width, Height int
	JPEG, Thumb   []byte
}

// Read takes a JPEG, PNG or WebP file, when it is its turn.
func Read(ctx context.Context, file []byte) (Picture, error) {
	bad := fault.New("photo", "a file that is none of these", "a JPEG, PNG or WebP picture of at most 12 MB")
	if len(file) == 0 || len(file) > MaxBytes {
		bad.Found = "a file that is empty or too large"
		return Picture{}, bad
	}
	head, kind, err := image.DecodeConfig(bytes.NewReader(file))
	if err != nil || !slices.Contains([]string{"jpeg", "png", "webp"}, kind) {
		return Picture{}, bad
	}
	if head.Width < 1 || head.Height < 1 || head.Width*head.Height > mostPixels {
		bad.Found, bad.Allowed = "a picture of too many pixels", "at most 60 million pixels"
		return Picture{}, bad
	}
	need := memory(head, kind, file)
	if need > mostMemory {
		bad.Found = fmt.Sprintf("a picture of %d million pixels that takes %d MB to open",
			head.Width*head.Height/1_000_000, need>>20)
		bad.Allowed = fmt.Sprintf("what opens in %d MB; save it smaller, or as a plain JPEG", mostMemory>>20)
		return Picture{}, bad
	}
	select {
	case one <- struct{}{}:
		defer func() { <-one }()
	case <-ctx.Done():
		return Picture{}, ctx.Err()
	}
	if need > mostMemory/4 {
		runtime.GC() // what the picture before left would stand beside this one
	}
	img, _, err := image.Decode(bytes.NewReader(file))
	if err != nil {
		bad.Found = "a picture that breaks off"
		return Picture{}, bad
	}
	img = shrink(img, longest)
	if kind == "jpeg" {
		img = upright(img, orientation(file))
	}
	full, small := img, shrink(img, thumbnail)
	p := Picture{Width: full.Bounds().Dx(), Height: full.Bounds().Dy()}
	if p.JPEG, err = encode(full, 86); err != nil {
		return p, err
	}
	p.Thumb, err = encode(small, 80)
	return p, err
}

// memory is what the standard decoders take to open a picture, in bytes: the pixels as they keep them, the coefficients
// that a progressive JPEG holds until its end (four bytes each), a second copy where the file stores rows in turns or
// transforms the pixels.
func memory(head image.Config, kind string, file []byte) int {
	pixels := head.Width * head.Height
	each := map[color.Model]int{color.GrayModel: 1, color.Gray16Model: 2, color.YCbCrModel: 3, color.NYCbCrAModel: 4,
		color.CMYKModel: 4, color.RGBAModel: 4, color.NRGBAModel: 4, color.RGBA64Model: 8, color.NRGBA64Model: 8}
	bytes := 1 // a palette
	if n, known := each[comparable(head.ColorModel)]; known {
		bytes = n
	}
	switch {
	case kind == "jpeg" && progressive(file):
		bytes *= 5
	case kind == "png" && len(file) > 28 && file[28] != 0, kind == "webp" && head.ColorModel == color.NRGBAModel:
		bytes *= 2
	}
	return pixels * bytes
}

// comparable keeps a palette, which is a slice, out of the keys of a map.
func comparable(m color.Model) color.Model {
	if _, list := m.(color.Palette); list {
		return nil
	}
	return m
}

// progressive says that a JPEG comes in several scans (ITU-T T.81, start of frame 2).
func progressive(file []byte) bool {
	for marker := range segments(file) {
		if marker == 0xc2 {
			return true
		}
	}
	return false
}

// segments are the marker segments of a JPEG before its first scan.
func segments(file []byte) iter.Seq2[byte, []byte] {
	return func(yield func(byte, []byte) bool) {
		for i := 2; i+4 <= len(file) && file[i] == 0xff && file[i+1] != 0xda; {
			size := int(binary.BigEndian.Uint16(file[i+2:]))
			if !yield(file[i+1], file[min(len(file), i+4):max(min(len(file), i+4), min(len(file), i+2+size))]) {
				return
			}
			i += 2 + size
		}
	}
}

func encode(img image.Image, quality int) ([]byte, error) {
	var b bytes.Buffer
	err := jpeg.Encode(&b, img, &jpeg.Options{Quality: quality})
	return b.Bytes(), err
}

// shrink draws the picture on white, its longer side at most so many pixels.
func shrink(img image.Image, most int) image.Image {
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	if m := max(w, h); m > most {
		w, h = max(1, w*most/m), max(1, h*most/m)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.White, image.Point{}, draw.Src)
	xdraw.ApproxBiLinear.Scale(out, out.Bounds(), img, img.Bounds(), draw.Over, nil)
	return out
}

// orientation reads the tag 0x0112 of a JPEG's Exif segment (1 when there is none).
func orientation(file []byte) int {
	for marker, seg := range segments(file) {
		if marker == 0xe1 && len(seg) > 14 && string(seg[:6]) == "Exif\x00\x00" {
			t := seg[6:]
			var order binary.ByteOrder = binary.LittleEndian
			if t[0] == 'M' {
				order = binary.BigEndian
			}
			at := int(order.Uint32(t[4:]))
			if at < 8 || at+2 > len(t) {
				return 1
			}
			for k := range int(order.Uint16(t[at:])) {
				e := at + 2 + 12*k
				if e+10 > len(t) {
					break
				}
				if order.Uint16(t[e:]) == 0x0112 {
					return int(order.Uint16(t[e+8:]))
				}
			}
			return 1
		}
	}
	return 1
}

// upright turns and mirrors a picture as its orientation tag asks.
func upright(img image.Image, tag int) image.Image {
	if tag < 2 || tag > 8 {
		return img
	}
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	ow, oh := w, h
	if tag >= 5 {
		ow, oh = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, ow, oh))
	for y := range oh {
		for x := range ow {
			sx, sy := x, y
			switch tag {
			case 2:
				sx = w - 1 - x
			case 3:
				sx, sy = w-1-x, h-1-y
			case 4:
				sy = h - 1 - y
			case 5:
				sx, sy = y, x
			case 6:
				sx, sy = y, h-1-x
			case 7:
				sx, sy = w-1-y, h-1-x
			case 8:
				sx, sy = w-1-y, x
			}
			out.Set(x, y, img.At(b.Min.X+sx, b.Min.Y+sy))
		}
	}
	return out
}
