package worktime

// Repair is how long a repair takes, in seconds: In until the part is out, with the waits on the way; HandsOn of
// somebody; Waits that need nobody; Closed from a closed phone to a closed and tested one. Every view of a repair says
// which of them it shows.
type Repair struct{ In, HandsOn, Waits, Closed float64 }

// Whole is a repair from its parts in seconds: the hands-on time of the way in, the waits on it, the cure of a new seal,
// starting up and settling, and the checks of what was touched. The way back takes [RefitShare] of the way in; heat and
// soaking are not repeated.
func Whole(attended, waits, cure, boot, checks float64) Repair {
	r := Repair{In: attended + waits, HandsOn: attended*(1+RefitShare) + checks, Waits: waits + cure + boot}
	r.Closed = r.HandsOn + r.Waits
	return r
}

// What makes the time of a whole repair doubtful, and that of one act look like a pause (house).
const (
	mostUsual = 5.0
	longPause = 3.0
)

// Doubtful says whether a repair that took so many seconds is hardly one: under the sum of the fastest tenths of its
// acts, or over five times the usual. Such a time is asked about once, and teaches nothing until somebody confirms it.
func Doubtful(took, fastest, usual float64) bool {
	return took < fastest || usual > 0 && took > mostUsual*usual
}

// Pause says whether an act took so long that somebody may have been away: over three times the time within which nine
// of ten runs end, and over a minute.
func Pause(seconds, late float64) bool {
	return seconds > farLeast && late > 0 && seconds > longPause*late
}
