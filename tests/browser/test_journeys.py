"""Journeys: a lost take-off, a proof wrong twice, a windy maiden against advice, a model without ailerons, a controller wing."""

from __future__ import annotations

import re

from tests.browser.pages import Browser
from tests.pictures import picture

WHY = "for the sake of the trial"


CHANGED = """
    const [id, done] = arguments, url = `/api/v1/models/${id}`;
    Promise.all([fetch(url), fetch(`${url}/controls`)]).then(found => Promise.all(found.map(r => r.json()))).then(([m, c]) => {
      CHANGE;
      const body = JSON.stringify({base_revision: m.revision, setup: m.setup});
      return fetch(`${url}/setup`, {method: "PUT", headers: {"Content-Type": "application/json"}, body});
    }).then(r => done(r.status));
"""


def changed(b: Browser, model: str, line: str) -> None:
    """Change the setup of a model, ``m`` in a line of script and ``c`` its controls desk, as its own page would."""
    assert b.driver.execute_async_script(CHANGED.replace("CHANGE", line), model) == 200


def put_on_the_bench(b: Browser, name: str, silhouette: str) -> str:
    b.size(1280, 800)
    b.open("/new")
    b.one("input[maxlength='60']").send_keys(name)
    b.click(lambda: next(e for e in b.all("label.sheet") if silhouette in e.text))
    b.press("Put it on the bench")
    b.see("What the next flight would show")
    model = b.path.split("/")[2]
    changed(b, model, "m.setup.guessed = []")
    return model


BENT = "m.setup.elevator.mechanical_rad += 0.08"
"""Out of line by as much as no radio trim should hold, as a builder's clevis does."""


def fly(b: Browser, model: str) -> None:
    b.open(f"/m/{model}/plan")
    b.see("Gates")
    b.close_gates()
    b.override(WHY)
    b.press("Fly this sortie")


def test_a_lost_take_off_is_told_on_the_phone_repaired_and_flown_as_new(browser: Browser, tmp_path):
    """Found by review: it debriefed as "where it should be", with a red button over a pack that moves aft."""
    b = browser
    model = put_on_the_bench(b, "Tussock", "High wing")
    fly(b, model)
    b.size(390, 844, phone=True)
    b.until(lambda: b.card() == "F1", "the take-off")
    b.choose("lift_off", "rears up")
    b.hold(b.button("Hold to abort F1"), 1.6)
    b.until(lambda: b.card() == "A6", "what happened to be asked at once")
    b.choose("ground", "it hit the ground")
    b.ask("parts")
    b.press("Wing: damaged")
    b.press("All the others are whole")
    b.choose("nose", "rears up")
    b.press("Keep, next card")
    b.see("The model is down")
    b.press("Landed: to the debrief")
    b.see("it hit the ground at take-off; it reared; damaged: wing")
    assert "where it should be" not in b.text

    b.size(1280, 800)
    b.open(f"/m/{model}")
    b.see("Repair what is damaged, weigh each repair (Bench, Items), then go over B1, B2, B3, B4, B7")
    b.open(f"/m/{model}/bench")
    b.until(lambda: b.all("[data-testid=damage] path"), "a cross on the damaged wing")
    b.open(f"/m/{model}")
    b.press("Go over it, card by card")
    b.see("Incidence, both sides")
    assert b.button("Fly this sortie").get_attribute("disabled") is not None
    b.close_gates()
    b.see("The first flight after an incident is a maiden")
    b.open(f"/m/{model}/bench")
    b.see("Static margin")
    assert not b.all("[data-testid=damage]"), "gone over, nothing is marked any more"
    b.open(f"/m/{model}/ledger")
    b.see("gone over since")
    assert "it hit the ground at take-off" in b.text, "the story stands"
    (tmp_path / "root-rib.jpg").write_bytes(picture((1600, 1200), exif=True))
    (tmp_path / "notes.jpg").write_text("no picture at all")
    field = b.one("[data-testid=incidents] input[type=file]")
    field.send_keys(f"{tmp_path / 'root-rib.jpg'}\n{tmp_path / 'notes.jpg'}")
    b.see("notes.jpg: This is no photo that can be read")
    b.until(
        lambda: b.driver.execute_script(
            "const i = document.querySelector('[data-testid=photos] img'); return i && i.complete && i.naturalWidth > 0"
        ),
        "the photo to be shown",
    )
    b.open(f"/m/{model}/ledger")
    b.until(lambda: b.all("[data-testid=photos] img"), "the photo after a reload")


def test_a_proof_that_is_wrong_twice_is_refused_and_read_right_it_becomes_the_bench(browser: Browser):
    """Found by review: 95 passed for 80 ± 1.5 mm."""
    b = browser
    model = put_on_the_bench(b, "Gravel", "Low wing")
    b.open(f"/m/{model}/ledger")
    b.press("Make a rehearsal copy")
    b.until(lambda: model not in b.path, "the copy")
    model = b.path.split("/")[2]
    changed(b, model, BENT)
    fly(b, model)
    b.press("Let the stand-in fly this sortie")
    b.see("Debrief of sortie 1")
    b.press("Decide the rework")
    b.see("What to do")
    b.press("Write the work order")
    b.see("Work order: to configuration 2")
    left = b.open_proofs()
    assert left > 0
    for wrong in ("995", "345"):
        b.read_proof(wrong)
        b.see(f"You read {wrong}")
        assert b.open_proofs() == left, "nothing is proved by it"
    while b.open_proofs():
        n = b.open_proofs()
        b.read_proof()
        b.until(lambda n=n: b.open_proofs() == n - 1, "the action to be proved")
    b.press("not so: open it again")
    b.until(lambda: b.open_proofs() == 1, "the tick to be taken back")
    b.press("Take the order back")
    b.see("What to do")


def test_a_windy_maiden_is_flown_against_advice_and_with_a_card_that_nobody_planned(browser: Browser):
    """Found by review: a no-go was forgotten by a reload, and wind beyond the limits could not be logged at all."""
    b = browser
    model = put_on_the_bench(b, "Gustwing", "High wing")
    b.open(f"/m/{model}/plan")
    b.see("Gates")
    b.close_gates()
    assert b.field("Mean wind").get_attribute("value") == "", "nothing looks entered before it was"
    for label, entry in (("Mean wind", "9"), ("Gusts", "13"), ("Blows from", "240"), ("Take-off heading", "240")):
        b.type(label, entry)
    b.see("Wind: Not now:")
    b.open(f"/m/{model}")
    b.see("Wind: Not now:")
    b.open(f"/m/{model}/plan")
    b.see("Wind: Not now:")
    assert not b.button("Fly this sortie").is_enabled()
    b.override(WHY)
    b.press("Fly this sortie")
    b.see("Flown against advice")

    b.size(390, 844, phone=True)
    b.choose("lift_off", "holds")
    b.keep()
    b.press("Something else was flown")
    b.press("F7 ")
    b.see("It is not on this sortie's list")
    b.choose("roll_slow", "stays level")
    b.choose("stick_held", "none")
    b.to_the_end()
    b.see("It was not planned: say in a few words why it was flown")
    assert not b.button("Keep, next card").is_enabled()
    b.area("It was not planned", "it was slow in the turn, so we looked")
    b.keep()
    b.until(lambda: b.card() != "F7", "the next card")
    b.until(lambda: "F7" in b.one("ol[aria-label='cards of this sortie']").text, "the card in the program's own list")


def card_text(b: Browser, card: str) -> str:
    b.until(lambda: b.card() == card, f"card {card}")
    return b.one("main").text


def log(b: Browser, **choices: str) -> None:
    """Answer the card that is shown by its measures and keep it."""
    b.start()
    if b.step() == "proof":
        b.press("yes, some seconds")
    for capture, words in choices.items():
        b.choose(capture, words)
    b.keep()


def test_a_model_without_ailerons_is_asked_for_none_and_told_to_trim_none(browser: Browser):
    """Found by review: F3 required aileron clicks and the rework ordered "right aileron up" on a model that has none."""
    b = browser
    model = put_on_the_bench(b, "Thistle", "Sailplane")
    changed(
        b,
        model,
        "m.setup.controls = c.answer.setup; m.setup.pack_minutes = 14; "
        "m.setup.controls.fittings = m.setup.controls.fittings.filter(f => ['elevator', 'rudder'].includes(f.role))",
    )
    b.open(f"/m/{model}/plan")
    b.see("Gates")
    b.click(lambda: b.one("details[data-gate=B4] summary"))
    gate = b.one("details[data-gate=B4]").text
    assert "udder" in gate
    assert "ileron" not in gate
    fly(b, model)
    b.size(390, 844, phone=True)
    log(b, lift_off="holds")
    log(b, pitch_clicks="none", left_over="holds")
    said = card_text(b, "F3")
    assert "Roll, hands off" in said
    assert "ileron" not in said
    log(b, left_over="rolls left fast")
    b.until(lambda: b.card() != "F3", "the card after F3")
    b.press("Skip")
    assert "Turn and let go" in card_text(b, "F34")
    log(b, turn_left="rolls further in", turn_right="rolls further in", full_rudder="rolls in fast, nose down")
    b.until(lambda: b.card() != "F34", "the card after F34")
    b.land()
    b.see("Debrief of sortie 1")
    assert "left wing" in b.text
    b.size(1280, 800)
    b.open(f"/m/{model}/rework")
    b.see("What to do")
    ordered = " ".join(e.text for e in b.all("ol.list-decimal"))
    assert "ileron" not in ordered
    assert "udder" in ordered, "without ailerons the rudder carries a heavy wing"
    assert "nose right" in ordered or "rudder right" in ordered, "it rolled left"
    assert "high from 100 % to 65 %" in ordered, "full rudder rolled it in"
    assert "Never let go of it in a turn" in b.text
    b.open(f"/m/{model}/bench")
    b.press("Controls")
    b.press("Directions")
    b.see("udder")
    assert "ileron" not in b.one("main").text


def test_a_wing_with_a_controller_is_trimmed_by_what_the_ruler_finds(browser: Browser):
    """Found by review: its learned midpoint never entered the estimate, and continuous learning was called a fault."""
    b = browser
    model = put_on_the_bench(b, "Shearwing", "Swept flying wing")
    changed(
        b,
        model,
        "m.setup.controls = c.answer.setup; m.setup.controls.stabiliser = c.answer.starting_stabiliser; "
        "Object.assign(m.setup.controls.stabiliser, {learning: 'continuous', directions_checked: true, calibrated: true})",
    )
    fly(b, model)
    b.size(390, 844, phone=True)
    log(b, lift_off="holds")
    card_text(b, "F2")
    b.click(lambda: b.one("[data-testid=conditions]"))
    b.see("Stabiliser")
    b.press("Next")
    log(b, pitch_clicks="none", left_over="holds")
    b.click(lambda: b.one("button[aria-label^='A3 ']"))
    b.until(lambda: b.card() == "A3", "where the surfaces rest")
    b.ask("elevator_mm")
    b.one("[data-capture=elevator_mm] input").send_keys("4")
    b.choose("elevator_way", "trailing edge up")
    b.choose("noted", "yes")
    b.keep()
    b.land()
    b.see("Debrief of sortie 1")
    assert "something has moved" not in b.text
    b.size(1280, 800)
    b.open(f"/m/{model}")
    b.see("trailing edge up, 4.0 mm off fair")
    b.open(f"/m/{model}/bench")
    b.press("Controls")
    b.press("Stabiliser")
    b.see("Never trim with the radio")


def margin_of_the_goal(b: Browser, *, other_than: str = "") -> str:
    """Return the margin that what it is balanced for comes to, as Check says it."""

    def said() -> str:
        found = re.search(r"That is a margin of ([\d.]+)", b.text)
        return found[1] if found and found[1] != other_than else ""

    return str(b.until(said, f"a margin other than {other_than}"))


def test_what_a_model_is_to_do_becomes_the_margin_it_is_balanced_for_on_every_screen(browser: Browser):
    """More push held inverted asks for more margin; who does not fly inverted is not asked; undo takes it back everywhere."""
    b = browser
    model = put_on_the_bench(b, "Wishing", "Low wing")
    b.open(f"/m/{model}/bench")
    b.press("Check")
    of_sport = margin_of_the_goal(b)
    b.select("Class", "aerobatic model")
    of_class = margin_of_the_goal(b, other_than=of_sport)
    offered = lambda: "push held inverted" in b.within("Balanced for", "select").text  # noqa: E731
    b.tick("I fly this model inverted")
    b.until(lambda: not offered(), "who does not fly it inverted not to be asked for push")
    b.tick("I fly this model inverted")
    b.until(offered, "push to be offered")
    b.select("Balanced for", "push held inverted")
    b.field("Stick held forward, of full")
    little = margin_of_the_goal(b, other_than=of_class)
    b.type("Stick held forward, of full", "30 %")
    much = margin_of_the_goal(b, other_than=little)
    assert float(much) > float(little), "more push held inverted is more margin"
    answer = b.driver.execute_async_script(
        "const done = arguments[1]; fetch(`/api/v1/models/${arguments[0]}/bench`).then((r) => r.json()).then((a) => done(a.answer.goal))",
        model,
    )
    assert f"{100 * answer['margin']:.1f}" == much, "the page says what the program computes"
    b.open(f"/m/{model}/bench?tab=check")
    b.press("Check")
    assert margin_of_the_goal(b) == much, "it is kept"
    b.press("Undo")
    assert margin_of_the_goal(b, other_than=much) == little
    b.type("Stick held forward, of full", "300 %")
    b.until(lambda: b.all("[role=alert]"), "why so much is none")
    assert margin_of_the_goal(b) == little, "and nothing is lost by it"
