"""The bench's drawing: no label over a line of the model or another label, letters that are read on a phone, for every shape."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from jinba.api.app import create_app
from jinba.core.silhouettes import SILHOUETTES
from tests.api.steps import V1, new_id, ok
from tests.browser.pages import Browser
from tests.conftest import OWN

SIZES = {"laptop": (1280, 800, False), "phone": (390, 844, True)}
LEAST_PX = 11
LOOK = """
    const svg = document.querySelector('svg [data-testid=labels]')?.closest('svg');
    if (!svg) return null;
    const wrong = [];
    const labels = [...svg.querySelectorAll('[data-label]')].map((e) => ({e, words: e.textContent, box: e.getBoundingClientRect()}));
    const sheet = svg.getBoundingClientRect();
    // Letters stand inside their line's box: a tenth of it above and below is air.
    const ink = (b) => ({left: b.left + 1, right: b.right - 1, top: b.top + b.height * 0.12, bottom: b.bottom - b.height * 0.12});
    labels.forEach((a, i) => {
      const A = ink(a.box);
      if (a.box.left < sheet.left - 1 || a.box.right > sheet.right + 1 || a.box.top < sheet.top - 1 || a.box.bottom > sheet.bottom + 1)
        wrong.push(`${a.words} is cut off`);
      if (parseFloat(getComputedStyle(a.e).fontSize) * sheet.width / svg.viewBox.baseVal.width < LEAST) wrong.push(`${a.words} is too small`);
      for (const b of labels.slice(i + 1)) {
        const B = ink(b.box);
        if (A.left < B.right && B.left < A.right && A.top < B.bottom && B.top < A.bottom) wrong.push(`${a.words} on ${b.words}`);
      }
    });
    for (const line of svg.querySelectorAll('[data-model] path, [data-model] circle')) {
      if (getComputedStyle(line).stroke === 'none') continue;
      const matrix = line.getScreenCTM();
      for (let at = 0; at <= line.getTotalLength(); at += 1.5) {
        const p = line.getPointAtLength(at).matrixTransform(matrix);
        const hit = labels.find(({box}) => { const k = ink(box); return p.x > k.left && p.x < k.right && p.y > k.top && p.y < k.bottom; });
        if (hit) { wrong.push(`${hit.words} on a line of the model`); break; }
      }
    }
    return {count: labels.length, wrong};
""".replace("LEAST", str(LEAST_PX))


@pytest.fixture(scope="module")
def shapes(program) -> dict[str, str]:
    """A model of every silhouette, and the models of the demo."""
    with TestClient(create_app(program.database_url), base_url=OWN) as client:
        for key in SILHOUETTES:
            body = {"id": new_id(), "name": f"Shape {key}", "silhouette": key, "span_m": 1.4}
            ok(client.post(f"{V1}/models", json=body), 201)
        return {m["name"]: m["id"] for m in ok(client.get(f"{V1}/models"))}


@pytest.mark.parametrize("size", SIZES)
def test_no_label_crosses_another_or_a_line_of_the_model(browser: Browser, shapes, size):
    width, height, phone = SIZES[size]
    browser.size(width, height, phone=phone)
    found = {}
    for name, model_id in shapes.items():
        browser.open(f"/m/{model_id}/bench")
        browser.until(lambda: len(browser.all("svg [data-label=balance]")) == 1, f"the drawing of {name}")
        looked = browser.driver.execute_script(LOOK)
        assert looked["count"] > 8
        if looked["wrong"]:
            found[name] = looked["wrong"]
    assert found == {}
