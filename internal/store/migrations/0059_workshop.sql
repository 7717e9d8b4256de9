-- +goose Up
CREATE TABLE IF NOT EXISTS workshop (
  id CHAR(36) NOT NULL PRIMARY KEY,
  version INT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  currency VARCHAR(3) NOT NULL,
  tax_shown BOOLEAN NOT NULL,
  labour_minor INT NOT NULL,
  charge_limit DOUBLE NOT NULL,
  opening_hours VARCHAR(120) NOT NULL,
  locale VARCHAR(20) NOT NULL,
  min_margin_minor INT NOT NULL,
  max_days INT NOT NULL,
  fill_goal DOUBLE NOT NULL,
  next_bench DATETIME(3) NULL,
  donor_margin DOUBLE NOT NULL,
  donor_fixed_minor INT NOT NULL
);
