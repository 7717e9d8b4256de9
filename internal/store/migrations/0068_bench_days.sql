-- +goose Up
ALTER TABLE workshop ADD COLUMN IF NOT EXISTS people TEXT NULL, ADD COLUMN IF NOT EXISTS machines TEXT NULL,
  ADD COLUMN IF NOT EXISTS benches INT NOT NULL DEFAULT 0;
-- +goose StatementBegin
CREATE TABLE IF NOT EXISTS day_jobs (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  day DATETIME(3) NOT NULL,
  title VARCHAR(60) NOT NULL,
  for_model_id VARCHAR(36) NOT NULL,
  part_id VARCHAR(36) NOT NULL,
  unit_id VARCHAR(36) NOT NULL,
  work_id VARCHAR(36) NOT NULL,
  release_s INT NOT NULL,
  due_s INT NOT NULL,
  weight DOUBLE NOT NULL,
  ops MEDIUMTEXT NULL,
  KEY day_jobs_day (day)
);
-- +goose StatementEnd
