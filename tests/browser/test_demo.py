"""The demo as a visitor meets it."""

from __future__ import annotations

import json
import zipfile

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys


def scree(b) -> str:
    b.open("/?shelf")
    b.press("Scree")
    b.see("On the shelf")
    return b.path.split("/")[2]


def test_first_screen_opens_on_the_worrying_model_with_one_thing_to_do(browser):
    b = browser
    b.open("/")
    b.see("On the shelf")
    assert "Scree:" in b.text
    assert b.one("svg[aria-label^='side view']")
    b.press("Decide the rework")
    b.see("What to do")


def test_dragging_the_battery_moves_every_number_and_keys_do_too(browser):
    b = browser
    model_id = scree(b)
    b.open(f"/m/{model_id}/bench")
    b.see("Static margin")
    margin, edge = b.settled_number("Static margin"), b.one("[data-testid=knife-edge]").get_attribute("transform")
    battery = b.one("[data-testid=battery]")
    b.drag(battery, -30)
    b.until(lambda: b.number("Static margin") != margin, "the margin to move with the battery")
    b.until(lambda: b.one("[data-testid=knife-edge]").get_attribute("transform") != edge, "the knife-edge to follow")
    b.until(lambda: "configuration 3" in b.text, "a change after a flight to begin the next configuration")
    # Loaded anew, the page shows what was saved: on a busy machine a number of the drag may still be on its way.
    b.driver.refresh()
    b.until(lambda: b.number("Balance point"), "the saved balance point")
    after = b.number("Balance point")
    battery = b.one("[data-testid=battery]")
    battery.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    b.until(lambda: b.number("Balance point") != after, "the arrow key to move it")
    b.until(lambda: b.button("Undo").is_enabled(), "the move to be saved")
    b.press("Undo")
    b.until(lambda: b.number("Balance point") == after, "undo to bring the balance back")


def test_keys_jump_along_the_loop_and_are_listed(browser):
    b = browser
    model_id = scree(b)
    body = b.driver.find_element(By.TAG_NAME, "body")
    for key, place in (("2", "bench"), ("3", "plan"), ("5", "debrief"), ("6", "rework"), ("7", "ledger")):
        body.send_keys(key)
        b.until(lambda place=place: b.path == f"/m/{model_id}/{place}", place)
        b.until(
            lambda place=place: b.driver.title == f"{place.capitalize()} · Scree · Jinba",
            "the window to say where it is",
        )
    body.send_keys("?")
    b.see("this list")


def test_sentences_follow_the_pilots_units_at_once_and_stay_so(browser):
    b = browser
    model_id = scree(b)
    b.open(f"/m/{model_id}/rework")
    b.see("What to do")
    b.see("mm at")
    b.press("metric")
    b.until(lambda: " in at " in b.text and "mm at" not in b.text, "the surface to stand in inches")
    b.driver.refresh()
    b.see(" in at ")
    b.open(f"/m/{model_id}/bench")
    b.press("Weigh")
    sheet = b.until(lambda: b.all("a[href*='balance-sheet']"), "the paper")[0]
    assert "units=length%3Din" in sheet.get_attribute("href")
    b.press("imperial")
    b.see("metric")


def test_the_tandem_on_the_shelf_comes_to_the_bench_with_both_wings(browser):
    b = browser
    b.open("/?shelf")
    b.press("Gentian")
    b.see("On the shelf")
    b.open(f"/m/{b.path.split('/')[2]}/bench")
    b.see("Static margin")
    assert "Rear wing" in b.text
    before = b.number("Neutral point")
    b.type("Root leading edge, from the datum", "700 mm", nth=1)
    b.until(lambda: b.number("Neutral point") != before, "the neutral point to follow the rear wing")


def test_the_project_file_goes_out_and_a_bad_one_is_refused(browser, tmp_path):
    b = browser
    bad = tmp_path / "bad.zip"
    with zipfile.ZipFile(bad, "w") as z:
        z.writestr("manifest.json", json.dumps({"format": "jinba-project", "version": 1}))
        z.writestr("model.json", "{}")
    b.open("/?shelf")
    b.see("Import a project file")
    before = len(b.all("main li"))
    b.driver.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(bad))
    b.see("The project file is damaged at")
    assert len(b.all("main li")) == before
    model_id = scree(b)
    b.open(f"/m/{model_id}/ledger")
    link = b.button("Export the project file").get_attribute("href")
    size = b.driver.execute_async_script(
        "const done = arguments[1]; fetch(arguments[0]).then(r => r.blob()).then(x => done(x.size))", link
    )
    assert size > 3000


def test_an_unknown_model_says_so_and_shows_the_way_back(browser):
    b = browser
    b.open("/m/00000000-0000-0000-0000-000000000000/bench")
    b.see("This model is not here")
    b.press("To the shelf")
    b.see("New model")


def test_a_sister_is_built_from_the_ledger_with_the_lessons(browser):
    b = browser
    model_id = scree(b)
    b.open(f"/m/{model_id}/ledger")
    b.see("The next one of its kind")
    b.press("Build a sister")
    b.until(lambda: b.path.endswith("/bench") and model_id not in b.path, "the sister on the bench")
    b.see("Static margin")
    b.open(b.path.removesuffix("/bench"))
    b.see("Sister of Scree")


def test_a_rehearsal_is_a_copy_and_says_so_everywhere(browser):
    b = browser
    b.open("/?shelf")
    b.press("Larkspur")
    b.see("Larkspur")
    real = b.path.split("/")[2]
    assert "Rehearsal" not in b.text
    b.open(f"/m/{real}/ledger")
    b.see("Try it out first")
    b.press("Make a rehearsal copy")
    b.until(lambda: b.path.endswith("/plan") and real not in b.path, "the copy's plan")
    b.see("Larkspur, rehearsal")
    copy = b.path.split("/")[2]
    for place in ("", "/bench", "/fly", "/debrief", "/rework", "/ledger"):
        b.open(f"/m/{copy}{place}")
        b.see("Rehearsal: no real flight")
    b.open("/?shelf")
    b.see("Larkspur, rehearsal")
    assert len(b.all(".mark-rehearsal")) >= 2, "the copy and the demo's own"
