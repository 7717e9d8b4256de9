package picture

import (
	"bytes"
	"encoding/base64"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
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
		got, err := Read(c.file)
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
	img, err := Read(withExif(j.Bytes(), 6))
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
		if _, err := Read(bad); err == nil || !strings.Contains(err.Error(), "photo: found") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// FuzzOrientation: broken segments never take the reader beyond the file.
func FuzzOrientation(f *testing.F) {
	var j bytes.Buffer
	jpeg.Encode(&j, corner(8, 8), nil)
	f.Add(withExif(j.Bytes(), 3))
	f.Add([]byte{0xff, 0xd8, 0xff, 0xe1, 0xff, 0xff})
	f.Fuzz(func(t *testing.T, file []byte) { orientation(file) })
}
