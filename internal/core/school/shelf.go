package school

import (
	"embed"
	"encoding/json"
	"maps"
	"slices"
	"sync"
)

//go:embed rubrics/*.json
var shelf embed.FS

// schools are the rubrics that ship, in the order in which they are shown.
var schools = []string{"physical", "pairing-first", "shop-money", "regulated-2023-1669", "french-2021", "en-45554"}

// Template is the rubric that a rule of one's own starts from.
const Template = "own-template"

func ship[T any](name string) (v T) {
	text, err := shelf.ReadFile("rubrics/" + name + ".json")
	if err == nil {
		err = json.Unmarshal(text, &v)
	}
	if err != nil { // a test reads all of them
		panic(err)
	}
	return v
}

// Facts are what every rubric that ships asks for, by id.
func Facts() map[string]Fact { return maps.Clone(facts()) }

var facts = sync.OnceValue(func() map[string]Fact {
	return ship[struct {
		Facts map[string]Fact `json:"facts"`
	}]("facts").Facts
})

// Shipped are the schools that ship; constants carry their certainty and their source.
func Shipped() []Rubric { return slices.Clone(shipped()) }

var shipped = sync.OnceValue(func() []Rubric {
	var list []Rubric
	for _, name := range schools {
		list = append(list, ship[Rubric](name))
	}
	return list
})

// Own is the template that a rule of one's own starts from.
func Own() Rubric { return ship[Rubric](Template) }

// Check reads a rubric as the engine does and says by path what it refuses.
func Check(r Rubric) error {
	known, err := readFacts(facts())
	if err != nil {
		return err
	}
	_, err = readRubric("rubric", r, known)
	return err
}

// Uses are the facts that a rubric asks for, in the order of their ids.
func Uses(r Rubric) ([]string, error) {
	known, err := readFacts(facts())
	if err != nil {
		return nil, err
	}
	read, err := readRubric("rubric", r, known)
	if err != nil {
		return nil, err
	}
	return read.facts, nil
}

// Unofficial says whether a school stands for an official index: some constant of it is still to be confirmed.
func Unofficial(r Rubric) bool {
	if r.Note != nil && r.Note.Confirm {
		return true
	}
	return slices.ContainsFunc(r.Criteria, func(c Criterion) bool { return c.Note != nil && c.Note.Confirm })
}
