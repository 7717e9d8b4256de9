// Package entry is the gate before a phone is opened: the conditions, and which of them forbid it altogether.
//
//	for _, c := range entry.Conditions(entry.Phone{Off: true, Charge: 78}) { … } // "charge" is not met
package entry

import "fmt"

// ChargeLimit is the limit before a phone is opened, in percent, where the workshop has set none (house).
const ChargeLimit = 25.0

// Limit is the workshop's limit, or the house's where it has set none.
func Limit(workshop float64) float64 {
	if workshop > 0 {
		return workshop
	}
	return ChargeLimit
}

// Phone is what was found before opening. Charge is in percent, unknown below 0.
type Phone struct {
	Off, Tray, Protection, Guide bool
	Charge                       float64
	Limit                        float64 // of the workshop, percent; 0: the house's
	Swelling                     string  // flat, swollen, or not looked at
	Liquid                       string  // white, red, or not read
	Data, Lock                   string
}

// Condition is one condition of the gate. Stop says that it forbids opening altogether.
type Condition struct {
	Code string
	Text string
	Met  bool
	Stop bool
}

// Conditions lists the gate of one phone (common practice, no source).
func Conditions(p Phone) []Condition {
	limit := Limit(p.Limit)
	list := []Condition{
		{"off", "switched off", p.Off, false},
		{"tray", "card tray out", p.Tray, false},
		{"charge", fmt.Sprintf("charge at most %.0f %%, written down", limit), p.Charge >= 0 && p.Charge <= limit, false},
		{"flat", "battery not swollen", p.Swelling == "flat", false},
		{"liquid", "liquid indicator read", p.Liquid == "white" || p.Liquid == "red", false},
		{"data", "data backed up or erased", p.Data != "", false},
		{"lock", "lock status known", p.Lock != "" && p.Lock != "unknown", false},
		{"protection", "eye protection on, fire-safe box in reach", p.Protection, false},
		{"guide", "guide in reach, or known to be missing", p.Guide, false},
	}
	if p.Swelling == "swollen" {
		list[3] = Condition{"flat",
			"the battery is swollen: stop. Fire-safe box, and the workshop's rule for swollen batteries", false, true}
	}
	return list
}
