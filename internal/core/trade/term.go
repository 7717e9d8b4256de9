package trade

// Term is a word of the swap lab with what it means, for those who meet it for the first time.
type Term struct {
	Word  string `json:"word"`
	Means string `json:"means"`
}

// Terms explain the words of the swap room, and those of joints and screw heads, in plain language, by the code that stands
// behind each (common practice, no source).
var Terms = []Term{
	{"own", "The piece that this board was built with, as the serials that the board keeps say."},
	{"stranger", "A genuine piece of the same model that this board was not built with."},
	{"adopted", "Another phone's piece that the board accepted by calibration: now the board takes it for its own."},
	{"copy", "A piece that the maker did not make. Each delivery is a kind of its own."},
	{"foreign", "A piece of another model."},
	{"unknown", "A piece whose origin nobody knows."},
	{"off", "What is lost then is lost because nothing is there; it says nothing of another piece."},
	{"control", "The originals put back and the checks run again: it shows that the phone itself is as it was."},
	{"bits", "How much a reading tells: a swap that answers nothing settles nothing."},
	{"suspicion", "How likely this causes the loss, given everything that was read, wrong readings included."},
	{"provisional", "Something is not known, seen on an older software, or a figure of the rule waits to be confirmed."},
	{
		"unofficial",
		"Worked out by us after the published rule, from memory where the text was not at hand. Only the maker's label is official.",
	},
	{"if sure", "The range if everything that is only likely were as it most likely is."},
	{"depth", "How many separate steps lie between the closed phone and the part in the hand."},
	{"five-lobe", "A screw head with five rounded lobes, made to keep people out: a driver of its own fits, no other."},
	{"tri-wing", "A screw head with three short cuts in a star."},
	{"hexalobular", "A screw head with six rounded lobes."},
	{"cross", "A screw head with a cross cut into it. A driver a size too small rounds it."},
	{"post", "A threaded pin with another screw in its head: a socket turns it."},
	{"coax", "A thin round lead of an antenna. Its plug comes straight up; tilted, it tears off the board."},
	{"connector", "A flat plug that sits on the board: straight up with plastic, straight down until it clicks."},
	{"pull tab", "The end of a stretching glue strip: pulled slowly, low and flat, it lets go; torn, it stays behind."},
	{"latch", "A piece that slides before it lifts."},
	{"proven", "Every condition of the verdict holds: lost alone, back with the original, works at home, seen twice."},
}

// SymptomWords are how people say what a check showed (common practice, no source).
var SymptomWords = []string{"freezes", "lags", "half bright", "dim", "green", "flickers", "crackles", "muffled", "slow", "hot",
	"blurred", "restarts", "now and then", "only at the edge"}

// ReadingUnits are the units of what a check measures.
var ReadingUnits = []string{"lux", "dB", "s", "mm", "%", "°C", "mA", "W"}
