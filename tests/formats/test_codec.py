"""Setups stored by an earlier version are read with nothing lost, and what is stored is what is read."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.configuration import BallastStation, BallastStock, Configuration, JigReading, PublishedPoint
from jinba.core.silhouettes import SILHOUETTES
from jinba.formats.codec import from_json, to_json
from tests.builders import model

SINCE_0_1_1 = {"ballast"}, {"fitted"}, {"how"}, {"reason"}


def as_0_1_0_wrote_it(c: Configuration) -> dict:
    """Return the stored form without the fields that came with 0.1.1."""
    data = to_json(c)
    top, item, jig, published = SINCE_0_1_1
    data = {k: v for k, v in data.items() if k not in top}
    data["items"] = [{k: v for k, v in i.items() if k not in item} for i in data["items"]]
    for name, new in (("jig", jig), ("published", published)):
        if data[name] is not None:
            data[name] = {k: v for k, v in data[name].items() if k not in new}
    return data


def test_a_setup_of_0_1_0_is_read_as_the_same_model():
    c = replace(model("twin_boom_pusher"), jig=JigReading(0.1, 0.002, 0.09), published=PublishedPoint(0.11, "plan"))
    assert from_json(Configuration, as_0_1_0_wrote_it(c)) == c
    assert all(i.fitted for i in c.items)


@pytest.mark.parametrize("key", SILHOUETTES)
def test_every_kind_of_airframe_survives_its_storage(key):
    c = replace(
        model(key),
        ballast=BallastStock((0.005, 0.02), 4, (BallastStation("nose ring", -0.3, 0.0, 0.2),)),
        published=PublishedPoint(0.2, "manual", "flown so by two others"),
    )
    assert from_json(Configuration, to_json(c)) == c
