package contract

import (
	"encoding/json"
	"errors"
	"os"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

const way = `{"steps":[{"id":"s3","do":"unfasten","tool":"five-lobe 0.8","side":"front","seconds":14,"wait_seconds":0,
	"after":[],"frees":["display"],"risk":{"display":0.01}},
 {"id":"s5","do":"lift","tool":"spudger","side":"any","seconds":25,"after":[["s3"]],"frees":["battery"]}],
 "goal":["battery"],"minimise":"attended_seconds","tool_change_seconds":6,"flip_seconds":4,"done":[]}`

// TestComputeRoute is the example of the contract, filled in with a second step so that its figures come out.
func TestComputeRoute(t *testing.T) {
	out, err := Compute("route", []byte(way))
	want := `{"objective":51,"steps":["s3","s5"],"depth":2,"attended_seconds":51,"elapsed_seconds":51,"tool_changes":2,` +
		`"flips":0,` +
		`"tools":["five-lobe 0.8","spudger"],"survival":{"display":0.99},"freed":["display","battery"],"proven":true,"bound":51}`
	if err != nil || string(out) != want {
		t.Errorf("got %s, %v\nwant %s", out, err, want)
	}
}

func TestComputeDiagnose(t *testing.T) {
	out, err := Compute("diagnose", []byte(`{"checks":["face-unlock"],"noise":{"false_loss":0.03,"false_pass":0.02},
		"prior":{"default":0.1},"trials":[{"id":"t1","state":{"display":"stranger","battery":"own"},
		"split":[["panel","sensor-strip"]],"atoms":[],"results":{"face-unlock":"lost"}}],
		"candidates":[{"id":"c1","state":{"display":"stranger"},"minutes":14,"unit":"pine","irreversible":false}],
		"budget_minutes":25}`))
	if err != nil {
		t.Fatal(err)
	}
	var got struct {
		Checks map[string]struct {
			Consistent bool
			Marginal   map[string]float64
			Bits       *float64
		}
		SuspectTrials []any `json:"suspect_trials"`
		Plan          []string
	}
	if err := json.Unmarshal(out, &got); err != nil {
		t.Fatal(err)
	}
	c := got.Checks["face-unlock"]
	// By hand: P(loss) = 0.81·0.03 + 0.19·0.98 = 0.2105, and 0.1·0.98 of it with the display among the culprits.
	if want := 0.098 / 0.2105; !c.Consistent || c.Bits == nil || len(c.Marginal) != 2 ||
		c.Marginal["display:stranger"] < want-1e-9 || c.Marginal["display:stranger"] > want+1e-9 {
		t.Errorf("want %.6f, got %s", want, out)
	}
	if len(got.Plan) != 1 || got.SuspectTrials == nil {
		t.Errorf("plan and suspects: %s", out)
	}
}

func TestContradictionWithoutNoiseIsNull(t *testing.T) {
	out, err := Compute("diagnose", []byte(`{"checks":["c"],"noise":{"false_loss":0,"false_pass":0},
		"prior":{"default":0.1},"trials":[{"id":"t1","state":{"a":"stranger"},"results":{"c":"lost"}},
		{"id":"t2","state":{"a":"stranger"},"results":{"c":"pass"}}]}`))
	if s := string(out); err != nil || !strings.Contains(s, `"consistent":false,"marginal":null`) ||
		!strings.Contains(s, `"bits":null`) || !strings.Contains(s, `"against":["t2"]`) {
		t.Errorf("got %s, %v", out, err)
	}
}

func TestBadInputIsOneLineThatNamesTheField(t *testing.T) {
	for name, c := range map[string]struct{ engine, in, field string }{
		"an unknown engine":       {"poker", `{}`, "engine"},
		"an unknown field":        {"route", `{"steps":[{"id":"s1","sekonds":4}],"goal":["x"]}`, "steps[0].sekonds"},
		"the wrong case":          {"route", `{"Steps":[],"goal":["x"]}`, "Steps"},
		"a field twice":           {"route", `{"goal":["x"],"goal":["y"],"steps":[]}`, "goal"},
		"a field twice deep down": {"route", `{"steps":[{"id":"s1","id":"s2"}],"goal":["x"]}`, "steps[0].id"},
		"text for a number": {"route", `{"steps":[{"id":"s1","seconds":"four"}],"goal":["x"]}`,
			"steps[0].seconds"},
		"a negative duration": {"route", strings.Replace(way, `"seconds":14`, `"seconds":-14`, 1),
			"steps[0].seconds"},
		"a number beyond floats": {"route", strings.Replace(way, `"seconds":14`, `"seconds":1e999`, 1),
			"steps[0].seconds"},
		"broken JSON":             {"route", `{"steps":[`, "input"},
		"two documents":           {"route", `{"steps":[],"goal":["x"]} {}`, "input"},
		"nothing":                 {"route", ``, "input"},
		"a list for the whole":    {"diagnose", `[]`, ""},
		"an unknown nested field": {"diagnose", `{"noise":{"false_win":1}}`, "noise.false_win"},
		"no checks": {"diagnose",
			`{"checks":[],"noise":{"false_loss":0,"false_pass":0},"prior":{"default":0.1},"trials":[]}`, "checks"},
		"prerequisites in a circle": {"route",
			`{"steps":[{"id":"s1","after":[["s2"]],"frees":["x"]},{"id":"s2","after":[["s1"]]}],"goal":["x"]}`, "goal"},
	} {
		_, err := Compute(c.engine, []byte(c.in))
		if err == nil || strings.Contains(err.Error(), "\n") {
			t.Errorf("%s: want one line, got %v", name, err)
			continue
		}
		var f *fault.Fault
		if errors.As(err, &f) && f.Field != c.field || f == nil && !strings.HasPrefix(err.Error(), c.field+":") {
			t.Errorf("%s: want a fault at %q, got %v", name, c.field, err)
		}
	}
}

// TestSchemasAreCurrent: what is checked in is what the program prints.
func TestSchemasAreCurrent(t *testing.T) {
	for _, name := range Names() {
		want, err := Schema(name)
		if err != nil {
			t.Fatal(err)
		}
		have, err := os.ReadFile("../../schemas/" + name + ".json")
		if err != nil || strings.TrimSpace(string(have)) != string(want) {
			t.Errorf("schemas/%s.json is stale: run make types (%v)", name, err)
		}
		var doc struct {
			Schema string `json:"$schema"`
			Defs   map[string]struct {
				AdditionalProperties any
				Properties           map[string]any
			} `json:"$defs"`
			Properties map[string]struct {
				Ref string `json:"$ref"`
			}
		}
		if err := json.Unmarshal(want, &doc); err != nil ||
			doc.Schema != "https://json-schema.org/draft/2020-12/schema" {
			t.Fatalf("%s: %v, %s", name, err, doc.Schema)
		}
		in, ok := doc.Defs[strings.TrimPrefix(doc.Properties["input"].Ref, "#/$defs/")]
		if !ok || in.AdditionalProperties != false || len(in.Properties) < 2 {
			t.Errorf("%s: the input is not described strictly: %+v", name, doc.Properties)
		}
	}
	if _, err := Schema("poker"); err == nil {
		t.Error("an unknown engine has a schema")
	}
}

// FuzzCompute: whatever comes in, an engine answers with JSON or with one line, and never panics.
func FuzzCompute(f *testing.F) {
	for _, seed := range []string{way, `{}`, `[]`, `null`,
		`{"steps":[{"id":"s1","after":[[]],"frees":["x"],"risk":{"x":0.5}}],"goal":["x"],"minimise":"risk"}`,
		`{"checks":["c"],"noise":{"false_loss":0,"false_pass":0},"prior":{"default":0.5},
			"trials":[{"id":"t","results":{"c":"lost"}}],"budget_minutes":9}`} {
		f.Add("route", seed)
		f.Add("diagnose", seed)
	}
	f.Fuzz(func(t *testing.T, engine, in string) {
		if len(in) > 2000 {
			return // large instances may rightly take their whole effort
		}
		out, err := Compute(engine, []byte(in))
		if err != nil && strings.Contains(err.Error(), "\n") {
			t.Errorf("more than one line: %q", err)
		}
		if err == nil && !json.Valid(out) {
			t.Errorf("not JSON: %q", out)
		}
	})
}

// TestEveryEngineIsACommand: each takes a document and answers with what its contract names; a wrong field is refused
// by each.
func TestEveryEngineIsACommand(t *testing.T) {
	for name, c := range map[string]struct{ in, says string }{
		"benchline": {`{"unit":"PINE","steps":[{"id":"k1","mark":"s1","verb":"unfasten","what":"upper shield",
			"part":"upper-shield","side":"","tool":"","joint":"screw","drive":"cross","drive_size":"","count":7,"diameter_mm":1.2,"length_mm":1.3,
			"frees":[],"after":[]}],"done":["k1"],
			"state":{"battery_off":false,"charge":10,"limit":25,"swollen":false,"wet_until":0,"polarity":"","tool":""},"second":0,
			"pending":["t metal spudger"],"line":"u 8 T4 @midplate"}`,
			`"new_part":{"name":"midplate","kind":"mid-plate","family":"FR"}`},
		"closeup": {`{"done":[{"id":"s1","verb":"unfasten","what":"charge port","joint":"screw","count":16,
			"frees":[],"before":[],"tape":""}],
			"back":[{"step":"s1","count":14}],"declared":{"screws s1":{"lost":0,"replaced":2,"left_off":0}},
			"found":[{"name":"small bracket","count":2,"origin":"unknown"}],"seal":"new adhesive"}`,
			`"may":false,"why":["stray"]`},
		"dose": {`{"mine":[]}`, `"next_seconds":`},
		"harvest": {`{"steps":[{"id":"a","seconds":60,"frees":["battery"]}],"value":{"battery":900},"rate":1}`,
			`"take":["battery"]`},
		"interlock": {`{"state":{"battery_off":false},"act":{"verb":"disconnect","kind":"display"}}`, `"rule":"power"`},
		"learn": {`{"steps":[{"id":"a","verb":"peel","what":"tape"},{"id":"b","verb":"lift","what":"lid",
			"after":[["a"]]}],"step":"b","done":[]}`,
			`"kind":"removed"`},
		"quantity": {`{"unit":"mm","a":{"readings":[4.6,4.61],"resolution":0.01},"b":{"readings":[4.2],"resolution":0.01}}`,
			`"resolved":true`},
		"risk":      {`{"k":3,"n":4,"usual":0.02}`, `"low":0.19412`},
		"shorthand": {`{"line":"m battery 3274mAh"}`, `"unit":"mAh"`},
		"swap": {`{"model":{"name":"m","slots":[{"name":"battery","kind":"PW"}]},"units":[{"name":"PINE","build":"1"}],
			"checks":[{"mark":"boot","group":"BD"}],"baselines":{},"events":[],"ask":{}}`, `"warnings":["no baseline"]`},
		"worktime": {`{"verb":"unfasten","planned":10,"measured":[20,20]}`, `"seconds":14.142`},
	} {
		out, err := Compute(name, []byte(c.in))
		if err != nil || !strings.Contains(string(out), c.says) {
			t.Errorf("%s: %s, %v; want %s", name, out, err, c.says)
		}
		if _, err := Compute(name, []byte(`{"nonsense":1}`)); err == nil {
			t.Errorf("%s takes a field that it does not know", name)
		}
	}
}
