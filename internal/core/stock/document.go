package stock

// Member is a model whose jobs take the piece, with the jobs that were counted, refused ones too.
type Member struct {
	ID   string `json:"id"`
	Jobs int    `json:"jobs" minimum:"0"`
}

// LastBuy is the end of a part: for how long it must last, what a job earns with it, what a piece left over brings.
type LastBuy struct {
	Weeks   float64 `json:"weeks"`
	Margin  float64 `json:"margin"`
	Salvage float64 `json:"salvage,omitempty"`
}

// Group is a set of models whose jobs take the same piece.
type Group struct {
	ID          string   `json:"id"`
	Models      []Member `json:"models,omitempty" nullable:"false"`
	RatePerWeek *float64 `json:"rate_per_week,omitempty" minimum:"0"`
	LeadWeeks   float64  `json:"lead_weeks"`
	Cost        *float64 `json:"cost,omitempty" minimum:"1" doc:"of a piece; left out: no price, so nothing of it is ordered under a budget"`
	Weight      *float64 `json:"weight,omitempty" minimum:"0"`
	OnHand      int      `json:"on_hand,omitempty" minimum:"0"`
	OnOrder     any      `json:"on_order,omitempty" doc:"a number, which comes after lead_weeks, or a list of {pieces, due_weeks}"`
	Reserved    *int     `json:"reserved,omitempty" minimum:"0" doc:"jobs taken that have no piece yet"`
	Owed        *int     `json:"owed,omitempty" minimum:"0" doc:"the same, as it was called before"`
	MaxStock    int      `json:"max_stock,omitempty" minimum:"0"`
	LastBuy     *LastBuy `json:"last_buy,omitempty"`
}

// Input is the groups of a workshop and the money for orders.
type Input struct {
	Weeks      float64  `json:"weeks,omitempty" minimum:"0" doc:"over which the jobs were counted"`
	FillGoal   *float64 `json:"fill_goal,omitempty"`
	Unmet      string   `json:"unmet,omitempty" enum:"wait,lost"`
	PriorShape *float64 `json:"prior_shape,omitempty"`
	PriorWeeks float64  `json:"prior_weeks,omitempty" minimum:"0"`
	Budget     float64  `json:"budget,omitempty" minimum:"0"`
	Effort     *int     `json:"effort,omitempty" minimum:"1"`
	Months     *int     `json:"months,omitempty" minimum:"1" maximum:"6" doc:"to look ahead; 3 when left out"`
	Horizon    *float64 `json:"horizon_weeks,omitempty" doc:"weeks of a month; 4.345 when left out (house)"`
	Groups     []Group  `json:"groups" nullable:"false"`
}

// Level is what is kept of one group.
type Level struct {
	ID           string     `json:"id"`
	RatePerWeek  float64    `json:"rate_per_week"`
	Interval     [2]float64 `json:"interval"`
	LeadDemand   float64    `json:"lead_demand"`
	BaseStock    int        `json:"base_stock"`
	Fill         float64    `json:"fill"`
	ExpectedOwed float64    `json:"expected_owed"`
	BaseApart    int        `json:"base_apart"`
	PoolingSaves int        `json:"pooling_saves"`
	LastBuy      *int       `json:"last_buy,omitempty"`
	Position     int        `json:"position" doc:"on hand and on order, less what is reserved"`
	Short        int        `json:"short" doc:"what the position lacks of the base stock"`
	Months       []Month    `json:"months" nullable:"false"`
}

// Month is what one month ahead takes: its demand with the least figures that hold in one and in nine of ten, what
// comes in, and the jobs that are expected to wait for a piece up to its end.
type Month struct {
	From          float64 `json:"from" doc:"weeks from now"`
	Demand        float64 `json:"demand"`
	P10           int     `json:"p10"`
	P90           int     `json:"p90"`
	Arriving      int     `json:"arriving"`
	ExpectedShort float64 `json:"expected_short"`
}

// Order is pieces to order now; Gain is in jobs not kept waiting at any time.
type Order struct {
	ID     string  `json:"id"`
	Pieces int     `json:"pieces"`
	Cost   float64 `json:"cost"`
	Gain   float64 `json:"gain"`
	Fill   float64 `json:"fill"`
}

// Output is the levels and the orders.
type Output struct {
	Groups     []Level `json:"groups" nullable:"false"`
	Orders     []Order `json:"orders" nullable:"false"`
	Spent      float64 `json:"spent"`
	Gain       float64 `json:"gain"`
	Bound      float64 `json:"bound"`
	Proven     bool    `json:"proven"`
	GreedyGain float64 `json:"greedy_gain"`
	Labels     int     `json:"labels"`

	Unpriced []string `json:"unpriced" nullable:"false" doc:"groups without a price: nothing of them is in the orders"`
}
