package benchday

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/trade"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// How long a rim stays soft after its heat, seconds: a plate or press warms it through, air only the surface (house).
const (
	softPlate = 60
	softAir   = 30
)

// late is within how many seconds an operation that nobody has timed ends in nine cases of ten.
func late(p50 float64) int { return int(math.Ceil(worktime.Late(p50, worktime.Tally{}))) }

// kindOfMachine finds the workshop's machine for a method of heat; none: it is held by hand.
func machineFor(machines []store.BenchMachine, words ...string) string {
	for _, m := range machines {
		for _, w := range words {
			if strings.Contains(strings.ToLower(m.Name), w) {
				return m.Name
			}
		}
	}
	return ""
}

// OpsOf are the operations of a job from the model's own way to a part: heat, what is done within its time, waits, the
// closing, the cure, the checks.
func OpsOf(k *model.Record, part string, machines []store.BenchMachine) ([]store.BenchOp, error) {
	w := k.WayTo(part)
	if w == nil || w.Blocked != "" {
		return nil, fault.New("part_id", part, "a part that the plan has a way to")
	}
	// Changing tools and turning the phone over are spread over the steps, so that a day and a job card say the same.
	own := 0.0
	for _, s := range w.Steps {
		own += s.Seconds
	}
	spread := 1.0
	if own > 0 {
		spread = w.AttendedMinutes * 60 / own
	}
	var ops []store.BenchOp
	var hands *store.BenchOp
	seconds, slow := 0.0, 0.0 // slow: who is slow today is slow in every step
	within := (*int)(nil)
	link := func(op *store.BenchOp, within *int) {
		if n := len(ops); n > 0 {
			op.After = []store.BenchAfter{{Op: ops[n-1].ID, Within: within}}
		}
	}
	count := map[string]int{}
	named := func(what string) string {
		if count[what]++; count[what] > 1 {
			return fmt.Sprintf("%s %d", what, count[what])
		}
		return what
	}
	flush := func() {
		if hands != nil && seconds > 0 {
			hands.P50, hands.P90 = int(math.Round(seconds)), int(math.Ceil(slow))
			ops = append(ops, *hands)
		}
		hands, seconds, slow = nil, 0, 0
	}
	for _, s := range w.Steps {
		hot := trade.Hot(s.Method) || s.Verb == "heat"
		if hot {
			flush()
			length := s.Seconds*spread + s.WaitSeconds
			op := store.BenchOp{
				ID:    named("heat"),
				P50:   int(math.Round(length)),
				P90:   int(math.Ceil(s.Late + s.WaitLate)),
				Steps: []string{s.ID},
			}
			m, soft := machineFor(machines, s.Method), softPlate
			if s.Method == "" {
				m = ""
			}
			if s.Method != "air" && m != "" {
				op.Machine = m
			} else {
				op.Hands, soft = true, softAir // an air gun is on record for its time only: a hand holds it
			}
			for _, x := range machines {
				if x.Name == m && x.Soft > 0 {
					soft = x.Soft
				}
			}
			link(&op, nil)
			ops = append(ops, op)
			within = &soft
			continue
		}
		if hands == nil {
			name := "prepare" // screws and covers before the first heat
			switch {
			case within != nil:
				name = "open"
			case len(ops) > 0:
				name = "go on"
			}
			hands = &store.BenchOp{ID: named(name), Hands: true}
			link(hands, within)
			within = nil
		}
		hands.Steps = append(hands.Steps, s.ID)
		seconds += s.Seconds * spread
		slow += s.Late * spread
		if s.WaitSeconds > 0 { // soaking, dwelling: nobody is needed
			flush()
			op := store.BenchOp{
				ID:  named("wait"),
				P50: int(math.Round(s.WaitSeconds)),
				P90: int(math.Ceil(s.WaitLate)),
			}
			link(&op, nil)
			ops = append(ops, op)
		}
	}
	flush()
	add := func(what, phase string, length float64, hands bool, machine string) {
		op := store.BenchOp{
			ID:      named(what),
			P50:     int(math.Round(length)),
			P90:     late(length),
			Phase:   phase,
			Hands:   hands,
			Machine: machine,
		}
		link(&op, nil)
		ops = append(ops, op)
	}
	add("fit and close", "back", max(60, worktime.RefitShare*w.AttendedMinutes*60), true, "")
	if w.CureSeconds > 0 {
		add("cure", "cure", w.CureSeconds, false, machineFor(machines, "clamp", "press"))
	}
	add("check", "test", model.BootSeconds+w.CheckSeconds, true, "")
	return ops, nil
}

var opLine = regexp.MustCompile(`^(.+?)\s+(\d+(?:\.\d+)?)(?:\s*-\s*(\d+(?:\.\d+)?))?\s*(?:min)?(?:\s+(.*))?$`)

// ReadOps reads operations as they are typed, each after the one before: "heat 5-8 plate; open 10 hands within 60".
func ReadOps(text string, machines []store.BenchMachine) ([]store.BenchOp, error) {
	var ops []store.BenchOp
	for i, line := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == '\n' }) {
		line = strings.TrimSpace(line)
		if line == "" {
			continue
		}
		m := opLine.FindStringSubmatch(line)
		if m == nil {
			return nil, fault.New("ops", line, `a name and minutes, such as "open 10 hands" or "cure 15-20 clamp"`)
		}
		usual, _ := strconv.ParseFloat(m[2], 64)
		op := store.BenchOp{ID: m[1], P50: int(math.Round(60 * usual)), P90: late(60 * usual)}
		if m[3] != "" {
			p90, _ := strconv.ParseFloat(m[3], 64)
			op.P90 = int(math.Round(60 * p90))
		}
		if len(ops) > 0 {
			op.After = []store.BenchAfter{{Op: ops[len(ops)-1].ID}}
		}
		words := strings.Fields(m[4])
		for k := 0; k < len(words); k++ {
			switch w := strings.ToLower(words[k]); {
			case w == "hands":
				op.Hands = true
			case w == "tray" && k+1 < len(words):
				k++
				op.Tray = words[k]
			case w == "within" && k+1 < len(words) && len(op.After) > 0:
				n, err := strconv.Atoi(words[k+1])
				if err != nil {
					return nil, fault.New("ops", line, "seconds after within")
				}
				op.After[0].Within = &n
				k++
				if k+1 < len(words) && words[k+1] == "s" {
					k++
				}
			case machineFor(machines, w) != "":
				op.Machine = machineFor(machines, w)
			default:
				return nil, fault.New("ops", words[k], "hands, within and seconds, tray and its name, or a machine of the workshop")
			}
		}
		if len(ops) >= 60 {
			return nil, fault.New("ops", i, "60 at most")
		}
		ops = append(ops, op)
	}
	return ops, nil
}
