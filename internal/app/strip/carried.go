package strip

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/narrate"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// SaidTrial is a swap test that was told: whose board it is stands at the line, PartID is the slot, FromUnitID the
// phone whose piece went in; empty: the slot was left off.
type SaidTrial struct {
	PartID     string `json:"part_id"      format:"uuid"`
	FromUnitID string `json:"from_unit_id" maxLength:"36"`
}

// SaidPart is a part that the phone has and that nobody recorded.
type SaidPart struct {
	Name   string `json:"name"   minLength:"1" maxLength:"80"`
	Family string `json:"family" enum:"PW,OP,SC,SO,BD,RF,BT,FR,SE"`
}

// trialOf is the swap test that a proposal tells, where it is known which: a slot of swap tests, and one other phone.
func trialOf(b *study.Record, p narrate.Proposal, unit string) *SaidTrial {
	if p.Kind != "trial" || p.Verb != "swap" && p.Verb != "leave off" {
		return nil
	}
	part := b.Know.PartNamed(p.Part)
	if part == nil || !part.Slot {
		return nil
	}
	t := &SaidTrial{PartID: part.ID}
	if p.Verb == "leave off" {
		return t
	}
	var others []string
	for _, u := range b.Units {
		if u.ID != unit {
			others = append(others, u.ID)
		}
	}
	if len(others) != 1 {
		return nil
	}
	t.FromUnitID = others[0]
	return t
}

// partOf is the part that a proposal tells of and that is not on record.
func partOf(b *study.Record, p narrate.Proposal) *SaidPart {
	if p.Kind != "part" || p.Verb != "has" || p.Part != "" || p.Object == "" || b.Know.PartNamed(p.Object) != nil {
		return nil
	}
	id, _ := trade.KindOf(p.Object)
	kind, _ := trade.KindByID(id)
	return &SaidPart{Name: p.Object, Family: cmp.Or(kind.Family, "FR")}
}

// carrying is what the lines of one recording put into other rooms: a trial waits for the checks that are told after
// it.
type carrying struct {
	b      *study.Record
	tx     *store.Tx
	trials []store.Trial
}

// note says in the log what a line puts elsewhere, and puts a part there at once.
func (c *carrying) note(at string, l SaidLine, said *store.Said) (note string, err error) {
	if l.Part != nil {
		p, err := newPart(c.b, c.tx, shorthand.NewPart{Name: l.Part.Name, Family: l.Part.Family})
		said.Part = p.ID
		return "there is a " + l.Part.Name, inside(at+".part", err)
	}
	t := l.Trial
	part, known := c.b.Know.PartByID[t.PartID]
	if !known || !part.Slot {
		return "", fault.New(at+".trial.part_id", t.PartID, "a part of this model that takes part in swap tests")
	}
	piece := store.Piece{PartID: t.PartID, Origin: ledger.Off}
	note = "swap test: without the " + part.Name
	if t.FromUnitID != "" {
		if err := act.Belongs(at+".trial.from_unit_id", t.FromUnitID, c.b.UnitByID, "a unit of this study"); err != nil {
			return "", err
		}
		piece = store.Piece{PartID: t.PartID, Origin: "unit", UnitID: t.FromUnitID}
		note = fmt.Sprintf("swap test: the %s of %s", part.Name, c.b.UnitByID[t.FromUnitID].Name)
	}
	done := c.tx.Happened
	said.Trial = store.NewID()
	c.trials = append(c.trials, store.Trial{Row: store.Row{ID: said.Trial}, StudyID: c.b.ID, TrialFacts: store.TrialFacts{
		BoardUnitID: l.UnitID, Pieces: []store.Piece{piece}, Results: map[string]string{}, DoneAt: &done, Note: said.Words}})
	return note, nil
}

// within is how long after a trial a check that is told belongs to it.
const within = 5 * time.Minute

// seen gives a check to the trial of the same phone that was told last.
func (c *carrying) seen(e store.LogEntry) {
	if e.Detail.Check == nil || len(c.trials) == 0 {
		return
	}
	t := &c.trials[len(c.trials)-1]
	if t.BoardUnitID == e.UnitID && c.tx.Happened.Sub(*t.DoneAt) <= within {
		t.Results[e.Detail.Check.Mark] = e.Detail.Check.Result
	}
}

// end records the trials, after those that are there.
func (c *carrying) end() error {
	if len(c.trials) == 0 {
		return nil
	}
	last, err := store.LastSeq[store.Trial](c.tx, c.b.ID)
	if err != nil {
		return err
	}
	place := 0
	for _, t := range c.b.Trials {
		place = max(place, t.Place+1)
	}
	for _, a := range c.b.Acts {
		place = max(place, a.Place+1)
	}
	for i := range c.trials {
		t := &c.trials[i]
		t.Seq, t.Place = last+1+i, place+i
		t.Build = c.b.BuildOf(*t)
		if err := store.Create(c.tx, t); err != nil {
			return err
		}
	}
	return nil
}

// takenBack removes what an entry of a recording had put into other rooms, unless somebody changed it since.
func takenBack(tx *store.Tx, said *store.Said) error {
	if said.Trial != "" {
		if _, err := store.Delete[store.Trial](tx, said.Trial, 1); err != nil {
			return kept("trial", err)
		}
	}
	if said.Part == "" {
		return nil
	}
	used, err := store.List[store.PlanStep](tx.DB, "id", "part_id = ? OR frees LIKE ?", said.Part, "%"+said.Part+"%")
	if err != nil || len(used) > 0 {
		return err // other steps rest on it: it stays
	}
	_, err = store.Delete[store.Part](tx, said.Part, 1)
	return kept("part", err)
}

// kept says of something that was changed since that it has to be taken back by itself.
func kept(what string, err error) error {
	if _, stale := err.(*store.Stale); stale {
		return fault.New("recording", "a "+what+" that somebody changed since",
			"a recording of which nothing was changed; take the "+
				what+" back by itself")
	}
	return err
}

// Film is what an accepted recording gives back to whoever publishes it, as WebVTT: chapters, a title at each step, or
// captions, what was said with the part that it is about.
func Film(ctx context.Context, s *act.Service, studyID, recording string, chapters bool) (string, error) {
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return "", err
	}
	type cue struct {
		second float64
		text   string
	}
	var list []cue
	for _, e := range b.Log {
		s := e.Detail.Said
		if s == nil || s.Recording != recording || e.Back && chapters && len(list) == 0 {
			continue
		}
		text := title(b, e)
		if !chapters {
			text = strings.TrimSpace(s.Words)
			if p := b.Know.PartByID[e.PartID].Name; p != "" && !strings.Contains(strings.ToLower(text), strings.ToLower(p)) {
				text += " [" + p + "]"
			}
		}
		if text = strings.Join(strings.Fields(text), " "); text != "" {
			list = append(list, cue{s.Second, text})
		}
	}
	if len(list) == 0 {
		return "", fault.New("recording", recording, "a recording of which entries stand in the log")
	}
	slices.SortStableFunc(list, func(a, b cue) int { return cmp.Compare(a.second, b.second) })
	var out strings.Builder
	out.WriteString("WEBVTT\n")
	for i := 0; i < len(list); {
		from, texts := list[i].second, []string{}
		for ; i < len(list) && list[i].second == from; i++ {
			if !slices.Contains(texts, list[i].text) {
				texts = append(texts, list[i].text)
			}
		}
		to := from + lastCue
		if i < len(list) {
			to = list[i].second
		}
		fmt.Fprintf(&out, "\n%s --> %s\n%s\n", stamp(from), stamp(to), escaped.Replace(strings.Join(texts, ", ")))
	}
	return out.String(), nil
}

// title is an entry as a chapter of a film is called: what was done to what. Notes are none.
func title(b *study.Record, e store.LogEntry) string {
	step := b.Know.StepByID[e.StepID]
	switch e.Kind {
	case "step":
		p := narrate.Proposal{Kind: "step", Verb: step.Verb, Object: step.What, Count: e.Detail.Count}
		if e.Back {
			p.Kind = "put_back"
		}
		if e.Detail.Heat != nil {
			return "Heat the " + step.What
		}
		text := p.Say()
		return strings.ToUpper(text[:1]) + text[1:]
	case "check":
		return "Checks"
	case "incident":
		return "What went wrong"
	}
	if strings.HasPrefix(e.Note, "swap test:") {
		return "Swap test" + strings.TrimPrefix(e.Note, "swap test")
	}
	return ""
}

// lastCue is how long the last cue stands, in seconds.
const lastCue = 8

// escaped are the signs that WebVTT reads as its own (W3C, WebVTT, cue text).
var escaped = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;")

func stamp(second float64) string {
	ms := int(second*1000 + .5)
	return fmt.Sprintf("%02d:%02d:%02d.%03d", ms/3_600_000, ms/60_000%60, ms/1000%60, ms%1000)
}
