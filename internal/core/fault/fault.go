// Package fault is how the core refuses bad input: it names the field, what was found there and what is allowed, so
// that a command can print it in one line and a page can put it beside the field.
//
//	return fault.New("steps[2].seconds", -4, "a number of seconds, 0 or more")
package fault

import (
	"fmt"
	"regexp"
)

// Fault is one refused field. Field is a path as in JSON (`steps[2].risk.display`).
type Fault struct {
	Field   string
	Found   string
	Allowed string
}

// New makes a Fault; found is printed with %v, texts in quotes.
func New(field string, found any, allowed string) *Fault {
	if s, ok := found.(string); ok {
		if r := []rune(s); len(r) > 60 {
			s = string(r[:60]) + "…"
		}
		return &Fault{field, fmt.Sprintf("%q", s), allowed}
	}
	return &Fault{field, fmt.Sprint(found), allowed}
}

func (f *Fault) Error() string {
	return fmt.Sprintf("%s: found %s, allowed: %s", f.Field, f.Found, f.Allowed)
}

var id = regexp.MustCompile(`^[a-z0-9][a-z0-9._-]*$`)

// ID refuses a name that is not an id of the contracts (`^[a-z0-9][a-z0-9._-]*$`).
func ID(field, s string) error {
	if !id.MatchString(s) {
		return New(field, s, "an id of lower-case letters, digits, dot, line or hyphen, starting with a letter or "+
			"digit")
	}
	return nil
}
