package answer

import (
	"encoding/json"
	"testing"
)

func TestFragmentsAsThePageReadsThem(t *testing.T) {
	for want, f := range map[string]Fragment{
		`{"text":"in "}`: Text("in "),
		// zero is a figure, not a gap
		`{"fact":{"value":0,"unit":"min","working":"#time"}}`:        Number(0, "min", "#time"),
		`{"fact":{"value":3,"high":5.5,"unit":"points"}}`:            Range(3, 5.5, "points", ""),
		`{"fact":{"name":"battery"}}`:                                Name("battery", ""),
		`{"fact":{"value":1,"unit":"screw","working":"#mat"}}`:       Count(1, "screw", "#mat"),
		`{"fact":{"value":0,"unit":"screws","working":"#mat"}}`:      Count(0, "screw", "#mat"),
		`{"fact":{"value":2,"unit":"possible losses","working":""}}`: Count(2, "possible loss", ""),
	} {
		got, err := json.Marshal(f)
		if err != nil {
			t.Fatal(err)
		}
		var a, b any
		json.Unmarshal(got, &a)
		json.Unmarshal([]byte(want), &b)
		// An empty working is left out, so compare without it.
		if m, ok := b.(map[string]any)["fact"].(map[string]any); ok && m["working"] == "" {
			delete(m, "working")
		}
		x, _ := json.Marshal(a)
		y, _ := json.Marshal(b)
		if string(x) != string(y) {
			t.Errorf("got %s, want %s", x, y)
		}
	}
}
