package drill

import (
	"strings"
	"testing"
)

func read(board, exchanged, off, result string) Reading {
	split := func(s string) []string { return strings.FieldsFunc(s, func(r rune) bool { return r == '+' }) }
	return Reading{Board: board, Exchanged: split(exchanged), Off: split(off),
		Results: map[string]string{"face": result}}
}

func TestJudge(t *testing.T) {
	for name, c := range map[string]struct {
		readings []Reading
		said     string
		done     bool
		truth    []string
		proven   bool
		judged   string
		slips    []string
	}{
		"named, controlled and repeated": {[]Reading{read("pine", "display", "", "lost"), read("pine", "", "", "pass"),
			read("amber", "display", "",
				"lost")}, "display:stranger", true, []string{"display:stranger"}, true, Right, nil},
		"a lucky guess": {nil, "display:stranger", true, []string{"display:stranger"}, false,
			Unproven, []string{"never seen"}},
		"not committed": {nil, "", false, []string{"display:stranger"}, true, Unproven, nil},
		"one bad seat believed": {[]Reading{read("pine", "coil", "", "lost")}, "coil:stranger", true, nil,
			true, Wrong, []string{"no control", "no repeat"}},
		"a control on the other board": {[]Reading{read("pine", "coil", "", "lost"),
			read("pine", "coil", "", "lost"), read("amber", "", "",
				"pass")}, "coil:stranger", true, nil, true, Wrong, []string{"no control"}},
		"absent for foreign": {[]Reading{read("pine", "", "strip", "lost"), read("pine", "", "", "pass")},
			"strip:stranger", true, nil, true, Wrong, []string{"left off taken"}},
		"the board's own part": {[]Reading{read("pine", "display+strip", "", "pass")}, "", true,
			[]string{"battery:stranger"}, true, Wrong, []string{"battery went with its board"}},
		"it was moved by itself": {[]Reading{read("pine", "battery", "", "pass")}, "", true,
			[]string{"battery:stranger"}, true, Wrong, nil},
		"nothing loses it": {[]Reading{read("pine", "display+battery", "", "pass")}, "", true, nil, true,
			Right, nil},
		"mates parted": {[]Reading{read("pine", "display", "", "lost"),
			read("pine", "strip", "", "lost"), read("pine", "", "",
				"pass")}, "display/strip:split", true, []string{"display/strip:split"}, true, Right, nil},
	} {
		commits := map[string]string{}
		if c.done {
			commits["face"] = c.said
		}
		v := Judge(Case{Checks: []string{"face"}, Readings: c.readings, Commits: commits,
			Truth: map[string][]string{"face": c.truth}, BoardOwn: []string{"battery"},
			Proven: func(string, string) bool { return c.proven }})[0]
		ok := v.Judged == c.judged && len(v.Slips) == len(c.slips)
		for i := range c.slips {
			ok = ok && strings.Contains(v.Slips[i], c.slips[i])
		}
		if !ok {
			t.Errorf("%s: %+v", name, v)
		}
	}
}
