// Package shorthand reads the bench line: one line logs one fact about the phone in work.
//
//	r := shorthand.Parse("u 4 tri-wing 1.2x1.6 @upper-bracket", vocabulary)
//	r.Fact.Count, r.Echo // 4, "PINE: unfasten 4 tri-wing screws 1.2 × 1.6 mm of the upper bracket"
//
// A line is an optional + (put back), a verb, and words and number groups in any order, in the vocabulary of package
// trade. A line is about a part, found by kind, name and alias, never by one shared word; a noun that no part has
// proposes a new one. What cannot be read is kept as a note; nothing is lost. Parse → echo → parse is a fixed point.
package shorthand

import "slices"

// Named is one part with several names; Kind is its kind of the catalogue, guessed from the name where it is empty.
type Named struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Aliases []string `json:"aliases,omitempty" nullable:"false"`
	Kind    string   `json:"kind,omitempty"`
}

// Vocabulary is what the line may speak of: the phone in work and the parts and tools of its model.
type Vocabulary struct {
	Unit  string   `json:"unit"`
	Parts []Named  `json:"parts" nullable:"false"`
	Tools []string `json:"tools" nullable:"false"`
}

// Measure is one measured value; Digit is the place of its last printed digit, U its stated uncertainty or 0, Of which
// lens, end or dimension it is of.
type Measure struct {
	Value float64 `json:"value"`
	Unit  string  `json:"unit" enum:"mAh,Wh,g,mm,MP,V,C,%"`
	U     float64 `json:"u,omitempty"`
	Digit float64 `json:"digit,omitempty"`
	Of    string  `json:"of,omitempty"`
}

// Screws are those of one length or drive among several at one place.
type Screws struct {
	Count      int     `json:"count,omitempty"`
	DiameterMM float64 `json:"diameter_mm,omitempty"`
	LengthMM   float64 `json:"length_mm,omitempty"`
	Drive      string  `json:"drive,omitempty"`
	DriveSize  string  `json:"drive_size,omitempty"`
	Word       string  `json:"word,omitempty" doc:"short, long …"`
}

// Poles say which end of a direct voltage goes where.
type Poles struct {
	Plus  string `json:"plus,omitempty"`
	Minus string `json:"minus,omitempty"`
}

// Surplus is a bit on the bench that no step accounts for.
type Surplus struct {
	Count  int    `json:"count,omitempty"`
	What   string `json:"what"`
	Origin string `json:"origin" enum:"unknown,this phone,another phone"`
}

// Fact is what a line says. Lengths mm, times s, temperatures °C; a field that the line does not say is left out.
type Fact struct {
	Kind        string    `json:"kind,omitempty" doc:"of the bench line: step, put_back, heat, solvent, wait, release, measure, incident, check, tool or note"`
	Verb        string    `json:"verb"`
	Back        bool      `json:"back,omitempty"`
	Part        string    `json:"part,omitempty" doc:"id"`
	Name        string    `json:"name,omitempty" doc:"name of the part"`
	Place       string    `json:"place,omitempty"`
	What        string    `json:"what,omitempty" doc:"what else is acted on: tabs, film …"`
	Count       int       `json:"count,omitempty"`
	Missed      int       `json:"missed,omitempty" doc:"found only later, apart from count"`
	Drive       string    `json:"drive,omitempty"`
	DriveSize   string    `json:"drive_size,omitempty"`
	DiameterMM  float64   `json:"diameter_mm,omitempty"`
	LengthMM    float64   `json:"length_mm,omitempty"`
	Lengths     []Screws  `json:"lengths,omitempty"`
	Joint       string    `json:"joint,omitempty"`
	Tool        string    `json:"tool,omitempty"`
	Method      string    `json:"method,omitempty"`
	Seconds     float64   `json:"seconds,omitempty"`
	SecondsTo   float64   `json:"seconds_to,omitempty"`
	SetC        float64   `json:"set_c,omitempty"`
	SetCTo      float64   `json:"set_c_to,omitempty"`
	MeasuredC   float64   `json:"measured_c,omitempty"`
	Side        string    `json:"side,omitempty"`
	Measures    []Measure `json:"measures,omitempty"`
	Whole       *int      `json:"whole,omitempty" doc:"tabs that came out whole"`
	Of          int       `json:"of,omitempty"`
	Which       string    `json:"which,omitempty"`
	Polarity    *Poles    `json:"polarity,omitempty"`
	Volts       float64   `json:"volts,omitempty"`
	Magnetic    string    `json:"magnetic,omitempty" enum:"yes,no"`
	Captive     bool      `json:"captive,omitempty"`
	Hidden      bool      `json:"hidden,omitempty"`
	HiddenUnder string    `json:"hidden_under,omitempty"`
	SharedBy    string    `json:"shared_by,omitempty"`
	Carries     string    `json:"carries,omitempty"`
	Detour      bool      `json:"detour,omitempty"`
	Result      string    `json:"result,omitempty" enum:"no gap,gap,mark"`
	Outcome     string    `json:"outcome,omitempty" enum:"done,gave up,destroyed,not tried"`
	Connector   string    `json:"connector,omitempty" enum:"off on purpose,loose,seated"`
	Surplus     *Surplus  `json:"surplus,omitempty"`
	Incident    string    `json:"incident,omitempty"`
	Note        string    `json:"note,omitempty"`

	Corrects *Correction `json:"corrects,omitempty" doc:"an earlier entry that this one mends"`
}

// Correction names the entry that a line mends, and how.
type Correction struct {
	Entry string `json:"entry"`
	How   string `json:"how" enum:"replaced,withdrawn"`
}

// KindOfFact is what kind of entry a fact makes.
func KindOfFact(f Fact) string {
	switch f.Verb {
	case "pass", "weak", "lost":
		return "check"
	case "note", "tool", "measure", "incident", "heat", "release":
		return f.Verb
	case "solvent":
		if f.Method == "" && f.Part == "" && f.What == "" {
			return "wait"
		}
		return f.Verb
	}
	if f.Back {
		return "put_back"
	}
	return "step"
}

// NewPart is a part that the line speaks of and no record has.
type NewPart struct {
	Name   string `json:"name"`
	Kind   string `json:"kind"`
	Family string `json:"family"`
}

// Unread points at a word that changed nothing in the fact; columns count from 1 in characters. Known are the closest
// known words.
type Unread struct {
	Column int      `json:"column"`
	Length int      `json:"length"`
	Word   string   `json:"word"`
	Text   string   `json:"text"`
	Known  []string `json:"known" nullable:"false"`
}

// Leavers are the acts of which the words must say, or the ledger must show, whether the part left the phone; LooseWords
// keep it there, OffWords say that it left.
var (
	Leavers    = []string{"pry", "cut", "peel", "slide"}
	LooseWords = []string{"loose", "loosened", "open", "opened", "ajar", "hangs", "hanging", "dangling"}
	OffWords   = []string{"off", "away", "out", "free"}
)

func leaveWord(w string) bool { return slices.Contains(LooseWords, w) || slices.Contains(OffWords, w) }

// Reading is a line as it was understood. Candidates are parts that fit equally well: then nothing may be logged before
// one is named.
type Reading struct {
	Fact       Fact     `json:"fact"`
	Echo       string   `json:"echo"`
	Unread     []Unread `json:"unread" nullable:"false"`
	NewPart    *NewPart `json:"new_part,omitempty"`
	Candidates []Named  `json:"candidates,omitempty" nullable:"false"`

	Leaves string `json:"leaves,omitempty" enum:"off,loose" doc:"whether what was pried, cut, peeled or slid left the phone"`
}
