-- +goose Up
-- What several programs on one database must agree on: how often somebody tried to sign in, and what signs the cookies of
-- devices.
-- +goose StatementBegin
CREATE TABLE IF NOT EXISTS sign_in_tries (
  bucket INT UNSIGNED NOT NULL PRIMARY KEY,
  due_at DATETIME(6) NOT NULL
);
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TABLE IF NOT EXISTS secrets (
  name VARCHAR(20) NOT NULL PRIMARY KEY,
  value VARBINARY(64) NOT NULL
);
-- +goose StatementEnd
