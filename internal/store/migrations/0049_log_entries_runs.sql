-- +goose Up
ALTER TABLE log_entries ADD INDEX IF NOT EXISTS log_entries_runs
  (step_id, plain_run, back, deleted_at, unit_id, outcome, seconds, new_step);
