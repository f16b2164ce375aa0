"""Packs and sites in the browser: described by a stranger, named in Plan; the minutes are the same on every screen."""

from __future__ import annotations

import re

import pytest

from tests.browser.pages import Browser
from tests.states import TARN


def safe_minutes(b: Browser) -> float:
    found = re.search(r"([\d.]+) safe minutes on", b.text)
    return float(found.group(1)) if found else -1.0


@pytest.fixture(scope="module")
def described(driver, address) -> str:
    """Describe a pack from nothing, with one slip that is refused in the pilot's words."""
    b = Browser(driver, address)
    b.size(1280, 800)
    b.open(f"/m/{TARN}/plan")
    b.see("by a guess")
    b.press("Packs")
    b.press("Another pack")
    b.see("Still needed: its name")
    b.within("Name", "input").send_keys("Fell 1")
    b.select("Cells of", "lithium polymer")
    b.type("Cells in a row", "3")
    b.type("Capacity", "2.2")
    b.type("Rating", "30")
    b.press("Keep it")
    b.see("2200 for 2.2 Ah")
    assert b.within("Name", "input").get_attribute("value") == "Fell 1", "what was entered stays"
    b.type("Capacity", "2200")
    b.press("Keep it")
    b.see("may give 66.0 A")
    return "Fell 1"


def test_the_pack_that_flies_sets_the_minutes_of_plan_and_of_the_column(browser, described):
    b = browser
    b.size(1280, 800)
    b.open(f"/m/{TARN}/plan")
    # What was kept on the device is shown first; what the program has now takes its place.
    b.until(lambda: described in b.within("Pack that flies next", "select").text, "the pack to choose")
    b.select("Pack that flies next", described)
    b.see(f"safe minutes on {described}")
    b.see("nobody has read the volts")
    b.type("Volts at rest", "12.54")
    b.until(lambda: "nobody has read" not in b.text, "the volts")
    full = safe_minutes(b)
    assert f"of {full:.1f} safe minutes" in b.text, "the column of cards says the same"
    b.type("Volts at rest", "3.86")
    b.see("57 % full")
    half = safe_minutes(b)
    assert half < 0.6 * full
    assert f"of {half:.1f} safe minutes" in b.text
    b.type("Volts at rest", "16.6")
    b.see("Is the number of cells right?")
    assert safe_minutes(b) == half, "what stood stays"


def test_a_flight_from_before_is_typed_taken_out_and_brought_back(browser, described):
    b = browser
    b.size(390, 844, phone=True)
    b.open("/packs")
    b.press("Add an earlier flight")
    b.type("Minutes in the air", "6:30")
    b.type("Volts at rest after", "11.5")
    b.type("Charge put back", "115")
    b.press("Keep it")
    b.see("contradict each other")
    b.press("Take out")
    b.see("The flight was taken out.")
    b.press("Undo")
    b.see("6.5 min in the air")
    assert b.driver.execute_script("return document.documentElement.scrollWidth") <= 390


def test_a_site_is_typed_with_its_slips_and_gives_light_limits_and_a_calendar(browser):
    b = browser
    b.size(390, 844, phone=True)
    b.open(f"/m/{TARN}/plan")
    b.press("Describe a site")
    b.within("Name", "input").send_keys("Beck field")
    where = b.within("Where it lies", "input")
    where.send_keys("47°03'")
    b.see("Write it in decimal degrees")
    where.clear()
    where.send_keys("47.05 N, 11.05 E")
    b.type("Strip heads", "240")
    b.type("Height limit", "30")
    b.within("Rules", "textarea").send_keys("Nobody over the barns.")
    b.press("Keep it")
    b.see("Nobody over the barns.")
    b.see("dark from")
    assert b.all("[data-testid=site-panel] svg[role=img]"), "the sun and the strip are drawn"
    b.press("Into the calendar")
    box = b.within("At the field from", "input")
    b.driver.execute_script(
        "const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;"
        "set.call(arguments[0], '2026-06-21T16:00'); arguments[0].dispatchEvent(new Event('input', {bubbles: true}))",
        box,
    )
    link = b.until(lambda: b.all("a[href*='day.ics']"), "the calendar")[0]
    assert "begins=2026-06-21T" in link.get_attribute("href")


def test_a_rehearsal_is_watched_by_telemetry_and_what_it_took_is_in_the_packs_history(browser, described):
    b = browser
    b.size(1280, 800)
    b.open(f"/m/{TARN}/plan")
    b.until(lambda: described in b.within("Pack that flies next", "select").text, "the pack to choose")
    b.select("Pack that flies next", described)
    b.type("Volts at rest", "12.5")
    b.see("safe minutes on Fell 1")
    b.close_gates()
    b.press("Fly this sortie")
    b.see("Taking off now")
    b.size(390, 844, phone=True)
    b.click(lambda: b.one("[data-testid=others] summary"))
    b.press("F8 Stall")
    b.press("watch the stand-in fly it")
    b.until(
        lambda: re.search(r"wings level|wing \d+° down", b.one("[data-testid=telemetry]").text), "its attitude in words"
    )
    b.driver.refresh()
    b.click(lambda: b.one("[data-testid=others] summary"))
    b.press("F8 Stall")
    b.until(lambda: "m, telemetry" in b.one("[data-testid=telemetry]").text, "the height lost, from the link")
    b.choose("wing", "neither")
    b.choose("sharpness", "mushes")
    assert "m, telemetry" in b.text
    b.area("It was not planned", "its stall was in question")
    b.keep()
    b.press("Let the stand-in fly this sortie")
    b.see("Debrief of sortie")
    b.open("/packs")
    b.see("motor ran")
    b.see("at full throttle")
