-- +goose Up
CREATE TABLE IF NOT EXISTS outside_calls (
  id CHAR(36) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  body_hash CHAR(64) NOT NULL,
  service VARCHAR(40) NOT NULL,
  subject_id CHAR(36) NOT NULL,
  question MEDIUMTEXT NOT NULL,
  answer MEDIUMTEXT NULL,
  asked_at DATETIME(3) NOT NULL,
  answered_at DATETIME(3) NULL,
  KEY outside_calls_subject (subject_id)
);
