"""The controls desk as a stranger uses it: wing and V-tail from nothing, trim to the clevis, a switch conflict, the walk."""

from __future__ import annotations

import re

from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.pages import Browser
from tests.browser.test_build import start as on_the_bench


def start(b: Browser, name: str, silhouette: str) -> None:
    on_the_bench(b, name, silhouette, "1400")
    b.press("Controls")
    b.until(lambda: b.all("[data-testid=control-sections]"), "the controls desk")


def section(b: Browser, name: str) -> None:
    b.click(lambda: next(e for e in b.all("[data-testid=control-sections] button") if e.text == name))


def figure(b: Browser, label: str) -> float:
    """Return the figure over a label of the linkage board, as a number."""
    found = re.search(rf"([\d.]+) (?:mm|%)\n{re.escape(label)}", b.one("[data-testid=travel]").text)
    assert found, b.one("[data-testid=travel]").text
    return float(found[1])


def test_an_elevon_wing_is_set_up_from_nothing_and_a_linkage_that_cannot_be_is_refused(browser: Browser):
    b = browser
    start(b, "Wheatear", "Swept flying wing")
    b.see("Left elevon")
    before = figure(b, "of the stall torque") if "of the stall torque\n" in b.text else 0.0
    b.type("Servo arm, axis to pin", "8")
    b.saved("Servo arm, axis to pin", "8.0")
    b.type("Horn, hinge line to pin", "0")
    b.see("horn is 0 mm; it must be between")
    assert b.field("Horn, hinge line to pin").get_attribute("value") == "0", "the refused entry stays"
    b.type("Horn, hinge line to pin", "16")
    b.saved("Horn, hinge line to pin", "16.0")
    assert before >= 0.0
    b.press("Same on the right side")
    b.until(lambda: not b.all("[role=alert]"), "the copy to be saved")
    slider = b.one("input[type=range]")
    slider.send_keys(Keys.HOME)
    b.until(lambda: "left elevon fair" not in b.one("[data-testid=linkage]").text, "the linkage to move")
    low = b.one("[data-testid=linkage]").text
    slider.send_keys(Keys.END)
    b.until(lambda: b.one("[data-testid=linkage]").text != low, "the other end")

    section(b, "Mixes")
    b.see("of the stick box is cut")
    b.press("Use these weights")
    b.see("Nothing is cut anywhere in the stick box.")
    b.type("Elevator", "90")
    b.see("of the stick box is cut")

    section(b, "Throws")
    b.see("Authority floor passed")
    b.type("Share of full throw, nose up", "200")
    b.see("100 %: more travel comes from end points and holes")


def test_a_v_tail_is_set_up_from_nothing_and_walked_on_a_phone(browser: Browser):
    b = browser
    start(b, "Siskin", "V-tail, motor in front")
    section(b, "Radio")
    Select(b.within("Stick mode", "select")).select_by_visible_text("mode 1")
    b.see("Left stick: elevator and rudder")
    b.size(390, 844, phone=True)
    section(b, "Directions")
    b.see("Left stick back, towards you. Hold it.")
    seen = {}
    for _ in range(6):
        walk = b.one("[data-testid=walk]").text
        seen[walk.split("\n")[1]] = walk
        width = b.driver.execute_script("return document.documentElement.scrollWidth")
        assert width <= 390, "nothing is cut off on a phone"
        before = b.one("[data-testid=walk] h2").text
        b.press("No, the other way" if before == "Rudder right" else "Yes, as drawn")
        b.until(lambda before=before: b.one("[data-testid=walk] h2").text != before, "the next step")
    assert "Left tail surface up, right tail surface down?" in seen["Rudder right"]
    assert "Left tail surface up, right tail surface up?" in seen["Elevator back"]
    assert "Left aileron down, right aileron up?" in seen["Aileron right"]
    b.see("No surface moves; the motor starts?")
    b.press("Yes, as drawn")
    b.see("Do not fly: 1 wrong.")
    b.see("swap the two servo plugs or reverse that mix")
    b.press("Log B4 as failed")
    b.see("Logged as B4")
    b.size(1280, 800)
    b.open(b.path.replace("/bench", "/plan"))
    b.until(lambda: b.one("details[data-gate=B4]").get_attribute("data-state") == "failed", "B4 to stand failed")


def test_six_clicks_go_to_the_clevis_with_what_to_find(browser: Browser):
    b = browser
    start(b, "Fieldfare", "Low wing, motor in front")
    section(b, "Trim")
    b.type("Pitch clicks", "6")
    b.saved("Pitch clicks", "6")
    # The desk has answered for them before the way is turned: until then its list may be drawn anew.
    b.see("6 clicks nose down: elevator trailing edge down")
    way = b.one("select[aria-label='way of Pitch clicks']")
    Select(way).select_by_visible_text("nose up")
    b.see("6 clicks nose up: elevator trailing edge up")
    b.see("move it out of the radio")
    b.see("screw in (shorter rod) the clevis by 1 turn: it goes up, for nose up")
    b.press("Move it to the clevis")
    b.until(lambda: "All trims centred: elevator up" in b.one("[data-testid=zeroed]").text, "what to find")
    assert "Propeller off." in b.one("[data-testid=zeroed]").text
    b.saved("Pitch clicks", "0")
    b.press("Undo")
    b.saved("Pitch clicks", "6")


def test_a_planted_switch_conflict_is_found_and_mended(browser: Browser):
    b = browser
    start(b, "Pipit", "High wing, motor in front")
    section(b, "Radio")
    b.see("No switch cuts the motor")
    for name, job in (("S1", "motor cut (disarm)"), ("S2", "flight mode")):
        field = b.one("[aria-label='Name of the new switch']")
        field.send_keys(name, Keys.ENTER)
        b.until(lambda name=name: b.all(f"[data-switch={name}]"), f"switch {name}")
        b.click(lambda name=name: b.one(f"[data-switch={name}] summary"))
        if name == "S2":
            b.select("S2 is on the", "left")
            b.see("place on the radio 'left 1' is used twice")
            b.select("S2, place from outside", "2")
            b.until(lambda: not b.all("[data-fields] [role=alert]"), "the place to be taken")
            b.select("S2 is on the", "left")
        ticks = [t for t in b.all(f"[data-switch={name}] label") if t.text.strip() == job]
        b.click(lambda ticks=ticks: ticks[0].find_element("css selector", "input"))
        b.until(lambda name=name, job=job: job in b.one(f"[data-switch={name}] summary").text, f"{name} to do it")
    b.see("Motor cut and flight mode are neighbours (S1 and S2)")
    marked = b.driver.execute_script(
        "return [...document.querySelectorAll('[data-testid=radio-board] li.border-accent')].map(e => e.innerText.split('\\n')[0])"
    )
    assert {"S1", "S2"} <= set(marked)
    b.select("S2 is on the", "right")
    b.until(lambda: "are neighbours" not in b.text, "the conflict to go")
    b.press("Seen to work today")
    b.until(lambda: "open: prove it" not in b.one("[data-testid=fail-safe]").text, "the proof")
    b.type("Channel 3 goes to", "1100")
    b.until(lambda: "open: prove it" in b.one("[data-testid=fail-safe]").text, "the edit to open the proof again")


def test_throws_are_set_by_the_ruler_and_a_controller_is_fitted_and_levelled(browser: Browser):
    b = browser
    start(b, "Whinchat", "High wing, motor in front")
    section(b, "Throws")
    b.type("By the ruler, nose up", "9 mm")
    b.saved("By the ruler, nose up", "9.0")
    b.see("9.0 mm (")
    b.type("By the ruler, nose up", "80")
    b.see("This linkage gives")
    assert b.field("By the ruler, nose up").get_attribute("value") == "80", "the refused entry stays"
    b.type("By the ruler, nose up", "9")
    b.press("Set the lowest rate so")
    b.until(lambda: b.one("[data-rate='pitch low']").text, "the low rate")

    section(b, "Stabiliser")
    b.press("A flight controller is fitted")
    b.see("Do not fly: Directions not checked")
    b.tick("Every surface works against the tilt")
    b.tick("Calibrated in six positions")
    b.see("Nothing is wrong with how it is set.")
    b.type("On the board", "4")
    b.saved("On the board", "4.0")
    b.type("In the mode's trim", "2")
    b.see("entered twice and adds up to 6.0° nose up")
    b.type("In the mode's trim", "0")
    b.until(lambda: "entered twice" not in b.text, "one canonical place")
    b.type("Height", "6")
    b.press("What does that mean?")
    b.until(lambda: "Lower the level reference by" in b.one("[data-testid=level]").text, "the correction")
    b.press("Log this gain")
    b.until(lambda: "Pitch P: 25" in b.one("[data-testid=gains]").text, "the next gain")
    b.press("Read them")
    b.see("Every channel rests at 1500 µs.")
    section(b, "Trim")
    b.see("Never trim with the radio")
    b.open(b.path.replace("/bench", "/plan"))
    b.until(lambda: b.all("details[data-gate=B11]"), "the stabiliser's gate")
    b.see("No switch cuts the motor")
