"""The hash of content: the same value is the same setup, another value never is."""

from __future__ import annotations

import hashlib
import json
import random

from hypothesis import assume, given
from hypothesis import strategies as st

from jinba.persistence.content import content_hash

JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(2**40), 2**40)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=6), inner, max_size=4),
    max_leaves=12,
)


def shuffled(value):
    if isinstance(value, dict):
        keys = list(value)
        random.Random(1).shuffle(keys)
        return {k: shuffled(value[k]) for k in keys}
    return [shuffled(v) for v in value] if isinstance(value, list) else value


@given(JSON)
def test_neither_the_order_of_keys_nor_a_trip_through_text_changes_it(value):
    assert content_hash(shuffled(value)) == content_hash(value) == content_hash(json.loads(json.dumps(value)))


@given(JSON, JSON)
def test_two_values_share_a_hash_only_when_they_are_equal(a, b):
    """Python's own comparison is the judge; it says 1 == True, which a setup never confuses."""
    alike = json.dumps(a, sort_keys=True) == json.dumps(b, sort_keys=True)
    assume(alike or a != b)
    assert (content_hash(a) == content_hash(b)) is alike


def test_numbers_that_are_equal_are_the_same_content():
    assert content_hash({"m": 1}) == content_hash({"m": 1.0})
    assert content_hash([0.0]) == content_hash([-0.0])
    assert content_hash([1]) != content_hash([True])
    assert content_hash([0.1]) != content_hash([0.1 + 1e-17 * 8])
    assert content_hash(["\ud800"]) != content_hash(["\ud801"]), "even text that is no text has a hash"


def test_it_is_sha_256_of_the_canonical_text():
    """Python's hashlib over text written out by hand; equal to coreutils' sha256sum of the same bytes."""
    assert (
        content_hash({"b": [1, None, True], "a": "é"})
        == hashlib.sha256('{"a":"é","b":[1.0,null,true]}'.encode()).hexdigest()
    )
