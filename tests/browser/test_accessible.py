"""The places of the field for everyone: an automated checker, both themes and sizes; targets a glove hits; no page too wide;
cautions and small print that are read in the sun.

The checker is axe-core (WCAG 2.2 A and AA and its best practices); it finds what a machine can find, a reader of the screen was not tried.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jinba.api.app import create_app
from tests.api.steps import V1, ok, plan_sortie
from tests.browser.conftest import Program
from tests.browser.pages import Browser
from tests.conftest import OWN
from tests.states import TARN

AXE = (Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
CHECK = """
    const [values, theme, done] = arguments;
    const only = theme === 'paper' ? {type: 'tag', values} : {type: 'rule', values: ['color-contrast']};
    document.documentElement.dataset.theme = theme;
    // Colours fade into one another for a moment: looked at is what they come to.
    const still = new CSSStyleSheet();
    still.replaceSync('*, *::before, *::after { transition: none !important; animation: none !important; }');
    document.adoptedStyleSheets = [still];
    requestAnimationFrame(() => requestAnimationFrame(() =>
      axe.run(document, {runOnly: only}).then((r) => done(r.violations
        .filter((v) => v.impact !== 'minor')
        .flatMap((v) => v.nodes.map((n) => `${theme}: ${v.id}: ${n.html.slice(0, 120)} ${(n.any[0] ?? {}).message ?? ''}`))))));
"""
SUN = """
    const [words, done] = arguments;
    document.documentElement.dataset.theme = 'paper';
    const include = words.filter((w) => document.querySelector(w)).map((w) => [w]);
    if (include.length === 0) return done([]);
    requestAnimationFrame(() => requestAnimationFrame(() =>
      axe.run({include}, {runOnly: {type: 'rule', values: ['color-contrast-enhanced']}}).then((r) => done(r.violations
        .flatMap((v) => v.nodes.map((n) => `${n.html.slice(0, 120)} ${(n.any[0] ?? {}).message ?? ''}`))))));
"""
READ_IN_THE_SUN = [".text-accent", ".text-error", ".label-small", ".text-secondary", ".text-sm", ".console-besides"]
"""Cautions, errors and small print: 7 to 1 in the day theme (WCAG 2.2, 1.4.6)."""
PLACES = ("", "/plan", "/fly", "/debrief", "/rework", "/happened", "/ledger", "/emergency", "/emergency?what=battery")
ELSEWHERE = ("/waiting", "/phones", "/pair", "/packs", "/?shelf", "/new")
TOOLS = (
    *("airframe", "items", "weigh", "move", "check"),
    *(
        f"controls&section={s}"
        for s in ("linkage", "throws", "mixes", "trim", "directions", "radio", "shims", "stabiliser", "sheet")
    ),
)
"""Of the bench: on a laptop and a phone like the places of the field; how wide and how large things are there is looked at elsewhere."""
SIZES = {"laptop": (1280, 800, False), "phone": (390, 844, True)}


@pytest.fixture(scope="module")
def open_sortie(program: Program) -> Iterator[str]:
    """A sortie of Tarn that is being flown; called off at the end."""
    with TestClient(create_app(program.database_url), base_url=OWN) as client:
        sortie_id = plan_sortie(client, str(TARN))
        yield sortie_id
        ok(client.post(f"{V1}/sorties/{sortie_id}/call-off"))


def at_rest(b: Browser) -> None:
    b.until(lambda: not b.all("main[aria-busy=true]"), "the page to come to rest")


def wrong_here(b: Browser) -> list[str]:
    at_rest(b)
    b.driver.execute_script(AXE)
    found = []
    for theme in ("paper", "night"):
        found += b.driver.execute_async_script(CHECK, RULES, theme)
    found += [f"in the sun: {w}" for w in b.driver.execute_async_script(SUN, READ_IN_THE_SUN)]
    return [f"{b.path}: {words}" for words in found]


SMALL = """
    // A switch is pressed by its label, too.
    // What is hidden behind its label is not pressed itself.
    return [...document.querySelectorAll('header a, header button, nav a, main button, main a.btn, main summary, main input:not(.sr-only), main select')]
      .map((e) => [e.innerText || e.outerHTML.slice(0, 90), (e.type === 'checkbox' ? e.closest('label') ?? e : e).getBoundingClientRect()])
      .filter(([, r]) => r.width && Math.min(r.width, r.height) < 44).map(([t, r]) => `too small: ${t} ${r.width}x${r.height}`)
"""


LETTERS = """
    return [...new Set([...document.querySelectorAll('main svg text')]
      .filter((e) => e.getClientRects().length > 0 && e.textContent.trim())
      .map((e) => [e.textContent, parseFloat(getComputedStyle(e).fontSize) * Math.hypot(e.getScreenCTM().b, e.getScreenCTM().d)])
      .filter(([, px]) => px < 10.95).map(([t, px]) => `letters of ${px.toFixed(1)} px: ${t}`))]
"""
"""In a drawing on a phone: eleven pixels, or it is no reading matter."""


def too_small_here(b: Browser) -> list[str]:
    """On Plan, Bench and the shell nothing is too small for a glove, nor for a hand at the bench."""
    return list(b.driver.execute_script(SMALL)) if b.path.endswith(("/plan", "/bench")) else []


def too_wide_or_small_here(b: Browser) -> list[str]:
    """On a narrow phone: nothing is wider than its screen, and nothing too small."""
    b.size(320, 640, phone=True)
    width = b.driver.execute_script("return document.documentElement.scrollWidth")
    found = [f"{b.path} is {width} wide"] if width > 320 else []
    found += too_small_here(b)
    b.size(*SIZES["phone"][:2], phone=True)
    return found + list(b.driver.execute_script(LETTERS))


@pytest.mark.parametrize("size", SIZES)
def test_no_place_of_the_field_has_a_serious_or_moderate_fault_in_either_theme(browser: Browser, open_sortie, size):
    b, found = browser, []
    b.size(*SIZES[size][:2], phone=SIZES[size][2])
    for path in (*(f"/m/{TARN}{p}" for p in PLACES), *ELSEWHERE):
        b.open(path)
        b.until(lambda: b.all("h1"), "the page")
        found += wrong_here(b)
        found += too_wide_or_small_here(b) if size == "phone" else too_small_here(b)
        if path.endswith("/fly"):
            b.press("watch the stand-in")
            b.until(lambda: b.all("[data-testid=telemetry] dd"), "what the link tells")
            found += wrong_here(b)
            if size == "phone":
                found += too_wide_or_small_here(b)
            b.start()
            found += wrong_here(b)
            b.click(lambda: b.one("[data-testid=note]"))
            b.one("[data-testid=note-sheet]")
            found += wrong_here(b)
            if size == "phone":
                found += too_wide_or_small_here(b)
            b.press("Back to the card")
            b.to_the_end()
            found += wrong_here(b)
    assert found == []


@pytest.mark.parametrize("size", SIZES)
def test_no_tool_of_the_bench_has_a_serious_or_moderate_fault_in_either_theme(browser: Browser, size):
    b, found = browser, []
    b.size(*SIZES[size][:2], phone=SIZES[size][2])
    for tool in TOOLS:
        b.open(f"/m/{TARN}/bench?tool={tool}")
        b.until(lambda: b.all("h1"), "the bench")
        b.until(lambda: b.all("[data-testid=bench-numbers] summary, [data-testid=control-sections]"), "its numbers")
        here = wrong_here(b)
        here += too_wide_or_small_here(b) if size == "phone" else too_small_here(b)
        found += [f"{tool}: {words}" for words in here]
    assert found == []


@pytest.mark.parametrize(("wide", "high"), [(390, 844), (360, 640), (844, 390)])
def test_a_question_fits_the_screen_with_answers_that_a_glove_hits(browser: Browser, open_sortie, wide, high):
    b = browser
    b.size(wide, high, phone=True)
    b.open(f"/m/{TARN}/fly")
    b.until(lambda: b.all("[data-start]"), "the card")
    b.start()
    measured = """
        return [...document.querySelectorAll('.console-body [data-answer], .console-bar button')].map((e) => {
          const r = e.getBoundingClientRect();
          const over = document.elementFromPoint(r.left + r.width / 2, r.bottom - 4);
          return [Math.round(r.width), Math.round(r.height), Math.round(r.bottom), e === over || e.contains(over)];
        });
    """
    asked = 0
    while b.step() != "keep":
        for width, height, bottom, reached in b.driver.execute_script(measured):
            assert min(width, height) >= 56, b.step()
            assert bottom <= high, f"{b.step()} ends below the screen"
            assert reached, f"an answer of {b.step()} lies behind something"
        asked += 1
        before = b.step()
        b.driver.execute_script("document.querySelector('[data-onward]').click()")
        b.until(lambda before=before: b.step() != before, "the next question")
    assert asked >= 1
