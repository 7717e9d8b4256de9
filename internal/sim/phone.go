// Package sim holds stand-ins for what a workshop has and a test has not: phones with hidden locks, and a calibration
// service. Both are seeded and deterministic. It imports nothing of the reading engine and does not share its noise
// model: a loose connector here takes every check of its part until the part is fitted again.
//
//	b := sim.NewPhones(7, sim.Levels[2]).Bench(1)
//	b.Exchange([]string{"display"})
//	b.Run("pine", []string{"touch"}, false) // touch: pass or lost
package sim

import (
	"math/rand/v2"
	"slices"
)

// Slot is a place for a piece; Minutes is what exchanging it between both phones takes.
type Slot struct {
	Name    string  `json:"name"`
	Family  string  `json:"family"`
	Minutes float64 `json:"minutes"`
}

// Check is a function check.
type Check struct {
	Name    string  `json:"name"`
	Family  string  `json:"family"`
	Seconds float64 `json:"seconds"`
}

// Lock is the hidden truth: the check is lost while the condition holds. Kind single: the slot holds a piece that is
// not the board's own; mates: the two slots hold pieces of different origin; both: neither is the board's own. Sticky:
// once lost it stays so until the board is flashed. Late: it shows only after restart, charge and settling. Build: only
// on that build. Sometimes: in half of the readings. Until: a reset or flash ends it while the piece stays fitted.
type Lock struct {
	Check  string   `json:"check"`
	Kind   string   `json:"kind"`
	Slots  []string `json:"slots"`
	Sticky bool     `json:"sticky,omitempty"`
	Late   bool     `json:"late,omitempty"`
	Build  string   `json:"build,omitempty"`

	Sometimes bool   `json:"sometimes,omitempty"`
	Until     bool   `json:"until,omitempty"`
	Board     string `json:"board,omitempty"` // only on that board
}

// World says what phones to make. Chances are 0 to 1: Noise of a single wrong reading, Seat of a bad fitting that takes
// all checks of the part's family, Bad of a pair having one defective piece.
type World struct {
	Name             string
	SlotsMin, Slots  int // how many, at least and at most
	Checks           int
	LockShare        float64 // of the checks
	Mates            bool
	Sticky, Late     float64 // share of the locks
	BuildLocks       float64
	Noise, Seat, Bad float64
	Scattered        bool // locks are drawn without regard to families
	BoardOwn         bool // one slot travels with the board

	Sometimes, Until, Undeclared float64 // share of the locks: strike now and then, end by a reset, need two parts together
	OneBoard                     float64 // share of the locks that hold on one board only
	Damage                       float64 // chance of a pair that a piece is hurt on the way, without a word
}

// Levels of the dry run, from one lock to the lot, then two that teach one trap each. Stored runs name them by number.
var Levels = []World{
	{Name: "one lock", SlotsMin: 8, Slots: 8, Checks: 8, LockShare: 0.01},
	{Name: "several locks", SlotsMin: 10, Slots: 10, Checks: 12, LockShare: 0.3},
	{Name: "pairs", SlotsMin: 12, Slots: 12, Checks: 14, LockShare: 0.3, Mates: true, BoardOwn: true},
	{Name: "loose seats and wrong readings", SlotsMin: 12, Slots: 12, Checks: 14, LockShare: 0.3, Mates: true,
		Noise: 0.02, Seat: 0.05},
	{Name: "the lot", SlotsMin: 12, Slots: 14, Checks: 16, LockShare: 0.35, Mates: true, Sticky: 0.2, Late: 0.2,
		BuildLocks: 0.1, Noise: 0.02, Seat: 0.04, Bad: 0.3, BoardOwn: true},
	{Name: "comes and goes", SlotsMin: 10, Slots: 10, Checks: 12, LockShare: 0.3, Sometimes: 0.5, Until: 0.2},
	{Name: "damaged on the way", SlotsMin: 10, Slots: 10, Checks: 12, LockShare: 0.2, Undeclared: 0.2, Damage: 1},
	{Name: "causes that combine", SlotsMin: 8, Slots: 8, Checks: 10, LockShare: 0.35, Sticky: 0.2, Sometimes: 0.15,
		Undeclared: 0.35, OneBoard: 0.25, Damage: 0.3},
}

// Phones is a pair of one model with its hidden truth.
type Phones struct {
	Seed         uint64
	World        World
	Slots        []Slot
	Checks       []Check
	Mates        [][2]string
	BoardOwn     []string // slots whose piece travels with the board
	BoardMinutes float64  // to exchange the boards
	Locks        []Lock
	Bad          map[string]string // defective piece (unit-slot): check that it loses wherever it sits
	Hurt         map[string]Hurt   // piece that gets hurt on the way
}

// The two boards and the builds.
var (
	Units  = []string{"pine", "amber"}
	Builds = []string{"1.0", "1.1"}
)

var slotNames = []struct{ name, family string }{
	{"display", "SC"}, {"sensor strip", "SE"}, {"battery", "PW"}, {"front camera", "OP"}, {"rear camera block",
		"OP"}, {"charge port", "PW"},
	{"loudspeaker", "SO"}, {"earpiece", "SO"}, {"vibration motor", "SO"}, {"wireless coil", "PW"}, {"rear glass",
		"FR"}, {"volume lead", "BT"},
	{"power lead", "BT"}, {"antenna lead", "RF"}, {"microphone lead", "SO"}, {"flash lamp", "OP"}, {"face module",
		"SE"}, {"card reader", "RF"},
}

var checkNames = []struct{ name, family string }{
	{"touch", "SC"}, {"picture", "SC"}, {"ambient-colour", "SE"}, {"face-unlock", "SE"}, {"battery-health",
		"PW"}, {"front-camera", "OP"},
	{"rear-camera", "OP"}, {"charging", "PW"}, {"loudspeaker", "SO"}, {"earpiece", "SO"}, {"vibration",
		"SO"}, {"button-power", "BT"},
	{"auto-brightness", "SE"}, {"signal", "RF"}, {"microphones", "SO"}, {"flash", "OP"}, {"proximity",
		"SE"}, {"charging-coil", "PW"},
	{"button-volume", "BT"}, {"card", "RF"}, {"refresh", "SC"}, {"rear-zoom", "OP"}, {"brightness",
		"SC"}, {"near-field", "RF"}, {"cable-data", "PW"},
}

// NewPhones makes the pair of a seed in a world.
func NewPhones(seed uint64, w World) *Phones {
	r := rand.New(rand.NewPCG(seed, 0x0b1))
	p := &Phones{Seed: seed, World: w, Bad: map[string]string{}, BoardMinutes: 16 + float64(r.IntN(9))}
	n := w.SlotsMin
	if w.Slots > n {
		n += r.IntN(w.Slots - n + 1)
	}
	for _, s := range slotNames[:n] {
		p.Slots = append(p.Slots, Slot{s.name, s.family, 2 + float64(r.IntN(9))/2})
	}
	for _, c := range checkNames[:min(w.Checks, len(checkNames))] {
		p.Checks = append(p.Checks, Check{c.name, c.family, 10 + 5*float64(r.IntN(5))})
	}
	if w.Mates {
		p.Mates = [][2]string{{"display", "sensor strip"}}
	}
	if w.BoardOwn {
		p.BoardOwn = []string{p.Slots[2+r.IntN(n-2)].Name}
	}
	locks := max(1, int(w.LockShare*float64(len(p.Checks))+r.Float64()))
	for _, k := range r.Perm(len(p.Checks))[:min(locks, len(p.Checks))] {
		p.Locks = append(p.Locks, p.lock(r, p.Checks[k]))
	}
	if r.Float64() < w.Bad {
		piece := Units[r.IntN(2)] + "-" + p.Slots[r.IntN(n)].Name
		p.Bad[piece] = p.Checks[r.IntN(len(p.Checks))].Name
	}
	p.trap(r)
	return p
}

func (p *Phones) lock(r *rand.Rand, c Check) Lock {
	l := Lock{Check: c.Name, Kind: "single", Sticky: r.Float64() < p.World.Sticky, Late: r.Float64() < p.World.Late}
	if r.Float64() < p.World.BuildLocks {
		l.Build = Builds[1]
	}
	if len(p.Mates) > 0 && (c.Family == "SC" || c.Family == "SE") && r.IntN(2) == 0 {
		l.Kind = []string{"mates", "both"}[r.IntN(2)]
		l.Slots = []string{p.Mates[0][0], p.Mates[0][1]}
		return l
	}
	near := []string{}
	for _, s := range p.Slots {
		if s.Family == c.Family {
			near = append(near, s.Name)
		}
	}
	if p.World.Scattered || len(near) == 0 || r.IntN(5) == 0 {
		l.Slots = []string{p.Slots[r.IntN(len(p.Slots))].Name}
	} else {
		l.Slots = []string{near[r.IntN(len(near))]}
	}
	return l
}

// Bench is the pair taken apart: what sits where, what has happened, and the minutes that went by.
type Bench struct {
	*Phones
	Minutes float64
	r       *rand.Rand
	other   map[string]bool            // slots whose pieces are exchanged, seen from the boards
	loose   map[string]map[string]bool // per board: slots badly seated
	sticky  map[string]map[string]bool // per board: checks that stay lost
	adopted map[string]map[string]bool // per board: slots whose entry is the other phone's piece
	off     map[string]map[string]bool // per board: slots left empty
	build   map[string]string
	fits    map[string]int             // how often a piece was put in
	ended   map[string]map[string]bool // per board: slots whose piece stayed in through a reset
}

// The minutes of acts, besides the exchanges (house).
const (
	bootMinutes   = 2
	settleMinutes = 12 // restart, charge, settling
	flashMinutes  = 15
	resetMinutes  = 12
	reseatShare   = 0.4 // of an exchange
)

// Bench puts the pair on the bench; run seeds what is chance there.
func (p *Phones) Bench(run uint64) *Bench {
	b := &Bench{Phones: p, r: rand.New(rand.NewPCG(p.Seed, run)), other: map[string]bool{}}
	type flags = map[string]bool
	b.loose, b.sticky, b.adopted, b.off = map[string]flags{}, map[string]flags{}, map[string]flags{}, map[string]flags{}
	b.fits, b.ended = map[string]int{}, map[string]flags{}
	b.build = map[string]string{}
	for _, u := range Units {
		b.loose[u], b.sticky[u], b.adopted[u], b.off[u] = flags{}, flags{}, flags{}, flags{}
		b.ended[u] = flags{}
		b.build[u] = Builds[0]
	}
	return b
}

// Exchanged lists the slots whose pieces are the other phone's now.
func (b *Bench) Exchanged() []string {
	var list []string
	for _, s := range b.Slots {
		if b.other[s.Name] {
			list = append(list, s.Name)
		}
	}
	return list
}

// Cost is what it takes to get from the present arrangement to the one in which just these slots are exchanged: slot by
// slot, or through an exchange of the boards.
func (b *Bench) Cost(want []string) float64 { return b.Phones.Cost(b.Exchanged(), want) }

// Cost is what it takes to get from one arrangement to another, in minutes.
func (p *Phones) Cost(have, want []string) float64 {
	slot, board := 0.0, p.BoardMinutes
	for _, s := range p.Slots {
		differs := slices.Contains(have, s.Name) != slices.Contains(want, s.Name)
		moved := !slices.Contains(p.BoardOwn, s.Name) // by an exchange of boards
		if differs {
			slot += s.Minutes
		}
		if differs != moved {
			board += s.Minutes
		}
	}
	return min(slot, board)
}

// Exchange brings the bench to the arrangement in which just these slots are exchanged; each fitting may be loose.
func (b *Bench) Exchange(want []string) {
	b.Minutes += b.Cost(want)
	for _, s := range b.Slots {
		if w := slices.Contains(want, s.Name); w != b.other[s.Name] {
			b.other[s.Name] = w
			for _, u := range Units {
				b.fit(u, s.Name)
			}
		}
	}
}

func (b *Bench) fit(unit, slot string) {
	b.loose[unit][slot] = b.r.Float64() < b.World.Seat
	delete(b.off[unit], slot)
	delete(b.ended[unit], slot)
	b.fits[b.in(unit, slot)]++
}

// Reseat takes the pieces of a board out and in again. slots empty: all that are not its own.
func (b *Bench) Reseat(unit string, slots []string) {
	for _, s := range b.Slots {
		if slices.Contains(slots, s.Name) || len(slots) == 0 && (b.other[s.Name] || b.loose[unit][s.Name]) {
			b.Minutes += reseatShare * s.Minutes
			b.fit(unit, s.Name)
		}
	}
}

// ReseatCost is what taking the pieces of these slots out and in again takes, in minutes.
func (p *Phones) ReseatCost(slots []string) float64 {
	sum := 0.0
	for _, s := range p.Slots {
		if slices.Contains(slots, s.Name) {
			sum += reseatShare * s.Minutes
		}
	}
	return sum
}

// Leave takes a piece of a board out and leaves the slot empty.
func (b *Bench) Leave(unit, slot string) {
	for _, s := range b.Slots {
		if s.Name == slot {
			b.Minutes += reseatShare * s.Minutes
			b.off[unit][slot] = true
		}
	}
}

// Reset frees a board of what stuck; the build stays.
func (b *Bench) Reset(unit string) {
	b.Minutes += resetMinutes
	b.freed(unit)
}

// Flash brings the board to the newest build and frees it of what stuck.
func (b *Bench) Flash(unit string) {
	b.Minutes += flashMinutes
	b.freed(unit)
	b.build[unit] = Builds[1]
}

// Build is the build that a board carries.
func (b *Bench) Build(unit string) string { return b.build[unit] }

// Off says whether a slot of a board is left empty.
func (b *Bench) Off(unit, slot string) bool { return b.off[unit][slot] }

// Calibrate asks the service to match a slot's piece to the board; it accepts when the build is the newest and a mate
// has the same origin.
func (b *Bench) Calibrate(unit, slot string) (accepted bool, why string) {
	b.Minutes += flashMinutes
	if b.build[unit] != Builds[1] {
		return false, "the software is not the newest"
	}
	for _, m := range b.Mates {
		if (m[0] == slot || m[1] == slot) && b.other[m[0]] != b.other[m[1]] {
			return false, "a partner part does not match"
		}
	}
	b.adopted[unit][slot] = b.other[slot]
	return true, ""
}

// holds says whether a lock takes its check on a board now.
func (b *Bench) holds(l Lock, unit string) bool {
	if l.Build != "" && l.Build != b.build[unit] || l.Board != "" && l.Board != unit {
		return false
	}
	foreign := func(slot string) bool { return b.other[slot] != b.adopted[unit][slot] && !b.off[unit][slot] }
	switch l.Kind {
	case "mates":
		return b.other[l.Slots[0]] != b.other[l.Slots[1]] && !b.off[unit][l.Slots[0]] && !b.off[unit][l.Slots[1]]
	case "both":
		return foreign(l.Slots[0]) && foreign(l.Slots[1])
	}
	return foreign(l.Slots[0])
}

// Run starts the board and runs checks: pass or lost. late waits for restart, charge and settling first.
func (b *Bench) Run(unit string, checks []string, late bool) map[string]string {
	b.Minutes += bootMinutes
	if late {
		b.Minutes += settleMinutes
	}
	results := map[string]string{}
	for _, c := range b.Checks {
		lost := b.sticky[unit][c.Name]
		for _, l := range b.Locks {
			if l.Check == c.Name && b.holds(l, unit) && b.strikes(l, unit) {
				b.sticky[unit][c.Name] = b.sticky[unit][c.Name] || l.Sticky
				lost = lost || l.Sticky || late || !l.Late
			}
		}
		for _, s := range b.Slots {
			if b.off[unit][s.Name] {
				lost = lost || c.Family == s.Family && c.Family == "SE"
				continue
			}
			lost = lost || b.Bad[b.in(unit, s.Name)] == c.Name || b.hurts(unit, s.Name, c.Name) ||
				b.loose[unit][s.Name] && s.Family == c.Family
		}
		if !slices.Contains(checks, c.Name) {
			continue
		}
		b.Minutes += c.Seconds / 60
		if b.r.Float64() < b.World.Noise {
			lost = !lost
		}
		results[c.Name] = map[bool]string{true: "lost", false: "pass"}[lost]
	}
	return results
}
