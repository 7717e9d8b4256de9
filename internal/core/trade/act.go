package trade

import "slices"

// Verb is a kind of act of the bench line: its letter, its id, other words for it, and what it does to a phone.
type Verb struct {
	Letter, ID string
	Words      []string // other words that open a line with it
	Step       bool     // it moves the phone along: a step of a plan
	Waits      bool     // heat and solvent: it comes in rounds and is never put back
	Closing    string   // how the closing list says it
}

// Verbs are the acts in the order of the bench line.
var Verbs = []Verb{
	{"u", "unfasten", []string{"unscrew", "undo", "loosen", "unscrewed", "undone", "unfastened"}, true,
		false, "fasten"},
	{"b", "bracket", []string{"bracket off", "shield off"}, true, false, "bracket on:"},
	{"d", "disconnect", []string{"unplug", "disconnected", "unplugged", "unhook", "pop off", "disc"}, true, false,
		"connect"},
	{"x", "peel", []string{"peel off", "peel back", "peeled", "strip off"}, true, false, "lay down"},
	{"c", "cut", []string{"slice", "slit", "sliced", "walk", "separate", "pull", "pulled"}, true, false, "glue"},
	{"h", "heat", []string{"warm", "warm up", "heat up", "heated", "soften", "soak"}, true, true, ""},
	{"w", "solvent", []string{"wick", "wet", "wait", "drip", "apply alcohol", "alcohol"}, true, true, ""},
	{"s", "slide", []string{"slid", "push", "shift", "shuffle"}, true, false, "slide back"},
	{"p", "pry", []string{"prise", "lever", "pried", "unclip", "snap off"}, true, false, "press in"},
	{"l", "lift", []string{"lift out", "remove", "take out", "take off", "removed", "lifted", "pull out", "detach",
		"extract", "out"},
		true, false, "put in"},
	{"r", "release", []string{"electric release", "voltage", "released", "pull tabs", "stretch"}, true, false, "glue"},
	{"m", "measure", []string{"measured", "weigh", "weighed", "gauge"}, false, false, ""},
	{"!", "incident", []string{"oops", "accident", "broke"}, false, false, ""},
	{"?", "note", []string{"remark", "n"}, false, false, ""},
	{"t", "tool", []string{"take", "with tool", "pick up", "put down", "lay down the"}, false, false, ""},
}

// Examples are lines of the bench for each verb, by its id, as people write them (common practice, no source).
var Examples = map[string][]string{
	"unfasten":   {"u 4 tri-wing 1.2x1.6 @upper-bracket", "u 8 T4 main board hidden", "u 3 cross charge port 1 missed"},
	"bracket":    {"b upper bracket"},
	"disconnect": {"d battery", "d display not disconnectable", "d front camera left off on purpose"},
	"peel":       {"x graphite tape"},
	"cut":        {"c rear glass adhesive", "c battery tabs 3 of 4 whole"},
	"heat":       {"h plate 80C 120s front", "h air 80-100C 60s back no gap"},
	"solvent":    {"w alcohol 60s battery"},
	"slide":      {"s latch"},
	"pry":        {"p rear glass", "p battery gave up"},
	"lift":       {"l display assembly", "+ l display assembly"},
	"release":    {"r battery 12V 90s plus left tab minus right tab"},
	"measure":    {"m battery 2960mAh 11.37Wh", "m rear-glass 0.61mm ±0.02"},
	"incident":   {"! tab-broke battery", "! lost 1 cross 1.2x2.2"},
	"note":       {"? battery sits tight", "? surplus small bracket unknown origin"},
	"tool":       {"t plastic pick"},
}

// VerbOf finds a verb by its id.
func VerbOf(id string) (Verb, bool) {
	k := slices.IndexFunc(Verbs, func(v Verb) bool { return v.ID == id })
	if k < 0 {
		return Verb{}, false
	}
	return Verbs[k], true
}

// StepVerbs are the ids of the verbs that a step may have.
func StepVerbs() []string {
	var ids []string
	for _, v := range Verbs {
		if v.Step {
			ids = append(ids, v.ID)
		}
	}
	return ids
}

// Waits says whether acts of this verb come in rounds, are never put back and free nothing.
func Waits(verb string) bool { v, _ := VerbOf(verb); return v.Waits }

// Opens says whether a verb can hurt a panel or a back on the way in: heat, solvent, cuts and levers.
func Opens(verb string) bool { return slices.Contains([]string{"heat", "cut", "pry", "solvent"}, verb) }

// Joint is what holds two things together.
type Joint struct {
	ID, Plural string
	Words      []string
	Threaded   bool // holds by a thread: a screw, or a post that carries one
	Lead       bool // carries power or signals: what was opened must be seen seated
	Adhesive   bool // sticks: a score counts it, closing needs something new
}

// Joints are the kinds of joint.
var Joints = []Joint{
	{"screw", "screws", []string{"bolt"}, true, false, false},
	{"post", "posts", []string{"standoff", "stand off", "threaded post", "standoff screw", "stud"}, true, false, false},
	{"adhesive", "adhesive", []string{"glue", "bead", "waterproof adhesive", "adhesive strip", "waterproof strip",
		"adhesive pad"}, false,
		false, true},
	{"pull tab", "pull tabs", []string{"tab", "adhesive tab", "release tab", "stretch tab", "pull flap", "flap"},
		false, false, true},
	{"connector", "connectors", []string{"lead", "plug", "flex", "flex cable", "cable", "ribbon", "ribbon cable"},
		false, true, false},
	{"coax", "coax leads", []string{"coaxial cable", "coax lead", "coaxial lead", "coax cable"}, false, true, false},
	{"latch", "latches", []string{"slide latch"}, false, false, false},
	{"clip", "clips", []string{"catch", "hook", "flange"}, false, false, false},
	{"bracket", "brackets", nil, false, false, false},
	{"tape", "tapes", []string{"copper tape", "double sided tape", "antenna tape"}, false, false, true},
	{"solder", "solder joints", nil, false, false, false},
}

// JointOf finds a joint by its id; an unknown one holds nothing.
func JointOf(id string) Joint {
	k := slices.IndexFunc(Joints, func(j Joint) bool { return j.ID == id })
	if k < 0 {
		return Joint{}
	}
	return Joints[k]
}

// JointIDs lists the joints.
func JointIDs() []string { return ids(Joints, func(j Joint) string { return j.ID }) }

// Threaded says whether a joint is a screw or a threaded post, Lead whether it is a connector or a coax lead.
func Threaded(joint string) bool { return JointOf(joint).Threaded }

// Lead says whether a joint is a connector or a coax lead.
func Lead(joint string) bool { return JointOf(joint).Lead }

// Drive is the recess of a screw. Letters are those printed on drivers, before the size.
type Drive struct {
	ID       string
	Words    []string
	Letters  []string
	Sizes    []string // usual in phones (common practice, no source)
	Security bool     // made to keep people out (common practice, no source)
}

// Drives are the recesses.
var Drives = []Drive{
	{"five-lobe", []string{"five lobe", "fivelobe", "5 lobe"}, []string{"p", "pl"},
		[]string{"0.8", "1.2", "2"}, true},
	{"tri-wing", []string{"tri wing", "triwing", "three wing", "tri point", "y type", "tripoint"}, []string{"y"},
		[]string{"0.6", "000", "00"}, true},
	{"cross", []string{"cross head", "crosshead", "cross recess"}, []string{"ph", "jis", "pz"},
		[]string{"000", "00", "0"}, false},
	{"hexalobular", []string{"hex lobe", "six lobe", "sixlobe", "star", "hexlobe"}, []string{"t", "tx"},
		[]string{"3", "4", "5"}, false},
	{"slot", []string{"flat", "flathead", "slotted", "flat head"}, []string{"sl"}, []string{"1.5", "2"}, false},
	{"post", []string{"standoff", "stand off", "socket"}, nil, []string{"2.5"}, false},
}

// DriveIDs lists the drives.
func DriveIDs() []string { return ids(Drives, func(d Drive) string { return d.ID }) }

// Security says whether a drive is made to keep people out.
func Security(drive string) bool {
	return slices.ContainsFunc(Drives, func(d Drive) bool { return d.ID == drive && d.Security })
}

func ids[T any](list []T, id func(T) string) []string {
	var out []string
	for _, x := range list {
		out = append(out, id(x))
	}
	return out
}

// VerbWaits says whether acts of this verb soften or dissolve: they take a method and a duration.
func VerbWaits(verb string) bool { return Waits(verb) || verb == "release" || verb == "cut" }

// doing are the verbs as something that goes on.
var doing = map[string]string{"unfasten": "unscrewing", "bracket": "taking the cover off", "disconnect": "unplugging",
	"peel": "peeling", "cut": "cutting", "slide": "sliding", "pry": "prying", "lift": "lifting out", "release": "pulling its tabs"}

// Doing says a verb as something that goes on, "" for what is no such verb.
func Doing(verb string) string { return doing[verb] }
