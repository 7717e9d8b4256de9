-- Open searches of the earlier flow become visits of the same id; what was tried stays in their words.
-- +goose Up
INSERT IGNORE INTO visits (id, version, created_at, updated_at, deleted_at, model_id, sticker, ticket, said, arrival, study_id,
  unit_id, work_id, state)
SELECT f.id, 1, f.created_at, f.updated_at, NULL, s.model_id, LEFT(u.name, 20), '', LEFT(f.symptom, 400), NULL, f.study_id,
  f.unit_id, '', 'on the bench'
FROM fault_cases f JOIN studies s ON s.id = f.study_id JOIN units u ON u.id = f.unit_id
WHERE NOT f.closed AND f.deleted_at IS NULL AND s.deleted_at IS NULL AND u.deleted_at IS NULL;
