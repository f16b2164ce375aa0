"""The advice matrix at one size of each layout: signs, vetoes, order, perfect records, mirror images, thin margins."""

from __future__ import annotations

import pytest

from bench import advice
from jinba.core.silhouettes import SILHOUETTES

BALANCE_CARDS = ("F7", "F12", "F13", "F15")


# A high wing, a biplane and a triplane are advised like a low wing: they are in bench/advice.py.
@pytest.mark.parametrize("layout", [k for k in SILHOUETTES if k not in ("high_wing", "biplane", "triplane")])
def test_advice_has_the_signs_and_the_vetoes_that_a_pilot_knows(layout):
    """Common practice, no source: every row of ``bench/advice.py``, there at four sizes and with the words of every card."""
    c = advice.model_of(layout, 1.5)
    verdicts = [*advice.signs(c, layout), *advice.left_alone(c, layout), *advice.monotonic(c, layout)]
    verdicts += [*advice.perfect(c, layout), *advice.mirrored(c, layout), *advice.thin(layout, 1.5, layout)]
    verdicts += advice.vetoes(c, layout, BALANCE_CARDS)
    assert len(verdicts) > 60
    assert [f"{words}: {case}" for words, held, case in verdicts if not held] == []
