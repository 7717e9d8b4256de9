-- +goose Up
CREATE TRIGGER IF NOT EXISTS audit_no_delete BEFORE DELETE ON audit_lines FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'audit lines are never deleted';
