package store

import (
	"encoding/json"
	"strings"
	"testing"
)

// TestWhatSwapTestsKeepComesBack: nested facts are stored and read without loss, the largest seed among them.
func TestWhatSwapTestsKeepComesBack(t *testing.T) {
	db := open(t)
	piece := Piece{PartID: NewID(), Origin: "copy", Lot: "lot-7"}
	trial := Trial{StudyID: NewID(), Seq: 3, TrialFacts: TrialFacts{BoardUnitID: NewID(), HousingUnitID: NewID(),
		Build: "4.1", Pieces: []Piece{piece}, Results: map[string]string{"touch": "pass"},
		Assumed: []string{"touch"}, Later: []Later{{Minutes: 12.5, After: []string{"restart"},
			Results: map[string]string{"touch": "lost"}}}, BootMinutes: 2,
		Notices: []Notice{{Text: "Unbekanntes Teil · ünïcode", Kind: "passing"}}, NoticesRead: true,
		Symptom: "half bright", DeadGate: []string{"charger"}, Minutes: 20, Note: "n"}}
	act := SwapAct{StudyID: NewID(), Seq: 1, Place: 3,
		SwapActFacts: SwapActFacts{Kind: "move", Moves: []Move{{Piece: piece, ToUnitID: NewID()}}, Minutes: 4}}
	damage := SwapAct{StudyID: NewID(), Seq: 2, SwapActFacts: SwapActFacts{Kind: "damage", BoardUnitID: NewID(),
		Pieces: []Piece{piece}, What: "torn", Build: "5", Accepted: true, Reason: "r", Note: "n"}}
	fault := FaultCase{VisitID: NewID(), ModelID: NewID(), FaultFacts: FaultFacts{Symptom: "no charge",
		Works: []string{"boot"},
		Lost:  []string{"microphones"}, Limit: 9000, Service: 12000}, Acts: []FaultAct{{ID: NewID(), Act: "restart",
		Answer:  "at times",
		Minutes: 2, By: "n", ShelfID: NewID()}}, State: "given up", Ended: []string{"port lead"}, Why: "too dear"}
	visit := Visit{ModelID: NewID(), VisitFacts: VisitFacts{Sticker: "STONE", Ticket: "217", Said: "since Friday",
		Arrival: map[string]string{"boot": "pass"}, State: "in"}}
	run := DryRun{AccountID: NewID(), Level: 4, Seed: 1<<64 - 1,
		Acts: []DryAct{{Kind: "read", Board: "pine", Checks: []string{"touch"}, Late: true}}, Done: true,
		RightCount: 3, WrongCount: 2, UnprovenCount: 1, Minutes: 61.5, AdvisedMinutes: 40}
	study := Study{ModelID: NewID(), StudyFacts: StudyFacts{Title: "pairs",
		Pairs: [][]string{{"battery", "wireless coil"}}}}
	if err := inTx(db, func(tx *Tx) error {
		for _, create := range []func() error{
			func() error { return Create(tx, &trial) }, func() error {
				return Create(tx,
					&act)
			}, func() error { return Create(tx, &damage) },
			func() error { return Create(tx, &fault) }, func() error { return Create(tx, &visit) }, func() error {
				return Create(tx,
					&run)
			}, func() error { return Create(tx, &study) },
		} {
			if err := create(); err != nil {
				return err
			}
		}
		return nil
	}); err != nil {
		t.Fatal(err)
	}
	same := func(what string, wrote, read any, err error) {
		t.Helper()
		a, _ := json.Marshal(wrote)
		b, _ := json.Marshal(read)
		if err != nil || string(a) != string(b) {
			t.Errorf("%s:\nwrote %s\nread  %s\n%v", what, a, b, err)
		}
	}
	readTrial, err := Get[Trial](db, trial.ID)
	same("trial", trial, readTrial, err)
	readAct, err := Get[SwapAct](db, act.ID)
	same("move", act, readAct, err)
	readDamage, err := Get[SwapAct](db, damage.ID)
	same("damage", damage, readDamage, err)
	readFault, err := Get[FaultCase](db, fault.ID)
	same("fault", fault, readFault, err)
	readVisit, err := Get[Visit](db, visit.ID)
	same("visit", visit, readVisit, err)
	var line AuditLine // the trail says that something was written of the owner, never what
	if err := db.First(&line, "row_id = ?", visit.ID).Error; err != nil || strings.Contains(*line.AfterState, "Friday") ||
		strings.Contains(*line.AfterState, "217") || !strings.Contains(*line.AfterState, "STONE") {
		t.Errorf("the trail of a visit: %v, %v", line.AfterState, err)
	}
	readRun, err := Get[DryRun](db, run.ID)
	same("dry run", run, readRun, err)
	readStudy, err := Get[Study](db, study.ID)
	same("study", study, readStudy, err)
}
