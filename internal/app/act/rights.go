package act

import (
	"fmt"
	"slices"
	"strings"
)

// Role is what a person may do.
type Role string

// The roles. Every signed-in person reads everything.
const (
	Analyst       Role = "analyst"
	Technician    Role = "technician"
	Buyer         Role = "buyer"
	Administrator Role = "administrator"
)

// Roles lists all roles.
var Roles = []Role{Analyst, Technician, Buyer, Administrator}

// Resource is a kind of thing that rights speak of, Verb what is done with it.
type (
	Resource string
	Verb     string
)

// The resources and verbs.
const (
	Models   Resource = "models"   // models, their parts and plans
	Studies  Resource = "studies"  // studies, units, baselines, log and trials
	Outcomes Resource = "outcomes" // how a job went
	Session  Resource = "session"  // one's own sign-in
	Practice Resource = "dry runs" // one's own practices
	Facts    Resource = "facts"    // what people say of a model for its scores
	Rules    Resource = "rules"    // rules of one's own for scores, as drafts
	Buying   Resource = "buying"   // sellers, offers, deliveries, stock, prices
	Jobs     Resource = "jobs"     // jobs that were asked for, reservations
	Office   Resource = "office"   // the workshop's settings
	Schools  Resource = "schools"  // which rules are shown to everybody
	People   Resource = "people"   // accounts of others
	Trail    Resource = "trail"    // who did what
	Visits   Resource = "visits"   // phones that came for a repair, and the search for their faults
	Words    Resource = "words"    // the workshop's own words, taught at the bench; the office changes them

	Read  Verb = "read"
	Write Verb = "write"
)

// Right is what a route asks for.
type Right struct {
	Resource Resource
	Verb     Verb
}

// rights is the whole table: who may do what. What is not in it is refused.
var rights = map[Right][]Role{
	{Models, Read}:    Roles,
	{Studies, Read}:   Roles,
	{Outcomes, Read}:  Roles,
	{Facts, Read}:     Roles,
	{Rules, Read}:     Roles,
	{Schools, Read}:   Roles,
	{Buying, Read}:    Roles,
	{Jobs, Read}:      Roles,
	{Visits, Read}:    Roles,
	{Office, Read}:    Roles,
	{Session, Read}:   Roles,
	{Session, Write}:  Roles,
	{People, Read}:    {Administrator},
	{People, Write}:   {Administrator},
	{Trail, Read}:     {Analyst, Administrator},
	{Practice, Read}:  Roles,
	{Practice, Write}: Roles,
	{Models, Write}:   {Analyst},
	{Studies, Write}:  {Analyst},
	{Outcomes, Write}: {Analyst, Technician},
	{Facts, Write}:    {Analyst, Technician, Buyer},
	{Rules, Write}:    {Analyst, Administrator},
	{Schools, Write}:  {Administrator},
	{Buying, Write}:   {Buyer},
	{Words, Read}:     Roles,
	{Words, Write}:    Roles,
	{Jobs, Write}:     {Analyst, Technician, Buyer},
	{Visits, Write}:   {Analyst, Technician},
	{Office, Write}:   {Administrator, Buyer},
}

// Resources are all kinds of thing that rights speak of.
func Resources() []Resource {
	return []Resource{Models, Studies, Outcomes, Facts, Rules, Schools, Buying, Jobs, Visits, Office, Words, Practice,
		Session,
		People, Trail}
}

// ResourceNames lists them in words.
func ResourceNames() string {
	var names []string
	for _, r := range Resources() {
		names = append(names, string(r))
	}
	return strings.Join(names, ", ")
}

// Public is what a route asks for that needs no sign-in.
var Public = Right{"", "public"}

// May says whether a person may do something: by their role, or because nobody else is there for it.
func (a Actor) May(right Right) bool {
	return Allowed(a.Role, right) || a.Alone && Allowed(Analyst, right)
}

// Writable lists the resources that a person may write, in the order of their names.
func Writable(who Actor) []string {
	list := []string{}
	for r := range rights {
		if r.Verb == Write && who.May(r) {
			list = append(list, string(r.Resource))
		}
	}
	slices.Sort(list)
	return list
}

// Table is the rights table in Markdown, for the documents.
func Table() string {
	var b strings.Builder
	b.WriteString("| what | who reads it | who writes it |\n|---|---|---|\n")
	for _, r := range Resources() {
		who := func(v Verb) string {
			var names []string
			for _, role := range rights[Right{r, v}] {
				names = append(names, string(role))
			}
			switch {
			case len(names) == len(Roles):
				return "everybody signed in"
			case names == nil:
				return "–"
			}
			return strings.Join(names, ", ")
		}
		fmt.Fprintf(&b, "| %s | %s | %s |\n", r, who(Read), who(Write))
	}
	return b.String()
}

// Allowed says whether the role has the right.
func Allowed(role Role, r Right) bool { return slices.Contains(rights[r], role) }
