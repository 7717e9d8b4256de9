package gate

import (
	"fmt"
	"math"
	"slices"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/route"
)

// Salvage is a part of a donor: its value in money, the chance that it works, and that it comes out unhurt.
type Salvage struct {
	Part          string   `json:"part"`
	Value         float64  `json:"value" minimum:"0"`
	Good          *float64 `json:"good,omitempty"`
	Survival      *float64 `json:"survival,omitempty"`
	Seconds       float64  `json:"seconds,omitempty" minimum:"0"`
	NeedsUnlocked bool     `json:"needs_unlocked,omitempty"`
}

// Donor asks what a wreck is worth. Rate is the cost of a second; with Steps the shared way is paid once.
type Donor struct {
	Parts             []Salvage    `json:"parts" nullable:"false"`
	Lock              string       `json:"lock" enum:"free,locked,unknown"`
	PUnlocked         *float64     `json:"p_unlocked,omitempty"`
	Rate              float64      `json:"rate,omitempty" minimum:"0"`
	Fixed             float64      `json:"fixed,omitempty" minimum:"0" doc:"postage, disposal, testing"`
	Margin            *float64     `json:"margin,omitempty"`
	Steps             []route.Step `json:"steps,omitempty" nullable:"false"`
	ToolChangeSeconds float64      `json:"tool_change_seconds,omitempty" minimum:"0"`
	FlipSeconds       float64      `json:"flip_seconds,omitempty" minimum:"0"`
}

// Bid is the highest sensible bid before the phone is opened.
type Bid struct {
	Bid     float64            `json:"bid"`
	Net     float64            `json:"net"`
	Take    []string           `json:"take" nullable:"false"`
	Leave   []string           `json:"leave" nullable:"false"`
	Worth   map[string]float64 `json:"worth"`
	Seconds float64            `json:"seconds"`
}

// ForDonor values a donor.
func ForDonor(in Donor) (Bid, error) {
	out := Bid{Take: []string{}, Leave: []string{}, Worth: map[string]float64{}}
	if len(in.Parts) == 0 || len(in.Parts) > 200 {
		return out, fault.New("parts", len(in.Parts), "1 to 200 parts")
	}
	chance := func(field string, x *float64, usual float64) (float64, error) {
		if x == nil {
			return usual, nil
		}
		if !(*x >= 0 && *x <= 1) {
			return 0, fault.New(field, *x, "a chance from 0 to 1")
		}
		return *x, nil
	}
	unlocked, err := chance("p_unlocked", in.PUnlocked, 0.5)
	if err != nil {
		return out, err
	}
	switch in.Lock {
	case "free":
		unlocked = 1
	case "locked":
		unlocked = 0
	case "unknown":
	default:
		return out, fault.New("lock", in.Lock, "free, locked, unknown")
	}
	margin, err := chance("margin", in.Margin, 0.2)
	if err != nil {
		return out, err
	}
	for name, x := range map[string]float64{"rate": in.Rate, "fixed": in.Fixed} {
		if !(x >= 0) {
			return out, fault.New(name, x, "0 or more")
		}
	}
	value := map[string]float64{} // before what the way may hurt
	for i, p := range in.Parts {
		at := fmt.Sprintf("parts[%d]", i)
		if _, twice := value[p.Part]; p.Part == "" || twice {
			return out, fault.New(at+".part", p.Part, "a part, once")
		}
		good, err := chance(at+".good", p.Good, 1)
		if err != nil {
			return out, err
		}
		alive, err := chance(at+".survival", p.Survival, 1)
		if err != nil {
			return out, err
		}
		if !(p.Value >= 0) {
			return out, fault.New(at+".value", p.Value, "0 or more")
		}
		if !(p.Seconds >= 0) {
			return out, fault.New(at+".seconds", p.Seconds, "0 or more")
		}
		v := p.Value * good
		if p.NeedsUnlocked {
			v *= unlocked
		}
		value[p.Part] = v
		out.Worth[p.Part] = v * alive
		if len(in.Steps) > 0 {
			continue
		}
		if w := v*alive - in.Rate*p.Seconds; w > 0 {
			out.Take = append(out.Take, p.Part)
			out.Net += w
			out.Seconds += p.Seconds
		} else {
			out.Leave = append(out.Leave, p.Part)
		}
	}
	if len(in.Steps) > 0 {
		h, err := route.Harvest(route.HarvestInput{Steps: in.Steps, Value: value, Rate: in.Rate,
			ToolChangeSeconds: in.ToolChangeSeconds, FlipSeconds: in.FlipSeconds})
		if err != nil {
			return out, err
		}
		out.Net, out.Take, out.Leave, out.Seconds = h.Net, h.Take, h.Leave, h.Seconds
		for p := range out.Worth {
			if s, at := h.Survival[p]; at {
				out.Worth[p] = value[p] * s
			}
		}
	}
	slices.Sort(out.Take)
	slices.Sort(out.Leave)
	out.Bid = math.Max(0, math.Floor((out.Net-in.Fixed)*(1-margin)+1e-9))
	return out, nil
}
