package pricelist

// Input is a table or a file, with what is known.
type Input struct {
	Today    string            `json:"today,omitempty"`
	Slots    []string          `json:"slots"`
	Sellers  []Seller          `json:"sellers,omitempty" nullable:"false" doc:"given: only these names"`
	Models   []Model           `json:"models,omitempty" nullable:"false" doc:"given: each row is for one of these, by a column model or by the default"`
	Table    [][]any           `json:"table,omitempty" nullable:"false" doc:"text, number, true, false, null, {date}, {error}, {formula, value}"`
	File     string            `json:"file,omitempty" doc:"base64 of a text or a workbook"`
	Known    []Offer           `json:"known,omitempty" nullable:"false"`
	Mapping  map[string]int    `json:"mapping,omitempty" doc:"field: place of its column from 0"`
	Defaults Defaults          `json:"defaults,omitempty"`
	Answers  map[string]string `json:"answers,omitempty" doc:"question: option"`
	Cells    []Mended          `json:"cells,omitempty" nullable:"false" doc:"what cells say instead"`
}

// Mended is a cell that somebody wrote anew: its line, the letter of its column, and its text.
type Mended struct {
	Line   int    `json:"line"`
	Column string `json:"column"`
	Text   string `json:"text"`
}

// Seller is a seller with the currency of its lists.
type Seller struct {
	Name     string `json:"name"`
	Currency string `json:"currency,omitempty"`
}

// Model is a model that offers are for, by its name and by what else it is called.
type Model struct {
	Name string   `json:"name"`
	Also []string `json:"also,omitempty" nullable:"false"`
}

// Defaults stand in for columns that a list has not.
type Defaults struct {
	Model    string `json:"model,omitempty"`
	Seller   string `json:"seller,omitempty"`
	Grade    string `json:"grade,omitempty"`
	Currency string `json:"currency,omitempty"`
}

// Offer is one offer; the price is in minor units of its currency.
type Offer struct {
	ID         string         `json:"id,omitempty"`
	Model      string         `json:"model,omitempty" doc:"where models are given"`
	Seller     string         `json:"seller"`
	Code       string         `json:"code,omitempty"`
	Title      string         `json:"title"`
	Covers     map[string]int `json:"covers"`
	Grade      string         `json:"grade"`
	PriceMinor int64          `json:"price_minor"`
	Currency   string         `json:"currency"`
	Date       string         `json:"date,omitempty"`
	Stock      *float64       `json:"stock,omitempty"`
	Lot        string         `json:"lot,omitempty"`
	Lead       *float64       `json:"lead,omitempty"`
}

// Row is what becomes of a record.
type Row struct {
	Line     int      `json:"line"`
	Decision string   `json:"decision" enum:"new,changed,same,duplicate,asked,wrong"`
	ID       string   `json:"id,omitempty"`
	Changed  []string `json:"changed,omitempty"`
	Offer    *Offer   `json:"offer,omitempty"`
}

// Wrong is a cell that cannot be taken.
type Wrong struct {
	Line    int    `json:"line"`
	Column  string `json:"column"`
	Head    string `json:"head"`
	Field   string `json:"field"`
	Found   string `json:"found"`
	Message string `json:"message"`
}

// Question is asked once a column. Reads are what two of its cells would be under each option.
type Question struct {
	ID      string              `json:"id"`
	Text    string              `json:"text"`
	Options []string            `json:"options"`
	Suggest string              `json:"suggest,omitempty"`
	Lines   []int               `json:"lines"`
	Reads   map[string][]string `json:"reads"`
}

// Column is how a column was read; empty where that is not decided.
type Column struct {
	Decimal *string `json:"decimal,omitempty"`
	Order   *string `json:"order,omitempty"`
}

// Counts by decision.
type Counts struct {
	New       int `json:"new"`
	Changed   int `json:"changed"`
	Same      int `json:"same"`
	Duplicate int `json:"duplicate"`
	Asked     int `json:"asked"`
	Wrong     int `json:"wrong"`
	Gone      int `json:"gone"`
}

// Output is the list as it was read.
type Output struct {
	Encoding  string            `json:"encoding"`
	Delimiter string            `json:"delimiter"`
	HeadLine  int               `json:"head_line"`
	Mapping   map[string]int    `json:"mapping"`
	Missing   []string          `json:"missing" nullable:"false"`
	Columns   map[string]Column `json:"columns"`
	Rows      []Row             `json:"rows" nullable:"false"`
	Errors    []Wrong           `json:"errors" nullable:"false"`
	Questions []Question        `json:"questions" nullable:"false"`
	Gone      []string          `json:"gone" nullable:"false"`
	Counts    Counts            `json:"counts"`
}
