package cues

import (
	"reflect"
	"strings"
	"testing"
)

// Three formats, one answer. The captions follow the examples of W3C, WebVTT, section 1 (notes, settings, voice tags).
func TestFormats(t *testing.T) {
	vtt := "WEBVTT\n\nNOTE made at the bench\n\n1\n00:04.000 --> 00:09.000 align:start\n<v Ada>bracket off\n\n00:09.000 --> 00:12.500\ntwo screws\n"
	srt := "1\r\n00:00:04,000 --> 00:00:09,000\r\nbracket off\r\n\r\n2\r\n00:00:09,000 --> 00:00:12,500\r\ntwo screws\r\n"
	plain := "[0:04] bracket off\n[0:09] two screws\n"
	want := []Cue{{4, 9, "bracket off"}, {9, 12.5, "two screws"}}
	for name, text := range map[string]string{"vtt": vtt, "srt": srt, "plain": plain} {
		got, err := Read(text)
		if err != nil {
			t.Fatal(name, err)
		}
		for i := range got {
			if name == "plain" {
				got[i].End = want[i].End // lines have a start only
			}
		}
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%s: %v", name, got)
		}
	}
}

func TestRefused(t *testing.T) {
	for _, text := range []string{"", "bracket off", "WEBVTT\n\n"} {
		if list, err := Read(text); err == nil {
			t.Errorf("%q: %v", text, list)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add("WEBVTT\n\n00:01.0 --> 00:02.0\nx")
	f.Add("[0:01] x\ny\n[0:00] z")
	f.Fuzz(func(t *testing.T, text string) {
		list, err := Read(text)
		for i, c := range list {
			if err == nil && (c.Start < 0 || i > 0 && c.Start < list[i-1].Start || strings.Contains(c.Text, "-->")) {
				t.Errorf("%q: %v", text, list)
			}
		}
	})
}
