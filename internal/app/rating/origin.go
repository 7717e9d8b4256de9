package rating

import (
	"slices"
	"strings"
)

// Origin is where a fact of the rubrics comes from: an engine and its field, or people who are asked. Beside says that
// people may say more than the engine can tell, within what it found.
type Origin struct {
	Engine string `json:"engine" doc:"plan, route, worktime, risk, diagnose; empty: asked"`
	Field  string `json:"field,omitempty"`
	Beside bool   `json:"beside,omitempty"`
	Judged bool   `json:"judged,omitempty" doc:"a judgement: several people's words are weighed"`
	Money  bool   `json:"money,omitempty"`
}

// jobs are the jobs of the rubrics with the kind of part that each is about.
var jobs = map[string]string{
	"battery":      "battery",
	"screen":       "display",
	"back-glass":   "rear-glass",
	"port":         "charge-port",
	"camera":       "rear-camera",
	"front-camera": "front-camera",
	"buttons":      "power-button",
	"microphone":   "microphone",
	"speaker":      "loudspeaker",
}

// CommonJobs are the five that people ask for, in their order.
var CommonJobs = []string{"battery", "screen", "back-glass", "port", "camera"}

// ofJob are the facts of one job.
var ofJob = map[string]Origin{
	"depth":       {Engine: "route", Field: "depth"},
	"minutes":     {Engine: "worktime", Field: "attended_minutes"},
	"tools":       {Engine: "route", Field: "tools", Beside: true},
	"fasteners":   {Engine: "plan", Field: "fastenings on the way", Beside: true},
	"adhesive":    {Engine: "plan", Field: "worst fastening on the way"},
	"odds":        {Engine: "risk", Field: "hazards on the way"},
	"genuine":     {Engine: "diagnose", Field: "swap tests with another phone's"},
	"skill":       {Judged: true},
	"environment": {Judged: true},
	"mount":       {Judged: true},
	"damage-cost": {Money: true},
	"part-price":  {Money: true},
	"job-price":   {Money: true},
}

// ofAll are the facts of the whole phone, its maker, and the workshop.
var ofAll = map[string]Origin{
	"drives": {Engine: "plan", Field: "drives"}, "security-drives": {Engine: "plan", Field: "security drives"},
	"tools-all": {Engine: "plan", Field: "tools"},
	"manual":    {}, "parts.reach": {}, "updates.years": {}, "documents.years": {}, "parts.years": {}, "parts.days": {},
	"parts.price-share": {}, "updates.told": {}, "remote-help": {}, "reset": {}, "shop.rate": {Money: true},
}

// OriginOf says where a fact comes from; false for a fact that nobody asks for.
func OriginOf(fact string) (Origin, bool) {
	if o, ok := ofAll[fact]; ok {
		return o, true
	}
	job, what, _ := strings.Cut(fact, ".")
	o, ok := ofJob[what]
	return o, ok && jobs[job] != ""
}

// OfJob says whether a fact is one of a job, not of the whole phone.
func OfJob(fact string) bool {
	job, _, _ := strings.Cut(fact, ".")
	return jobs[job] != "" && ofAll[fact] == Origin{}
}

// Shop says whether a fact holds for the workshop, not for a model.
func Shop(fact string) bool { return strings.HasPrefix(fact, "shop.") }

// toolClass are the classes of EN 45554, table 2, by the harder of two (from memory); a tool that is not listed may be any.
var toolClass = []string{"not-feasible", "proprietary", "available", "group", "supplied", "basic", "none"}

// basic are tools of the standard's list of basic tools (EN 45554, annex A, from memory), and the drives of its drivers.
var (
	basic = []string{"plastic spudger", "metal spudger", "plastic pry tool", "tweezers", "plastic tweezers", "scalpel",
		"screwdriver", "soldering iron", "plastic pick", "plastic card"}
	available = []string{"suction cup", "clamp", "eject pin", "wire", "heat plate", "heat gun", "heating pad",
		"opening press"}
	basicDrives = []string{"cross", "hexalobular", "slot"}
)

func worse(order []string, a, b string) string {
	if slices.Index(order, a) <= slices.Index(order, b) {
		return a
	}
	return b
}
