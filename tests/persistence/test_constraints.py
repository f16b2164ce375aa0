"""What the code assumes, PostgreSQL says too: each of these rows is refused, by the name of what it breaks."""

from __future__ import annotations

import uuid

import pytest
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError

from jinba.persistence.collisions import collision_words, constraint_of
from tests.states import TARN, TARN_SORTIE

OTHER = "(SELECT id FROM configuration WHERE model_id <> :tarn LIMIT 1)"
OWN = "(SELECT id FROM configuration WHERE model_id = :tarn ORDER BY number DESC LIMIT 1)"
SETUP = "(SELECT hash FROM setup LIMIT 1)"
SORTIE = "INSERT INTO sortie (id, model_id, configuration_id, number, status, alone, simulated, setup_hash) VALUES "
RECORD = (
    "INSERT INTO record (id, model_id, configuration_id, sortie_id, epoch, card_id, outcome, confidence, from_memory, note, "
    "setup_hash, logged_by, schema_version, {column}) VALUES (:fresh, :tarn, {own}, :sortie, 1, 'F1', '{outcome}', 'fair', "
    "false, '', {setup}, '', 1, {value})"
)


def record(outcome: str = "done", column: str = "throttle", value: str = "0.5") -> str:
    return RECORD.format(own=OWN, setup=SETUP, outcome=outcome, column=column, value=value)


@pytest.mark.parametrize(
    ("statement", "constraint"),
    [
        (
            f"{SORTIE} (:fresh, :tarn, {OTHER}, 2, 'planned', false, false, {SETUP})",
            "fk_sortie_configuration_id_configuration",
        ),
        (f"{SORTIE} (:fresh, :tarn, {OWN}, 2, 'somewhere', false, false, {SETUP})", "ck_sortie_status"),
        (f"{SORTIE} (:fresh, :tarn, {OWN}, 2, 'landed', false, false, {SETUP})", "ck_sortie_landing"),
        (f"{SORTIE} (:fresh, :tarn, {OWN}, 1, 'planned', false, false, {SETUP})", "ix_sortie_number"),
        (
            f"{SORTIE} (:fresh, :tarn, {OWN}, 2, 'planned', false, false, {SETUP}), "
            f"(gen_random_uuid(), :tarn, {OWN}, 3, 'flying', false, false, {SETUP})",
            "ix_sortie_one_open",
        ),
        (record(outcome="fine"), "ck_record_outcome"),
        (record(value="1.5"), "ck_record_levers"),
        (record(column="gear", value="'sideways'"), "ck_record_gear"),
        (record(column="wind_mps", value="-1"), "ck_record_wind"),
        (record(column="replaces_id", value="gen_random_uuid()"), "fk_record_replaces_id_record"),
        (
            "UPDATE record SET sortie_id = (SELECT id FROM sortie WHERE model_id <> :tarn LIMIT 1) WHERE model_id = :tarn",
            "fk_record_sortie_id_sortie",
        ),
        ("UPDATE reading SET number = -1", "ck_reading_unsigned"),
        ("UPDATE weather SET gust_mps = wind_mps - 1", "ck_weather_wind"),
        ("UPDATE estimate SET covariance = mean", "ck_estimate_shape"),
        ("UPDATE behaviour SET moment = 'later'", "ck_behaviour_moment"),
        ("UPDATE work_order_action SET amount = -1", "ck_work_order_action_unsigned"),
        (
            "INSERT INTO proof (work_order_id, position, reading, proved_by) SELECT id, 99, 'x', '' FROM work_order",
            "fk_proof_work_order_id_work_order_action",
        ),
        (f"UPDATE revision SET parent_id = id, configuration_id = {OTHER} WHERE configuration_id = {OWN}", "revision"),
        ("UPDATE record SET log_order = (SELECT min(log_order) FROM record)", "uq_record_log_order"),
        ("DELETE FROM setup", "setup"),
        ("UPDATE prediction SET sigma = -1", "ck_prediction_sigma"),
        (
            "INSERT INTO attachment (id, model_id, kind, media_type, bytes, content_hash) "
            "VALUES (:fresh, :tarn, 'film', 'x', 1, '')",
            "ck_attachment_kind",
        ),
    ],
)
def test_a_row_that_cannot_be_is_refused(flown, statement, constraint):
    values = {"fresh": uuid.uuid4(), "tarn": TARN, "sortie": TARN_SORTIE}
    with pytest.raises(IntegrityError) as refused:
        flown.execute(text(statement), {k: v for k, v in values.items() if f":{k}" in statement})
    assert constraint in constraint_of(refused.value)
    assert collision_words(refused.value).endswith(".")
