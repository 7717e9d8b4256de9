package planfile

import (
	"encoding/json"
	"strings"
	"testing"
)

const good = `{"parts":[{"name":"battery","family":"PW"}],"steps":[
{"mark":"s1","verb":"unfasten","what":"rim","joint":"screw","drive":"cross","count":2},
 {"mark":"s2","verb":"lift","what":"battery","after":[["s1"]],"frees":["battery"],"risk":{"panel":0.1}}]}`

func TestRead(t *testing.T) {
	p, err := Read([]byte(good))
	if err != nil || len(p.Steps) != 2 || p.Steps[0].Side != "any" || strings.Join(p.Names(), ",") != "panel" {
		t.Fatalf("%+v, %v", p, err)
	}
	for _, c := range []struct{ from, to, field string }{
		{`"family":"PW"`, `"family":"XX"`, "parts[0].family"},
		{`"mark":"s2"`, `"mark":"s1"`, "steps[1].mark"},
		{`"mark":"s1"`, `"mark":"S 1"`, "steps[0].mark"},
		{`[["s1"]]`, `[["s9"]]`, "steps[1].after[0][0]"},
		{`[["s1"]]`, `[["s2"]]`, "steps[1].after[0][0]"},
		{`"count":2`, `"count":-2`, "steps[0].count"},
		{`"count":2`, `"count":"two"`, "steps.count"},
		{`"count":2`, `"kount":2`, "plan"},
		{`"risk":{"panel":0.1}`, `"risk":{"panel":1}`, "steps[1].risk"},
		{`"verb":"lift"`, `"verb":"jump"`, "steps[1].verb"},
		{`}]}`, `}]} {}`, "plan"},
		{`"what":"rim"`, `"what":"rim","after":[["s2"]]`, "plan.steps"},
	} {
		if _, err := Read([]byte(strings.Replace(good, c.from, c.to, 1))); err == nil ||
			!strings.Contains(err.Error(), c.field) {
			t.Errorf("%s: %v, want a fault of %s", c.to, err, c.field)
		}
	}
}

// FuzzRead: whatever the file holds, it is refused or its plan can be written and read again unchanged.
func FuzzRead(f *testing.F) {
	f.Add([]byte(good))
	f.Add([]byte(`{"steps":[{"mark":"a","verb":"lift","what":"x","after":[[],["a"]]}]}`))
	f.Fuzz(func(t *testing.T, file []byte) {
		p, err := Read(file)
		if err != nil {
			return
		}
		text, err := json.Marshal(p)
		if err != nil {
			t.Fatal(err)
		}
		again, err := Read(text)
		if err != nil {
			t.Fatalf("written again it is refused: %v", err)
		}
		if second, _ := json.Marshal(again); string(second) != string(text) {
			t.Fatalf("%s became %s", text, second)
		}
	})
}
