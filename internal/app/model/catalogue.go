package model

import (
	"context"
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// CheckCatalogue is the list of function checks that a new database starts with, in groups and in the order the hand
// goes, one app at a time (common practice, no source). Seconds are house figures; depth says how deep a check looks.
var CheckCatalogue = []struct {
	Mark, name, family, group, depth string
	seconds                          float64
}{
	{"boot", "Starts and reaches the home screen", "BD", "start", "from off", 60},
	{"restart", "Restarts once more by itself", "BD", "start", "second start", 60},
	{"notices", "Notices in the settings, read and noted", "BD", "start", "list read", 20},
	{"touch", "Touch, corners included", "SC", "screen", "corners", 20},
	{"touch-multi", "Touch by five fingers at once", "SC", "screen", "several fingers", 10},
	{"picture", "Picture even, no marks", "SC", "screen", "white and black", 15},
	{"brightness", "Brightness from least to most", "SC", "screen", "whole range", 10},
	{"refresh", "Scrolling is smooth", "SC", "screen", "by eye", 10},
	{"ambient-colour", "Ambient colour", "SE", "screen", "warm and cold light", 20},
	{"auto-brightness", "Auto-brightness", "SE", "screen", "covered and lit", 20},
	{"proximity", "Screen off at the ear in a call", "SE", "sensors", "call at the ear", 25},
	{"rotation", "Picture turns with the phone", "SE", "sensors", "four ways", 10},
	{"compass", "Compass turns and settles", "SE", "sensors", "one turn", 15},
	{"face-enrol", "Face unlock, a face is enrolled", "SE", "sensors", "enrolment", 60},
	{"face-unlock", "Face unlock with a stored face", "SE", "sensors", "stored face", 20},
	{"front-preview", "Front camera, preview", "OP", "cameras", "preview", 8},
	{"front-camera", "Front camera, saved photo", "OP", "cameras", "saved photo", 20},
	{"front-video", "Front camera, saved video", "OP", "cameras", "saved video", 20},
	{"front-portrait", "Front camera, portrait", "OP", "cameras", "portrait", 15},
	{"rear-preview", "Rear cameras, preview of each", "OP", "cameras", "preview", 12},
	{"rear-photo", "Rear cameras, saved photo of each", "OP", "cameras", "saved photo", 20},
	{"rear-zoom", "Rear cameras, change from lens to lens", "OP", "cameras", "each lens", 12},
	{"rear-focus", "Rear cameras, near and far in focus", "OP", "cameras", "focus", 12},
	{"rear-portrait", "Rear cameras, portrait", "OP", "cameras", "portrait", 15},
	{"rear-camera", "Rear cameras, saved video", "OP", "cameras", "saved video", 30},
	{"flash", "Flash lamp", "OP", "cameras", "lamp and flash", 10},
	{"loudspeaker", "Loudspeaker", "SO", "sound", "loud and soft", 15},
	{"earpiece", "Earpiece", "SO", "sound", "in a call", 15},
	{"microphones", "Microphones, played back", "SO", "sound", "played back", 25},
	{"mic-video", "Rear microphone, heard in a video", "SO", "sound", "played back", 15},
	{"call-ear", "Call at the ear, both sides heard", "SO", "sound", "call at the ear", 30},
	{"call-free", "Call hands-free, both sides heard", "SO", "sound", "call hands-free", 25},
	{"vibration", "Vibration motor", "SO", "sound", "short and long", 10},
	{"charging", "Charging by cable", "PW", "power", "either way round", 30},
	{"charging-coil", "Charging by coil", "PW", "power", "one minute", 60},
	{"cable-data", "Cable carries data", "PW", "power", "seen by a computer", 20},
	{"battery-health", "Battery health shown", "PW", "power", "figure shown", 20},
	{"battery-cycles", "Battery cycles shown", "PW", "power", "figure shown", 10},
	{"card", "Card is recognised", "RF", "radio", "card in", 15},
	{"signal", "Mobile signal and wireless network", "RF", "radio", "bars, page loads", 30},
	{"short-range", "Short-range wireless finds a headset", "RF", "radio", "paired", 25},
	{"near-field", "Near-field tag is read", "RF", "radio", "tag read", 15},
	{"positioning", "Position found outdoors", "RF", "radio", "outdoors", 60},
	{"button-power", "Power button", "BT", "buttons", "short and long", 8},
	{"button-volume", "Volume buttons", "BT", "buttons", "both ways", 8},
	{"seal", "Rim even, no gap", "FR", "frame", "by eye and nail", 10},
}

// EnsureCatalogue adds the checks that a database lacks and brings the others into the order of the catalogue.
func EnsureCatalogue(ctx context.Context, s *act.Service) error {
	return s.DB.WithContext(ctx).Transaction(func(g *gorm.DB) error {
		have, err := store.List[store.Check](g.Unscoped(), "position", "1 = 1")
		if err != nil {
			return err
		}
		now := s.Now().UTC()
		tx := &store.Tx{DB: g, Account: "", Happened: now, Arrived: now}
		for i, c := range CheckCatalogue {
			row := store.Check{Mark: c.Mark, Name: c.name, Family: c.family, Seconds: c.seconds, Position: i + 1,
				Group: c.group, Depth: c.depth}
			k := slices.IndexFunc(have, func(h store.Check) bool { return h.Mark == c.Mark })
			switch {
			case k < 0:
				err = store.Create(tx, &row)
			case have[k].Position != row.Position || have[k].Group != row.Group:
				_, err = store.Update(tx, have[k].ID, have[k].Version, func(h *store.Check) error {
					h.Position, h.Group, h.Depth = row.Position, row.Group, row.Depth
					return nil
				})
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// ChecksFor is the catalogue as edited for a model: without what it has not, with what is its own.
func ChecksFor(db *gorm.DB, m store.Model) ([]store.Check, error) {
	checks, err := store.List[store.Check](db, "position", "1 = 1")
	for _, c := range m.CheckChanges {
		k := slices.IndexFunc(checks, func(h store.Check) bool { return h.Mark == c.Mark })
		switch {
		case c.Off && k >= 0:
			checks = slices.Delete(checks, k, k+1)
		case c.Off:
		case k >= 0:
			edit(&checks[k], c)
		default:
			own := store.Check{Row: store.Row{ID: m.ID, Version: m.Version}, Mark: c.Mark, Name: c.Mark, Family: "FR",
				Group: "of this model", Position: len(checks) + 1}
			edit(&own, c)
			checks = append(checks, own)
		}
	}
	return checks, err
}

func edit(check *store.Check, c store.CheckChange) {
	for _, f := range []struct {
		have *string
		want string
	}{{&check.Name, c.Name}, {&check.Group, c.Group}, {&check.Depth, c.Depth}, {&check.Family, c.Family}} {
		if f.want != "" {
			*f.have = f.want
		}
	}
	if c.Seconds > 0 {
		check.Seconds = c.Seconds
	}
}
