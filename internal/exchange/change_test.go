package exchange_test

import (
	"context"
	"strings"
	"testing"

	"waryowl/internal/app/find"
	"waryowl/internal/app/model"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

// TestATableChangesWhatItNames: columns that a file lacks stay as they were, rows that it lacks too; a row that says the same
// is no change.
func TestATableChangesWhatItNames(t *testing.T) {
	ctx := context.Background()
	s, models := world(t)
	id := models["Drift 4"]
	read := func() *model.Record {
		k, err := model.Load(s.DB, id)
		if err != nil {
			t.Fatal(err)
		}
		return k
	}
	before := read()
	old := *before.PartNamed("battery")
	put := func(table, file string) exchange.Preview {
		v, err := exchange.Put(ctx, s, command(), id, table, []byte(file), nil)
		if err != nil {
			t.Fatalf("%s: %v", file, err)
		}
		return v
	}
	v := put("parts", "name,family,width (mm)\nbattery,PW,21.4\nearpiece,SO,\ngull feather,FR,3\n")
	if v.New != 1 || v.Changed != 2 || v.Total != 3 {
		t.Errorf("one new, two changed: %+v", v)
	}
	now := *read().PartNamed("battery")
	if now.WMM != 21.4 || now.HMM != old.HMM || now.Label != old.Label || now.XMM != old.XMM ||
		len(now.Measures) != len(old.Measures) {
		t.Errorf("the battery: %+v, was %+v", now.PartFacts, old.PartFacts)
	}
	if now.Version != old.Version+1 || now.ID != old.ID {
		t.Errorf("version %d after %d", now.Version, old.Version)
	}
	if w := read().PartNamed("earpiece").WMM; w != 0 { // an empty cell under a head that is there empties the field
		t.Errorf("the earpiece is %g wide", w)
	}
	if len(read().Parts) != len(before.Parts)+1 {
		t.Error("a part that the file lacks is gone")
	}
	if v := put("parts", "name,family,width (mm)\nbattery,PW,21.4\n"); v.Same != 1 || v.Changed != 0 {
		t.Errorf("the same again: %+v", v)
	}

	// Steps may come after steps that stand later in the file, or on record.
	put(
		"steps",
		"mark,verb,what,side,frees,after\nq2,lift,gull feather,any,gull feather,q1 s1 | s2\nq1,pry,rim,front,,\n",
	)
	k := read()
	marks := map[string]store.PlanStep{}
	for _, x := range k.Steps {
		marks[x.Mark] = x
	}
	q2 := marks["q2"]
	if len(q2.After) != 2 || strings.Join(k.Marks(q2.After[0]), " ") != "q1 s1" ||
		strings.Join(k.Marks(q2.After[1]), " ") != "s2" {
		t.Errorf("after %v", q2.After)
	}
	if names := k.PartNames(q2.Frees); len(names) != 1 || names[0] != "gull feather" {
		t.Errorf("frees %v", names)
	}
	if w := k.WayTo(k.PartNamed("gull feather").ID); w == nil || w.Blocked != "" || len(w.Steps) < 2 {
		t.Errorf("there is no way to what the table added: %+v", w)
	}
	// A circle is refused whole.
	steps := len(k.Steps)
	if _, err := exchange.Put(ctx, s, command(), id, "steps",
		[]byte("mark,verb,what,after\nz1,lift,a,z2\nz2,lift,b,z1\n"), nil); err == nil {
		t.Error("a plan in a circle was taken")
	}
	if n := len(read().Steps); n != steps {
		t.Errorf("%d steps, %d before", n, steps)
	}

	// A measure of the same kind takes the place of the one before; others stay.
	measures := len(read().PartNamed("battery").Measures)
	put(
		"measures",
		"part,quantity,unit,readings,resolution,instrument\nbattery,mass,g,47.1 | 47.3,0.1,scale\nbattery,bulge,mm,\"0,2\",0.1,\n",
	)
	after := read().PartNamed("battery").Measures
	found := 0
	for _, m := range after {
		if m.Kind == "mass" && len(m.Readings) == 2 && m.Readings[1] == 47.3 ||
			m.Kind == "bulge" && m.Readings[0] == 0.2 {
			found++
		}
	}
	if found != 2 || len(after) < measures || len(after) > measures+2 {
		t.Errorf("%d measures, %d before: %+v", len(after), measures, after)
	}
}

// TestSheetsOfEveryStudy: every study of the demo comes to a page and to a PDF, whatever it lacks; sections are those asked
// for, and a study that is not is not found.
func TestSheetsOfEveryStudy(t *testing.T) {
	ctx := context.Background()
	s, _ := world(t)
	studies, err := find.Studies(ctx, s, "")
	if err != nil || len(studies) < 2 {
		t.Fatalf("%d studies, %v", len(studies), err)
	}
	for _, x := range studies {
		for _, section := range append([]string{""}, exchange.Sections...) {
			var ask []string
			if section != "" {
				ask = []string{section}
			}
			p, err := exchange.Assemble(ctx, s, x.Study.ID, ask)
			if err != nil {
				t.Fatalf("%s, %q: %v", x.Study.Title, section, err)
			}
			page, err := p.HTML()
			if err != nil || !strings.Contains(string(page), x.Study.Title) ||
				!strings.Contains(string(page), "Advice only.") {
				t.Errorf("%s, %q: %d bytes, %v", x.Study.Title, section, len(page), err)
			}
			if section == "open" && !strings.Contains(string(page), "Not tested, or needs a test") {
				t.Errorf("%s: the list of what is open is missing", x.Study.Title)
			}
			if pdf, err := p.PDF(); err != nil || len(pdf) < 5000 {
				t.Errorf("%s, %q: %d bytes, %v", x.Study.Title, section, len(pdf), err)
			}
		}
	}
	if _, err := exchange.Assemble(ctx, s, store.NewID(), nil); err != store.ErrNotFound {
		t.Errorf("a study that is not: %v", err)
	}
}
