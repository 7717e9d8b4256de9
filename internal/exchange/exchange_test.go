package exchange_test

import (
	"bytes"
	"context"
	"errors"
	"os"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"gorm.io/gorm"

	"waryowl/demo"
	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/model"
	"waryowl/internal/app/swap"
	"waryowl/internal/core/fault"
	"waryowl/internal/exchange"
	"waryowl/internal/mariadb/mariadbtest"
	"waryowl/internal/store"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Main(m)) }

func world(t testing.TB) (*act.Service, map[string]string) {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.Database(t))
	if err != nil {
		t.Fatal(err)
	}
	s := &act.Service{DB: db, Now: time.Now}
	if err := errors.Join(store.Migrate(ctx, db), model.EnsureCatalogue(ctx, s)); err != nil {
		t.Fatal(err)
	}
	if err := demo.Load(context.Background(), s); err != nil {
		t.Fatal(err)
	}
	models, err := find.Models(context.Background(), s, "")
	if err != nil {
		t.Fatal(err)
	}
	by := map[string]string{}
	for _, m := range models {
		by[m.Name] = m.ID
	}
	return s, by
}

func command() act.Command {
	return act.Command{Key: store.NewID(), Hash: "h", Actor: act.Actor{ID: store.NewID()}}
}

func document(t testing.TB, s *act.Service, id string) string {
	t.Helper()
	d, err := exchange.Gather(s.DB, id, "", "2026-11-26")
	if err != nil {
		t.Fatal(err)
	}
	text, err := d.Write()
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// TestADocumentComesBackAsItWent: out, in under another name, and out again: the same text; the rooms read it alike.
func TestADocumentComesBackAsItWent(t *testing.T) {
	ctx := context.Background()
	s, models := world(t)
	sick := store.FaultCase{VisitID: store.NewID(), ModelID: models["Drift 4"],
		FaultFacts: store.FaultFacts{Symptom: "no charge"},
		Acts:       []store.FaultAct{{ID: store.NewID(), Act: "reseat port lead", Answer: "yes", By: "Somebody"}},
		State:      "repaired", Ended: []string{"port lead", "charge port"}, Why: "words about somebody"}
	if err := s.DB.Transaction(func(g *gorm.DB) error {
		return store.Create(&store.Tx{DB: g, Arrived: s.Now()},
			&sick)
	}); err != nil {
		t.Fatal(err)
	}
	stray := regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-`)
	plain := regexp.MustCompile(`"(version|who|account_id|created_at)": [^\n]*`) // counted anew, or another person's
	for name, id := range models {
		out := document(t, s, id)
		if at := stray.FindStringIndex(out); at != nil {
			t.Fatalf("%s: an id is left: …%s…", name, out[max(0, at[0]-80):at[1]+40])
		}
		in, err := exchange.Import(ctx, s, command(), []byte(out), name+" again")
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		var learned []store.FaultCount // closed cases teach the workshop that takes them in, and say nothing of people
		if err := s.DB.Where("model_id = ?", in.ModelID).Find(&learned).Error; err != nil ||
			(len(learned) == 2) != (name == "Drift 4") ||
			strings.Contains(out, "Somebody") || strings.Contains(out, "words about") {
			t.Errorf("%s: learned %+v, %v", name, learned, err)
		}
		back := strings.ReplaceAll(document(t, s, in.ModelID), name+" again", name)
		a, b := strings.Split(
			plain.ReplaceAllString(out, ""),
			"\n",
		), strings.Split(
			plain.ReplaceAllString(back, ""),
			"\n",
		)
		for i := range a {
			if i >= len(b) || a[i] != b[i] {
				t.Fatalf(
					"%s, line %d:\n%s\nwas\n%s",
					name,
					i+1,
					strings.Join(b[max(0, i-3):min(len(b), i+3)], "\n"),
					a[i],
				)
			}
		}
		if len(a) != len(b) || in.Rows < 40 {
			t.Errorf("%s: %d lines, %d then, %d rows", name, len(a), len(b), in.Rows)
		}
		for _, study := range in.Studies {
			if _, err := swap.Show(ctx, s, study, swap.Ask{}); err != nil {
				t.Errorf("%s: the swap room: %v", name, err)
			}
		}
	}
	if in, err := exchange.Import(ctx, s, command(), []byte(document(t, s, models["Drift 4"])), ""); err == nil {
		t.Errorf("a second Drift 4 was taken: %+v", in)
	}
}

// TestBrokenDocuments are refused whole, by path.
func TestBrokenDocuments(t *testing.T) {
	s, models := world(t)
	good := document(t, s, models["Atoll 2"])
	count := func() (n int64) {
		s.DB.Table("parts").Count(&n)
		return n
	}
	before := count()
	for name, c := range map[string]struct{ old, now, field string }{
		"no JSON":               {"{", "", "document"},
		"another format":        {`"waryowl-document"`, `"something"`, "format"},
		"of a newer program":    {`"version": 1,`, `"version": 2,`, "version"},
		"a part that is not":    {`"part battery"`, `"part batery"`, "steps"},
		"a verb that is not":    {`"verb": "lift"`, `"verb": "throw"`, "verb"},
		"a family that is not":  {`"family": "PW"`, `"family": "QQ"`, "family"},
		"a text where a number": {`"layer": 1`, `"layer": "one"`, "layer"},
		"two rows of one name":  {`"id": "step s2"`, `"id": "step s1"`, "id"},
		"a field of nobody":     {`"maker": `, `"maler": `, "model"},
	} {
		broken := strings.Replace(good, c.old, c.now, 1)
		if broken == good {
			t.Fatalf("%s: nothing was broken", name)
		}
		_, err := exchange.Import(context.Background(), s, command(), []byte(broken), "Other")
		f, refused := err.(*fault.Fault)
		if !refused || !strings.Contains(f.Field, c.field) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if n := count(); n != before {
		t.Errorf("%d parts before, %d after what was refused", before, n)
	}
}

func asFault(err error, f **fault.Fault) bool { return errors.As(err, f) }

// TestDocumentsHoldTheirSchema: what is written is valid by a reader of JSON Schema that is not ours; what is broken
// is not.
func TestDocumentsHoldTheirSchema(t *testing.T) {
	text, err := exchange.Schema()
	if err != nil {
		t.Fatal(err)
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("document.json", doc); err != nil {
		t.Fatal(err)
	}
	schema, err := c.Compile("document.json")
	if err != nil {
		t.Fatal(err)
	}
	s, models := world(t)
	for name, id := range models {
		out := document(t, s, id)
		for change, valid := range map[string]bool{"": true, `"family": "PW"`: false} {
			text := out
			if change != "" {
				text = strings.Replace(out, change, `"family": 7`, 1)
			}
			v, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
			if err != nil {
				t.Fatal(err)
			}
			if err := schema.Validate(v); (err == nil) != valid {
				t.Errorf("%s, changed %q: %v", name, change, err)
			}
		}
	}
}
