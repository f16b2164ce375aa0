"""Grows a flown model in the database: its sorties with all that belongs to them, again and again under new numbers."""

from __future__ import annotations

import psycopg

_CLONE = """
DO $$
DECLARE
  subject uuid; base sortie; fresh uuid; n int; total int; estimate_old uuid; estimate_new uuid;
BEGIN
  SELECT model_id INTO subject FROM sortie WHERE status = 'landed' GROUP BY model_id ORDER BY count(*) DESC LIMIT 1;
  SELECT max(number) INTO total FROM sortie WHERE model_id = subject;
  SELECT * INTO base FROM sortie WHERE model_id = subject AND number = total;
  FOR n IN total + 1 .. %(wanted)s LOOP
    fresh := gen_random_uuid();
    INSERT INTO sortie (id, model_id, configuration_id, number, status, alone, simulated, setup_hash, landed_at, landed_order)
    VALUES (fresh, subject, base.configuration_id, n, 'landed', false, true, base.setup_hash, now(), nextval('log_order'));
    INSERT INTO sortie_card SELECT fresh, card_id, position, origin FROM sortie_card WHERE sortie_id = base.id;
    INSERT INTO sortie_trim SELECT fresh, moment, axis, rest_rad, clicks FROM sortie_trim WHERE sortie_id = base.id;
    INSERT INTO prediction SELECT fresh, key, position, value, sigma, low, high, rail_low, rail_high FROM prediction
      WHERE sortie_id = base.id;
    WITH made AS (
      INSERT INTO record (id, model_id, configuration_id, sortie_id, epoch, card_id, outcome, left_alone, confidence,
        from_memory, note, setup_hash, logged_by, schema_version)
      SELECT gen_random_uuid(), model_id, configuration_id, fresh, 2 * n - 1, card_id, outcome, left_alone, confidence,
        from_memory, id::text, setup_hash, logged_by, schema_version FROM record WHERE sortie_id = base.id
      RETURNING id, note)
    INSERT INTO reading (record_id, position, measure, number, choice, direction, nothing, as_entered)
      SELECT made.id, position, measure, number, choice, direction, nothing, as_entered
      FROM made JOIN reading ON reading.record_id = made.note::uuid;
    SELECT id INTO estimate_old FROM estimate WHERE sortie_id = base.id AND setup_hash = base.setup_hash
      ORDER BY log_order DESC LIMIT 1;
    estimate_new := gen_random_uuid();
    INSERT INTO estimate (id, model_id, sortie_id, setup_hash, method, log_version, inputs_hash, data_count, parameters, mean,
      covariance) SELECT estimate_new, model_id, fresh, setup_hash, method, log_version, inputs_hash, data_count, parameters,
      mean, covariance FROM estimate WHERE id = estimate_old;
    INSERT INTO behaviour SELECT estimate_new, moment, key, position, value, sigma, low, high, rail_low, rail_high
      FROM behaviour WHERE estimate_id = estimate_old;
    INSERT INTO score SELECT estimate_new, key, position, sigmas, within_one_sigma FROM score WHERE estimate_id = estimate_old;
  END LOOP;
  INSERT INTO estimate (id, model_id, sortie_id, setup_hash, method, log_version, inputs_hash, data_count, parameters, mean,
    covariance) SELECT gen_random_uuid(), e.model_id, fresh, r.setup_hash, e.method, m.log_version, '', 0, e.parameters,
    e.mean, e.covariance FROM estimate e, model m, configuration c, revision r WHERE e.id = estimate_old AND m.id = subject
    AND c.model_id = subject AND r.id = c.current_revision_id ORDER BY c.number DESC LIMIT 1;
  PERFORM subject;
END $$;
"""


def clone_to(url: str, wanted: int) -> str:
    """Return the id of the model with most sorties, brought to ``wanted`` of them. ``url`` of the database."""
    with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as c:
        c.execute(_CLONE.replace("%(wanted)s", str(int(wanted))))
        c.execute("ANALYZE")
        query = "SELECT model_id FROM sortie GROUP BY model_id ORDER BY count(*) DESC LIMIT 1"
        row = c.execute(query).fetchone()
    assert row is not None
    return str(row[0])
