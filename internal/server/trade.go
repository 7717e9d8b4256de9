package server

import (
	"context"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/core/trade"
)

// Word is a thing of the trade as it is offered: its id and what it is called.
type Word struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// TradeJoint is a joint with what holds of it.
type TradeJoint struct {
	ID       string `json:"id"`
	Threaded bool   `json:"threaded"`
	Lead     bool   `json:"lead"`
}

// TradeKind is a kind of part with its family.
type TradeKind struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Family string `json:"family"`
}

// TradeVerb is a verb of the bench line with lines that show it.
type TradeVerb struct {
	Letter   string   `json:"letter"`
	ID       string   `json:"id"`
	Examples []string `json:"examples" nullable:"false"`
}

// Trade is the vocabulary of the trade for the pages: they offer it, and know no word of their own.
type Trade struct {
	Families  []Word       `json:"families" nullable:"false"`
	Kinds     []TradeKind  `json:"kinds" nullable:"false"`
	Verbs     []string     `json:"verbs" nullable:"false" doc:"of steps"`
	Joints    []TradeJoint `json:"joints" nullable:"false"`
	Drives    []string     `json:"drives" nullable:"false"`
	Methods   []string     `json:"methods" nullable:"false"`
	Incidents []string     `json:"incidents" nullable:"false"`
	Terms     []trade.Term `json:"terms" nullable:"false" doc:"words of the swap lab, explained"`
	Symptoms  []string     `json:"symptoms" nullable:"false" doc:"how people say what a check showed"`
	Units     []string     `json:"units" nullable:"false" doc:"of what a check measures"`
	Grammar   []TradeVerb  `json:"grammar" nullable:"false" doc:"every verb of the bench line"`
}

func vocabulary() Trade {
	t := Trade{Verbs: trade.StepVerbs(), Drives: trade.DriveIDs(), Methods: trade.MethodIDs(),
		Incidents: trade.IncidentIDs(), Terms: trade.Terms, Symptoms: trade.SymptomWords, Units: trade.ReadingUnits}
	for _, f := range trade.FamilyCodes() {
		t.Families = append(t.Families, Word{f, trade.Families[f]})
	}
	for _, k := range trade.Kinds {
		t.Kinds = append(t.Kinds, TradeKind{k.ID, strings.ReplaceAll(k.ID, "-", " "), k.Family})
	}
	for _, v := range trade.Verbs {
		t.Grammar = append(t.Grammar, TradeVerb{v.Letter, v.ID, trade.Examples[v.ID]})
	}
	for _, j := range trade.Joints {
		t.Joints = append(t.Joints, TradeJoint{j.ID, j.Threaded, j.Lead})
	}
	return t
}

func (s *server) tradeRoutes() {
	all := vocabulary()
	get(s, "/api/trade", "get-trade", "The vocabulary of the trade", act.Models,
		func(context.Context, *struct{}) (Trade, error) { return all, nil })
}
