// Package cues reads timed text: captions of a film (WebVTT, SRT) and plain lines with times. The same recording in
// three formats gives the same cues.
package cues

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"waryowl/internal/core/fault"
)

// Cue is one caption; times are seconds. Source of the formats: W3C, WebVTT: The Web Video Text Tracks Format
// (Candidate Recommendation 2019); SRT has no standard.
type Cue struct {
	Start float64 `json:"start"`
	End   float64 `json:"end,omitempty"`
	Text  string  `json:"text"`
}

var (
	arrow   = regexp.MustCompile(`^\s*((?:\d+:)?\d{1,2}:\d{2}[.,]\d{1,3})\s+-->\s+((?:\d+:)?\d{1,2}:\d{2}[.,]\d{1,3})`)
	plain   = regexp.MustCompile(`^\s*\[(?:(\d+):)?(\d{1,3}):(\d{2})\]\s*(.*)$`)
	tags    = regexp.MustCompile(`<[^>]*>`)
	speaker = regexp.MustCompile(`^(?:>>\s*)?[A-Z][A-Z0-9 .]{1,24}:\s+`)
	word    = regexp.MustCompile(`[\p{L}\p{N}'’]+`)
)

// Read takes a recording's text apart. Tags, speaker names and cue settings are left out; what a rolling caption
// repeats is dropped once, where it is three words or more.
func Read(text string) ([]Cue, error) {
	text = strings.NewReplacer("\uFEFF", "", "\r\n", "\n", "\r", "\n").Replace(text)
	var list []Cue
	lines := strings.Split(text, "\n")
	timed := false
	for i := 0; i < len(lines); i++ {
		if m := arrow.FindStringSubmatch(lines[i]); m != nil {
			timed = true
			c := Cue{Start: seconds(m[1]), End: seconds(m[2])}
			var said []string
			for i++; i < len(lines) && strings.TrimSpace(lines[i]) != ""; i++ {
				if arrow.MatchString(lines[i]) {
					i--
					break
				}
				said = append(said, lines[i])
			}
			c.Text = clean(strings.Join(said, " "))
			list = append(list, c)
			continue
		}
		if timed {
			continue
		}
		if m := plain.FindStringSubmatch(lines[i]); m != nil {
			h, _ := strconv.Atoi("0" + m[1])
			min, _ := strconv.Atoi(m[2])
			s, _ := strconv.Atoi(m[3])
			list = append(list, Cue{Start: float64(h*3600 + min*60 + s), Text: clean(m[4])})
		} else if len(list) > 0 && strings.TrimSpace(lines[i]) != "" {
			last := &list[len(list)-1]
			last.Text = strings.TrimSpace(last.Text + " " + clean(lines[i]))
		}
	}
	if len(list) == 0 {
		return nil, fault.New("text", "no times", "captions (WebVTT, SRT), or lines that begin with [m:ss]")
	}
	for i := range list {
		if i > 0 && list[i].Start < list[i-1].Start {
			return nil, fault.New(fmt.Sprintf("cue %d", i+1), list[i].Start, "a start that is not before the one before it")
		}
		if list[i].End == 0 && i+1 < len(list) {
			list[i].End = list[i+1].Start
		}
	}
	return unrolled(list), nil
}

// Follow puts a recording behind another: its clock begins a second after the end of the one before it.
func Follow(first, next []Cue) []Cue {
	if len(first) == 0 {
		return next
	}
	last := first[len(first)-1]
	shift := max(last.Start, last.End) + 1
	out := append([]Cue{}, first...)
	for _, c := range next {
		c.Start += shift
		if c.End > 0 {
			c.End += shift
		}
		out = append(out, c)
	}
	return out
}

func clean(s string) string {
	s = strings.Join(strings.Fields(tags.ReplaceAllString(s, "")), " ")
	return speaker.ReplaceAllString(s, "")
}

func seconds(s string) float64 {
	total := 0.0
	for part := range strings.SplitSeq(strings.ReplaceAll(s, ",", "."), ":") {
		x, _ := strconv.ParseFloat(part, 64)
		total = total*60 + x
	}
	return total
}

// unrolled drops what a cue repeats from the end of the one before it.
func unrolled(list []Cue) []Cue {
	var out []Cue
	before := ""
	for _, c := range list {
		whole := c.Text
		a, b := word.FindAllString(before, -1), word.FindAllStringIndex(c.Text, -1)
		for n := min(len(a), len(b)); n >= 3; n-- {
			alike := true
			for k := range n {
				alike = alike && strings.EqualFold(a[len(a)-n+k], c.Text[b[k][0]:b[k][1]])
			}
			if alike {
				c.Text = strings.TrimLeft(c.Text[b[n-1][1]:], " ,.;:")
				break
			}
		}
		before = whole
		if c.Text != "" {
			out = append(out, c)
		}
	}
	return out
}
