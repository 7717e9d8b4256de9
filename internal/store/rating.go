package store

import "time"

// SayingFacts are what somebody says of a fact that no engine works out: a number with its range, or a choice.
type SayingFacts struct {
	Fact     string     `json:"fact" minLength:"1" maxLength:"60" doc:"id of a fact of the rubrics"`
	Number   *float64   `json:"number,omitempty" doc:"of a number fact; money in minor units"`
	Low      *float64   `json:"low,omitempty" doc:"instead of one number: from"`
	High     *float64   `json:"high,omitempty" doc:"to"`
	Choice   string     `json:"choice,omitempty" maxLength:"40" doc:"of a choice fact"`
	By       string     `json:"by" minLength:"1" maxLength:"60" gorm:"column:said_by" doc:"whose word it is"`
	Unit     string     `json:"unit,omitempty" maxLength:"60" gorm:"column:unit_mark" doc:"phone that it was judged on"`
	Evidence string     `json:"evidence,omitempty" maxLength:"400" doc:"where it was seen or read"`
	Currency string     `json:"currency,omitempty" pattern:"^([A-Z]{3})?$" doc:"ISO 4217, of money"`
	Build    string     `json:"build,omitempty" maxLength:"40" doc:"software that it was seen on"`
	SaidOn   *time.Time `json:"said_on,omitempty" doc:"day on which it was so"`
}

// FactSaying is one saying; ModelID is empty for what holds for the workshop.
type FactSaying struct {
	Row
	ModelID string `json:"model_id"`
	SayingFacts
}

// RubricFacts are a rule of one's own: the document as the engine reads it.
type RubricFacts struct {
	Document string `json:"document" minLength:"2" maxLength:"200000" gorm:"type:mediumtext" doc:"the rubric as JSON" lines:"yes"`
}

// Rubric is a rule that somebody drafted; Published ones are shown to everybody beside the schools that ship. Name and
// Edition are those of the document.
type Rubric struct {
	Row
	Name      string `json:"name"`
	Edition   string `json:"edition"`
	Author    string `json:"author"`
	Published bool   `json:"published"`
	RubricFacts
}

// ScoreMarkFacts say why a state is kept.
type ScoreMarkFacts struct {
	Note string `json:"note" minLength:"1" maxLength:"200" doc:"why: before the software of spring, as handed over"`
}

// ScoreMark keeps what was known of a model on a day, so that a later score can say what moved it.
type ScoreMark struct {
	Row
	ModelID string    `json:"model_id"`
	Build   string    `json:"build"`
	TakenAt time.Time `json:"taken_at"`
	Facts   string    `json:"facts" gorm:"type:mediumtext" doc:"what was known, as the engine reads it"`
	ScoreMarkFacts
}
