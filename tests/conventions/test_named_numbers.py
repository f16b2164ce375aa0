"""The page of named numbers is what the code says."""

from __future__ import annotations

from tests.conventions.named_numbers import PAGE, page


def test_every_named_number_stands_on_its_page():
    assert page() == PAGE.read_text()
    assert page().count("\n| `") > 100
