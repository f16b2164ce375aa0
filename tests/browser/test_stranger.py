"""A stranger types a model in and goes twice round the loop in the real interface."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select


@pytest.fixture(scope="module")
def made(driver, address):
    """Make a model by hand: silhouette, then ruler."""
    from tests.browser.pages import Browser

    b = Browser(driver, address)
    b.size(1280, 800)
    b.open("/new")
    b.see("Which looks most like it?")
    b.one("input[maxlength='60']").send_keys("Kestrel seven")
    b.click(lambda: next(e for e in b.all("label.sheet") if "Low wing" in e.text))
    b.type("Span, tip to tip", "4' 11\"")
    b.click(lambda: next(e for e in b.all("label") if "A rehearsal:" in e.text))
    b.press("Put it on the bench")
    b.see("What the next flight would show")
    return b.path.split("/")[2]


def test_measuring_by_ruler_in_both_systems_and_undo(browser, made):
    b = browser
    b.open(f"/m/{made}/bench")
    b.see("Static margin")
    before = b.number("Neutral point")
    b.type("Root leading edge, from the datum", "735 mm", nth=1)
    b.until(lambda: b.number("Neutral point") != before, "the neutral point to follow the tail")
    b.type("Length", "45 1/2 in")
    b.until(
        lambda: b.field("Length").get_attribute("value") == "1156", "what was typed in inches to stand in millimetres"
    )
    assert "mm" in b.number("Neutral point"), "what is typed in one field changes the unit of no other"
    Select(b.one("select[aria-label='unit of Length']")).select_by_visible_text("in")
    b.until(lambda: b.field("Length").get_attribute("value").startswith("45.5"), "the switch to show inches")
    assert " in" in b.number("Neutral point"), "the switch of one length is that of every length, and remembered"
    b.press("Undo")
    b.until(lambda: not b.field("Length").get_attribute("value").startswith("45.5"), "the length to go back")
    b.press("Redo")
    b.until(lambda: b.field("Length").get_attribute("value").startswith("45.5"), "the length to come again")


def test_bad_entries_are_refused_at_the_field_and_kept(browser, made):
    b = browser
    b.open(f"/m/{made}/bench")
    for entry, reason in (
        ("-80 mm", "must be between"),
        ("twelve", "Cannot read"),
        ("1.234,5", "thousands"),
        ("12 oz", "not a unit"),
        ("9999 m", "must be between"),
    ):
        field = b.type("Chord", entry)
        b.until(lambda reason=reason: any(reason in e.text for e in b.all("[role=alert]")), f"the reason {reason!r}")
        assert field.get_attribute("value") == entry, "nothing typed is lost"
        field.send_keys(Keys.ESCAPE)
    nose = b.field("Nose, from the datum").get_attribute("value")
    b.type("Nose, from the datum", nose.lstrip("-\u2212"))
    b.until(
        lambda: "Did you mean" in b.one("[data-testid=doubts]").text, "the lost minus to be named where it was typed"
    )
    b.press("Undo")
    b.until(lambda: not b.all("[data-testid=doubts]"), "the doubt to go once it is mended")
    b.press("Items")
    b.type("Mass", "-3 g")
    b.until(lambda: any("mass" in e.text for e in b.all("[role=alert]")), "the reason at the mass")
    b.press("Controls")
    b.press("Throws")
    b.type("Horn, hinge to clevis pin", "0 mm")
    b.until(lambda: any("horn arm" in e.text for e in b.all("[role=alert]")), "the reason at the horn")


def test_items_a_jig_reading_and_a_published_point(browser, made):
    b = browser
    b.open(f"/m/{made}/bench")
    b.press("Items")
    b.type("Mass", "1.9 lb")
    b.type("Mass", "290 g", nth=1)
    b.press("Add an item")
    b.until(lambda: len(b.all("input[aria-label='name of the item']")) == 3, "a third item")
    b.press("Weigh")
    b.type("Balance point read, from the datum", "70 mm")
    b.see("ahead of the sum of items")
    b.type("Published balance point", "150 mm")
    b.see("do not use it without a reason")
    assert "70 mm" in b.number("Balance point")
    b.click(lambda: b.one("[data-testid=bench-numbers] details:last-of-type summary"))
    b.see("Source:")


def test_plan_fly_reload_debrief_rework_and_again(browser, made):
    b = browser
    b.open(f"/m/{made}/plan")
    b.see("9 open")
    assert not b.button("Fly this sortie").is_enabled()
    b.close_gates(by_hand=True)
    b.see("all closed")
    b.see("Enter all four to hear go or no-go.")
    for label, entry in (
        ("Mean wind", "30 km/h"),
        ("Gusts", "30 km/h"),
        ("Blows from", "240"),
        ("Take-off heading", "250"),
    ):
        b.type(label, entry)
    b.see("8.3 m/s mean wind")
    b.open(f"/m/{made}/plan")
    b.see("8.3 m/s mean wind")
    assert not b.button("Fly this sortie").is_enabled()
    b.type("Mean wind", "1 m/s")
    b.type("Gusts", "2 m/s")
    b.see("Go: wind well inside your limits.")
    assert "km/h" not in b.one("[role=status]").text, "a verdict is given in the pilot's own unit"
    b.click(lambda: b.one("button[aria-label='F1 later']"))
    b.see("Take-off stays first.")
    b.press("Fly this sortie")
    b.see("Let the stand-in fly this sortie")
    b.see("Rehearsal: no real flight")

    b.size(390, 844, phone=True)
    b.choose("lift_off", "nose rises")
    b.keep()
    assert b.card() == "F2"
    b.left_alone()
    for _ in range(3):
        b.choose("pitch_clicks", "a click nose up")
    b.see("3 nose up")
    b.driver.refresh()
    b.see("3 nose up")
    assert b.card() == "F2", "a reload in mid-sortie loses nothing"
    b.choose("left_over", "holds")
    b.keep()
    b.choose("roll_clicks", "a click left wing down")
    b.choose("left_over", "drifts right")
    b.choose("bank_wing", "right wing")
    b.ask("bank_time_first")
    b.one("[data-capture=bank_time_first] button").click()
    b.until(lambda: float(b.one("[data-capture=bank_time_first] button").text.split(" s")[0]) > 0.9, "the watch to run")
    b.one("[data-capture=bank_time_first] button").click()
    b.keep()
    bold = b.card()
    bar = f"Hold to abort {bold}: fly the model first"
    b.hold(b.button(bar), 0.4)
    assert b.card() == bold, "a brush of the thumb aborts nothing"
    b.hold(b.button(bar), 1.6)
    b.until(lambda: b.card() == "A6", "what happened to be asked at once")
    b.press("Back")
    b.press("Let the stand-in fly this sortie")
    b.see("Debrief of sortie 1")

    b.size(1280, 800)
    b.see("Causes, most likely first")
    b.press("Decide the rework")
    b.see("What to do")
    b.press("Write the work order")
    b.see("Work order: to configuration 2")
    while b.open_proofs():
        left = b.open_proofs()
        b.read_proof()
        b.until(lambda n=left: b.open_proofs() == n - 1, "the action to be proved by what was read")
    b.press("Plan the next sortie")
    b.see("Sortie 2")
    b.close_gates()
    b.see("all closed")
    b.press("Fly this sortie")
    b.see("Let the stand-in fly this sortie")
    b.press("Let the stand-in fly this sortie")
    b.see("Debrief of sortie 2")
    b.see("Prediction against outcome")
    b.open(f"/m/{made}/ledger")
    b.see("Convergence: predicted dashed")
    # The board that is kept from before is shown first: what the second flight says of the predictions comes with the new one.
    b.until(lambda: b.all("[data-testid=reliability] thead th"), "the table of what was said and came true")
    of_chances = b.all("[data-testid=reliability] thead th")
    assert [e.text for e in of_chances] == ["said", "came true"]
    b.until(
        lambda: len(b.all("[data-testid=convergence] thead th")) - len(of_chances) == 3,
        "the sortie just landed to be on the board",
    )
    b.see("Said to lie in its band, and did it?")
    diary = "[data-testid=diary]"
    b.until(lambda: b.all(f"{diary} [data-entry]"), "what was said")
    every = len(b.all(f"{diary} [data-entry]"))
    b.one("input[type=search]").send_keys("click nose up")
    b.until(lambda: 0 < len(b.all(f"{diary} [data-entry]")) < every, "the entries with these words")
    assert all({"nose", "up"} <= set(e.text.replace(";", " ").split()) for e in b.all(f"{diary} [data-entry]"))
    b.one("input[type=search]").send_keys(" of the moon")
    b.see("Nothing that is logged says that.")
    b.one("input[type=search]").send_keys(Keys.CONTROL, "a")
    b.one("input[type=search]").send_keys("F2")
    b.select("Of", "sortie 1")
    b.click(lambda: next(e for e in b.all(f"{diary} a") if e.text == "Correct"))
    b.see("You correct what was logged in sortie 1.")


def test_alone_brief_first_then_from_memory(browser, address):
    b = browser
    b.open("/?shelf")
    b.press("Larkspur")
    b.see("On the shelf")
    model_id = b.path.split("/")[2]
    b.open(f"/m/{model_id}/plan")
    b.see("open")
    b.close_gates()
    b.click(lambda: b.one("input.toggle"))
    b.press("Fly this sortie")
    b.see("Brief for sortie 1, alone")
    assert "Nothing here needs a hand in flight" in b.text
    b.press("I have landed: log from memory")
    b.choose("lift_off", "holds")
    b.keep()
    assert b.driver.find_element(By.CSS_SELECTOR, "button[aria-label='F1 Take-off and climb to height, logged']")
