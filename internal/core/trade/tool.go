package trade

import (
	"slices"
	"strings"
)

// Tool is something in the hand. Conducts: it can short a cell. Sharp: it can pierce one. Method is the way of
// softening that it is for.
type Tool struct {
	ID       string
	Words    []string
	Conducts bool
	Sharp    bool
	Method   string
}

// Tools are the usual ones; a name with "plastic", "nylon", "wood" or "carbon" before it never conducts.
var Tools = []Tool{
	{"plastic pick", []string{"pick", "opening pick", "picks"}, false, false, ""},
	{"plastic card", []string{"card", "plastic cards"}, false, false, ""},
	{"suction cup", []string{"suction", "suction handle", "sucker"}, false, false, ""},
	{"plastic spudger", []string{"spudger", "nylon spudger"}, false, false, ""},
	{"metal spudger", []string{"metal lever", "metal pry tool", "metal pick"}, true, true, ""},
	{"plastic pry tool", []string{"pry tool", "pry tools", "opening tool", "plastic lever"}, false, false, ""},
	{"tweezers", []string{"metal tweezers", "tweezer", "fine tweezers"}, true, true, ""},
	{"plastic tweezers", []string{"ceramic tweezers", "insulated tweezers"}, false, false, ""},
	{"scalpel", []string{"blade", "knife", "razor", "razor blade", "cutter", "thin blade"}, true, true, ""},
	{"screwdriver", []string{"driver"}, true, true, ""},
	{"clamp", []string{"clamps", "retaining clamps"}, false, false, ""},
	{"eject pin", []string{"ejector", "tray pin", "eject tool", "sim pin"}, true, true, ""},
	{"wire", []string{"cutting wire", "steel wire"}, true, true, ""},
	{"heat plate", []string{"hot plate", "plate heater"}, false, false, "plate"},
	{"heat gun", []string{"hair dryer", "hot air", "hot air station"}, false, false, "air"},
	{"heating pad", []string{"heat pad", "warm pad"}, false, false, "pad"},
	{"opening press", []string{"heated press", "heat pocket", "heated pocket", "press"}, false, false, "press"},
	{"soldering iron", []string{"iron"}, true, true, ""},
	{"hand", []string{"by hand", "fingers", "fingernail"}, false, false, ""},
}

// ToolOf finds a tool by a name for it, or by the kind of tool that the name ends with ("blue plastic pick").
func ToolOf(name string) (Tool, bool) {
	plain := Plain(name)
	for words := strings.Fields(plain); len(words) > 0; words = words[1:] {
		phrase := strings.Join(words, " ")
		for _, t := range Tools {
			if t.ID == phrase || slices.Contains(t.Words, phrase) || slices.Contains(t.Words, singular(phrase)) ||
				t.ID == singular(phrase) {
				return t, true
			}
		}
	}
	return Tool{}, false
}

var insulated = []string{"plastic", "nylon", "wood", "wooden", "carbon", "ceramic", "bamboo", "insulated", "esd"}

func said(name string, words []string) bool {
	return slices.ContainsFunc(strings.Fields(Plain(name)), func(w string) bool { return slices.Contains(words, w) })
}

// Conducts says whether a tool can short a cell; a name that nobody knows counts as metal, a hand and what is insulated
// does not.
func Conducts(name string) bool {
	if name == "" || said(name, insulated) {
		return false
	}
	t, known := ToolOf(name)
	return !known || t.Conducts || said(name, []string{"metal", "steel"})
}

// Sharp says whether a tool can pierce a cell: edges and points of metal.
func Sharp(name string) bool {
	if name == "" || said(name, insulated) {
		return false
	}
	t, known := ToolOf(name)
	return known && t.Sharp || said(name, []string{"metal", "steel", "sharp"})
}

// Method is a way of softening or releasing adhesive.
type Method struct {
	ID    string
	Words []string
	Hot   bool // it is a source of heat: not while solvent is wet
	Wets  bool // it leaves solvent that must dry
}

// Methods are the schools of softening and release (common practice, no source).
var Methods = []Method{
	{"plate", []string{"heat plate", "hot plate", "plate heater", "heating plate"}, true, false},
	{"air", []string{"heat gun", "hair dryer", "hot air", "hot air gun"}, true, false},
	{"press", []string{"heated press", "opening press", "heat pocket", "heated pocket"}, true, false},
	{"pad", []string{"heating pad", "heat pad", "heat mat", "heated mat", "heating mat", "mat"}, true, false},
	{"alcohol", []string{"isopropyl alcohol", "isopropyl", "ipa", "solvent"}, false, true},
	{"voltage", []string{"direct voltage", "electric", "electric release", "9v"}, false, false},
}

// MethodIDs lists the methods.
func MethodIDs() []string { return ids(Methods, func(m Method) string { return m.ID }) }

func methodOf(id string) Method {
	k := slices.IndexFunc(Methods, func(m Method) bool { return m.ID == id })
	if k < 0 {
		return Method{}
	}
	return Methods[k]
}

// Hot says whether a method brings heat, Wets whether it leaves solvent.
func Hot(method string) bool { return methodOf(method).Hot }

// Wets says whether a method leaves solvent that must dry before any heat.
func Wets(method string) bool { return methodOf(method).Wets }

// Incident is a kind of mishap. Spoils: what it hurt lies in later trials. Hurts: it counts against the part's odds; a
// torn pull tab is no hurt battery.
type Incident struct {
	ID    string
	Words []string
	Hurts bool
}

// Incidents are the kinds of incident.
var Incidents = []Incident{
	{"tab-broke", []string{"tab broke", "tab snapped", "tab tore", "tab torn", "tabs broke", "broke tab", "tab ripped",
		"broken tab", "broke",
		"snapped"}, false},
	{"screw-lost", []string{"lost screw", "screw lost", "lost a screw", "lost", "missing screw", "screw missing",
		"gone missing"}, false},
	{"screw-found", []string{"found screw", "screw found", "found"}, false},
	{"screw-stripped", []string{"stripped", "stripped screw", "stripped a screw", "head stripped", "rounded", "worn out screw",
		"stripped head"}, false},
	{"cable-unclipped", []string{"unclipped", "came off by itself", "unclipped itself", "cable popped off",
		"cable came off"}, false},
	{"flex-torn", []string{"torn flex", "torn", "ripped", "tore", "nicked", "nick", "flex ripped", "torn cable",
		"cable torn", "cut cable"},
		true},
	{"glass-cracked", []string{"cracked", "shattered", "glass broke", "glass cracked", "crack", "splintered"}, true},
	{"latch-forced", []string{"forced latch", "latch broke", "forced", "clip broke", "clip broken", "clips broken"},
		false},
	{"connector-loose", []string{"loose connector", "unseated", "came loose", "found loose", "loose"}, false},
	{"connector-damaged", []string{"connector damaged", "bent pin", "bent pins", "connector torn off", "socket torn"},
		true},
	{"part-forgotten", []string{"forgotten", "forgot", "left on the bench", "left behind"}, false},
	{"part-broke", []string{"broken off", "part broken", "broken", "damaged", "bent"}, true},
	{"panel-marked", []string{"blotch", "blotches", "ripple", "ripples", "marked", "heat mark", "discoloured",
		"scratched", "scratch"}, true},
	{"short", []string{"shorted", "spark", "sparked", "short circuit"}, true},
	{"cell-hurt", []string{"dented", "pierced", "punctured", "swelled", "smoke", "smokes", "smoking", "venting",
		"vented", "hissing", "hisses", "sparks", "burns"}, true},
}

// IncidentIDs lists the incidents.
func IncidentIDs() []string { return ids(Incidents, func(i Incident) string { return i.ID }) }

// IncidentKind is the kind of incident that words describe: that of the longest phrase in them. Words that describe none
// are a kind of their own.
func IncidentKind(words string) string {
	plain, kind, longest := " "+Plain(words)+" ", "", 0
	for _, i := range Incidents {
		for _, w := range append([]string{Plain(i.ID)}, i.Words...) {
			if len(w) > longest && strings.Contains(plain, " "+w+" ") {
				kind, longest = i.ID, len(w)
			}
		}
	}
	if kind == "" {
		return strings.TrimSpace(plain)
	}
	return kind
}

// Hurts says whether an incident counts against the odds of the part that it names.
func Hurts(incident string) bool {
	k := slices.IndexFunc(Incidents, func(i Incident) bool { return i.ID == incident })
	return k < 0 || Incidents[k].Hurts
}

// Unit is a unit of measure as it may be typed, with what it is in the base unit of its quantity.
type Unit struct {
	Word, Base string
	Factor     float64
	Quantity   string
}

// Units are the units of the line.
var Units = []Unit{
	{"s", "s", 1, "time"}, {"sec", "s", 1, "time"}, {"secs", "s", 1, "time"}, {"second", "s", 1, "time"}, {"seconds",
		"s", 1, "time"},
	{"min", "s", 60, "time"}, {"mins", "s", 60, "time"}, {"minute", "s", 60, "time"}, {"minutes", "s", 60, "time"},
	{"h", "s", 3600, "time"}, {"hour", "s", 3600, "time"}, {"hours", "s", 3600, "time"},
	{"c", "C", 1, "temperature"}, {"°c", "C", 1, "temperature"}, {"°", "C", 1, "temperature"}, {"deg", "C", 1,
		"temperature"},
	{"degc", "C", 1, "temperature"}, {"degrees", "C", 1, "temperature"}, {"celsius", "C", 1, "temperature"},
	{"g", "g", 1, "mass"}, {"gram", "g", 1, "mass"}, {"grams", "g", 1, "mass"}, {"mg", "g", 0.001, "mass"},
	{"mm", "mm", 1, "length"}, {"cm", "mm", 10, "length"}, {"µm", "mm", 0.001, "length"}, {"um", "mm", 0.001, "length"},
	{"mah", "mAh", 1, "capacity"}, {"ah", "mAh", 1000, "capacity"}, {"wh", "Wh", 1, "energy"}, {"mwh", "Wh", 0.001,
		"energy"},
	{"mp", "MP", 1, "resolution"}, {"megapixel", "MP", 1, "resolution"}, {"megapixels", "MP", 1, "resolution"},
	{"v", "V", 1, "voltage"}, {"volt", "V", 1, "voltage"}, {"volts", "V", 1, "voltage"}, {"mv", "V", 0.001, "voltage"},
	{"%", "%", 1, "charge"}, {"percent", "%", 1, "charge"},
}

// UnitOf finds a unit by its word in any case.
func UnitOf(word string) (Unit, bool) {
	w := strings.ToLower(word)
	k := slices.IndexFunc(Units, func(u Unit) bool { return u.Word == w })
	if k < 0 {
		return Unit{}, false
	}
	return Units[k], true
}

// Most is the largest value of a base unit that the forms take; more is a slip.
var Most = map[string]float64{"mAh": 50000, "Wh": 500, "g": 5000, "mm": 400, "MP": 1000, "V": 60, "C": 500, "%": 100,
	"s": 86400}

// QuantityOf names the quantity of a base unit.
func QuantityOf(base string) string {
	k := slices.IndexFunc(Units, func(u Unit) bool { return u.Base == base })
	if k < 0 {
		return ""
	}
	return Units[k].Quantity
}
