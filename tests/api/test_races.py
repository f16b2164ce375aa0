"""Every writing route, asked at the same moment by two clients with the same content, and by four with content of their own.

Nothing acknowledged is lost, nothing is doubled, no answer is an error of ours.
"""

from __future__ import annotations

import pytest

from tests.api.races import field, flights, models, workshop
from tests.api.steps import V1

RACES = [r for module in (models, flights, field, workshop) for r in module.race.races]


@pytest.mark.parametrize(("n", "same"), [(2, True), (4, False)], ids=["two, the same", "four, each its own"])
@pytest.mark.parametrize("it", RACES, ids=lambda r: r.route)
def test_writers_at_the_same_moment(flown_client, it, n, same):
    it.run(flown_client, n, same)


NOTHING_STORED = {
    *("what-if", "arrangements", "holes", "square-arm/{role}", "rate-for", "level-reference", "reversal"),
    *("devices", "wing-mount", "scales"),
}


def test_no_writing_route_is_left_out(client):
    paths = client.app.openapi()["paths"]
    writing = {
        f"{method.upper()} {path.removeprefix(V1)}"
        for path, operations in paths.items()
        for method in operations
        if method in ("post", "put", "patch", "delete")
        and "/compute/" not in path
        and path.removeprefix(f"{V1}/models/{{model_id}}/") not in NOTHING_STORED
    }
    assert writing == {r.route for r in RACES}
