"""At the field: a connection that comes and goes, and wrong entries in every form."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.pages import Browser


def connection(b: Browser, *, up: bool) -> None:
    """Cut or restore the browser's network, as a phone at the edge of coverage does."""
    b.driver.execute_cdp_cmd("Network.enable", {})
    b.driver.execute_cdp_cmd(
        "Network.emulateNetworkConditions",
        {"offline": not up, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
    )


def fetched(b: Browser, path: str) -> dict:
    script = "const done = arguments[1]; fetch(arguments[0]).then(r => r.json()).then(done)"
    return b.driver.execute_async_script(script, path)


@pytest.fixture(scope="module")
def glider(driver, address) -> str:
    """Make a motorless model with its gates closed and its first sortie planned."""
    b = Browser(driver, address)
    b.size(1280, 800)
    b.open("/new")
    b.one("input[maxlength='60']").send_keys("Thermal hat")
    b.click(lambda: next(e for e in b.all("label.sheet") if "ailplane" in e.text))
    b.press("Put it on the bench")
    b.see("What the next flight would show")
    model_id = b.path.split("/")[2]
    b.open(f"/m/{model_id}/plan")
    b.see("open")
    b.close_gates()
    b.press("Fly this sortie")
    b.see("make a rehearsal copy in the ledger")
    assert "stand-in" not in b.text, "a real model is flown by hand"
    return model_id


def test_without_a_connection_cards_are_kept_and_go_out_when_it_is_back(browser, glider):
    b = browser
    b.size(390, 844, phone=True)
    b.open(f"/m/{glider}/fly")
    b.choose("lift_off", "nose rises")
    connection(b, up=False)
    try:
        b.press("Keep, next card")
        b.see("F1 kept on this device")
        assert b.card() == "F2", "the next card comes without the program"
        b.left_alone()
        b.choose("pitch_clicks", "none needed")
        b.choose("left_over", "holds")
        b.press("Keep, next card")
        b.see("F2 kept on this device")
        assert b.card() == "F3"
    finally:
        connection(b, up=True)
    sortie = next(s for s in fetched(b, f"/api/v1/models/{glider}")["sorties"] if s["status"] != "landed")
    b.until(
        lambda: [r["card_id"] for r in fetched(b, f"/api/v1/sorties/{sortie['id']}")["records"]] == ["F1", "F2"],
        "both cards to arrive, in the order flown",
    )
    refused = [e["message"] for e in b.driver.get_log("browser") if "INTERNET_DISCONNECTED" not in e["message"]]
    assert refused == [], "only the cut itself may be complained of"
    b.driver.refresh()
    b.see("Roll trim at cruise")
    logged = [e.get_attribute("aria-label") for e in b.all("ol[aria-label='cards of this sortie'] button")]
    assert [label for label in logged if label and label.endswith("logged")] == [
        "F1 Take-off and climb to height, logged",
        "F2 Pitch trim at cruise, logged",
    ]


def test_which_wing_is_drawn_in_its_attitude_and_wrong_times_are_refused(browser, glider):
    b = browser
    b.size(390, 844, phone=True)
    b.open(f"/m/{glider}/fly")
    b.see("Roll trim at cruise")
    b.ask("bank_wing")
    for words, turn in (("left wing", "rotate(-24)"), ("neither", "rotate(0)"), ("right wing", "rotate(24)")):
        choice = next(e for e in b.all("[data-capture=bank_wing] button") if words in e.text)
        assert choice.find_element(By.CSS_SELECTOR, "svg g").get_attribute("transform") == turn
    b.ask("bank_time_first")
    field = b.one("[data-capture=bank_time_first] input")
    for entry, reason in (("a while", "Cannot read"), ("-1", "From 0 to 20"), ("300", "From 0 to 20")):
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(entry, Keys.TAB)
        b.until(lambda reason=reason: any(reason in e.text for e in b.all("[role=alert]")), reason)
        assert field.get_attribute("value") == entry, "nothing typed is lost"
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("3.5", Keys.TAB)
    b.see("3.5 s")
    b.to_the_end()
    assert not b.button("Keep, next card").is_enabled(), "required measures are still to say"
    b.see("Still to say: Aileron clicks in all, this flight; Hands off now, it")


def test_wrong_entries_on_the_new_model_the_check_the_weighing_and_the_wind(browser, glider):
    b = browser
    b.open("/new")
    b.see("Which looks most like it?")
    b.one("input[maxlength='60']").send_keys("Nothing yet")
    b.click(lambda: b.all("label.sheet")[0])
    b.type("Span, tip to tip", "wide")
    b.until(lambda: any("Cannot read" in e.text for e in b.all("[role=alert]")), "the span to be refused")
    b.press("Put it on the bench")
    assert b.path == "/new", "a refused span makes no model of another size"
    b.type("Span, tip to tip", "400 m")
    b.press("Put it on the bench")
    b.see("span is 400000 mm; it must be between")
    assert b.one("input[maxlength='60']").get_attribute("value") == "Nothing yet"

    b.open(f"/m/{glider}/bench")
    b.see("Static margin")
    for tab, label, entry, reason in (
        ("Weigh", "Balance point read, from the datum", "40 m", "jig reading is 40000 mm"),
        ("Weigh", "How well it was read", "0 mm", "accuracy of the jig is 0 m"),
        ("Weigh", "Published balance point", "behind the spar", "Cannot read"),
        ("Check", "Pack or tank empty after", "0", "minutes till the pack is empty is 0 min"),
        ("Check", "Cruise speed, if measured", "900 m/s", "cruise speed is 900.0 m/s"),
        ("Check", "Gust above mean", "-1 m/s", "gust limit is -1.0 m/s"),
        ("Controls", "Full throw, each way", "95°", "throw is "),
        ("Airframe", "Wash-out, right half", "45°", "twist is "),
    ):
        if label == "How well it was read":
            b.type("Balance point read, from the datum", "60 mm")
            b.see("Take the reading back")
        b.press(tab)
        if tab == "Controls":
            b.press("Throws")
        field = b.type(label, entry)
        b.until(lambda reason=reason: any(reason in e.text for e in b.all("[role=alert]")), f"{label}: {reason}")
        assert field.get_attribute("value") == entry
        said = [e.text for e in b.all("[role=alert]") if reason in e.text]
        assert len(said) == 1, f"once, where it was typed: {said}"
        field.send_keys(Keys.ESCAPE)

    b.open(f"/m/{glider}/plan")
    b.see("Wind on the strip")
    b.type("Mean wind", "blowy")
    b.until(lambda: any("Cannot read" in e.text for e in b.all("[role=alert]")), "the wind to be refused")


def test_two_quick_entries_in_different_fields_both_arrive(browser, glider):
    b = browser
    b.open(f"/m/{glider}/bench")
    b.press("Check")
    b.type("Site above sea level", "450 m", key=Keys.TAB)
    b.type("Pack or tank empty after", "14", key=Keys.TAB)
    b.saved("Pack or tank empty after", "14.0")
    b.until(
        lambda: fetched(b, f"/api/v1/models/{glider}")["setup"]["site_elevation_m"] == 450, "the elevation to be kept"
    )
    assert fetched(b, f"/api/v1/models/{glider}")["setup"]["pack_minutes"] == 14
    assert not any("changed elsewhere" in e.text for e in b.all("[role=alert]"))


def test_the_list_of_keys_takes_the_focus_and_gives_it_back(browser, glider):
    b = browser
    b.size(1280, 800)
    b.open(f"/m/{glider}/plan")
    b.see("Gates")
    opener = b.one("button[aria-label='all keys']")
    opener.send_keys(Keys.ENTER)
    b.until(lambda: b.all("dialog[open]"), "the list of keys")
    inside = "return document.querySelector('dialog').contains(document.activeElement)"
    assert b.driver.execute_script(inside), "the dialog has the focus"
    b.driver.switch_to.active_element.send_keys(Keys.ESCAPE)
    b.until(lambda: not b.all("dialog[open]"), "Escape to close it")
    assert b.driver.switch_to.active_element == opener
