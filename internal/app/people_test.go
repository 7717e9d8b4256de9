package app_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/trail"
	"waryowl/internal/store"
)

const good, better = "four wet herons tonight", "five dry terns at noon"

// TestOneTimeLinks: a link opens once, for three days, and only the newest of an account; the first administrator is made only
// while there is nobody.
func TestOneTimeLinks(t *testing.T) {
	ctx := context.Background()
	s := service(t)
	now := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	s.Now = func() time.Time { return now }
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	closed := func(token string) bool {
		_, err := account.Open(ctx, s, token)
		return errors.Is(err, account.ErrLink)
	}
	first, err := account.First(ctx, s)
	must(err)
	second, err := account.First(ctx, s) // the program was started again
	must(err)
	if !closed(first) || closed(second) {
		t.Error("the newest link is not the only one")
	}
	if _, err := account.Use(ctx, s, second, " ", "", good); field(t, err) != "name" {
		t.Errorf("without a name: %v", err)
	}
	office, err := account.Use(ctx, s, second, "office", "", good)
	must(err)
	if office.Role != act.Administrator || office.Display != "office" || !closed(second) {
		t.Errorf("the first: %+v", office)
	}
	if token, err := account.First(ctx, s); token != "" || err != nil {
		t.Errorf("a second first one: %q, %v", token, err)
	}
	id, token := store.NewID(), strings.Repeat("0a", 16)
	facts := account.PersonFacts{Display: "Gull", Role: "technician"}
	for name, bad := range map[string]string{"short": "0a", "no digits": strings.Repeat("xy", 16), "empty": ""} {
		if _, err := account.Invite(ctx, s, command(), store.NewID(), "gull", facts, bad); field(t, err) != "token" {
			t.Errorf("a token that is %s: %v", name, err)
		}
	}
	_, err = account.Invite(ctx, s, command(), id, "gull", facts, token)
	must(err)
	if _, err := account.Invite(ctx, s, command(), store.NewID(), "GULL", facts, strings.Repeat("0b", 16)); field(
		t,
		err,
	) != "name" {
		t.Errorf("the same name in capitals: %v", err)
	}
	for password, allowed := range map[string]bool{"gullgull": false, "short": false, strings.Repeat("x", 201): false,
		"password1": false} {
		if _, err := account.Use(ctx, s, token, "", "", password); (err == nil) != allowed {
			t.Errorf("%q: %v", password, err)
		}
	}
	now = now.AddDate(0, 0, 3).Add(time.Second)
	if !closed(token) {
		t.Error("a link of more than three days opens")
	}
	if _, err := account.Use(ctx, s, token, "", "", good); !errors.Is(err, account.ErrLink) {
		t.Errorf("used after three days: %v", err)
	}
	again := strings.Repeat("0c", 16)
	_, err = account.Link(ctx, s, command(), id, again)
	must(err)
	people, err := account.People(ctx, s)
	must(err)
	if len(people) != 2 || !people[0].Waiting || people[0].Name != "gull" || people[1].Waiting {
		t.Errorf("people: %+v", people)
	}
	who, err := account.Use(ctx, s, again, "somebody else", "Else", good)
	must(err)
	if who.Name != "gull" || who.Display != "Gull" {
		t.Errorf("a link changed more than a password: %+v", who)
	}
	// A disabled account has no link that opens, and signs in with nothing.
	third := strings.Repeat("0d", 16)
	_, err = account.Link(ctx, s, command(), id, third)
	must(err)
	facts.Disabled = true
	_, err = account.Change(ctx, s, command(), id, 2, facts)
	must(err)
	if !closed(third) {
		t.Error("the link of a disabled account opens")
	}
	if _, err := account.SignIn(ctx, s, "gull", good); !errors.Is(err, account.ErrSignIn) {
		t.Errorf("a disabled account: %v", err)
	}
}

// TestSignInsEnd: each sign-in stands by itself, ends by itself, and all but one end with a new password.
func TestSignInsEnd(t *testing.T) {
	ctx := context.Background()
	s := service(t)
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	who, err := account.Add(ctx, s, command(), "tern", "Tern", "buyer", good)
	must(err)
	other, err := account.Add(ctx, s, command(), "skua", "Skua", "buyer", good)
	must(err)
	var ids []string
	for _, agent := range []string{"one", strings.Repeat("é", 300), ""} {
		id, err := account.Begin(ctx, s, who.ID, agent)
		must(err)
		ids = append(ids, id)
	}
	in := func(account, id string) bool {
		_, err := act.Who(ctx, s, account, id)
		return err == nil
	}
	if !in(who.ID, ids[0]) || in(other.ID, ids[0]) || in(who.ID, store.NewID()) {
		t.Error("a sign-in counts for whose it is")
	}
	if err := account.End(ctx, s, other.ID, ids[0]); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("somebody else's sign-in ended: %v", err)
	}
	must(account.End(ctx, s, who.ID, ids[0]))
	list, err := account.SignIns(ctx, s, who.ID, ids[1])
	must(err)
	if in(who.ID, ids[0]) || len(list) != 2 || list[0].Here == list[1].Here {
		t.Errorf("after one ended: %+v", list)
	}
	if err := account.Password(ctx, s, who, ids[1], better, good); field(t, err) != "old" {
		t.Errorf("a wrong old password: %v", err)
	}
	if err := account.Password(ctx, s, who, ids[1], good, "terntern"); field(t, err) != "password" {
		t.Errorf("a weak one: %v", err)
	}
	must(account.Password(ctx, s, who, ids[1], good, better))
	if !in(who.ID, ids[1]) || in(who.ID, ids[2]) {
		t.Error("another sign-in outlived the password, or this one did not")
	}
	if _, err := account.SignIn(ctx, s, "tern", good); !errors.Is(err, account.ErrSignIn) {
		t.Errorf("the old password: %v", err)
	}
	now := s.Now()
	s.Now = func() time.Time { return now.Add(13 * time.Hour) }
	if list, err := account.SignIns(ctx, s, who.ID, ""); err != nil || len(list) != 0 {
		t.Errorf("after half a day and an hour: %+v, %v", list, err)
	}
}

// TestTrail: what somebody did is found by row, study, person and kind, field by field, in pages that neither repeat nor leave
// out; every kind of row that is recorded can be asked for.
func TestTrail(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	who, err := account.Add(ctx, w.Service, command(), "tern", "Tern", "analyst", good)
	w.must(err)
	mine := func() act.Command {
		c := command()
		c.Actor = who
		return c
	}
	row, err := store.Get[store.Part](w.DB, w.part["battery"])
	w.must(err)
	f := row.PartFacts
	f.MassG, f.ThicknessMM = 51, 4.2
	_, err = strip.ChangePart(ctx, w.Service, mine(), row.ID, row.Version, f)
	w.must(err)
	entry := w.log(w.pine, "front heat", nil)
	show := func(q trail.Ask) trail.Room {
		t.Helper()
		v, err := trail.Show(ctx, w.Service, q)
		w.must(err)
		return v
	}
	v := show(trail.Ask{Account: who.ID})
	if len(v.Lines) != 1 || v.Lines[0].Who != "Tern" || v.Lines[0].Gone || v.Lines[0].Verb != "update" ||
		v.Lines[0].Names != "battery" {
		t.Fatalf("by person: %+v", v.Lines)
	}
	said := ""
	for _, x := range v.Lines[0].Fields {
		said += x.Name + " " + x.Before + " " + x.After + "; "
	}
	if said != "mass_g 50 51; thickness_mm  4.2; " {
		t.Errorf("fields: %s", said)
	}
	if v := show(trail.Ask{Row: row.ID}); len(v.Lines) != 2 || v.Lines[0].Verb != "update" || v.Lines[1].Verb != "create" {
		t.Errorf("by row: %+v", v.Lines)
	}
	study := show(trail.Ask{Study: w.study})
	found := map[string]bool{}
	for _, l := range study.Lines {
		found[l.RowID] = true
	}
	if !found[w.study] || !found[w.pine] || !found[entry.ID] || found[row.ID] {
		t.Errorf("by study: %d lines, %v", len(study.Lines), found)
	}
	gone, err := strip.DeleteLog(ctx, w.Service, mine(), entry.ID, entry.Version)
	w.must(err)
	if v := show(trail.Ask{Row: entry.ID}); !v.Lines[0].Gone || v.Lines[0].Version != gone.Version || v.Lines[1].Gone {
		t.Errorf("deleted: %+v", v.Lines)
	}
	_, err = strip.RestoreLog(ctx, w.Service, mine(), entry.ID, gone.Version)
	w.must(err)
	if v := show(trail.Ask{Row: entry.ID}); v.Lines[0].Gone || v.Lines[1].Gone {
		t.Errorf("brought back: %+v", v.Lines)
	}
	if v := show(trail.Ask{Entity: "Unit"}); len(v.Lines) != 2 {
		t.Errorf("by kind: %+v", v.Lines)
	}
	all, seen := show(trail.Ask{Most: 1000}), map[uint64]bool{}
	for before := uint64(0); ; {
		v := show(trail.Ask{Most: 4, Before: before})
		for _, l := range v.Lines {
			if seen[l.ID] {
				t.Errorf("line %d twice", l.ID)
			}
			seen[l.ID] = true
		}
		if before = v.More; before == 0 {
			break
		}
	}
	if len(seen) != len(all.Lines) || len(seen) < 15 {
		t.Errorf("%d lines in pages, %d at once", len(seen), len(all.Lines))
	}
	for _, l := range all.Lines {
		if _, err := trail.Show(ctx, w.Service, trail.Ask{Entity: l.Entity}); err != nil {
			t.Errorf("%s cannot be asked for: %v", l.Entity, err)
		}
	}
	if _, err := trail.Show(ctx, w.Service, trail.Ask{Entity: "Song"}); field(t, err) != "entity" {
		t.Errorf("a kind that is none: %v", err)
	}
}
