package job

import (
	"fmt"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/store"
)

// Inner is a part inside a module: whether the module is repaired by it, or replaced as a whole.
type Inner struct {
	PartID   string  `json:"part_id"`
	Part     string  `json:"part"`
	BySerial bool    `json:"by_serial" doc:"the board knows it by serial"`
	Opens    bool    `json:"opens" doc:"a step frees it by itself"`
	More     float64 `json:"more_minutes" doc:"attended, beyond the way to the module"`
	Hurt     float64 `json:"hurt" doc:"chance that something at risk is hurt on the way to it"`
	Repair   bool    `json:"repair"`
	Why      string  `json:"why"`
}

// mostHurt is the chance of damage from which the whole module is replaced (house).
const mostHurt = 0.2

// inside weighs every part inside a module.
func inside(k *model.Record, module store.Part) []Inner {
	list := []Inner{}
	whole := k.WayTo(module.ID)
	for _, p := range k.Parts {
		if p.Inside == "" || !strings.EqualFold(p.Inside, module.Name) {
			continue
		}
		x := Inner{PartID: p.ID, Part: p.Name, BySerial: p.Mate != ""}
		alive := 1.0
		if w := k.WayTo(p.ID); w != nil && w.Blocked == "" {
			x.Opens = true
			x.More = w.AttendedMinutes
			if whole != nil {
				x.More -= whole.AttendedMinutes
			}
			for _, s := range w.Survival {
				alive *= s.P
			}
		}
		x.Hurt = 1 - alive
		switch {
		case !x.Opens:
			x.Why = "it does not come out by itself: the whole module is replaced"
		case x.Hurt > mostHurt:
			x.Why = fmt.Sprintf("something gets damaged in %.0f %% on the way to it: the whole module is replaced", 100*x.Hurt)
		case p.WorthMinor > 0 && module.WorthMinor > 0 && p.Currency == module.Currency && p.WorthMinor >= module.WorthMinor:
			x.Why = "it costs as much as the whole module, which is quicker"
		default:
			x.Repair = true
			x.Why = fmt.Sprintf("it comes out by itself, %.0f min more", max(0, x.More))
			if x.BySerial {
				x.Why += "; the board knows it by serial, so keep the phone's own or expect what the swap tests say"
			}
		}
		list = append(list, x)
	}
	return list
}
