package app

import (
	"context"

	"gorm.io/gorm"

	"waryowl/internal/store"
)

// checkCatalogue is the short list of function checks that a new database starts with, in the order the hand goes (common
// practice, no source). Seconds are house figures.
var checkCatalogue = []struct {
	mark, name, family string
	seconds            float64
}{
	{"boot", "Starts and reaches the home screen", "BD", 60},
	{"touch", "Touch, corners included", "SC", 20},
	{"picture", "Picture even, no marks", "SC", 15},
	{"ambient-colour", "Ambient colour", "SE", 20},
	{"auto-brightness", "Auto-brightness", "SE", 20},
	{"proximity", "Screen off at the ear in a call", "SE", 25},
	{"face-unlock", "Face unlock with a stored face", "SE", 20},
	{"front-camera", "Front camera, saved photo", "OP", 20},
	{"rear-camera", "Rear cameras, saved video", "OP", 30},
	{"flash", "Flash lamp", "OP", 10},
	{"loudspeaker", "Loudspeaker", "SO", 15},
	{"earpiece", "Earpiece", "SO", 15},
	{"microphones", "Microphones, played back", "SO", 25},
	{"vibration", "Vibration motor", "SO", 10},
	{"charging", "Charging by cable", "PW", 30},
	{"battery-health", "Battery health shown", "PW", 20},
	{"signal", "Mobile signal and wireless network", "RF", 30},
}

// EnsureCatalogue adds the checks that a database lacks.
func (s *Service) EnsureCatalogue(ctx context.Context) error {
	return s.DB.WithContext(ctx).Transaction(func(g *gorm.DB) error {
		have, err := store.List[store.Check](g.Unscoped(), "position", "1 = 1")
		if err != nil || len(have) > 0 {
			return err
		}
		now := s.Now().UTC()
		tx := &store.Tx{DB: g, Account: "", Happened: now, Arrived: now}
		for i, c := range checkCatalogue {
			if err := store.Create(tx, &store.Check{Mark: c.mark, Name: c.name, Family: c.family, Seconds: c.seconds, Position: i + 1}); err != nil {
				return err
			}
		}
		return nil
	})
}
