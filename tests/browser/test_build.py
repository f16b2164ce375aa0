"""Any airframe, built by keyboard alone, and what to move on it."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.pages import Browser

FOCUSED = """
    const e = document.activeElement;
    const label = e.id ? document.querySelector(`label[for="${CSS.escape(e.id)}"]`) : null;
    const text = (label ?? e.closest('label') ?? e).innerText ?? '';
    return text.split('\\n')[0].trim() || e.getAttribute('aria-label') || '';
"""


def press(b: Browser, *keys: str) -> None:
    ActionChains(b.driver).send_keys(*keys).perform()


def focused(b: Browser) -> str:
    return str(b.driver.execute_script(FOCUSED))


def tab_to(b: Browser, words: str, *, back: bool = False) -> None:
    """Press Tab (or Shift-Tab) until the focus lies on what reads ``words``."""
    for _ in range(160):
        if focused(b) == words:
            return
        if back:
            ActionChains(b.driver).key_down(Keys.SHIFT).send_keys(Keys.TAB).key_up(Keys.SHIFT).perform()
        else:
            press(b, Keys.TAB)
    raise AssertionError(f"Tab never came to {words!r}; it stands on {focused(b)!r}")


def enter(b: Browser, words: str, value: str) -> None:
    tab_to(b, words)
    press(b, value, Keys.ENTER)


def start(b: Browser, name: str, silhouette: str, span: str) -> None:
    """Make a model from a silhouette without touching the mouse."""
    b.open("/new")
    b.see("Which looks most like it?")
    tab_to(b, "Name")
    press(b, name, Keys.TAB)
    press(b, Keys.SPACE)
    for _ in range(12):
        if focused(b) == silhouette:
            break
        press(b, Keys.ARROW_RIGHT)
    assert focused(b) == silhouette
    enter(b, "Span, tip to tip", span)
    tab_to(b, "Put it on the bench")
    press(b, Keys.ENTER)
    b.see("What the next flight would show")


def do(b: Browser, words: str, then: str) -> None:
    """Press a button reached by Tab and wait for what it brings."""
    tab_to(b, words)
    press(b, Keys.ENTER)
    b.until(lambda: then in b.text, repr(then))


def margin_settles(b: Browser) -> None:
    assert "%" in b.settled_number("Static margin")
    assert not b.all("[role=alert]")


def test_a_canard_by_keyboard_moves_its_foreplane_and_names_its_surfaces(browser):
    b = browser
    start(b, "Shag", "Canard, motor behind", "1300 mm")
    before = b.number("Neutral point")
    tab_to(b, "Airframe")
    for _ in range(2):
        tab_to(b, "Root leading edge, from the datum")
        press(b, Keys.TAB)
    tab_to(b, "Root leading edge, from the datum", back=True)
    press(b, "-600 mm", Keys.ENTER)
    b.until(lambda: b.number("Neutral point") != before, "the neutral point to follow the foreplane")
    margin_settles(b)
    tab_to(b, "Airframe", back=True)
    do(b, "Controls", "Left aileron")
    do(b, "Directions", "Foreplane down?")
    b.see("Right stick back, towards you. Hold it.")
    b.see("The model would go: nose up.")
    b.open(f"/m/{b.path.split('/')[2]}/plan")
    b.see("Every control the right way")
    b.click(lambda: b.one("details[data-gate=B4] summary"))
    b.see("Stick back: foreplane trailing edge down")


def test_a_swept_flying_wing_by_keyboard_from_a_tailed_one(browser):
    b = browser
    start(b, "Noctule", "Low wing, motor in front", "1200 mm")
    enter(b, "Leading edge behind the root's", "320 mm")
    enter(b, "Wash-out, right half", "3")
    tab_to(b, "Add a chord")
    do(b, "remove", "Add a tail")
    b.until(lambda: "\nTail\n" not in b.text, "the tail to go")
    margin_settles(b)
    tab_to(b, "Airframe", back=True)
    do(b, "Controls", "Left elevon")
    do(b, "Directions", "Left elevon up, right elevon up?")
    b.see("left elevon down, right elevon up")


def test_a_triplane_by_keyboard_with_two_more_wings(browser):
    b = browser
    start(b, "Threnody", "High wing, motor in front", "1000 mm")
    loading = b.number("Wing loading")
    do(b, "Add a wing", "Second wing")
    b.until(lambda: b.number("Wing loading") != loading, "the loading to count the second wing")
    do(b, "Add a wing", "Second wing 4")
    margin_settles(b)
    once, twice = b.number("Wing loading"), b.number("Stall speed")
    b.press("Undo")
    b.until(lambda: b.number("Wing loading") != once and b.number("Stall speed") != twice, "undo to take a wing off")
    b.press("Redo")
    b.until(lambda: b.number("Wing loading") == once, "redo to bring it back")


@pytest.fixture
def tandem(browser, address) -> str:
    b = browser
    b.open("/?shelf")
    b.press("Gentian")
    b.see("On the shelf")
    model_id = b.path.split("/")[2]
    b.open(f"/m/{model_id}/bench")
    b.see("Static margin")
    return model_id


def test_what_to_move_is_found_done_and_taken_back(browser, tandem):
    b = browser
    balance = b.number("Balance point")
    b.press("Items")
    b.press("Add another pack")
    b.see("with Other pack")
    b.press("Move")
    b.type("Balance point wanted, from the datum", "much further")
    b.until(lambda: any("Cannot read" in e.text for e in b.all("[role=alert]")), "the target to be refused")
    b.type("Balance point wanted, from the datum", "205 mm")
    b.press("Find what to move")
    b.see("Best")
    b.see("within ")
    b.click(lambda: b.one("section[aria-label='Best way'] button"))
    b.until(
        lambda: "205 mm" in b.number("Balance point") or "206 mm" in b.number("Balance point"), "the balance to move"
    )
    b.press("Undo")
    b.until(lambda: b.number("Balance point") == balance, "undo to put everything back")
    b.press("Move")
    b.type("Balance point wanted, from the datum", "5 m")
    b.press("Find what to move")
    b.see("Out of reach; nearest")
    b.see("Look for a wrong reading")


def test_any_item_that_can_be_moved_is_dragged_by_its_weight(browser, tandem):
    b = browser
    b.press("Items")
    b.press("Add an item")
    b.until(
        lambda: any(e.get_attribute("value") == "New item" for e in b.all("input[aria-label='name of the item']")), "it"
    )
    ticks = [e for e in b.all("label") if e.text.startswith("Can be moved")]
    b.click(lambda: ticks[-1].find_element(By.TAG_NAME, "input"))
    slider = b.until(
        lambda: next((e for e in b.all("[role=slider]") if e.get_attribute("aria-label").startswith("New item")), None),
        "its weight to become a handle",
    )
    at = slider.get_attribute("aria-valuenow")
    slider.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    b.until(
        lambda: (
            next(
                e for e in b.all("[role=slider]") if e.get_attribute("aria-label").startswith("New item")
            ).get_attribute("aria-valuenow")
            != at
        ),
        "the arrow key to move it",
    )


def test_readings_by_wing_and_by_scales_become_a_balance_point_with_its_error(browser):
    b = browser
    start(b, "Barbastelle", "Swept flying wing", "1200 mm")
    b.press("Weigh")
    method = b.driver.find_element(By.XPATH, "//label[contains(., 'How it is read')]//select")
    method.send_keys("held on")
    b.type("Behind the leading edge there", "nearly in the middle")
    b.until(lambda: any("Cannot read" in e.text for e in b.all("[role=alert]")), "the place to be refused")
    b.type("Behind the leading edge there", "40 mm")
    b.type("From the centre line", "300 mm")
    b.press("What does that mean?")
    b.see("the same distance measured at the root would be another balance point")
    b.press("Use this reading")
    b.see("Take the reading back")
    swept = b.number("Balance point")
    b.press("Take the reading back")
    b.until(lambda: b.number("Balance point") != swept, "the items to count again")
    method = b.driver.find_element(By.XPATH, "//label[contains(., 'How it is read')]//select")
    method.send_keys("two scales")
    for label, value in (
        ("Scale, front point", "400 g"),
        ("Station, front point", "50 mm"),
        ("Scale, rear point", "600 g"),
        ("Station, rear point", "250 mm"),
    ):
        b.type(label, value)
    b.press("What does that mean?")
    b.see("Balance point 170.0 mm")
    b.see("correct the airframe's mass under Items")
    b.press("Use this reading")
    b.until(lambda: b.number("Balance point").startswith("170 mm"), "the scales to rule")


def test_a_published_point_too_far_aft_is_used_only_with_a_written_reason(browser):
    b = browser
    start(b, "Pipistrelle", "Low wing, motor in front", "1400 mm")
    b.press("Weigh")
    b.type("Published balance point", "160 mm")
    b.see("do not use it without a reason")
    field = b.one("textarea")
    field.send_keys("three sisters fly well there", Keys.TAB)
    b.see("used all the same, because: three sisters fly well there")
    b.driver.refresh()
    b.see("used all the same, because: three sisters fly well there")


def test_papers_and_tables_go_out_and_a_bad_table_changes_nothing(browser, tmp_path):
    b = browser
    start(b, "Daubenton", "Biplane", "1000 mm")
    b.press("Weigh")
    for words in ("Balance sheet, PDF", "Marking template 1:1, SVG"):
        link = b.button(words).get_attribute("href")
        script = "const d = arguments[1]; fetch(arguments[0]).then(r => r.blob()).then(x => d([x.type, x.size]))"
        kind, size = b.driver.execute_async_script(script, link)
        assert kind in ("application/pdf", "image/svg+xml")
        assert size > 1500
    b.press("Items")
    bad, good = tmp_path / "bad.csv", tmp_path / "good.csv"
    bad.write_text("name,mass_g,station_mm\nPack,lots,1\n")
    good.write_text("name,mass_g,station_mm\nEverything,1400,70\n")
    mass = b.number("Mass")
    chooser = b.driver.find_element(By.CSS_SELECTOR, "input[type=file]")
    chooser.send_keys(str(bad))
    b.see("Row 2, mass_g: cannot read 'lots'")
    assert b.number("Mass") == mass
    chooser.send_keys(str(good))
    b.until(lambda: b.number("Mass") == "1400 g", "the table to be read")


def test_ballast_at_hand_is_edited_and_used(browser, tandem):
    b = browser
    b.press("Move")
    b.press("Find what to move")
    b.see("Ballast at hand")
    b.click(lambda: next(e for e in b.all("summary") if e.text == "Ballast at hand"))
    field = b.type("Size 1", "-5 g")
    b.until(lambda: any("piece of ballast" in e.text for e in b.all("[role=alert]")), "the piece to be refused")
    field.send_keys(Keys.ESCAPE)
    b.type("Size 1", "7 g")
    b.saved("Size 1", "7.0")
    b.type("Station, nose", "-200 mm")
    b.saved("Station, nose", "-200")
    b.type("Balance point wanted, from the datum", "180 mm")
    b.press("Find what to move")
    b.see("200 mm ahead of the wing root leading edge")


def test_corners_are_dragged_moved_by_keys_and_taken_back(browser):
    b = browser
    start(b, "Dragged", "Low wing, motor in front", "1500 mm")
    tip = "[data-testid=corner-wing-1-leading]"
    span = "Distance from the centre line"
    before = b.settled_number("Neutral point")
    ActionChains(b.driver).click_and_hold(b.one(tip)).move_by_offset(25, 12).move_by_offset(5, 3).release().perform()
    b.until(lambda: b.field(span).get_attribute("value") != "750", "the dragged tip to be saved")
    assert int(b.field(span).get_attribute("value")) % 5 == 0, "a dragged corner stands on round millimetres"
    assert b.settled_number("Neutral point") != before
    b.press("Undo")
    b.saved(span, "750")
    b.driver.execute_script("arguments[0].focus()", b.one(tip))
    press(b, Keys.ARROW_DOWN)
    b.saved(span, "749")
    b.press("Closer")
    b.until(lambda: b.one(tip).is_displayed(), "the corner in the larger drawing")
    b.press("Undo")
    b.saved(span, "750")


def test_the_tip_is_raised_on_the_view_from_behind_and_a_swept_reading_is_drawn(browser):
    b = browser
    start(b, "Raised", "Swept flying wing", "1500 mm")
    rise = "Rise above the root"
    before = int(b.field(rise, nth=-1).get_attribute("value"))
    b.driver.execute_script("arguments[0].focus()", b.one("[data-testid^=rise-wing]"))
    ActionChains(b.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_UP).key_up(Keys.SHIFT).perform()
    b.saved(rise, str(before + 10), nth=-1)
    b.press("Weigh")
    b.select("How it is read", "held on the wing")
    b.type("Behind the leading edge there", "90")
    b.see("means this station")
    b.press("What does that mean?")
    b.see("the same distance measured at the root would be another balance point")


def test_measuring_in_order_goes_step_by_step_by_keyboard_and_finds_the_wash_in(browser):
    b = browser
    start(b, "Stepwise", "Low wing, motor in front", "1400 mm")
    b.press("Measure in order")
    b.see("Step 1 of")
    b.see("From the datum to its nose")
    for _ in range(60):
        if "Wash-out, left tip" in b.text:
            break
        step = next(line for line in b.text.split("\n") if line.startswith("Step "))
        b.press("Next")
        b.until(lambda was=step: was not in b.text, "the next step")
    b.see("No wash-in.")
    b.type("Wash-out, left tip", "-2.5")
    b.press("Stop measuring")
    b.see("left tip: 2.5 degrees washed IN")
    b.see("twist it out with heat")


def test_a_plan_in_another_scale_an_ellipse_and_a_table(browser):
    b = browser
    start(b, "From paper", "Sailplane, no motor", "2000 mm")
    b.select("Lengths are measured", "on a plan, 1 : 4")
    b.type("Distance from the centre line", "260", nth=-1)
    b.see("on the plan; 1040 mm on the model")
    b.select("Lengths are measured", "on the model itself")
    b.press("Curved outline, or many chords at once")
    b.press("Make it an ellipse")
    b.see("Chord 13")
    b.area("Table of chords", "0 0 220\n500 5 wide")
    b.press("Use this table")
    b.see("Row 2")
    b.area("Table of chords", "0 0 220\n500 5 200\n1000 40 110")
    b.press("Use this table")
    b.until(lambda: "Chord 13" not in b.text and "Row 2" not in b.text, "the outline of the table")


def test_a_bench_work_order_is_ticked_read_and_judged(browser):
    b = browser
    start(b, "Orderly", "Low wing, motor in front", "1500 mm")
    b.press("Move")
    b.type("Balance point wanted, from the datum", "95")
    b.press("Find what to move")
    b.see("Best")
    b.press("Do this")
    b.see("steps to do, then read the balance")
    for box in b.all("[aria-label='Work order'] input[type=checkbox]"):
        b.click(lambda box=box: box)
    b.see("now read the balance")
    b.type("Balance point read, from the datum", "115")
    b.see("further aft than computed")
    b.type("Balance point read, from the datum", "95")
    b.see("Proved")
    b.press("Put it away")
    b.until(lambda: "Proved" not in b.text, "the order to be put away")


def test_scales_a_tip_mass_and_a_loose_wing(browser):
    b = browser
    start(b, "Kestrel", "High wing, motor in front", "1500 mm")
    b.press("Weigh")
    b.see("This one upright")
    b.select("How it is read", "two scales")
    b.type("Station, front point", "-100")
    b.type("Station, rear point", "400")
    b.press("Read the scales (simulated)")
    b.until(lambda: b.field("Scale, front point").get_attribute("value") != "", "what the scales show")
    b.press("What does that mean?")
    b.press("Use this reading")
    b.see("agree within")
    b.press("Left and right: a mass on a tip")
    b.type("Mass that levels it", "15")
    b.press("What does that mean?", nth=1)
    b.see("The right wing is heavy")
    b.press("Keep this reading")
    b.see("Take the reading across back")
    b.press("Bare fuselage, loose wing: where to mount it")
    for label, value in (
        ("Mass without the wing", "1100"),
        ("It balances, from the datum", "60"),
        ("Mass of the wing", "450"),
        ("The wing balances, behind its root leading edge", "95"),
    ):
        b.type(label, value)
    b.press("Where does the wing go?")
    b.see("the wing weighs too")


def test_equipment_still_to_come_makes_a_mission_mass(browser):
    b = browser
    start(b, "Carrier", "High wing, motor in front", "1500 mm")
    b.press("Items")
    b.press("Add an item")
    b.type("Mass", "250", nth=-1)
    b.tick("Still to come (not in the test flights)", nth=-1)
    b.see("Mission mass")
    b.see("plan the re-test now")
