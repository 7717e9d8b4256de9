package compare

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/model"
	"waryowl/internal/core/compare"
	"waryowl/internal/store"
)

// sizes are the words of claims, the quantity each is about and whether it says more of it.
var sizes = []struct {
	words    []string
	quantity []string
	more     bool
}{
	{[]string{"thinner", "slimmer"}, []string{"thickness"}, false},
	{[]string{"thicker"}, []string{"thickness"}, true},
	{[]string{"lighter"}, []string{"mass"}, false},
	{[]string{"heavier"}, []string{"mass"}, true},
	{[]string{"bigger", "larger"}, []string{"capacity", "energy", "resolution", "thickness"}, true},
	{[]string{"smaller"}, []string{"capacity", "energy", "resolution", "thickness"}, false},
	{[]string{"wider"}, []string{"connector width"}, true},
	{[]string{"narrower"}, []string{"connector width"}, false},
}

var percent = regexp.MustCompile(`(\d+(?:[.,]\d+)?)\s*(?:%|percent)`)

// claims checks what the studies of the newer model say about sizes against the measures of both; bare are statements
// with a percentage of nobody knows what.
func claims(db *gorm.DB, out compare.Output, a, b *model.Record) (list []Claim, bare []string, err error) {
	studies, err := store.List[store.Study](db.Limit(20), "id DESC", "model_id = ?", b.ID)
	if err != nil {
		return nil, nil, err
	}
	var names []string
	err = db.Raw("SELECT name FROM models WHERE deleted_at IS NULL AND id <> ? LIMIT 1000", b.ID).Scan(&names).Error
	if err != nil {
		return nil, nil, err
	}
	list = []Claim{}
	for _, s := range studies {
		for _, h := range s.Hypotheses {
			if percent.MatchString(h.Text) && strings.TrimSpace(b.Predecessor) == "" && named(h.Text, names) == "" {
				bare = append(bare, "“"+h.Text+"”: a percentage without its base: than what?")
			}
			if !against(h.Text, a, b, names) {
				continue
			}
			if c, about := check(h, out, b); about {
				list = append(list, c)
			}
		}
	}
	return list, bare, nil
}

// against says that a statement compares with this earlier model: it names it, or it names none and this is the
// predecessor.
func against(text string, a, b *model.Record, names []string) bool {
	if n := named(text, names); n != "" {
		return n == strings.ToLower(a.Name)
	}
	return strings.EqualFold(strings.TrimSpace(b.Predecessor), a.Name)
}

// named is the longest name of a model that a text holds.
func named(text string, names []string) string {
	text = strings.ToLower(text)
	longest := ""
	for _, n := range names {
		if n = strings.ToLower(n); strings.Contains(text, n) && len(n) > len(longest) {
			longest = n
		}
	}
	return longest
}

func check(h store.Hypothesis, out compare.Output, b *model.Record) (Claim, bool) {
	text := strings.ToLower(h.Text)
	for _, s := range sizes {
		for _, w := range s.words {
			if !strings.Contains(text, w) {
				continue
			}
			part := b.PartByID[h.PartID]
			for _, p := range b.Parts {
				if part.ID == "" && strings.Contains(text, strings.ToLower(p.Name)) {
					part = p
				}
			}
			c := Claim{Text: h.Text, Part: part.Name, Finding: "not measured",
				Found: "no measure of it is on record for both models"}
			for _, m := range out.Matched {
				if m.B != part.ID {
					continue
				}
				for _, q := range s.quantity {
					for _, size := range m.Sizes {
						if size.Quantity == q {
							judge(&c, size, s.more, percent.FindStringSubmatch(text))
							return c, true
						}
					}
				}
			}
			return c, true
		}
	}
	return Claim{}, false
}

// judge compares a claim with what was measured: its direction, and the share that it names.
func judge(c *Claim, size compare.Size, more bool, share []string) {
	c.Found = strings.Replace(
		fmt.Sprintf("%s %+.3g ± %.2g %s", size.Quantity, size.Delta, size.U, size.Unit),
		"-",
		"−",
		1,
	)
	if size.Percent != nil {
		c.Found += fmt.Sprintf(", %s ± %.1f %%", signed(*size.Percent), max(0.1, *size.PercentU))
	}
	switch {
	case !size.Shown:
		c.Finding = "not resolved"
	case size.Delta > 0 != more:
		c.Finding = "refuted"
	default:
		c.Finding = "confirmed"
		if len(share) == 2 && size.Percent != nil {
			want, _ := strconv.ParseFloat(strings.Replace(share[1], ",", ".", 1), 64)
			// a share said in whole percent is met within half of one and what the measures leave open
			if off := math.Abs(math.Abs(*size.Percent) - want); off > 2**size.PercentU+0.5 {
				c.Finding = "refuted"
			}
		}
	}
}
