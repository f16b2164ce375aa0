"""The program away in the middle of a sortie: the console stays, nothing is lost, a landed log is corrected."""

from __future__ import annotations

import pytest

from tests.browser.pages import Browser
from tests.states import TARN

FLY = f"/m/{TARN}/fly"


@pytest.fixture
def planned(browser: Browser) -> Browser:
    """Plan the next sortie of Tarn."""
    b = browser
    b.open(f"/m/{TARN}/plan")
    b.see("Gates")
    b.close_gates()
    b.press("Fly this sortie")
    b.see("Call this sortie off")
    return b


def keep(b: Browser, words: str) -> None:
    """Answer whatever the card shown needs with its first choice, and keep it."""
    b.answer_all()
    b.press("Keep, next card")
    b.see(words)


def test_a_server_that_dies_and_comes_back_loses_no_card_and_the_console_never_goes_away(planned, program):
    b = planned
    b.size(390, 844, phone=True)
    b.see("F1 ")
    keep(b, "F1 kept.")
    b.away = True
    program.stop()
    keep(b, "F2 kept on this device")
    b.see("1 only on this device")
    keep(b, "F3 kept on this device")
    b.see("2 only on this device")
    b.until(lambda: "The program does not answer" in b.text, "words that it is away")
    assert b.all("[data-testid=thumb-bar]"), "the console is still there"
    b.land()
    b.see("Sortie 2 has landed. It is kept on this device.")
    b.see("3 only on this device")
    program.start()
    b.until(lambda: not b.all("[data-testid=on-device]"), "the cards and the landing to be sent by themselves")
    b.see("Debrief of sortie 2")
    b.press("What was logged (3 entries)")
    b.see("F2 ")


def test_a_landed_log_is_corrected_from_the_debrief_and_the_old_entry_stays_visible(browser):
    b = browser
    b.open(f"/m/{TARN}/debrief")
    b.see("What was logged")
    before = b.one("main").text.split("What was logged")[0]
    b.press("What was logged")
    b.click(lambda: b.one("[data-entry=F1][data-counts=true]").find_element("link text", "Correct"))
    b.see("You correct what was logged in sortie")
    b.driver.find_element("tag name", "body").send_keys("3")
    assert b.path.endswith("/fly"), "a figure answers here, it leads nowhere"
    b.choose("lift_off", "nose sinks")
    b.press("Keep, next card")
    b.see("Debrief of sortie")
    b.until(lambda: "Computed before on" in b.text, "what was computed before")
    assert b.one("main").text.split("What was logged")[0] != before
    if "corrected by a later entry" not in b.text:
        b.press("What was logged")
    b.see("corrected by a later entry")
    b.see("a correction")


def test_a_sortie_of_which_nothing_is_logged_is_called_off(browser):
    b = browser
    b.open(f"/m/{TARN}/plan")
    b.see("Gates")
    b.close_gates()
    b.press("Fly this sortie")
    b.press("Call this sortie off")
    b.see("Gates")
    assert "is still open" not in b.text


def test_an_entry_the_program_does_not_accept_is_listed_with_its_reason_mended_and_sent(planned):
    b = planned
    refuse_once = """
        const real = window.fetch;
        window.fetch = async (r) => {
          if (r.method !== 'POST' || !r.url.includes('/records') || sessionStorage.getItem('refused')) return real(r);
          sessionStorage.setItem('refused', '1');
          const body = JSON.stringify({title: 'Lift-off: say it again.', code: 'x', status: 422, violations: []});
          return new Response(body, {status: 422, headers: {'Content-Type': 'application/problem+json'}});
        };
    """
    # The page takes hold of fetch when it is loaded: the stand-in has to be there before.
    script = b.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": refuse_once})
    b.open(FLY)
    b.see("F1 ")
    keep(b, "F1 was not accepted")
    b.press("1 not accepted")
    b.see("Lift-off: say it again.")
    b.press("Mend it")
    b.see("Keep, next card")
    b.press("Keep, next card")
    b.see("everything logged here is in the program")
    b.open(FLY)
    b.until(lambda: "logged" in (b.one("[aria-label^='F1 ']").get_attribute("aria-label") or ""), "F1 to be logged")
    b.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", script)
