-- +goose Up
CREATE TABLE IF NOT EXISTS audit_lines (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  happened_at DATETIME(3) NOT NULL,
  arrived_at DATETIME(3) NOT NULL,
  verb VARCHAR(20) NOT NULL,
  entity VARCHAR(40) NOT NULL,
  row_id CHAR(36) NOT NULL,
  before_state MEDIUMTEXT NULL,
  after_state MEDIUMTEXT NULL,
  KEY audit_lines_row (row_id)
);
