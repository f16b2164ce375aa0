"""What collided, in words: the constraints of the database that two writers can run into."""

from __future__ import annotations

from sqlalchemy.exc import IntegrityError

WORDS: dict[str, str] = {
    "ix_sortie_one_open": "Another sortie of this model is already open. Load the page again and go on with that one.",
    "ix_sortie_number": "Another sortie was planned at the same moment. Load the page again.",
    "uq_configuration_model_id_number": "Another change of this model was saved at the same moment. Load it again.",
    "uq_revision_configuration_id_number": "Another edit was saved at the same moment. Load the model again.",
    "uq_work_order_after_sortie_id": "The rework after this sortie is already decided. Load the page again.",
    "uq_record_replaces_id": "This entry was already corrected. Load the page again and correct the newer one.",
    "pk_model": "A model with this id was made at the same moment. Load the shelf again.",
    "pk_record": "An entry with this id was made at the same moment. Load the page again.",
}


def constraint_of(error: IntegrityError) -> str:
    """Return the name of the constraint that was run into, empty when the database did not say."""
    return str(getattr(getattr(error.orig, "diag", None), "constraint_name", "") or "")


def collision_words(error: IntegrityError) -> str:
    """Return what collided and what to do, for a person."""
    fallback = (
        "Something else was saved at the same moment and this did not fit it. Load the page again; nothing was lost."
    )
    return WORDS.get(constraint_of(error), fallback)
