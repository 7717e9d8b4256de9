// Package narrate turns timed speech, spoken while working, into proposed log entries. It proposes; nothing enters a
// log without a hand. Every proposal points at the characters that it rests on; every character is read, skipped with
// a reason, or listed as unread. Pure words and counts: the same recording gives the same proposals.
//
//	out, err := narrate.Solve(in)
//	out.Proposals[0].Line // "b bracket"
package narrate

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/narrate/cues"
)

// Part, Unit and Check are what the model and the study know; Word is one of the workshop's own.
type (
	Part struct {
		Name    string   `json:"name"`
		Aliases []string `json:"aliases,omitempty" nullable:"false"`
		Family  string   `json:"family,omitempty"`
	}
	Unit struct {
		Name    string   `json:"name"`
		Aliases []string `json:"aliases,omitempty" nullable:"false"`
	}
	Check struct {
		Mark string `json:"mark"`
		Name string `json:"name"`
	}
	Word struct {
		Say   string `json:"say"`
		Means string `json:"means"`
		Kind  string `json:"kind"  enum:"part,check,tool,drive,method,model,unit,mishearing"`
	}
)

// Input is one recording.
type Input struct {
	Cues     []cues.Cue        `json:"cues"               nullable:"false"`
	Parts    []Part            `json:"parts,omitempty"    nullable:"false"`
	Units    []Unit            `json:"units,omitempty"    nullable:"false"`
	Checks   []Check           `json:"checks,omitempty"   nullable:"false"`
	Language string            `json:"language,omitempty"`
	Words    []Word            `json:"words,omitempty"    nullable:"false"`
	Voice    string            `json:"voice,omitempty"                     enum:"log,guide,auto"`
	Unit     string            `json:"unit,omitempty"                                            doc:"in work at the start"`
	Record   map[string][2]int `json:"record,omitempty"                                          doc:"per rule: accepted, of shown"`
}

// Value is a figure with its unit.
type Value struct {
	N    float64 `json:"n"`
	Unit string  `json:"unit"`
}

// Doubt is why a proposal is not sure.
type Doubt struct {
	Code string `json:"code" enum:"negation,figure,which phone,which part,mood,sum,order,same again"`
	Text string `json:"text"`
}

// Proposal is one fact that may be logged. From and To count characters in the text of its cue.
type Proposal struct {
	ID         string  `json:"id"`
	Cue        int     `json:"cue"`
	Start      float64 `json:"start"`
	From       int     `json:"from"`
	To         int     `json:"to"`
	ToCue      int     `json:"to_cue,omitempty"       doc:"where the words end in a later cue"`
	Kind       string  `json:"kind"`
	Verb       string  `json:"verb,omitempty"`
	Object     string  `json:"object"`
	Part       string  `json:"part"`
	Count      int     `json:"count,omitempty"`
	Value      *Value  `json:"value,omitempty"`
	More       []Value `json:"more,omitempty"                                                                                               nullable:"false"`
	Tool       string  `json:"tool,omitempty"`
	Unit       string  `json:"unit,omitempty"`
	UnitBy     string  `json:"unit_by,omitempty"                                                                                                             enum:"named,in work,guess"`
	Line       string  `json:"line"`
	Into       string  `json:"into"                   doc:"where it goes: log, checks, swap, score, offers, catalogue, plan, closing, unit"`
	Did        string  `json:"did"                                                                                                                           enum:"done,intended,advised,hypothetical,said by others,negated"`
	Acted      bool    `json:"acted"                  doc:"the speaker did it"`
	Confidence float64 `json:"confidence"`
	Rule       string  `json:"rule"`
	Doubts     []Doubt `json:"doubts"                                                                                                       nullable:"false"`
	Withdrawn  string  `json:"withdrawn_by,omitempty"`

	tok int // of the word that carries the fact
}

// Correction links what was said to what took its place.
type Correction struct {
	Proposal string `json:"proposal"`
	By       string `json:"by"`
	Cue      int    `json:"cue"`
	How      string `json:"how"      enum:"replaced,withdrawn"`
	Text     string `json:"text"`
}

// Span is a stretch of a cue: skipped, with its reason, or unread.
type Span struct {
	Cue  int      `json:"cue"`
	From int      `json:"from"`
	To   int      `json:"to"`
	Why  string   `json:"why,omitempty"`
	Text string   `json:"text,omitempty"`
	Near []string `json:"near,omitempty" nullable:"false"`
}

// ScrewSum is what went out and came back of one kind of screw.
type ScrewSum struct {
	Drive string `json:"drive"`
	Out   int    `json:"out"`
	Back  int    `json:"back"`
}

// Summary says what the recording comes to.
type Summary struct {
	Voice     string         `json:"voice"      enum:"log,guide"`
	ByKind    map[string]int `json:"by_kind"`
	Screws    []ScrewSum     `json:"screws"                      nullable:"false"`
	Sums      []Sum          `json:"sums"                        nullable:"false"`
	WordsRead float64        `json:"words_read"`
	Seconds   float64        `json:"seconds"`
}

// Sum is a total that was said against what was named one by one.
type Sum struct {
	Text      string   `json:"text"`
	Proposals []string `json:"proposals" nullable:"false"`
}

// Output is the proposals in the order of their times.
type Output struct {
	Proposals   []Proposal   `json:"proposals"   nullable:"false"`
	Corrections []Correction `json:"corrections" nullable:"false"`
	Skipped     []Span       `json:"skipped"     nullable:"false"`
	Unread      []Span       `json:"unread"      nullable:"false"`
	Summary     Summary      `json:"summary"`
}

const (
	mostCues  = 5000
	mostChars = 20_000
)

func (in Input) check() error {
	if in.Language != "" && in.Language != "en" {
		return fault.New("language", in.Language, "en")
	}
	if !slices.Contains([]string{"", "auto", "log", "guide"}, in.Voice) {
		return fault.New("voice", in.Voice, "log, guide or auto")
	}
	if len(in.Cues) > mostCues {
		return fault.New("cues", len(in.Cues), "at most 5000 cues")
	}
	for i, c := range in.Cues {
		at := fmt.Sprintf("cues[%d]", i)
		switch {
		case !(c.Start >= 0):
			return fault.New(at+".start", c.Start, "seconds, 0 or more")
		case c.End != 0 && c.End < c.Start:
			return fault.New(at+".end", c.End, "not before the start")
		case i > 0 && c.Start < in.Cues[i-1].Start:
			return fault.New(at+".start", c.Start, "not before the start of the cue before it")
		case len([]rune(c.Text)) > mostChars:
			return fault.New(at+".text", len([]rune(c.Text)), "at most 20000 characters")
		}
	}
	kinds := []string{"part", "check", "tool", "drive", "method", "model", "unit", "mishearing"}
	for i, w := range in.Words {
		at := fmt.Sprintf("words[%d]", i)
		switch {
		case strings.TrimSpace(w.Say) == "":
			return fault.New(at+".say", w.Say, "what is said")
		case !slices.Contains(kinds, w.Kind):
			return fault.New(at+".kind", w.Kind, strings.Join(kinds, ", "))
		}
	}
	for i, p := range in.Parts {
		if strings.TrimSpace(p.Name) == "" {
			return fault.New(fmt.Sprintf("parts[%d].name", i), p.Name, "a name")
		}
	}
	for rule, r := range in.Record {
		if r[0] < 0 || r[0] > r[1] {
			return fault.New("record."+rule, r[0], "0 to the number that was shown")
		}
	}
	return nil
}
