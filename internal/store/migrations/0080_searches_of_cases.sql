-- The symptom is told by the check that shows it; where no symptom of the list has that check it is chosen in the room.
-- +goose Up
INSERT IGNORE INTO fault_searches (id, version, created_at, updated_at, deleted_at, visit_id, model_id, symptom, works, lost,
  limit_minor, service_minor, acts, state, ended, why, closed_at, work_id)
SELECT f.id, 1, f.created_at, f.updated_at, NULL, f.id, v.model_id,
  CASE f.check_mark WHEN 'boot' THEN 'no start' WHEN 'charging' THEN 'no charge' WHEN 'picture' THEN 'dark screen'
    WHEN 'touch' THEN 'touch dead' WHEN 'rear-preview' THEN 'rear camera dead' WHEN 'rear-photo' THEN 'rear camera dead'
    WHEN 'front-preview' THEN 'front camera dead' WHEN 'front-camera' THEN 'front camera dead'
    WHEN 'call-ear' THEN 'no sound at the ear' WHEN 'loudspeaker' THEN 'no sound from the loudspeaker'
    WHEN 'vibration' THEN 'no vibration' WHEN 'signal' THEN 'no signal' WHEN 'charging-coil' THEN 'wireless charging dead'
    WHEN 'face-unlock' THEN 'face unlock lost' WHEN 'fingerprint' THEN 'finger unlock lost' ELSE '' END,
  NULL, NULL, 0, 0, NULL, 'open', NULL, '', NULL, ''
FROM fault_cases f JOIN visits v ON v.id = f.id
WHERE NOT f.closed AND f.deleted_at IS NULL;
