package compare

// Move is how far a part lies from where it lay, in mm of b. Shown: more than chance places it at, with both axes
// (√(−2 ln 0.05) standard uncertainties; Rayleigh).
type Move struct {
	DX    float64 `json:"dx"`
	DY    float64 `json:"dy"`
	MM    float64 `json:"mm"`
	U     float64 `json:"u"`
	Shown bool    `json:"shown"`
}

// Size is a quantity that both have in one unit; not shown reads "not resolved". Percent is missing when a is 0.
type Size struct {
	Quantity string   `json:"quantity"`
	Delta    float64  `json:"delta"`
	U        float64  `json:"u"`
	Unit     string   `json:"unit"`
	Percent  *float64 `json:"percent"`
	PercentU *float64 `json:"percent_u"`
	Shown    bool     `json:"shown"`
}

// Match is a part that both models have.
type Match struct {
	A            string             `json:"a"`
	B            string             `json:"b"`
	Score        float64            `json:"score"`
	Margin       float64            `json:"margin"`
	Sure         bool               `json:"sure"`
	Confirmed    bool               `json:"confirmed"`
	Renamed      bool               `json:"renamed"`
	Moved        *Move              `json:"moved"`
	Layer        int                `json:"layer"`
	Sizes        []Size             `json:"sizes" nullable:"false"`
	JointsGained []string           `json:"joints_gained" nullable:"false"`
	JointsLost   []string           `json:"joints_lost" nullable:"false"`
	Merged       []string           `json:"merged" nullable:"false"`
	Split        []string           `json:"split" nullable:"false"`
	Interchange  string             `json:"interchange" enum:"ruled out,open"`
	Changes      []string           `json:"changes" nullable:"false"`
	Minutes      map[string]float64 `json:"minutes"`
}

// Alone is a part that only one model has: With is who took its functions over, Maybe who it could be all the same.
type Alone struct {
	Part    string             `json:"part"`
	With    string             `json:"with"`
	Maybe   string             `json:"maybe"`
	Minutes map[string]float64 `json:"minutes"`

	changes []string
}

// JobChange is the difference of the ways of a job; the minutes of all parts and Rest add up to Minutes.
type JobChange struct {
	Job         string             `json:"job"`
	Minutes     float64            `json:"minutes"`
	Rest        float64            `json:"rest"`
	Depth       int                `json:"depth"`
	ToolsGained []string           `json:"tools_gained" nullable:"false"`
	ToolsLost   []string           `json:"tools_lost" nullable:"false"`
	Risk        map[string]float64 `json:"risk"`
}

// Ranked is a change with its weighted minutes.
type Ranked struct {
	A       string   `json:"a"`
	B       string   `json:"b"`
	Changes []string `json:"changes" nullable:"false"`
	Minutes float64  `json:"minutes"`
	Effect  string   `json:"effect" enum:"separable,bound,easier,harder,buyers,none"`

	gone, added, ruled bool
}

// Facts are the counts for a sentence.
type Facts struct {
	PartsA     int     `json:"parts_a"`
	PartsB     int     `json:"parts_b"`
	Same       int     `json:"same"`
	Moved      int     `json:"moved"`
	Layer      int     `json:"layer"`
	Resized    int     `json:"resized"`
	Joints     int     `json:"joints"`
	Merged     int     `json:"merged"`
	Split      int     `json:"split"`
	Gone       int     `json:"gone"`
	Added      int     `json:"added"`
	Unresolved int     `json:"unresolved"`
	RuledOut   int     `json:"ruled_out"`
	ToConfirm  int     `json:"to_confirm"`
	Minutes    float64 `json:"minutes"`
}

// Output is the comparison.
type Output struct {
	Total   float64     `json:"total"`
	Matched []Match     `json:"matched" nullable:"false"`
	Gone    []Alone     `json:"gone" nullable:"false"`
	Added   []Alone     `json:"added" nullable:"false"`
	Jobs    []JobChange `json:"jobs" nullable:"false"`
	Ranked  []Ranked    `json:"ranked" nullable:"false"`
	Facts   Facts       `json:"facts"`

	Answer    Answer      `json:"answer"`
	Coverage  Coverage    `json:"coverage"`
	Table     []TableRow  `json:"table" nullable:"false"`
	Causes    []Cause     `json:"causes" nullable:"false"`
	Separable []Separable `json:"separable" nullable:"false"`
	Bound     []Bound     `json:"bound" nullable:"false"`
	Whole     []Whole     `json:"whole" nullable:"false"`
	Fit       []FitSaid   `json:"fit" nullable:"false"`
	Claims    []Finding   `json:"claims" nullable:"false"`
	Doubts    []Doubt     `json:"doubts" nullable:"false"`
}
