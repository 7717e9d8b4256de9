package ledger

import "strings"

// Why is the code of a reason for which a reading does not count.
type Why string

// The reasons.
const (
	Counts        Why = ""
	Spoiled       Why = "spoiled"         // a piece in it is damaged
	DeadGated     Why = "dead gate"       // called dead before the gate was gone through
	LostBefore    Why = "baseline"        // lost before it was opened
	NotAtBaseline Why = "not at baseline" // own pieces only and lost, and every later trial until a control passes
)

// Reason says why a reading does not count: Slot and What for a damaged piece, Since the trial from which the board is
// not back, Missing what of the gate was not tried.
type Reason struct {
	Why     Why
	Slot    string
	What    string
	Since   string
	Missing []string
}

// Text says a reason in words.
func (r Reason) Text() string {
	switch r.Why {
	case Spoiled:
		return "the " + r.Slot + " is damaged: " + r.What
	case DeadGated:
		return "not called dead yet; still to try: " + strings.Join(r.Missing, ", ")
	case LostBefore:
		return "the board had lost this before it was opened"
	case NotAtBaseline:
		if r.Since == "" {
			return "lost with every piece its own: not back at baseline"
		}
		return "not back at baseline since " + r.Since
	}
	return ""
}

// Condition is the code of what a verdict still lacks for a full eye.
type Condition string

// The conditions.
const (
	NeedTrial    Condition = "trial"
	NeedSeparate Condition = "separate"
	NeedIsolated Condition = "isolated"
	NeedControl  Condition = "control"
	NeedHome     Condition = "home"
	NeedRepeat   Condition = "repeat"
	NeedAlone    Condition = "alone"
	NeedDepth    Condition = "depth"
	NeedLate     Condition = "late"
	NeedBaseline Condition = "baseline"
	NeedBuild    Condition = "build"
	NeedBoards   Condition = "boards"
	NeedPair     Condition = "pair"
)

var conditionWords = map[Condition]string{NeedTrial: "a trial with it",
	NeedSeparate: "a trial that separates it from the other possible causes",
	NeedIsolated: "a lost trial in which every other possible cause is cleared",
	NeedControl:  "the original put back and the check returned", NeedHome: "the same piece seen working on its own " +
		"board",
	NeedRepeat: "a repeat on the second board or in a second fitting", NeedAlone: "a passing trial of its own",
	NeedDepth: "the whole group of checks in one trial", NeedLate: "a pass at once and again after restart, charge " +
		"and settling",
	NeedBoards:   "a third board: the two that were tried disagree",
	NeedPair:     "a trial that tells whether it is lost only together with another part",
	NeedBaseline: "a pass of that board before it was opened", NeedBuild: "a repeat on the newest build seen"}

// Text says a condition in words.
func (c Condition) Text() string { return conditionWords[c] }
