package intake

import (
	"waryowl/internal/core/entry"
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

// gate lists the conditions before a unit is opened.
func gate(u store.Unit, limit float64) []GateTick {
	g := u.Gate
	phone := entry.Phone{Off: g.Off, Tray: g.Tray, Protection: g.Protection, Guide: g.Guide, Charge: -1, Limit: limit,
		Swelling: g.Swelling, Liquid: g.Liquid,
		Data: g.Data, Lock: g.Lock}
	if g.Charge != nil {
		phone.Charge = *g.Charge
	}
	var list []GateTick
	for _, c := range entry.Conditions(phone) {
		list = append(list, GateTick{u.Name, c.Text, c.Met, c.Stop})
	}
	return list
}
