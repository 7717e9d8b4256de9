package strip

import (
	"context"
	"fmt"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/narrate"
	"waryowl/internal/core/narrate/cues"
	"waryowl/internal/store"
)

type (
	// Recording is what was said while working: captions of a film or lines with times.
	Recording struct {
		Text   string `json:"text" minLength:"1" maxLength:"900000" lines:"yes" doc:"WebVTT, SRT, lines that begin with [m:ss], or lines without times; a line of three hyphens begins another recording"`
		UnitID string `json:"unit_id" format:"uuid" doc:"the phone in work at the start"`
	}
	// Heard is a recording with what it would put into the log.
	Heard struct {
		Answer      answer.Sentence      `json:"answer" nullable:"false"`
		Timed       bool                 `json:"timed" doc:"false: dictated or pasted without times"`
		Cues        []cues.Cue           `json:"cues" nullable:"false"`
		Proposals   []Offer              `json:"proposals" nullable:"false"`
		Corrections []narrate.Correction `json:"corrections" nullable:"false"`
		Unread      []narrate.Span       `json:"unread" nullable:"false"`
		Summary     narrate.Summary      `json:"summary"`
	}
	// Offer is a proposal as the page shows it. Enter is the line of the bench that logs it; empty: it can only be
	// kept as a note, or goes to another room as Trial or New say.
	Offer struct {
		narrate.Proposal
		UnitID   string     `json:"unit_id" doc:"the phone, where it is one of this study"`
		Say      string     `json:"say" doc:"the fact in the words of the page"`
		Enter    string     `json:"enter"`
		Ticked   bool       `json:"ticked" doc:"sure enough to be accepted unless somebody says no"`
		Which    []Which    `json:"which" nullable:"false" doc:"parts that it may mean, where the phone has several"`
		Logged   string     `json:"logged,omitempty" doc:"it stands in the log already, and what differs"`
		LoggedAt *time.Time `json:"logged_at,omitempty" doc:"when that happened: the clock of the recording can be laid over it"`
		Trial    *SaidTrial `json:"trial,omitempty"`
		New      *SaidPart  `json:"new,omitempty" doc:"a part that is not on record"`
	}
	// Which is a part that a proposal may mean, with the line of the bench that says so.
	Which struct {
		Name string `json:"name"`
		Line string `json:"line"`
	}
	// SaidLine is one accepted proposal: a line of the bench, a swap test, a new part, or words that are kept as a note.
	SaidLine struct {
		ID     string     `json:"id" format:"uuid" doc:"id of the new entry"`
		UnitID string     `json:"unit_id" format:"uuid"`
		Line   string     `json:"line,omitempty" maxLength:"400"`
		Note   string     `json:"note,omitempty" maxLength:"400" lines:"yes"`
		Trial  *SaidTrial `json:"trial,omitempty"`
		Part   *SaidPart  `json:"part,omitempty"`
		Second float64    `json:"second" minimum:"0" maximum:"86400" doc:"of the recording"`
		Words  string     `json:"words,omitempty" maxLength:"400" doc:"what was said" lines:"yes"`
	}
	// Accepted is what a hand took of a recording. All of it enters the log, or nothing.
	Accepted struct {
		Recording string     `json:"recording" format:"uuid" doc:"names what is accepted together, for undo"`
		Began     time.Time  `json:"began" doc:"when the recording began"`
		Stops     string     `json:"stops,omitempty" enum:"already done" doc:"answer to the stops that these acts raise"`
		Lines     []SaidLine `json:"lines" nullable:"false" minItems:"1" maxItems:"500"`
	}
	// Entered is what was logged.
	Entered struct {
		Recording string           `json:"recording"`
		Entries   []store.LogEntry `json:"entries" nullable:"false"`
	}
	// Unsay names a recording whose entries are taken back.
	Unsay struct {
		Recording string `json:"recording" format:"uuid"`
	}
)

// tickedFrom is how sure a proposal must be to be ticked beforehand.
const tickedFrom = .9

// Hear reads a recording against a study. Nothing is written.
func Hear(ctx context.Context, s *act.Service, studyID string, rec Recording) (Heard, error) {
	h := Heard{Proposals: []Offer{}}
	db := s.DB.WithContext(ctx)
	b, err := study.Load(db, studyID)
	if err != nil {
		return h, err
	}
	if err := act.Belongs("unit_id", rec.UnitID, b.UnitByID, "a unit of this study"); err != nil {
		return h, err
	}
	if h.Cues, h.Timed, err = timed(rec.Text); err != nil {
		return h, err
	}
	words, err := ownWords(db)
	if err != nil {
		return h, err
	}
	in := narrate.Input{Cues: h.Cues, Unit: b.UnitByID[rec.UnitID].Name}
	for _, p := range b.Know.Parts {
		in.Parts = append(in.Parts, narrate.Part{Name: p.Name, Aliases: p.Aliases, Family: p.Family})
	}
	byName := map[string]string{}
	for _, u := range b.Units {
		in.Units = append(in.Units, narrate.Unit{Name: u.Name, Aliases: u.Aliases})
		byName[u.Name] = u.ID
	}
	for _, c := range b.Checks {
		in.Checks = append(in.Checks, narrate.Check{Mark: c.Mark, Name: c.Name})
	}
	for _, w := range words {
		if w.Kind != "material" {
			in.Words = append(in.Words, narrate.Word{Say: w.Say, Means: w.Means, Kind: w.Kind})
		}
	}
	out, err := narrate.Solve(in)
	if err != nil {
		return h, err
	}
	h.Corrections, h.Unread, h.Summary = out.Corrections, out.Unread, out.Summary
	log := typed{contextOf(b, store.Unit{}, words), map[string][]known{}, map[string]time.Time{},
		map[string][]store.LogEntry{}}
	marks := map[string]string{}
	for _, c := range b.Checks {
		marks[c.Name], marks[c.Mark] = c.Mark, c.Mark
	}
	for _, e := range b.Log {
		if x := factOf(b, e); x.Verb != "" {
			log.facts[e.UnitID] = append(log.facts[e.UnitID], known{x, e.HappenedAt})
		}
		if c := e.Detail.Check; c != nil {
			log.checks[e.UnitID+c.Mark+c.Result] = e.HappenedAt
		}
		if s := e.Detail.Said; s != nil && e.Kind == "note" {
			log.said[s.Words] = append(log.said[s.Words], e)
		}
	}
	for _, p := range out.Proposals {
		o := Offer{Proposal: p, UnitID: byName[p.Unit], Say: p.Say(), Enter: p.Line}
		if o.Enter == "?" {
			o.Enter = ""
		}
		if seen := map[string]string{"pass": " works", "weak": " is weak", "lost": " fails"}[p.Verb]; p.Kind == "check" &&
			seen != "" {
			o.Enter = p.Object + seen
		}
		if p.Kind == "left_over" {
			o.Enter = fmt.Sprintf("%d %s left over", max(1, p.Count), p.Object)
		}
		if o.UnitID == "" {
			o.UnitID = rec.UnitID
		}
		o.Which = log.which(p)
		o.Logged, o.LoggedAt = log.holds(o, marks[p.Object], h.Cues[p.Cue].Text)
		o.Trial, o.New = trialOf(b, p, o.UnitID), partOf(b, p)
		o.Ticked = p.Confidence >= tickedFrom && p.Acted && p.Withdrawn == "" && o.Enter != "" && o.Logged == "" &&
			len(p.Doubts) == 0
		h.Proposals = append(h.Proposals, o)
	}
	h.Answer = h.sentence()
	return h, nil
}

func (h Heard) sentence() answer.Sentence {
	ready, asks, known := 0, 0, 0
	for _, p := range h.Proposals {
		switch {
		case p.Logged != "":
			known++
		case p.Ticked:
			ready++
		case p.Acted && p.Withdrawn == "":
			asks++
		}
	}
	if len(h.Proposals) == 0 {
		return answer.Sentence{answer.Text("No act of the bench was heard in this recording.")}
	}
	s := answer.Sentence{
		answer.Count(ready, "proposal", "#said"),
		answer.Text(" of "),
		answer.Number(float64(len(h.Proposals)), "", "#said"),
		answer.Text(
			" sure enough to be ticked, ",
		),
		answer.Number(float64(asks), "", "#said"),
		answer.Text(" wait for your yes."),
	}
	if known > 0 {
		s = append(
			s,
			answer.Text(" "),
			answer.Number(float64(known), "", "#said"),
			answer.Text(" stand in the log already."),
		)
	}
	return append(s, answer.Text(" Nothing is logged before you say so."))
}

// Accept logs what a hand took of a recording, each with the time at which it was said, all or nothing. The stops
// that the acts raise are asked once for all: they were done when they were said, so that only what was done about it
// is asked.
func Accept(ctx context.Context, s *act.Service, c act.Command, studyID string, in Accepted) (Entered, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Entered, error) {
		done := Entered{Recording: in.Recording, Entries: []store.LogEntry{}}
		b, err := study.LockFor(tx, studyID, study.Want{})
		if err != nil {
			return done, err
		}
		now := tx.Happened
		defer func() { tx.Happened = now }()
		var stops []string
		elsewhere := &carrying{b: b, tx: tx}
		for i, l := range in.Lines {
			at := fmt.Sprintf("lines[%d]", i)
			if err := act.Belongs(at+".unit_id", l.UnitID, b.UnitByID, "a unit of this study"); err != nil {
				return done, err
			}
			if !l.one() {
				return done, fault.New(at+".line", l.Line, "one of these: a line of the bench, a note, a swap test, a new part")
			}
			tx.Happened = in.Began.Add(time.Duration(l.Second * float64(time.Second)))
			if tx.Happened.After(tx.Arrived.Add(time.Minute)) || tx.Happened.Year() < 2000 {
				return done, fault.New(
					"began",
					in.Began.Format(time.RFC3339),
					"a time such that nothing was said in the future",
				)
			}
			f := LogFacts{UnitID: l.UnitID, Line: l.Line,
				Detail: store.LogDetail{Said: &store.Said{Recording: in.Recording, Second: l.Second, Words: l.Words}}}
			var e store.LogEntry
			if l.Trial != nil || l.Part != nil {
				if l.Note, err = elsewhere.note(at, l, f.Detail.Said); err != nil {
					return done, err
				}
			}
			if l.Note != "" {
				f.Kind, f.Note = "note", l.Note
				e, err = logFacts(b, tx, l.ID, f)
			} else {
				var raised []interlock.Stop
				if raised, err = stopsOf(b, tx, f); err == nil {
					for _, s := range raised {
						stops = append(stops, s.Text+" ("+l.Line+")")
						f.Detail.Stops = append(f.Detail.Stops, store.StopAnswer{Rule: s.Rule, Answer: "already done"})
					}
					e, err = logLine(b, tx, l.ID, f)
				}
			}
			if err != nil {
				return done, inside(at, err)
			}
			elsewhere.seen(e)
			done.Entries = append(done.Entries, e)
		}
		if err := elsewhere.end(); err != nil {
			return done, err
		}
		if len(stops) > 0 && in.Stops == "" {
			return done, fault.New(
				"stops",
				"no answer",
				"the answer that this was done before: "+strings.Join(stops, " · "),
			)
		}
		return done, nil
	})
}

// one says that a line says one thing.
func (l SaidLine) one() bool {
	n := 0
	for _, said := range []bool{strings.TrimSpace(l.Line) != "", strings.TrimSpace(l.Note) != "", l.Trial != nil,
		l.Part != nil} {
		if said {
			n++
		}
	}
	return n == 1
}

// stopsOf are the stops that a line raises in the state that the lines before it left.
func stopsOf(b *study.Record, tx *store.Tx, f LogFacts) ([]interlock.Stop, error) {
	facts, err := understood(b, tx, f)
	var all []interlock.Stop
	for _, x := range facts {
		all = append(all, x.Stops...)
	}
	return all, err
}

// TakeBack takes all entries of a recording out of the log, the latest first.
func TakeBack(ctx context.Context, s *act.Service, c act.Command, studyID string, in Unsay) (Entered, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (Entered, error) {
		done := Entered{Recording: in.Recording, Entries: []store.LogEntry{}}
		b, err := study.Lock(tx, studyID)
		if err != nil {
			return done, err
		}
		for i := len(b.Log) - 1; i >= 0; i-- {
			e := b.Log[i]
			if e.Detail.Said == nil || e.Detail.Said.Recording != in.Recording {
				continue
			}
			gone, err := store.Delete[store.LogEntry](tx, e.ID, e.Version)
			if err != nil {
				return done, err
			}
			if err := takeBack(tx, studyID, gone); err != nil {
				return done, err
			}
			if err := takenBack(tx, e.Detail.Said); err != nil {
				return done, err
			}
			done.Entries = append(done.Entries, *gone)
		}
		if len(done.Entries) == 0 {
			return done, fault.New("recording", in.Recording, "a recording of which entries stand in the log")
		}
		return done, nil
	})
}
