package narrate

import (
	"strconv"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/trade"
)

// Kinds of item: a stretch of words with one meaning.
const (
	noun   = 'N'
	drive  = 'D'
	tool   = 'T'
	method = 'M'
	act    = 'V' // takes out
	back   = 'B' // puts back
	check  = 'F'
	result = 'R'
	judge  = 'E'
	mishap = 'X'
	advert = 'A'
	phone  = 'U'
	model  = 'P'
	number = '#'
	value  = 'Q'
	plain  = 'w'
)

// item is a stretch of tokens [a, b) with its meaning.
type item struct {
	k     byte
	c     string // what it stands for
	s     string // as it was said
	a, b  int
	n     float64
	unit  string
	done  bool // the form itself says that it was done, or that it happens
	state bool // a particle after a thing: off, out
}

// verbs are acts as they are spoken: base forms, then forms that say that it is done. Which act a form is may depend
// on what it takes.
var verbs = map[string][2]string{
	"lift": {"remove|lift|lift up|lift out|lift off|lift away|take out|take off|take away|get out|get off|detach|pop out|pull out|bring out|fish out|pick out",
		"removed|lifted|lifted out|lifted off|took out|took off|taken out|taken off|taken away|came out|comes out|come out|lifts out|lifts off|lifts away|" +
			"comes off|came off|come off|comes free|came free|come free|drops free|drops out|comes away|came away|come away|detached|popped out|pops out|lifted away|removing|got out|set aside|put aside|laid aside|slides out|drops off|pulls out"},
	"disconnect": {"disconnect|unplug|unhook|pop off",
		"disconnected|unplugged|popped off|snap off|snaps off|snapped off|unhooked|disconnecting|unplugging|pops off"},
	"unclip": {"unclip", "unclipped|unclips"},
	"unfasten": {"unfasten|unscrew|undo|loosen|back out|screw out",
		"unfastened|unscrewed|undone|undid|loosened|backed out|unscrewing|undoing"},
	"peel":  {"peel|peel back|peel off|peel away", "peeled|peeled back|peeled off|peels off|peels back|peeling"},
	"pry":   {"pry|prise|pry up|pry off|lever|lever up", "pried|prised|prying|levered|pries off|pried off|pried up"},
	"cut":   {"cut|cut through|slice|slice through|work round|work around|walk it round|walk round|run round|slide a card", "sliced|cutting|worked around|worked round|walked round|walked it round|goes in at|all the way round"},
	"pull":  {"pull|pull up|pull on|tug", "pulled|pulling"},
	"slide": {"slide|push|shift", "slid|pushed|shifted"},
	"open":  {"open|open up|swing open|fold open", "opened|opens|opens up|swings open|folds open"},
	"heat": {"heat|heat up|warm|warm up|apply heat|put some heat on",
		"heated|heated up|warmed|warmed up|heating|heat is on|on the plate|back on the plate|on the heat"},
	"insert": {"insert|slip in|stick in", "inserted|slipped in"},
	"clean":  {"clean|wipe|clean off", "cleaned|wiped"},
	"bend":   {"bend", "bent"},
	"wait":   {"wait|leave it for|let it sit|let it cool", "waited|waiting"},
	"switch-off": {"power off|switch off|switch it off|turn off|turn it off|power it off|power it down|power down",
		"powered off|switched off|turned off|powered down"},
	"switch-on": {"power on|switch on|switch it on|turn on|turn it on|power it on|start it|boot it|hold the button|press the power button", "powered on|switched on|turned on"},
	"reset":     {"reset|reset it", "resetting|reset it"},
	"restart":   {"restart|restart it", "restarted|rebooted"},
	"update":    {"update|update it", "updated|updating"},
	"reseat": {"reseat|reseat it|reseat them|press it on again|seat it again",
		"reseated|pressed it on again|seated again"},
	"swap":  {"swap|exchange", "swapped|swaps|exchanged|swapping"},
	"weigh": {"weigh", "weighs|weighed"},
}

// backs are acts that put something back, by what they undo.
var backs = map[string][2]string{
	"lift": {"put back|put|put in|put on|install|reinstall|refit|fit|set|drop|drop in|lower in|snap on|snap back|snap back on|clip on|clip back on|reattach|attach|place|slot in|put it back",
		"reinstalled|installed|refitted|reattached|goes in|goes back|goes back in|goes on|go in|go back|back in|back on|put back in|in place|goes home|is back|drops in|drops into place|back down|fitted|put back"},
	"disconnect": {"connect|reconnect|plug in|plug|click on|click in|seat",
		"reconnected|connected|plugged in|plugs on|clicked on|clicked in|clicks on|snapped on|seated"},
	"unfasten": {"screw in|screw down|do up|secure|tighten|drive in", "screwed down|screwed in|tightened|done up"},
	"peel":     {"lay|apply|press a|stick|stick down|lay down", "applied|laid|stuck down"},
}

// results of a check as they are said.
var results = map[string]string{"works": "pass", "work": "pass", "worked": "pass", "is fine": "pass", "fine": "pass",
	"is ok": "pass", "ok": "pass", "okay": "pass",
	"good": "pass", "is good": "pass", "starts": "pass", "boots": "pass", "powers on": "pass", "turns on": "pass",
	"comes on": "pass", "working": "pass", "functions": "pass", "buzzes": "pass", "passes": "pass",
	"yes": "pass", "is back": "pass", "works again": "pass", "fails": "lost", "failed": "lost", "fail": "lost",
	"still fails": "lost", "lost": "lost",
	"dead": "lost", "is gone": "lost", "does not work": "lost", "not working": "lost", "stays dark": "lost",
	"is still lost": "lost", "is lost": "lost", "goes": "lost", "weak": "weak",
	"a bit thin": "weak", "thin": "weak", "quiet": "weak", "dim": "weak", "scratchy": "weak", "is scratchy": "weak",
	"distorted": "weak", "is distorted": "weak", "stays at half": "weak", "crackles": "weak", "sounds thin": "weak",
	"no": "lost", "there is the logo": "pass", "nothing happens": "lost"}

// units of measure as they are said.
var units = map[string]string{"degree": "C", "degrees": "C", "degrees celsius": "C", "celsius": "C", "second": "s",
	"seconds": "s", "sec": "s",
	"secs": "s", "minute": "min", "minutes": "min", "min": "min", "mins": "min", "hour": "h", "hours": "h",
	"millimetre": "mm", "millimetres": "mm",
	"millimeter": "mm", "millimeters": "mm", "mm": "mm", "centimetre": "cm", "centimetres": "cm", "gram": "g",
	"grams": "g", "grammes": "g", "g": "g",
	"milliamp hours": "mAh", "milliamp hour": "mAh", "milliampere hours": "mAh", "mah": "mAh", "watt hours": "Wh",
	"watt hour": "Wh", "wh": "Wh",
	"megapixel": "MP", "megapixels": "MP", "mp": "MP", "gig": "GB", "gigs": "GB", "gigabyte": "GB", "gigabytes": "GB",
	"gb": "GB", "percent": "%",
	"per cent": "%", "%": "%", "euro": "EUR", "euros": "EUR", "€": "EUR", "volt": "V", "volts": "V", "inch": "in",
	"inches": "in", "c": "C"}

// extra are words of the bench that the shared lexicon does not hold in this sense.
var extra = map[string]item{"sticker": {k: noun, c: "sticker"}, "post": {k: noun, c: "standoff"},
	"rubber gasket": {k: noun, c: "gasket"},
	"wrap":          {k: noun, c: "wrap"}, "ground strap": {k: noun, c: "ground strap"}, "strap": {k: noun, c: "strap"},
	"spacer":      {k: noun, c: "washer"},
	"camera cage": {k: noun, c: "rear camera"}, "stretch strip": {k: noun, c: "pull tab"}, "stretch tab": {k: noun,
		c: "pull tab"}, "pull strip": {k: noun, c: "pull tab"}, "port": {k: noun, c: "charge port"},
	"charging": {k: check, c: "charging"}, "wifi": {k: check, c: "wi-fi"}, "wi fi": {k: check, c: "wi-fi"},
	"torch":  {k: check, c: "torch"},
	"signal": {k: check, c: "signal"}, "cable charging": {k: check, c: "charging"}, "charging board": {k: noun,
		c: "charge port"}, "charge board": {k: noun, c: "charge port"}, "port board": {k: noun, c: "charge port"},
	"dock connector": {k: noun, c: "charge port"}, "haptics": {k: noun, c: "haptic motor"}, "back cover": {k: noun,
		c: "rear glass"}, "rear cover": {k: noun, c: "rear glass"}, "logo": {k: plain}, "charger": {k: noun, c: "charger"},
	"driver": {k: tool, c: "driver"},
	"build":  {k: noun, c: "build"}, "button cable": {k: noun, c: "button cable"}, "round": {k: noun, c: "heat round"},
	"rounds": {k: noun, c: "heat round"},
	"covers": {k: plain, c: "covers"}, "sounds": {k: plain, c: "sounds"}, "fan": {k: noun, c: "fan"},
	"message": {k: noun, c: "message"}, "notice": {k: noun, c: "message"}, "vent": {k: noun, c: "vent"},
	"heat mat": {k: method, c: "pad"}, "mat": {k: method, c: "pad"},
	"hot plate": {k: method, c: "plate"}, "heat plate": {k: method, c: "plate"}, "plate": {k: method, c: "plate"},
	"alcohol": {k: method, c: "alcohol"}, "solvent": {k: method, c: "alcohol"},
	"picture": {k: check, c: "picture"}, "camera": {k: noun, c: "rear camera"}, "speaker": {k: noun, c: "loudspeaker"},
	"boot":       {k: check, c: "boot"},
	"stabiliser": {k: noun, c: "stabiliser"}, "rim": {k: noun, c: "rim"}, "edge": {k: noun, c: "rim"}, "tray": {k: noun,
		c: "card tray"}, "soft tray": {k: plain},
	"lid": {k: noun, c: "rear glass"}, "back": {k: noun, c: "rear glass"}, "portrait mode": {k: check, c: "portrait"},
	"portrait": {k: check, c: "portrait"},
	"graphite": {k: noun, c: "graphite film"}, "shield": {k: noun, c: "shield"}, "memory": {k: noun, c: "memory"},
	"gap": {k: noun, c: "gap"}, "clamp": {k: noun, c: "clamp"}, "clamps": {k: noun, c: "clamp"}}

type forms map[string][]item

// dictionary are all forms that a recording may hold: acts, results, the shared lexicon, the parts and the workshop's
// own words.
type dictionary struct {
	own    forms
	mine   map[string]string // mishearings
	models map[string]bool
}

var spokenForms = func() forms {
	m := forms{}
	add := func(list string, it item) {
		for f := range strings.SplitSeq(list, "|") {
			m[f] = append(m[f], it)
		}
	}
	for c, f := range verbs {
		add(f[0], item{k: act, c: c})
		add(f[1], item{k: act, c: c, done: true})
	}
	for c, f := range backs {
		add(f[0], item{k: back, c: c})
		add(f[1], item{k: back, c: c, done: true})
	}
	for f, r := range results {
		add(f, item{k: result, c: r})
	}
	for f, it := range extra {
		add(f, it)
	}
	return m
}()

func newDictionary(in Input) *dictionary {
	d := &dictionary{own: forms{}, mine: map[string]string{}, models: map[string]bool{}}
	add := func(say string, it item) {
		if say = lexicon.Norm(say); say != "" {
			d.own[say] = append(d.own[say], it)
		}
	}
	for _, w := range in.Words {
		k := map[string]byte{"part": noun, "check": check, "tool": tool, "drive": drive, "method": method, "unit": phone,
			"model": model}[w.Kind]
		if w.Kind == "mishearing" {
			d.mine[lexicon.Norm(w.Say)] = lexicon.Norm(w.Means)
			continue
		}
		add(w.Say, item{k: k, c: w.Means})
	}
	for _, u := range in.Units {
		for _, a := range append([]string{u.Name}, u.Aliases...) {
			if len(a) > 1 || a == u.Name {
				add(a, item{k: phone, c: u.Name})
			}
		}
	}
	for _, p := range in.Parts {
		for _, a := range append([]string{p.Name}, p.Aliases...) {
			if _, known := lexicon.Noun(lexicon.Norm(a)); !known && spokenForms[lexicon.Norm(a)] == nil {
				add(a, item{k: noun, c: p.Name})
			}
		}
	}
	for _, c := range in.Checks {
		if _, known := lexicon.Noun(lexicon.Norm(c.Name)); !known {
			add(c.Name, item{k: check, c: c.Name})
		}
	}
	return d
}

// senses lists the meanings of a phrase.
func (d *dictionary) senses(p string) []item {
	if list := d.own[p]; list != nil {
		return list
	}
	if said := spokenForms[p]; len(said) == 1 && said[0].k == plain {
		return said
	}
	if one := trade.Singular(p); one != p && d.own[one] != nil {
		return d.own[one]
	}
	list := append([]item{}, spokenForms[p]...)
	if len(list) == 0 {
		if one := trade.Singular(p); one != p {
			for _, it := range spokenForms[one] {
				if it.k == noun || it.k == tool {
					list = append(list, it)
				}
			}
		}
	}
	for _, s := range lexicon.Of(p) {
		k := map[lexicon.Class]byte{lexicon.NounWord: noun, lexicon.Drive: drive, lexicon.Tool: tool, lexicon.Method: method,
			lexicon.Function: check, lexicon.Advert: advert, lexicon.Good: judge, lexicon.Bad: judge, lexicon.Locked: judge,
			lexicon.Incident: mishap}[s.Class]
		if k == 0 || strings.Contains(unspoken, "|"+p+"|") {
			continue
		}
		c := s.Canon
		known := false
		for _, o := range list {
			known = known || o.k == k
		}
		if !known {
			list = append(list, item{k: k, c: c})
		}
	}
	return list
}

// unspoken are short forms of the typed line that mean something else when they are spoken.
const unspoken = "|home|key|keys|bolt|boot|ear|vib|sim|pack|lines|gone|over|extra|missing|broke|bent|lid|one|s|p|link|links|comment|store|ant|foil|dot|als|selfie|tele|in|on|lead time|good|ok|okay|lost|hard|win|cheap|slot|flat|star|glass|unit|parts|press|"

// lex turns tokens into items, the longest form first.
func (d *dictionary) lex(toks []tok) []item {
	var out []item
	for i := 0; i < len(toks); {
		it := d.at(toks, i, out)
		it.a = i
		if it.b == 0 {
			it.b = i + 1
		}
		if it.k == model && it.b < len(toks) && toks[it.b].isNum && toks[it.b-1].brk == 0 {
			it.b++ // the figure is the model's
		}
		out = append(out, it)
		i = it.b
	}
	return out
}

func (d *dictionary) at(toks []tok, i int, before []item) item {
	t := toks[i]
	if t.isNum {
		return d.figureAt(toks, i)
	}
	if (t.w == "a" || t.w == "an" || t.w == "another" || t.w == "one") && i+1 < len(toks) && t.brk == 0 {
		if u, is := units[toks[i+1].w]; is && (u == "min" || u == "h" || u == "mm") {
			return item{k: value, c: u, unit: u, n: 1, s: t.w + " " + toks[i+1].w, b: i + 2}
		}
	}
	if strings.Contains("|switch|turn|power|switched|turned|powered|", "|"+t.w+"|") {
		for n := 1; n < 4 && i+n < len(toks) && toks[i+n-1].brk == 0; n++ { // switch the phone off
			if w := toks[i+n].w; w == "off" || w == "on" || w == "down" {
				if w == "down" {
					w = "off"
				}
				return item{k: act, c: "switch-" + w, s: t.w + " " + w, b: i + n + 1, done: strings.HasSuffix(t.w, "ed")}
			}
		}
	}
	best := item{k: plain, c: t.w, s: t.w}
	phrase := ""
	for n := 0; n < 5 && i+n < len(toks); n++ {
		w := toks[i+n].w
		if toks[i+n].isNum {
			break
		}
		if m, is := d.mine[w]; is {
			w = m
		}
		phrase = strings.TrimSpace(phrase + " " + w)
		if phrase == "back" && !(i > 0 && toks[i-1].brk == 0 && strings.Contains("|the|its|a|whole|glued|",
			"|"+toks[i-1].w+"|")) {
			continue
		}
		if n == 0 && len(phrase) == 1 && !(t.cap && (t.own || i > 0 && toks[i-1].brk != '.')) {
			continue // the article, not the phone
		}
		if strings.HasPrefix(phrase, "back ") && i > 0 && toks[i-1].brk == 0 &&
			strings.Contains("|the|its|whole|glued|", "|"+toks[i-1].w+"|") {
			continue // the back, on
		}
		if n := len(before); strings.HasPrefix(phrase, "screw ") && n > 0 && before[n-1].k == drive && before[n-1].b == i {
			continue // "cross screw in": the thing, not the verb
		}
		if phrase == "round" && !(i > 0 && toks[i-1].brk == 0 && (toks[i-1].isNum ||
			strings.Contains("|a|one|another|second|third|each|last|", "|"+toks[i-1].w+"|"))) {
			continue // all round the rim
		}
		if list := d.senses(phrase); len(list) > 0 {
			it := pick(list, toks, i, i+n+1, before)
			it.s, it.b = phrase, i+n+1
			if it.k != 0 {
				best = it
			}
		}
		if toks[i+n].brk != 0 {
			break
		}
	}
	return best
}

var determiners = set("the|a|an|this|that|these|those|its|own|old|new|little|small|big|black|grey|white|tiny|both|all" +
	"|second|first|third|main|upper|lower|left|right|rubber|plastic|metal|other|each|every|my|our" +
	"|your|threaded|same|long|short|spare|single|thin|fresh|wide|top|bottom|front|rear|inner|outer" +
	"|last|remaining|two|of|no|any|longer|more|another")

// pick chooses among the meanings of a form by what stands before and after it.
func pick(list []item, toks []tok, a, b int, before []item) item {
	if len(list) == 1 {
		return list[0]
	}
	prev := ""
	if a > 0 && toks[a-1].brk == 0 {
		prev = toks[a-1].w
	}
	thing := determiners[prev] || a > 0 && toks[a-1].isNum && toks[a-1].brk == 0 ||
		len(before) > 0 && before[len(before)-1].b == a && strings.IndexByte("NDF", before[len(before)-1].k) >= 0
	by := func(kinds string) (item, bool) {
		for _, k := range []byte(kinds) {
			for _, it := range list {
				if it.k == k {
					return it, true
				}
			}
		}
		return item{}, false
	}
	after := ""
	if b < len(toks) && toks[b-1].brk == 0 {
		after = toks[b].w
	}
	pronoun := strings.Contains("|i|we|you|to|they|can|then|not|will|now|and|be|is|are|", "|"+prev+"|") && prev != ""
	if thing && !pronoun {
		if it, ok := by("M"); ok && a > 1 && strings.Contains("|on|onto|off|", "|"+toks[a-2].w+"|") {
			return it // on the plate
		}
		if it, ok := by("NTMF"); ok {
			return it
		}
	}
	if (pronoun || a == 0 || toks[a-1].brk != 0) && (after == "the" || after == "it" || after == "them" ||
		after == "a" || after == "this" || after == "off" || after == "out") {
		if it, ok := by("VB"); ok {
			return it
		}
	}
	if it, ok := by("BVNTMFREXDUA"); ok {
		if it.k == back || it.k == act {
			if n, is := by("N"); is && !pronoun && prev != "" && after != "the" {
				return n
			}
		}
		return it
	}
	return list[0]
}

// figureAt reads a figure with the unit that follows it, a share out of ten, or a bare number.
func (d *dictionary) figureAt(toks []tok, i int) item {
	it := item{k: number, n: toks[i].num, s: toks[i].w, b: i + 1}
	at := func(k int) string {
		if k < len(toks) && (k == i || toks[k-1].brk == 0) {
			return toks[k].w
		}
		return ""
	}
	for n := 2; n >= 1; n-- {
		p := at(i + 1)
		if n == 2 {
			if p = at(i + 1); at(i+2) == "" {
				continue
			}
			p += " " + at(i+2)
		}
		if u, is := units[p]; is && p != "" {
			it.k, it.unit, it.c, it.b = value, u, u, i+1+n
			if k := it.b; u == "EUR" && k < len(toks) && toks[k-1].brk == 0 && toks[k].isNum && toks[k].num >= 5 &&
				toks[k].num < 100 {
				it.n, it.b = it.n+toks[k].num/100, k+1 // nine euros fifty
			}
			return it
		}
	}
	if at(i+1) == "out" && at(i+2) == "of" && i+3 < len(toks) && toks[i+3].isNum {
		it.k, it.unit, it.b = value, "/"+strconv.FormatFloat(toks[i+3].num, 'f', -1, 64), i+4
	}
	return it
}
