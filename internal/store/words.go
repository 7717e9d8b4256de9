package store

// WordFacts are a word of the workshop: what is said at the bench, what it means, and of which kind it is.
type WordFacts struct {
	Say   string `json:"say" minLength:"1" maxLength:"60" gorm:"column:say"`
	Means string `json:"means" minLength:"1" maxLength:"80"`
	Kind  string `json:"kind" enum:"part,check,tool,drive,method,model,unit,material,mishearing"`
}

// OwnWord is one such word.
type OwnWord struct {
	Row
	WordFacts
}

// Facts are what is replaced whole.
func (r *OwnWord) Facts() *WordFacts { return &r.WordFacts }

// TableName keeps the table's name short.
func (OwnWord) TableName() string { return "words" }
