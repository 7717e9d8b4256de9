package narrate

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"waryowl/internal/core/narrate/cues"
)

// tok is a word or a figure of a recording. brk says what parts it from the next: '.' a sentence, ',' less.
type tok struct {
	w        string
	cue      int
	from, to int // runes in the text of the cue
	num      float64
	isNum    bool
	brk      byte
	cap      bool // one capital letter
	own      bool // "A's"
}

// pause is for how many seconds of silence a sentence ends without a mark.
const pause = 1.5

var wordAt = regexp.MustCompile(`\d+(?:[.,]\d+)+|\d+|\p{L}{1,3}\d+|[\p{L}]+(?:['’][\p{L}]+)*|[%€$]`)

// contractions are opened, both words at the place of the one.
var contractions = map[string]string{
	"i've":      "i have",
	"i'm":       "i am",
	"i'll":      "i will",
	"i'd":       "i would",
	"we've":     "we have",
	"we're":     "we are",
	"we'll":     "we will",
	"we'd":      "we would",
	"you've":    "you have",
	"you're":    "you are",
	"you'll":    "you will",
	"you'd":     "you would",
	"it's":      "it is",
	"it'll":     "it will",
	"that's":    "that is",
	"that'll":   "that will",
	"there's":   "there is",
	"they're":   "they are",
	"they've":   "they have",
	"they'll":   "they will",
	"here's":    "here is",
	"what's":    "what is",
	"let's":     "let us",
	"don't":     "do not",
	"doesn't":   "does not",
	"didn't":    "did not",
	"isn't":     "is not",
	"aren't":    "are not",
	"wasn't":    "was not",
	"weren't":   "were not",
	"can't":     "can not",
	"cannot":    "can not",
	"couldn't":  "could not",
	"wouldn't":  "would not",
	"won't":     "will not",
	"shouldn't": "should not",
	"haven't":   "have not",
	"hasn't":    "has not",
	"hadn't":    "had not",
	"he's":      "he is",
	"she's":     "she is",
	"one's":     "one is",
	"who's":     "who is",
	"mustn't":   "must not",
	"gonna":     "going to",
	"wanna":     "want to",
	"gotta":     "have to",
}

// tokens cuts the cues into words, and reads figures and number words.
func tokens(list []cues.Cue) []tok {
	var out []tok
	short := shortCue(list)
	for c, cue := range list {
		text := cue.Text
		at := map[int]int{} // byte: rune
		n := 0
		for b := range text {
			at[b] = n
			n++
		}
		at[len(text)] = n
		found := wordAt.FindAllStringIndex(text, -1)
		for k, f := range found {
			word := strings.ToLower(strings.ReplaceAll(text[f[0]:f[1]], "’", "'"))
			t := tok{w: word, cue: c, from: at[f[0]], to: at[f[1]]}
			end := len(text)
			if k+1 < len(found) {
				end = found[k+1][0]
			}
			switch gap := text[f[1]:end]; {
			case strings.ContainsAny(gap, ".!?"),
				k+1 == len(found) && (len(text) < short || c+1 < len(list) && cue.End > 0 && list[c+1].Start-cue.End >= pause):
				t.brk = '.'
			case strings.ContainsAny(gap, ",;:–—"):
				t.brk = ','
			}
			small := len(word) == 1 || len(word) == 2 && word < "20" // models have small numbers: "for the Atoll 96" is a price
			if word[0] >= '0' && word[0] <= '9' && !(small && named(out, text[:f[0]])) {
				t.num, t.isNum = figure(word)
			}
			if two, is := contractions[word]; is {
				for i, w := range strings.Fields(two) {
					x := t
					x.w = w
					if i == 0 {
						x.brk = 0
					}
					out = append(out, x)
				}
				continue
			}
			t.w = strings.TrimSuffix(strings.TrimSuffix(t.w, "'s"), "'")
			t.own = t.w != word
			t.cap = len(t.w) == 1 && text[f[0]] >= 'A' && text[f[0]] <= 'Z'
			out = append(out, t)
		}
	}
	return spoken(out)
}

// shortCue is the length in bytes below which the end of a cue is the end of a thought: captions are filled up, what
// is said in one go is not.
func shortCue(list []cues.Cue) int {
	var long []int
	for _, c := range list {
		long = append(long, len(c.Text))
	}
	if len(long) < 5 {
		return 0
	}
	slices.Sort(long)
	return long[len(long)*9/10] * 65 / 100
}

// named says whether a figure belongs to a name: it stands directly behind a word with a capital letter that begins
// no sentence and is no unit ("the Drift 4").
func named(before []tok, text string) bool {
	n := len(before)
	if n < 2 || before[n-1].brk != 0 || before[n-2].brk == '.' || before[n-1].cue != before[n-2].cue {
		return false
	}
	word := strings.TrimSpace(text)
	word = word[strings.LastIndexByte(word, ' ')+1:]
	r := []rune(word)
	return len(r) > 2 && unicode.IsUpper(r[0]) && unicode.IsLower(r[1]) && units[before[n-1].w] == ""
}

// figure reads digits: a comma before three digits parts thousands, another one is a decimal mark.
func figure(s string) (float64, bool) {
	if k := strings.LastIndexByte(s, ','); k >= 0 && (len(s)-k-1 == 3 || strings.Count(s, ",") > 1) {
		s = strings.ReplaceAll(s, ",", "")
	}
	x, err := strconv.ParseFloat(strings.ReplaceAll(s, ",", "."), 64)
	return x, err == nil
}

var ones = map[string]float64{
	"zero":      0,
	"one":       1,
	"two":       2,
	"three":     3,
	"four":      4,
	"five":      5,
	"six":       6,
	"seven":     7,
	"eight":     8,
	"nine":      9,
	"ten":       10,
	"eleven":    11,
	"twelve":    12,
	"thirteen":  13,
	"fourteen":  14,
	"fifteen":   15,
	"sixteen":   16,
	"seventeen": 17,
	"eighteen":  18,
	"nineteen":  19,
}

var tens = map[string]float64{
	"twenty":  20,
	"thirty":  30,
	"forty":   40,
	"fourty":  40,
	"fifty":   50,
	"sixty":   60,
	"seventy": 70,
	"eighty":  80,
	"ninety":  90,
}

// spoken joins number words into figures: "hundred and twenty eight", "four point two", "thirty four fifty", "four
// and a half".
func spoken(in []tok) []tok {
	var out []tok
	for i := 0; i < len(in); {
		x, n := spokenAt(in, i)
		if n == 0 {
			out = append(out, in[i])
			i++
			continue
		}
		t := in[i]
		last := in[i+n-1]
		t.w, t.num, t.isNum, t.brk = "#", x, true, last.brk
		if last.cue == t.cue {
			t.to = last.to
		}
		out = append(out, t)
		i += n
	}
	return out
}

func spokenAt(in []tok, i int) (x float64, n int) {
	whole := func(k int) bool { return k > 0 && in[k-1].brk == 0 || k == i }
	w := func(k int) string {
		if k < len(in) && whole(k) {
			return in[k].w
		}
		return ""
	}
	small := func(k int) (float64, int) { // below a hundred
		if v, is := tens[w(k)]; is {
			if u, is := ones[w(k+1)]; is && u > 0 && u < 10 {
				return v + u, 2
			}
			return v, 1
		}
		if v, is := ones[w(k)]; is {
			return v, 1
		}
		return 0, 0
	}
	if in[i].isNum {
		if w(i+1) == "and" && w(i+2) == "a" && w(i+3) == "half" {
			return in[i].num + .5, 4
		}
		return 0, 0
	}
	if w(i) == "half" && (w(i+1) == "a" || w(i+1) == "an") {
		return .5, 2
	}
	x, n = small(i)
	if w(i+1) == "lobe" || w(i+1) == "lobes" || w(i+1) == "lobed" { // five-lobe is a drive
		return 0, 0
	}
	if n > 1 && (w(i+n) == "lobe" || w(i+n) == "lobes") {
		n, x = 1, tens[w(i)]
	}
	if n == 0 && w(i) == "hundred" {
		x, n = 1, 0
	} else if n == 0 {
		return 0, 0
	}
	if w(i+n) == "hundred" {
		x *= 100
		n++
		k := n
		if w(i+k) == "and" {
			k++
		}
		if v, m := small(i + k); m > 0 {
			x, n = x+v, k+m
		}
	} else if x >= 10 && x < 100 { // pairs: thirty four fifty is 3450
		if v, m := small(i + n); m > 0 && v >= 10 {
			x, n = 100*x+v, n+m
		}
	}
	if w(i+n) == "thousand" {
		x, n = x*1000, n+1
		k := n
		if w(i+k) == "and" {
			k++
		}
		if v, m := spokenAt(in, min(i+k, len(in)-1)); m > 0 && i+k < len(in) && w(i+k) != "" && v < 1000 {
			x, n = x+v, k+m
		}
	}
	if w(i+n) == "point" {
		k, scale, frac := n+1, .1, 0.0
		for {
			v, is := ones[w(i+k)]
			if t, ten := tens[w(i+k)]; ten && scale == .1 { // "point forty two"
				u := ones[w(i+k+1)]
				if u > 0 && u < 10 {
					k++
				}
				frac, k, scale = (t+u)/100, k+1, .001
				break
			}
			if !is || v > 9 {
				break
			}
			frac += v * scale
			scale /= 10
			k++
		}
		if scale < .1 {
			x, n = math.Round((x+frac)*1e6)/1e6, k
		}
	}
	if w(i+n) == "and" && w(i+n+1) == "a" && w(i+n+2) == "half" {
		x, n = x+.5, n+3
	}
	return x, n
}
