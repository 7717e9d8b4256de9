package picture

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/binary"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"runtime"
	"strings"
	"testing"
)

// corner is a picture whose upper left quarter is red.
func corner(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{255, 255, 255, 255}
			if x < w/2 && y < h/2 {
				c = color.RGBA{200, 0, 0, 255}
			}
			img.Set(x, y, c)
		}
	}
	return img
}

// withExif puts an Exif segment with an orientation, and a place that must not stay, into a JPEG.
func withExif(file []byte, tag uint16) []byte {
	tiff := []byte("II*\x00\x08\x00\x00\x00\x01\x00")
	tiff = binary.LittleEndian.AppendUint16(tiff, 0x0112)
	tiff = binary.LittleEndian.AppendUint16(tiff, 3)
	tiff = binary.LittleEndian.AppendUint32(tiff, 1)
	tiff = binary.LittleEndian.AppendUint16(tiff, tag)
	tiff = append(tiff, 0, 0, 0, 0, 0, 0)
	seg := append([]byte("Exif\x00\x00"), append(tiff, "GPS 58.1N 11.2E"...)...)
	out := append([]byte{0xff, 0xd8, 0xff, 0xe1}, binary.BigEndian.AppendUint16(nil, uint16(len(seg)+2))...)
	return append(append(out, seg...), file[2:]...)
}

// webp is a lossy picture of one pixel, made by a general-purpose encoder.
const webp = "UklGRiIAAABXRUJQVlA4IBYAAAAwAQCdASoBAAEADsD+JaQAA3AAAAAA"

func TestRead(t *testing.T) {
	var j, p bytes.Buffer
	jpeg.Encode(&j, corner(80, 40), nil)
	png.Encode(&p, corner(3000, 20))
	w, _ := base64.StdEncoding.DecodeString(webp)
	for _, c := range []struct {
		name          string
		file          []byte
		width, height int
	}{{"jpeg", j.Bytes(), 80, 40}, {"a turned jpeg stands upright", withExif(j.Bytes(), 6), 40,
		80}, {"a large png is made smaller", p.Bytes(), 2400, 16}, {"webp", w, 1, 1}} {
		got, err := Read(t.Context(), c.file)
		if err != nil || got.Width != c.width || got.Height != c.height {
			t.Errorf("%s: %d × %d, %v", c.name, got.Width, got.Height, err)
			continue
		}
		for _, out := range [][]byte{got.JPEG, got.Thumb} {
			if _, kind, err := image.DecodeConfig(bytes.NewReader(out)); kind != "jpeg" || err != nil ||
				bytes.Contains(out, []byte("GPS")) || bytes.Contains(out, []byte("Exif")) {
				t.Errorf("%s: kept as %s with its place, %v", c.name, kind, err)
			}
		}
	}
	// turned by a quarter to the right: the red corner is now at the upper right
	img, err := Read(t.Context(), withExif(j.Bytes(), 6))
	if err != nil {
		t.Fatal(err)
	}
	out, _ := jpeg.Decode(bytes.NewReader(img.JPEG))
	if r, g, _, _ := out.At(35, 5).RGBA(); r < 0x9000 || g > 0x5000 {
		t.Errorf("the upper right is %x %x", r, g)
	}
	for name, bad := range map[string][]byte{"empty": nil, "text in disguise": []byte("\xff\xd8\xff not a picture"),
		"script": []byte("<svg onload=alert(1)>"), "broken off": j.Bytes()[:200],
		"too large": make([]byte, MaxBytes+1), "gif": []byte("GIF89a\x01\x00\x01\x00\x00\x00\x00;")} {
		if _, err := Read(t.Context(), bad); err == nil || !strings.Contains(err.Error(), "photo: found") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// TestLargePicturesStayWithinMemory: what is taken opens within the bound beside the picture before it, and what would
// not is refused before it is opened.
func TestLargePicturesStayWithinMemory(t *testing.T) {
	file := func(img image.Image, as string) []byte {
		var b bytes.Buffer
		if as == "png" {
			(&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img)
		} else {
			jpeg.Encode(&b, img, nil)
		}
		return b.Bytes()
	}
	size := func(megapixels int) image.Rectangle { return image.Rect(0, 0, 1000*megapixels/10, 10_000) }
	several := bytes.Replace(file(image.NewYCbCr(size(20), image.YCbCrSubsampleRatio420), "jpeg"), []byte{0xff, 0xc0},
		[]byte{0xff, 0xc2}, 1)
	for name, c := range map[string]struct {
		file  []byte
		taken bool
	}{
		"60 million pixels":                          {file(image.NewYCbCr(size(60), image.YCbCrSubsampleRatio420), "jpeg"), true},
		"70 million":                                 {file(image.NewGray(size(70)), "jpeg"), false},
		"24 million of 16 bits":                      {file(image.NewRGBA64(size(24)), "png"), true},
		"60 million of 16 bits":                      {file(image.NewRGBA64(size(60)), "png"), false},
		"20 million that come in scan after scan":    {several, false},
		"50 million with colours that shine through": {file(image.NewNRGBA(size(50)), "png"), true},
	} {
		runtime.GC()
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		_, err := Read(t.Context(), c.file)
		runtime.ReadMemStats(&after)
		took := int(after.TotalAlloc-before.TotalAlloc) >> 20
		if (err == nil) != c.taken || took > 300 || !c.taken && took > 1 {
			t.Errorf("%s: %v, %d MB taken", name, err, took)
		}
	}
	one <- struct{}{} // somebody else's picture is open
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := Read(gone, file(corner(8, 8), "png")); !errors.Is(err, context.Canceled) {
		t.Errorf("a second picture was opened at once: %v", err)
	}
	<-one
}

// FuzzOrientation: broken segments never take the reader beyond the file.
func FuzzOrientation(f *testing.F) {
	var j bytes.Buffer
	jpeg.Encode(&j, corner(8, 8), nil)
	f.Add(withExif(j.Bytes(), 3))
	f.Add([]byte{0xff, 0xd8, 0xff, 0xe1, 0xff, 0xff})
	f.Fuzz(func(t *testing.T, file []byte) { orientation(file) })
}
