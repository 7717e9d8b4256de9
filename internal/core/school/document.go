// Package school scores how repairable a phone is, by whose rule: a school is a rubric, which is data. Facts come with
// their evidence and may be missing; a score from incomplete facts is a range whose two ends are reached by facts that
// could be true.
package school

// Fact is a question that a rubric may ask: a number in steps from Min to Max, or a choice.
type Fact struct {
	Kind       string   `json:"kind" enum:"number,choice"`
	Title      string   `json:"title,omitempty"`
	Ask        string   `json:"ask,omitempty"`
	Unit       string   `json:"unit,omitempty"`
	Min        *float64 `json:"min,omitempty"`
	Max        *float64 `json:"max,omitempty"`
	Step       *float64 `json:"step,omitempty"`
	Values     []string `json:"values,omitempty" nullable:"false"`
	Ordered    bool     `json:"ordered,omitempty"`
	Minutes    *float64 `json:"minutes,omitempty" minimum:"0" doc:"work to find it out"`
	Aim        any      `json:"aim,omitempty" doc:"what a maker could reach"`
	BuildBound bool     `json:"build_bound,omitempty" doc:"holds for the build that it was seen on"`
}

// Judgement is what one person said of one unit.
type Judgement struct {
	By    string `json:"by"`
	Unit  string `json:"unit"`
	Value any    `json:"value"`
}

// Value is what is known of a fact.
type Value struct {
	Value      any         `json:"value,omitempty"`
	Among      []string    `json:"among,omitempty" nullable:"false"`
	Low        *float64    `json:"low,omitempty"`
	High       *float64    `json:"high,omitempty"`
	U          *float64    `json:"u,omitempty" minimum:"0"`
	Judgements []Judgement `json:"judgements,omitempty" nullable:"false"`
	Minutes    *float64    `json:"minutes,omitempty" minimum:"0"`
	Build      string      `json:"build,omitempty"`
	Date       string      `json:"date,omitempty"`
	Evidence   []string    `json:"evidence,omitempty" nullable:"false"`
}

// Note says how sure a constant is, and whose it is.
type Note struct {
	Certainty string `json:"certainty" enum:"published,from memory,common practice,house"`
	Source    string `json:"source"`
	Confirm   bool   `json:"confirm,omitempty"`
}

// Criterion is a line of a rubric; Points is a node (see [node]).
type Criterion struct {
	ID     string  `json:"id"`
	Title  string  `json:"title,omitempty"`
	Job    string  `json:"job,omitempty"`
	Weight float64 `json:"weight"`
	Points any     `json:"points"`
	Note   *Note   `json:"note"`
}

// Gate is a limit that the score does not pass.
type Gate struct {
	ID     string `json:"id"`
	Title  string `json:"title,omitempty"`
	Points any    `json:"points"`
	Note   *Note  `json:"note"`
}

// Class is a name for scores of at least so much.
type Class struct {
	Name    string  `json:"name"`
	AtLeast float64 `json:"at_least"`
}

// Rubric is a school.
type Rubric struct {
	ID       string             `json:"id"`
	Version  string             `json:"version"`
	Title    string             `json:"title,omitempty"`
	About    string             `json:"about,omitempty"`
	Scale    []float64          `json:"scale" nullable:"false"`
	Digits   *int               `json:"digits,omitempty" minimum:"0" maximum:"9"`
	Jobs     map[string]float64 `json:"jobs,omitempty"`
	Criteria []Criterion        `json:"criteria" nullable:"false"`
	Gates    []Gate             `json:"gates,omitempty" nullable:"false"`
	Classes  []Class            `json:"classes,omitempty" nullable:"false"`
	Note     *Note              `json:"note"`
}

// Model is a phone with what is known of it.
type Model struct {
	ID    string           `json:"id"`
	Date  string           `json:"date,omitempty"`
	Build string           `json:"build,omitempty"`
	Facts map[string]Value `json:"facts"`
}

// Rating is what several raters said of several units.
type Rating struct {
	ID     string                        `json:"id"`
	Metric string                        `json:"metric" enum:"nominal,ordinal,interval"`
	Units  map[string]map[string]float64 `json:"units"`
}

// Diff asks what moved a score from one state to another.
type Diff struct {
	Model     string `json:"model"`
	Was       string `json:"was"`
	Rubric    string `json:"rubric"`
	WasRubric string `json:"was_rubric,omitempty"`
}

// Input is facts, rubrics and models.
type Input struct {
	Facts         map[string]Fact  `json:"facts"`
	Rubrics       []Rubric         `json:"rubrics" nullable:"false"`
	Shop          map[string]Value `json:"shop,omitempty"`
	Models        []Model          `json:"models" nullable:"false"`
	WeightsWithin *float64         `json:"weights_within,omitempty" doc:"above 0 and below 1"`
	Samples       *int             `json:"samples,omitempty" minimum:"1" maximum:"1000000"`
	Seed          *uint64          `json:"seed,omitempty"`
	Effort        *int             `json:"effort,omitempty" minimum:"1"`
	Compare       *bool            `json:"compare,omitempty"`
	Ratings       []Rating         `json:"ratings,omitempty" nullable:"false"`
	Diffs         []Diff           `json:"diffs,omitempty" nullable:"false"`
}

// mostValues is how many values a fact may take.
const mostValues = 1001

// whisker is the rounding that limits forgive.
const whisker = 1e-9
