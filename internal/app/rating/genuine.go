package rating

import (
	"cmp"
	"fmt"
	"slices"

	"waryowl/internal/app/study"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
)

// ladder are the outcomes of a genuine piece from another phone, the worst first.
var ladder = []string{"dead", "loses", "notice", "calibrated", "works"}

// outcomes are the verdicts of the swap lab in the words of the rubrics.
var outcomes = map[string]string{
	ledger.Dead:       "dead",
	ledger.NoSeat:     "dead",
	ledger.Loses:      "loses",
	ledger.Sporadic:   "loses",
	ledger.Together:   "loses",
	ledger.WithNotice: "notice",
	ledger.Calibrated: "calibrated",
	ledger.Works:      "works",
}

// serves is from which chance on a kind of part is the usual cause of a check's loss: untested, it stays open.
const serves = 0.1

// excluded is below which chance a loss counts as ruled out.
const excluded = 0.05

// fromSwaps reads what the swap tests of the model's studies showed of genuine pieces of other phones: of each job from
// the study that is surest of it.
func (r *Record) fromSwaps(studies []*study.Record) error {
	for _, b := range studies {
		if len(b.Trials) == 0 {
			continue
		}
		builds := b.Builds()
		build := ""
		if len(builds) > 0 {
			build = builds[len(builds)-1]
		}
		if build != "" && r.Build == "" {
			r.Build = build
		}
		read, err := b.Read(build)
		if err != nil { // a study that cannot be read says nothing
			continue
		}
		for job, kind := range jobs {
			r.genuine(job, kind, b, read)
		}
	}
	return nil
}

func (r *Record) genuine(job, kind string, b *study.Record, read study.Reading) {
	id := job + ".genuine"
	for _, st := range ledger.States(read.In) {
		p := b.Know.PartNamed(st[0])
		if st[1] != "stranger" || p == nil || cmp.Or(p.Kind, p.Guess) != kind {
			continue
		}
		var verdicts []ledger.Verdict
		for _, c := range b.SwapChecks() {
			verdicts = append(verdicts, read.Grade(st[0], st[1], c.Mark))
		}
		may, eye, words := outcome(verdicts, func(check string) bool { return trade.Prior(kind, check) >= serves })
		if len(may) == 0 {
			continue
		}
		if have := r.Facts[id]; have != nil && rank(have.Eye) >= rank(eye) {
			continue
		}
		v := among(may)
		v.Build = read.Study.Build
		r.compute(id, v, eye, words, "swap", b.ID)
		if f := r.Facts[id]; f != nil {
			f.Build = read.Study.Build
			for i, c := range b.SwapChecks() {
				if v := verdicts[i]; outcomes[v.Mark] == "loses" ||
					v.Mark == ledger.Unsettled && (v.P == nil || *v.P >= 0.5) {
					f.Lost = append(f.Lost, c.Name)
				}
			}
		}
	}
}

func rank(eye string) int { return slices.Index([]string{"shut", "half", "open"}, eye) }

// outcome is what a piece may come to over all checks: its worst check decides. A half-shown verdict may still be a loss
// that is not excluded; nothing shown gives nothing.
func outcome(verdicts []ledger.Verdict, served func(check string) bool) (may []string, eye, words string) {
	at := func(s string) int { return slices.Index(ladder, s) }
	eye = "open"
	var sets [][]string
	tested, open, blank := 0, 0, 0
	for _, v := range verdicts {
		if v.Mark == ledger.Untested {
			if served(v.Check) {
				blank++
			}
			continue
		}
		tested++
		o, settled := outcomes[v.Mark], v.Eye == ledger.Open
		if study.IsNotice(v.Check) && (o == "loses" || o == "") { // a notice that is shown costs no function
			o = "notice"
		}
		lost := "loses"
		if study.IsNotice(v.Check) {
			lost = "notice"
		}
		set := []string{o}
		switch {
		case settled:
			open++
		case o == "":
			set = []string{lost, "works"}
			if v.P != nil && *v.P < excluded {
				set = set[1:]
			} else if v.P != nil && *v.P > 1-excluded {
				set = set[:1]
			}
		case v.P == nil || *v.P >= excluded:
			set = append(set, lost)
		}
		if !settled {
			eye = "half"
		}
		sets = append(sets, set)
	}
	if tested == 0 {
		return nil, "shut", ""
	}
	if blank > 0 { // what the part serves and nobody tested may be lost with it
		eye = "half"
		sets = append(sets, []string{"loses", "works"})
	}
	// The piece comes to the least over its checks: every value of a check that no check must be below.
	ceiling := len(ladder) - 1
	for _, set := range sets {
		top := 0
		for _, o := range set {
			top = max(top, at(o))
		}
		ceiling = min(ceiling, top)
	}
	for _, o := range ladder[:ceiling+1] {
		if slices.ContainsFunc(sets, func(s []string) bool { return slices.Contains(s, o) }) {
			may = append(may, o)
		}
	}
	words = fmt.Sprintf("%d checks tried, %d proven", tested, open)
	if blank > 0 {
		words += fmt.Sprintf(", %d that it serves not tried", blank)
	}
	return may, eye, words
}
