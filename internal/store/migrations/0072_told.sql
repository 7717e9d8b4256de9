-- +goose Up
-- Whose work somebody else changed, and whether they have seen it.
-- +goose StatementBegin
CREATE TABLE IF NOT EXISTS told (
  account_id CHAR(36) NOT NULL,
  line_id BIGINT UNSIGNED NOT NULL,
  seen BOOLEAN NOT NULL DEFAULT FALSE,
  PRIMARY KEY (account_id, line_id)
);
-- +goose StatementEnd
