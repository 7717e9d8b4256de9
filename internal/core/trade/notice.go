package trade

import "strings"

// noticeWords bring words of one meaning in notices together (common practice, no source); filler says nothing.
var noticeWords = map[string]string{"important": "", "message": "", "notice": "", "warning": "", "alert": "", "about": "",
	"your": "", "this": "", "the": "", "a": "", "an": "", "of": "", "is": "", "was": "", "be": "", "been": "", "has": "",
	"to": "", "in": "", "on": "", "with": "", "phone": "", "device": "", "handset": "", "component": "part",
	"could": "can", "cannot": "not", "unable": "not", "cant": "not", "isnt": "not", "unknown": "unconfirmed",
	"unverified": "unconfirmed", "unrecognised": "unconfirmed", "unrecognized": "unconfirmed", "genuine": "original",
	"maker": "original", "authentic": "original", "verify": "confirm", "determine": "confirm", "recognise": "confirm",
	"recognize": "confirm", "verified": "confirm", "confirmed": "confirm", "determined": "confirm", "screen": "display",
	"panel": "display", "accumulator": "battery", "cell": "battery", "service": "repair", "serviced": "repair",
	"repaired": "repair", "replace": "exchange", "replaced": "exchange", "changed": "exchange",
	"exchanged": "exchange", "can": ""}

// noticed are the telling words of a notice; "not confirm" and "not original" are "unconfirmed".
func noticed(text string) map[string]bool {
	words := map[string]bool{}
	for _, w := range strings.Fields(Plain(text)) {
		w = strings.Trim(w, ":;!?()…")
		if m, known := noticeWords[w]; known {
			w = m
		} else if m, known := noticeWords[Singular(w)]; known {
			w = m
		} else {
			w = Singular(w)
		}
		if w != "" {
			words[w] = true
		}
	}
	if words["not"] && (words["confirm"] || words["original"]) {
		delete(words, "not")
		delete(words, "confirm")
		delete(words, "original")
		words["unconfirmed"] = true
	}
	if words["non"] && words["original"] {
		delete(words, "non")
		delete(words, "original")
		words["unconfirmed"] = true
	}
	return words
}

// SameNotice says how alike two notices are in meaning, 0 to 1: the share of their telling words that both have. Notices
// about different parts are not alike whatever else they share.
func SameNotice(a, b string) float64 {
	x, y := noticed(a), noticed(b)
	if len(x) == 0 || len(y) == 0 {
		return 0
	}
	p, q := Mentions(a), Mentions(b)
	if len(p) > 0 && len(q) > 0 && p[0] != q[0] {
		return 0
	}
	both := 0
	for w := range x {
		if y[w] {
			both++
		}
	}
	return float64(both) / float64(len(x)+len(y)-both)
}
