"""Any airframe, built by keyboard alone, and what to move on it."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
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


def tool(b: Browser, words: str, then: str, *, row: str = "Airframe") -> None:
    """Go to another tool of the bench, or a section of it, as a row of tabs is gone along: to the row by Tab, along it by arrows."""
    tab_to(b, row, back=row == "Airframe")
    for _ in range(9):
        here = focused(b)
        if here == words:
            break
        press(b, Keys.ARROW_RIGHT)
        b.until(lambda here=here: focused(b) not in (here, "Jinba"), "the focus to go along with the tool")
    assert focused(b) == words
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
    tool(b, "Controls", "Left aileron")
    tool(b, "Directions", "Foreplane down?", row="Linkage")
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
    tool(b, "Controls", "Left elevon")
    tool(b, "Directions", "Left elevon up, right elevon up?", row="Linkage")
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
    reached = ("204 mm", "205 mm", "206 mm", "207 mm")
    b.until(lambda: b.number("Balance point").startswith(reached), "the balance to move to where it was wanted")
    b.press("Undo")
    b.until(lambda: b.number("Balance point") == balance, "undo to put everything back")
    b.press("Move")
    b.type("Balance point wanted, from the datum", "5 m")
    b.press("Find what to move")
    b.see("Out of reach; nearest")
    b.see("Look for a wrong reading")


def test_readings_by_wing_and_by_scales_become_a_balance_point_with_its_error(browser):
    b = browser
    start(b, "Barbastelle", "Swept flying wing", "1200 mm")
    b.press("Weigh")
    method = b.within("How it is read", "select")
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
    method = b.within("How it is read", "select")
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
