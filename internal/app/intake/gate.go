package intake

import (
	"fmt"

	"waryowl/internal/app/model"
	"waryowl/internal/store"
)

// GateTick is one condition before opening; Unit is empty for the study's own. Stop says that it forbids opening
// altogether.
type GateTick struct {
	Unit string `json:"unit,omitempty"`
	Text string `json:"text"`
	Met  bool   `json:"met"`
	Stop bool   `json:"stop,omitempty"`
}

// gate lists the conditions before a unit is opened (common practice, no source).
func gate(u store.Unit) []GateTick {
	g := u.Gate
	tick := func(met bool, text string) GateTick { return GateTick{Unit: u.Name, Text: text, Met: met} }
	list := []GateTick{
		tick(g.Off, "switched off"),
		tick(g.Tray, "card tray out"),
		tick(g.Charge != nil && *g.Charge <= model.ChargeLimit,
			fmt.Sprintf("charge at most %.0f %%, written down", model.ChargeLimit)),
		tick(g.Swelling == "flat", "cell not swollen"),
		tick(g.Liquid == "white" || g.Liquid == "red", "liquid mark read"),
		tick(g.Data != "", "data backed up or erased"),
		tick(g.Lock != "" && g.Lock != "unknown", "lock status known"),
		tick(g.Protection, "eye protection on, fire-safe box in reach"),
		tick(g.Guide, "guide in reach, or known to be missing"),
	}
	if g.Swelling == "swollen" {
		list[3] = GateTick{u.Name,
			"the cell is swollen: stop. Fire-safe box, and the workshop's rule for swollen cells", false, true}
	}
	return list
}
