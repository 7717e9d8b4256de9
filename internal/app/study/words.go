package study

import (
	"strings"
)

// Words says an explanation in plain language.
func (b *Record) Words(atom string) string {
	for _, u := range b.Units {
		atom = strings.ReplaceAll(atom, u.ID+"-", u.Name+"'s ")
		atom = strings.ReplaceAll(atom, "stuck:"+u.ID+":", "a loss that stayed on "+u.Name+" since ")
	}
	switch {
	case strings.HasPrefix(atom, "a loss that stayed"):
		return atom[:strings.Index(atom, "since ")+6] + atom[strings.LastIndex(atom, "#")+1:]
	case strings.HasPrefix(atom, "fit:"):
		return "loosely seated: " + strings.TrimPrefix(atom[:strings.LastIndex(atom, "#")], "fit:")
	case strings.HasSuffix(atom, ":bad"):
		return "defective piece: " + strings.TrimSuffix(strings.TrimPrefix(atom, "piece:"), ":bad")
	case strings.HasSuffix(atom, ":split"):
		return strings.Replace(strings.TrimSuffix(atom, ":split"), "/", " parted from its mate ", 1)
	case strings.HasSuffix(atom, ":both"):
		return strings.Replace(strings.TrimSuffix(atom, ":both"), "&", " and ", 1) + ", only together"
	}
	slot, state, _ := strings.Cut(atom, ":")
	return slot + ", " + state
}
