package trade

// Check is a function check of the catalogue that a new database starts with: seconds are house figures, Depth says how
// deep it looks, Picture that it needs a picture on the screen (a dark screen says nothing about it).
type Check struct {
	Mark, Name, Family, Group, Depth string
	Seconds                          float64
	Picture                          bool
}

// Checks are in groups and in the order the hand goes, one app at a time (common practice, no source).
var Checks = []Check{
	{"boot", "Starts and reaches the home screen", "BD", "start", "from off", 60, false},
	{"restart", "Restarts once more by itself", "BD", "start", "second start", 60, false},
	{"notices", "Notices in the settings, read and noted", "BD", "start", "list read", 20, true},
	{"touch", "Touch, corners included", "SC", "screen", "corners", 20, true},
	{"touch-multi", "Touch by five fingers at once", "SC", "screen", "several fingers", 10, true},
	{"picture", "Picture even, no marks", "SC", "screen", "white and black", 15, true},
	{"brightness", "Brightness from least to most", "SC", "screen", "whole range", 10, true},
	{"refresh", "Scrolling is smooth", "SC", "screen", "by eye", 10, true},
	{"ambient-colour", "Ambient colour", "SE", "screen", "warm and cold light", 20, true},
	{"auto-brightness", "Auto-brightness", "SE", "screen", "covered and lit", 20, true},
	{"proximity", "Screen off at the ear in a call", "SE", "sensors", "call at the ear", 25, true},
	{"rotation", "Picture turns with the phone", "SE", "sensors", "four ways", 10, true},
	{"compass", "Compass turns and settles", "SE", "sensors", "one turn", 15, true},
	{"face-enrol", "Face unlock, a face is enrolled", "SE", "sensors", "enrolment", 60, true},
	{"face-unlock", "Face unlock with a stored face", "SE", "sensors", "stored face", 20, true},
	{"front-preview", "Front camera, preview", "OP", "cameras", "preview", 8, true},
	{"front-camera", "Front camera, saved photo", "OP", "cameras", "saved photo", 20, true},
	{"front-video", "Front camera, saved video", "OP", "cameras", "saved video", 20, true},
	{"front-portrait", "Front camera, portrait", "OP", "cameras", "portrait", 15, true},
	{"rear-preview", "Rear cameras, preview of each", "OP", "cameras", "preview", 12, true},
	{"rear-photo", "Rear cameras, saved photo of each", "OP", "cameras", "saved photo", 20, true},
	{"rear-zoom", "Rear cameras, change from lens to lens", "OP", "cameras", "each lens", 12, true},
	{"rear-focus", "Rear cameras, near and far in focus", "OP", "cameras", "focus", 12, true},
	{"rear-portrait", "Rear cameras, portrait", "OP", "cameras", "portrait", 15, true},
	{"rear-camera", "Rear cameras, saved video", "OP", "cameras", "saved video", 30, true},
	{"flash", "Flash lamp", "OP", "cameras", "lamp and flash", 10, true},
	{"loudspeaker", "Loudspeaker", "SO", "sound", "loud and soft", 15, false},
	{"earpiece", "Earpiece", "SO", "sound", "in a call", 15, true},
	{"microphones", "Microphones, played back", "SO", "sound", "played back", 25, true},
	{"mic-video", "Rear microphone, heard in a video", "SO", "sound", "played back", 15, true},
	{"call-ear", "Call at the ear, both sides heard", "SO", "sound", "call at the ear", 30, true},
	{"call-free", "Call hands-free, both sides heard", "SO", "sound", "call hands-free", 25, true},
	{"vibration", "Vibration motor", "SO", "sound", "short and long", 10, false},
	{"charging", "Charging by cable", "PW", "power", "either way round", 30, false},
	{"charging-coil", "Charging by coil", "PW", "power", "one minute", 60, false},
	{"cable-data", "Cable carries data", "PW", "power", "seen by a computer", 20, false},
	{"battery-health", "Battery health shown", "PW", "power", "figure shown", 20, true},
	{"battery-cycles", "Battery cycles shown", "PW", "power", "figure shown", 10, true},
	{"card", "Card is recognised", "RF", "radio", "card in", 15, true},
	{"signal", "Mobile signal and wireless network", "RF", "radio", "bars, page loads", 30, true},
	{"short-range", "Short-range wireless finds a headset", "RF", "radio", "paired", 25, true},
	{"near-field", "Near-field tag is read", "RF", "radio", "tag read", 15, true},
	{"positioning", "Position found outdoors", "RF", "radio", "outdoors", 60, true},
	{"button-power", "Power button", "BT", "buttons", "short and long", 8, false},
	{"button-volume", "Volume buttons", "BT", "buttons", "both ways", 8, true},
	{"seal", "Edge even, no gap", "FR", "frame", "by eye and nail", 10, false},
}

// Optional are the checks that only some models have; a model adds them by its own check changes.
var Optional = []Check{{"fingerprint", "Fingerprint, a stored finger", "SE", "sensors", "stored finger", 20, true}}

// CheckOf finds a check of the catalogue, the optional ones included.
func CheckOf(mark string) (Check, bool) {
	for _, list := range [][]Check{Checks, Optional} {
		for _, c := range list {
			if c.Mark == mark {
				return c, true
			}
		}
	}
	return Check{}, false
}
